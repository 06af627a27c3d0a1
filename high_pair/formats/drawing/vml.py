"""Boxes and pictures of old files, in VML (ECMA-376 Part 4 §19.1)."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

from high_pair.formats.drawing.colours import preset_colour
from high_pair.formats.parts import Part
from high_pair.formats.xml import Element, child, children, local_name, number, tag
from high_pair.raster.pieces import boxed
from high_pair.scene.flow import Block, Float, From, Offset, Wrap
from high_pair.scene.geometry import IDENTITY, Box, ellipse, rectangle
from high_pair.scene.page import Figure, Item, Obstacle, Picture
from high_pair.scene.paint import WHITE, Colour, Stroke

SHAPES = ("shape", "rect", "roundrect", "oval", "line", "polyline", "image")
# Points for each unit of a style's lengths; a bare number counts EMU or pixels, which are rare.
_UNITS = {"pt": 1.0, "in": 72.0, "cm": 72 / 2.54, "mm": 72 / 25.4, "px": 0.75, "": 0.75, "pc": 12.0}
_LENGTH = re.compile(r"^\s*(-?[\d.]+)\s*([a-z]*)\s*$")
_HEX = re.compile(r"^#([0-9a-fA-F]{6}|[0-9a-fA-F]{3})\b")
_INSET = (7.2, 3.6, 7.2, 3.6)
LARGEST = 20_000.0
_RELATIVE = {"page": From.PAGE, "margin": From.MARGIN, "text": From.COLUMN, "char": From.COLUMN}
_SHARES = {"left": 0.0, "top": 0.0, "center": 0.5, "right": 1.0, "bottom": 1.0}

BlocksOf = Callable[[Element, str, Item | None], tuple[Block, ...]]


def vml_floats(holder: Element, part: Part, blocks_of: BlocksOf) -> Iterator[Float]:
    """Give what a w:pict or w:object shows."""
    for element in children(holder):
        name = local_name(element)
        if name == "group":
            style = _style(element)
            width, height = _length(style.get("width")), _length(style.get("height"))
            box = Box(0.0, 0.0, width, height)
            words = "grouped shapes of an old kind aren't painted yet"
            items: list[Item] = [Obstacle(box, IDENTITY, words)]
            for each in element.iter(tag("w:txbxContent")):
                items += boxed(blocks_of(each, "group", items[0]), box)[0]
            yield _float(style, width, height, tuple(items))
        elif name in SHAPES:
            yield _shape(element, part, blocks_of)


def _style(element: Element) -> dict[str, str]:
    entries = (entry.partition(":") for entry in element.get("style", "").split(";"))
    return {key.strip().lower(): value.strip() for key, _, value in entries if key.strip()}


def _length(text: str | None) -> float:
    match = _LENGTH.match(text or "")
    if match is None:
        return 0.0
    value = number(match.group(1)) * _UNITS.get(match.group(2), 1.0)
    return value if abs(value) < LARGEST else 0.0


def _shape(element: Element, part: Part, blocks_of: BlocksOf) -> Float:
    style = _style(element)
    width, height = _length(style.get("width")), _length(style.get("height"))
    box = Box(0.0, 0.0, width, height)
    name = element.get("id", "") or "box"
    items: list[Item] = []
    outline = ellipse(box) if local_name(element) == "oval" else rectangle(box)
    image = child(element, "v:imagedata")
    text_path = child(element, "v:textpath")
    if text_path is not None and text_path.get("string"):
        reason = f"the letters of a watermark, “{text_path.get('string')}”, lie behind it"
        items.append(Obstacle(box, IDENTITY, reason))
    elif image is not None:
        member = part.target_of(image.get(tag("r:id"), ""))
        if member:
            items.append(Picture(member, box, IDENTITY))
        else:
            items.append(Obstacle(box, IDENTITY, "a picture is missing from the file"))
    else:
        fill = fill_colour(element)
        stroke = _stroke(element)
        if isinstance(fill, str):
            items.append(Obstacle(box, IDENTITY, fill))
            items.append(Figure(outline, box, IDENTITY, None, stroke))
        elif fill is not None or stroke is not None:
            items.append(Figure(outline, box, IDENTITY, fill, stroke))
    text_box = child(element, "v:textbox")
    content = child(text_box, "w:txbxContent")
    if content is not None and text_box is not None:
        stated = (text_box.get("inset") or "").split(",")
        left, top, right, bottom = (
            _length(stated[place]) if place < len(stated) and stated[place].strip() else plain
            for place, plain in enumerate(_INSET)
        )
        inside = Box(left, top, max(1.0, width - left - right), max(1.0, height - top - bottom))
        below = items[-1] if items else None
        grows = "mso-fit-shape-to-text:t" in text_box.get("style", "")
        items += boxed(blocks_of(content, name, below), inside, grows=grows)[0]
    return _float(style, width, height, tuple(items))


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
    opacity = _fraction(details.get("opacity")) if details is not None else 1.0
    return colour.with_opacity(opacity)


def _stroke(element: Element) -> Stroke | None:
    if element.get("stroked", "t") in ("f", "false"):
        return None
    colour = _colour(element.get("strokecolor") or "black") or Colour(0, 0, 0)
    return Stroke(colour, max(0.25, _length(element.get("strokeweight", "0.75pt"))))


def _fraction(text: str | None) -> float:
    """Read a share: 0.5, 50% or 32768f, in 65536ths."""
    if not text:
        return 1.0
    if text.endswith("f"):
        value = number(text[:-1], 65536.0) / 65536
    elif text.endswith("%"):
        value = number(text[:-1], 100.0) / 100
    else:
        value = number(text, 1.0)
    return min(1.0, max(0.0, value))


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
