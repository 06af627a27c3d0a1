"""Backgrounds and borders of what flows: paragraphs, cells, rows, tables, sections, headers and
footers (ODF 1.3 Part 3 §20.182, §20.183, §20.209)."""

from __future__ import annotations

from collections.abc import Sequence

from high_pair.formats.odf.styles import attribute
from high_pair.formats.odf.units import colour, length, percent
from high_pair.formats.xml import Element, child, tag
from high_pair.scene.flow import Edges, Surface
from high_pair.scene.paint import BLACK, Stroke

SIDES = ("left", "top", "right", "bottom")
WIDEST_PADDING = 100.0
_STROKES = {"dotted": (1.0, 1.0), "dashed": (4.0, 2.0)}
# What writers state of a fill in an extension beside the standard's colour and picture.
_FILLS = {
    "gradient": "a gradient behind it isn't painted yet",
    "bitmap": "a picture behind it isn't painted yet",
    "hatch": "a hatch behind it isn't painted yet",
}


def surface_of(chain: Sequence[Element], kind: str, address: str = "") -> Surface:
    """Give what a chain of styles paints behind by its properties of a kind, `paragraph` or the
    like, and round it. address: where its colour can be changed, if it has one."""
    edges = edges_of(chain, kind)
    for style in chain:
        own = child(style, f"style:{kind}-properties")
        if own is None:
            continue
        fill = own.get(tag("draw:fill"))
        image = child(own, "style:background-image")
        pictured = image is not None and (image.get(tag("xlink:href")) or len(image))
        if fill in _FILLS or (pictured and fill is None):
            return Surface(None, "", edges, _FILLS[fill or "bitmap"])
        code = own.get(tag("fo:background-color"))
        if code is not None:
            opacity = 1.0 - percent(own.get(tag("style:background-transparency")), 0.0)
            stated = colour(code, opacity)
            return Surface(stated, address if stated is not None else "", edges)
    return Surface(edges=edges)


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
