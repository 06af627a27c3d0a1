"""Going from a set's colours to better ones, where a program finds none or is too slow."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np

from high_pair.colour.difference import ciede2000_of_lab, cielab_of
from high_pair.colour.srgb import Floats, from_bytes
from high_pair.colour.vision import Eyes, seen_with
from high_pair.remedy.set_candidates import (
    GIVEN_UP,
    MOST_EXACT,
    ROUNDING,
    Clock,
    Node,
    as_found,
    luminances,
    ratios,
    total,
)
from high_pair.remedy.set_nearness import Nearness
from high_pair.scene.colour_set import SetPair

# Two colours that come too near weigh far more than any pair.
TOO_NEAR = 1e9


class Walk:
    """Goes from candidates to better ones, of a colour or two, as long as anything gets better.

    A walk from what a set is keeps its colours apart at every step; one from the best
    without that finds its way back where it can.
    """

    def __init__(self, nodes: Sequence[Node], pairs: Sequence[SetPair], nearness: Nearness) -> None:
        self.nodes = nodes
        self.light = [
            {name: luminances(levels) for name, levels in node.levels.items()} for node in nodes
        ]
        where = {name: place for place, node in enumerate(nodes) for name in node.names}
        self.pairs = [(where[pair.text], where[pair.backdrop], pair) for pair in pairs]
        self.moving = [place for place, node in enumerate(nodes) if node.count > 1]
        self.met: dict[tuple[int, int], Floats] = {}
        self.least = nearness.least
        self.seen = {
            eyes: [
                cielab_of(seen_with(eyes, from_bytes(node.levels[node.names[0]]))) for node in nodes
            ]
            for eyes in Eyes
        }

    def best(self, starts: Sequence[Sequence[int]], clock: Clock) -> list[int]:
        """Walk from several starts, and give where the best of the ways ends."""
        ends = [self._walked(list(start), clock) for start in starts]
        return min(ends, key=self._whole)

    def _walked(self, chosen: list[int], clock: Clock) -> list[int]:
        while not clock.is_over and (self._one_moved(chosen) or self._two_moved(chosen, clock)):
            pass
        return chosen

    def _one_moved(self, chosen: list[int]) -> bool:
        """Move each colour to its best candidate; tells whether any was another one."""
        moved = False
        for place in self.moving:
            weights = self._weights(place, chosen)
            better = int(np.argmin(weights))
            if weights[better] < weights[chosen[place]] - 1e-9:
                chosen[place], moved = better, True
        return moved

    def _two_moved(self, chosen: list[int], clock: Clock) -> bool:
        """Move the first two colours of which both together have better candidates."""
        if len(self.nodes) > MOST_EXACT:
            return False
        for one, other in itertools.combinations(self.moving, 2):
            if clock.is_over:
                return False
            weights = self._weights(one, chosen, other)[:, None] + self._weights(other, chosen, one)
            weights = weights + self._between(one, other)
            best = np.unravel_index(int(np.argmin(weights)), weights.shape)
            if weights[best] < weights[chosen[one], chosen[other]] - 1e-9:
                chosen[one], chosen[other] = int(best[0]), int(best[1])
                return True
        return False

    def _weights(self, place: int, chosen: Sequence[int], without: int = -1) -> Floats:
        """Give what each candidate of a colour costs, with all others but one as they are."""
        found = self.nodes[place].cost.copy()
        for text, backdrop, pair in self.pairs:
            if place in (text, backdrop) and without not in (text, backdrop):
                one, other = self.light[text][pair.text], self.light[backdrop][pair.backdrop]
                one = one if text == place else one[chosen[text]]
                other = other if backdrop == place else other[chosen[backdrop]]
                found += self._failing(one, other, pair)
        others = [each for each in range(len(self.nodes)) if each not in (place, without)]
        if others:
            for eyes in Eyes:
                theirs = np.stack([self.seen[eyes][each][chosen[each]] for each in others])
                far = ciede2000_of_lab(self.seen[eyes][place][:, None], theirs[None])
                found += TOO_NEAR * (far < self.least[eyes][place, others]).sum(axis=1)
        return np.asarray(found)

    def _between(self, one: int, other: int) -> Floats:
        """Give what all candidates of two colours cost by meeting each other."""
        if (one, other) not in self.met:
            found = np.zeros((self.nodes[one].count, self.nodes[other].count))
            for text, backdrop, pair in self.pairs:
                if {text, backdrop} == {one, other}:
                    names = (
                        (pair.text, pair.backdrop) if text == one else (pair.backdrop, pair.text)
                    )
                    mine, theirs = self.light[one][names[0]], self.light[other][names[1]]
                    found += self._failing(mine[:, None], theirs[None], pair)
            for eyes in Eyes:
                far = ciede2000_of_lab(self.seen[eyes][one][:, None], self.seen[eyes][other][None])
                found += TOO_NEAR * (far < self.least[eyes][one, other])
            self.met[one, other] = found
        return self.met[one, other]

    @staticmethod
    def _failing(one: Floats, other: Floats, pair: SetPair) -> Floats:
        fails = ratios(one, other) < pair.required * (1 - ROUNDING)
        return np.asarray(fails * GIVEN_UP * (1.0 + pair.places))

    def _whole(self, chosen: Sequence[int]) -> float:
        """Give what candidates of all colours cost together."""
        whole = total(self.nodes, chosen)
        found = as_found(self.nodes, [pair for _, _, pair in self.pairs], chosen)
        for (_, _, pair), given in zip(self.pairs, found.given, strict=True):
            whole += given * GIVEN_UP * (1.0 + pair.places)
        for eyes in Eyes:
            here = np.stack([self.seen[eyes][each][place] for each, place in enumerate(chosen)])
            near = ciede2000_of_lab(here[:, None], here[None]) < self.least[eyes]
            whole += TOO_NEAR * float(np.triu(near, 1).sum())
        return whole
