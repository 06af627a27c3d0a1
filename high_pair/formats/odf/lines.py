"""Lines and shadows of ODF graphic styles (ODF 1.3 Part 3 §20.153 to §20.173)."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from high_pair.formats.drawing.lines import ends_of
from high_pair.formats.odf.outlines import marker_outline
from high_pair.formats.odf.styles import Styles, attribute
from high_pair.formats.odf.units import colour, length, percent
from high_pair.formats.xml import Element, tag, whole
from high_pair.scene.geometry import Affine, Box, Outline, mapped, moved
from high_pair.scene.page import Figure
from high_pair.scene.paint import Shadow, Stroke

# A width of nothing is a hairline: one pixel, whatever the scale.
HAIRLINE = 0.75
MOST_DOTS = 100
_CAPS = {"butt": "flat", "square": "square", "round": "round"}
_JOINS = {"miter": "miter", "round": "round", "bevel": "bevel"}


def _dashes(element: Element | None, width: float) -> tuple[float, ...]:
    """Read a line's dashes in widths of the line (§16.40.6, draw:stroke-dash).

    First the dots of one length, then those of another, each with the same
    distance after it; a length of nothing is the line's own width.
    """
    if element is None:
        return ()

    def measure(name: str) -> float:
        stated = (element.get(tag(f"draw:{name}")) or "").strip()
        found = percent(stated) if stated.endswith("%") else length(stated) / width
        return max(0.0, found)

    distance = measure("distance") or 1.0
    found: list[float] = []
    for kind in ("dots1", "dots2"):
        count = min(MOST_DOTS, max(0, whole(element, tag(f"draw:{kind}"), 0)))
        found += [measure(f"{kind}-length") or 1.0, distance] * count
    return tuple(found)


def stroke_of(chain: Sequence[Element], styles: Styles) -> Stroke | None:
    """Read the line that a chain of styles gives a shape."""

    def stated(name: str) -> str:
        return attribute(chain, "graphic", name) or ""

    kind = stated("draw:stroke") or "none"
    if kind == "none":
        return None
    opacity = percent(stated("svg:stroke-opacity"), 1.0)
    chosen = colour(stated("svg:stroke-color") or "#000000", opacity)
    if chosen is None:
        return None
    width = length(stated("svg:stroke-width"))
    width = width if width > 0 else HAIRLINE
    name = stated("draw:stroke-dash") if kind == "dash" else None
    dashes = _dashes(styles.named("stroke-dash", name), width)
    cap = _CAPS.get(stated("svg:stroke-linecap"), "flat")
    join = _JOINS.get(stated("draw:stroke-linejoin"), "round")
    return Stroke(chosen, width, dashes, cap, join)


def heads_of(
    chain: Sequence[Element],
    styles: Styles,
    stroke: Stroke,
    outline: Outline,
    box: Box,
    transform: Affine,
) -> Iterator[Figure]:
    """Give the heads at the ends of an open outline (§20.150 to §20.155)."""
    ends = ends_of(outline)
    if ends is None:
        return
    for side, (x, y, from_x, from_y) in zip(("start", "end"), ends, strict=True):
        name = attribute(chain, "graphic", f"draw:marker-{side}")
        marker = styles.named("marker", name)
        width = length(attribute(chain, "graphic", f"draw:marker-{side}-width"), 3 * stroke.width)
        head = marker_outline(marker, width) if marker is not None and width > 0 else None
        if head is None:
            continue
        centred = attribute(chain, "graphic", f"draw:marker-{side}-center") == "true"
        points = [point for step in head for point in step.points[::2]]
        back = (min(points) + max(points)) / 2 if centred else 0.0
        angle = math.atan2(y - from_y, x - from_x)
        cosine, sine = math.cos(angle), math.sin(angle)
        turn = Affine(cosine, sine, -sine, cosine, x, y).after(moved(-back, 0.0))
        reach = max(abs(value) for step in head for value in step.points) + abs(back)
        yield Figure(mapped(head, turn), box.grown(reach), transform, stroke.fill)


def shadow_of(chain: Sequence[Element]) -> Shadow | str | None:
    """Read the shadow that a chain of styles gives a shape; its axes are the page's.

    Gives why it can't be painted, if so: the standard has no colour for one
    that states none (§20.167).
    """

    def stated(name: str) -> str | None:
        return attribute(chain, "graphic", name)

    if stated("draw:shadow") != "visible":
        return None
    opacity = percent(stated("draw:shadow-opacity"), 1.0)
    chosen = colour(stated("draw:shadow-color"), opacity)
    if chosen is None:
        return "the colour of a shadow isn't stated in the file"
    across, down = (length(stated(f"draw:shadow-offset-{side}")) for side in "xy")
    # An extension; its radius is taken as two standard deviations, as in DrawingML.
    blur = max(0.0, length(stated("loext:shadow-blur"))) / 2
    return Shadow(chosen, across, down, blur)


def reach_of_shadow(chain: Sequence[Element]) -> float:
    """Give by how many points a shadow may leave its shape's box, whatever its colour."""

    def measure(name: str) -> float:
        return abs(length(attribute(chain, "graphic", name)))

    offset = max(measure("draw:shadow-offset-x"), measure("draw:shadow-offset-y"))
    return offset + 1.5 * measure("loext:shadow-blur")
