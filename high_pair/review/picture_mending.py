"""Mending text that is part of a picture: its letters in another colour, or a plate below them.

Each pixel has a share of ink, which was told from what is behind; so what is seen can be put
together anew of another colour and of what is carried on behind. The result is read again as any
picture is, and counts as that says.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from high_pair.colour.difference import ciede2000
from high_pair.colour.srgb import Bytes, Floats
from high_pair.edits.kinds import Edit, Repaint
from high_pair.errors import HighPairError
from high_pair.formats.document import Document, OfPixels
from high_pair.formats.picture.repainting import POINTS_A_PIXEL, corners_of, patch_of
from high_pair.measure.footprint import Footprint, grow
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.measure.picture_text import MOST_SPILLED, MOST_UNSURE
from high_pair.measure.separation import INK, NoText, Separated, separate
from high_pair.remedy.recolour import Case, recolours
from high_pair.remedy.remedies import Proposals, Repainted
from high_pair.remedy.strength import covered_words, least_percent
from high_pair.review.measuring import PageBench, measured
from high_pair.review.overlaying import Trial
from high_pair.scene.geometry import Box
from high_pair.scene.page import PictureText
from high_pair.scene.paint import from_levels
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict

# What is read from pixels is near the truth alone: so many times what is asked is aimed at, until
# the result, read again, passes beyond doubt.
RATIOS = (1.2, 1.5, 2.0)
# What has less ink than this stays as it is seen.
LEAST_INK = 0.02
BLACK, WHITE = (0, 0, 0), (255, 255, 255)
NOT_SURE = "Its letters aren’t told surely enough from what is behind them to be painted anew."
NOT_HERE = "This picture can’t be changed with all that belongs to it: change it where it was made."


@dataclass(frozen=True)
class _Read:
    """The text in a box: its pixels as seen, and what they are made of. box: on whole pixels."""

    box: tuple[float, float, float, float]
    seen: Bytes
    found: Separated

    @property
    def ink(self) -> Floats:
        """The share of ink in each pixel, (h, w, 1), 0 to 1."""
        shares = np.clip(self.found.ink, 0.0, 1.0)
        return np.where(shares < LEAST_INK, 0.0, shares)[..., None]


def repaint_edits(remedy: Repainted) -> tuple[Edit, ...]:
    """Write other pixels down as an edit."""
    return (Repaint(remedy.address, remedy.box, remedy.patch),)


def remedies_in_picture(
    pair: Pair, document: Document, page: MeasuredPage, asked: Asked, trial: Trial
) -> Proposals:
    """Propose other letters, or plates below them, for a text that is part of a picture.

    Each is painted, read again, and proposed if it passes beyond doubt.
    """
    if pair.verdict is not Verdict.FALLS_SHORT:
        return Proposals(())
    read = _read(pair, document, page)
    if isinstance(read, str):
        return Proposals((), read)
    found: list[Repainted] = []
    for way in (_letters, _plates):
        for times in RATIOS:
            goal = min(21.0, pair.goal * times)
            tried = [_tried(each, pair, asked, trial) for each in way(pair, read, goal, asked)]
            passing = [each for each in tried if each is not None]
            if passing:
                found += passing
                break
    found.sort(key=lambda each: each.difference)
    return Proposals(tuple(found), "" if found else NOT_SURE)


def _read(pair: Pair, document: Document, page: MeasuredPage) -> _Read | str:
    """Read the text of a box in the picture's own pixels, or say why it isn't painted anew."""
    mark = document.box_at(pair.address)
    if not isinstance(document, OfPixels) or mark is None:
        return NOT_HERE
    info = document.pages[pair.page - 1]
    x, y, width, height = mark.box
    left, top = max(0.0, x), max(0.0, y)
    right, bottom = min(info.width, x + width), min(info.height, y + height)
    corners = corners_of((left, top, right - left, bottom - top))
    box = tuple(side * POINTS_A_PIXEL for side in corners)
    seen = document.pixels(pair.page - 1, Box(*box))
    if seen is None:
        return NOT_HERE
    others = [
        each.box
        for each in page.raster.scene.items
        if isinstance(each, PictureText) and each.address != pair.address
    ]
    if any(each.overlaps(Box(*box)) for each in others):
        return "Another box lies over this one: letters of both would be painted anew."
    try:
        found = separate(np.ascontiguousarray(seen))
    except NoText as problem:
        return str(problem)
    sure = found.unsure <= MOST_UNSURE and found.spills <= MOST_SPILLED and found.outline is None
    return _Read((box[0], box[1], box[2], box[3]), seen, found) if sure else NOT_SURE


def _footprint(read: _Read) -> Footprint:
    size = max(1.0, read.found.height / 12)
    mask = grow(read.found.ink >= INK, size)
    colours = read.found.backdrop[mask]
    backdrops, counts = np.unique(colours, axis=0, return_counts=True)
    return Footprint("", backdrops, counts.astype(np.int64), (0, 0, 0, 0))


def _letters(pair: Pair, read: _Read, goal: float, asked: Asked) -> Iterator[Repainted]:
    """Give letters in other colours: on their side of what is behind, and on the other."""
    case = Case((_footprint(read),), goal, asked.coverage)
    own = from_levels(read.found.colour)
    for each in recolours([case], own)[:2]:
        colour = np.array(each.levels, float)
        inked = read.ink * colour + (1 - read.ink) * read.found.backdrop
        # Where there is no ink what is seen stays to the last level.
        pixels = np.where(read.ink > 0, inked, read.seen)
        yield _repainted(pair, read, pixels, each.levels, each.difference)


def _plates(pair: Pair, read: _Read, goal: float, asked: Asked) -> Iterator[Repainted]:
    """Give the weakest plate of black and of white that serves, below the letters as they are.

    It fills the box, so whoever draws that says how much room the plate has.
    """
    print = _footprint(read)
    word = (print.backdrops, print.counts, np.ones(len(print.backdrops)))
    own = from_levels(read.found.colour)
    covered = covered_words([word], own, goal, asked.coverage)
    for levels in (BLACK, WHITE):
        percent = least_percent(levels, [covered])
        if not percent:
            continue
        strength = percent / 100
        behind = strength * np.array(levels, float) + (1 - strength) * read.found.backdrop
        around = strength * np.array(levels, float) + (1 - strength) * read.seen
        inked = read.ink * np.array(read.found.colour, float) + (1 - read.ink) * behind
        pixels = np.where(read.ink > 0, inked, around)
        change = float(np.mean(ciede2000(pixels / 255.0, read.seen / 255.0)))
        yield _repainted(pair, read, pixels, levels, change, percent)


def _repainted(
    pair: Pair,
    read: _Read,
    pixels: Floats,
    levels: tuple[int, int, int],
    difference: float,
    plate: int = 0,
) -> Repainted:
    painted = np.clip(np.round(pixels), 0, 255).astype(np.uint8)
    patch = patch_of(painted)
    return Repainted(pair.address, read.box, patch, levels, 0.0, difference, plate)


def _tried(remedy: Repainted, pair: Pair, asked: Asked, trial: Trial) -> Repainted | None:
    """Give a remedy with the ratio that is read when it is painted, None where it doesn't pass."""
    try:
        after = measured(trial(repaint_edits(remedy)), pair.page - 1, asked)
    except HighPairError:
        return None
    again = [each for each in after.pairs if each.address == pair.address]
    if not again or not all(each.reaches_its_aim for each in again):
        return None
    return replace(remedy, ratio=min(each.ratio or 0.0 for each in again))


def alike_repainted(
    remedy: Repainted,
    pairs: Sequence[Pair],
    document: Document,
    bench: PageBench,
    asked: Asked,
    trial: Trial,
) -> tuple[Edit, ...]:
    """Carry a remedy to alike texts of a picture, the best of its kind for each."""
    edits = list(repaint_edits(remedy))
    for pair in pairs[1:]:
        page = bench.get(document, pair.page - 1, asked)
        found = remedies_in_picture(pair, document, page, asked, trial).remedies
        same = (each for each in found if isinstance(each, Repainted) and each.kind == remedy.kind)
        edits += [edit for each in list(same)[:1] for edit in repaint_edits(each)]
    return tuple(edits)
