"""Gradient fills (ECMA-376 Part 1 §20.1.8.33)."""

from __future__ import annotations

import math

from high_pair.formats.drawing.colours import Palette, colour_element, resolve
from high_pair.formats.xml import Element, child, children, flag, number, share
from high_pair.scene.geometry import Box
from high_pair.scene.paint import Gradient, LinearGradient, NestedGradient, RoundGradient, Stop

UNITS_OF_A_DEGREE = 60_000


# No person's gradient has more; each is a colour that letters may have.
MOST_STOPS = 1_000


def stops_of(element: Element, palette: Palette) -> tuple[Stop, ...]:
    """Read a gradient's stops in rising order, the first at 0 and the last at 1.

    Stops at one place keep their written order: that is a hard edge.
    """
    found = []
    for entry in children(child(element, "a:gsLst")):
        colour = resolve(colour_element(entry), palette)
        if colour is not None:
            found.append(Stop(min(1.0, max(0.0, share(entry.get("pos")))), colour))
    found.sort(key=lambda stop: stop.place)
    if found and found[0].place > 0:
        found.insert(0, Stop(0.0, found[0].colour))
    if found and found[-1].place < 1:
        found.append(Stop(1.0, found[-1].colour))
    return tuple(found)


def _inset(box: Box, rectangle: Element | None) -> Box:
    """Give a rectangle whose sides are stated as insets in shares of a box (§20.1.10.60)."""
    if rectangle is None:
        return box
    left, top, right, bottom = (share(rectangle.get(side)) for side in "ltrb")
    return Box(
        box.x + left * box.width,
        box.y + top * box.height,
        max(0.0, box.width * (1 - left - right)),
        max(0.0, box.height * (1 - top - bottom)),
    )


def _linear(element: Element, stops: tuple[Stop, ...], box: Box, upright: bool) -> Gradient:
    """§20.1.8.41: the stops' ends lie where lines across the angle touch the box's corners."""
    angle = math.radians(number(element.get("ang")) / UNITS_OF_A_DEGREE)
    across, down = math.cos(angle), math.sin(angle)
    if flag(element, "scaled"):
        across, down = across * box.width, down * box.height
        length = math.hypot(across, down) or 1.0
        across, down = across / length, down / length
    reach = abs(across) * box.width / 2 + abs(down) * box.height / 2
    x, y = box.centre
    return LinearGradient(
        stops,
        (x - across * reach, y - down * reach),
        (x + across * reach, y + down * reach),
        upright,
    )


def _path(
    element: Element, stops: tuple[Stop, ...], box: Box, upright: bool, round_shape: bool
) -> Gradient | str:
    """§20.1.8.46: stop 0 is at the fillToRect, the last stop on the box."""
    focus = _inset(box, child(element, "a:fillToRect"))
    kind = element.get("path", "circle")
    if kind == "circle" or (kind == "shape" and round_shape):
        x, y = focus.centre
        corners = [(cx, cy) for cx in (box.x, box.right) for cy in (box.y, box.bottom)]
        radius = max(math.hypot(cx - x, cy - y) for cx, cy in corners)
        return RoundGradient(stops, (x, y), radius, upright)
    if kind == "rect" or kind == "shape":
        return NestedGradient(stops, box, focus, upright)
    return "a gradient of an unknown path isn't painted"


def read_gradient(
    element: Element, palette: Palette, box: Box, page_box: Box, round_shape: bool, plain: bool
) -> Gradient | str:
    """Read a gradient for a shape; gives why it can't be painted, if so.

    box: the shape's, in its own coordinates; page_box: its extent on the page,
    for gradients that don't turn with the shape; round_shape: it is an ellipse;
    plain: its outline is its box, so that a gradient along the outline is nested.
    """
    stops = stops_of(element, palette)
    if not stops:
        return "a gradient without readable stops can't be painted"
    if len(stops) > MOST_STOPS:
        return f"a gradient of more than {MOST_STOPS:,} stops isn't painted"
    upright = not flag(element, "rotWithShape", default=True)
    target = page_box if upright else box
    tile = child(element, "a:tileRect")
    field = _inset(target, tile)
    smaller = field.width < target.width - 0.01 or field.height < target.height - 0.01
    if tile is not None and smaller and element.get("flip", "none") is not None:
        return "a gradient in tiles isn't painted yet"
    linear, path = child(element, "a:lin"), child(element, "a:path")
    if path is not None:
        if path.get("path") == "shape" and not (plain or round_shape):
            return "a gradient along this outline isn't painted yet"
        return _path(path, stops, field, upright, round_shape)
    if linear is None:
        return _linear(element, stops, field, upright)
    return _linear(linear, stops, field, upright)
