"""Pairs: stretches of text with what is behind them, measured and judged."""

from __future__ import annotations

import functools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import Floats, hex_of
from high_pair.measure.footprint import (
    Footprint,
    median_backdrop,
    ratios_of,
    reached_by,
    seen_text,
)
from high_pair.raster.fonts import x_height
from high_pair.scene.paint import Colour
from high_pair.scene.text import Decider, Run
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import (
    BOLD_FROM_WEIGHT,
    Level,
    SizeClass,
    Subject,
    criterion_for,
    size_class,
)
from high_pair.wcag.verdicts import Verdict, verdict_of

# What share of a text's size the height of its x is, where nobody knows its font.
X_HEIGHT = 0.5


@dataclass(frozen=True)
class Numbers:
    """What measuring gave.

    foreground, background: as seen, #RRGGBB; varied: more than one backdrop;
    weakest: the word that governs and its box on the page in points; unrest: the contrast of
    what is behind it at the fineness of its letters, see `unrest`.
    """

    foreground: str
    background: str
    varied: bool
    ratio: float
    lowest: float
    median: float
    highest: float
    share_below: float
    weakest: str = ""
    weakest_box: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    unrest: float = 0.0


@dataclass(frozen=True)
class Pair:
    """A stretch of text (or a graphic) and what is behind it.

    text_colour: the colour as stated, before anything is composited; bbox: of
    the ink, x, y, width, height in points; numbers: None where nothing could
    be measured; fixed: why its colour can't be changed in the file, if so;
    deciders: where beyond the text its colour is decided; appears: when it looks
    so, such as on hover; x_height: of its font, as a share of the size; aim: what a remedy is to
    reach, where that is more than is asked; picture: which one lies behind it, empty for
    none; cells: of a sheet, all the ranges that it is about. The rest is as in the review format.
    """

    id: str
    page: int
    where: str
    address: str
    subject: Subject
    text: str
    size: float
    weight: int
    text_colour: Colour
    criterion: str
    required: float
    verdict: Verdict
    reason: str
    bbox: tuple[float, float, float, float]
    origin: str
    estimated: bool
    numbers: Numbers | None = None
    fixed: str = ""
    deciders: tuple[Decider, ...] = ()
    appears: str = ""
    x_height: float = X_HEIGHT
    aim: float = 0.0
    picture: str = ""
    cells: tuple[str, ...] = ()

    @property
    def goal(self) -> float:
        """The ratio that a remedy for it reaches; what passes only has to stay so."""
        short = self.verdict is Verdict.FALLS_SHORT
        return max(self.required, self.aim) if short else self.required

    @property
    def reaches_its_aim(self) -> bool:
        """Whether it passes, and has the ratio that remedies are to reach."""
        return self.verdict is Verdict.PASSES and (self.ratio or 0.0) >= self.aim

    @property
    def size_class(self) -> SizeClass:
        """Whether the text counts as large scale."""
        return size_class(self.size, self.weight)

    @property
    def bold(self) -> bool:
        """Whether its weight counts as bold."""
        return self.weight >= BOLD_FROM_WEIGHT

    @property
    def ratio(self) -> float | None:
        """The governing ratio."""
        return self.numbers.ratio if self.numbers else None


def required_ratio(subject: Subject, size: float, weight: int, level: Level) -> tuple[str, float]:
    """Give the criterion's number and the ratio that it asks of a text."""
    criterion = criterion_for(subject, level)
    return criterion.number, criterion.required(size_class(size, weight))


def pair_of(
    run: Run,
    page: int,
    where: str,
    asked: Asked,
    bbox: tuple[float, float, float, float],
    *,
    estimated: bool,
    text: str = "",
    address: str = "",
    verdict: Verdict = Verdict.NEEDS_EYES,
    reason: str = "",
) -> Pair:
    """Give the pair of a text in one look, without numbers and without its id.

    text, address: of a whole stretch, the run's own when empty.
    """
    criterion, required = required_ratio(Subject.TEXT, run.size, run.weight, asked.level)
    return Pair(
        id="",
        page=page,
        where=where,
        address=address or run.address,
        subject=Subject.TEXT,
        text=text or " ".join(run.text.split()),
        size=run.size,
        weight=run.weight,
        text_colour=run.colour,
        criterion=criterion,
        required=required,
        verdict=verdict,
        reason=reason,
        bbox=bbox,
        origin=run.origin,
        estimated=estimated,
        fixed=run.fixed,
        deciders=run.deciders,
        x_height=run.x_height or x_height(run.family, run.weight, run.italic),
    )


def numbers_of_shades(
    footprints: Sequence[Footprint],
    shades: Sequence[Colour],
    required: float,
    coverage: float,
    scale: float,
) -> tuple[Numbers, Colour] | None:
    """Measure a text of several colours: the numbers of the weakest, and which one that is.

    None where not all of them have the same verdict: whichever stands at a place, it must hold.
    """
    found = [(numbers_of(footprints, shade, required, coverage, scale), shade) for shade in shades]
    weakest = min(found, key=lambda each: each[0].ratio)
    strongest = max(numbers.ratio for numbers, _ in found)
    return None if weakest[0].ratio < required <= strongest else weakest


def numbers_of(
    footprints: Sequence[Footprint], text: Colour, required: float, coverage: float, scale: float
) -> Numbers:
    """Measure a text of one colour on its words' footprints; at least one is needed.

    scale: pixels a point, for the weakest word's box.
    Source: docs/review-format.md, «The governing ratio», steps 3 to 5.
    """
    first = footprints[0].backdrops
    if len(first) == 1 and all(each.backdrops is first and not each.above for each in footprints):
        # All words stand on one and the same colour, as most do: the first speaks for all.
        numbers = _on_one_colour(text, tuple(first[0].tolist()), required)
        return replace(
            numbers, weakest=footprints[0].word, weakest_box=_in_points(footprints[0].box, scale)
        )
    by_word, governing = _ratios_of_words(footprints, text, coverage)
    weakest = int(np.argmin(governing))
    ratios = np.concatenate(by_word)
    counts = np.concatenate([footprint.counts for footprint in footprints])
    governor = footprints[weakest]
    behind = median_backdrop(governor)
    seen = seen_text(governor, text)
    if len(seen) > 1:
        same = np.flatnonzero((governor.backdrops == behind).all(axis=1))
        seen = seen[same[:1]]
    varied = any(
        not footprint.is_solid or not np.array_equal(footprint.backdrops[0], first[0])
        for footprint in footprints
    )
    return Numbers(
        foreground=hex_of(seen[0]),
        background=hex_of(behind),
        varied=varied,
        ratio=governing[weakest],
        lowest=float(ratios.min()),
        median=reached_by(ratios, counts, 0.5),
        highest=float(ratios.max()),
        share_below=float(counts[ratios < required].sum() / counts.sum()),
        weakest=governor.word,
        weakest_box=_in_points(governor.box, scale),
    )


def _in_points(box: tuple[int, int, int, int], scale: float) -> tuple[float, float, float, float]:
    left, top, right, bottom = box
    return (left / scale, top / scale, (right - left) / scale, (bottom - top) / scale)


@functools.lru_cache(maxsize=256)
def _on_one_colour(text: Colour, behind: tuple[int, ...], required: float) -> Numbers:
    """Measure a text on one colour; the word's name and place are left open."""
    footprint = Footprint("", np.array([behind], np.uint8), np.ones(1, np.int64), (0, 0, 0, 0))
    ratio = float(ratios_of(footprint, text)[0])
    return Numbers(
        foreground=hex_of(seen_text(footprint, text)[0]),
        background=hex_of(behind),
        varied=False,
        ratio=ratio,
        lowest=ratio,
        median=ratio,
        highest=ratio,
        share_below=1.0 if ratio < required else 0.0,
        weakest="",
        weakest_box=(0.0, 0.0, 0.0, 0.0),
    )


def _ratios_of_words(
    footprints: Sequence[Footprint], text: Colour, coverage: float
) -> tuple[list[Floats], list[float]]:
    """Give every word's ratios, and the one that governs it; words on one colour all at once."""
    if all(footprint.is_solid and footprint.above is None for footprint in footprints):
        together = np.concatenate([footprint.backdrops for footprint in footprints])
        counts = np.ones(len(together), np.int64)
        ratios = ratios_of(Footprint("", together, counts, (0, 0, 0, 0)), text)
        return np.split(ratios, len(ratios)), [float(ratio) for ratio in ratios]
    by_word = [ratios_of(footprint, text) for footprint in footprints]
    governing = [
        reached_by(ratios, footprint.counts, coverage)
        for ratios, footprint in zip(by_word, footprints, strict=True)
    ]
    return by_word, governing


def judged(pair: Pair, numbers: Numbers, **changes: Any) -> Pair:
    """Give the pair with its numbers, the verdict that follows from them, and other changes."""
    required = changes.get("required", pair.required)
    verdict = verdict_of(numbers.ratio, required)
    return replace(pair, numbers=numbers, verdict=verdict, **changes)


def link_pair(link: Pair, surroundings: Pair, level: Level) -> Pair | None:
    """Measure a link that only colour tells from the text around it (1.4.1, technique G183).

    Gives None unless both have been measured.
    """
    if link.numbers is None or surroundings.numbers is None:
        return None
    criterion, required = required_ratio(Subject.LINK, link.size, link.weight, level)
    colours = [
        np.array([int(code[i : i + 2], 16) for i in (1, 3, 5)], np.uint8)
        for code in (link.numbers.foreground, surroundings.numbers.foreground)
    ]
    ratio = float(contrast_ratio(*colours))
    numbers = Numbers(
        foreground=link.numbers.foreground,
        background=surroundings.numbers.foreground,
        varied=False,
        ratio=ratio,
        lowest=ratio,
        median=ratio,
        highest=ratio,
        share_below=1.0 if ratio < required else 0.0,
        weakest=link.numbers.weakest,
        weakest_box=link.numbers.weakest_box,
    )
    return judged(
        link, numbers, subject=Subject.LINK, criterion=criterion, required=required, reason=""
    )
