"""What a text is like from a seat: advice, beside the verdicts of the standard."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from high_pair.colour.ratio import FLARE, contrast_ratio
from high_pair.colour.sight import (
    angle_of,
    distance_for,
    least_angle,
    michelson,
    ratio_there,
    reserve_of,
)
from high_pair.colour.srgb import Floats, bytes_of, from_bytes, relative_luminance
from high_pair.colour.vision import Eyes, apart, seen_with
from high_pair.measure.pairs import Numbers, Pair
from high_pair.scene.seat import Seat
from high_pair.wcag.criteria import Subject


class Reading(StrEnum):
    """Whether a text reads from a seat."""

    READS = "reads"
    FALLS_SHORT = "falls_short"
    NEEDS_EYES = "needs_eyes"


@dataclass(frozen=True)
class SeatNumbers:
    """What a text is like from a seat, or a link beside the text around it.

    angle: of its x-height there, arc minutes; ratio: under the light there; reserve: its contrast
    over the least that is seen of letters so small; reach: the greatest distance, in
    metres, at which angle and reserve are what is needed; unrest: of what is behind it, over the
    text's own contrast; busy: more of it than the seat calls calm; vision: the ratio that three
    kinds of eyes have, without the light there; apart: of a link, which has no angle, reserve
    and reach, how far these eyes have it from the text around it, ΔE2000.
    """

    angle: float
    ratio: float
    reserve: float
    reach: float
    unrest: float
    vision: Mapping[Eyes, float]
    reading: Reading
    busy: bool = False
    apart: Mapping[Eyes, float] = field(default_factory=dict)

    @property
    def advised(self) -> bool:
        """Whether something is to be said of it: it doesn't read, or what is behind it is busy."""
        return self.reading is Reading.FALLS_SHORT or (self.busy and self.reading is Reading.READS)


def seat_numbers(
    pair: Pair, seat: Seat, page: tuple[float, float], whole: bool
) -> SeatNumbers | None:
    """Work out what a text, or a link, is like from a seat; None of what is neither.

    page: its width and height in points; whole: it is looked at all at once. A text that
    couldn't be measured, or whose size isn't known, needs eyes there too.
    """
    numbers = pair.numbers
    if pair.subject is Subject.LINK and numbers is not None:
        return _link_numbers(numbers, pair.required, seat)
    if pair.subject is not Subject.TEXT:
        return None
    if numbers is None or pair.size <= 0:
        nothing = math.nan
        return SeatNumbers(nothing, nothing, nothing, nothing, nothing, {}, Reading.NEEDS_EYES)
    height = pair.x_height * pair.size * seat.metres_a_point(*page, whole)
    ratio = _ratio(numbers, seat)
    contrast = float(michelson(ratio))
    angle = float(angle_of(height, seat.distance))
    reserve = float(reserve_of(contrast, angle, seat.acuity, seat.loss))
    needs = seat.needs
    needed = max(needs.angle, least_angle(contrast, needs.reserve, seat.acuity, seat.loss))
    reach = 0.0 if math.isinf(needed) else distance_for(height, needed)
    unrest = numbers.unrest / contrast if contrast > 0 else math.inf if numbers.unrest else 0.0
    reads = angle >= needs.angle and reserve >= needs.reserve
    return SeatNumbers(
        angle,
        ratio,
        reserve,
        reach,
        unrest,
        _vision(numbers),
        Reading.READS if reads else Reading.FALLS_SHORT,
        unrest > needs.calm,
    )


def _link_numbers(numbers: Numbers, required: float, seat: Seat) -> SeatNumbers:
    """Give what a link's colour is like beside the text around it: told by lightness, as the
    standard asks, with the seat's eyes and under its light."""
    ratio, nothing = _ratio(numbers, seat), math.nan
    reading = Reading.READS if ratio >= required else Reading.FALLS_SHORT
    colours = _colours(numbers)
    distances: dict[Eyes, float] = {
        eyes: float(apart(eyes, colours)[0, 1]) for eyes in Eyes if eyes is not Eyes.NORMAL
    }
    return SeatNumbers(
        nothing, ratio, nothing, nothing, 0.0, _vision(numbers), reading, apart=distances
    )


def _ratio(numbers: Numbers, seat: Seat) -> float:
    """Give the ratio under the light there, as the seat's eyes have it.

    Over many backdrops the one counts from which the text has its governing ratio.
    """
    colours = _colours(numbers)
    if seat.eyes is not Eyes.NORMAL:
        mine, behind = relative_luminance(seen_with(seat.eyes, colours)).tolist()
        return float(ratio_there(mine, behind, seat.flare))
    mine, behind = relative_luminance(colours).tolist()
    raised = mine + FLARE
    other = raised / numbers.ratio if mine >= behind else raised * numbers.ratio
    return float(ratio_there(mine, min(1.0, max(0.0, other - FLARE)), seat.flare))


def _colours(numbers: Numbers) -> Floats:
    codes = (numbers.foreground, numbers.background)
    return from_bytes(np.array([bytes_of(code) for code in codes], np.uint8))


def _vision(numbers: Numbers) -> dict[Eyes, float]:
    colours = _colours(numbers)
    found: dict[Eyes, float] = {}
    for eyes in Eyes:
        if eyes is not Eyes.NORMAL:
            one, other = seen_with(eyes, colours)
            found[eyes] = float(contrast_ratio(one, other))
    return found
