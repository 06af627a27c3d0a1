"""Calming a gradient or a pattern behind texts: its colours are moved in lightness, hues kept, by
the least that lets every text on it pass, or a stop is left out where that is less."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from high_pair.colour.difference import ciede2000
from high_pair.colour.ratio import FLARE
from high_pair.colour.srgb import bytes_of, relative_luminance
from high_pair.edits.kinds import Edit, RecolourStops
from high_pair.errors import HighPairError
from high_pair.formats.document import Document
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.remedy.recolour import lightness_walk
from high_pair.remedy.remedies import Calmed
from high_pair.review.measuring import PageBench, measured
from high_pair.review.overlaying import Trial, ratio_served
from high_pair.scene.addresses import member_of
from high_pair.scene.geometry import Box
from high_pair.scene.page import Figure, Picture, extent
from high_pair.scene.paint import Colour, Gradient, Pattern, colours_of
from high_pair.scene.painted import PaintedSurface
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

Levels = tuple[int, int, int]
Stops = tuple[tuple[float, Levels], ...]
# Gives what some stops come to when they are tried, None where not all passes with them.
Try = Callable[[Stops], Calmed | None]
# The bound on the stops' luminance is halved between what passes and what is there so many times.
HALVINGS = 6
# Between two stops channels are mixed, which may come out lighter or darker than both: so much
# farther a bound is tried where the plain one doesn't serve.
FARTHER = 0.8
# So many stops are tried where they were.
MOST_PUT_BACK = 8
# A gradient is compared at so many places.
SAMPLES = 64
# A gradient of more stops is a picture rather; nobody tells them apart.
MOST_STOPS = 40


@dataclass(frozen=True)
class VariedFill:
    """A gradient or a pattern behind texts, and where its colours can be changed.

    leaves_out: a stop of it can be left out.
    """

    address: str
    stops: Stops
    pattern: bool
    leaves_out: bool


def calm_edits(calmed: Calmed) -> tuple[Edit, ...]:
    """Write calmer colours down as an edit."""
    return (RecolourStops(calmed.address, calmed.stops, calmed.serves),)


def varied_fill(page: MeasuredPage, pair: Pair) -> VariedFill | None:
    """Give the gradient or the pattern right behind a text, if it is opaque and the page's own."""
    place = page.places.get(pair.id)
    if place is None or place.highlighted:
        return None
    ink = Box(*pair.bbox)
    for item in reversed(page.raster.scene.items[: place.level]):
        if isinstance(item, PaintedSurface) and item.box.overlaps(ink):
            return _of_surface(item)
        if isinstance(item, Picture) and extent(item).overlaps(ink):
            return None
        if not isinstance(item, Figure) or item.fill is None or not extent(item).overlaps(ink):
            continue
        own = bool(item.address) and member_of(item.address) == member_of(pair.address)
        if not own or isinstance(item.fill, Colour) or not _is_opaque(item.fill):
            return None
        pattern = isinstance(item.fill, Pattern)
        return VariedFill(item.address, _stops_of(item.fill), pattern, not pattern)
    return None


def _of_surface(surface: PaintedSurface) -> VariedFill | None:
    """Give a page's gradient; where its stops lie isn't told, so they count as evenly spread."""
    count = len(surface.shades)
    if count <= 1:
        return None
    stops = ((at / (count - 1), colour.levels) for at, colour in enumerate(surface.shades))
    return VariedFill(surface.address, tuple(stops), False, False)


def _is_opaque(fill: Gradient | Pattern) -> bool:
    return all(colour.opacity >= 1 for colour in colours_of(fill))


def _stops_of(fill: Gradient | Pattern) -> Stops:
    if isinstance(fill, Pattern):
        return (0.0, fill.foreground.levels), (1.0, fill.background.levels)
    return tuple((stop.place, stop.colour.levels) for stop in fill.stops)


def calmed_for(pair: Pair, page: MeasuredPage, asked: Asked, trial: Trial) -> list[Calmed]:
    """Propose calmer colours for the gradient or the pattern behind a text, measured; the least."""
    if pair.numbers is None or pair.subject is not Subject.TEXT:
        return []
    fill = varied_fill(page, pair)
    if fill is None or len(fill.stops) > MOST_STOPS:
        return []
    on_it = [
        each
        for each in page.pairs
        if each.subject is Subject.TEXT
        and each.verdict is Verdict.FALLS_SHORT
        and each.text_colour.opacity >= 1
        and varied_fill(page, each) == fill
    ]
    bound = _bound(on_it)
    if pair not in on_it or bound is None:
        return []
    serves = tuple(dict.fromkeys(each.address for each in on_it))

    def tried(stops: Stops) -> Calmed | None:
        left_out = len(fill.stops) - len(stops)
        change = _difference(fill, stops)
        way = Calmed(fill.address, stops, 0.0, change, serves, left_out, fill.pattern)
        return _measured(way, page, asked, trial)

    found = [each for each in (_least_moved(fill, *bound, tried), _least_left(fill, *bound, tried))
             if each is not None]  # fmt: skip
    return sorted(found, key=lambda each: each.difference)[:1]


def _measured(way: Calmed, page: MeasuredPage, asked: Asked, trial: Trial) -> Calmed | None:
    try:
        after = measured(trial(calm_edits(way)), page.pairs[0].page - 1, asked)
    except HighPairError:
        return None
    ratio = ratio_served(page, after, way.serves)
    return None if ratio is None else replace(way, ratio=ratio)


def _luminance(levels: Levels) -> float:
    return float(relative_luminance(np.array(levels, np.uint8)))


def _bound(pairs: Sequence[Pair]) -> tuple[float, bool] | None:
    """Give the luminance that what is behind texts may have at most (True) or must have at least.

    None where some are lighter and some darker than what is behind them, or none is dark enough.
    """
    bounds, darker = [], set()
    for pair in pairs:
        assert pair.numbers is not None
        own = _luminance(pair.text_colour.levels)
        lighter = own > _luminance(bytes_of(pair.numbers.background))
        darker.add(lighter)
        bounds.append(
            (own + FLARE) / pair.goal - FLARE if lighter else (own + FLARE) * pair.goal - FLARE
        )
    if len(darker) != 1:
        return None
    below = darker.pop()
    bound = min(bounds) if below else max(bounds)
    return (bound, below) if 0.0 <= bound <= 1.0 else None


def _moved(levels: Levels, bound: float, below: bool) -> Levels:
    """Move a colour in lightness to within a bound on its luminance, hue kept."""
    own = _luminance(levels)
    if own <= bound if below else own >= bound:
        return levels
    walk = lightness_walk(levels)
    luminances = relative_luminance(walk)
    good = np.flatnonzero(luminances <= bound if below else luminances >= bound)
    if not len(good):
        return (0, 0, 0) if below else (255, 255, 255)
    red, green, blue = (int(level) for level in walk[good[-1] if below else good[0]])
    return red, green, blue


def _within(stops: Stops, bound: float, below: bool) -> Stops:
    return tuple((place, _moved(levels, bound, below)) for place, levels in stops)


def _least_moved(fill: VariedFill, bound: float, below: bool, tried: Try) -> Calmed | None:
    """Find the stops nearest to those there are with which all passes, as it is measured.

    All stops are brought within a bound on their luminance, and the bound is eased as far as it
    goes: few words of a text touch all of a gradient, and a share of each may be short.
    """
    luminances = [_luminance(levels) for _, levels in fill.stops]
    far = bound * FARTHER if below else 1.0 - (1.0 - bound) * FARTHER
    best = next(
        (
            (each, done)
            for each in (bound, far)
            if (done := tried(_within(fill.stops, each, below))) is not None
        ),
        None,
    )
    if best is None:
        return None
    passing, found = best
    there = max(luminances) if below else min(luminances)
    for _ in range(HALVINGS):
        middle = (passing + there) / 2
        done = tried(_within(fill.stops, middle, below))
        if done is None:
            there = middle
        else:
            passing, found = middle, done
    return _put_back(fill, found, tried)


def _put_back(fill: VariedFill, found: Calmed, tried: Try) -> Calmed:
    """Put the stops back that needn't have moved, as those that no text reaches."""
    for at in range(min(len(fill.stops), MOST_PUT_BACK)):
        if found.stops[at] != fill.stops[at]:
            found = tried((*found.stops[:at], fill.stops[at], *found.stops[at + 1 :])) or found
    return found


def _least_left(fill: VariedFill, bound: float, below: bool, tried: Try) -> Calmed | None:
    """Find the stop between others whose leaving out lets all pass, the least change first."""
    if not fill.leaves_out or len(fill.stops) <= 2:
        return None
    inner = []
    for at, (place, levels) in enumerate(fill.stops[1:-1], start=1):
        own = _luminance(levels)
        if 0.0 < place < 1.0 and (own > bound if below else own < bound):
            stops = fill.stops[:at] + fill.stops[at + 1 :]
            inner.append((_difference(fill, stops), stops))
    for _, stops in sorted(inner):
        done = tried(stops)
        if done is not None:
            return done
    return None


def _difference(fill: VariedFill, stops: Stops) -> float:
    """Give the mean ΔE00 between a fill and what it becomes."""
    if fill.pattern:
        pairs = zip(fill.stops, stops, strict=True)
        found = [
            float(ciede2000(np.array(one) / 255, np.array(other) / 255))
            for (_, one), (_, other) in pairs
        ]
        return sum(found) / len(found)
    at = np.linspace(0.0, 1.0, SAMPLES)
    return float(np.mean(ciede2000(_sampled(fill.stops, at), _sampled(stops, at))))


def _sampled(stops: Stops, at: np.ndarray) -> np.ndarray:
    places = np.array([place for place, _ in stops])
    colours = np.array([levels for _, levels in stops]) / 255.0
    return np.stack([np.interp(at, places, colours[:, channel]) for channel in range(3)], axis=-1)


def alike_calmed(
    calmed: Calmed,
    pairs: Sequence[Pair],
    document: Document,
    bench: PageBench,
    asked: Asked,
    trial: Trial,
) -> tuple[Edit, ...]:
    """Carry calmer colours to the fills behind alike texts, each as much as that one needs."""
    edits, served = list(calm_edits(calmed)), set(calmed.serves)
    for pair in pairs:
        if pair.address not in served:
            page = bench.get(document, pair.page - 1, asked)
            for other in calmed_for(pair, page, asked, trial):
                edits += calm_edits(other)
                served |= set(other.serves)
    return tuple(edits)
