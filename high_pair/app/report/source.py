"""What the Report desk is about: the review in the window, or an audit's store; added up on a
thread of its own, however large it is."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from high_pair.app.controller import Controller
from high_pair.app.stops import Stops
from high_pair.app.worker import Worker
from high_pair.edits.kinds import Edit
from high_pair.errors import Cancelled, HighPairError
from high_pair.formats.web.settings import DEFAULT as WEB
from high_pair.report.as_json import settings_as_json
from high_pair.report.contents import ReportedPage
from high_pair.report.sources import findings_in
from high_pair.review.decisions import decided_in, write_decisions
from high_pair.review.illustrating import HowMeasured
from high_pair.review.listing import Kept
from high_pair.review.overview import Overview, ReviewedFile, findings_of_review, overview_of
from high_pair.review.report_writing import PDF, pictures_for, write_report
from high_pair.review.reported import Reported, reported

PICTURED = ("html", PDF)
DECISIONS = "decisions"


@dataclass(frozen=True)
class WriteOut:
    """What is written: forms, each with its file; title: of the report."""

    targets: Mapping[str, Path]
    title: str
    pictures: bool = True


@dataclass(frozen=True)
class _Review:
    """The review in the window, as it is when something is asked about it."""

    files: tuple[ReviewedFile, ...]
    settings: Mapping[str, object]
    how: HowMeasured
    decided: bool


class Source(QObject):
    """The source. changed: there is something else to show, or work began or ended; failed: with
    words; written: what was written out."""

    changed = Signal()
    failed = Signal(str)
    written = Signal(str)
    _told = Signal(str)

    def __init__(self, controller: Controller) -> None:
        super().__init__()
        self._controller = controller
        self._worker: Worker | None = None
        self._stops = Stops()
        # The store or the report that is shown, None for the review; what it is held against.
        self.path: Path | None = None
        self.baseline: Path | None = None
        self.overview: Overview | None = None
        self.under_way = ""
        self._told.connect(self._tell)

    @property
    def is_review(self) -> bool:
        """Whether it is the review in the window."""
        return self.path is None

    @property
    def title(self) -> str:
        """What the source is called."""
        if self.path is not None:
            return self.path.name
        files = self._controller.session.files
        names = [file.name for file in files.values()]
        return names[0] if len(names) == 1 else f"{len(names)} files under review"

    # Choosing

    def show_review(self) -> None:
        """Show the review in the window."""
        self.path = self.baseline = None
        self.refresh()

    def show_file(self, path: Path) -> None:
        """Show the last run of a store, or a report in JSON."""
        before, self.path, self.baseline = (self.path, self.baseline), path, None
        self.refresh(lambda: self._go_back(*before))

    def compare_with(self, path: Path | None) -> None:
        """Hold it against another audit, or against what is usual."""
        before, self.baseline = self.baseline, path
        self.refresh(lambda: self._go_back(self.path, before))

    def _go_back(self, path: Path | None, baseline: Path | None) -> None:
        """Show again what was shown before something couldn't be read."""
        self.path, self.baseline = path, baseline
        self.refresh()

    # Adding up

    def refresh(self, on_failure: Callable[[], None] = lambda: None) -> None:
        """Add up anew. on_failure: what is done where it can't be read."""
        self._stops.stop()
        if self.is_review and not self._controller.session.files:
            self.overview, self.under_way = None, ""
            self.changed.emit()
            return

        def done(overview: object) -> None:
            assert isinstance(overview, Overview)
            self.overview = overview
            self._end()

        def failed(error: HighPairError) -> None:
            self._end()
            self.failed.emit(str(error))
            on_failure()

        self._do(self._adding_up(), done, failed, "Adding up…")

    def _adding_up(self) -> Callable[[], Overview]:
        found = self._reported()
        is_one_review = self.is_review and self.baseline is None

        def add_up() -> Overview:
            told = found()
            try:
                return overview_of(told.findings, told.before, is_one_review)
            finally:
                told.close()

        return add_up

    def _reported(self) -> Callable[[], Reported]:
        """Give what reads the source, on whichever thread."""
        path, baseline = self.path, self.baseline
        if path is not None:
            return lambda: reported(path, baseline, lambda *_: None)
        review = self._snapshot()

        def of_review() -> Reported:
            now, before = findings_of_review(review.files, review.settings)
            held = findings_in(baseline) if baseline else before if review.decided else None
            return Reported(now, held, review.how)

        return of_review

    def _snapshot(self) -> _Review:
        session = self._controller.session
        files = []
        edits: dict[str, tuple[Edit, ...]] = {}
        for file in session.files.values():
            path = str(file.location)
            edits[path] = session.history.edits_of(file.key)
            pages = [(number, page) for number, page in enumerate(file.pages) if page is not None]
            files.append(
                ReviewedFile(
                    path,
                    file.base.kind,
                    tuple(
                        ReportedPage(number, info.name, info.width, info.height, info.hidden)
                        for number, info in enumerate(file.base.pages, start=1)
                    ),
                    tuple(
                        pair
                        for number, page in pages
                        for pair in file.first.get(number, page).pairs
                    ),
                    tuple(pair for _, page in pages for pair in page.pairs),
                    file.base.assumed(),
                )
            )
        web = next((file.web for file in session.files.values() if file.web is not None), WEB)
        how = HowMeasured(session.asked, web, edits)
        decided = bool(session.history.taken)
        return _Review(tuple(files), settings_as_json(session.asked), how, decided)

    def find_path(self, kept: Kept, done: Callable[[str], None]) -> None:
        """Look for a file with pairs of some kind; done: gets its path, empty where all that there
        is is open in the window."""
        if self.is_review:
            done("")
            return
        found = self._reported()

        def find() -> str:
            told = found()
            try:
                path = told.findings.path_with(kept.origin, kept.criterion, kept.shares)
            finally:
                told.close()
            return path or ""

        def found_one(path: object) -> None:
            self._end()
            done(str(path))

        def failed(error: HighPairError) -> None:
            self._end()
            self.failed.emit(str(error))

        self._do(find, found_one, failed, "Looking for its file…")

    # Writing out

    def write_out(self, wanted: WriteOut) -> None:
        """Write the source out in the forms that are wanted."""
        found = self._reported()
        still = self._stops.asked()

        def write() -> str:
            told = found()
            try:
                return self._write(told, wanted, lambda: not still())
            finally:
                told.close()

        def done(words: object) -> None:
            self._end()
            self.written.emit(str(words))

        def failed(error: HighPairError) -> None:
            self._end()
            if not isinstance(error, Cancelled):
                self.failed.emit(str(error))

        self._do(write, done, failed, "Writing the report…")

    def _write(self, told: Reported, wanted: WriteOut, stopped: Callable[[], bool]) -> str:
        pictures = {}
        if wanted.pictures and any(form in PICTURED for form in wanted.targets):
            pictures = pictures_for(
                told,
                lambda done, total: self._told.emit(f"Painting: {done} of {total} files…"),
                stopped,
            )
        for form, target in wanted.targets.items():
            if stopped():
                raise Cancelled("Writing the report was stopped.")
            self._told.emit(f"Writing {target.name}…")
            if form == DECISIONS:
                write_decisions(decided_in(told.findings), target)
            else:
                write_report(told, form, wanted.title, pictures, target)
        names = ", ".join(target.name for target in wanted.targets.values())
        return f"Written: {names}."

    # Working

    def stop(self) -> str:
        """Stop what is under way; gives words for it, empty where nothing was."""
        if not self.under_way:
            return ""
        self._stops.stop()
        self._end()
        return "Stopped."

    def _do(
        self,
        run: Callable[[], object],
        done: Callable[[object], None],
        failed: Callable[[HighPairError], None],
        words: str,
    ) -> None:
        if self._worker is None:
            self._worker = Worker(self)
        still = self._stops.asked()
        self.under_way = words
        self.changed.emit()
        self._worker.do(
            run,
            lambda result: done(result) if still() else None,
            lambda error: failed(error) if still() else None,
            wanted=still,
        )

    def _tell(self, words: str) -> None:
        if self.under_way:
            self.under_way = words
            self.changed.emit()

    def _end(self) -> None:
        self.under_way = ""
        self.changed.emit()

    def close(self) -> None:
        """End the thread."""
        self._stops.stop()
        if self._worker is not None:
            self._worker.stop()


def short_times(times: Sequence[str]) -> list[str]:
    """Write times of ISO 8601 as shortly as tells them apart: days, or the hours of one day."""
    try:
        found = [datetime.fromisoformat(each).astimezone() for each in times]
    except ValueError:
        return list(times)
    one_day = len({each.date() for each in found}) == 1
    return [f"{each:%H:%M}" if one_day else f"{each.day} {each:%b}" for each in found]


def when_words(when: str) -> str:
    """Write a time of ISO 8601 as people do: «3 October, 14:20», in the time of this machine."""
    try:
        at = datetime.fromisoformat(when).astimezone()
    except ValueError:
        return when
    return f"{at.day} {at:%B, %H:%M}"
