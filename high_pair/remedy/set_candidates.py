"""What a search among a set's colours goes through: their candidates, and what is found."""

from __future__ import annotations

import time
from dataclasses import dataclass

import numpy as np

from high_pair.colour.ratio import FLARE
from high_pair.colour.srgb import Bytes, Floats, relative_luminance

# Seconds for each part of a search, at least.
LEAST_SECONDS = 0.5
# A pair that is given up weighs as the squares of so much that moves, for each of its places.
GIVEN_UP = 1e5
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
