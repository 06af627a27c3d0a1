"""Recolour: the nearest colour of the same hue that passes on every backdrop at once."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.difference import ciede2000
from high_pair.colour.gamut import into_srgb
from high_pair.colour.oklab import oklch_of
from high_pair.colour.ratio import FLARE, shown_ratio
from high_pair.colour.srgb import Bytes, Floats, relative_luminance, to_bytes
from high_pair.measure.footprint import Footprint, ratios_of, reached_by
from high_pair.remedy.remedies import Proposals, Recolour
from high_pair.scene.paint import Colour, from_levels

# Lightness is walked in steps so fine that no 8-bit grey between is passed over.
STEPS = 1024
COARSE = 16
Levels = tuple[int, int, int]
# The direction of a colour that the file has itself, and of one of the set in use.
OWN, OF_THE_SET = "own", "set"
BLACK_LEVELS, WHITE_LEVELS = (0, 0, 0), (255, 255, 255)


@dataclass(frozen=True)
class Case:
    """What one pair asks of a colour: its words' footprints, the ratio, and the coverage."""

    footprints: tuple[Footprint, ...]
    required: float
    coverage: float


def governing_ratio(case: Case, text: Colour) -> float:
    """Measure a colour on a pair's footprints; the same code as the finding's."""
    return min(
        reached_by(ratios_of(footprint, text), footprint.counts, case.coverage)
        for footprint in case.footprints
    )


def passes(cases: Sequence[Case], text: Colour) -> bool:
    """Tell whether a colour passes in every case."""
    return all(governing_ratio(case, text) >= case.required for case in cases)


@dataclass(frozen=True)
class _Word:
    """A footprint ready for many questions: its luminances, rising, and how many lie up to each."""

    luminances: Floats
    up_to: NDArray[np.int64]
    required: float
    needed: float

    def passed_by(self, text: Floats) -> NDArray[np.bool_]:
        """Tell which of the opaque texts of these luminances pass."""
        raised = text + FLARE
        darker = np.searchsorted(
            self.luminances, (raised / self.required - FLARE) * (1 + 1e-12), side="right"
        )
        lighter = np.searchsorted(
            self.luminances, (raised * self.required - FLARE) * (1 - 1e-12), side="left"
        )
        total = self.up_to[-1]
        return np.asarray(self.up_to[darker] + total - self.up_to[lighter] >= self.needed)


def _word(footprint: Footprint, case: Case) -> _Word:
    luminances = relative_luminance(footprint.backdrops)
    order = np.argsort(luminances, kind="stable")
    up_to = np.concatenate([[0], np.cumsum(footprint.counts[order])])
    needed = case.coverage * float(up_to[-1]) * (1 - 1e-12)
    return _Word(luminances[order], up_to, case.required, needed)


def passing(cases: Sequence[Case], candidates: Bytes, opacity: float) -> NDArray[np.bool_]:
    """Tell which of many colours, uint8 (n, 3), pass in every case.

    An opaque text with nothing above is judged by its luminance alone, for all
    candidates at once; any other is measured at every sixteenth candidate and
    then closer where passing begins.
    """
    plain = opacity >= 1 and all(
        footprint.above is None for case in cases for footprint in case.footprints
    )
    if plain:
        luminances = relative_luminance(candidates)
        found = np.ones(len(candidates), bool)
        for case in cases:
            for footprint in case.footprints:
                found &= _word(footprint, case).passed_by(luminances)
        return found
    found = np.zeros(len(candidates), bool)

    def check(index: int) -> bool:
        red, green, blue = (int(level) for level in candidates[index])
        return passes(cases, from_levels((red, green, blue), opacity))

    marks = sorted({*range(0, len(candidates), COARSE), len(candidates) - 1})
    for index in marks:
        found[index] = check(index)
    for start, end in itertools.pairwise(marks):
        if found[start] != found[end]:
            for index in range(start + 1, end):
                found[index] = check(index)
        elif found[start]:
            found[start:end] = True
    return found


def lightness_walk(levels: Levels) -> Bytes:
    """Give the 8-bit colours of a colour's hue from black to white, without repeats, (n, 3).

    Chroma is the colour's own, brought into gamut.
    """
    start = oklch_of(np.array(levels) / 255.0)
    lightness = np.linspace(0.0, 1.0, STEPS + 1)
    path = np.stack(
        [lightness, np.full_like(lightness, start[1]), np.full_like(lightness, start[2])], axis=-1
    )
    colours = to_bytes(into_srgb(path))
    changed = np.any(colours[1:] != colours[:-1], axis=-1)
    return np.asarray(colours[np.concatenate([[True], changed])])


def _nearest(
    candidates: Bytes, mask: NDArray[np.bool_], current: Levels
) -> tuple[Levels, float] | None:
    """Give the candidate least different from the current colour among those marked."""
    if not mask.any():
        return None
    chosen = candidates[mask]
    differences = ciede2000(chosen / 255.0, np.array(current) / 255.0)
    best = int(np.argmin(differences))
    red, green, blue = (int(level) for level in chosen[best])
    return (red, green, blue), float(differences[best])


def _remedy(
    cases: Sequence[Case],
    levels: Levels,
    opacity: float,
    direction: str,
    text: Colour,
) -> Recolour | None:
    """Measure a proposal as the finding was measured; None unless it passes."""
    colour = from_levels(levels, opacity)
    if not passes(cases, colour):
        return None
    weakest = min(cases, key=lambda case: governing_ratio(case, colour) / case.required)
    difference = float(ciede2000(np.array(levels) / 255.0, np.array(text.levels) / 255.0))
    ratio = governing_ratio(weakest, colour)
    return Recolour(levels, opacity, direction, ratio, difference, opacity > text.opacity)


def _proposals(cases: Sequence[Case], text: Colour, opacity: float) -> list[Recolour]:
    walk = lightness_walk(text.levels)
    good = passing(cases, walk, opacity)
    luminances = relative_luminance(walk)
    own = float(relative_luminance(np.array(text.levels, np.uint8)))
    found: list[Recolour] = []
    for direction, side in (("darker", luminances <= own), ("lighter", luminances >= own)):
        nearest = _nearest(walk, good & side, text.levels)
        if nearest and nearest[0] not in (BLACK_LEVELS, WHITE_LEVELS):
            remedy = _remedy(cases, nearest[0], opacity, direction, text)
            if remedy:
                found.append(remedy)
    for levels, word in ((BLACK_LEVELS, "black"), (WHITE_LEVELS, "white")):
        remedy = _remedy(cases, levels, opacity, word, text)
        if remedy:
            found.append(remedy)
    return found


def recolour_to(
    cases: Sequence[Case], levels: Levels, text: Colour, direction: str = OWN
) -> Recolour | None:
    """Propose a colour that is there already; None where it doesn't pass in every case."""
    return _remedy(cases, levels, 1.0, direction, text)


def nearest_of(cases: Sequence[Case], colours: Sequence[Levels], text: Colour) -> Recolour | None:
    """Propose the colour of a set that differs least from a text's (ΔE00) among those that pass."""
    own = np.array(text.levels) / 255.0
    others = [levels for levels in dict.fromkeys(colours) if levels != text.levels]
    others.sort(key=lambda levels: float(ciede2000(np.array(levels) / 255.0, own)))
    found = (recolour_to(cases, levels, text, OF_THE_SET) for levels in others)
    return next((remedy for remedy in found if remedy is not None), None)


def recolours(cases: Sequence[Case], text: Colour) -> tuple[Recolour, ...]:
    """Give the colours that `recolour_text` proposes, the least different first."""
    found = _proposals(cases, text, text.opacity)
    if not found and text.opacity < 1:
        found = _proposals(cases, text, 1.0)
    return tuple(sorted(found, key=lambda remedy: (remedy.difference, remedy.levels)))


def recolour_text(cases: Sequence[Case], text: Colour) -> Proposals:
    """Propose other colours for a text that stands on all the cases' backdrops.

    Keeps the hue and walks OKLCH lightness both ways to the nearest 8-bit
    colour that passes everywhere (least ΔE00), then offers black and white. A
    see-through text keeps its opacity if it can and is made opaque else. Where
    nothing passes, the proposals say how far the best colour gets.
    """
    found = recolours(cases, text)
    return Proposals(found) if found else Proposals((), _why_none(cases))


def _why_none(cases: Sequence[Case]) -> str:
    """Say where it fails, and how near the best of the greys comes."""
    greys = [from_levels((level, level, level)) for level in (*range(0, 255, 15), 255)]

    def best_in(case: Case) -> tuple[float, Colour]:
        return max(((governing_ratio(case, grey), grey) for grey in greys), key=lambda e: e[0])

    hardest = min(cases, key=lambda case: best_in(case)[0] / case.required)
    best, grey = best_in(hardest)
    name = {BLACK_LEVELS: "black", WHITE_LEVELS: "white"}.get(grey.levels, "a grey")
    if best >= hardest.required:
        return (
            "No one colour serves all of these places: what is behind them is light in one "
            "and dark in another. Each can have a colour of its own."
        )
    word = min(
        hardest.footprints,
        key=lambda footprint: max(
            reached_by(ratios_of(footprint, grey), footprint.counts, hardest.coverage)
            for grey in greys
        ),
    ).word
    return (
        f"No text colour serves: what is behind “{word}” is light and dark at once. "
        f"The best, {name}, reaches {shown_ratio(best)} of the {hardest.required:g} asked for, "
        "so what is behind has to change."
    )
