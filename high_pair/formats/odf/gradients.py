"""Gradients of colour and of opacity (ODF 1.3 Part 3 §16.40.2, §16.40.7, §19.218).

The standard names the forms and leaves their measures open: a radial or
ellipsoid gradient ends on the circle or ellipse round the box, a square one on
the square round it. Where a turn would change those measures, nothing is
painted.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from high_pair.formats.odf.units import colour, degrees, percent
from high_pair.formats.xml import Element, number, tag
from high_pair.scene.geometry import Box
from high_pair.scene.paint import (
    WHITE,
    Colour,
    Gradient,
    LinearGradient,
    NestedGradient,
    RoundGradient,
    Stop,
    colours_of,
    mixed,
)

TWO_GRADIENTS = "a gradient of colours and one of transparency that goes another way"
# §19.218: forms that don't change when they are turned by a quarter.
UPRIGHT = ("ellipsoid", "square", "rectangular")


def _dimmed(code: str | None, intensity: float, opacity: float) -> Colour | None:
    found = colour(code, opacity)
    if found is None:
        return None
    red, green, blue = (value * intensity for value in found.rgb)
    return Colour(red, green, blue, found.opacity)


def colour_stops(element: Element, opacity: float) -> list[Stop]:
    """Read a gradient's stops from its start (0) to its end (1), none where it has no colours."""
    start_strength = percent(element.get(tag("draw:start-intensity")), 1.0)
    end_strength = percent(element.get(tag("draw:end-intensity")), 1.0)
    start = _dimmed(element.get(tag("draw:start-color")), start_strength, opacity)
    end = _dimmed(element.get(tag("draw:end-color")), end_strength, opacity)
    found: list[Stop] = []
    for entry in element.findall(tag("loext:gradient-stop")):
        middle = colour(entry.get(tag("loext:color-value")), opacity)
        if entry.get(tag("loext:color-type")) == "rgb" and middle is not None:
            found.append(Stop(_place(entry), middle))
    if len(found) >= 2 and start_strength == end_strength == 1.0:
        return sorted(found, key=lambda stop: stop.place)
    return [Stop(0.0, start), Stop(1.0, end)] if start is not None and end is not None else []


def _opacity_stops(element: Element) -> list[Stop]:
    """Read the stops of a transparency gradient; their colour means nothing."""
    found = [
        Stop(_place(entry), WHITE.with_opacity(_share(entry.get(tag("svg:stop-opacity")))))
        for entry in element.findall(tag("loext:opacity-stop"))
    ]
    if len(found) >= 2:
        return sorted(found, key=lambda stop: stop.place)
    ends = [_share(element.get(tag(name))) for name in ("draw:start", "draw:end")]
    return [Stop(float(at), WHITE.with_opacity(value)) for at, value in enumerate(ends)]


def _share(text: str | None) -> float:
    """Read an opacity, as a percentage or as a number of 0 to 1."""
    found = percent(text, 1.0) if text and "%" in text else number(text, 1.0)
    return min(1.0, max(0.0, found))


def _place(entry: Element) -> float:
    return min(1.0, max(0.0, number(entry.get(tag("svg:offset")))))


def _with_border(stops: Sequence[Stop], border: float) -> list[Stop]:
    """Keep the first colour over the border, and squeeze the gradient into the rest (§19.170)."""
    border = min(1.0, max(0.0, border))
    squeezed = [Stop(border + stop.place * (1 - border), stop.colour) for stop in stops]
    if squeezed[0].place > 0:
        squeezed.insert(0, Stop(0.0, squeezed[0].colour))
    if squeezed[-1].place < 1:
        squeezed.append(Stop(1.0, squeezed[-1].colour))
    return squeezed


def _backwards(stops: Sequence[Stop]) -> list[Stop]:
    return [Stop(1 - stop.place, stop.colour) for stop in reversed(stops)]


def _placed(
    element: Element, stops: Sequence[Stop], box: Box, bare_is_tenths: bool
) -> Gradient | str:
    """Give stops the form that an element states for them."""
    kind = element.get(tag("draw:style"), "linear")
    stops = _with_border(stops, percent(element.get(tag("draw:border"))))
    turn = degrees(element.get(tag("draw:angle")), bare_is_tenths)
    if kind in ("linear", "axial"):
        if kind == "axial":
            # From both sides to the middle, where the end colour is.
            half = [Stop(stop.place / 2, stop.colour) for stop in stops]
            stops = half + _backwards(half)
        # §19.218: from the top down at 0°, turned against the clock.
        angle = math.radians(turn)
        across, down = math.sin(angle), math.cos(angle)
        reach = abs(across) * box.width / 2 + abs(down) * box.height / 2
        x, y = box.centre
        start, end = (x - across * reach, y - down * reach), (x + across * reach, y + down * reach)
        return LinearGradient(tuple(stops), start, end)
    # The end colour is in the middle, the start colour outside.
    outward = tuple(_backwards(stops))
    x = box.x + box.width * percent(element.get(tag("draw:cx")), 0.5)
    y = box.y + box.height * percent(element.get(tag("draw:cy")), 0.5)
    if kind == "radial":
        return RoundGradient(outward, (x, y), math.hypot(box.width, box.height) / 2)
    if kind not in UPRIGHT:
        return f"a gradient of the kind “{kind}” isn't painted yet"
    if abs(turn / 90 - round(turn / 90)) > 1e-6:
        return "a gradient of turned boxes or ellipses isn't painted yet"
    if kind == "ellipsoid":
        radius = box.width / math.sqrt(2)
        return RoundGradient(outward, (x, y), radius, squash=box.height / max(box.width, 1e-6))
    longest = max(box.width, box.height)
    width, height = (longest, longest) if kind == "square" else (box.width, box.height)
    frame = Box(x - width / 2, y - height / 2, width, height)
    return NestedGradient(outward, frame, Box(x, y, 0.0, 0.0))


def read_gradient(
    element: Element, box: Box, opacity: float, bare_is_tenths: bool
) -> Gradient | str:
    """Read a draw:gradient for a shape's box; gives why it can't be painted, if so."""
    stops = colour_stops(element, opacity)
    if not stops:
        return "a gradient without readable colours can't be painted"
    return _placed(element, stops, box, bare_is_tenths)


def read_opacity(
    element: Element, fill: Colour | Gradient, box: Box, bare_is_tenths: bool
) -> Gradient | str:
    """Give a fill the opacities of a draw:opacity; gives why it can't be painted, if so."""
    shades = set(colours_of(fill))
    opacities = _placed(element, _opacity_stops(element), box, bare_is_tenths)
    if isinstance(opacities, str):
        return opacities
    if len(shades) == 1:
        plain = next(iter(shades))
        stops = (Stop(s.place, plain.with_opacity(s.colour.opacity)) for s in opacities.stops)
        return replace(opacities, stops=tuple(stops))
    if isinstance(fill, Colour) or replace(fill, stops=()) != replace(opacities, stops=()):
        return TWO_GRADIENTS
    # Both go the same way: each place has the one's colour and the other's opacity.
    places = sorted({stop.place for stop in (*fill.stops, *opacities.stops)})
    ends = [
        Stop(
            place,
            _at(fill.stops, place, side).with_opacity(_at(opacities.stops, place, side).opacity),
        )
        for place in places
        for side in (False, True)
    ]
    return replace(fill, stops=tuple(dict.fromkeys(ends)))


def _at(stops: Sequence[Stop], place: float, after: bool) -> Colour:
    """Give a gradient's colour at a place; of two stops there the first, or the last, `after`."""
    own = [stop.colour for stop in stops if stop.place == place]
    if own:
        return own[-1] if after else own[0]
    below = max((stop for stop in stops if stop.place < place), key=lambda stop: stop.place)
    above = min((stop for stop in stops if stop.place > place), key=lambda stop: stop.place)
    return mixed(below.colour, above.colour, (place - below.place) / (above.place - below.place))


def with_opacities(fill: Gradient, element: Element) -> tuple[Colour, ...]:
    """Give the colours of a gradient, each at the least and the greatest opacity of another."""
    opacities = [stop.colour.opacity for stop in _opacity_stops(element)]
    found: list[Colour] = []
    for count, shade in enumerate(colours_of(fill)):
        both = [shade.with_opacity(min(opacities)), shade.with_opacity(max(opacities))]
        found += both if count % 2 == 0 else both[::-1]
    return tuple(found)
