"""What of a review is listed, and in which order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from high_pair.measure.pairs import Pair


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
class Kept:
    """What the list is kept to: pairs of a file, by its key, of a criterion, whose colour comes
    from a place, or that have a share of what is asked, from one to below another.

    words: of what that is.
    """

    words: str
    file: int | None = None
    criterion: str | None = None
    origin: str | None = None
    shares: tuple[float, float] | None = None

    def holds(self, pair: Pair) -> bool:
        """Tell whether a pair is among them."""
        if self.shares is not None:
            least, most = self.shares
            if pair.ratio is None or not least <= pair.ratio / pair.required < most:
                return False
        return self.criterion in (None, pair.criterion) and self.origin in (None, pair.origin)


@dataclass(frozen=True)
class Scope:
    """What is listed: the pages of one file, by its key, or of all; page: one alone, from 0; kept:
    of these some pairs alone."""

    file: int | None = None
    page: int | None = None
    kept: Kept | None = None

    def holds(self, file: int, page: int) -> bool:
        """Tell whether a file's page is listed."""
        kept = self.kept.file if self.kept is not None else None
        return self.file in (None, file) and self.page in (None, page) and kept in (None, file)

    def of(self, pairs: Sequence[Pair]) -> Sequence[Pair]:
        """Give those of a page's pairs that are listed."""
        return pairs if self.kept is None else [each for each in pairs if self.kept.holds(each)]


EVERYTHING = Scope()
