"""Lines: what they are painted with, their dashes, and the heads at their ends (§20.1.2.2.24)."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from high_pair.formats.drawing.colours import Palette
from high_pair.formats.drawing.fills import EMU_PER_POINT, Fill, fill_element, read_fill
from high_pair.formats.xml import Element, child, children, local_name, share, whole
from high_pair.scene.geometry import Affine, Box, Outline, Step, ellipse, mapped, polygon
from high_pair.scene.page import Figure
from high_pair.scene.paint import Stroke

PLAIN_WIDTH = 9525
# §20.1.10.49 gives each preset as a row of bits, each as long as the line is wide.
_DASHES = {
    "dot": "1000",
    "dash": "1111000",
    "lgDash": "11111111000",
    "dashDot": "11110001000",
    "lgDashDot": "111111110001000",
    "lgDashDotDot": "1111111100010001000",
    "sysDash": "1110",
    "sysDot": "10",
    "sysDashDot": "111010",
    "sysDashDotDot": "11101010",
}
_CAPS = {"flat": "flat", "sq": "square", "rnd": "round"}
_JOINS = {"round": "round", "bevel": "bevel", "miter": "miter"}
# §20.1.10.33, .34: a head is so many times as wide and as long as its line.
_HEAD_SIZES = {"sm": 2.0, "med": 3.0, "lg": 5.0}
# Heads of thinner lines are those of a line of so many points.
THINNEST_FOR_HEADS = 2.0


@dataclass(frozen=True)
class Line:
    """A line as read: its fill and its look, and the kinds and sizes of the heads at its ends.

    heads: (kind, width, length) at the outline's start and at its end, the
    sizes in widths of the line; None for none; compound: it is made of several
    lines side by side, whose measures the standard leaves open.
    """

    fill: Fill
    stroke: Callable[[Box, Affine], Stroke | str]
    heads: tuple[tuple[str, float, float] | None, tuple[str, float, float] | None] = (None, None)
    compound: bool = False


def dashes_of(element: Element | None) -> tuple[float, ...]:
    """Read a line's dashes, preset or its own, in widths of the line (§20.1.8.48, §20.1.8.21)."""
    if element is None:
        return ()
    if local_name(element) == "custDash":
        stops = children(element)
        return tuple(max(0.0, share(stop.get(name))) for stop in stops for name in ("d", "sp"))
    groups = _DASHES.get(element.get("val", "solid"), "").replace("01", "0 1").split()
    return tuple(float(group.count(bit)) for group in groups for bit in "10")


def read_line(sources: Sequence[tuple[Element, Palette]], width: int = PLAIN_WIDTH) -> Line | None:
    """Read a line from the elements (a:ln) that state parts of it; None for one that isn't painted.

    sources: nearest first, each with the palette for its colours; width: in
    EMU, where none states it.
    """
    filled = ((fill_element(element), palette) for element, palette in sources)
    fill = next((read_fill(*each) for each in filled if each[0] is not None), Fill())
    if fill == Fill():
        return None
    elements = [element for element, _ in sources]

    def stated(*names: str) -> Element | None:
        found = (child(each, f"a:{name}") for each in elements for name in names)
        return next((each for each in found if each is not None), None)

    wide = next((each for each in elements if each.get("w")), None)
    points = max(0.0, whole(wide, "w", width) / EMU_PER_POINT)
    cap = _CAPS.get(next((each.get("cap", "") for each in elements if each.get("cap")), ""), "flat")
    joined = stated(*_JOINS)
    join = _JOINS[local_name(joined)] if joined is not None else "round"
    dashes = dashes_of(stated("prstDash", "custDash"))

    def stroke(box: Box, transform: Affine) -> Stroke | str:
        if fill.picture is not None:
            return "a line with a picture isn't painted yet"
        painted = fill.for_shape(box, transform)
        if painted is None or isinstance(painted, str):
            return painted or "a line has a colour that isn't known"
        return Stroke(painted, points, dashes, cap, join)

    ends: list[tuple[str, float, float] | None] = []
    for name in ("headEnd", "tailEnd"):
        end = stated(name)
        kind = end.get("type", "none") if end is not None else "none"
        if end is None or kind == "none":
            ends.append(None)
        else:
            sizes = [_HEAD_SIZES.get(end.get(side, "med"), 3.0) for side in ("w", "len")]
            ends.append((kind, sizes[0], sizes[1]))
    compound = next((each.get("cmpd", "") for each in elements if each.get("cmpd")), "sng")
    return Line(fill, stroke, (ends[0], ends[1]), compound != "sng")


def ends_of(outline: Outline) -> tuple[tuple[float, ...], tuple[float, ...]] | None:
    """Give an open outline's first and last point with the points before them; None if closed.

    Each as (x, y, x of the neighbour, y of the neighbour).
    """
    if len(outline) < 2 or any(step.kind == "Z" for step in outline):
        return None
    if sum(step.kind == "M" for step in outline) != 1:
        return None
    flat = [
        (x, y) for step in outline for x, y in zip(step.points[::2], step.points[1::2], strict=True)
    ]

    def end(points: list[tuple[float, float]]) -> tuple[float, ...]:
        tip = points[0]
        # A curve's handle may lie on its end: the next point that doesn't gives the direction.
        other = next((p for p in points[1:] if math.dist(p, tip) > 1e-6), tip)
        return (*tip, *other)

    return end(flat), end(flat[::-1])


def _head(kind: str, length: float, half: float) -> Outline:
    """Give a head whose tip is the origin, and whose line comes from the left."""
    if kind == "oval":
        return ellipse(Box(-length / 2, -half, length, 2 * half))
    if kind == "diamond":
        return polygon((-length / 2, 0), (0, -half), (length / 2, 0), (0, half))
    if kind == "stealth":
        return polygon((0, 0), (-length, -half), (-length * 2 / 3, 0), (-length, half))
    return polygon((0, 0), (-length, -half), (-length, half))


def head_figures(
    line: Line, stroke: Stroke, outline: Outline, box: Box, transform: Affine
) -> Iterator[Figure]:
    """Give the heads at the ends of an open outline (§20.1.8.38, §20.1.8.57)."""
    ends = ends_of(outline)
    if ends is None:
        return
    size = max(stroke.width, THINNEST_FOR_HEADS)
    for head, (x, y, from_x, from_y) in zip(line.heads, ends, strict=True):
        if head is None:
            continue
        kind, width, length = head
        angle = math.atan2(y - from_y, x - from_x)
        cosine, sine = math.cos(angle), math.sin(angle)
        turn = Affine(cosine, sine, -sine, cosine, x, y)
        reach = size * max(width, length)
        around = box.grown(reach)
        if kind == "arrow":
            half, back = size * width / 2, size * length
            open_head = (Step("M", (-back, -half)), Step("L", (0, 0)), Step("L", (-back, half)))
            # The two strokes of an open head have the line's own look, without its dashes.
            own = replace(stroke, dashes=())
            yield Figure(mapped(open_head, turn), around, transform, None, own)
        else:
            shape = _head(kind, size * length, size * width / 2)
            yield Figure(mapped(shape, turn), around, transform, stroke.fill)
