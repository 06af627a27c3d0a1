"""What makes a text read from a seat: larger letters, another colour, another fill or an overlay
behind it, or one of these with larger letters; each tried, and measured there. It is advice,
whatever the standard asks."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from high_pair.colour.ratio import FLARE, HIGHEST_RATIO
from high_pair.colour.sight import least_angle, letters_frequency, michelson, sensitivity
from high_pair.colour.srgb import bytes_of, relative_luminance
from high_pair.edits.kinds import Edit
from high_pair.errors import HighPairError
from high_pair.formats.document import Document
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.measure.seat_numbers import Reading, SeatNumbers
from high_pair.remedy.recolour import recolours
from high_pair.remedy.remedies import Backdrop, ForSeat, Laid, Recolour, Restyled
from high_pair.remedy.strength import FULL
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import cases_of, edits_for
from high_pair.review.overlaying import FURTHER, Trial, possible_overlays, ratio_served
from high_pair.review.seats import seat_numbers_of
from high_pair.review.surroundings import has_room, possible_backdrops, restyle_edits
from high_pair.scene.seat import Seat
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

# A text isn't made larger than by so much, and grows in steps of so many points.
MOST_GROWN, STEP = 4.0, 0.5
# So many of each kind are proposed.
MOST_OF_A_KIND = 2


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


@dataclass(frozen=True)
class _Text:
    """A text that is to read, as its page was measured. trial: gives the document with further
    edits; asked: of every text."""

    pair: Pair
    page: MeasuredPage
    asked: Asked
    trial: Trial
    sitting: Sitting


def remedies_for_seat(
    pair: Pair, page: MeasuredPage, asked: Asked, trial: Trial, sitting: Sitting
) -> tuple[ForSeat, ...]:
    """Propose what makes a text read from a seat; nothing where it does, or nobody can tell."""
    numbers = sitting.numbers(pair)
    if numbers is None or numbers.reading is not Reading.FALLS_SHORT or pair.fixed:
        return ()
    text = _Text(pair, page, asked, trial, sitting)
    found: list[ForSeat] = []
    for way in _ways(text, numbers):
        alike = [each for each in found if type(each.other) is type(way.other)]
        done = _tried(way, text) if len(alike) < MOST_OF_A_KIND else None
        if done is not None:
            found.append(done)
    return tuple(found)


def edits_for_alike(
    remedy: ForSeat,
    pairs: Sequence[Pair],
    bench: PageBench,
    asked: Asked,
    trial: Trial,
    sitting: Sitting,
) -> tuple[Edit, ...]:
    """Carry what makes the first text read from a seat to those alike that read there by it, too.

    Each is tried and measured where it stands: with the same, or else the best of its kind; the
    others stay as they are.
    """
    edits = list(edits_for(remedy, pairs[:1]))
    served = set(remedy.serves or (pairs[0].address,))
    for pair in pairs[1:]:
        if pair.address in served or pair.fixed:
            continue
        page = bench.get(sitting.document, pair.page - 1, asked)
        done = _carried(remedy, _Text(pair, page, asked, trial, sitting))
        if done is not None:
            edits += edits_for(done, [pair])
            served |= set(done.serves or (pair.address,))
    return tuple(edits)


def _carried(remedy: ForSeat, text: _Text) -> ForSeat | None:
    """Give a remedy for another text: the same where that serves, else the best of its kind."""
    if not isinstance(remedy.other, Backdrop | Laid):
        larger = remedy.larger and replace(remedy.larger, address=text.pair.address)
        done = _tried(replace(remedy, larger=larger), text)
        if done is not None or remedy.other is None:
            return done
    own = remedies_for_seat(text.pair, text.page, text.asked, text.trial, text.sitting)
    return next((each for each in own if each.kind == remedy.kind), None)


# Ways


def _ways(text: _Text, numbers: SeatNumbers) -> Iterator[ForSeat]:
    """Give ways to have angle and reserve, not tried yet: by size alone, and by contrast with so
    much size as that needs."""
    pair, seat = text.pair, text.sitting.seat
    needs = seat.needs
    contrast = float(michelson(numbers.ratio))
    enough = least_angle(contrast, needs.reserve, seat.acuity, seat.loss)
    if (larger := _larger(pair, numbers, max(needs.angle, enough))) is not None:
        yield ForSeat(seat.name, larger, None, 0.0)
    if numbers.angle >= needs.angle:
        yield from _contrasts(text, None)
    elif enough > needs.angle and (larger := _larger(pair, numbers, needs.angle)) is not None:
        grown = _grown(text, larger)
        if grown is not None:
            yield from _contrasts(grown, larger)


def _larger(pair: Pair, numbers: SeatNumbers, angle: float) -> Restyled | None:
    """Give the next size that has an angle, arc minutes; None where it would be too large."""
    if math.isinf(angle) or not numbers.angle < angle <= numbers.angle * MOST_GROWN:
        return None
    size = math.ceil(pair.size * angle / numbers.angle / STEP + 1e-6) * STEP
    return Restyled(pair.address, size, None, pair.ratio or 0.0, pair.required)


def _grown(text: _Text, larger: Restyled) -> _Text | None:
    """Give a text with larger letters, as it measures then; None where it has no room for them."""
    edits = restyle_edits(larger)
    pair = text.pair

    def trial(further: Sequence[Edit]) -> Document:
        return text.trial((*edits, *further))

    try:
        page = measured(trial(()), pair.page - 1, text.asked)
    except HighPairError:
        return None
    here = [each for each in page.pairs if each.address == pair.address]
    again = next((each for each in here if each.subject is pair.subject), None)
    if again is None or again.numbers is None or not has_room(pair, text.page, page):
        return None
    return _Text(again, page, text.asked, trial, text.sitting)


def _contrasts(text: _Text, larger: Restyled | None) -> Iterator[ForSeat]:
    """Give what raises the contrast of a text that is large enough: colours, fills, overlays."""
    name, document = text.sitting.seat.name, text.sitting.document
    page = replace(text.page, pairs=tuple(_raised(each, text.sitting) for each in text.page.pairs))
    pair = next(each for each in page.pairs if each.id == text.pair.id)
    for colour in _colours(text):
        yield ForSeat(name, larger, colour, 0.0)
    if pair.aim > text.pair.aim:
        for fill in possible_backdrops(pair, page):
            if fill.text is None:
                yield ForSeat(name, larger, fill, 0.0)
        for laid in possible_overlays(pair, document, page, text.asked):
            yield ForSeat(name, larger, laid, 0.0)


def _least_ratio(numbers: SeatNumbers, seat: Seat) -> float | None:
    """Give the ratio that a text must have under the seat's light; None where none is enough."""
    least = seat.needs.reserve / float(
        sensitivity(letters_frequency(numbers.angle), seat.acuity, seat.loss)
    )
    return None if least >= 1.0 else (1.0 + least) / (1.0 - least)


def _asked_beside(level: float, there: float, seat: Seat, other_is_lighter: bool) -> float:
    """Give WCAG's ratio to a luminance that the other must have for a ratio there; infinite where
    none is light or dark enough."""
    if other_is_lighter:
        return (there * (level + seat.flare) - seat.flare + FLARE) / (level + FLARE)
    darkest = (level + seat.flare) / there - seat.flare
    return (level + FLARE) / (darkest + FLARE) if darkest >= 0.0 else math.inf


def _raised(pair: Pair, sitting: Sitting) -> Pair:
    """Give a text that asks for what makes it read from the seat, where contrast alone can.

    Its own colour stays: what is behind it must be as much darker or lighter.
    """
    numbers = sitting.numbers(pair)
    if pair.subject is not Subject.TEXT or numbers is None or pair.numbers is None:
        return pair
    seat = sitting.seat
    there = _least_ratio(numbers, seat)
    short = numbers.reading is Reading.FALLS_SHORT and numbers.angle >= seat.needs.angle
    if not short or there is None:
        return pair
    own, behind = (
        float(relative_luminance(np.array(bytes_of(code), np.uint8)))
        for code in (pair.numbers.foreground, pair.numbers.background)
    )
    ways = [_asked_beside(own, there, seat, lighter) for lighter in (behind > own, behind <= own)]
    # On the side where it is now, if there is so much room.
    asked = next((each for each in ways if each <= HIGHEST_RATIO), None)
    if asked is None:
        return pair
    return replace(pair, aim=max(pair.required, pair.aim, asked), verdict=Verdict.FALLS_SHORT)


def _colours(text: _Text) -> list[Recolour]:
    """Give the colours that have the reserve, where the text is large enough as it is."""
    pair, seat = text.pair, text.sitting.seat
    numbers = text.sitting.numbers(pair)
    cases = cases_of(pair, text.page, text.asked.coverage)
    there = _least_ratio(numbers, seat) if numbers is not None else None
    if there is None or pair.numbers is None or not cases:
        return []
    behind = float(relative_luminance(np.array(bytes_of(pair.numbers.background), np.uint8)))
    found: dict[tuple[int, int, int], Recolour] = {}
    for lighter in (True, False):
        required = _asked_beside(behind, there, seat, lighter)
        if required <= HIGHEST_RATIO:
            raised = [replace(case, required=max(case.required, required)) for case in cases]
            for remedy in recolours(raised, pair.text_colour)[:2]:
                found.setdefault(remedy.levels, remedy)
    return list(found.values())


# Trying


def _tried(way: ForSeat, text: _Text) -> ForSeat | None:
    """Give a way as it measures, where the text has room for it, passes and reads by it; else None.

    A percent or three more are tried of an overlay, where rounding takes what was worked out.
    """
    ways = [way]
    if isinstance(way.other, Laid):
        now = way.other.overlay
        percents = range(now.percent, min(FULL, now.percent + FURTHER) + 1)
        ways = [
            replace(way, other=replace(way.other, overlay=replace(now, percent=percent)))
            for percent in percents
        ]
    for each in ways:
        ratio = _ratio_by(each, text)
        if ratio is not None:
            return replace(each, ratio=ratio)
    return None


def _ratio_by(way: ForSeat, text: _Text) -> float | None:
    """Give the ratio that a text has with a remedy; None where it doesn't pass or read by it."""
    pair = text.pair
    serves = way.serves or (pair.address,)
    try:
        after = measured(text.trial(edits_for(way, [pair])), pair.page - 1, text.asked)
    except HighPairError:
        return None
    if way.larger is not None and not has_room(pair, text.page, after):
        return None
    # What else it serves, such as smaller text beside it, needn't read: it has to pass.
    there = [each for each in after.pairs if each.address == pair.address]
    readings = [numbers.reading for each in there if (numbers := text.sitting.numbers(each))]
    if not readings or any(reading is not Reading.READS for reading in readings):
        return None
    return ratio_served(text.page, after, serves)
