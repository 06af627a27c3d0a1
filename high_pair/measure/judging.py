"""From what is known of a stretch of text to its pair: the verdict, or why there is none."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from high_pair.measure.conditions import Finding
from high_pair.measure.footprint import Footprint, ratios_of
from high_pair.measure.pairs import (
    Pair,
    judged,
    numbers_of,
    numbers_of_shades,
    pair_of,
    required_ratio,
)
from high_pair.measure.stretches import Stretch
from high_pair.raster.page import PageRaster
from high_pair.scene.paint import Colour
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Exemption, Verdict

# Which of its colours a letter shows at a place depends on the program.
SHADES = (
    "its letters have several colours, by a gradient, a pattern or an outline, "
    "and not all of them have enough contrast"
)
# Sizes that are surely not, and surely, large-scale, in points.
SMALL, LARGE = 8.0, 36.0


def pair_of_stretch(stretch: Stretch, finding: Finding, page: int, asked: Asked) -> Pair:
    """Give a stretch's pair without its numbers."""
    labelled = stretch.labelled
    return pair_of(
        stretch.look,
        page,
        labelled.block.where,
        asked,
        finding.bbox,
        estimated=labelled.estimated,
        text=stretch.text,
        address=stretch.address,
        verdict=finding.verdict or Verdict.NEEDS_EYES,
        reason=finding.reason,
    )


def judge(raster: PageRaster, stretch: Stretch, finding: Finding, page: int, asked: Asked) -> Pair:
    """Give a stretch's pair, measured where it can be."""
    pair = pair_of_stretch(stretch, finding, page, asked)
    if finding.verdict is None:
        shades = stretch.look.shades or (pair.text_colour,)
        found = numbers_of_shades(
            finding.footprints, shades, pair.required, asked.coverage, raster.scale
        )
        if found is None:
            pair = replace(pair, reason=stretch.look.why_shades or SHADES)
        elif (finding.strongest and not _is_sure(finding, found[0].ratio, pair, asked)) or (
            finding.anywhere is not None
            and _depends_on_place(finding.anywhere, shades, pair.required)
        ):
            pair = replace(pair, reason=finding.reason)
        else:
            numbers, colour = found
            pair = judged(pair, numbers, text_colour=colour, reason="")
            if stretch.look.unsized:
                pair = _in_either_size(pair, stretch.look.unsized, asked)
    return exempt_when_hidden(pair, raster.scene.hidden)


def _is_sure(finding: Finding, worst: float, pair: Pair, asked: Asked) -> bool:
    """Tell whether a text has one verdict on all that may be behind it."""
    best = numbers_of(finding.strongest, pair.text_colour, pair.required, asked.coverage, 1.0)
    return worst >= pair.required or best.ratio < pair.required


def _in_either_size(pair: Pair, why: str, asked: Asked) -> Pair:
    """Give the verdict of a text of unknown size where it is the same for small and for large."""
    _, most = required_ratio(Subject.TEXT, SMALL, pair.weight, asked.level)
    _, least = required_ratio(Subject.TEXT, LARGE, pair.weight, asked.level)
    ratio = pair.ratio or 0.0
    if least <= ratio < most:
        return replace(pair, verdict=Verdict.NEEDS_EYES, reason=why, numbers=None)
    return pair


def _depends_on_place(anywhere: Footprint, shades: Sequence[Colour], required: float) -> bool:
    """Tell whether text in doubt passes on some of what it may stand on, and not on the rest."""
    passes = np.concatenate([ratios_of(anywhere, shade) >= required for shade in shades])
    return bool(passes.any() and not passes.all())


def exempt_when_hidden(pair: Pair, hidden: bool) -> Pair:
    """Give a pair of a page that may be hidden, of which the standard asks nothing."""
    if not hidden or pair.verdict is Verdict.EXEMPT:
        return pair
    return replace(pair, verdict=Verdict.EXEMPT, reason=str(Exemption.HIDDEN_PAGE))
