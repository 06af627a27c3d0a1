"""Moving a text to where the page is calm: the nearest place, tried in the document."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from high_pair.edits.kinds import Edit, MoveShape
from high_pair.errors import HighPairError
from high_pair.formats.document import Document
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.remedy.remedies import Moved
from high_pair.remedy.shift import Mover, mover_for, nearest
from high_pair.review.measuring import measured
from high_pair.review.overlaying import Trial, ratio_served
from high_pair.scene.text import TextBlock
from high_pair.wcag.asked import Asked


def move_edits(moved: Moved) -> tuple[Edit, ...]:
    """Write a move down as an edit."""
    return (
        MoveShape(moved.address, moved.across, moved.down, moved.box, moved.turn, moved.serves),
    )


def moves_for(
    pair: Pair, document: Document, page: MeasuredPage, asked: Asked, trial: Trial
) -> list[Moved]:
    """Propose the nearest place on the page where a text's shape passes as it is, if there is one.

    Only where what is behind it varies: on one colour all places are alike.
    """
    if pair.numbers is None or not pair.numbers.varied:
        return []
    mover = mover_of(pair, document, page, asked)
    if isinstance(mover, str):
        return []
    place = nearest(mover, mover.places())
    if place is None:
        return []
    moved = moved_to(mover, pair, document, page, place)
    done = tried(moved, page, asked, trial) if moved is not None else None
    return [done] if done is not None else []


def mover_of(pair: Pair, document: Document, page: MeasuredPage, asked: Asked) -> Mover | str:
    """Find what moves with a text, or say why it can't be moved."""
    if document.shape_address(pair.address) is None:
        return "Only a shape of the page's own is moved."
    return mover_for(page, pair, asked.coverage)


def moved_to(
    mover: Mover, pair: Pair, document: Document, page: MeasuredPage, place: tuple[int, int]
) -> Moved | None:
    """Give the move that leads to a place, in pixels from where the text stands."""
    address = document.shape_address(pair.address)
    block = page.raster.scene.items[page.places[pair.id].level]
    if address is None or not isinstance(block, TextBlock) or block.bare is None:
        return None
    bare, way = block.bare, block.transform
    turn = round(math.degrees(math.atan2(way.b, way.a)), 4) % 360
    across, down = (each / mover.scale for each in place)
    serves = tuple(dict.fromkeys(each.address for each in mover.pairs))
    box = (bare.x, bare.y, bare.width, bare.height)
    return Moved(address, across, down, mover.ratio_at(*place), box, turn, serves)


def tried(moved: Moved, page: MeasuredPage, asked: Asked, trial: Trial) -> Moved | None:
    """Give a move with the ratio that it is measured with; None where a text doesn't pass there."""
    try:
        after = measured(trial(move_edits(moved)), page.pairs[0].page - 1, asked)
    except HighPairError:
        return None
    ratio = ratio_served(page, after, moved.serves)
    return None if ratio is None else replace(moved, ratio=ratio)


def alike_moves(
    moved: Moved,
    pairs: Sequence[Pair],
    document: Document,
    pages: Sequence[MeasuredPage],
    asked: Asked,
    trial: Trial,
) -> tuple[Edit, ...]:
    """Carry a move to alike texts, each to the nearest place of its own; pages: of each pair."""
    edits, served = list(move_edits(moved)), set(moved.serves)
    for pair, page in zip(pairs, pages, strict=True):
        if pair.address not in served:
            for other in moves_for(pair, document, page, asked, trial):
                edits += move_edits(other)
                served |= set(other.serves)
    return tuple(edits)
