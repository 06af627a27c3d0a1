"""Finding texts again in pages that were measured anew, after a change."""

from __future__ import annotations

from collections.abc import Sequence

from high_pair.measure.pairs import Pair
from high_pair.scene.addresses import expand
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict


def found_again(pair: Pair, pairs: Sequence[Pair]) -> list[Pair]:
    """Give what a pair is among those of its page as measured anew; empty when it is gone.

    Neighbours that look alike now are one pair; cells of a look may have another
    address, and are where they were.
    """
    same = [each for each in pairs if each.subject is pair.subject]
    exact = (pair.address, pair.where, pair.text)
    found = [each for each in same if (each.address, each.where, each.text) == exact]
    if not found:
        addresses = set(expand(pair.address))
        found = [each for each in same if addresses & set(expand(each.address))]
    if not found:
        found = [each for each in same if (each.where, each.text) == (pair.where, pair.text)]
    return found


def holds(pair: Pair, pairs: Sequence[Pair], demand: float = 0.0) -> bool:
    """Tell whether a pair passes among those of its page as measured anew.

    demand: a ratio that it is to reach besides.
    """
    found = found_again(pair, pairs)
    if not found:
        # A link that is underlined needn't be told by its colour; other text can't be gone.
        return pair.subject is Subject.LINK or bool(pair.appears)
    return all(each.verdict is Verdict.PASSES and (each.ratio or 0.0) >= demand for each in found)


def at_addresses(pairs: Sequence[Pair], addresses: frozenset[str]) -> list[Pair]:
    """Give the pairs that stand at some single addresses."""
    return [pair for pair in pairs if addresses & set(expand(pair.address))]
