"""Bullets and numbers (ECMA-376 Part 1 §21.1.2.4)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from high_pair.formats.drawing.colours import Palette, colour_element, origin_of, resolve
from high_pair.formats.drawing.text_styles import Cascade
from high_pair.formats.xml import Element, local_name, number, share, whole
from high_pair.scene.text import Run

# Symbol fonts place their signs on letters; what their usual bullets look like.
SYMBOL_FONTS = ("wingdings", "webdings", "symbol", "zapfdingbats", "monotype sorts")
SYMBOLS = {"l": "●", "n": "■", "u": "◆", "v": "◊", "q": "□", "§": "▪", "Ø": "›", "ü": "✓", "·": "•"}
PLAIN_BULLET = "•"


def _letters(count: int) -> str:
    """1 → a, 26 → z, 27 → aa."""
    return chr(ord("a") + (count - 1) % 26) * ((count - 1) // 26 + 1)


def _roman(count: int) -> str:
    text = ""
    for value, letters in (
        (1000, "m"), (900, "cm"), (500, "d"), (400, "cd"), (100, "c"), (90, "xc"),
        (50, "l"), (40, "xl"), (10, "x"), (9, "ix"), (5, "v"), (4, "iv"), (1, "i"),
    ):  # fmt: skip
        while count >= value:
            text += letters
            count -= value
    return text


_COUNTS: tuple[tuple[str, Callable[[int], str]], ...] = (
    ("arabic", str),
    ("alphaLc", _letters),
    ("alphaUc", lambda count: _letters(count).upper()),
    ("romanLc", _roman),
    ("romanUc", lambda count: _roman(count).upper()),
)


def number_label(scheme: str, count: int) -> str:
    """Write a number as a scheme of ST_TextAutonumberScheme does (§20.1.10.61).

    Schemes of other scripts are written in Arabic numerals.
    """
    count = min(max(count, 1), 32_767)
    body, rest = str(count), ""
    for prefix, write in _COUNTS:
        if scheme.startswith(prefix):
            body, rest = write(count), scheme[len(prefix) :]
            break
    if rest == "ParenBoth":
        return f"({body})"
    if rest == "ParenR":
        return f"{body})"
    return body if rest == "Plain" else f"{body}."


class Numbering:
    """Counts the numbered paragraphs of one text body, level by level."""

    def __init__(self) -> None:
        self._counts: dict[int, tuple[str, int]] = {}

    def next(self, level: int, scheme: str, start: int) -> int:
        """Give the number of the next paragraph of a level."""
        for deeper in [each for each in self._counts if each > level]:
            del self._counts[deeper]
        before = self._counts.get(level)
        count = before[1] + 1 if before and before[0] == scheme else start
        self._counts[level] = (scheme, count)
        return count

    def skip(self, level: int) -> None:
        """Note a paragraph without a number, which ends the counts from its level on."""
        for deeper in [each for each in self._counts if each >= level]:
            del self._counts[deeper]


def bullet_of(
    cascade: Cascade,
    first: Run,
    level: int,
    numbering: Numbering,
    palette: Palette,
    address: str,
) -> Run | None:
    """Give a paragraph's label as a run; None without one.

    first: the paragraph's first run, which the label follows where nothing says
    otherwise; address: where the label's own colour is.
    """
    mark = cascade.paragraph_child("buNone", "buChar", "buAutoNum", "buBlip")
    if mark is None or local_name(mark) == "buNone":
        numbering.skip(level)
        return None
    trouble = ""
    if local_name(mark) == "buAutoNum":
        scheme = mark.get("type", "arabicPeriod")
        text = number_label(scheme, numbering.next(level, scheme, whole(mark, "startAt", 1)))
    elif local_name(mark) == "buChar":
        numbering.skip(level)
        text = mark.get("char", PLAIN_BULLET)
        font = cascade.paragraph_child("buFont", "buFontTx")
        family = font.get("typeface", "").lower() if font is not None else ""
        if family.startswith(SYMBOL_FONTS) or any("\uf000" <= c <= "\uf0ff" for c in text):
            plain = chr(ord(text[0]) - 0xF000) if "\uf000" <= text[:1] <= "\uf0ff" else text
            text = SYMBOLS.get(plain, PLAIN_BULLET)
    else:
        numbering.skip(level)
        text, trouble = PLAIN_BULLET, "a bullet that is a picture isn't measured yet"
    if not text.strip():
        return None
    label = replace(
        first,
        text=text,
        size=_size(cascade, first.size),
        underline=False,
        strike=False,
        baseline=0.0,
        spacing=0.0,
        highlight=None,
        link=False,
        trouble=trouble or first.trouble,
    )
    return _coloured(label, cascade, palette, address)


def _coloured(label: Run, cascade: Cascade, palette: Palette, address: str) -> Run:
    """Give the label its own colour, unless it follows the text's."""
    stated = cascade.paragraph_child("buClr", "buClrTx")
    if stated is None or local_name(stated) == "buClrTx":
        return label
    chosen: Element | None = colour_element(stated)
    colour = resolve(chosen, palette)
    if colour is None:
        return label
    origin = f"bullet colour → {origin_of(chosen)}"
    return replace(label, colour=colour, origin=origin, address=address, invisible=False)


def _size(cascade: Cascade, text_size: float) -> float:
    stated = cascade.paragraph_child("buSzPct", "buSzPts", "buSzTx")
    if stated is None or local_name(stated) == "buSzTx":
        return text_size
    if local_name(stated) == "buSzPts":
        return min(400.0, max(1.0, number(stated.get("val"), text_size * 100) / 100))
    return text_size * min(4.0, max(0.25, share(stated.get("val"), 1.0)))
