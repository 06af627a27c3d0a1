"""Headers and footers of printed sheets, written in codes of their own.

Source: ECMA-376 Part 1 §18.3.1.46 (headerFooter) and §18.3.1.39 (evenFooter, where the codes are).
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace

from high_pair.formats.sheets.colours import SheetColours
from high_pair.formats.sheets.styles import Font, StyleTable
from high_pair.formats.xml import Element, child, children, flag, local_name
from high_pair.scene.geometry import Box
from high_pair.scene.page import StatedBackdrop, StatedText
from high_pair.scene.paint import BLACK, WHITE
from high_pair.scene.text import Run

FIXED = "Headers and footers of printed pages are changed where the program sets up its pages."
APPEARS = "when it is printed"
SIDES = {"L": "left", "C": "middle", "R": "right"}
# What a code is replaced by in print.
FIELDS = {
    "P": "page", "N": "pages", "D": "date", "T": "time", "F": "file", "A": "sheet", "Z": "folder",
}  # fmt: skip
# A code, letters that are none, or two signs that stand for one.
_CODE = re.compile(
    r'&"(?P<font>[^"]*)"|&K(?P<theme>\d\d[+-]\d{3})|&K(?P<rgb>[0-9A-Fa-f]{6})|&(?P<size>\d{1,3})'
    r"|&(?P<letter>[A-Za-z&])|(?P<words>[^&]+|&)",
    re.DOTALL,
)
_PAGES = {"even": " of even pages", "first": " of the first page"}
NOWHERE = Box(0.0, 0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Piece:
    """Words of a header or footer that have one look; side: left, middle or right."""

    side: str
    words: str
    font: Font


def pieces_of(text: str, plain: Font, colours: SheetColours) -> Iterator[Piece]:
    """Take a header's or footer's text apart. plain: the font where no code says another."""
    side, font, words = "C", plain, ""
    for match in _CODE.finditer(text):
        before = (side, font)
        letter = match.group("letter") or ""
        if match.group("words"):
            words += match.group("words")
            continue
        if letter == "&":
            words += "&"
            continue
        if letter.upper() in FIELDS:
            words += f"[{FIELDS[letter.upper()]}]"
            continue
        if letter.upper() in SIDES:
            side, font = letter.upper(), plain
        else:
            font = _changed(font, match, letter.upper(), colours)
        if (side, font) != before:
            if words.strip():
                yield Piece(SIDES[before[0]], words.strip(), before[1])
            words = ""
    if words.strip():
        yield Piece(SIDES[side], words.strip(), font)


def _changed(font: Font, match: re.Match[str], letter: str, colours: SheetColours) -> Font:
    """Give a font as a code changes it."""
    if match.group("font") is not None:
        family, _, face = match.group("font").partition(",")
        named = font.family if family.strip() in ("", "-") else family.strip()
        low = face.lower()
        return replace(font, family=named, bold="bold" in low, italic="italic" in low)
    if match.group("size"):
        return replace(font, size=float(match.group("size")) or font.size)
    if match.group("rgb"):
        chosen = colours.stated({"rgb": f"FF{match.group('rgb')}"})
        return replace(font, colour=chosen)
    if match.group("theme"):
        slot, tint = match.group("theme")[:2], match.group("theme")[2:]
        stated = {"theme": str(int(slot)), "tint": str(int(tint) / 100)}
        return replace(font, colour=colours.stated(stated))
    if letter == "B":
        return replace(font, bold=not font.bold)
    if letter == "I":
        return replace(font, italic=not font.italic)
    if letter == "U":
        return replace(font, underline=not font.underline)
    if letter == "S":
        return replace(font, strike=not font.strike)
    return font


def printed_texts(root: Element, words: str, styles: StyleTable) -> Iterator[StatedText]:
    """Give the texts of a sheet's printed headers and footers by their looks.

    root: the sheet's part; words: its name.
    """
    holder = child(root, "x:headerFooter")
    # Where no code gives a colour, print is black, whatever the cells' own font has.
    plain = replace(styles.default_font, colour=None)
    for element in children(holder):
        name = local_name(element)
        kind = "header" if name.endswith("Header") else "footer"
        if name.startswith("even") and not flag(holder, "differentOddEven"):
            continue
        if name.startswith("first") and not flag(holder, "differentFirst"):
            continue
        pages = next((said for start, said in _PAGES.items() if name.startswith(start)), "")
        for piece in pieces_of(element.text or "", plain, styles.colours):
            where = f"printed {kind}{pages}, {piece.side}"
            behind = StatedBackdrop(WHITE, where, NOWHERE)
            yield StatedText(_run(piece), (behind,), words, "", APPEARS)


def _run(piece: Piece) -> Run:
    font = piece.font
    chosen = font.colour
    return Run(
        piece.words,
        chosen.colour if chosen is not None else BLACK,
        font.family,
        font.size,
        700 if font.bold else 400,
        f"header or footer → {chosen.words}" if chosen is not None else "header or footer",
        "",
        italic=font.italic,
        underline=font.underline,
        strike=font.strike,
        fixed=FIXED,
    )
