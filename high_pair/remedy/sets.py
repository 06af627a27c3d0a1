"""Mending a set: the least that its colours move until every pair has its ratio.

Each colour moves along its own line of lightness, hue and chroma kept within the gamut,
in steps that are 8-bit colours; what is derived from it moves with it. Which colour of
a pair is the lighter one is a choice; once all are made, «the one stands at least so
high as the other asks» is a system of differences, whose linear program has whole
answers. So the choices alone are branched over, by mixed-integer programming, and the
best of all orders is found. The steps are then made finer round the answer.
"""

from __future__ import annotations

import itertools
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array

from high_pair.colour.difference import ciede2000, ciede2000_of_lab, cielab_of
from high_pair.colour.gamut import into_srgb
from high_pair.colour.oklab import oklch_of
from high_pair.colour.ratio import FLARE, contrast_ratio
from high_pair.colour.srgb import Bytes, Floats, from_bytes, relative_luminance, to_bytes
from high_pair.colour.vision import Eyes, apart, seen_with
from high_pair.scene.colour_set import ColourSet, Levels, SetColour, SetPair

# Two colours may come as near as this (ΔE2000) where they were farther apart.
FLOOR = 10.0
# Steps of lightness of a colour at first,
STEPS = 40
# where nothing holds at those,
CLOSE_STEPS = 160
# and between two of them, once it is known about where a colour goes.
FINER = 24
# Seconds for the search in all, and at least for each part of it.
MOST_SECONDS = 10.0
LEAST_SECONDS = 0.5
# A pair that is given up weighs as the squares of so much that moves, for each of its places.
GIVEN_UP = 1e5
# And two colours that come too near weigh far more than any pair.
TOO_NEAR = 1e9
# Sets of more colours are kept apart a colour at a time, and not by the program.
MOST_EXACT = 16
# The best is found when nothing better by this share can be.
GAP = 0.005
# So often colours that came too near are kept apart and all is solved anew.
ROUNDS = 12
# ΔE2000 by which rounding may bring two colours nearer.
TOLERANCE = 0.05
# Gives the 8-bit levels (n, 3) of a derived colour for levels (n, 3) of its parent.
Derive = Callable[[SetColour, Bytes], Bytes]


class Move(StrEnum):
    """What is moved."""

    TEXTS = "texts"
    BACKDROPS = "backdrops"
    BOTH = "both"


@dataclass(frozen=True)
class Change:
    """A colour that moved. delta_e: CIEDE2000 between the two."""

    name: str
    before: Levels
    after: Levels
    delta_e: float


@dataclass(frozen=True)
class MendedSet:
    """What came of mending a set.

    changes: what moved, derived colours too; given_up: the pairs that can't be held along
    with the others; total: the sum of the changes' ΔE2000.
    """

    colours: ColourSet
    changes: tuple[Change, ...]
    given_up: tuple[SetPair, ...]

    @property
    def total(self) -> float:
        """The sum of all that moved, CIEDE2000."""
        return sum(change.delta_e for change in self.changes)


@dataclass(frozen=True)
class _Node:
    """A colour that moves by itself, and all that is derived from it.

    names: its own first; levels: for each of those its candidates, uint8 (k, 3), from dark to
    light by the colour's own; cost: of each candidate, (k,); now: the place of what it is.
    """

    names: tuple[str, ...]
    levels: dict[str, Bytes]
    cost: Floats
    now: int

    @property
    def count(self) -> int:
        return len(self.cost)


def mend_set(
    colours: ColourSet,
    derive: Derive,
    move: Move = Move.BOTH,
    floor: float = FLOOR,
    seconds: float = MOST_SECONDS,
) -> MendedSet:
    """Move the colours of a set the least in all, so that its pairs have their ratios.

    seconds: for the search in all, about; what was found by then is given.
    """
    if not colours.pairs:
        return MendedSet(colours, (), ())
    clock = _Clock(seconds)
    movable = _movable(colours, move)
    own = [colour for colour in colours.colours if not colour.parent]

    def nodes_at(steps: Sequence[Floats | None]) -> list[_Node]:
        return [
            _node(each, colours, derive, line if each.name in movable else None)
            for each, line in zip(own, steps, strict=True)
        ]

    def everywhere(count: int) -> list[_Node]:
        return nodes_at([np.linspace(0.0, 1.0, count + 1)] * len(own))

    pairs, nearness = list(colours.pairs), _Nearness(colours, floor)
    nodes = everywhere(STEPS)
    best = _free(nodes, pairs, clock)
    if best is None:
        # What coarse steps miss closer ones may have.
        nodes = everywhere(CLOSE_STEPS)
        best = _free(nodes, pairs, clock)
    if best is None:
        nodes = everywhere(STEPS)
        best = _free(nodes, pairs, clock, gives_up=True)
    chosen = _chosen(nodes, pairs, best, nearness, clock)
    finer = nodes_at([_steps_round(node, place) for node, place in zip(nodes, chosen, strict=True)])
    same = [
        int(np.argmin(np.abs(fine.levels[fine.names[0]].astype(int) - coarse).sum(axis=1)))
        for fine, node, place in zip(finer, nodes, chosen, strict=True)
        for coarse in (node.levels[node.names[0]][place].astype(int),)
    ]
    exact = _kept_apart(finer, pairs, _as_found(finer, pairs, same), nearness, clock)
    found = _Walk(finer, pairs, nearness).best([same], clock) if exact is None else exact.chosen
    mended = _mended(colours, finer, found)
    short = tuple(each for each in pairs if ratio_of(mended.colours, each) < each.required)
    return replace(mended, given_up=short)


def _chosen(
    nodes: Sequence[_Node],
    pairs: Sequence[SetPair],
    best: _Found | None,
    nearness: _Nearness,
    clock: _Clock,
) -> list[int]:
    """Give candidates that keep colours apart. best: what costs least without that, if known."""
    starts = [[node.now for node in nodes]]
    if best is not None:
        exact = _kept_apart(nodes, pairs, best, nearness, clock)
        if exact is not None and exact.chosen == best.chosen and not any(best.given):
            # All pairs are held, no two colours come too near, and nothing costs less.
            return exact.chosen
        starts += [best.chosen] if exact is None else [best.chosen, exact.chosen]
    return _Walk(nodes, pairs, nearness).best(starts, clock)


def _free(
    nodes: Sequence[_Node], pairs: Sequence[SetPair], clock: _Clock, gives_up: bool = False
) -> _Found | None:
    """Give what costs least in the best of all orders, however near colours come."""
    program = _Program(nodes, pairs, gives_up)
    values = program.solve(clock.left(0.3))
    return None if values is None else program.found(values)


def _kept_apart(
    nodes: Sequence[_Node],
    pairs: Sequence[SetPair],
    found: _Found,
    nearness: _Nearness,
    clock: _Clock,
) -> _Found | None:
    """Give what costs least with no two colours too near, in the order that was found.

    Of those pairs alone that aren't given up. None where there is none, where none was found
    in time, and for sets that are too large to look.
    """
    if len(nodes) > MOST_EXACT:
        return None
    held = [number for number in range(len(pairs)) if not found.given[number]]
    order = [found.order[number] for number in held]
    program = _Program(nodes, [pairs[number] for number in held], order=order)
    return _search(program, nearness, clock)


def _as_found(nodes: Sequence[_Node], pairs: Sequence[SetPair], chosen: Sequence[int]) -> _Found:
    """Read off candidates which colour of each pair is the lighter one, and which pairs fail."""
    at = {
        name: float(luminances(node.levels[name][place]))
        for node, place in zip(nodes, chosen, strict=True)
        for name in node.names
    }
    order = [int(at[pair.text] > at[pair.backdrop]) for pair in pairs]
    given = [
        bool(_ratio(at[pair.text], at[pair.backdrop]) < pair.required * (1 - 1e-12))
        for pair in pairs
    ]
    return _Found(list(chosen), order, given)


class _Walk:
    """Goes from candidates to better ones, of a colour or two, as long as anything gets better.

    A walk from what a set is keeps its colours apart at every step; one from the best
    without that finds its way back where it can.
    """

    def __init__(
        self, nodes: Sequence[_Node], pairs: Sequence[SetPair], nearness: _Nearness
    ) -> None:
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

    def best(self, starts: Sequence[Sequence[int]], clock: _Clock) -> list[int]:
        """Walk from several starts, and give where the best of the ways ends."""
        ends = [self._walked(list(start), clock) for start in starts]
        return min(ends, key=self._whole)

    def _walked(self, chosen: list[int], clock: _Clock) -> list[int]:
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

    def _two_moved(self, chosen: list[int], clock: _Clock) -> bool:
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
        fails = _ratio(one, other) < pair.required * (1 - 1e-12)
        return np.asarray(fails * GIVEN_UP * (1.0 + pair.places))

    def _whole(self, chosen: Sequence[int]) -> float:
        """Give what candidates of all colours cost together."""
        total = _total(self.nodes, chosen)
        found = _as_found(self.nodes, [pair for _, _, pair in self.pairs], chosen)
        for (_, _, pair), given in zip(self.pairs, found.given, strict=True):
            total += given * GIVEN_UP * (1.0 + pair.places)
        for eyes in Eyes:
            here = np.stack([self.seen[eyes][each][place] for each, place in enumerate(chosen)])
            near = ciede2000_of_lab(here[:, None], here[None]) < self.least[eyes]
            total += TOO_NEAR * float(np.triu(near, 1).sum())
        return total


class _Clock:
    """Says how many seconds are left of those for a search."""

    def __init__(self, seconds: float) -> None:
        self._end = time.monotonic() + seconds

    def left(self, share: float = 1.0) -> float:
        """Give a share of what is left, at least a little."""
        return max(LEAST_SECONDS, share * (self._end - time.monotonic()))

    @property
    def is_over(self) -> bool:
        """Whether the time is up."""
        return time.monotonic() > self._end


def _movable(colours: ColourSet, move: Move) -> set[str]:
    """Name the colours that may be moved: those that serve as what is moved, by themselves.

    Where both are, any other may make way too.
    """
    roles = {
        Move.TEXTS: [pair.text for pair in colours.pairs],
        Move.BACKDROPS: [pair.backdrop for pair in colours.pairs],
        Move.BOTH: [colour.name for colour in colours.colours],
    }[move]
    found = set()
    for name in roles:
        colour = colours.colour(name)
        if colour is not None:
            found.add(colour.parent or colour.name)
    left = {each.parent or each.name for each in colours.colours if each.leave}
    return found - left


# The candidates


def _steps_round(node: _Node, place: int) -> Floats | None:
    """Give finer steps of lightness between a candidate's neighbours; None where none moves."""
    if node.count == 1:
        return None
    own = node.levels[node.names[0]]
    near = oklch_of(from_bytes(own[[max(0, place - 1), place, min(len(own) - 1, place + 1)]]))[:, 0]
    return np.unique(np.concatenate([np.linspace(near.min(), near.max(), 2 * FINER + 1), near]))


def _node(colour: SetColour, colours: ColourSet, derive: Derive, steps: Floats | None) -> _Node:
    """Give a colour with its candidates at steps of lightness; as it is alone without any."""
    own = np.array([colour.levels], np.uint8)
    if steps is not None:
        _, chroma, hue = oklch_of(from_bytes(own))[0]
        line = np.stack([steps, np.full_like(steps, chroma), np.full_like(steps, hue)], axis=-1)
        own = np.unique(np.concatenate([own, to_bytes(into_srgb(line))]), axis=0)
        own = own[np.argsort(relative_luminance(own), kind="stable")]
    children = [each for each in colours.colours if each.parent == colour.name]
    levels = {colour.name: own} | {each.name: derive(each, own) for each in children}
    cost = np.zeros(len(own))
    for each in (colour, *children):
        before = from_bytes(np.array(each.levels, np.uint8))
        cost += ciede2000(from_bytes(levels[each.name]), before) ** 2
    now = int(np.flatnonzero((own == np.array(colour.levels, np.uint8)).all(axis=1))[0])
    return _Node((colour.name, *(each.name for each in children)), levels, cost, now)


# The program


@dataclass
class _Rows:
    """The rows of a linear program, gathered: sums of variables that are at least a bound."""

    entries: list[tuple[int, int, float]] = field(default_factory=list)
    least: list[float] = field(default_factory=list)

    def add(self, terms: Sequence[tuple[int, float]], least: float) -> None:
        row = len(self.least)
        self.entries += [(row, variable, factor) for variable, factor in terms]
        self.least.append(least)

    def constraint(self, variables: int) -> LinearConstraint:
        rows, columns, factors = zip(*self.entries, strict=True) if self.entries else ((), (), ())
        matrix = csr_array((factors, (rows, columns)), shape=(len(self.least), variables))
        return LinearConstraint(matrix, np.array(self.least), np.inf)


class _Program:
    """The variables: of each node, for each of its candidates but the first, whether the chosen one
    is that or a lighter one; of each pair, whether its text is the lighter one; and whether it is
    given up."""

    def __init__(
        self,
        nodes: Sequence[_Node],
        pairs: Sequence[SetPair],
        gives_up: bool = False,
        order: Sequence[int] | None = None,
    ) -> None:
        self.nodes = nodes
        self.pairs = pairs
        self.gives_up = gives_up
        self.order = order
        counts = [node.count - 1 for node in nodes]
        self.starts = np.concatenate([[0], np.cumsum(counts)]).astype(int)
        self.choices = int(self.starts[-1])
        self.given = self.choices + len(pairs)
        self.variables = self.given + len(pairs)
        self.where = {name: place for place, node in enumerate(nodes) for name in node.names}
        self.rows = _Rows()
        self.whole = np.zeros(self.variables, np.int64)
        self.whole[self.choices :] = 1
        for place, node in enumerate(nodes):
            for candidate in range(1, node.count - 1):
                terms = [self._at_least(place, candidate), self._at_least(place, candidate + 1)]
                self.rows.add([(terms[0][0], 1.0), (terms[1][0], -1.0)], 0.0)
        for number, pair in enumerate(pairs):
            self._hold(number, pair)

    def _at_least(self, place: int, candidate: int) -> tuple[int, float]:
        """Give the variable that says that a node has a candidate or a lighter one."""
        return int(self.starts[place]) + candidate - 1, 1.0

    def _hold(self, number: int, pair: SetPair) -> None:
        text, backdrop = self.where[pair.text], self.where[pair.backdrop]
        choice, given = self.choices + number, self.given + number
        free = [(given, 1.0)] if self.gives_up else []
        one = luminances(self.nodes[text].levels[pair.text])
        other = luminances(self.nodes[backdrop].levels[pair.backdrop])
        if text == backdrop:
            holds = _ratio(one, other) >= pair.required
            for candidate in np.flatnonzero(~holds):
                self._forbid(((text, int(candidate), int(candidate)),), free)
            return
        # The text is the lighter one where the choice is 1, and the darker one where it is 0.
        self._above(text, one, backdrop, other, pair.required, [(choice, -1.0), *free], -1.0)
        self._above(backdrop, other, text, one, pair.required, [(choice, 1.0), *free], 0.0)

    def _above(
        self,
        upper: int,
        high: Floats,
        lower: int,
        low: Floats,
        required: float,
        free: list[tuple[int, float]],
        least: float,
    ) -> None:
        """Ask that one node stands so far above another; free: what takes the demand away."""
        # From which candidate on the upper one has the ratio, for each of the lower one's.
        enough = high[None, :] >= (low[:, None]) * required * (1 - 1e-12)
        from_there = np.flip(np.logical_and.accumulate(np.flip(enough, 1), 1), 1)
        need = np.where(from_there.any(1), from_there.argmax(1), len(high))
        need = np.maximum.accumulate(need)
        for candidate, first in enumerate(need):
            if first == 0:
                continue
            terms = list(free)
            bound = least
            if first < len(high):
                terms.append(self._at_least(upper, int(first)))
            if candidate > 0:
                variable, _ = self._at_least(lower, candidate)
                terms.append((variable, -1.0))
            else:
                bound += 1.0
            if candidate > 0 and need[candidate - 1] == first:
                continue
            self.rows.add(terms, bound)

    def _forbid(
        self, ranges: Sequence[tuple[int, int, int]], free: Sequence[tuple[int, float]] = ()
    ) -> None:
        """Forbid that all of some nodes have candidates of these ranges (node, first, last)."""
        terms = list(free)
        least = 1.0 - len(ranges)
        for place, first, last in ranges:
            # In the range: at least the first, and not more than the last.
            if first > 0:
                terms.append((self._at_least(place, first)[0], -1.0))
            else:
                least += 1.0
            if last + 1 < self.nodes[place].count:
                terms.append((self._at_least(place, last + 1)[0], 1.0))
        self.rows.add(terms, least)

    def keep_apart(self, ranges: Sequence[tuple[int, int, int]]) -> None:
        """Forbid that nodes have candidates of these ranges together."""
        self._forbid(ranges)
        for place, _, _ in ranges:
            self.whole[self.starts[place] : self.starts[place + 1]] = 1

    def solve(self, seconds: float) -> NDArray[np.float64] | None:
        """Give the variables at their best; None where nothing holds all, or nothing was found."""
        lower, upper = np.zeros(self.variables), np.ones(self.variables)
        if not self.gives_up:
            upper[self.given :] = 0
        if self.order is not None:
            lower[self.choices : self.given] = upper[self.choices : self.given] = self.order
        found = milp(
            self._objective(),
            integrality=self.whole,
            bounds=Bounds(lower, upper),
            constraints=self.rows.constraint(self.variables),
            options={"time_limit": seconds, "mip_rel_gap": GAP},
        )
        return None if found.x is None else np.asarray(found.x)

    def _objective(self) -> Floats:
        """Give what each variable adds to what moves, in squares; a pair given up adds far more."""
        objective = np.zeros(self.variables)
        for place, node in enumerate(self.nodes):
            objective[self.starts[place] : self.starts[place + 1]] = np.diff(node.cost)
        objective[self.given :] = [GIVEN_UP * (1.0 + pair.places) for pair in self.pairs]
        return objective

    def found(self, values: NDArray[np.float64]) -> _Found:
        """Read the variables."""
        chosen = [
            int((values[self.starts[place] : self.starts[place + 1]] > 0.5).sum())
            for place in range(len(self.nodes))
        ]
        order = [round(value) for value in values[self.choices : self.given]]
        return _Found(chosen, order, [bool(value > 0.5) for value in values[self.given :]])


def luminances(levels: Bytes) -> Floats:
    """Give the luminances of 8-bit colours, raised by the flare of the ratio's formula."""
    return np.asarray(relative_luminance(levels) + FLARE)


def _ratio(one: Floats | float, other: Floats | float) -> Floats:
    return np.asarray(np.maximum(one, other) / np.minimum(one, other))


def _total(nodes: Sequence[_Node], chosen: Sequence[int]) -> float:
    return sum(float(node.cost[place]) for node, place in zip(nodes, chosen, strict=True))


@dataclass(frozen=True)
class _Found:
    """What a program came to: each node's candidate; of each pair 1 where its text is the lighter
    one, and whether it is given up."""

    chosen: list[int]
    order: list[int]
    given: list[bool]


def _search(program: _Program, nearness: _Nearness, clock: _Clock) -> _Found | None:
    """Give what costs least, with no two colours too near; None where nothing was found.

    Colours are kept apart in the order that was the best without that, and in any other
    only where that one has no answer.
    """
    given_order = program.order
    known: set[tuple[str, str]] = set()
    for _ in range(ROUNDS):
        values = program.solve(clock.left(0.4))
        if values is None:
            if program.order is given_order:
                return None
            program.order = given_order
            continue
        found = program.found(values)
        near = [
            pair for pair in nearness.too_near(program.nodes, found.chosen) if pair not in known
        ]
        if not near:
            return found
        if not program.gives_up:
            program.order = found.order
        for one, other in sorted(near):
            known.add((one, other))
            for ranges in nearness.ranges(program.nodes, one, other):
                program.keep_apart(ranges)
    return None


class _Nearness:
    """How near any two colours of a set may come, for four kinds of eyes.

    What is derived is a shade of its parent, and isn't told apart from others by itself.
    """

    def __init__(self, colours: ColourSet, floor: float) -> None:
        own = [colour for colour in colours.colours if not colour.parent]
        self.names = [colour.name for colour in own]
        levels = [colour.levels for colour in own]
        before = from_bytes(np.array(levels, np.uint8).reshape(-1, 3))
        self.least = {eyes: np.minimum(apart(eyes, before), floor) - TOLERANCE for eyes in Eyes}

    def _levels(self, nodes: Sequence[_Node], chosen: Sequence[int]) -> Bytes:
        at = {
            name: node.levels[name][place]
            for node, place in zip(nodes, chosen, strict=True)
            for name in node.names
        }
        return np.array([at[name] for name in self.names], np.uint8).reshape(-1, 3)

    def too_near(self, nodes: Sequence[_Node], chosen: Sequence[int]) -> list[tuple[str, str]]:
        """List the colours that have come too near."""
        now = from_bytes(self._levels(nodes, chosen))
        near = np.zeros((len(now), len(now)), bool)
        for eyes in Eyes:
            near |= apart(eyes, now) < self.least[eyes]
        return [
            (self.names[one], self.names[other])
            for one, other in zip(*np.nonzero(np.triu(near, 1)), strict=True)
        ]

    def ranges(
        self, nodes: Sequence[_Node], one: str, other: str
    ) -> list[tuple[tuple[int, int, int], ...]]:
        """List all ranges of candidates, of one node or two, in which two colours are too near."""
        where = {name: place for place, node in enumerate(nodes) for name in node.names}
        first, second = where[one], where[other]
        near = self._near(nodes[first].levels[one], nodes[second].levels[other], one, other)
        if first == second:
            return [((first, int(at), int(at)),) for at in np.flatnonzero(np.diag(near))]
        found: list[tuple[tuple[int, int, int], ...]] = []
        # Runs along a row, which go on through the rows below as long as those have the same.
        going: dict[tuple[int, int], int] = {}
        for row in range(len(near) + 1):
            runs = set(_runs(near[row])) if row < len(near) else set()
            for run in [run for run in going if run not in runs]:
                found.append(((first, going.pop(run), row - 1), (second, *run)))
            for run in runs:
                going.setdefault(run, row)
        return found

    def _near(self, these: Bytes, those: Bytes, one: str, other: str) -> NDArray[np.bool_]:
        places = self.names.index(one), self.names.index(other)
        both = from_bytes(np.concatenate([these, those]))
        near = np.zeros((len(these), len(those)), bool)
        for eyes in Eyes:
            near |= apart(eyes, both)[: len(these), len(these) :] < self.least[eyes][places]
        return near


def _runs(marks: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """List the first and the last place of each run of marks."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], marks, [False]]).astype(np.int8)))
    return [(int(start), int(stop) - 1) for start, stop in edges.reshape(-1, 2)]


def _mended(colours: ColourSet, nodes: Sequence[_Node], chosen: Sequence[int]) -> MendedSet:
    after: dict[str, Levels] = {}
    for node, place in zip(nodes, chosen, strict=True):
        for name in node.names:
            red, green, blue = (int(level) for level in node.levels[name][place])
            after[name] = red, green, blue
    moved = tuple(
        replace(colour, levels=after.get(colour.name, colour.levels)) for colour in colours.colours
    )
    changes = tuple(
        Change(
            old.name,
            old.levels,
            new.levels,
            float(
                ciede2000(
                    from_bytes(np.array(old.levels, np.uint8)),
                    from_bytes(np.array(new.levels, np.uint8)),
                )
            ),
        )
        for old, new in zip(colours.colours, moved, strict=True)
        if old.levels != new.levels
    )
    return MendedSet(replace(colours, colours=moved), changes, ())


def ratio_of(colours: ColourSet, pair: SetPair) -> float:
    """Give the ratio of a pair's two colours as they are."""
    text, backdrop = colours.colour(pair.text), colours.colour(pair.backdrop)
    assert text is not None and backdrop is not None, pair
    return float(
        contrast_ratio(np.array(text.levels, np.uint8), np.array(backdrop.levels, np.uint8))
    )
