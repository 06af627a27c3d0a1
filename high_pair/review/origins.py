"""Changing things where many texts have them from, with all that this changes, measured.

A colour in a style or the theme; an overlay over a picture of a layout or a master.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from high_pair.edits.kinds import Edit, LayOver, RecolourOrigin
from high_pair.errors import Cancelled, HighPairError
from high_pair.formats.document import Document
from high_pair.measure.footprint import Footprint
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.remedy.overlays import Site, propose_overlays, site_for
from high_pair.remedy.recolour import Case, recolour_text
from high_pair.remedy.remedies import AtOrigin, Laid, Proposals, Recolour
from high_pair.review.measuring import measured
from high_pair.review.overlaying import Trial
from high_pair.scene.addresses import Address, member_of
from high_pair.scene.geometry import box_round_boxes
from high_pair.scene.overlay import OverlayKind
from high_pair.scene.text import Decider
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

# Each is tried on every page, so only the nearest few are.
MOST_TRIED = 3
Key = tuple[int, str, Subject]


Change = Recolour | Laid


@dataclass(frozen=True)
class _Before:
    """The pairs of all pages as they are, and those that fall short by what is at the origin.

    sites: of a picture, where an overlay over it would serve, page by page.
    """

    pairs: dict[Key, Pair]
    falling: list[tuple[Pair, Sequence[Footprint]]]
    sites: list[Site]


def remedies_at(
    decider: Decider,
    document: Document,
    asked: Asked,
    trial: Trial,
    progress: Callable[[int, int], None] = lambda _done, _total: None,
    stopped: Callable[[], bool] = lambda: False,
) -> Proposals:
    """Propose colours for an origin: those that mend what falls short by it, each tried everywhere.

    progress: is told how many pages of how many are painted. Raises Cancelled
    as soon as `stopped` says so.
    """
    count = len(document.pages)
    total = count * (1 + MOST_TRIED)
    before = _before(decider, document, asked, lambda done: progress(done, total), stopped)
    changes: list[tuple[Change, Edit]]
    if not before.falling:
        return Proposals((), "No text that was measured falls short by what is there.")
    if is_above(decider.address):
        laid = _overlays(decider, before, asked)
        changes = [(each, LayOver(each.address, each.overlay)) for each in laid]
        none = "No overlay over that picture serves all of these texts."
    else:
        cases = [Case(tuple(own), p.goal, asked.coverage) for p, own in before.falling]
        found = recolour_text(cases, before.falling[0][0].text_colour)
        recolours = [each for each in found.remedies if isinstance(each, Recolour)]
        changes = [(each, RecolourOrigin(decider.address, each.levels)) for each in recolours]
        none = found.none
    remedies = []
    for number, (change, edit) in enumerate(changes[:MOST_TRIED]):
        try:
            after = trial([edit])
        except HighPairError as error:
            return Proposals((), str(error))
        done = count * (1 + number)
        pairs = {}
        for page in range(count):
            _stop(stopped)
            progress(done + page, total)
            pairs.update(_keyed(measured(after, page, asked)))
        remedy = _compared(decider, change, before.pairs, pairs)
        if remedy is not None:
            remedies.append(remedy)
    progress(total, total)
    remedies.sort(key=lambda remedy: (len(remedy.broken), remedy.difference))
    return Proposals(tuple(remedies), none if not remedies else "")


def is_above(address: str) -> bool:
    """Tell whether an address is that of an overlay over a picture."""
    return Address.of(address).last.name == "above"


def reaches_of(pair: Pair, page: MeasuredPage, document: Document) -> tuple[Decider, ...]:
    """List where beyond a text a remedy may act: what decides its colour, the picture behind it."""
    site = site_for(page, [pair]) if pair.verdict is Verdict.FALLS_SHORT else ""
    if isinstance(site, str) or site.picture is None or not site.picture.address:
        return pair.deciders
    if member_of(site.picture.address) == member_of(pair.address):
        return pair.deciders
    above = document.above(site.picture.address)
    return pair.deciders if above is None else (*pair.deciders, above)


def _overlays(decider: Decider, before: _Before, asked: Asked) -> list[Laid]:
    """Propose overlays over a picture for what falls short over it, on all pages at once."""
    sites = before.sites
    if not sites:
        return []
    first = sites[0]
    whole = replace(
        first,
        served=tuple(pair for site in sites for pair in site.served),
        ink=box_round_boxes(site.room.bounds for site in sites),
        turn=0.0,
        em=max(site.em for site in sites),
        footings=tuple(footing for site in sites for footing in site.footings),
    )
    return propose_overlays(
        whole, decider.address, asked.coverage, (OverlayKind.VEIL, OverlayKind.RAMP)
    )


def _stop(stopped: Callable[[], bool]) -> None:
    if stopped():
        raise Cancelled("Looking for remedies was stopped.")


def _keyed(page: MeasuredPage) -> dict[Key, Pair]:
    return {(pair.page, pair.address, pair.subject): pair for pair in page.pairs}


def _before(
    decider: Decider,
    document: Document,
    asked: Asked,
    progress: Callable[[int], None],
    stopped: Callable[[], bool],
) -> _Before:
    pairs: dict[Key, Pair] = {}
    falling: list[tuple[Pair, Sequence[Footprint]]] = []
    sites: list[Site] = []
    for number in range(len(document.pages)):
        _stop(stopped)
        progress(number)
        page = measured(document, number, asked)
        pairs.update(_keyed(page))
        here = [pair for pair in page.pairs if _follows(pair, decider, page, document)]
        falling += [(pair, page.footprints[pair.id]) for pair in here]
        if here and is_above(decider.address):
            site = site_for(page, here)
            if isinstance(site, Site):
                # One page's pixels are enough to tell what an overlay costs; a long deck has many.
                sites.append(replace(site, page=sites[0].page) if sites else site)
    return _Before(pairs, falling, sites)


def _follows(pair: Pair, decider: Decider, page: MeasuredPage, document: Document) -> bool:
    """Tell whether a text falls short by what is at an origin."""
    if pair.verdict is not Verdict.FALLS_SHORT or pair.subject is not Subject.TEXT or pair.fixed:
        return False
    reaches = reaches_of(pair, page, document) if is_above(decider.address) else pair.deciders
    return any(each.address == decider.address for each in reaches)


def _compared(
    decider: Decider, change: Change, before: dict[Key, Pair], after: dict[Key, Pair]
) -> AtOrigin | None:
    """Say what a change at an origin does; None when it mends nothing."""
    changed, mended, broken = [], [], []
    for key, pair in before.items():
        now = after.get(key)
        if now is None or now.numbers == pair.numbers:
            continue
        changed.append(pair)
        if pair.verdict is Verdict.FALLS_SHORT and now.verdict is Verdict.PASSES:
            mended.append(now)
        elif pair.verdict is Verdict.PASSES and now.verdict is not Verdict.PASSES:
            broken.append((pair.text, pair.page))
    if not mended:
        return None
    return AtOrigin(
        decider.address,
        decider.words,
        change.overlay.levels if isinstance(change, Laid) else change.levels,
        min(pair.ratio or 0.0 for pair in mended),
        change.difference,
        len(changed),
        len({pair.page for pair in changed}),
        tuple(dict.fromkeys(pair.address for pair in changed)),
        len(mended),
        tuple(broken),
        change.overlay if isinstance(change, Laid) else None,
    )
