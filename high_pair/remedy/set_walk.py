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
    ROUNDING,
    Clock,
    Node,
    luminances,
    ratios,
)
from high_pair.remedy.set_nearness import Nearness
from high_pair.scene.colour_set import SetPair

# Two colours that come too near weigh far more than any pair.
TOO_NEAR = 1e9
# A difference of so much in lightness alone is one of at least 1 in ΔE00: 1 + 0.015 · 50² / √2520.
MOST_OF_LIGHTNESS = 1.75
# So often the best is left in search of a better one: by moving some colours anywhere, or by
# holding a pair that was given up.
LEAVES = 60
LEFT_AT_ONCE = 3
SEED = 20_261


class Walk:
    """Goes from candidates to better ones, of a colour or two, as long as anything gets better.

    A walk from what a set is keeps its colours apart at every step; one from the best
    without that finds its way back where it can. What candidates of two colours cost
    by meeting is worked out once for all of both.
    """

    def __init__(self, nodes: Sequence[Node], pairs: Sequence[SetPair], nearness: Nearness) -> None:
        self.nodes = nodes
        self.light = [
            {name: luminances(levels) for name, levels in node.levels.items()} for node in nodes
        ]
        where = {name: place for place, node in enumerate(nodes) for name in node.names}
        self.pairs: dict[tuple[int, int], list[SetPair]] = {}
        for pair in pairs:
            ends = sorted((where[pair.text], where[pair.backdrop]))
            self.pairs.setdefault((ends[0], ends[1]), []).append(pair)
        self.moving = [place for place, node in enumerate(nodes) if node.count > 1]
        self.met: dict[tuple[int, int], Floats] = {}
        self.least = nearness.least
        self.seen = {
            eyes: [
                cielab_of(seen_with(eyes, from_bytes(node.levels[node.names[0]]))) for node in nodes
            ]
            for eyes in Eyes
        }
        self.own = [self._alone(place) for place in range(len(nodes))]

    def best(self, starts: Sequence[Sequence[int]], clock: Clock) -> list[int]:
        """Walk from several starts, and from round the best of their ends; gives the best."""
        ends = [self._walked(list(start), clock) for start in starts]
        best = min(ends, key=self._whole)
        least = self._whole(best)
        random = np.random.default_rng(SEED)
        leave = itertools.cycle((self._held_anew, self._anywhere))
        for _ in range(LEAVES if self.moving else 0):
            if clock.is_over:
                break
            end = self._walked(next(leave)(list(best), random, clock), clock)
            whole = self._whole(end)
            if whole < least - 1e-9:
                best, least = end, whole
        return best

    def _anywhere(self, chosen: list[int], random: np.random.Generator, _clock: Clock) -> list[int]:
        """Move some colours anywhere."""
        for place in random.choice(self.moving, min(LEFT_AT_ONCE, len(self.moving)), False):
            chosen[place] = int(random.integers(self.nodes[place].count))
        return chosen

    def _held_anew(self, chosen: list[int], random: np.random.Generator, clock: Clock) -> list[int]:
        """Hold one of the pairs that are given up, and let the other colours make way."""
        failing = [ends for ends in self.pairs if self._between_ends(ends, chosen) >= GIVEN_UP]
        if not failing:
            return self._anywhere(chosen, random, clock)
        ends = failing[int(random.integers(len(failing)))]
        one, other = ends if random.integers(2) else ends[::-1]
        if self.nodes[one].count == 1:
            one, other = other, one
        alone = self.own[one] if one == other else self._between(one, other)[:, chosen[other]]
        holds = np.flatnonzero(alone < GIVEN_UP)
        if self.nodes[one].count > 1 and len(holds):
            chosen[one] = int(random.choice(holds))
            return self._walked(chosen, clock, frozenset((one, other)))
        return self._anywhere(chosen, random, clock)

    def _between_ends(self, ends: tuple[int, int], chosen: Sequence[int]) -> float:
        one, other = ends
        if one == other:
            return float(self.own[one][chosen[one]])
        return float(self._between(one, other)[chosen[one], chosen[other]])

    def _walked(
        self, chosen: list[int], clock: Clock, held: frozenset[int] = frozenset()
    ) -> list[int]:
        """Walk as far as anything gets better. held: the places of colours that stay."""
        moving = [place for place in self.moving if place not in held]
        while not clock.is_over and (
            self._one_moved(chosen, moving) or self._two_moved(chosen, moving, clock)
        ):
            pass
        return chosen

    def _one_moved(self, chosen: list[int], moving: Sequence[int]) -> bool:
        """Move each colour to its best candidate; tells whether any was another one."""
        moved = False
        for place in moving:
            weights = self._weights(place, chosen)
            better = int(np.argmin(weights))
            if weights[better] < weights[chosen[place]] - 1e-9:
                chosen[place], moved = better, True
        return moved

    def _two_moved(self, chosen: list[int], moving: Sequence[int], clock: Clock) -> bool:
        """Move the first two colours of which both together have better candidates."""
        weights = {place: self._weights(place, chosen) for place in moving}
        for one, other in itertools.combinations(moving, 2):
            if clock.is_over:
                return False
            between = self._between(one, other)
            # Of each of the two without what they cost by meeting the other as it is.
            first = weights[one] - between[:, chosen[other]]
            second = weights[other] - between[chosen[one], :]
            both = first[:, None] + second + between
            best = np.unravel_index(int(np.argmin(both)), both.shape)
            if both[best] < both[chosen[one], chosen[other]] - 1e-9:
                chosen[one], chosen[other] = int(best[0]), int(best[1])
                return True
        return False

    def _weights(self, place: int, chosen: Sequence[int]) -> Floats:
        """Give what each candidate of a colour costs, with all others as they are."""
        found = self.own[place].copy()
        for other, candidate in enumerate(chosen):
            if other != place:
                found += self._between(place, other)[:, candidate]
        return found

    def _alone(self, place: int) -> Floats:
        """Give what each candidate of a colour costs by itself, and by its own shades."""
        found = self.nodes[place].cost.copy()
        for pair in self.pairs.get((place, place), ()):
            light = self.light[place]
            found += _failing(light[pair.text], light[pair.backdrop], pair)
        return found

    def _between(self, one: int, other: int) -> Floats:
        """Give what all candidates of two colours cost by meeting each other."""
        if (one, other) not in self.met:
            found = self._meeting(min(one, other), max(one, other))
            self.met[min(one, other), max(one, other)] = found
            self.met[max(one, other), min(one, other)] = found.T
        return self.met[one, other]

    def _meeting(self, one: int, other: int) -> Floats:
        found = np.zeros((self.nodes[one].count, self.nodes[other].count))
        for pair in self.pairs.get((one, other), ()):
            first, second = pair.text, pair.backdrop
            if first not in self.light[one]:
                first, second = second, first
            found += _failing(
                self.light[one][first][:, None], self.light[other][second][None], pair
            )
        for eyes in Eyes:
            these, those = self.seen[eyes][one], self.seen[eyes][other]
            least = self.least[eyes][one, other]
            far = np.abs(these[:, None, 0] - those[None, :, 0]) > least * MOST_OF_LIGHTNESS
            rows, columns = np.nonzero(~far)
            near = ciede2000_of_lab(these[rows], those[columns]) < least
            found[rows, columns] += TOO_NEAR * near
        return found

    def _whole(self, chosen: Sequence[int]) -> float:
        """Give what candidates of all colours cost together."""
        whole = sum(float(own[place]) for own, place in zip(self.own, chosen, strict=True))
        for one, other in itertools.combinations(range(len(chosen)), 2):
            whole += float(self._between(one, other)[chosen[one], chosen[other]])
        return whole


def _failing(one: Floats, other: Floats, pair: SetPair) -> Floats:
    fails = ratios(one, other) < pair.required * (1 - ROUNDING)
    return np.asarray(fails * GIVEN_UP * (1.0 + pair.places))
