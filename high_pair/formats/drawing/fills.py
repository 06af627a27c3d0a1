"""Fills, lines and effects of DrawingML, as far as they are painted (§20.1.8, §20.1.2.2.24)."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.formats.drawing.colours import Palette, colour_element, origin_of, resolve
from high_pair.formats.xml import Element, child, children, local_name, share, tag, whole
from high_pair.scene.paint import Colour, Stroke

EMU_PER_POINT = 12_700
FILLS = ("noFill", "solidFill", "gradFill", "blipFill", "pattFill", "grpFill")
# Fills that aren't painted yet, in words.
UNPAINTED = {"gradFill": "gradient", "pattFill": "pattern", "grpFill": "group's fill"}
THINNEST_LINE = 0.75  # what a line without a width has: 9525 EMU (§20.1.2.2.24)
# Changes to a picture's colours (§20.1.8.13) that aren't painted yet.
UNPAINTED_EFFECTS = {
    "alphaBiLevel": "two-level transparency",
    "alphaCeiling": "alpha ceiling",
    "alphaFloor": "alpha floor",
    "alphaInv": "inverted transparency",
    "alphaMod": "alpha effect",
    "alphaRepl": "replaced transparency",
    "biLevel": "black-and-white effect",
    "blur": "blur",
    "clrChange": "colour change",
    "clrRepl": "colour replacement",
    "duotone": "duotone",
    "fillOverlay": "fill overlay",
    "grayscl": "greyscale effect",
    "hsl": "hue, saturation and luminance effect",
    "lum": "brightness and contrast effect",
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


@dataclass(frozen=True)
class Fill:
    """A fill as read: nothing at all, a colour, a picture, or what can't be painted yet."""

    colour: Colour | None = None
    picture: PictureFill | None = None
    trouble: str = ""
    origin: str = ""


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
        return Fill(picture=read_picture_fill(element))
    return Fill(trouble=f"a {UNPAINTED.get(name, name)} fill isn't painted yet")


def _sides(element: Element | None) -> tuple[float, float, float, float]:
    if element is None:
        return (0.0, 0.0, 0.0, 0.0)
    left, top, right, bottom = (share(element.get(side)) for side in "ltrb")
    return left, top, right, bottom


def read_picture_fill(element: Element) -> PictureFill:
    """Read a blipFill (§20.1.8.14): which picture, its crop and stretch, and its opacity."""
    blip = child(element, "a:blip")
    opacity, trouble = 1.0, ""
    for effect in children(blip):
        name = local_name(effect)
        if name == "alphaModFix":
            opacity *= min(1.0, max(0.0, share(effect.get("amt"), 1.0)))
        elif name in UNPAINTED_EFFECTS:
            trouble = f"a picture's {UNPAINTED_EFFECTS[name]} isn't painted yet"
    if child(element, "a:tile") is not None:
        trouble = "a tiled picture isn't painted yet"
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
    )


def read_stroke(element: Element | None, palette: Palette, width: int = 9525) -> Stroke | str:
    """Read a line (a:ln): a stroke, or why it can't be painted; empty for no line.

    width: in EMU, for a line that states none.
    """
    fill = read_fill(fill_element(element), palette)
    if fill.trouble or fill.picture:
        return fill.trouble or "a line filled with a picture isn't painted yet"
    if fill.colour is None:
        return ""
    return Stroke(fill.colour, max(0.0, whole(element, "w", width) / EMU_PER_POINT))


@dataclass(frozen=True)
class Effects:
    """What a shape's effects put round it and on it, which isn't painted yet.

    around: by how many points the paint under and round the shape may reach;
    zero for none; on: whether the shape's own surface changes; words: for the reason.
    """

    around: float = 0.0
    on: bool = False
    words: str = ""


_AROUND = {"outerShdw": "shadow", "prstShdw": "shadow", "glow": "glow", "reflection": "reflection"}
_ON = {"innerShdw": "inner shadow", "softEdge": "soft edge", "blur": "blur", "fillOverlay": "fill"}


def read_effects(effect_list: Element | None) -> Effects:
    """Read an effect list (§20.1.8.25)."""
    around, on, words = 0.0, False, []
    for effect in children(effect_list):
        name = local_name(effect)
        if name in _AROUND:
            reach = sum(whole(effect, part) for part in ("blurRad", "dist", "rad"))
            if name == "reflection":
                reach = max(reach, whole(effect, "dist")) + 12_700 * 400
            around = max(around, reach / EMU_PER_POINT)
            words.append(_AROUND[name])
        elif name in _ON:
            on = True
            words.append(_ON[name])
    return Effects(around, on, " and ".join(dict.fromkeys(words)))
