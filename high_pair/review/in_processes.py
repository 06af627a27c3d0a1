"""Files reviewed and mended in processes of their own, for the command line.

Nothing here reads a stranger's file: see `steps` for what is done, and
`process.host` for how it is watched.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from high_pair.errors import FileProblem, HighPairError, UnreadableFile
from high_pair.formats.kinds import modules
from high_pair.formats.location import Location, name_of, suffix_of
from high_pair.formats.web.settings import WebSettings
from high_pair.process.host import CallProblem, Host, budget_for, get_ready
from high_pair.review.parallel import LONG_DOCUMENT, PagePool
from high_pair.wcag.asked import Asked

if TYPE_CHECKING:
    from high_pair.edits.kinds import Edit
    from high_pair.remedy.wishes import Wishes
    from high_pair.review.decisions import Aside
    from high_pair.scene.seat import Seat

STEPS = "high_pair.review.steps:"
SET_STEP = "high_pair.review.set_steps:colours"
Progress = Callable[[int, int], None]
# Looking for remedies tries many changes, and may use so much more than measuring does.
TRYING = 20.0


@dataclass(frozen=True)
class Opening:
    """What is opened in a process, and how.

    web: how a web page is shown; find_text: whether text in pictures is looked for; edits: that
    are carried out on it.
    """

    path: Location
    web: WebSettings
    find_text: bool = False
    edits: tuple[Edit, ...] = ()


@dataclass(frozen=True)
class ToReview:
    """What is reviewed, and how.

    asked: the standard, and the aim; seats: from which texts are looked at; strict: what doesn't
    read from one of them falls short; asides: what was set aside before.
    """

    opening: Opening
    asked: Asked
    seats: tuple[Seat, ...] = ()
    strict: bool = False
    asides: tuple[Aside, ...] = ()

    @property
    def path(self) -> Location:
        """What is reviewed: a file or a web address."""
        return self.opening.path


@dataclass(frozen=True)
class ReviewedFile:
    """A file's report, as bytes that `write_report` knows; without, what was wrong with it.

    falls_short: how many pairs do.
    """

    path: Location
    report: bytes | None
    error: str = ""
    falls_short: int = 0


@dataclass(frozen=True)
class Left:
    """A text that is as it was, and why."""

    page: int
    where: str
    text: str
    address: str
    reason: str


@dataclass(frozen=True)
class MendedFile:
    """What came of mending a file.

    changed, passing: how many places were changed, and how many of them pass; left: what
    is as it was; short: how many fall short in the copy.
    """

    words: str
    changed: int
    passing: int
    left: tuple[Left, ...]
    short: int

    @property
    def as_json(self) -> dict[str, Any]:
        """Give it for a report."""
        return {
            "changed": self.changed,
            "passing": self.passing,
            "short": self.short,
            "left": [asdict(left) for left in self.left],
        }


@dataclass(frozen=True)
class SetWishes:
    """What is wished of a file's sets.

    form: of the report; mends: what is moved to mend them, None to leave them as they are;
    leave: names of colours that don't move; wanted: pairs of names, text and backdrop;
    target: where the file with the mended set is written.
    """

    form: str = "table"
    mends: str | None = None
    leave: tuple[str, ...] = ()
    wanted: tuple[tuple[str, str], ...] = ()
    target: Path | None = None


def get_ready_for(locations: Iterable[Location]) -> None:
    """Start the server of processes with what reads these, which loads while we go on."""
    get_ready(("high_pair.review.steps", *modules(suffix_of(each) for each in locations)))


def review(wanted: ToReview, with_remedies: bool, progress: Progress) -> ReviewedFile:
    """Review a file; one that can't be read gets its error. Raises NoFinder."""
    with _Work(wanted) as work:
        try:
            pages = work.measured(progress)
            report, short = work.call(
                "report",
                wanted.path,
                pages,
                wanted.asked,
                with_remedies,
                wanted.seats,
                wanted.strict,
                wanted.asides,
                times=TRYING,
            )
        except FileProblem as problem:
            return ReviewedFile(wanted.path, None, str(problem))
        return ReviewedFile(wanted.path, report, falls_short=short)


def mend(wanted: ToReview, target: Path, wishes: Wishes, progress: Progress) -> MendedFile:
    """Mend a file in a copy. Raises FileProblem."""
    with _Work(wanted) as work:
        pages = work.measured(progress)
        found = work.call("remedy", wanted.path, pages, target, wanted.asked, wishes, times=TRYING)
        assert isinstance(found, MendedFile)
        return found


def report_colours(
    wanted: ToReview, wishes: SetWishes, progress: Progress
) -> tuple[str, bool, str]:
    """Report a file's sets; see `set_steps.colours`. Raises FileProblem."""
    with _Work(wanted) as work:
        found: tuple[str, bool, str] = work.call(
            SET_STEP, wanted.opening, wanted.asked, wishes,
            times=TRYING, told=progress,
        )  # fmt: skip
        return found


def write_report(form: str, asked: Asked, files: Sequence[ReviewedFile]) -> str:
    """Give the report of several files. Raises HighPairError."""
    host = Host()
    try:
        listed = [(str(file.path), file.report, file.error) for file in files]
        text: str = host.call(STEPS + "write", form, asked, listed)
    except CallProblem as problem:
        raise HighPairError(f"The report can't be written: it {problem}.") from problem
    finally:
        host.close()
    return text


def _nobody(*_: object) -> None:
    """Nobody is told how far it is."""


class _Work:
    """The processes that work on one file; at its end they end."""

    def __init__(self, wanted: ToReview) -> None:
        get_ready_for([wanted.path])
        self._wanted = wanted
        self._pool = PagePool()

    def __enter__(self) -> _Work:
        return self

    def __exit__(self, *_: object) -> None:
        self._pool.close()

    def call(
        self, step: str, *arguments: object, times: float = 1.0, told: Callable[..., None] = _nobody
    ) -> Any:
        """Have a step done in the first process. told: how far it is. Raises FileProblem."""
        return self._call(self._pool.first, step, *arguments, times=times, told=told)

    def _call(
        self,
        host: Host,
        step: str,
        *arguments: object,
        times: float = 1.0,
        told: Callable[..., None] = _nobody,
    ) -> Any:
        path = self._wanted.path
        try:
            name = step if ":" in step else STEPS + step
            return host.call(name, *arguments, budget=budget_for(path, times), told=told)
        except CallProblem as problem:
            raise UnreadableFile(name_of(path), f"it {problem}.") from problem

    def measured(self, progress: Progress) -> list[bytes]:
        """Measure all pages, in several processes where they are many. Raises FileProblem."""
        wanted = self._wanted
        count, several = self.call("begin", wanted.opening)
        pages: list[bytes] = []

        def page(host: Host, number: int) -> bytes:
            found = self._call(host, "page", wanted.opening, number, wanted.asked)
            assert isinstance(found, bytes)
            return found

        many = several and count >= LONG_DOCUMENT
        waiting = [self._pool.submit(page, number) for number in range(count)] if many else []
        for number in range(count):
            pages.append(waiting[number].result() if many else page(self._pool.first, number))
            progress(number + 1, count)
        return pages
