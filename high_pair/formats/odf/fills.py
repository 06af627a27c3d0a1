"""Fills of ODF graphic styles (ODF 1.3 Part 3 §20.119 and its neighbours)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from high_pair.formats.odf.gradients import (
    colour_stops,
    read_gradient,
    read_opacity,
    with_opacities,
)
from high_pair.formats.odf.styles import Styles, attribute
from high_pair.formats.odf.units import colour, length, percent
from high_pair.formats.xml import Element, child, number, tag
from high_pair.raster.shading import tile_origin
from high_pair.scene.geometry import Box
from high_pair.scene.page import Tile
from high_pair.scene.paint import Colour, Gradient

HATCH = "the standard doesn't say where a hatch's lines begin"
STEPS = "where a gradient's steps begin differs from program to program"
# §20.116: where a copy of the picture meets the area, as shares of both.
_MEETS = {
    "top-left": (0.0, 0.0),
    "top": (0.5, 0.0),
    "top-right": (1.0, 0.0),
    "left": (0.0, 0.5),
    "center": (0.5, 0.5),
    "right": (1.0, 0.5),
    "bottom-left": (0.0, 1.0),
    "bottom": (0.5, 1.0),
    "bottom-right": (1.0, 1.0),
}


_SIDES = {"left": 0.0, "top": 0.0, "right": 1.0, "bottom": 1.0}


@dataclass(frozen=True)
class Repeat:
    """How a picture that isn't stretched lies in its area.

    repeats: False for one copy alone; size: stated width and height in points,
    0 for the picture's own; align: where copy and area meet, as shares of both;
    shift: of the copies, in shares of their size.
    """

    repeats: bool
    size: tuple[float, float]
    align: tuple[float, float]
    shift: tuple[float, float]

    def size_for(self, natural: tuple[float, float]) -> tuple[float, float]:
        """Give a copy's size in points, of a picture's own size in points."""
        return self.size[0] or natural[0], self.size[1] or natural[1]

    def single(self, natural: tuple[float, float], box: Box) -> Box:
        """Give the box of the one copy."""
        width, height = self.size_for(natural)
        shift = self.shift[0] * width, self.shift[1] * height
        return Box(*tile_origin(box, (width, height), self.align, shift), width, height)

    def tile(self, natural: tuple[float, float]) -> Tile:
        """Give how the copies cover their area."""
        width, height = self.size_for(natural)
        offset = (self.shift[0] * width, self.shift[1] * height)
        return Tile(offset, (width / natural[0], height / natural[1]), self.align)


@dataclass(frozen=True)
class OdfFill:
    """A fill as read: a colour or gradient, a picture, a trouble, or nothing.

    stated: whether any style names the kind of fill; where none does, programs
    fill shapes all the same, and it is what they fill them with; repeat: how the
    picture lies in its area, None where it is stretched over it; shades: with a
    trouble, the colours between which every place's lies, from one to the next.
    """

    fill: Colour | Gradient | None = None
    picture: Element | None = None
    opacity: float = 1.0
    trouble: str = ""
    stated: bool = True
    repeat: Repeat | None = None
    shades: tuple[Colour, ...] = ()

    @property
    def paints(self) -> bool:
        """Tell whether anything is painted, known or not."""
        return self.fill is not None or self.picture is not None or bool(self.trouble)


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

    plain = _plain_background(chain) if properties == "graphic" else None
    if plain is not None:
        return plain
    kind = stated("draw:fill")
    if kind == "none":
        return OdfFill()
    opacity = percent(stated("draw:opacity"), 1.0)
    if kind in ("solid", None):
        chosen = colour(stated("draw:fill-color"), opacity)
        found = OdfFill(chosen) if chosen else OdfFill(trouble="its fill's colour isn't stated")
        found = replace(found, stated=kind is not None)
    elif kind == "gradient":
        element = styles.named("gradient", stated("draw:fill-gradient-name"))
        steps = number(stated("draw:gradient-step-count"))
        found = _gradient_fill(element, steps, box, opacity, bare_is_tenths)
    elif kind == "bitmap":
        image = styles.named("fill-image", stated("draw:fill-image-name"))
        found = _picture_fill(image, chain, properties, opacity)
    elif kind == "hatch":
        found = _hatch(styles.named("hatch", stated("draw:fill-hatch-name")), chain, properties)
    else:
        found = OdfFill(trouble=f"a fill of the kind “{kind}” isn't painted yet")
    name = stated("draw:opacity-name")
    if name and not found.trouble:
        return _faded(found, styles.named("opacity", name), box, bare_is_tenths)
    return found


def background_picture(style: Element | None, properties: str) -> OdfFill | None:
    """Give the picture that a style states behind in the older way (§17.3), None without one.

    It is repeated from the top left corner on where nothing else is said (§20.350, §20.360).
    """
    image = child(style, f"style:{properties}-properties", "style:background-image")
    if image is None or not (image.get(tag("xlink:href")) or len(image)):
        return None
    kind = image.get(tag("style:repeat")) or "repeat"
    if kind == "stretch":
        return OdfFill(picture=image)
    words = (image.get(tag("style:position")) or "").split()
    plain = 0.0 if kind == "repeat" else 0.5
    across = next((_SIDES[word] for word in words if word in ("left", "right")), plain)
    down = next((_SIDES[word] for word in words if word in ("top", "bottom")), plain)
    if words:
        across = across if {"left", "right"} & set(words) else 0.5
        down = down if {"top", "bottom"} & set(words) else 0.5
    repeat = Repeat(kind == "repeat", (0.0, 0.0), (across, down), (0.0, 0.0))
    return OdfFill(picture=image, repeat=repeat)


def either(first: OdfFill, second: OdfFill, reason: str) -> OdfFill:
    """Give a fill that is one of two, of which nobody knows which."""
    ends = [each.fill if each.paints else None for each in (first, second)]
    colours = [each for each in ends if isinstance(each, Colour)]
    plain = all(end is None or isinstance(end, Colour) for end in ends)
    pictured = first.picture is not None or second.picture is not None
    if not colours or not plain or pictured or first.trouble or second.trouble:
        return OdfFill(trouble=reason)
    # Without a fill what is below shows.
    shades = [end or colours[0].with_opacity(0.0) for end in ends if not isinstance(end, Gradient)]
    return OdfFill(trouble=reason, shades=tuple(shades))


def _plain_background(chain: Sequence[Element]) -> OdfFill | None:
    """Give the background that a frame's style states in the older way (§20.182).

    None where the nearest style that states any states a fill.
    """
    for style in chain:
        own = child(style, "style:graphic-properties")
        if own is None:
            continue
        if own.get(tag("draw:fill")) is not None:
            return None
        code = own.get(tag("fo:background-color"))
        if code is not None:
            image = child(own, "style:background-image")
            if image is not None and (image.get(tag("xlink:href")) or len(image)):
                return OdfFill(trouble="a picture behind a frame isn't painted yet")
            opacity = 1.0 - percent(own.get(tag("style:background-transparency")), 0.0)
            return OdfFill(colour(code, opacity))
    return None


def _faded(found: OdfFill, element: Element | None, box: Box, bare_is_tenths: bool) -> OdfFill:
    """Give a fill the transparency gradient that an element states."""
    if element is None:
        return OdfFill(trouble="its transparency gradient isn't defined in the file")
    if found.fill is None or found.picture is not None:
        return OdfFill(trouble="a picture with a transparency gradient isn't painted yet")
    faded = read_opacity(element, found.fill, box, bare_is_tenths)
    if not isinstance(faded, str):
        return replace(found, fill=faded)
    shades = () if isinstance(found.fill, Colour) else with_opacities(found.fill, element)
    return OdfFill(trouble=faded, shades=shades)


def _gradient_fill(
    element: Element | None, steps: float, box: Box, opacity: float, bare_is_tenths: bool
) -> OdfFill:
    if element is None:
        return OdfFill(trouble="its gradient isn't defined in the file")
    shades = tuple(stop.colour for stop in colour_stops(element, opacity))
    if steps > 0:
        return OdfFill(trouble=STEPS, shades=shades)
    gradient = read_gradient(element, box, opacity, bare_is_tenths)
    if isinstance(gradient, str):
        return OdfFill(trouble=gradient, shades=shades)
    return OdfFill(gradient)


def _hatch(hatch: Element | None, chain: Sequence[Element], properties: str) -> OdfFill:
    """Give a hatch, any line of which may be at any place (§16.40.6, §20.123)."""
    line = colour(hatch.get(tag("draw:color"))) if hatch is not None else None
    if line is None:
        return OdfFill(trouble=HATCH)
    below = line.with_opacity(0.0)
    if attribute(chain, properties, "draw:fill-hatch-solid") == "true":
        below = colour(attribute(chain, properties, "draw:fill-color")) or below
    return OdfFill(trouble=HATCH, shades=(below, line))


def _picture_fill(
    image: Element | None, chain: Sequence[Element], properties: str, opacity: float
) -> OdfFill:
    def stated(name: str) -> str:
        return (attribute(chain, properties, name) or "").strip()

    if image is None:
        return OdfFill(trouble="its picture isn't defined in the file")
    kind = stated("style:repeat") or "repeat"
    if kind == "stretch":
        return OdfFill(picture=image, opacity=opacity)
    sizes = [stated(f"draw:fill-image-{side}") for side in ("width", "height")]
    if any(size.endswith("%") for size in sizes):
        return OdfFill(trouble="a picture repeated at a share of its size isn't painted yet")
    if stated("draw:tile-repeat-offset").partition("%")[0] not in ("", "0"):
        return OdfFill(trouble="a picture repeated in shifted rows isn't painted yet")
    width, height = (max(0.0, length(size)) for size in sizes)
    align = _MEETS.get(stated("draw:fill-image-ref-point"), (0.5, 0.5))
    shift = [percent(stated(f"draw:fill-image-ref-point-{side}")) for side in "xy"]
    repeat = Repeat(kind == "repeat", (width, height), align, (shift[0], shift[1]))
    return OdfFill(picture=image, opacity=opacity, repeat=repeat)
