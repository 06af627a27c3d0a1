"""Whether a verdict holds where another font stands in for the one that is wanted.

Letters of the wanted font may be wider or narrower, and break lines elsewhere. Where something
lies near, a text that only just stays on its panel doesn't pass by luck: its verdict has to hold
for widths a share either way, with the lines that come of that.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from high_pair.measure.conditions import Conditions
from high_pair.measure.footprint import areas_of, one_colour
from high_pair.measure.judging import judge
from high_pair.measure.pairs import Pair
from high_pair.measure.stretches import stretches_of
from high_pair.raster.layout import has_stand_ins, with_widths
from high_pair.raster.page import LabelledBlock, PageRaster, set_otherwise
from high_pair.raster.pictures import Pictures
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict

# By so much the wanted font's letters may be wider or narrower.
SHARE = 0.12
WIDTHS = (
    "the file's font isn't at hand, and with letters somewhat wider or narrower the text stands on "
    "something else"
)
MEASURED = (Verdict.PASSES, Verdict.FALLS_SHORT)


def may_stand_otherwise(raster: PageRaster, labelled: LabelledBlock, own: Conditions) -> bool:
    """Tell whether other widths would make a difference to a block of stand-in letters."""
    block = labelled.block
    # Text that flows takes what is behind it along, and a place in doubt is asked about already.
    if block.estimated or block.doubt or own.whole is None or not has_stand_ins(block):
        return False
    rows, columns = own.whole
    size = max(word.run.size for word in labelled.words) * raster.scale
    room = (columns.stop - columns.start) * SHARE + size
    height, width = raster.numbers.shape
    near = (
        slice(max(0, int(rows.start - 2 * size)), min(height, int(rows.stop + 2 * size))),
        slice(max(0, int(columns.start - room)), min(width, int(columns.stop + room))),
    )
    return own.lost is not None or one_colour(raster.backdrop[near]) is None


def with_other_widths(
    raster: PageRaster,
    pictures: Pictures,
    labelled: LabelledBlock,
    pairs: Sequence[Pair],
    page: int,
    asked: Asked,
) -> list[Pair]:
    """Give a block's pairs, one for each stretch in order, of which those whose verdict doesn't
    hold for other widths need eyes."""
    found = list(pairs)
    for share in (-SHARE, SHARE):
        block = with_widths(labelled.block, share)
        other, set_anew = set_otherwise(raster, labelled, block)
        areas = areas_of(other.numbers, raster.word_count)
        conditions = Conditions(other, pictures, set_anew, areas, None)
        for place, stretch in enumerate(stretches_of(set_anew)):
            if found[place].verdict not in MEASURED:
                continue
            verdict = judge(other, stretch, conditions.find(stretch), page, asked).verdict
            if verdict is not found[place].verdict and verdict is not Verdict.EXEMPT:
                found[place] = replace(
                    found[place], verdict=Verdict.NEEDS_EYES, reason=WIDTHS, numbers=None
                )
    return found
