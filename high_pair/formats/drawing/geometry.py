"""Outlines of shapes: the preset geometries that are painted so far (§20.1.9.18, §20.1.10.56).

A preset's adjust values are thousandths of a percent, of the shorter side
unless a formula says otherwise; the formulas are those of the standard's
presetShapeDefinitions.xml. A shape that isn't here becomes an obstacle.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

from high_pair.formats.xml import Element, child, children, number
from high_pair.scene.geometry import Box, Outline, ellipse, line, polygon, rectangle, rounded

# The inscribed rectangle of an ellipse leaves out this share at each side: 1/2 - 1/√8.
ELLIPSE_MARGIN = 0.146_446_6
# A rounded rectangle's text keeps clear of its corners: radius × (1 - 1/√2).
CORNER_MARGIN = 0.292_893_2

Adjust = Mapping[str, float]


def adjusts_of(preset: Element | None) -> dict[str, float]:
    """Read a preset's adjust values as shares of 1 (`val 16667` gives 0.16667)."""
    found: dict[str, float] = {}
    for guide in children(child(preset, "a:avLst")):
        words = guide.get("fmla", "").split()
        if len(words) == 2 and words[0] == "val":
            found[guide.get("name", "")] = number(words[1]) / 100_000
    return found


def _pin(low: float, value: float, high: float) -> float:
    return max(low, min(value, high))


def _rounded_rectangle(box: Box, adjust: Adjust) -> Outline:
    radius = min(box.width, box.height) * _pin(0, adjust.get("adj", 0.16667), 0.5)
    return rounded(box, radius, radius)


def _triangle(box: Box, adjust: Adjust) -> Outline:
    top = box.x + box.width * _pin(0, adjust.get("adj", 0.5), 1)
    return polygon((box.x, box.bottom), (top, box.y), (box.right, box.bottom))


def _right_triangle(box: Box, _adjust: Adjust) -> Outline:
    return polygon((box.x, box.y), (box.right, box.bottom), (box.x, box.bottom))


def _diamond(box: Box, _adjust: Adjust) -> Outline:
    x, y = box.centre
    return polygon((box.x, y), (x, box.y), (box.right, y), (x, box.bottom))


def _side_share(box: Box, adjust: Adjust, name: str, default: float) -> float:
    """Give a length that is a share of the shorter side, at most the width."""
    shorter = min(box.width, box.height)
    return shorter * _pin(0, adjust.get(name, default), box.width / max(shorter, 1e-9))


def _parallelogram(box: Box, adjust: Adjust) -> Outline:
    slant = _side_share(box, adjust, "adj", 0.25)
    return polygon(
        (box.x, box.bottom),
        (box.x + slant, box.y),
        (box.right, box.y),
        (box.right - slant, box.bottom),
    )


def _trapezoid(box: Box, adjust: Adjust) -> Outline:
    slant = min(_side_share(box, adjust, "adj", 0.25), box.width / 2)
    return polygon(
        (box.x, box.bottom),
        (box.x + slant, box.y),
        (box.right - slant, box.y),
        (box.right, box.bottom),
    )


def _pentagon_arrow(box: Box, adjust: Adjust) -> Outline:
    shoulder = box.right - _side_share(box, adjust, "adj", 0.5)
    middle = box.centre[1]
    return polygon(
        (box.x, box.y),
        (shoulder, box.y),
        (box.right, middle),
        (shoulder, box.bottom),
        (box.x, box.bottom),
    )


def _chevron(box: Box, adjust: Adjust) -> Outline:
    depth = _side_share(box, adjust, "adj", 0.5)
    middle = box.centre[1]
    return polygon(
        (box.x, box.y),
        (box.right - depth, box.y),
        (box.right, middle),
        (box.right - depth, box.bottom),
        (box.x, box.bottom),
        (box.x + depth, middle),
    )


def _arrow(box: Box, adjust: Adjust, to_right: bool) -> Outline:
    """rightArrow and leftArrow: adj1 is the shaft's share of the height, adj2 the head's length."""
    half_shaft = box.height * _pin(0, adjust.get("adj1", 0.5), 1) / 2
    head = _side_share(box, adjust, "adj2", 0.5)
    middle = box.centre[1]
    tip, back, sign = (box.right, box.x, -1) if to_right else (box.x, box.right, 1)
    neck = tip + sign * head
    return polygon(
        (back, middle - half_shaft),
        (neck, middle - half_shaft),
        (neck, box.y),
        (tip, middle),
        (neck, box.bottom),
        (neck, middle + half_shaft),
        (back, middle + half_shaft),
    )


def _line(box: Box, _adjust: Adjust) -> Outline:
    return line((box.x, box.y), (box.right, box.bottom))


PRESETS: dict[str, Callable[[Box, Adjust], Outline]] = {
    "rect": lambda box, _adjust: rectangle(box),
    "flowChartProcess": lambda box, _adjust: rectangle(box),
    "actionButtonBlank": lambda box, _adjust: rectangle(box),
    "ellipse": lambda box, _adjust: ellipse(box),
    "flowChartConnector": lambda box, _adjust: ellipse(box),
    "roundRect": _rounded_rectangle,
    "flowChartAlternateProcess": _rounded_rectangle,
    "triangle": _triangle,
    "rtTriangle": _right_triangle,
    "diamond": _diamond,
    "flowChartDecision": _diamond,
    "parallelogram": _parallelogram,
    "trapezoid": _trapezoid,
    "homePlate": _pentagon_arrow,
    "chevron": _chevron,
    "rightArrow": lambda box, adjust: _arrow(box, adjust, to_right=True),
    "leftArrow": lambda box, adjust: _arrow(box, adjust, to_right=False),
    "line": _line,
    "straightConnector1": _line,
}
OPEN = frozenset({"line", "straightConnector1"})


def outline_of(preset: str, box: Box, adjust: Adjust) -> Outline | None:
    """Give a preset's outline in a box; None for one that isn't painted yet."""
    make = PRESETS.get(preset)
    return make(box, adjust) if make else None


def text_box_of(preset: str, box: Box, adjust: Adjust) -> Box:
    """Give the rectangle in which a preset's text stands, before insets (its `rect`)."""
    if preset in ("ellipse", "flowChartConnector"):
        across, down = box.width * ELLIPSE_MARGIN, box.height * ELLIPSE_MARGIN
        return Box(box.x + across, box.y + down, box.width - 2 * across, box.height - 2 * down)
    if preset in ("roundRect", "flowChartAlternateProcess"):
        radius = min(box.width, box.height) * _pin(0, adjust.get("adj", 0.16667), 0.5)
        return box.grown(-radius * CORNER_MARGIN)
    if preset in ("diamond", "flowChartDecision"):
        across, down = box.width / 4, box.height / 4
        return Box(box.x + across, box.y + down, box.width / 2, box.height / 2)
    if preset == "triangle":
        left = box.width * _pin(0, adjust.get("adj", 0.5), 1) / 2
        return Box(box.x + left, box.centre[1], box.width / 2, box.height / 2)
    return box
