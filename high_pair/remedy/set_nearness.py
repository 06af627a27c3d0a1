"""How near any two colours of a set may come."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.srgb import Bytes, from_bytes
from high_pair.colour.vision import Eyes, apart
from high_pair.remedy.set_candidates import Node
from high_pair.scene.colour_set import ColourSet

# ΔE2000 by which rounding may bring two colours nearer.
TOLERANCE = 0.05


class Nearness:
    """How near any two colours of a set may come, for four kinds of eyes.

    What is derived is a shade of its parent, and isn't told apart from others by itself.
    """

    def __init__(self, colours: ColourSet, floor: float) -> None:
        own = [colour for colour in colours.colours if not colour.parent]
        self.names = [colour.name for colour in own]
        levels = [colour.levels for colour in own]
        before = from_bytes(np.array(levels, np.uint8).reshape(-1, 3))
        self.least = {eyes: np.minimum(apart(eyes, before), floor) - TOLERANCE for eyes in Eyes}

    def _levels(self, nodes: Sequence[Node], chosen: Sequence[int]) -> Bytes:
        at = {
            name: node.levels[name][place]
            for node, place in zip(nodes, chosen, strict=True)
            for name in node.names
        }
        return np.array([at[name] for name in self.names], np.uint8).reshape(-1, 3)

    def too_near(self, nodes: Sequence[Node], chosen: Sequence[int]) -> list[tuple[str, str]]:
        """List the colours that have come too near."""
        now = from_bytes(self._levels(nodes, chosen))
        near = np.zeros((len(now), len(now)), bool)
        for eyes in Eyes:
            near |= apart(eyes, now) < self.least[eyes]
        return [
            (self.names[one], self.names[other])
            for one, other in zip(*np.nonzero(np.triu(near, 1)), strict=True)
        ]

    def ranges(
        self, nodes: Sequence[Node], one: str, other: str
    ) -> list[tuple[tuple[int, int, int], ...]]:
        """List all ranges of candidates, of one node or two, in which two colours are too near."""
        where = {name: place for place, node in enumerate(nodes) for name in node.names}
        first, second = where[one], where[other]
        near = self._near(nodes[first].levels[one], nodes[second].levels[other], one, other)
        if first == second:
            return [((first, int(at), int(at)),) for at in np.flatnonzero(np.diag(near))]
        found: list[tuple[tuple[int, int, int], ...]] = []
        # Runs along a row, which go on through the rows below as long as those have the same.
        going: dict[tuple[int, int], int] = {}
        for row in range(len(near) + 1):
            runs = set(_runs(near[row])) if row < len(near) else set()
            for run in [run for run in going if run not in runs]:
                found.append(((first, going.pop(run), row - 1), (second, *run)))
            for run in runs:
                going.setdefault(run, row)
        return found

    def _near(self, these: Bytes, those: Bytes, one: str, other: str) -> NDArray[np.bool_]:
        places = self.names.index(one), self.names.index(other)
        both = from_bytes(np.concatenate([these, those]))
        near = np.zeros((len(these), len(those)), bool)
        for eyes in Eyes:
            near |= apart(eyes, both)[: len(these), len(these) :] < self.least[eyes][places]
        return near


def _runs(marks: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """List the first and the last place of each run of marks."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], marks, [False]]).astype(np.int8)))
    return [(int(start), int(stop) - 1) for start, stop in edges.reshape(-1, 2)]
