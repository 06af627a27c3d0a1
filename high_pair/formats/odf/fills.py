"""Fills and lines of ODF graphic styles (ODF 1.3 Part 3 §20.119 and its neighbours)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from high_pair.formats.odf.styles import Styles, attribute
from high_pair.formats.odf.units import colour, degrees, length, percent
from high_pair.formats.xml import Element, number, tag
from high_pair.scene.geometry import Box
from high_pair.scene.paint import Colour, Gradient, LinearGradient, RoundGradient, Stop, Stroke
from high_pair.scene.paint import Fill as SceneFill

UNPAINTED = {"hatch": "a hatch isn't painted yet"}


@dataclass(frozen=True)
class OdfFill:
    """A fill as read: a scene's fill, a picture to stretch, a trouble, or nothing.

    stated: whether any style says anything of a fill.
    """

    fill: SceneFill | None = None
    picture: Element | None = None
    opacity: float = 1.0
    trouble: str = ""
    stated: bool = True


def _dimmed(code: str | None, intensity: float, opacity: float) -> Colour | None:
    found = colour(code, opacity)
    if found is None:
        return None
    red, green, blue = (value * intensity for value in found.rgb)
    return Colour(red, green, blue, found.opacity)


def _stops(element: Element, opacity: float) -> list[Stop]:
    """Read a gradient's stops from its start (0) to its end (1)."""
    start_strength = percent(element.get(tag("draw:start-intensity")), 1.0)
    end_strength = percent(element.get(tag("draw:end-intensity")), 1.0)
    start = _dimmed(element.get(tag("draw:start-color")), start_strength, opacity)
    end = _dimmed(element.get(tag("draw:end-color")), end_strength, opacity)
    found: list[Stop] = []
    for entry in element.findall(tag("loext:gradient-stop")):
        middle = colour(entry.get(tag("loext:color-value")), opacity)
        if entry.get(tag("loext:color-type")) == "rgb" and middle is not None:
            place = min(1.0, max(0.0, number(entry.get(tag("svg:offset")))))
            found.append(Stop(place, middle))
    if len(found) >= 2 and start_strength == end_strength == 1.0:
        return sorted(found, key=lambda stop: stop.place)
    return [Stop(0.0, start), Stop(1.0, end)] if start is not None and end is not None else []


def _with_border(stops: list[Stop], border: float) -> tuple[Stop, ...]:
    """Keep the first colour over the border, and squeeze the gradient into the rest (§19.170)."""
    border = min(1.0, max(0.0, border))
    squeezed = [Stop(border + stop.place * (1 - border), stop.colour) for stop in stops]
    if squeezed[0].place > 0:
        squeezed.insert(0, Stop(0.0, squeezed[0].colour))
    if squeezed[-1].place < 1:
        squeezed.append(Stop(1.0, squeezed[-1].colour))
    return tuple(squeezed)


def read_gradient(
    element: Element, box: Box, opacity: float, bare_is_tenths: bool
) -> Gradient | str:
    """Read a draw:gradient for a shape's box; gives why it can't be painted, if so."""
    stops = _stops(element, opacity)
    if not stops:
        return "a gradient without readable colours can't be painted"
    border = percent(element.get(tag("draw:border")))
    kind = element.get(tag("draw:style"), "linear")
    if kind == "linear":
        # §19.218: from the top down at 0°, turned against the clock.
        angle = math.radians(degrees(element.get(tag("draw:angle")), bare_is_tenths))
        across, down = math.sin(angle), math.cos(angle)
        reach = abs(across) * box.width / 2 + abs(down) * box.height / 2
        x, y = box.centre
        return LinearGradient(
            _with_border(stops, border),
            (x - across * reach, y - down * reach),
            (x + across * reach, y + down * reach),
        )
    if kind == "radial":
        # The end colour is at the centre, the start colour on the circle round the box.
        x = box.x + box.width * percent(element.get(tag("draw:cx")), 0.5)
        y = box.y + box.height * percent(element.get(tag("draw:cy")), 0.5)
        outward = [Stop(1 - s.place, s.colour) for s in reversed(_with_border(stops, border))]
        return RoundGradient(tuple(outward), (x, y), math.hypot(box.width, box.height) / 2)
    return f"a gradient of the kind “{kind}” isn't painted yet"


def fill_of(
    chain: Sequence[Element],
    styles: Styles,
    box: Box,
    bare_is_tenths: bool,
    properties: str = "graphic",
) -> OdfFill:
    """Read the fill that a chain of styles gives a shape (or, with `drawing-page`, a page)."""

    def stated(name: str) -> str | None:
        return attribute(chain, properties, name)

    kind = stated("draw:fill")
    if kind is None:
        return OdfFill(stated=False)
    opacity = percent(stated("draw:opacity"), 1.0)
    if kind == "none":
        return OdfFill()
    if stated("draw:opacity-name"):
        return OdfFill(trouble="a transparency gradient isn't painted yet")
    if kind == "solid":
        chosen = colour(stated("draw:fill-color"), opacity)
        return OdfFill(chosen) if chosen else OdfFill(trouble="its fill's colour isn't stated")
    if kind == "gradient":
        element = styles.named("gradient", stated("draw:fill-gradient-name"))
        return _gradient_fill(element, box, opacity, bare_is_tenths)
    if kind == "bitmap":
        image = styles.named("fill-image", stated("draw:fill-image-name"))
        return _bitmap_fill(image, stated("style:repeat"), opacity)
    return OdfFill(trouble=UNPAINTED.get(kind, f"a fill of the kind “{kind}” isn't painted yet"))


def _gradient_fill(
    element: Element | None, box: Box, opacity: float, bare_is_tenths: bool
) -> OdfFill:
    if element is None:
        return OdfFill(trouble="its gradient isn't defined in the file")
    gradient = read_gradient(element, box, opacity, bare_is_tenths)
    return OdfFill(trouble=gradient) if isinstance(gradient, str) else OdfFill(gradient)


def _bitmap_fill(image: Element | None, repeat: str | None, opacity: float) -> OdfFill:
    if image is None:
        return OdfFill(trouble="its picture isn't defined in the file")
    if repeat != "stretch":
        return OdfFill(trouble="a repeated picture isn't painted yet")
    return OdfFill(picture=image, opacity=opacity)


def stroke_of(chain: Sequence[Element]) -> Stroke | None:
    """Read the line that a chain of styles gives a shape; dashes count as a line."""
    kind = attribute(chain, "graphic", "draw:stroke")
    if kind is None or kind == "none":
        return None
    opacity = percent(attribute(chain, "graphic", "svg:stroke-opacity"), 1.0)
    chosen = colour(attribute(chain, "graphic", "svg:stroke-color") or "#000000", opacity)
    if chosen is None:
        return None
    # A width of nothing is a hairline: one pixel, whatever the scale.
    width = length(attribute(chain, "graphic", "svg:stroke-width"))
    return Stroke(chosen, width if width > 0 else 0.75)


def has_shadow(chain: Sequence[Element]) -> bool:
    """Tell whether a shape casts a shadow."""
    return attribute(chain, "graphic", "draw:shadow") == "visible"
