"""Recolouring where a colour is decided for many texts, with all that it changes, measured."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from high_pair.errors import Cancelled, HighPairError
from high_pair.formats.document import Document
from high_pair.measure.footprint import Footprint
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Asked, Pair
from high_pair.remedy.edits import RecolourOrigin
from high_pair.remedy.recolour import Case, recolour_text
from high_pair.remedy.remedies import AtOrigin, Proposals, Recolour
from high_pair.review.measuring import measured
from high_pair.review.overlaying import Trial
from high_pair.scene.text import Decider
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

# Each is tried on every page, so only the nearest few are.
MOST_TRIED = 3
JUDGED = (Verdict.PASSES, Verdict.FALLS_SHORT)
Key = tuple[int, str, Subject]


@dataclass(frozen=True)
class _Before:
    """The pairs of all pages as they are, and what those at the origin ask of a colour."""

    pairs: dict[Key, Pair]
    cases: list[Case]
    colour: Pair


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
    if before is None:
        return Proposals((), "No text that was measured takes its colour from there.")
    found = recolour_text(before.cases, before.colour.text_colour)
    remedies = []
    tried = [each for each in found.remedies if isinstance(each, Recolour)][:MOST_TRIED]
    for number, recolour in enumerate(tried):
        edit = RecolourOrigin(decider.address, recolour.levels)
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
        remedy = _compared(decider, recolour, before.pairs, pairs)
        if remedy is not None:
            remedies.append(remedy)
    progress(total, total)
    remedies.sort(key=lambda remedy: (len(remedy.broken), remedy.difference))
    return Proposals(tuple(remedies), found.none if not remedies else "")


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
) -> _Before | None:
    pairs: dict[Key, Pair] = {}
    falling: list[tuple[Pair, Sequence[Footprint]]] = []
    for number in range(len(document.pages)):
        _stop(stopped)
        progress(number)
        page = measured(document, number, asked)
        pairs.update(_keyed(page))
        for pair in page.pairs:
            follows = any(each.address == decider.address for each in pair.deciders)
            short = pair.verdict is Verdict.FALLS_SHORT and pair.subject is Subject.TEXT
            if follows and short and not pair.fixed:
                falling.append((pair, page.footprints[pair.id]))
    if not falling:
        return None
    cases = [Case(tuple(own), pair.required, asked.coverage) for pair, own in falling]
    return _Before(pairs, cases, falling[0][0])


def _compared(
    decider: Decider, recolour: Recolour, before: dict[Key, Pair], after: dict[Key, Pair]
) -> AtOrigin | None:
    """Say what a colour at an origin changes; None when it mends nothing."""
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
        recolour.levels,
        min(pair.ratio or 0.0 for pair in mended),
        recolour.difference,
        len(changed),
        len({pair.page for pair in changed}),
        tuple(dict.fromkeys(pair.address for pair in changed)),
        len(mended),
        tuple(broken),
    )
