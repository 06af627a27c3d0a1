"""What makes a text read from a seat: larger letters, or another colour; each tried, and measured
there. It is advice, whatever the standard asks."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from high_pair.colour.ratio import FLARE, HIGHEST_RATIO
from high_pair.colour.sight import least_angle, letters_frequency, michelson, sensitivity
from high_pair.colour.srgb import bytes_of, relative_luminance
from high_pair.edits.kinds import Edit
from high_pair.errors import HighPairError
from high_pair.formats.document import Document
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Asked, Pair
from high_pair.measure.seat_numbers import Reading, SeatNumbers
from high_pair.remedy.recolour import Case, recolours
from high_pair.remedy.remedies import Recolour, Remedy, Restyled
from high_pair.review.measuring import PageBench, measured
from high_pair.review.overlaying import Trial
from high_pair.review.seats import seat_numbers_of
from high_pair.review.surroundings import fitting
from high_pair.scene.seat import Seat
from high_pair.wcag.verdicts import Verdict

# Writes a remedy for pairs down as edits.
EditsOf = Callable[[Remedy, Sequence[Pair]], tuple[Edit, ...]]
# A text isn't made larger than by so much, and grows in steps of so many points.
MOST_GROWN, STEP = 4.0, 0.5


@dataclass(frozen=True)
class Sitting:
    """A document's pages, looked at from a seat."""

    seat: Seat
    document: Document

    def numbers(self, pair: Pair) -> SeatNumbers | None:
        """Give what a text is like from the seat."""
        return seat_numbers_of(pair, self.seat, self.document.pages[pair.page - 1])

    def reads(self, pair: Pair) -> bool:
        """Tell whether a text reads from the seat, or isn't known not to."""
        numbers = self.numbers(pair)
        return numbers is None or numbers.reading is not Reading.FALLS_SHORT


def remedies_for_seat(
    pair: Pair,
    cases: Sequence[Case],
    page: MeasuredPage,
    asked: Asked,
    trial: Trial,
    sitting: Sitting,
    edits_of: EditsOf,
) -> tuple[Recolour | Restyled, ...]:
    """Propose what makes a text read from a seat; nothing where it does, or nobody can tell.

    cases: what a colour for it must satisfy; edits_of: writes a remedy down.
    """
    numbers = sitting.numbers(pair)
    if numbers is None or numbers.reading is not Reading.FALLS_SHORT or pair.fixed:
        return ()
    ways: list[Recolour | Restyled] = [
        *_colours(pair, cases, numbers, sitting.seat),
        *_sizes(pair, numbers, sitting),
    ]
    found: list[Recolour | Restyled] = []
    for way in ways:
        done = _tried(way, pair, page, asked, trial, sitting, edits_of)
        if done is not None:
            found.append(replace(done, seat=sitting.seat.name))
    return tuple(found)


def edits_for_alike(
    remedy: Recolour | Restyled,
    pairs: Sequence[Pair],
    bench: PageBench,
    asked: Asked,
    trial: Trial,
    sitting: Sitting,
    edits_of: EditsOf,
) -> tuple[Edit, ...]:
    """Carry what makes the first text read from a seat to those alike that read there by it, too.

    Each is tried and measured where it stands; the others stay as they are.
    """
    edits = list(edits_of(remedy, pairs[:1]))
    others = {each.address: each for each in pairs if each.address != pairs[0].address}
    for pair in others.values():
        if pair.fixed:
            continue
        page = bench.get(sitting.document, pair.page - 1, asked)
        way = replace(remedy, address=pair.address) if isinstance(remedy, Restyled) else remedy
        done = _tried(way, pair, page, asked, trial, sitting, edits_of)
        if done is not None:
            edits += edits_of(done, [pair])
    return tuple(edits)


def _tried(
    way: Recolour | Restyled,
    pair: Pair,
    page: MeasuredPage,
    asked: Asked,
    trial: Trial,
    sitting: Sitting,
    edits_of: EditsOf,
) -> Recolour | Restyled | None:
    """Give a way as it measures where the text has room for it and reads by it, else None."""
    done = fitting(way, pair, page, asked, trial) if isinstance(way, Restyled) else way
    if done is None or not _reads(edits_of(done, [pair]), pair, asked, trial, sitting):
        return None
    return done


def _reads(edits: Sequence[Edit], pair: Pair, asked: Asked, trial: Trial, sitting: Sitting) -> bool:
    """Tell whether a text passes and reads from the seat with these edits, measured."""
    try:
        after = measured(trial(edits), pair.page - 1, asked)
    except HighPairError:
        return False
    again = [each for each in after.pairs if each.address == pair.address]
    there = [numbers for each in again if (numbers := sitting.numbers(each)) is not None]
    if any(each.verdict is Verdict.FALLS_SHORT for each in again):
        return False
    return bool(there) and all(each.reading is Reading.READS for each in there)


def _sizes(pair: Pair, numbers: SeatNumbers, sitting: Sitting) -> list[Restyled]:
    """Give the next larger size that has angle and reserve."""
    seat = sitting.seat
    contrast = float(michelson(numbers.ratio))
    needed = least_angle(contrast, seat.needs.reserve, seat.acuity, seat.loss)
    needed = max(seat.needs.angle, needed)
    if math.isinf(needed) or needed > numbers.angle * MOST_GROWN:
        return []
    size = math.ceil(pair.size * needed / numbers.angle / STEP + 1e-6) * STEP
    return [Restyled(pair.address, size, None, pair.ratio or 0.0, pair.required)]


def _colours(pair: Pair, cases: Sequence[Case], numbers: SeatNumbers, seat: Seat) -> list[Recolour]:
    """Give the colours that have the reserve, where the text is large enough as it is."""
    if numbers.angle < seat.needs.angle or pair.numbers is None or not cases:
        return []
    least = seat.needs.reserve / float(
        sensitivity(letters_frequency(numbers.angle), seat.acuity, seat.loss)
    )
    if least >= 1.0:
        return []
    there = (1.0 + least) / (1.0 - least)
    behind = float(relative_luminance(np.array(bytes_of(pair.numbers.background), np.uint8)))
    # What ratio of WCAG's that is, for a lighter text and for a darker one.
    lighter = (there * (behind + seat.flare) - seat.flare + FLARE) / (behind + FLARE)
    darkest = (behind + seat.flare) / there - seat.flare
    darker = (behind + FLARE) / (darkest + FLARE) if darkest >= 0.0 else math.inf
    asked = [each for each in (lighter, darker) if each <= HIGHEST_RATIO]
    found: dict[tuple[int, int, int], Recolour] = {}
    for required in asked:
        raised = [replace(case, required=max(case.required, required)) for case in cases]
        for remedy in recolours(raised, pair.text_colour)[:2]:
            found.setdefault(remedy.levels, remedy)
    return list(found.values())
