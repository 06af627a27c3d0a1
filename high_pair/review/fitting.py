"""Fitting an overlay by hand: what it does to its pairs, at once, as it is moved."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from high_pair.errors import HighPairError
from high_pair.formats.document import Document
from high_pair.measure.pairs import Pair
from high_pair.raster.layers import Layers, paint_layers
from high_pair.remedy.footings import Footing, covered
from high_pair.remedy.overlays import (
    Site,
    colours_for,
    costed,
    footings_under,
    ramp_towards,
    ramp_ways,
    site_for,
)
from high_pair.remedy.remedies import Laid
from high_pair.remedy.strength import (
    FULL,
    Covered,
    Levels,
    least_percent,
    passes_with,
    passing_percents,
    ratio_with,
)
from high_pair.review.measuring import PageBench
from high_pair.review.overlaying import Trial, level_at, overlay_edits
from high_pair.scene.overlay import Overlay, OverlayKind
from high_pair.scene.paint import from_levels
from high_pair.wcag.asked import Asked


@dataclass(frozen=True)
class Fitting:
    """An overlay being fitted, and the page below and above it.

    laid: as it was proposed; site: what it serves; layers: the page as pixels;
    theme: the file's own colours; shaped: what lies over the overlay's shape as it
    was last, so that a frame of its strength needn't find it anew.
    """

    laid: Laid
    site: Site
    asked: Asked
    layers: Layers
    theme: tuple[Levels, ...] = ()
    shaped: dict[Overlay, list[tuple[Footing, Covered]]] = field(
        default_factory=dict, compare=False, repr=False
    )

    def _covered(self, overlay: Overlay) -> list[tuple[Footing, Covered]]:
        """Give what lies over an overlay; while its shape stays, the same as before."""
        shape = replace(overlay, levels=(0, 0, 0), percent=0)
        found = self.shaped.get(shape)
        if found is None:
            text = from_levels(self.laid.text) if self.laid.text is not None else None
            found = []
            for footing in footings_under(self.site, overlay):
                pair = covered(footing, overlay, self.asked.coverage)
                if text is not None and footing.served:
                    pair = replace(pair, text=text)
                found.append((footing, pair))
            self.shaped.clear()
            self.shaped[shape] = found
        return found

    def ratio(self, overlay: Overlay) -> tuple[float, float]:
        """Give the weakest ratio of those served, and what is asked there.

        As long as the overlay is as it was proposed, that which it was measured with.
        """
        found = [
            (ratio_with(pair, overlay.levels, overlay.percent), pair.required)
            for footing, pair in self._covered(overlay)
            if footing.served
        ]
        ratio, asked = min(found, key=lambda each: each[0] / each[1])
        return (self.laid.ratio if overlay == self.laid.overlay else ratio), asked

    def broken(self, overlay: Overlay) -> str:
        """Give the words of a text that passes now and would fall short, empty for none."""
        for footing, pair in self._covered(overlay):
            if not footing.served and not passes_with(pair, overlay.levels, overlay.percent):
                return footing.pair.text
        return ""

    def passing(self, overlay: Overlay) -> NDArray[np.bool_]:
        """Tell for every percent (101,) whether all served pass and no other pair is broken."""
        found = np.ones(FULL + 1, bool)
        for _, pair in self._covered(overlay):
            if not pair.served and not passes_with(pair, overlay.levels, 0):
                continue
            if pair.text.opacity >= 1 and (pair.shares == 1.0).all():
                found &= passing_percents(pair, overlay.levels)
            else:
                for percent in np.flatnonzero(found):
                    found[percent] = passes_with(pair, overlay.levels, int(percent))
        return found

    def least(self, overlay: Overlay) -> int | None:
        """Give the least percent at which it passes, None where none does."""
        return least_percent(overlay.levels, [pair for _, pair in self._covered(overlay)])

    def with_overlay(self, overlay: Overlay) -> Laid:
        """Give the remedy with the overlay as it was fitted."""
        if overlay == self.laid.overlay and not self.laid.before:
            return self.laid
        pairs = [pair for _, pair in self._covered(overlay)]
        found = costed(self.site, self.laid.address, overlay, pairs)
        return replace(found, text=self.laid.text)

    @property
    def colours(self) -> list[Levels]:
        """The colours that lie near at hand."""
        return colours_for(self.site)

    @property
    def ways(self) -> dict[str, float]:
        """The ways on which a ramp may fade, by their names."""
        return ramp_ways(self.site.ground)

    def turned(self, ramp: Overlay, towards: float) -> Overlay:
        """Give a ramp that fades in another direction, full as far as the text needs it."""
        found = ramp_towards(self.site, towards)
        return replace(
            ramp, towards=towards, full=found.full, none=max(found.none, found.full + 0.02)
        )


def fitting_for(
    laid: Laid,
    pair: Pair,
    document: Document,
    bench: PageBench,
    asked: Asked,
    trial: Trial,
    width: int,
    tints: Sequence[tuple[int, int, int]] = (),
) -> Fitting:
    """Prepare the fitting of an overlay, with the page `width` pixels wide.

    tints: colours that are offered besides the file's own.
    Raises HighPairError when the text that it serves isn't there any more.
    """
    page = bench.get(document, pair.page - 1, asked)
    served = [each for each in page.pairs if each.address in laid.serves and each.id in page.places]
    level = level_at(laid.address, page, document)
    site = (
        site_for(page, served, level, margin=False)
        if served
        else "This text was changed meanwhile."
    )
    if isinstance(site, str):
        raise HighPairError(site)
    scene = document.scene(pair.page - 1)
    split = _place_of(scene.items, trial(overlay_edits(laid)).scene(pair.page - 1).items)
    if laid.overlay.kind is OverlayKind.DIM:
        # The ground comes in below the picture; over it, the same colour looks the same.
        split += 1
    layers = paint_layers(scene, document.pictures, width, split)
    near = tuple(dict.fromkeys((*tints, *document.colours(pair.page - 1))))
    return Fitting(laid, site, asked, layers, near)


def _place_of(before: Sequence[object], after: Sequence[object]) -> int:
    """Find where among a page's items an overlay comes in: where the two first differ."""
    same = (one == other for one, other in zip(before, after, strict=False))
    return next((place for place, alike in enumerate(same) if not alike), len(before))
