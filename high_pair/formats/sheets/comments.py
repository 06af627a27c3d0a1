"""Comments on cells: notes that the file holds with their own colours (§18.7)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from high_pair.formats.drawing.vml import fill_colour
from high_pair.formats.parts import Part
from high_pair.formats.sheets.looks import look_of
from high_pair.formats.sheets.sheet import Sheet
from high_pair.formats.sheets.styles import Font, StyleTable
from high_pair.formats.xml import Element, child, digits, local_name, tag
from high_pair.scene.addresses import address_in
from high_pair.scene.grid import Area, read_cell
from high_pair.scene.page import StatedBackdrop, StatedText
from high_pair.scene.paint import Colour, from_levels
from high_pair.scene.text import Run

# What a note's shape has where its drawing says nothing else.
NOTE = from_levels((255, 255, 225))
PLAIN = Font("Tahoma", 9.0)


def comment_texts(
    comments: Part, drawing: Element | None, styles: StyleTable, sheet: Sheet
) -> Iterator[StatedText]:
    """Give the texts of a sheet's comments by run. drawing: that of their notes' shapes."""
    fills = _fills(drawing)
    for count, comment in enumerate(comments.root.iter(tag("x:comment")), start=1):
        place = read_cell(comment.get("ref", ""))
        if place is None:
            continue
        fill = fills.get(place, NOTE)
        text = child(comment, "x:text")
        runs = text.findall(tag("x:r")) if text is not None else []
        area = Area(*place, *place)
        behind = StatedBackdrop(fill, f"comment at {area.words}", sheet.grid.box(area))
        for number, run in enumerate(runs or [e for e in [text] if e is not None], start=1):
            words = "".join(each.text or "" for each in run.findall(tag("x:t")))
            if not words.strip():
                continue
            properties = child(run, "x:rPr")
            font = styles.font(properties, PLAIN) if properties is not None else PLAIN
            address = address_in(comments.member, comment=count, r=number)
            look = look_of(
                styles.style(0), font, None, (), (), sheet.place, styles.default_font, address
            )
            fixed = "" if local_name(run) == "r" else "This comment's text has no look of its own."
            yield StatedText(_with_words(look.run, words, fixed), (behind,), sheet.words)


def _with_words(run: Run, words: str, fixed: str) -> Run:
    return replace(run, text=words, fixed=run.fixed or fixed)


def _fills(drawing: Element | None) -> dict[tuple[int, int], Colour]:
    """Read the notes' fills from their drawing, by their cells."""
    found: dict[tuple[int, int], Colour] = {}
    for shape in drawing.iter(tag("v:shape")) if drawing is not None else ():
        numbers = {}
        for each in shape.iter():
            place = digits((each.text or "").strip())
            if local_name(each) in ("Row", "Column") and place is not None:
                numbers[local_name(each)] = place
        fill = fill_colour(shape)
        if len(numbers) == 2 and isinstance(fill, Colour):
            found[(numbers["Row"], numbers["Column"])] = fill
    return found
