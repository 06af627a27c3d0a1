"""What of a review is listed, and in which order."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Order(StrEnum):
    """What comes first in the list."""

    RATIO = "ratio"
    SHORTFALL = "shortfall"


class Reach(StrEnum):
    """How much of a review is listed."""

    EVERYTHING = "everything"
    FILE = "file"
    PAGE = "page"


@dataclass(frozen=True)
class Scope:
    """The pages that are listed: of one file, by its key, or of all; page: one alone, from 0."""

    file: int | None = None
    page: int | None = None

    def holds(self, file: int, page: int) -> bool:
        """Tell whether a file's page is listed."""
        return self.file in (None, file) and self.page in (None, page)


EVERYTHING = Scope()
