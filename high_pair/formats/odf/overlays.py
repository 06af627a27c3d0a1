"""Overlays as shapes of a slide or a master: written, found again, taken off.

They are known by their names, which programs keep, so that an overlay is
changed instead of stacked, and isn't counted among the shapes that addresses
number.
Source: ODF 1.3 Part 3 §10.3.2 (draw:rect), §16.40.7 (draw:opacity), §20.119.
"""

from __future__ import annotations

import math
import re

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.errors import EditError
from high_pair.formats.odf.derived import automatic_styles, restyle_shape
from high_pair.formats.odf.units import written
from high_pair.formats.xml import Element, child, children, local_name, tag
from high_pair.scene.addresses import Address, Step, address_below
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, OverlayKind
from high_pair.scene.soft_edge import REACH

OVER_A_PICTURE = " over a picture"
NAME = re.compile(rf"^(Plate|Soft plate|Veil|Ramp|Dim)({OVER_A_PICTURE})? \(overlay \d+\)$")
# As what they are written.
FORMS = ("rect", "custom-shape")
STYLE_NAME = "HighPairOverlay"
STRAIGHT = (0.0, 90.0, 180.0, 270.0)


def is_overlay(shape: Element) -> bool:
    """Tell whether a shape is an overlay."""
    return local_name(shape) in FORMS and bool(NAME.match(shape.get(tag("draw:name"), "")))


def overlay_address(address: str) -> str | None:
    """Give the address of the overlay below the text at an address; None where none can go."""
    found = Address.of(address)
    names = tuple(step.name for step in found.steps[:2])
    if names not in (("page", "shape"), ("master", "shape")):
        return None
    return str(Address(found.member, (*found.steps[:2], Step("overlay", "1"))))


def above_address(address: str) -> str | None:
    """Give the address of an overlay right above a master's picture; None for any other place."""
    names = tuple(step.name for step in Address.of(address).steps)
    return address_below(address, above=1) if names == ("master", "shape") else None


def _before(shape: Element, dim: bool = False) -> Element | None:
    """Give the overlay of a text that stands before it, or the ground of a dimmed picture."""
    previous = shape.getprevious()
    if previous is None or not is_overlay(previous):
        return None
    name = previous.get(tag("draw:name"), "")
    if OVER_A_PICTURE in name:
        return None
    return previous if name.startswith("Dim ") == dim else None


def _above(picture: Element) -> Element | None:
    """Give the overlay that stands right above a picture, for all pages that show it."""
    following = picture.getnext()
    if following is None or not is_overlay(following):
        return None
    return following if OVER_A_PICTURE in following.get(tag("draw:name"), "") else None


def lay(
    overlay: Overlay, shape: Element, root: Element, styles: Element, above: bool = False
) -> None:
    """Write an overlay below a shape, or right above it, or change the one that is there.

    root: of the member that the shape is in; styles: of the one that holds the
    common styles. Raises EditError for what this format can't hold.
    """
    dim = overlay.kind is OverlayKind.DIM
    old = _above(shape) if above else _before(shape, dim)
    if old is not None:
        _remove(old)
    if overlay.bound and not above:
        fill = {"draw:fill": "solid", "draw:fill-color": hex_of(overlay.levels).lower()}
        opacity = {"draw:opacity": f"{overlay.percent}%", "draw:opacity-name": None}
        restyle_shape(shape, root, fill | opacity)
        return
    if dim:
        # The picture's own opacity (§20.119); its style stays as it was for all others.
        restyle_shape(shape, root, {"draw:image-opacity": f"{100 - overlay.percent}%"})
    box, share = overlay.box, 1.0
    opacity_name = ""
    if overlay.kind is OverlayKind.RAMP:
        if abs(overlay.middle - 0.5) > 1e-6:
            raise EditError("OpenDocument's ramps fade evenly to nothing.")
        if overlay.towards in STRAIGHT:
            # Past its end there is nothing: the box ends there.
            box, share = _first_part(overlay), overlay.full / overlay.none
        else:
            share = overlay.full
        opacity_name = _opacity(overlay, share, styles)
    style = _style(overlay, opacity_name, root)
    soft = overlay.kind is OverlayKind.SOFT_PLATE
    rect = etree.Element(tag("draw:custom-shape" if soft else "draw:rect"))
    if soft:
        # Writers soften the edges of these alone (§10.6.2).
        etree.SubElement(
            rect,
            tag("draw:enhanced-geometry"),
            {
                tag("svg:viewBox"): "0 0 21600 21600",
                tag("draw:type"): "rectangle",
                tag("draw:enhanced-path"): "M 0 0 L 21600 0 21600 21600 0 21600 0 0 Z N",
            },
        )
    written_so_far = root.iter(*(tag(f"draw:{form}") for form in FORMS))
    number = 1 + sum(is_overlay(each) for each in written_so_far)
    where = OVER_A_PICTURE if above else ""
    rect.set(tag("draw:name"), f"{overlay.kind.value.capitalize()}{where} (overlay {number})")
    rect.set(tag("draw:style-name"), style)
    for name, value in (_place_of(shape) if dim else _placed(overlay, box)).items():
        rect.set(tag(name), value)
    if overlay.kind is OverlayKind.PLATE and overlay.rounding > 0:
        rect.set(tag("draw:corner-radius"), written(overlay.rounding))
    rect.set(tag("loext:decorative"), "true")
    (shape.addnext if above else shape.addprevious)(rect)


def take_off(shape: Element, root: Element, dim: bool = False, above: bool = False) -> None:
    """Take the overlay below a shape, or above it, away, or undim a picture; if there is any."""
    old = _above(shape) if above else _before(shape, dim)
    if old is not None:
        _remove(old)
        if dim:
            restyle_shape(shape, root, {"draw:image-opacity": None})


def _remove(element: Element) -> None:
    parent = element.getparent()
    if parent is not None:
        parent.remove(element)


_PLACE = ("svg:x", "svg:y", "svg:width", "svg:height", "draw:transform")


def _place_of(shape: Element) -> dict[str, str]:
    """Give where a picture is, turned as it is."""
    return {name: shape.get(tag(name), "") for name in _PLACE if shape.get(tag(name)) is not None}


def _placed(overlay: Overlay, box: Box) -> dict[str, str]:
    """Give where an overlay's box is; that of a turned one is led to there from the page's corner.

    Source: ODF 1.3 Part 3 §19.228 (draw:transform).
    """
    sides = {"svg:width": written(box.width), "svg:height": written(box.height)}
    if not overlay.turn:
        return sides | {"svg:x": written(box.x), "svg:y": written(box.y)}
    x, y = overlay.to_page.apply(box.x, box.y)
    # In radians, against the clock.
    turn = f"rotate ({-math.radians(overlay.turn):.6f})"
    return sides | {"draw:transform": f"{turn} translate ({written(x)} {written(y)})"}


def _first_part(ramp: Overlay) -> Box:
    """Give the part of a ramp's box in which anything of it is left."""
    box = ramp.box
    wide, high = box.width * ramp.none, box.height * ramp.none
    return {
        0.0: Box(box.x, box.y, wide, box.height),
        180.0: Box(box.right - wide, box.y, wide, box.height),
        90.0: Box(box.x, box.y, box.width, high),
        270.0: Box(box.x, box.bottom - high, box.width, high),
    }[ramp.towards]


def _free(holder: Element, attribute: str, prefix: str) -> str:
    taken = {each.get(attribute) for each in children(holder)}
    count = 1
    while f"{prefix}{count}" in taken:
        count += 1
    return f"{prefix}{count}"


def _opacity(overlay: Overlay, border: float, styles: Element) -> str:
    """Define a ramp's transparency gradient among the common styles; gives its name."""
    holder = child(styles, "office:styles")
    if holder is None:
        raise EditError("the file has no common styles, in which a ramp's fading would be defined.")
    name = _free(holder, tag("draw:name"), STYLE_NAME)
    element = etree.Element(tag("draw:opacity"))
    element.set(tag("draw:name"), name)
    element.set(tag("draw:style"), "linear")
    element.set(tag("draw:start"), f"{overlay.percent}%")
    element.set(tag("draw:end"), "0%")
    # §19.218: a linear gradient runs from the top down at 0°, turned against the clock.
    angle = (90.0 - overlay.towards) % 360
    element.set(tag("draw:angle"), f"{angle:.3f}deg" if angle else "0")
    element.set(tag("draw:border"), f"{border * 100:.2f}%")
    if overlay.towards not in STRAIGHT:
        # Where the fading ends before the far corner is an extension; programs that don't know it
        # fade to that corner.
        end = (overlay.none - overlay.full) / max(1e-6, 1.0 - overlay.full)
        for place, percent in ((0.0, overlay.percent), (end, 0), (1.0, 0)):
            stop = etree.SubElement(element, tag("loext:opacity-stop"))
            stop.set(tag("svg:offset"), f"{place:.4f}")
            stop.set(tag("svg:stop-opacity"), f"{percent / 100:.2f}")
    # Named fills and opacities stand before the styles that use them.
    holder.insert(0, element)
    return name


def _style(overlay: Overlay, opacity_name: str, root: Element) -> str:
    holder = automatic_styles(root)
    name = _free(holder, tag("style:name"), STYLE_NAME)
    style = etree.SubElement(holder, tag("style:style"))
    style.set(tag("style:name"), name)
    style.set(tag("style:family"), "graphic")
    properties = etree.SubElement(style, tag("style:graphic-properties"))
    properties.set(tag("draw:stroke"), "none")
    properties.set(tag("draw:fill"), "solid")
    properties.set(tag("draw:fill-color"), hex_of(overlay.levels).lower())
    properties.set(tag("draw:shadow"), "hidden")
    if opacity_name:
        properties.set(tag("draw:opacity-name"), opacity_name)
    else:
        if overlay.kind is OverlayKind.SOFT_PLATE:
            # An extension: programs that don't know it show a plain plate, as strong.
            properties.set(tag("loext:softedge-radius"), written(overlay.feather / REACH))
        percent = 100 if overlay.kind is OverlayKind.DIM else overlay.percent
        properties.set(tag("draw:opacity"), f"{percent}%")
    return name
