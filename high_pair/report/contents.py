"""What every report is made from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from high_pair.wcag.asked import Asked

if TYPE_CHECKING:
    from high_pair.measure.pairs import Pair
    from high_pair.measure.seat_numbers import SeatNumbers


@dataclass(frozen=True)
class ReportedPage:
    """A page: its number from 1, name, size in points, and whether it is hidden."""

    page: int
    name: str
    width: float
    height: float
    hidden: bool


@dataclass(frozen=True)
class ReportedRemedy:
    """A remedy as a report gives it; change: what would be written, as plain values."""

    kind: str
    label: str
    ratio: float
    change: Mapping[str, object]


@dataclass(frozen=True)
class ReportedFile:
    """A file's review; with an error, the rest is empty.

    remedies: by the ids of their pairs; seats: likewise, what each text is like from the seats
    that were asked for, by their names.
    """

    path: str
    kind: str = ""
    error: str | None = None
    pages: tuple[ReportedPage, ...] = ()
    pairs: tuple[Pair, ...] = ()
    assumed: tuple[str, ...] = ()
    remedies: Mapping[str, tuple[ReportedRemedy, ...]] = field(default_factory=dict)
    seats: Mapping[str, Mapping[str, SeatNumbers]] = field(default_factory=dict)


@dataclass(frozen=True)
class Report:
    """A review of several files."""

    asked: Asked
    files: tuple[ReportedFile, ...]
