"""Data bars: how far one reaches across its cell, and whether that is behind the text.

Source: ECMA-376 Part 1 §18.3.1.28 (dataBar), and the extension of it that later writers add, which
states whether bars fade, and an axis from which those of negative numbers go the other way.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum, auto

import numpy as np
from numpy.typing import NDArray

from high_pair.scene.paint import Colour

Floats = NDArray[np.float64]
Span = tuple[float, float]
# Programs leave a little room between a bar and its cell's sides: as a share of the cell.
SLACK = 0.03


class Axis(Enum):
    """Where bars begin: at the cell's side, where zero is, in the middle, or nobody says."""

    SIDE = auto()
    ZERO = auto()
    MIDDLE = auto()
    UNSTATED = auto()


class Standing(Enum):
    """How a text stands to a bar; UNSURE where its width or the bar's isn't known so exactly."""

    BESIDE = auto()
    WITHIN = auto()
    ACROSS = auto()
    UNSURE = auto()


@dataclass(frozen=True)
class Bar:
    """A data bar. negative: its colour for numbers below zero; shortest, longest: the shares of
    the cell's width that the least and the greatest number have, for each way in which programs
    reckon; fades: towards the cell's own fill."""

    colour: Colour
    negative: Colour
    lengths: tuple[Span, ...] = ((0.1, 0.9), (0.0, 1.0))
    fades: bool = True
    axis: Axis = Axis.UNSTATED
    from_right: bool = False

    def colour_for(self, value: float) -> Colour:
        """Give the colour of a number's bar."""
        return self.negative if value < 0 and self.axis is not Axis.SIDE else self.colour


def reach(bar: Bar, value: float, low: float, high: float) -> tuple[Span, Span] | None:
    """Give from where to where a number's bar surely reaches, and where it may, in shares of the
    cell; None where nobody knows.

    low, high: the numbers of the shortest and the longest bar.
    """
    if bar.axis is Axis.UNSTATED and min(low, value) < 0:
        return None
    if high <= low:
        return None
    own = min(high, max(low, value))
    if bar.axis in (Axis.ZERO, Axis.MIDDLE) and low < 0:
        zero = 0.5 if bar.axis is Axis.MIDDLE else min(1.0, -low / (high - low))
        room = zero if own < 0 else 1 - zero
        most = -low if own < 0 else high
        if bar.axis is Axis.MIDDLE:
            most = max(-low, high)
        share = abs(own) / most * room if most > 0 else 0.0
        spans = [(zero - share, zero) if own < 0 else (zero, zero + share)]
    else:
        part = (own - low) / (high - low)
        spans = [(0.0, least + part * (most - least)) for least, most in bar.lengths]
    if bar.from_right:
        spans = [(1 - end, 1 - start) for start, end in spans]
    start, end = max(span[0] for span in spans), min(span[1] for span in spans)
    # What room is left at a cell's sides has no text in it.
    surely = start + SLACK if start > 0 else 0.0, end - SLACK if end < 1 else 1.0
    maybe = min(span[0] for span in spans) - SLACK, max(span[1] for span in spans) + SLACK
    return surely, maybe


def standing(text: tuple[Span, Span], bar: tuple[Span, Span] | None) -> Standing:
    """Tell how a text stands to a bar: each by where it surely is and where it may be."""
    if bar is None:
        return Standing.UNSURE
    (text_surely, text_maybe), (bar_surely, bar_maybe) = text, bar
    empty = bar_maybe[1] - bar_maybe[0] <= 2 * SLACK
    if empty or text_maybe[1] < bar_maybe[0] or text_maybe[0] > bar_maybe[1]:
        return Standing.BESIDE
    if bar_surely[0] <= text_maybe[0] and text_maybe[1] <= bar_surely[1]:
        return Standing.WITHIN
    meets = text_surely[0] < bar_surely[1] and text_surely[1] > bar_surely[0]
    leaves = text_surely[0] < bar_maybe[0] or text_surely[1] > bar_maybe[1]
    return Standing.ACROSS if meets and leaves else Standing.UNSURE
