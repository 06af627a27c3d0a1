"""What a search among a set's colours goes through: their candidates, and what is found."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from high_pair.colour.ratio import FLARE
from high_pair.colour.srgb import Bytes, Floats, relative_luminance
from high_pair.scene.colour_set import SetPair

# Seconds for each part of a search, at least.
LEAST_SECONDS = 0.5
# A pair that is given up weighs as the squares of so much that moves, for each of its places.
GIVEN_UP = 1e5
# Sets of more colours are kept apart a colour at a time, and not by a program.
MOST_EXACT = 16
# A ratio that is less than what is asked by a smaller share than this is that, but for rounding.
ROUNDING = 1e-12


@dataclass(frozen=True)
class Node:
    """A colour that moves by itself, and all that is derived from it.

    names: its own first; levels: for each of those its candidates, uint8 (k, 3), from dark to
    light by the colour's own; cost: of each candidate, (k,); now: the place of what it is.
    """

    names: tuple[str, ...]
    levels: dict[str, Bytes]
    cost: Floats
    now: int

    @property
    def count(self) -> int:
        """How many candidates it has."""
        return len(self.cost)


@dataclass(frozen=True)
class Found:
    """What a program came to: each node's candidate; of each pair 1 where its text is the lighter
    one, and whether it is given up."""

    chosen: list[int]
    order: list[int]
    given: list[bool]


class Clock:
    """Says how many seconds are left of those for a search."""

    def __init__(self, seconds: float) -> None:
        self._end = time.monotonic() + seconds

    def left(self, share: float = 1.0) -> float:
        """Give a share of what is left, at least a little."""
        return max(LEAST_SECONDS, share * (self._end - time.monotonic()))

    @property
    def is_over(self) -> bool:
        """Whether the time is up."""
        return time.monotonic() > self._end


def luminances(levels: Bytes) -> Floats:
    """Give the luminances of 8-bit colours, raised by the flare of the ratio's formula."""
    return np.asarray(relative_luminance(levels) + FLARE)


def ratios(one: Floats | float, other: Floats | float) -> Floats:
    """Give the ratios of raised luminances."""
    return np.asarray(np.maximum(one, other) / np.minimum(one, other))


def total(nodes: Sequence[Node], chosen: Sequence[int]) -> float:
    """Give what candidates of all nodes cost together."""
    return sum(float(node.cost[place]) for node, place in zip(nodes, chosen, strict=True))


def as_found(nodes: Sequence[Node], pairs: Sequence[SetPair], chosen: Sequence[int]) -> Found:
    """Read off candidates which colour of each pair is the lighter one, and which pairs fail."""
    at = {
        name: float(luminances(node.levels[name][place]))
        for node, place in zip(nodes, chosen, strict=True)
        for name in node.names
    }
    order = [int(at[pair.text] > at[pair.backdrop]) for pair in pairs]
    given = [
        bool(ratios(at[pair.text], at[pair.backdrop]) < pair.required * (1 - ROUNDING))
        for pair in pairs
    ]
    return Found(list(chosen), order, given)
