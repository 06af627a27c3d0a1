"""Fills of which nobody can tell where they show which of their colours."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from high_pair.scene.geometry import Affine, Box, Outline, rectangle
from high_pair.scene.page import Figure, Item, Obstacle
from high_pair.scene.paint import Colour, Fill

# How strongly what may be there is shown, where nobody knows its form.
FAINT = 0.35


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


def some_form(
    box: Box, transform: Affine, fills: Sequence[Fill | str], reason: str
) -> Iterator[Item]:
    """Give the items of a shape of unknown form, which may show at any place of its box.

    fills: of its line and of its surface, of which either may be missing at a place; words for one
    that isn't known; reason: why the form isn't.
    """
    colours = [fill for fill in fills if isinstance(fill, Colour)]
    if len(colours) < len(fills):
        yield Obstacle(box, transform, reason)
        return
    figures = [Figure(rectangle(box), box, transform, colour) for colour in colours]
    if colours:
        faint = colours[-1].with_opacity(FAINT * colours[-1].opacity)
        yield replace(figures[-1], fill=faint, guess=True)
    yield Obstacle(box, transform, reason, tuple((figure,) for figure in figures))
