"""The program that settles a set: its variables, its demands, and its solution.

Which colour of a pair is the lighter one is a choice; once all are made, «the one stands
at least so high as the other asks» is a system of differences, whose linear program has
whole answers. So the choices alone are branched over, by mixed-integer programming.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array

from high_pair.colour.srgb import Floats
from high_pair.remedy.set_candidates import (
    GIVEN_UP,
    ROUNDING,
    Node,
    luminances,
    ratios,
)
from high_pair.scene.colour_set import SetPair

# The best is found when nothing better by this share can be.
GAP = 0.005
# What the solver says where nothing holds all.
IMPOSSIBLE = 2


@dataclass
class Rows:
    """The rows of a linear program, gathered: sums of variables that are at least a bound."""

    entries: list[tuple[int, int, float]] = field(default_factory=list)
    least: list[float] = field(default_factory=list)

    def add(self, terms: Sequence[tuple[int, float]], least: float) -> None:
        """Add a sum, variables with their factors, that is at least so much."""
        row = len(self.least)
        self.entries += [(row, variable, factor) for variable, factor in terms]
        self.least.append(least)

    def constraint(self, variables: int) -> LinearConstraint:
        """Give all rows, for so many variables."""
        rows, columns, factors = zip(*self.entries, strict=True) if self.entries else ((), (), ())
        matrix = csr_array((factors, (rows, columns)), shape=(len(self.least), variables))
        return LinearConstraint(matrix, np.array(self.least), np.inf)


class Program:
    """The variables: of each node, for each of its candidates but the first, whether the chosen one
    is that or a lighter one; of each pair, whether its text is the lighter one; and whether it is
    given up."""

    def __init__(
        self,
        nodes: Sequence[Node],
        pairs: Sequence[SetPair],
        gives_up: bool = False,
    ) -> None:
        self.nodes = nodes
        self.pairs = pairs
        self.gives_up = gives_up
        self.is_impossible = False
        counts = [node.count - 1 for node in nodes]
        self.starts = np.concatenate([[0], np.cumsum(counts)]).astype(int)
        self.choices = int(self.starts[-1])
        self.given = self.choices + len(pairs)
        self.variables = self.given + len(pairs)
        self.where = {name: place for place, node in enumerate(nodes) for name in node.names}
        self.rows = Rows()
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
            holds = ratios(one, other) >= pair.required
            for candidate in np.flatnonzero(~holds):
                self._exclude(text, int(candidate), free)
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
        enough = high[None, :] >= (low[:, None]) * required * (1 - ROUNDING)
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

    def _exclude(self, place: int, candidate: int, free: Sequence[tuple[int, float]]) -> None:
        """Ask that a node has another candidate; free: what takes the demand away."""
        terms, least = list(free), 0.0
        # It has a darker one, or a lighter one.
        if candidate > 0:
            terms.append((self._at_least(place, candidate)[0], -1.0))
        else:
            least += 1.0
        if candidate + 1 < self.nodes[place].count:
            terms.append((self._at_least(place, candidate + 1)[0], 1.0))
        self.rows.add(terms, least)

    def solve(self, seconds: float) -> list[int] | None:
        """Give each node's best candidate; None where nothing holds all, or nothing was found.

        is_impossible: tells then whether nothing holds all.
        """
        lower, upper = np.zeros(self.variables), np.ones(self.variables)
        if not self.gives_up:
            upper[self.given :] = 0
        found = milp(
            self._objective(),
            integrality=self.whole,
            bounds=Bounds(lower, upper),
            constraints=self.rows.constraint(self.variables),
            options={"time_limit": seconds, "mip_rel_gap": GAP},
        )
        self.is_impossible = found.status == IMPOSSIBLE
        if found.x is None:
            return None
        return [
            int((found.x[self.starts[place] : self.starts[place + 1]] > 0.5).sum())
            for place in range(len(self.nodes))
        ]

    def _objective(self) -> Floats:
        """Give what each variable adds to what moves, in squares; a pair given up adds far more."""
        objective = np.zeros(self.variables)
        for place, node in enumerate(self.nodes):
            objective[self.starts[place] : self.starts[place + 1]] = np.diff(node.cost)
        objective[self.given :] = [GIVEN_UP * (1.0 + pair.places) for pair in self.pairs]
        return objective
