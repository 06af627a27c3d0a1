"""Finding overlays for a pair, trying each in the document, and keeping those that pass there."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from high_pair.edits.kinds import Edit, LayOver, RecolourText
from high_pair.errors import HighPairError
from high_pair.formats.document import Document
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.remedy.overlays import (
    Site,
    propose_overlays,
    site_for,
    texts_below,
    visible_change,
    with_other_text,
)
from high_pair.remedy.remedies import Laid
from high_pair.remedy.strength import FULL
from high_pair.review.measuring import PageBench, measured
from high_pair.scene.addresses import member_of
from high_pair.scene.overlay import OverlayKind
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

# Gives the document with further edits besides those in force.
Trial = Callable[[Sequence[Edit]], Document]
# How many percent more are tried where the painted page falls short of what was worked out.
FURTHER = 3
# So many colours of a set are tried as tints.
MOST_TINTS = 24
BEHIND_THE_TEXT = (OverlayKind.PLATE, OverlayKind.SOFT_PLATE)
OVER_THE_PICTURE = (OverlayKind.VEIL, OverlayKind.RAMP, OverlayKind.DIM)


def overlay_edits(laid: Laid) -> tuple[Edit, ...]:
    """Write an overlay down as edits."""
    edits: list[Edit] = [LayOver(laid.address, laid.overlay, laid.serves)]
    if laid.text is not None:
        edits += [RecolourText(address, laid.text) for address in dict.fromkeys(laid.serves)]
    return tuple(edits)


def overlays_for(
    pair: Pair,
    document: Document,
    bench: PageBench,
    asked: Asked,
    trial: Trial,
    tints: Sequence[tuple[int, int, int]] = (),
) -> tuple[Laid, ...]:
    """Propose overlays for a pair, those that pass when painted, the least change first.

    tints: colours that are tried besides the page's own.
    A plate serves all that falls short in the pair's own text; a veil and a
    ramp serve all that falls short over the same picture.
    """
    page = bench.get(document, pair.page - 1, asked)
    found = possible_overlays(pair, document, page, asked, tints=tints)
    passing = [each for laid in found if (each := tried(laid, page, pair.page, asked, trial))]
    if not passing:
        both = with_text(pair, document, page, asked)
        tried_both = tried(both, page, pair.page, asked, trial) if both else None
        passing = [tried_both] if tried_both else []
    return tuple(sorted(passing, key=visible_change))


def possible_overlays(
    pair: Pair,
    document: Document,
    page: MeasuredPage,
    asked: Asked,
    wanted: frozenset[OverlayKind] = frozenset(OverlayKind),
    colour: tuple[int, int, int] | None = None,
    tints: Sequence[tuple[int, int, int]] = (),
) -> list[Laid]:
    """Work out overlays for a pair, the best of each kind that is wanted.

    colour: what the page has already for another overlay, which is taken where it serves;
    tints: colours that are tried besides the page's own.
    """
    found: list[Laid] = []
    groups: list[tuple[tuple[OverlayKind, ...], list[Pair]]] = [
        (BEHIND_THE_TEXT, _close_by(page, _in_one_block(page, pair)))
    ]
    if pair.numbers is not None and pair.numbers.varied:
        # On one plain colour there is nothing to veil.
        groups.append((OVER_THE_PICTURE, _over_one_picture(page, pair)))
    for every, served in groups:
        kinds = [kind for kind in every if kind in wanted]
        laid = _proposed(page, document, served, kinds, asked, colour, tints) if kinds else []
        if not laid and len(served) > 1:
            laid = _proposed(page, document, [pair], kinds, asked, colour, tints)
        found += laid
    return sorted(found, key=visible_change)


def like_overlay(
    laid: Laid, pairs: Sequence[Pair], document: Document, bench: PageBench, asked: Asked
) -> Laid | None:
    """Propose an overlay of the same kind for pairs of another page, solved for what is there.

    The same colour where it serves, else the best of those tried.
    """
    page = bench.get(document, pairs[0].page - 1, asked)
    kind = (laid.overlay.kind,)
    found = _proposed(page, document, list(pairs), kind, asked, laid.overlay.levels)
    return found[0] if found else None


def overlays_on_pages(
    laid: Laid,
    pairs: Sequence[Pair],
    document: Document,
    bench: PageBench,
    asked: Asked,
    trial: Trial,
    one_strength: bool = False,
) -> list[Edit]:
    """Carry an overlay to every page that has one of the pairs, each solved for what is there.

    one_strength: all have the strongest's, where that passes too.
    """
    found_on: list[tuple[Laid, int]] = [(laid, pairs[0].page)]
    for number in sorted({pair.page for pair in pairs}):
        page = bench.get(document, number - 1, asked)
        here = [pair for pair in pairs if pair.page == number and pair.address not in laid.serves]
        # Each text of the page has a plate of its own; a veil serves them all.
        groups = [here] if laid.overlay.kind in OVER_THE_PICTURE else _by_block(page, here)
        for group in groups:
            found = like_overlay(laid, group, document, bench, asked) if group else None
            passing = tried(found, page, number, asked, trial) if found else None
            if passing is not None:
                found_on.append((passing, number))
    if one_strength:
        strongest = max(each.overlay.percent for each, _ in found_on)
        found_on = [
            (_as_strong(each, strongest, bench, document, number, asked, trial), number)
            for each, number in found_on
        ]
    return [edit for each, _ in found_on for edit in overlay_edits(each)]


def _as_strong(
    laid: Laid,
    percent: int,
    bench: PageBench,
    document: Document,
    number: int,
    asked: Asked,
    trial: Trial,
) -> Laid:
    """Give an overlay at a strength, or as it was where that doesn't pass."""
    page = bench.get(document, number - 1, asked)
    stronger = replace(laid, overlay=replace(laid.overlay, percent=percent))
    return tried(stronger, page, number, asked, trial) or laid


def _by_block(page: MeasuredPage, pairs: Sequence[Pair]) -> list[list[Pair]]:
    found: dict[int, list[Pair]] = {}
    for pair in pairs:
        if pair.id in page.places:
            found.setdefault(page.places[pair.id].level, []).append(pair)
    return list(found.values())


def _falling(page: MeasuredPage) -> list[Pair]:
    return [
        pair
        for pair in page.pairs
        if pair.verdict is Verdict.FALLS_SHORT
        and pair.subject is Subject.TEXT
        and not pair.fixed
        and pair.id in page.places
    ]


def _in_one_block(page: MeasuredPage, pair: Pair) -> list[Pair]:
    """Give the pair and what else falls short in the same text."""
    place = page.places.get(pair.id)
    others = [
        each
        for each in _falling(page)
        if place is not None and page.places[each.id].level == place.level and each.id != pair.id
    ]
    return [pair, *others]


def _close_by(page: MeasuredPage, served: list[Pair]) -> list[Pair]:
    """Give the pairs and what else falls short where their plate would lie: one serves all."""
    if page.raster.scene.painting is not None:
        # There each text has a plate of its own, its element's background.
        return served
    found = list(served)
    while True:
        site = site_for(page, found)
        if isinstance(site, str):
            return found if len(found) == len(served) else list(served)
        ids = {pair.id for pair in found}
        region = site.soft_room.bounds
        near = [
            each
            for each in _falling(page)
            if each.id not in ids
            and isinstance(other := site_for(page, [each]), Site)
            and (other.ground, other.turn) == (site.ground, site.turn)
            and region.overlaps(other.soft_room.bounds)
        ]
        if not near:
            return found
        found += near


def _over_one_picture(page: MeasuredPage, pair: Pair) -> list[Pair]:
    """Give the pair and what else falls short over the picture behind it."""
    site = site_for(page, [pair])
    if isinstance(site, str):
        return [pair]
    ground = site.ground
    found = [pair]
    for each in _falling(page):
        x, y, width, height = each.bbox
        middle = (x + width / 2, y + height / 2)
        inside = ground.x <= middle[0] <= ground.right and ground.y <= middle[1] <= ground.bottom
        if each.id != pair.id and inside:
            other = site_for(page, [each])
            if isinstance(other, Site) and other.ground == ground:
                found.append(each)
    return found


def _proposed(
    page: MeasuredPage,
    document: Document,
    served: list[Pair],
    kinds: Sequence[OverlayKind],
    asked: Asked,
    colour: tuple[int, int, int] | None = None,
    tints: Sequence[tuple[int, int, int]] = (),
) -> list[Laid]:
    placed = _site_and_address(page, document, served, kinds)
    if placed is None:
        return []
    site, address = placed
    if colour is not None:
        first = propose_overlays(site, address, asked.coverage, kinds, (), (colour,))
        if first:
            return first
    own = (*tints[:MOST_TINTS], *document.colours(site.served[0].page - 1))
    return propose_overlays(site, address, asked.coverage, kinds, own)


def with_text(pair: Pair, document: Document, page: MeasuredPage, asked: Asked) -> Laid | None:
    """Work out a plate with another colour for the text, where none serves the one it has."""
    served = _in_one_block(page, pair)
    placed = _site_and_address(page, document, served, (OverlayKind.PLATE,))
    return with_other_text(*placed, asked.coverage) if placed else None


def _site_and_address(
    page: MeasuredPage, document: Document, served: list[Pair], kinds: Sequence[OverlayKind]
) -> tuple[Site, str] | None:
    """Find where overlays for pairs go: below the lowest of their texts.

    And below any other text that they would be painted over, if it is the page's own.
    """
    site = site_for(page, served)
    if isinstance(site, str):
        return None
    lowest = min(served, key=lambda pair: page.places[pair.id].level)
    for under in texts_below(page, site, kinds):
        if member_of(under.address) == member_of(lowest.address):
            below = site_for(page, served, page.places[under.id].level)
            if not isinstance(below, str) and document.overlay_address(under.address):
                site, lowest = below, under
            break
    address = document.overlay_address(lowest.address)
    return (site, address) if address is not None else None


def level_at(address: str, page: MeasuredPage, document: Document) -> int | None:
    """Give the place in the scene above which the overlay at an address lies."""
    levels = [
        page.places[pair.id].level
        for pair in page.pairs
        if pair.id in page.places and document.overlay_address(pair.address) == address
    ]
    return min(levels, default=None)


def tried(laid: Laid, before: MeasuredPage, page: int, asked: Asked, trial: Trial) -> Laid | None:
    """Give an overlay with the ratio that it has when painted; None where it doesn't pass there.

    page: from 1. A percent or three more are tried where rounding takes what was worked out.
    """
    for percent in range(laid.overlay.percent, min(FULL, laid.overlay.percent + FURTHER) + 1):
        now = replace(laid, overlay=replace(laid.overlay, percent=percent))
        try:
            after = measured(trial(overlay_edits(now)), page - 1, asked)
        except HighPairError:
            return None
        ratio = ratio_served(before, after, now.serves)
        if ratio is not None:
            return replace(now, ratio=ratio)
    return None


def ratio_served(before: MeasuredPage, after: MeasuredPage, serves: Sequence[str]) -> float | None:
    """Give the weakest ratio of those served, None where one doesn't pass or another is broken."""
    # Cells of one style may be several pairs: the same cells are compared, else the weakest.
    exact = {(pair.address, pair.subject, pair.where, pair.text): pair for pair in after.pairs}
    weakest: dict[tuple[str, Subject], Pair] = {}
    for pair in sorted(after.pairs, key=lambda each: each.ratio or 0.0, reverse=True):
        weakest[(pair.address, pair.subject)] = pair
    ratios = []
    for pair in before.pairs:
        now = exact.get((pair.address, pair.subject, pair.where, pair.text)) or weakest.get(
            (pair.address, pair.subject)
        )
        if now is None and pair.appears:
            # What shows in states alone isn't painted when a change is tried.
            continue
        if pair.address in serves and pair.subject is not Subject.LINK:
            if now is None or not now.reaches_its_aim or now.ratio is None:
                return None
            ratios.append(now.ratio)
        elif pair.verdict is Verdict.PASSES and (now is None or now.verdict is not Verdict.PASSES):
            return None
    return min(ratios, default=None)
