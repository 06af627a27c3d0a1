"""Fills of which nobody can tell where they show which of their colours."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from high_pair.scene.geometry import Affine, Box, Outline
from high_pair.scene.page import Figure, Item, Obstacle
from high_pair.scene.paint import Colour


def unsure_fill(
    outline: Outline, box: Box, transform: Affine, shades: Sequence[Colour], reason: str
) -> Iterator[Item]:
    """Give the items of a fill that can't be painted.

    shades: the colours between which every place's lies, from one to the next; none where nobody
    knows them; reason: why it can't.
    """
    figures = [Figure(outline, box, transform, shade, holes=True) for shade in shades]
    shows = tuple((figure,) for figure in figures)
    if all(shade.opacity >= 1 for shade in shades[1:]):
        # Each hides the first.
        yield from figures[:1]
        yield Obstacle(box, transform, reason, shows[1:])
    else:
        yield from (replace(figure, guess=True) for figure in figures[:1])
        yield Obstacle(box, transform, reason, shows)
