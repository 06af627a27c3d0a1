"""Frames: paragraphs at a place of their own, and letters that hang over several lines.

Source: ECMA-376 Part 1 §17.3.1.11 (framePr).
"""

from __future__ import annotations

from collections.abc import Sequence

from high_pair.formats.documents.paragraphs import TWENTIETHS
from high_pair.formats.xml import Element, child, number
from high_pair.raster.layout import width_of
from high_pair.raster.pieces import boxed
from high_pair.scene.flow import Float, FlowParagraph, From, Offset, Wrap
from high_pair.scene.geometry import Box

# Each by its name and value.
Stated = tuple[tuple[str, str], ...]
_ACROSS = {"text": From.COLUMN, "margin": From.MARGIN, "page": From.PAGE}
_DOWN = {"text": From.PARAGRAPH, "margin": From.MARGIN, "page": From.PAGE}
_SHARES = {
    "left": 0.0, "inside": 0.0, "top": 0.0, "center": 0.5, "right": 1.0, "outside": 1.0,
    "bottom": 1.0,
}  # fmt: skip
_WRAPS = {"none": Wrap.BELOW, "notBeside": Wrap.BELOW}
# A frame that states no width is as wide as its words, but no wider than a page.
WIDEST = 450.0
LARGEST = 1584.0


def frame_of(properties: Sequence[Element]) -> Stated:
    """Give what a paragraph's nearest statement says of its frame; empty for none.

    Paragraphs beside each other that say the same are in one frame.
    """
    found = next((e for p in properties if (e := child(p, "w:framePr")) is not None), None)
    if found is None:
        return ()
    return tuple(
        sorted((str(key).rpartition("}")[2], str(value)) for key, value in found.attrib.items())
    )


def framed(stated: Stated, blocks: Sequence[FlowParagraph]) -> Float:
    """Give a frame's paragraphs as what floats beside the paragraph that follows."""
    said = dict(stated)
    drops = said.get("dropCap", "none") in ("drop", "margin")
    width = _points(said.get("w"))
    if width <= 0:
        lines = [width_of([(run, run.text) for run in block.paragraph.runs]) for block in blocks]
        width = min(WIDEST, max([1.0, *lines]) + 2.0)
    height = _points(said.get("h"))
    items, filled = boxed(blocks, Box(0.0, 0.0, width, max(height, 1.0)), grows=True)
    if said.get("hRule") != "exact":
        height = max(height, filled)
    across = _offset(said, "x", _ACROSS.get(said.get("hAnchor", "text"), From.COLUMN))
    down = _offset(said, "y", _DOWN.get(said.get("vAnchor", "text"), From.PARAGRAPH))
    if drops:
        left = -width if said["dropCap"] == "margin" else 0.0
        across, down = Offset(From.COLUMN, left), Offset(From.PARAGRAPH)
    wrap = Wrap.BESIDE if drops else _WRAPS.get(said.get("wrap", "around"), Wrap.BESIDE)
    return Float(width, height, tuple(items), across=across, down=down, wrap=wrap)


def _offset(said: dict[str, str], axis: str, origin: From) -> Offset:
    aligned = said.get(f"{axis}Align", "")
    if aligned in _SHARES:
        return Offset(origin, share=_SHARES[aligned])
    points = number(said.get(axis)) / TWENTIETHS
    return Offset(origin, points if abs(points) < LARGEST else 0.0)


def _points(text: str | None) -> float:
    return min(LARGEST, max(0.0, number(text) / TWENTIETHS))
