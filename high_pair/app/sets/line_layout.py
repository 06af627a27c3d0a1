"""Where a set's colours are shown on the line: texts above, backdrops below, none over another."""

from __future__ import annotations

import functools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import Enum

from high_pair.scene.colour_set import ColourSet

GAP = 5.0
# The chip of a colour that no pair has is so much smaller, where others have some.
RESTING = 0.6


class Role(Enum):
    """As what a colour stands on the line; one that no pair has rests on the axis."""

    TEXT = "text"
    BACKDROP = "backdrop"
    REST = "rest"


@dataclass(frozen=True)
class Size:
    """How large chips are shown, with or without names, and in how many rows at most."""

    chip: float
    named: bool
    rows: int


# The first of them for which there is room is taken.
SIZES = (
    Size(34.0, True, 2),
    Size(28.0, True, 3),
    Size(28.0, False, 2),
    Size(22.0, False, 3),
    Size(16.0, False, 4),
    Size(12.0, False, 5),
    Size(8.0, False, 8),
)
NAME_HEIGHT = 19.0


@dataclass(frozen=True)
class Chip:
    """A colour on the line. x: its middle; row: 0 is the row nearest to the pairs' lines."""

    name: str
    role: Role
    x: float
    row: int


@dataclass(frozen=True)
class Layout:
    """All chips, their size, and the rows that each role takes."""

    chips: tuple[Chip, ...]
    size: Size
    rows: Mapping[Role, int]

    def side(self, role: Role) -> float:
        """How large a role's chips are."""
        meets = self.rows[Role.TEXT] or self.rows[Role.BACKDROP]
        return self.size.chip * (RESTING if role is Role.REST and meets else 1.0)

    def is_named(self, role: Role) -> bool:
        """Whether a role's chips have their names."""
        return self.size.named and self.side(role) == self.size.chip

    def pitch(self, role: Role) -> float:
        """How far apart a role's rows are."""
        return self.side(role) + GAP + (NAME_HEIGHT if self.is_named(role) else 0.0)

    def height(self, role: Role) -> float:
        """How high a role's rows are together."""
        return self.rows[role] * self.pitch(role)

    def chip(self, name: str, role: Role) -> Chip | None:
        """Give a colour's chip."""
        return self._by_name.get((name, role))

    @functools.cached_property
    def _by_name(self) -> dict[tuple[str, Role], Chip]:
        return {(each.name, each.role): each for each in self.chips}


def laid_out(
    colours: ColourSet,
    heights: Mapping[str, float],
    left: float,
    width: float,
    room: float,
    name_width: Mapping[str, float],
    at_most: Size = SIZES[0],
) -> Layout:
    """Place the colours of a set.

    heights: of each, 0 to 1; left, width: of the line; room: the height for chips in all;
    name_width: of each name as it is written; at_most: the size from which on one looks.
    """
    texts = {pair.text for pair in colours.pairs}
    backdrops = {pair.backdrop for pair in colours.pairs}
    names = sorted((each.name for each in colours.colours), key=lambda name: (heights[name], name))
    shown = {
        Role.TEXT: [name for name in names if name in texts],
        Role.BACKDROP: [name for name in names if name in backdrops],
        Role.REST: [name for name in names if name not in texts | backdrops],
    }
    for size in SIZES[SIZES.index(at_most) :]:
        # How large the chips of a role are depends on whether there are others alone.
        bare = Layout((), size, {role: int(bool(listed)) for role, listed in shown.items()})
        chips: list[Chip] = []
        rows: dict[Role, int] = {}
        for role, listed in shown.items():
            xs = [left + heights[name] * width for name in listed]
            side = bare.side(role)
            named = bare.is_named(role)
            widths = [max(side, name_width[name]) if named else side for name in listed]
            placed = staggered(xs, widths)
            rows[role] = max(placed, default=-1) + 1
            chips += [
                Chip(*each, *place)
                for each, place in zip(
                    ((name, role) for name in listed), zip(xs, placed, strict=True), strict=True
                )
            ]
        found = Layout(tuple(chips), size, rows)
        fits = sum(found.height(role) for role in Role) <= room
        if fits and max(rows.values()) <= size.rows:
            break
    return found


def staggered(xs: Sequence[float], widths: Sequence[float]) -> list[int]:
    """Give each of some boxes, from left to right by their middles, a row where it is free."""
    ends: list[float] = []
    found = []
    for x, width in zip(xs, widths, strict=True):
        row = next((row for row, end in enumerate(ends) if x - width / 2 >= end + GAP), len(ends))
        if row == len(ends):
            ends.append(0.0)
        ends[row] = x + width / 2
        found.append(row)
    return found
