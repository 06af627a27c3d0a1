"""Saving a copy and measuring what was saved."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from high_pair.errors import Cancelled
from high_pair.formats.document import Document
from high_pair.formats.location import Location
from high_pair.formats.opening import open_saved
from high_pair.formats.writing import refuse_source
from high_pair.measure.pairs import Pair
from high_pair.review.matching import MeasuredAnew
from high_pair.review.measuring import PageReview, review_page
from high_pair.wcag.asked import Asked


@dataclass(frozen=True)
class SavedCopy:
    """What the copy on disk measures as.

    pages: its pages that hold changes; changed, passing: how many places were
    changed, as they were told apart before, and how many of those pass; below_aim: how many of
    these are short of the reviewer's aim; left: what falls short in it, as far as whoever asked
    knows.
    """

    target: Path
    pages: tuple[PageReview, ...]
    changed: int
    passing: int
    left: tuple[Pair, ...] = ()
    below_aim: int = 0

    @property
    def words(self) -> str:
        """The outcome in a sentence."""
        noun = "changed pair passes" if self.changed == 1 else "changed pairs pass"
        words = f"{self.passing} of {self.changed} {noun} in the saved file"
        return f"{words}, {self.below_aim} of them below the aim" if self.below_aim else words


def save_copy(
    document: Document,
    target: Path,
    source: Location,
    changed: Sequence[Pair],
    pages: Iterable[int],
    asked: Asked,
    stopped: Callable[[], bool] = lambda: False,
) -> SavedCopy:
    """Write a copy, open it anew and measure its changed pages.

    changed: the pairs that edits are about, as they were before. Raises UnwritableFile
    when the target is the source, which is never written, or can't be written.
    """
    refuse_source(target, [source] if isinstance(source, Path) else [])
    document.save(target)
    copy = open_saved(target, document)
    try:
        reviews = []
        for page in sorted(pages):
            if stopped():
                raise Cancelled("The copy is saved; measuring it was stopped.")
            reviews.append(review_page(copy, page, asked))
    finally:
        copy.close()
    now = {review.page + 1: MeasuredAnew(review.pairs) for review in reviews}
    gone = MeasuredAnew(())
    passing = sum(now.get(pair.page, gone).holds(pair) for pair in changed)
    aimed = sum(now.get(pair.page, gone).holds(pair, aiming=True) for pair in changed)
    return SavedCopy(target, tuple(reviews), len(changed), passing, below_aim=passing - aimed)
