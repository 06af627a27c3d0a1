"""Mending a set: the least that its colours move until every pair has its ratio.

Each colour moves along its own line of lightness, hue and chroma kept within the gamut,
in steps that are 8-bit colours; what is derived from it moves with it. Which colour of
a pair is the lighter one is a choice; once all are made, «the one stands at least so
high as the other asks» is a system of differences, whose linear program has whole
answers. So the choices alone are branched over, by mixed-integer programming, and the
best of all orders is found. From there, and from the set as it is, one walks to where no
two colours come too near, and then on in finer steps.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from high_pair.colour.difference import ciede2000
from high_pair.colour.gamut import into_srgb
from high_pair.colour.oklab import oklch_of
from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import Bytes, Floats, from_bytes, relative_luminance, to_bytes
from high_pair.errors import HighPairError
from high_pair.remedy.set_candidates import Clock, Node
from high_pair.remedy.set_nearness import Nearness
from high_pair.remedy.set_program import Program
from high_pair.remedy.set_walk import Walk
from high_pair.scene.colour_set import ColourSet, Levels, SetColour, SetPair
from high_pair.wcag.asked import NO_AIM, Aim

# Two colours may come as near as this (ΔE2000) where they were farther apart.
FLOOR = 10.0
# Steps of lightness of a colour at first,
STEPS = 40
# so many times as many where nothing holds at those,
CLOSER = 4
# and between two of them, once it is known about where a colour goes.
FINER = 24
# Where more colours than this move, there are fewer steps of all kinds by this factor.
MANY, FEWER = 40, 2
# Of more than this nobody could tell what became of them, and no search ends in time.
MOST_SETTLED = 120
# In a larger set only what is in use or wanted moves.
MOST_MAKING_WAY = 64
# Seconds for the search in all.
MOST_SECONDS = 10.0
# and the share of them for each of the programs, which come first.
FREE_SHARE = 0.04
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
    clock = Clock(seconds)
    movable = _movable(colours, move)
    if len(movable) > MOST_SETTLED:
        raise HighPairError(
            f"The set “{colours.name}” can't be settled: {len(movable)} of its colours would move, "
            f"and {MOST_SETTLED} may. Leave some as they are, or want fewer pairs."
        )
    fewer = FEWER if len(movable) > MANY else 1
    own = [colour for colour in colours.colours if not colour.parent]

    def nodes_at(steps: Sequence[Floats | None]) -> list[Node]:
        return [
            _node(each, colours, derive, line if each.name in movable else None)
            for each, line in zip(own, steps, strict=True)
        ]

    def everywhere(count: int) -> list[Node]:
        return nodes_at([np.linspace(0.0, 1.0, count + 1)] * len(own))

    pairs, nearness = list(colours.pairs), Nearness(colours, floor)
    nodes, best = _free(everywhere, pairs, clock, STEPS // fewer)
    starts = [[node.now for node in nodes], *([best] if best is not None else [])]
    chosen = Walk(nodes, pairs, nearness).best(starts, clock)
    finer = nodes_at(
        [
            _steps_round(node, place, FINER // fewer)
            for node, place in zip(nodes, chosen, strict=True)
        ]
    )
    same = [
        int(np.argmin(np.abs(fine.levels[fine.names[0]].astype(int) - coarse).sum(axis=1)))
        for fine, node, place in zip(finer, nodes, chosen, strict=True)
        for coarse in (node.levels[node.names[0]][place].astype(int),)
    ]
    mended = _mended(colours, finer, Walk(finer, pairs, nearness).best([same], clock))
    short = tuple(each for each in pairs if ratio_of(mended.colours, each) < each.required)
    return replace(mended, given_up=short)


def mend_to_aim(colours: ColourSet, derive: Derive, move: Move, aim: Aim) -> MendedSet:
    """Mend a set so that its pairs reach an aim; where not all can, so that they have what is
    asked. What is given up are those that fall short of what is asked."""

    def short_of(mended: MendedSet) -> tuple[SetPair, ...]:
        found = (each for each in colours.pairs if ratio_of(mended.colours, each) < each.required)
        return tuple(found)

    if aim == NO_AIM:
        return mend_set(colours, derive, move)
    aiming = tuple(replace(each, required=aim.of(each.required)) for each in colours.pairs)
    mended = mend_set(replace(colours, pairs=aiming), derive, move)
    if short := short_of(mended):
        plain = mend_set(colours, derive, move)
        if len(plain.given_up) < len(short):
            return plain
    own = replace(mended.colours, pairs=colours.pairs)
    return replace(mended, colours=own, given_up=short)


def _free(
    nodes_at: Callable[[int], list[Node]], pairs: Sequence[SetPair], clock: Clock, steps: int
) -> tuple[list[Node], list[int] | None]:
    """Give what costs least in the best of all orders, however near colours come.

    nodes_at: gives the candidates of so many steps. Where all pairs can't be held, those
    are given up that cost least; None where nothing is found in time.
    """
    nodes = nodes_at(steps)
    program = Program(nodes, pairs)
    found = program.solve(clock.left(FREE_SHARE))
    if found is None and program.is_impossible:
        # What coarse steps miss closer ones may have.
        close = nodes_at(CLOSER * steps)
        found = Program(close, pairs).solve(clock.left(FREE_SHARE))
        nodes = close if found is not None else nodes
    if found is None:
        found = Program(nodes, pairs, gives_up=True).solve(clock.left(FREE_SHARE))
    return nodes, found


def _movable(colours: ColourSet, move: Move) -> set[str]:
    """Name the colours that may be moved: those that serve as what is moved, by themselves.

    Where both are, any other may make way too, if the set isn't large.
    """
    roles = {
        Move.TEXTS: [pair.text for pair in colours.pairs],
        Move.BACKDROPS: [pair.backdrop for pair in colours.pairs],
        Move.BOTH: [
            *(name for pair in colours.pairs for name in (pair.text, pair.backdrop)),
            *(each.name for each in colours.colours if len(colours.colours) <= MOST_MAKING_WAY),
        ],
    }[move]
    found = set()
    for name in roles:
        colour = colours.colour(name)
        if colour is not None:
            found.add(colour.parent or colour.name)
    left = {each.parent or each.name for each in colours.colours if each.leave}
    return found - left


# The candidates


def _steps_round(node: Node, place: int, finer: int) -> Floats | None:
    """Give finer steps of lightness between a candidate's neighbours; None where none moves."""
    if node.count == 1:
        return None
    own = node.levels[node.names[0]]
    near = oklch_of(from_bytes(own[[max(0, place - 1), place, min(len(own) - 1, place + 1)]]))[:, 0]
    return np.unique(np.concatenate([np.linspace(near.min(), near.max(), 2 * finer + 1), near]))


def _node(colour: SetColour, colours: ColourSet, derive: Derive, steps: Floats | None) -> Node:
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
    return Node((colour.name, *(each.name for each in children)), levels, cost, now)


def _mended(colours: ColourSet, nodes: Sequence[Node], chosen: Sequence[int]) -> MendedSet:
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
