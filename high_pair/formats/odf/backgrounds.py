"""Backgrounds and borders of what flows: paragraphs, cells, rows, tables, sections, headers and
footers (ODF 1.3 Part 3 §20.182, §20.183, §20.209)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Protocol

from high_pair.formats.odf.fills import OdfFill, background_picture, fill_of
from high_pair.formats.odf.styles import Styles, attribute
from high_pair.formats.odf.units import colour, length, percent
from high_pair.formats.xml import Element, child, tag
from high_pair.scene.flow import Edges, Surface
from high_pair.scene.geometry import IDENTITY, Box, rectangle
from high_pair.scene.page import Item, Picture
from high_pair.scene.paint import BLACK, Stroke, colours_of

SIDES = ("left", "top", "right", "bottom")
WIDEST_PADDING = 100.0
_STROKES = {"dotted": (1.0, 1.0), "dashed": (4.0, 2.0)}
VARIES = "where in it a {} has which colour isn't known"


class PictureSource(Protocol):
    """What gives pictures; a `PageContext` does."""

    @property
    def bare_is_tenths(self) -> bool:
        """Whether bare angles count tenths of a degree."""

    @property
    def picture_name(self) -> Callable[[Element], str]:
        """Turns an image into the name of its bytes."""

    @property
    def picture_size(self) -> Callable[[str], tuple[float, float] | None]:
        """Gives a picture's own size in points."""


def surface_of(
    chain: Sequence[Element], kind: str, styles: Styles, source: PictureSource, address: str = ""
) -> Surface:
    """Give what a chain of styles paints behind by its properties of a kind, `paragraph` or the
    like, and round it. address: where its colour can be changed, if it has one."""
    edges = edges_of(chain, kind)
    for style in chain:
        own = child(style, f"style:{kind}-properties")
        if own is None:
            continue
        # What writers state of a fill in an extension counts beside the standard's colour.
        fill = own.get(tag("draw:fill"))
        pictured = background_picture(style, kind)
        if fill in ("gradient", "bitmap", "hatch"):
            unit = Box(0.0, 0.0, 1.0, 1.0)
            read = fill_of(chain, styles, unit, source.bare_is_tenths, kind)
            return _surface(read, fill, edges, source)
        if pictured is not None and fill is None:
            return _surface(pictured, "bitmap", edges, source)
        code = own.get(tag("fo:background-color"))
        if code is not None:
            opacity = 1.0 - percent(own.get(tag("style:background-transparency")), 0.0)
            stated = colour(code, opacity)
            return Surface(stated, address if stated is not None else "", edges)
    return Surface(edges=edges)


def _surface(read: OdfFill, kind: str, edges: Edges, source: PictureSource) -> Surface:
    """Give a surface of more than one colour; how large it is, its reader doesn't know yet."""
    if read.picture is None:
        shades = colours_of(read.fill) if read.fill is not None else read.shades
        return Surface(None, "", edges, read.trouble or VARIES.format(kind), shades)
    name = source.picture_name(read.picture)
    natural = source.picture_size(name) if name else None
    if not name or (read.repeat is not None and natural is None):
        return Surface(None, "", edges, "a picture is missing from the file")
    repeat = read.repeat

    def picture_in(box: Box) -> Item:
        shown = Picture(name, box, IDENTITY, opacity=read.opacity, clip=rectangle(box))
        if repeat is None or natural is None:
            return shown
        if not repeat.repeats:
            return replace(shown, box=repeat.single(natural, box))
        return replace(shown, tile=repeat.tile(natural))

    return Surface(None, "", edges, picture_in=picture_in)


def padding_of(chain: Sequence[Element], kind: str) -> tuple[float, float, float, float]:
    """Read the room between the sides and what is within: left, top, right, bottom, in points."""
    every = attribute(chain, kind, "fo:padding")
    left, top, right, bottom = (
        min(WIDEST_PADDING, max(0.0, length(attribute(chain, kind, f"fo:padding-{side}") or every)))
        for side in SIDES
    )
    return left, top, right, bottom


def edges_of(chain: Sequence[Element], kind: str) -> Edges:
    """Read borders (§20.183): width, style and colour, for all sides or each."""

    def stroke(side: str) -> Stroke | None:
        stated = attribute(chain, kind, f"fo:border-{side}") or attribute(chain, kind, "fo:border")
        if stated is None or stated.strip() in ("none", "hidden"):
            return None
        words = stated.split()
        width = next((w for word in words if (w := length(word))), 0.5)
        chosen = next((c for word in words if (c := colour(word)) is not None), BLACK)
        dashes = next((d for name, d in _STROKES.items() if name in words), ())
        return Stroke(chosen, min(12.0, max(0.25, width)), dashes)

    return Edges(stroke("top"), stroke("right"), stroke("bottom"), stroke("left"))
