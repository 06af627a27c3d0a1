"""Going from a set's colours to better ones, where a program finds none or is too slow."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

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
        self.where = {name: place for place, node in enumerate(nodes) for name in node.names}
        self.pairs: dict[tuple[int, int], list[SetPair]] = {}
        for pair in pairs:
            ends = sorted((self.where[pair.text], self.where[pair.backdrop]))
            self.pairs.setdefault((ends[0], ends[1]), []).append(pair)
        self.moving = [place for place, node in enumerate(nodes) if node.count > 1]
        self.fixed = [place for place, node in enumerate(nodes) if node.count == 1]
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
        failing = [
            pair
            for pairs in self.pairs.values()
            for pair in pairs
            if _failing(self._light(pair.text, chosen), self._light(pair.backdrop, chosen), pair)
        ]
        if not failing:
            return self._anywhere(chosen, random, clock)
        pair = failing[int(random.integers(len(failing)))]
        names = (pair.text, pair.backdrop) if random.integers(2) else (pair.backdrop, pair.text)
        for name, other in (names, names[::-1]):
            place = self.where[name]
            apart = self.where[other] != place
            theirs = self._light(other, chosen) if apart else self.light[place][other]
            holds = np.flatnonzero(_failing(self.light[place][name], theirs, pair) == 0)
            if self.nodes[place].count > 1 and len(holds):
                chosen[place] = int(random.choice(holds))
                return self._walked(chosen, clock, frozenset((place, self.where[other])))
        return self._anywhere(chosen, random, clock)

    def _light(self, name: str, chosen: Sequence[int]) -> float:
        place = self.where[name]
        return float(self.light[place][name][chosen[place]])

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
        for other in self.moving:
            if other != place:
                found += self._between(place, other)[:, chosen[other]]
        return found

    def _alone(self, place: int) -> Floats:
        """Give what each candidate of a colour costs by itself, by its own shades, and by meeting
        the colours that don't move."""
        found = self.nodes[place].cost.copy()
        if self.nodes[place].count == 1:
            return found
        light = self.light[place]
        for pair in self.pairs.get((place, place), ()):
            found += _failing(light[pair.text], light[pair.backdrop], pair)
        for other in self.fixed:
            for pair in self.pairs.get((min(place, other), max(place, other)), ()):
                mine, theirs = pair.text, pair.backdrop
                if mine not in light:
                    mine, theirs = theirs, mine
                found += _failing(light[mine], self.light[other][theirs][0], pair)
        if self.fixed:
            for eyes in Eyes:
                others = np.concatenate([self.seen[eyes][each] for each in self.fixed])
                near = self._near(
                    self.seen[eyes][place], others, self.least[eyes][place, self.fixed]
                )
                found += TOO_NEAR * near.sum(axis=1)
        return found

    @staticmethod
    def _near(these: Floats, those: Floats, least: Floats) -> NDArray[np.bool_]:
        """Tell which colours of CIE Lab (n, 3) come nearer to which (m, 3) than they may."""
        limits = np.broadcast_to(np.asarray(least), (len(these), len(those)))
        close = np.abs(these[:, None, 0] - those[None, :, 0]) <= limits * MOST_OF_LIGHTNESS
        rows, columns = np.nonzero(close)
        found = np.zeros(close.shape, bool)
        found[rows, columns] = ciede2000_of_lab(these[rows], those[columns]) < limits[rows, columns]
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
            found += TOO_NEAR * self._near(these, those, self.least[eyes][one, other])
        return found

    def _whole(self, chosen: Sequence[int]) -> float:
        """Give what candidates of all colours cost together."""
        whole = sum(float(own[place]) for own, place in zip(self.own, chosen, strict=True))
        for one, other in itertools.combinations(self.moving, 2):
            whole += float(self._between(one, other)[chosen[one], chosen[other]])
        return whole


def _failing(one: Floats | float, other: Floats | float, pair: SetPair) -> Floats:
    fails = ratios(one, other) < pair.required * (1 - ROUNDING)
    return np.asarray(fails * GIVEN_UP * (1.0 + pair.places))
