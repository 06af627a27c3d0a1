"""What a shape's fill and line paint in its outline, with its shadow."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from high_pair.formats.drawing.effects import CastShadow
from high_pair.formats.drawing.fills import NOTHING, Fill
from high_pair.formats.drawing.geometry import Geometry
from high_pair.formats.drawing.lines import Line, head_figures
from high_pair.formats.drawing.surfaces import (
    picture_items,
    picture_shadow_of,
    shaded_faces,
    shadow_of,
)
from high_pair.formats.drawing.surround import Placed
from high_pair.formats.parts import Part
from high_pair.scene.geometry import Outline, ellipse, rectangle
from high_pair.scene.page import Figure, Item, Obstacle
from high_pair.scene.paint import Fill as SceneFill
from high_pair.scene.paint import Stroke
from high_pair.scene.unsure import some_form, unsure_fill

COMPOUND = "the measures of a line that is made of several aren't stated"


def surface_items(
    part: Part,
    placed: Placed,
    fill: Fill,
    line: Line | None,
    geometry: Geometry,
    cast: CastShadow | None = None,
) -> Iterator[Item]:
    """Give what a shape paints but for its text, lowest first.

    part: by whose relationships a picture is found; cast: its shadow.
    """
    outline = geometry.filled
    drawn = line.stroke(placed.box, placed.transform) if line is not None else None
    if outline is None:
        if fill != NOTHING or line is not None:
            reason = f"the outline “{geometry.name}” isn't painted yet"
            fills = _fills_of_form(fill, drawn)
            yield from some_form(placed.box, placed.transform, fills, reason)
        return
    stroke = drawn if isinstance(drawn, Stroke) else None
    lined = geometry.lined or outline
    painted = fill.for_shape(
        placed.box,
        placed.transform,
        round_shape=outline == ellipse(placed.box),
        plain=outline == rectangle(placed.box),
    )
    if cast is not None and fill.picture is not None:
        yield from picture_shadow_of(cast, fill.picture, part, placed, outline)
    elif cast is not None and (fill != NOTHING or line is not None):
        known = None if isinstance(painted, str) else painted
        yield shadow_of(cast, lined, placed, known, stroke)
    if fill.picture is not None:
        yield from picture_items(fill.picture, part, placed, outline)
        painted = None
    if isinstance(painted, str):
        own = (outline, placed.box, placed.transform)
        yield from unsure_fill(*own, fill.possible, painted)
        painted = None
    whole = not geometry.faces and geometry.lined is None
    if whole and line is not None and not line.compound:
        # A fill and a line of one outline are one figure.
        if painted is not None or stroke is not None:
            yield Figure(outline, placed.box, placed.transform, painted, stroke)
    else:
        yield from _filled(placed, outline, geometry, painted)
        if fill != NOTHING:
            yield from shaded_faces(geometry.faces, placed)
        if line is not None and stroke is not None:
            yield from _lined(placed, lined, stroke, line.compound)
    if line is not None and stroke is not None:
        yield from head_figures(line, stroke, lined, placed.box, placed.transform)
    if isinstance(drawn, str):
        yield Obstacle(placed.box, placed.transform, drawn)


def _filled(
    placed: Placed, outline: Outline, geometry: Geometry, painted: SceneFill | None
) -> Iterator[Figure]:
    if painted is not None:
        for each in [face.outline for face in geometry.faces] or [outline]:
            yield Figure(each, placed.box, placed.transform, painted)


def _lined(placed: Placed, outline: Outline, stroke: Stroke, compound: bool) -> Iterator[Item]:
    line = Figure(outline, placed.box, placed.transform, None, stroke)
    yield replace(line, guess=compound)
    if compound:
        reach = placed.box.grown(stroke.width)
        yield Obstacle(reach, placed.transform, COMPOUND, ((line,),))


def _fills_of_form(fill: Fill, drawn: Stroke | str | None) -> list[SceneFill | str]:
    """List what a shape of unknown form may show: its line's fill and its own; words if unknown."""
    found: list[SceneFill | str] = []
    if drawn is not None:
        found.append(drawn.fill if isinstance(drawn, Stroke) else drawn)
    if fill != NOTHING:
        found.append(fill.colour or fill.trouble or "varied")
    return found
