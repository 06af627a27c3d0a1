"""Borders of paragraphs, cells and tables (ECMA-376 Part 1 §17.3.1.24, §17.4.38)."""

from __future__ import annotations

from collections.abc import Mapping

from high_pair.formats.documents.colours import DocumentColours
from high_pair.formats.xml import Element, child, number, tag
from high_pair.scene.flow import Edges
from high_pair.scene.paint import BLACK, Stroke

_PLAIN = {"top": "top", "right": "right", "bottom": "bottom", "left": "left"}
_OTHER = {"left": "start", "right": "end"}
_DASHES = {"dotted": (1.0, 1.0), "dashed": (4.0, 2.0), "dashSmallGap": (4.0, 1.0)}
NONE = ("nil", "none", "")


def edges_of(
    borders: Element | None, colours: DocumentColours, sides: Mapping[str, str] = _PLAIN
) -> Edges:
    """Read borders. sides: for each side of a cell, which of the table's borders it shows."""

    def stroke(side: str) -> Stroke | None:
        name = sides[side]
        element = child(borders, f"w:{name}")
        if element is None and name in _OTHER:
            element = child(borders, f"w:{_OTHER[name]}")
        if element is None or element.get(tag("w:val"), "") in NONE:
            return None
        stated = colours.read(element, "color")
        # §17.3.4: w:sz counts eighths of a point.
        width = min(12.0, max(0.25, number(element.get(tag("w:sz")), 4.0) / 8))
        dashes = _DASHES.get(element.get(tag("w:val"), ""), ())
        return Stroke(stated.colour if stated else BLACK, width, dashes)

    return Edges(stroke("top"), stroke("right"), stroke("bottom"), stroke("left"))
