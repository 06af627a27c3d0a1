"""The characters of a paragraph: runs, fields, links and what floats (ECMA-376 Part 1 §17.3.3)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

from high_pair.formats.alternatives import chosen_children
from high_pair.formats.xml import Element, children, local_name, tag

# What holds runs, and is itself no more than a wrapping.
WRAPPINGS = frozenset({"smartTag", "customXml", "ins", "moveTo", "bdo", "dir", "sdtContent"})
# Deleted text and the instructions of fields aren't shown (§17.13.5.14, §17.16.23).
GONE = frozenset({"del", "moveFrom", "sdtPr", "rPr", "pPr"})
# Signs that stand for the number of a page, and of a note, till it is known.
PAGE_NUMBER, NOTE_NUMBER = "\ue010", "\ue011"
_SIGNS = {
    "tab": "\t",
    "ptab": "\t",
    "cr": "\n",
    "noBreakHyphen": "\u2011",
    "softHyphen": "\u00ad",
    "pgNum": PAGE_NUMBER,
}


@dataclass(frozen=True)
class Piece:
    """Characters of one run, or a thing that floats.

    run: the element whose properties hold; number: of the run in its
    paragraph, from 1; link: it is part of a link; drawing: a w:drawing, w:pict
    or w:object; note: a w:footnoteReference or w:endnoteReference; small: ruby
    text, at half the size.
    """

    run: Element
    number: int
    text: str = ""
    link: bool = False
    drawing: Element | None = None
    note: Element | None = None
    breaks_page: bool = False
    small: bool = False


@dataclass
class Fields:
    """The complex fields that are open, which go on from paragraph to paragraph (§17.16.18).

    Each is its instruction so far, and whether its result has begun.
    """

    open: list[tuple[str, bool]] = field(default_factory=list)

    @property
    def shown(self) -> bool:
        """Whether characters here are shown: they are in no instruction."""
        return all(result for _, result in self.open)

    @property
    def link(self) -> bool:
        """Whether characters here are part of a link."""
        return any(code.split()[:1] == ["HYPERLINK"] for code, _ in self.open)

    @property
    def is_page(self) -> bool:
        """Whether they are a page's number."""
        return bool(self.open) and self.open[-1][0].split()[:1] == ["PAGE"]

    def change(self, kind: str) -> None:
        """Begin a field, begin its result, or end it."""
        if kind == "begin":
            self.open.append(("", False))
        elif kind == "separate" and self.open:
            self.open[-1] = (self.open[-1][0], True)
        elif kind == "end" and self.open:
            self.open.pop()

    def instruct(self, text: str) -> None:
        """Add to the instruction."""
        if self.open and not self.open[-1][1]:
            self.open[-1] = (self.open[-1][0] + text, False)


def runs_of(paragraph: Element) -> list[Element]:
    """List a paragraph's runs as addresses number them: all of its own, deleted ones too."""
    found: list[Element] = []

    def walk(element: Element) -> None:
        for each in children(element):
            name = local_name(each)
            if name == "r":
                found.append(each)
                for ruby in each.iter(tag("w:rubyBase"), tag("w:rt")):
                    walk(ruby)
            elif name not in ("p", "pPr"):
                walk(each)

    walk(paragraph)
    return found


def runs_of_field(paragraph: Element, run: Element) -> list[Element]:
    """List the runs that make up the innermost field round a run's text, its result's left out.

    Those that begin and end the field and hold its instruction, by whose look other programs
    paint the result (§17.16.18). Empty where the field isn't all in this paragraph.
    """
    open_fields: list[list[Element]] = []
    inside: set[int] = set()
    for each in runs_of(paragraph):
        marks = [part.get(tag("w:fldCharType"), "") for part in each.iter(tag("w:fldChar"))]
        for mark in marks:
            if mark == "begin":
                open_fields.append([])
        if each is run:
            inside = {id(field) for field in open_fields}
        if open_fields and (marks or each.find(tag("w:instrText")) is not None):
            open_fields[-1].append(each)
        for mark in marks:
            if mark == "end" and open_fields:
                closed = open_fields.pop()
                if id(closed) in inside:
                    return [part for part in closed if part is not run]
    return []


def pieces_of(paragraph: Element, fields: Fields) -> Iterator[Piece]:
    """Give a paragraph's pieces in reading order, as they are shown."""
    numbers = {run: count for count, run in enumerate(runs_of(paragraph), start=1)}
    yield from _walk(paragraph, numbers, fields, link=False, small=False)


def _walk(
    holder: Element, numbers: dict[Element, int], fields: Fields, link: bool, small: bool
) -> Iterator[Piece]:
    for each in chosen_children(holder):
        name = local_name(each)
        if name == "r":
            yield from _run(each, numbers, fields, link, small)
        elif name == "hyperlink":
            yield from _walk(each, numbers, fields, True, small)
        elif name == "fldSimple":
            code = each.get(tag("w:instr"), "")
            fields.open.append((code, True))
            yield from _walk(each, numbers, fields, link, small)
            fields.open.pop()
        elif name == "sdt" or name in WRAPPINGS:
            yield from _walk(each, numbers, fields, link, small)
        elif name in ("oMath", "oMathPara"):
            yield from _equation(each, numbers, fields)


def _equation(equation: Element, numbers: dict[Element, int], fields: Fields) -> Iterator[Piece]:
    """Give the letters of an equation in a line, run by run (§22.1.2.87); raised and lowered ones
    are small."""
    for run in equation.iter(tag("m:r")) if fields.shown else ():
        text = "".join(each.text or "" for each in run.iter(tag("m:t")))
        names = {local_name(each) for each in run.iterancestors()}
        if text:
            yield Piece(run, 0, text, small=bool(names & {"sub", "sup"}))


def _run(
    run: Element, numbers: dict[Element, int], fields: Fields, link: bool, small: bool
) -> Iterator[Piece]:
    number = numbers.get(run, 0)
    plain = Piece(run, number, link=link or fields.link, small=small)
    text = ""
    for each in chosen_children(run):
        if local_name(each) == "fldChar":
            fields.change(each.get(tag("w:fldCharType"), ""))
            plain = replace(plain, link=link or fields.link)
        elif local_name(each) == "instrText":
            fields.instruct(each.text or "")
        elif fields.shown and (characters := _characters(each, fields)) is not None:
            text += characters
            continue
        # A piece ends where something else than characters comes in.
        if text:
            yield replace(plain, text=text)
            text = ""
        if fields.shown:
            yield from _other(each, plain, numbers, fields)
    if text:
        yield replace(plain, text=text)


def _characters(element: Element, fields: Fields) -> str | None:
    """Give the characters that an element of a run stands for; None for something else."""
    name = local_name(element)
    if name == "t":
        text = element.text or ""
        return PAGE_NUMBER if fields.is_page and text.strip() else text
    if name in _SIGNS:
        return _SIGNS[name]
    if name == "sym":
        return _symbol(element)
    if name == "br" and element.get(tag("w:type"), "textWrapping") == "textWrapping":
        return "\n"
    return NOTE_NUMBER if name in ("footnoteRef", "endnoteRef") else None


def _other(
    element: Element, plain: Piece, numbers: dict[Element, int], fields: Fields
) -> Iterator[Piece]:
    """Give what isn't characters: breaks, drawings, notes, and text with text above it."""
    name = local_name(element)
    if name == "br":
        yield replace(plain, breaks_page=True)
    elif name in ("drawing", "pict", "object"):
        yield replace(plain, drawing=element)
    elif name in ("footnoteReference", "endnoteReference"):
        yield replace(plain, note=element)
    elif name == "ruby":
        for part in children(element):
            if local_name(part) in ("rt", "rubyBase"):
                small = plain.small or local_name(part) == "rt"
                yield from _walk(part, numbers, fields, plain.link, small)


def _symbol(element: Element) -> str:
    """Give a sign of a symbol font (§17.3.3.30); a square where its shape isn't known."""
    try:
        code = int(element.get(tag("w:char"), ""), 16)
    except ValueError:
        return ""
    if 0xF000 <= code <= 0xF0FF or not 0x20 <= code <= 0xFFFF or 0xD800 <= code <= 0xDFFF:
        return "■"
    return chr(code)
