"""Boxes, pictures, groups and watermarks of old files, in VML (ECMA-376 Part 4 §19.1)."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from lxml import etree

from high_pair.formats.drawing.colours import preset_colour
from high_pair.formats.drawing.geometry import outline_of
from high_pair.formats.drawing.surfaces import either_way
from high_pair.formats.parts import Part
from high_pair.formats.xml import Element, child, children, local_name, number, tag
from high_pair.raster.pieces import boxed
from high_pair.scene.effects import Effect, Greyscale, Luminance
from high_pair.scene.flow import Block, Float, From, Offset, Wrap
from high_pair.scene.geometry import (
    IDENTITY,
    Affine,
    Box,
    Outline,
    ellipse,
    line,
    moved,
    rectangle,
    rounded,
    scaled,
    turned,
)
from high_pair.scene.page import Figure, Item, Obstacle, Picture
from high_pair.scene.paint import WHITE, Colour, Stroke
from high_pair.scene.text import Paragraph, Run, TextBlock
from high_pair.scene.unsure import some_form, unsure_fill

SHAPES = ("shape", "rect", "roundrect", "oval", "line", "polyline", "image")
# Points for each unit of a style's lengths; a bare number counts EMU or pixels, which are rare.
_UNITS = {"pt": 1.0, "in": 72.0, "cm": 72 / 2.54, "mm": 72 / 25.4, "px": 0.75, "": 0.75, "pc": 12.0}
_LENGTH = re.compile(r"^\s*(-?[\d.]+)\s*([a-z]*)\s*$")
_HEX = re.compile(r"^#([0-9a-fA-F]{6}|[0-9a-fA-F]{3})\b")
_INSET = (7.2, 3.6, 7.2, 3.6)
LARGEST = 20_000.0
DEEPEST_GROUP = 32
_RELATIVE = {"page": From.PAGE, "margin": From.MARGIN, "text": From.COLUMN, "char": From.COLUMN}
_SHARES = {"left": 0.0, "top": 0.0, "center": 0.5, "right": 1.0, "bottom": 1.0}
# §19.1.2.20: the type of a shape by its number, which writers put at the end of its name; those
# whose measures are the same in both languages.
_TYPE = re.compile(r"_t(\d{1,3})$")
_TYPES = {
    1: "rect", 2: "roundRect", 3: "ellipse", 4: "diamond", 5: "triangle", 6: "rtTriangle",
    75: "rect", 109: "flowChartProcess", 110: "flowChartDecision", 111: "flowChartInputOutput",
    114: "flowChartDocument", 116: "flowChartTerminator", 117: "flowChartPreparation",
    118: "flowChartManualInput", 119: "flowChartManualOperation", 120: "flowChartConnector",
    127: "flowChartExtract", 128: "flowChartMerge", 177: "flowChartOffpageConnector", 202: "rect",
}  # fmt: skip
PLAIN_ARC = 0.2
LETTERS = "the letters of a watermark, “{}”, lie behind it"
STRETCHED = "its letters are stretched, so where they stand, and how large they are, isn't known"
FIXED = "The letters of a watermark have the colour of their shape. Change it in the file."
SOME_FORM = "an outline of an old kind isn't painted yet"

BlocksOf = Callable[[Element, str, Item | None], tuple[Block, ...]]


def vml_floats(holder: Element, part: Part, blocks_of: BlocksOf) -> Iterator[Float]:
    """Give what a w:pict or w:object shows."""
    reader = _Reader(part, blocks_of)
    for element in children(holder):
        if local_name(element) == "group" or local_name(element) in SHAPES:
            style = style_of(element)
            width, height = _length(style.get("width")), _length(style.get("height"))
            items = tuple(reader.items(element, Box(0.0, 0.0, width, height), IDENTITY))
            yield _float(style, width, height, items)


@dataclass(frozen=True)
class _Reader:
    """Reads the shapes of one part; blocks_of: reads the text of boxes."""

    part: Part
    blocks_of: BlocksOf

    def items(
        self, element: Element, box: Box, transform: Affine, depth: int = 0
    ) -> Iterator[Item]:
        """Give what a shape or a group paints in a box, lowest first."""
        own = transform.after(_turn(style_of(element), box))
        if local_name(element) != "group":
            yield from self._shape(element, box, own)
        elif depth < DEEPEST_GROUP:
            for each in children(element):
                if local_name(each) == "group" or local_name(each) in SHAPES:
                    yield from self.items(each, _box_in(element, each, box), own, depth + 1)

    def _shape(self, element: Element, box: Box, transform: Affine) -> Iterator[Item]:
        image = child(element, "v:imagedata")
        letters = child(element, "v:textpath")
        below: list[Item] = []
        if letters is not None and letters.get("string"):
            yield from _lettering(element, letters.get("string", ""), box, transform)
        elif image is not None:
            below += self._picture(image, box, transform)
        else:
            below += self._surface(element, box, transform)
        yield from below
        text_box = child(element, "v:textbox")
        content = child(text_box, "w:txbxContent")
        if content is None or text_box is None:
            return
        stated = (text_box.get("inset") or "").split(",")
        left, top, right, bottom = (
            _length(stated[place]) if place < len(stated) and stated[place].strip() else plain
            for place, plain in enumerate(_INSET)
        )
        width, height = max(1.0, box.width - left - right), max(1.0, box.height - top - bottom)
        inside = Box(box.x + left, box.y + top, width, height)
        grows = "mso-fit-shape-to-text:t" in text_box.get("style", "")
        name = element.get("id", "") or "box"
        blocks = self.blocks_of(content, name, below[-1] if below else None)
        yield from boxed(blocks, inside, transform=transform, grows=grows)[0]

    def _picture(self, image: Element, box: Box, transform: Affine) -> Iterator[Item]:
        member = self.part.target_of(image.get(tag("r:id"), ""))
        if not member:
            yield Obstacle(box, transform, "a picture is missing from the file")
            return
        if image.get("chromakey"):
            yield Obstacle(box, transform, "a picture that is see-through by its colour")
            return
        sides = [_share(image.get(f"crop{side}")) for side in ("left", "top", "right", "bottom")]
        left, top, right, bottom = sides
        effects: list[Effect] = []
        if image.get("grayscale") in ("t", "true"):
            effects.append(Greyscale())
        # §19.1.2.11: a gain about the middle, and what is added.
        gain, level = _share(image.get("gain"), 1.0, 4.0), _share(image.get("blacklevel"), 0.0)
        if (gain, level) != (1.0, 0.0):
            contrast = gain - 1 if gain <= 1 else 1 - 1 / gain
            # Writers round shares to 65536ths: the washed-out look is 70 % and -70 %.
            effects.append(Luminance(round(2 * level, 3), round(contrast, 3)))
        crop = (left, top, right, bottom)
        yield from either_way(Picture(member, box, transform, crop, effects=tuple(effects)))

    def _surface(self, element: Element, box: Box, transform: Affine) -> Iterator[Item]:
        """Give a shape's fill and line."""
        outline = _outline(element, box)
        stroke = _stroke(element)
        fill = fill_colour(element)
        if local_name(element) == "line":
            fill = None
        if outline is None:
            colours = [stroke.fill if stroke is not None else None, fill]
            yield from some_form(box, transform, [each for each in colours if each], SOME_FORM)
            return
        if isinstance(fill, str):
            yield from unsure_fill(outline, box, transform, _shades(element), fill)
            fill = None
        if fill is not None or stroke is not None:
            yield Figure(outline, box, transform, fill, stroke)


def style_of(element: Element) -> dict[str, str]:
    """Read a shape's style, which is written as CSS is (§19.1.2.19)."""
    entries = (entry.partition(":") for entry in element.get("style", "").split(";"))
    return {key.strip().lower(): value.strip() for key, _, value in entries if key.strip()}


def _length(text: str | None) -> float:
    match = _LENGTH.match(text or "")
    if match is None:
        return 0.0
    value = number(match.group(1)) * _UNITS.get(match.group(2), 1.0)
    return value if abs(value) < LARGEST else 0.0


def _pair(text: str | None, plain: tuple[float, float]) -> tuple[float, float]:
    first, comma, second = (text or "").partition(",")
    return (number(first, plain[0]), number(second, plain[1])) if comma else plain


def _box_in(group: Element, shape: Element, box: Box) -> Box:
    """Give a shape's box in its group, whose coordinates are its own (§19.1.2.7)."""
    origin = _pair(group.get("coordorigin"), (0.0, 0.0))
    size = _pair(group.get("coordsize"), (1000.0, 1000.0))
    across, down = (
        side / whole if whole else 0.0
        for side, whole in zip((box.width, box.height), size, strict=True)
    )
    if shape.get("from"):
        (left, top), (right, bottom) = (_pair(shape.get(end), (0.0, 0.0)) for end in ("from", "to"))
    else:
        style = style_of(shape)
        left, top, width, height = (
            number(style.get(name)) for name in ("left", "top", "width", "height")
        )
        right, bottom = left + width, top + height
    return Box(
        box.x + (min(left, right) - origin[0]) * across,
        box.y + (min(top, bottom) - origin[1]) * down,
        min(LARGEST, abs(right - left) * abs(across)),
        min(LARGEST, abs(bottom - top) * abs(down)),
    )


def _turn(style: dict[str, str], box: Box) -> Affine:
    """Give the turn and the mirroring of a shape about its middle."""
    flip = style.get("flip", "")
    x, y = box.centre
    mirrored = moved(x, y).after(scaled(-1.0 if "x" in flip else 1.0, -1.0 if "y" in flip else 1.0))
    stated = style.get("rotation", "0")
    # «fd» counts 65536ths of a degree.
    angle = number(stated[:-2]) / 65_536 if stated.endswith("fd") else number(stated)
    return turned(angle % 360, (x, y)).after(mirrored.after(moved(-x, -y)))


def _outline(element: Element, box: Box) -> Outline | None:
    """Give a shape's outline; None where it isn't known."""
    name = local_name(element)
    if name == "oval":
        return ellipse(box)
    if name == "roundrect":
        radius = min(box.width, box.height) * _share(element.get("arcsize"), PLAIN_ARC, 0.5)
        return rounded(box, radius, radius)
    if name == "line":
        start, end = (_pair(element.get(side), (0.0, 0.0)) for side in ("from", "to"))
        falls = (end[0] - start[0]) * (end[1] - start[1]) >= 0
        top, bottom = (box.y, box.bottom) if falls else (box.bottom, box.y)
        return line((box.x, top), (box.right, bottom))
    if name in ("rect", "image"):
        return rectangle(box)
    stated = _TYPE.search(element.get("type", ""))
    if stated is None:
        # Without a type or a path of its own a shape is as large as its box.
        return None if element.get("path") or name == "polyline" else rectangle(box)
    preset = _TYPES.get(int(stated.group(1)))
    if preset is None or (element.get("adj") and preset not in ("rect", "ellipse")):
        return None
    return outline_of(preset, box, {})


def _lettering(element: Element, words: str, box: Box, transform: Affine) -> Iterator[Item]:
    """Give letters that fill a shape's box, as those of a watermark (§19.1.2.23).

    Text above them may lie on a letter or beside it; their own colours are known, and where in the
    box they are isn't.
    """
    fill = fill_colour(element)
    stroke = _stroke(element)
    shades = _shades(element) if isinstance(fill, str) else ((fill,) if fill else ())
    if stroke is not None and isinstance(stroke.fill, Colour):
        shades = (*shades, stroke.fill)
    reason = LETTERS.format(words)
    figures = tuple((Figure(rectangle(box), box, transform, shade),) for shade in shades)
    run = Run(
        words,
        shades[0] if shades else WHITE,
        "",
        max(1.0, box.height * 0.6),
        400,
        "the shape's fill",
        "",
        fixed=FIXED,
        shades=shades if len(set(shades)) > 1 else (),
        trouble="" if shades else "the fill of its letters isn't known",
        unsized=STRETCHED,
    )
    # Behind its letters is what lies below them; behind all that comes later are they.
    yield TextBlock(
        (Paragraph((run,)),), box, transform, "Watermark", wraps=False, doubt=STRETCHED, region=box
    )
    yield Obstacle(box, transform, reason, figures, letters=True)


def _float(style: dict[str, str], width: float, height: float, items: tuple[Item, ...]) -> Float:
    if style.get("position") != "absolute":
        return Float(width, height, items)
    behind = number(style.get("z-index")) < 0
    return Float(
        width,
        height,
        items,
        behind=behind,
        across=_offset(style, "horizontal", "margin-left", From.COLUMN),
        down=_offset(style, "vertical", "margin-top", From.PARAGRAPH),
        wrap=Wrap.THROUGH,
    )


def _offset(style: dict[str, str], axis: str, margin: str, plain: From) -> Offset:
    relative = style.get(f"mso-position-{axis}-relative", "")
    origin = _RELATIVE.get(relative, plain)
    if axis == "vertical" and relative == "text":
        origin = From.PARAGRAPH
    share = _SHARES.get(style.get(f"mso-position-{axis}", ""))
    return Offset(origin, _length(style.get(margin)), share)


def fill_colour(element: Element) -> Colour | str | None:
    """Read a shape's fill: white where nothing says another (§19.1.2.19)."""
    details = child(element, "v:fill")
    on = (details.get("on") if details is not None else None) or element.get("filled", "t")
    if on in ("f", "false"):
        return None
    if details is not None and details.get("type", "solid") != "solid":
        return "a fill of an old kind isn't painted yet"
    stated = element.get("fillcolor")
    colour = _colour(stated) if stated else WHITE
    if colour is None:
        return "a fill of an unknown colour can't be painted"
    return colour.with_opacity(_share(details.get("opacity") if details is not None else None, 1.0))


def _shades(element: Element) -> tuple[Colour, ...]:
    """Give the two colours between which every place of a gradient or a pattern lies; none where
    they aren't known (§19.1.2.5)."""
    details = child(element, "v:fill")
    if details is None or not details.get("type", "").startswith(("gradient", "pattern")):
        return ()
    found = []
    for stated, opacity in (
        (details.get("color") or element.get("fillcolor"), "opacity"),
        (details.get("color2"), "opacity2"),
    ):
        colour = _colour(stated) if stated else WHITE
        if colour is None:
            return ()
        found.append(colour.with_opacity(_share(_any_space(details, opacity), 1.0)))
    return tuple(found)


def _any_space(element: Element, name: str) -> str | None:
    """Give an attribute in whatever namespace it stands."""
    return next(
        (str(v) for k, v in element.attrib.items() if etree.QName(k).localname == name), None
    )


def _stroke(element: Element) -> Stroke | None:
    details = child(element, "v:stroke")
    on = (details.get("on") if details is not None else None) or element.get("stroked", "t")
    if on in ("f", "false"):
        return None
    colour = _colour(element.get("strokecolor") or "black") or Colour(0, 0, 0)
    opacity = _share(details.get("opacity") if details is not None else None, 1.0)
    width = max(0.25, _length(element.get("strokeweight", "0.75pt")))
    return Stroke(colour.with_opacity(opacity), width)


def _share(text: str | None, plain: float = 0.0, most: float = 1.0) -> float:
    """Read a share: 0.5, 50% or 32768f, in 65536ths."""
    if not text:
        return plain
    if text.endswith("f"):
        value = number(text[:-1], 65536.0) / 65536
    elif text.endswith("%"):
        value = number(text[:-1], 100.0) / 100
    else:
        value = number(text, plain)
    return min(most, max(-most, value))


def _colour(text: str) -> Colour | None:
    """Read a colour: hexadecimal or a name; further words after it say how it was chosen."""
    first = text.strip().partition(" ")[0]
    match = _HEX.match(first)
    if match is None:
        return preset_colour(first)
    digits = match.group(1)
    if len(digits) == 3:
        digits = "".join(each * 2 for each in digits)
    red, green, blue = (int(digits[place : place + 2], 16) / 255 for place in (0, 2, 4))
    return Colour(red, green, blue)
