"""A review under way: its files, what was measured, what was decided.

Plain state without threads: whoever measures pages (the window's worker, a
test) asks which pages are due and hands the results in. A result carries the
edition of the file that it was measured from, and one that is out of date is
not taken.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Generic, Protocol, Self, TypeVar

from high_pair.edits.kinds import Edit, SetAside
from high_pair.errors import HighPairError
from high_pair.formats.location import Location, resolved
from high_pair.formats.web.settings import WebSettings
from high_pair.measure.alike import Alike, alike_groups, shortfall
from high_pair.measure.pairs import Pair
from high_pair.review.history import Decision, History
from high_pair.review.listing import EVERYTHING, Order, Scope
from high_pair.review.matching import at_addresses
from high_pair.review.measuring import PageReview
from high_pair.review.review_file import KeptDecision, KeptFile, KeptReview
from high_pair.scene.addresses import expand
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict


class Reviewed(Protocol):
    """What a review needs of a document, wherever that is open."""

    @property
    def name(self) -> str:
        """The file's name."""

    @property
    def pages(self) -> Sequence[object]:
        """The pages in reading order."""

    def edited(self, edits: Sequence[Edit]) -> Self:
        """Give it with these edits and no others. Raises EditError."""

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell which pages may look different after edits."""

    def close(self) -> None:
        """Let go of the file."""


D = TypeVar("D", bound=Reviewed)


@dataclass
class OpenFile(Generic[D]):
    """A file under review.

    base: as it is on disk; document: with the edits in force; editions: how
    often each page has changed; pages: what was measured of each, None where it
    is due; first: likewise of each as it is on disk; edits_saved: the edits that the
    last saved copy holds; web: how a web page is shown.
    """

    key: int
    location: Location
    base: D
    document: D
    editions: list[int]
    pages: list[PageReview | None]
    first: dict[int, PageReview] = field(default_factory=dict)
    edits_saved: tuple[Edit, ...] = ()
    web: WebSettings | None = None

    @property
    def name(self) -> str:
        """The file's name."""
        return self.base.name


@dataclass(frozen=True)
class Due(Generic[D]):
    """A page that is to be measured: which file's, and of which edition."""

    file: int
    page: int
    edition: int
    document: D
    asked: Asked


@dataclass(frozen=True)
class Step:
    """A change to what is decided, before it is carried out.

    history: as it is afterwards; changed: the edits that come or go by it.
    """

    file: int
    history: History
    changed: tuple[Edit, ...]


@dataclass(frozen=True)
class Made(Generic[D]):
    """A step's file as it is after it, and the pages that may look different then."""

    document: D
    touched: frozenset[int]


@dataclass(frozen=True)
class Restored(Generic[D]):
    """Decisions of an earlier day, carried out but not taken yet.

    before, history: what was decided until then, and with them; documents: the
    files as they are then, by their keys; left: what can't be carried out any more.
    """

    before: History
    history: History
    documents: Mapping[int, D]
    left: tuple[Decision, ...]


@dataclass(frozen=True)
class Look:
    """Alike pairs of one file."""

    file: int
    group: Alike


@dataclass
class Session(Generic[D]):
    """The review. kept: the decisions that the review file on disk holds."""

    asked: Asked = field(default_factory=Asked)
    files: dict[int, OpenFile[D]] = field(default_factory=dict)
    history: History = field(default_factory=History)
    kept: tuple[Decision, ...] = ()
    _next_key: int = 1

    def add(self, location: Location, document: D, web: WebSettings | None = None) -> OpenFile[D]:
        """Take a file into the review; all its pages are due."""
        count = len(document.pages)
        file = OpenFile(
            self._next_key,
            location,
            document,
            document,
            [0] * count,
            [None] * count,
            web=web,
        )
        self._next_key += 1
        self.files[file.key] = file
        return file

    def remove(self, key: int) -> None:
        """Take a file out of the review, with all that was decided about it."""
        file = self.files.pop(key)
        self.history = self.history.without_file(key)
        file.base.close()

    def file_at(self, location: Location) -> OpenFile[D] | None:
        """Give the open file of a location, if it is open."""
        wanted = resolved(location)
        return next((f for f in self.files.values() if resolved(f.location) == wanted), None)

    def kept_review(self, digests: Mapping[int, str]) -> KeptReview:
        """Give what a review file holds of it; digests: of the files' content, by their keys."""
        places = {key: place for place, key in enumerate(self.files)}
        return KeptReview(
            self.asked,
            tuple(
                KeptFile(file.location, digests.get(file.key, ""), file.web)
                for file in self.files.values()
            ),
            tuple(
                KeptDecision(places[decision.file], decision.words, decision.edits)
                for decision in self.history.taken
            ),
        )

    # Measuring

    def due(self) -> list[Due[D]]:
        """List the pages that are to be measured, in reading order."""
        return [
            self.due_page(file.key, page)
            for file in self.files.values()
            for page, review in enumerate(file.pages)
            if review is None
        ]

    def due_page(self, key: int, page: int) -> Due[D]:
        """Describe the measuring of one page as it is now."""
        file = self.files[key]
        return Due(key, page, file.editions[page], file.document, self.asked)

    def is_current(self, due: Due[D]) -> bool:
        """Tell whether a page is still as it was when it became due."""
        file = self.files.get(due.file)
        return (
            file is not None and file.editions[due.page] == due.edition and due.asked == self.asked
        )

    def take(self, due: Due[D], review: PageReview) -> bool:
        """Take in what was measured; gives False for what is out of date."""
        if not self.is_current(due):
            return False
        file = self.files[due.file]
        file.pages[due.page] = self.with_set_aside(due.file, review)
        if due.edition == 0:
            file.first[due.page] = review
        return True

    def with_set_aside(self, key: int, review: PageReview) -> PageReview:
        """Give a page's pairs with those set aside marked as such, with the person's reason."""
        aside = self.history.set_aside(key)
        if not aside:
            return review
        return replace(review, pairs=tuple(_set_aside(pair, aside) for pair in review.pairs))

    def ask(self, asked: Asked) -> None:
        """Ask for another level or coverage: every page is due again."""
        if asked != self.asked:
            self.asked = asked
            for file in self.files.values():
                file.pages = [None] * len(file.pages)
                file.first.clear()

    # Deciding

    def restored(
        self, decisions: Sequence[Decision], instead: Sequence[Decision] = ()
    ) -> Restored[D]:
        """Carry decisions of an earlier day out, in order, but those that can't be any more.

        instead: of which decisions. Changes nothing, and may be called on any thread. Those of
        files that aren't open any more aren't asked about.
        """
        # Asked for first: a file that closes from now on makes it another one.
        before = history = self.history
        for old in instead:
            history = history.without(old.file, frozenset(old.edits))
        left_out = history
        bases = {key: file.base for key, file in dict(self.files).items()}
        decisions = [each for each in decisions if each.file in bases]
        for decision in decisions:
            history = history.with_decision(decision)
        keys = {decision.file for decision in (*decisions, *instead)} & bases.keys()
        left: list[Decision] = []
        try:
            # All at once, as is usual: one edited document for each file.
            documents = {key: _edited(bases[key], history.edits_of(key)) for key in keys}
        except HighPairError:
            history = left_out
            for decision in decisions:
                tried = history.with_decision(decision)
                try:
                    _edited(bases[decision.file], tried.edits_of(decision.file))
                except HighPairError:
                    left.append(decision)
                else:
                    history = tried
            documents = {key: _edited(bases[key], history.edits_of(key)) for key in keys}
        return Restored(before, history, documents, tuple(left))

    def take_restored(self, restored: Restored[D]) -> bool:
        """Take what was restored; the pages of its files are due again.

        False, and nothing is taken, where something else was decided, or a file closed, meanwhile.
        """
        if self.history is not restored.before:
            return False
        self.history = restored.history
        for key, document in restored.documents.items():
            file = self.files[key]
            file.document = document
            file.editions = [edition + 1 for edition in file.editions]
            file.pages = [None] * len(file.pages)
        return True

    def decide(self, key: int, words: str, edits: Sequence[Edit]) -> frozenset[int]:
        """Take a decision about a file; gives the pages that it touches, which are due again.

        Raises EditError, and nothing has changed, when an edit can't be carried out.
        """
        return self._carry_out(self.deciding(key, words, edits))

    def undo(self) -> tuple[int, frozenset[int]] | None:
        """Undo the last decision; gives its file and the pages touched, None without one."""
        step = self.undoing()
        return None if step is None else (step.file, self._carry_out(step))

    def redo(self) -> tuple[int, frozenset[int]] | None:
        """Take the decision undone last again."""
        step = self.redoing()
        return None if step is None else (step.file, self._carry_out(step))

    def deciding(self, key: int, words: str, edits: Sequence[Edit]) -> Step:
        """Give the step that takes a decision about a file."""
        decision = Decision(key, words, tuple(edits))
        return Step(key, self.history.with_decision(decision), decision.edits)

    def undoing(self) -> Step | None:
        """Give the step that undoes the last decision, None without one."""
        if not self.history.taken:
            return None
        decision = self.history.taken[-1]
        return Step(decision.file, self.history.back(), decision.edits)

    def redoing(self) -> Step | None:
        """Give the step that takes the decision undone last again, None without one."""
        if not self.history.undone:
            return None
        decision = self.history.undone[0]
        return Step(decision.file, self.history.forth(), decision.edits)

    def made(self, step: Step) -> Made[D]:
        """Give a step's file as it is after it; changes nothing, and may be called on any thread.

        Raises EditError when an edit can't be carried out.
        """
        base = self.files[step.file].base
        document = _edited(base, step.history.edits_of(step.file))
        return Made(document, base.pages_touched(step.changed))

    def take_step(self, step: Step, made: Made[D]) -> frozenset[int]:
        """Take a step that is made; gives the pages that are due again."""
        self.history = step.history
        file = self.files[step.file]
        file.document = made.document
        for page in made.touched:
            file.editions[page] += 1
            file.pages[page] = None
        return made.touched

    def _carry_out(self, step: Step) -> frozenset[int]:
        return self.take_step(step, self.made(step))

    def changed_pairs(self, key: int) -> list[Pair]:
        """List the pairs that a file's edits are about, as they were before it if known."""
        file = self.files[key]
        addresses = self.history.changed_addresses(key)
        found: list[Pair] = []
        for page, now in enumerate(file.pages):
            first = file.first.get(page)
            before = at_addresses(first.pairs, addresses) if first is not None else []
            # A box round text in a picture wasn't there at first.
            rest = addresses - {single for pair in before for single in expand(pair.address)}
            found += [*before, *(at_addresses(now.pairs, rest) if now is not None else [])]
        return found

    def unsaved(self) -> list[OpenFile[D]]:
        """List the files with decisions that neither a saved copy nor a review file holds."""
        if self.history.taken == self.kept:
            return []
        return [
            file
            for file in self.files.values()
            if self.history.edits_of(file.key) not in ((), file.edits_saved)
            or (self.history.set_aside(file.key) and not self.kept)
        ]

    # What was found

    def looks(
        self, verdict: Verdict, scope: Scope = EVERYTHING, order: Order = Order.RATIO
    ) -> list[Look]:
        """Group the pairs of a verdict, in an order; each file's for itself."""
        found = [
            Look(file.key, group)
            for file in self.files.values()
            for group in alike_groups(
                pair for pair in self._pairs_of(file, scope) if pair.verdict is verdict
            )
        ]
        weight = shortfall if order is Order.SHORTFALL else _ratio
        return sorted(found, key=lambda look: weight(look.group.weakest))

    def counts(self, scope: Scope = EVERYTHING) -> dict[Verdict, int]:
        """Count the pairs of each verdict."""
        counts = dict.fromkeys(Verdict, 0)
        for file in self.files.values():
            for pair in self._pairs_of(file, scope):
                counts[pair.verdict] += 1
        return counts

    def _pairs_of(self, file: OpenFile[D], scope: Scope) -> Iterator[Pair]:
        for page, review in enumerate(file.pages):
            if review is not None and scope.holds(file.key, page):
                yield from scope.of(review.pairs)

    def pairs_on(self, key: int, page: int) -> tuple[Pair, ...]:
        """Give what was measured on a page; nothing while it is due."""
        review = self.files[key].pages[page]
        return review.pairs if review else ()


def _ratio(pair: Pair) -> float:
    return pair.ratio or 0.0


def _edited(base: D, edits: Sequence[Edit]) -> D:
    return base.edited(edits) if edits else base


def _set_aside(pair: Pair, aside: Mapping[tuple[str, str], SetAside]) -> Pair:
    found = aside.get((pair.address, pair.subject.value))
    if found is None or pair.verdict is Verdict.EXEMPT:
        return pair
    return replace(pair, verdict=Verdict.SET_ASIDE, reason=found.words)
