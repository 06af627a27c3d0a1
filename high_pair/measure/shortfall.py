"""Where on a page, pixel by pixel, text falls short of what is asked."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.compositing import over_bytes
from high_pair.colour.ratio import contrast_ratio
from high_pair.measure.footprint import areas_of, grow, grown_area, radius_of
from high_pair.measure.page import MeasuredPage
from high_pair.measure.stretches import stretches_of
from high_pair.wcag.criteria import Subject


def shortfall_mask(page: MeasuredPage) -> NDArray[np.bool_]:
    """Mark the pixels of every measured text's footprint whose ratio is under what is asked.

    Gives (h, w) of the page's raster. What is painted above a text is taken
    as part of its backdrop; the pair's own numbers say what that comes to.
    """
    raster = page.raster
    height, width = raster.numbers.shape
    found = np.zeros((height, width), bool)
    required = {
        pair.address: pair.required
        for pair in page.pairs
        if pair.numbers is not None and pair.subject is Subject.TEXT
    }
    areas = areas_of(raster.numbers, raster.word_count)
    for labelled in raster.blocks:
        for stretch in stretches_of(labelled):
            asked = required.get(stretch.address)
            if asked is None:
                continue
            look = stretch.look
            radius = radius_of(look.size, raster.scale)
            text = np.array(look.colour.levels, np.uint8)
            for number, _ in stretch.words:
                area = areas[number - 1] if number <= len(areas) else None
                if area is None:
                    continue
                grown = grown_area(area, radius, (height, width))
                behind = raster.backdrop[grown]
                if look.highlight is not None:
                    mark = np.array(look.highlight.levels, np.uint8)
                    behind = over_bytes(mark, look.highlight.opacity, behind)
                seen = over_bytes(text, look.colour.opacity, behind)
                short = contrast_ratio(seen, behind) < asked
                if short.any():
                    found[grown] |= short & grow(raster.numbers[grown] == number, radius)
    return found
