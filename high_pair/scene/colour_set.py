"""A set: colours that belong together, and which of them meet as text and backdrop."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

Levels = tuple[int, int, int]


class State(StrEnum):
    """What is known of a pair of a set."""

    IN_USE = "in_use"
    WANTED = "wanted"
    POSSIBLE = "possible"


@dataclass(frozen=True)
class SetColour:
    """A colour of a set.

    name: its own within the set; levels: 8-bit sRGB; parent: the name of the colour
    that it is derived from, by `steps`, each a transform's name and value; change: the
    same in words; leave: it isn't to be moved; addresses: where the file decides it, one
    for each part of the file.
    """

    name: str
    levels: Levels
    parent: str = ""
    steps: tuple[tuple[str, float], ...] = ()
    change: str = ""
    leave: bool = False
    addresses: tuple[str, ...] = ()


@dataclass(frozen=True)
class SetPair:
    """Two colours of a set that meet, by their names.

    required: the strictest ratio that is asked where they do; places: in how many; worst:
    the least ratio that was measured there, None where nobody measured.
    """

    text: str
    backdrop: str
    state: State = State.WANTED
    required: float = 4.5
    places: int = 0
    worst: float | None = None


@dataclass(frozen=True)
class ColourSet:
    """Colours, each of a name of its own, and the pairs that are in use or wanted.

    kind: where it comes from, such as «theme»; source: the file's name.
    """

    name: str
    kind: str
    source: str
    colours: tuple[SetColour, ...]
    pairs: tuple[SetPair, ...] = ()

    def colour(self, name: str) -> SetColour | None:
        """Give a colour by its name."""
        return next((each for each in self.colours if each.name == name), None)

    def leaving(self, names: frozenset[str]) -> ColourSet:
        """Give the set in which these colours aren't to be moved, besides those that are so."""
        return replace(
            self,
            colours=tuple(
                replace(each, leave=each.leave or each.name in names) for each in self.colours
            ),
        )
