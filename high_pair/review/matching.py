"""Finding texts again in pages that were measured anew, after a change."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from high_pair.measure.pairs import Pair
from high_pair.scene.addresses import expand
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict


class MeasuredAnew:
    """The pairs of a page as measured anew, by what those from before are found again by."""

    def __init__(self, pairs: Iterable[Pair]) -> None:
        self._exact: dict[object, list[Pair]] = {}
        self._at: dict[object, list[Pair]] = {}
        self._said: dict[object, list[Pair]] = {}
        for pair in pairs:
            self._exact.setdefault(_exact(pair), []).append(pair)
            self._said.setdefault((pair.subject, pair.where, pair.text), []).append(pair)
            for address in expand(pair.address):
                self._at.setdefault((pair.subject, address), []).append(pair)

    def again(self, pair: Pair) -> list[Pair]:
        """Give what a pair is now; empty when it is gone.

        Neighbours that look alike now are one pair; cells of a look may have another
        address, and are where they were.
        """
        found = self._exact.get(_exact(pair), [])
        if not found:
            at = (self._at.get((pair.subject, each), []) for each in expand(pair.address))
            found = list({id(each): each for pairs in at for each in pairs}.values())
        return found or self._said.get((pair.subject, pair.where, pair.text), [])

    def holds(self, pair: Pair, demand: float = 0.0, aiming: bool = False) -> bool:
        """Tell whether a pair passes now. demand: a ratio that it is to reach besides; aiming: it
        is to reach its aim."""
        found = self.again(pair)
        if not found:
            # A link that is underlined needn't be told by its colour; other text can't be gone.
            return pair.subject is Subject.LINK or bool(pair.appears)
        return all(
            each.verdict is Verdict.PASSES
            and (each.ratio or 0.0) >= demand
            and (each.reaches_its_aim or not aiming)
            for each in found
        )


def _exact(pair: Pair) -> object:
    return pair.subject, pair.address, pair.where, pair.text


def at_addresses(pairs: Sequence[Pair], addresses: frozenset[str]) -> list[Pair]:
    """Give the pairs that stand at some single addresses."""
    return [pair for pair in pairs if addresses & set(expand(pair.address))]
