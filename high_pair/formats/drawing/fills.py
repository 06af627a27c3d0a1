"""Fills, lines and effects of DrawingML, as far as they are painted (§20.1.8, §20.1.2.2.24)."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.formats.drawing.colours import Palette, colour_element, origin_of, resolve
from high_pair.formats.drawing.gradients import read_gradient, stops_of
from high_pair.formats.drawing.patterns import read_pattern
from high_pair.formats.schema_order import FILLS
from high_pair.formats.xml import (
    Element,
    child,
    children,
    flag,
    local_name,
    number,
    share,
    tag,
    whole,
)
from high_pair.scene.effects import (
    ColourChange,
    Duotone,
    Effect,
    Greyscale,
    HueChange,
    Luminance,
    OneColour,
    OpacityChange,
    TwoLevels,
)
from high_pair.scene.geometry import Affine, Box
from high_pair.scene.page import Tile
from high_pair.scene.paint import Colour, Gradient, Pattern
from high_pair.scene.paint import Fill as SceneFill

EMU_PER_POINT = 12_700
EFFECTS_ON_PICTURES = "a picture's {} isn't painted yet"
UNPAINTED_EFFECTS = {
    "alphaMod": "alpha effect",
    "blur": "blur",
    "fillOverlay": "fill overlay",
    "tint": "tint effect",
}


@dataclass(frozen=True)
class PictureFill:
    """A picture used as a fill: its relationship, crop and offsets as shares, and opacity."""

    relationship: str
    crop: tuple[float, float, float, float]
    offsets: tuple[float, float, float, float]
    opacity: float
    trouble: str
    tile: Tile | None = None
    effects: tuple[Effect, ...] = ()


@dataclass(frozen=True)
class GradientFill:
    """A gradient as written, which needs a shape's box to become one of the scene's."""

    element: Element
    palette: Palette

    def for_shape(
        self, box: Box, transform: Affine, round_shape: bool, plain: bool
    ) -> Gradient | str:
        """Give the gradient in a shape; see `read_gradient`."""
        page_box = transform.bounds(box)
        return read_gradient(self.element, self.palette, box, page_box, round_shape, plain)


@dataclass(frozen=True)
class Fill:
    """A fill as read: nothing at all, a colour, a gradient, a pattern, a picture, or a trouble.

    shades: with a trouble, the colours between which every place's lies, from one to the next.
    """

    colour: Colour | None = None
    picture: PictureFill | None = None
    trouble: str = ""
    origin: str = ""
    gradient: GradientFill | None = None
    pattern: Pattern | None = None
    shades: tuple[Colour, ...] = ()

    @property
    def possible(self) -> tuple[Colour, ...]:
        """The colours between which every place's lies, from one to the next; none if unknown."""
        if self.colour is not None:
            return (self.colour,)
        if self.gradient is not None:
            stops = stops_of(self.gradient.element, self.gradient.palette)
            return tuple(stop.colour for stop in stops)
        return self.shades

    def for_shape(
        self, box: Box, transform: Affine, round_shape: bool = False, plain: bool = True
    ) -> SceneFill | str | None:
        """Give what fills a shape: the scene's fill, why it can't be painted, or None.

        A picture fill isn't among them; it is an item of its own.
        """
        if self.trouble:
            return self.trouble
        if self.gradient is not None:
            return self.gradient.for_shape(box, transform, round_shape, plain)
        return self.pattern or self.colour


NOTHING = Fill()


def fill_element(parent: Element | None) -> Element | None:
    """Give the fill among an element's children."""
    for each in children(parent):
        if local_name(each) in FILLS:
            return each
    return None


def read_fill(element: Element | None, palette: Palette) -> Fill:
    """Read a fill element; None and noFill give nothing."""
    if element is None or local_name(element) == "noFill":
        return NOTHING
    name = local_name(element)
    if name == "solidFill":
        chosen = colour_element(element)
        colour = resolve(chosen, palette)
        if colour is None and chosen is not None:
            return Fill(trouble="its fill has a colour that the theme doesn't define")
        return Fill(colour=colour, origin=origin_of(chosen))
    if name == "blipFill":
        return Fill(picture=read_picture_fill(element, palette))
    if name == "gradFill":
        return Fill(gradient=GradientFill(element, palette))
    if name == "pattFill":
        pattern = read_pattern(element, palette)
        return Fill(trouble=pattern) if isinstance(pattern, str) else Fill(pattern=pattern)
    return Fill(trouble="a group's fill outside a group can't be painted")


def shared_by_group(fill: Fill) -> Fill:
    """Give a group's fill as its shapes have it (§20.1.8.35).

    Whether a gradient or a picture is spread over the group, or over each shape anew, the standard
    doesn't say, and programs differ.
    """
    if fill.gradient is None and fill.picture is None:
        return fill
    kind = "picture" if fill.picture is not None else "gradient"
    words = f"programs differ in how a group's {kind} is spread"
    return Fill(trouble=words, shades=fill.possible)


def _sides(element: Element | None) -> tuple[float, float, float, float]:
    if element is None:
        return (0.0, 0.0, 0.0, 0.0)
    left, top, right, bottom = (share(element.get(side)) for side in "ltrb")
    return left, top, right, bottom


# §20.1.10.53: where two boxes meet, as a tile's copy and its shape, as shares across and down.
ALIGNMENTS = {
    "tl": (0.0, 0.0), "t": (0.5, 0.0), "tr": (1.0, 0.0),
    "l": (0.0, 0.5), "ctr": (0.5, 0.5), "r": (1.0, 0.5),
    "bl": (0.0, 1.0), "b": (0.5, 1.0), "br": (1.0, 1.0),
}  # fmt: skip


def _tile(element: Element | None) -> Tile | None:
    """Read a:tile (§20.1.8.58)."""
    if element is None:
        return None
    flip = element.get("flip", "none")
    return Tile(
        (whole(element, "tx") / EMU_PER_POINT, whole(element, "ty") / EMU_PER_POINT),
        (abs(share(element.get("sx"), 1.0)), abs(share(element.get("sy"), 1.0))),
        ALIGNMENTS.get(element.get("algn", "tl"), (0.0, 0.0)),
        ("x" in flip, "y" in flip),
    )


def _two_colours(effect: Element, palette: Palette) -> tuple[Colour, Colour] | None:
    colours = [resolve(each, palette) for each in children(effect)]
    if len(colours) != 2 or colours[0] is None or colours[1] is None:
        return None
    return colours[0], colours[1]


def _effect(effect: Element, palette: Palette) -> Effect | None:
    """Read one of a picture's colour effects (§20.1.8.13); None for one that isn't painted."""
    name = local_name(effect)
    simple: dict[str, Effect] = {
        "grayscl": Greyscale(),
        "biLevel": TwoLevels(share(effect.get("thresh"), 0.5)),
        "lum": Luminance(share(effect.get("bright")), share(effect.get("contrast"))),
        "alphaRepl": OpacityChange("replace", share(effect.get("a"), 1.0)),
        "alphaCeiling": OpacityChange("ceiling"),
        "alphaFloor": OpacityChange("floor"),
        "alphaInv": OpacityChange("invert"),
        "alphaBiLevel": OpacityChange("two-level", share(effect.get("thresh"), 0.5)),
    }
    if name in simple:
        return simple[name]
    if name == "duotone":
        pair = _two_colours(effect, palette)
        return Duotone(*pair) if pair else None
    if name == "clrRepl":
        colour = resolve(colour_element(effect), palette)
        return OneColour(colour) if colour is not None else None
    if name == "hsl":
        turn = number(effect.get("hue")) / 21_600_000
        return HueChange(turn, share(effect.get("sat")), share(effect.get("lum")))
    if name == "clrChange":
        before = resolve(colour_element(child(effect, "a:clrFrom")), palette)
        after = resolve(colour_element(child(effect, "a:clrTo")), palette)
        if before is not None and after is not None:
            return ColourChange(before, after, flag(effect, "useA", default=True))
    return None


def read_picture_fill(element: Element, palette: Palette) -> PictureFill:
    """Read a blipFill (§20.1.8.14): which picture, its place, its opacity and its effects."""
    blip = child(element, "a:blip")
    opacity, trouble = 1.0, ""
    effects: list[Effect] = []
    for each in children(blip):
        name = local_name(each)
        if name == "alphaModFix":
            opacity *= min(1.0, max(0.0, share(each.get("amt"), 1.0)))
        elif name != "extLst":
            effect = _effect(each, palette)
            if effect is None:
                trouble = EFFECTS_ON_PICTURES.format(UNPAINTED_EFFECTS.get(name, name))
            else:
                effects.append(effect)
    relationship = ""
    if blip is not None:
        relationship = blip.get(tag("r:embed"), "")
        if not relationship and blip.get(tag("r:link")):
            trouble = "a picture that is only linked, not in the file, can't be painted"
    return PictureFill(
        relationship,
        _sides(child(element, "a:srcRect")),
        _sides(child(element, "a:stretch", "a:fillRect")),
        opacity,
        trouble,
        _tile(child(element, "a:tile")),
        tuple(effects),
    )
