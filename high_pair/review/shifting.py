"""Moving a text to where the page is calm: the nearest place, tried in the document."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from high_pair.edits.kinds import Edit, MoveShape
from high_pair.errors import HighPairError
from high_pair.formats.document import Document
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.raster.layers import Layers, paint_layers
from high_pair.remedy.remedies import Moved
from high_pair.remedy.shift import Mover, Places, mover_for, nearest
from high_pair.review.measuring import PageBench, measured
from high_pair.review.overlaying import Trial, ratio_served
from high_pair.scene.text import TextBlock
from high_pair.wcag.asked import Asked


@dataclass(frozen=True)
class Shifting:
    """A text being moved by hand, and the page without it and with it alone.

    moved: as it was proposed; places: where it was tried; layers: the page below, the text above.
    """

    moved: Moved
    mover: Mover
    places: Places
    layers: Layers

    @property
    def proposed(self) -> tuple[int, int]:
        """The place proposed, in pixels from where it stands."""
        scale = self.mover.scale
        return round(self.moved.across * scale), round(self.moved.down * scale)

    def moved_to(self, across: int, down: int) -> Moved:
        """Give the remedy for a place, with the ratio there."""
        if (across, down) == self.proposed:
            return self.moved
        scale = self.mover.scale
        return replace(
            self.moved,
            across=across / scale,
            down=down / scale,
            ratio=self.mover.ratio_at(across, down),
            past=self.mover.goes_past(down),
        )

    def trouble_at(self, across: int, down: int) -> str:
        """Say why a text can't be moved to a place; empty where it can."""
        if not self.mover.passes_at(across, down):
            return "falls short here"
        if not self.mover.may_stand_at(across, down):
            return "covers something here, or leaves the margins"
        return ""

    def kept_on_the_page(self, across: int, down: int) -> tuple[int, int]:
        """Give the nearest place to one at which all of the text is on the page."""
        places = self.places
        limits = ((across, places.across), (down, places.down))
        found = [min(max(at, int(line[0])), int(line[-1])) for at, line in limits]
        return found[0], found[1]


def shifting_for(
    moved: Moved,
    pair: Pair,
    document: Document,
    bench: PageBench,
    asked: Asked,
    width: int,
) -> Shifting:
    """Prepare moving a text by hand, with the page `width` pixels wide.

    Raises HighPairError when the text isn't there any more.
    """
    page = bench.get(document, pair.page - 1, asked)
    here = next((each for each in page.pairs if each.address == pair.address), None)
    mover = mover_of(here, document, page, asked) if here is not None else ""
    if isinstance(mover, str) or here is None:
        raise HighPairError(mover or "This text was changed meanwhile.")
    scene = document.scene(pair.page - 1)
    level = page.places[here.id].level
    others = (*scene.items[:level], *scene.items[level + 1 :])
    parted = replace(scene, items=(*others, scene.items[level]))
    layers = paint_layers(parted, document.pictures, width, len(others))
    return Shifting(moved, mover, mover.places(), layers)


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
    past = mover.goes_past(place[1])
    return Moved(address, across, down, mover.ratio_at(*place), box, turn, serves, past=past)


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
    bench: PageBench,
    asked: Asked,
    trial: Trial,
) -> tuple[Edit, ...]:
    """Carry a move to alike texts, each to the nearest place of its own."""
    edits, served = list(move_edits(moved)), set(moved.serves)
    for pair in pairs:
        if pair.address not in served:
            page = bench.get(document, pair.page - 1, asked)
            for other in moves_for(pair, document, page, asked, trial):
                edits += move_edits(other)
                served |= set(other.serves)
    return tuple(edits)
