"""Alike pairs: the same look, origin and backdrop kind, handled together."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from high_pair.measure.pairs import Pair
from high_pair.wcag.verdicts import Verdict


@dataclass(frozen=True)
class Alike:
    """Pairs that are alike, the weakest first."""

    pairs: tuple[Pair, ...]

    @property
    def weakest(self) -> Pair:
        """The pair with the lowest ratio."""
        return self.pairs[0]


_ORDER = {verdict: place for place, verdict in enumerate(Verdict)}


def likeness(pair: Pair) -> tuple[object, ...]:
    """Give what alike pairs have in common.

    Two solid backdrops are of one kind when they have one colour, two varied ones when the same
    picture lies there, or none.
    """
    kind = "unmeasured"
    if pair.numbers is not None:
        kind = f"varied {pair.picture}" if pair.numbers.varied else pair.numbers.background
    return (
        pair.verdict,
        pair.subject,
        pair.criterion,
        pair.required,
        pair.text_colour,
        pair.size,
        pair.weight,
        pair.origin,
        kind,
        pair.reason,
    )


def shortfall(pair: Pair) -> float:
    """Give what part of the ratio that is asked a pair has, from 0; 1 and more passes."""
    return (pair.ratio or 0.0) / pair.required


def alike_groups(pairs: Iterable[Pair]) -> list[Alike]:
    """Group pairs: what falls short first, then what needs eyes; the weakest first in each."""
    groups: dict[tuple[object, ...], list[Pair]] = {}
    for pair in pairs:
        groups.setdefault(likeness(pair), []).append(pair)
    found = [
        Alike(tuple(sorted(group, key=lambda pair: pair.ratio or 0.0))) for group in groups.values()
    ]
    return sorted(found, key=_place)


def _place(group: Alike) -> tuple[int, float]:
    return _ORDER[group.weakest.verdict], group.weakest.ratio or 0.0
