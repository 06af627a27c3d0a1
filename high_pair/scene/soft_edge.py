"""Soft edges: a surface that fades towards its edge, about as programs paint it.

How it fades differs from program to program, so text over the edge has a verdict only where
it is the same for every strength; the middle has its full strength in all. The fade begins
at the edge, is half way after the radius, and is over after REACH of them.
Source: ECMA-376 Part 1 §20.1.8.53 (softEdge), which names a radius and no curve;
measured in what other programs print.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from high_pair.scene.geometry import Affine, Box, Outline, mapped, moved, scaled
from high_pair.scene.page import Figure, Obstacle, Picture

# Radii after which nothing of the fade is left.
REACH = 2.0
# The standard deviation of the blur, in radii.
BLUR = 0.5
# Points by which a corner may lie elsewhere and be the same.
NEAR = 0.01
REASON = "a soft edge is painted differently by every program"


def faded(item: Figure | Picture, radius: float) -> Figure | Picture:
    """Let an item fade towards its edge; it is no more than a guess where it fades.

    radius: in points, before its transform.
    """
    if isinstance(item, Figure) and item.fill is not None and item.stroke is None:
        return _softened(item, radius)
    return replace(item, guess=True)


def _softened(figure: Figure, radius: float) -> Figure:
    """Let a figure's fill fade."""
    box = figure.box
    across = max(0.0, 1 - 2 * radius / max(box.width, 1e-6))
    down = max(0.0, 1 - 2 * radius / max(box.height, 1e-6))
    x, y = box.centre
    inset = moved(x, y).after(scaled(across, down)).after(moved(-x, -y))
    clip = figure.clip or figure.outline
    inner = mapped(figure.outline, inset)
    return replace(figure, outline=inner, blur=BLUR * radius, clip=clip, guess=True)


def uncertain(
    box: Box,
    transform: Affine,
    outline: Outline | None,
    radius: float,
    shows: tuple[Figure | Picture, ...] = (),
) -> Iterator[Obstacle]:
    """Give the places where it fades: along the edge of a box, and all of any other outline.

    shows: what fades there, with its edges hard.
    """
    reach = REACH * radius
    all_of_it = (shows,) if shows else ()
    if not _is_all_of(outline, box) or 2 * reach >= min(box.width, box.height):
        yield Obstacle(box, transform, REASON, all_of_it)
        return
    for strip in (
        Box(box.x, box.y, box.width, reach),
        Box(box.x, box.bottom - reach, box.width, reach),
        Box(box.x, box.y, reach, box.height),
        Box(box.right - reach, box.y, reach, box.height),
    ):
        yield Obstacle(strip, transform, REASON, all_of_it)


def _is_all_of(outline: Outline | None, box: Box) -> bool:
    """Tell whether an outline goes round a box from corner to corner, however it is written."""
    corners = [(x, y) for y in (box.y, box.bottom) for x in (box.x, box.right)]
    met = []
    for step in outline or ():
        if step.kind == "C":
            return False
        if step.points:
            near = [
                place
                for place, corner in enumerate(corners)
                if max(abs(corner[0] - step.points[0]), abs(corner[1] - step.points[1])) < NEAR
            ]
            if not near:
                return False
            met.append(near[0])
    return set(met) == {0, 1, 2, 3} and all(one + other != 3 for one, other in pairwise(met))
