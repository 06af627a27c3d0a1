"""Keeping a review: opening and saving its file, and a copy of it while it is under way."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from high_pair.app.controller import Controller
from high_pair.app.stops import Stops
from high_pair.app.worker import Urgency
from high_pair.errors import HighPairError
from high_pair.formats.web.settings import DEFAULT
from high_pair.review.held import HeldDocument
from high_pair.review.history import Decision
from high_pair.review.merging import Difference, Merged, merge
from high_pair.review.review_file import (
    SUFFIX,
    KeptDecision,
    KeptFile,
    KeptReview,
    digest_of,
    load_review,
    save_review,
)
from high_pair.review.session import Restored
from high_pair.wcag.asked import Asked

AUTOSAVE_MILLISECONDS = 1500


@dataclass(eq=False)
class _Opening:
    """A review file being opened: its files' keys by their places, and what is still to come.

    as_own: saving goes on in it; wanted: tells whether nobody has stopped it;
    added: the keys of files that weren't open before.
    """

    path: Path
    as_own: bool
    wanted: Callable[[], bool]
    kept: KeptReview = field(default_factory=lambda: KeptReview(Asked(), (), ()))
    keys: dict[int, int] = field(default_factory=dict)
    added: list[int] = field(default_factory=list)
    coming: int = 0
    troubles: list[str] = field(default_factory=list)


class ReviewKeeper(QObject):
    """The keeper. told: words for the status; opened: a review file is open, and may be saved on.

    differed: a review that was opened decides otherwise than the one under way: how the two
    were put together, and its name; changed: the file that the review is saved in is another, or a
    review file is being opened, or none any more.
    """

    told = Signal(str)
    opened = Signal(object)
    asked_found = Signal(object)
    differed = Signal(object, str)
    changed = Signal()

    def __init__(self, controller: Controller, folder: Path) -> None:
        super().__init__(controller)
        self.controller = controller
        self.folder = folder
        self.path: Path | None = None
        # Whether the review file opened last held something that couldn't be taken up.
        self.lost = False
        self._under_way: list[_Opening] = []
        self._stops = Stops()
        self._digests: dict[int, str] = {}
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(AUTOSAVE_MILLISECONDS)
        self._soon.timeout.connect(self.autosave)
        controller.document_changed.connect(lambda _key: self._soon.start())
        controller.opened.connect(self._note_digest)

    # Opening

    def open(self, path: Path, as_own: bool = True) -> None:
        """Open a review file; as_own: saving goes on in it."""
        opening = _Opening(path, as_own, self._stops.asked())
        self._under_way.append(opening)
        self.changed.emit()

        def done(kept: KeptReview) -> None:
            if opening.wanted():
                self._begin(opening, kept)

        def failed(error: HighPairError) -> None:
            if opening.wanted():
                self._over(opening)
                self.controller.failed.emit(str(error))

        self.controller.worker.do(
            lambda: load_review(path), done, failed, Urgency.AT_HAND, opening.wanted
        )

    def stop(self) -> None:
        """Leave the review that is being opened, and the files it has opened so far."""
        self._stops.stop()
        for opening in self._under_way:
            for key in opening.added:
                if key in self.controller.session.files:
                    self.controller.close_file(key)
        self._under_way.clear()
        self.changed.emit()

    @property
    def under_way(self) -> Path | None:
        """The review file that is being opened."""
        return self._under_way[-1].path if self._under_way else None

    def _over(self, opening: _Opening) -> None:
        self._under_way.remove(opening)
        self.changed.emit()

    def _begin(self, opening: _Opening, kept: KeptReview) -> None:
        self.asked_found.emit(kept.asked)
        opening.kept = kept
        opening.coming = len(kept.files)
        for place, file in enumerate(kept.files):
            self._open_one(opening, place, file)
        if not kept.files:
            self._restore(opening)

    def _open_one(self, opening: _Opening, place: int, file: KeptFile) -> None:
        session = self.controller.session

        def run() -> tuple[HeldDocument, str]:
            processes = self.controller.processes
            shown = file.web or DEFAULT
            document = processes.open(file.location, shown, lambda: not opening.wanted())
            return document, digest_of(file.location)

        def done(found: tuple[HeldDocument, str]) -> None:
            document, digest = found
            if not opening.wanted():
                document.close()
                return
            known = session.file_at(file.location)
            opened = known or session.add(file.location, document, document.facts.web)
            if known is not None:
                document.close()
            else:
                opening.added.append(opened.key)
            opening.keys[place] = opened.key
            self._digests[opened.key] = digest
            if file.digest and digest != file.digest:
                opening.troubles.append(f"{document.name} has changed since: it is measured anew.")
            one_less()

        def failed(error: HighPairError) -> None:
            if opening.wanted():
                opening.troubles.append(str(error))
                one_less()

        def one_less() -> None:
            opening.coming -= 1
            if not opening.coming:
                self._restore(opening)

        self.controller.worker.do(run, done, failed, Urgency.AT_HAND, opening.wanted)

    def _restore(self, opening: _Opening) -> None:
        """Carry out what was decided; long documents flow anew, which takes its time.

        What another reviewer decided is put together with what was decided here.
        """
        session = self.controller.session
        merged = None
        if session.history.taken:
            merged = merge(session.kept_review(self._digests), opening.kept)
            decisions = self._decisions(merged, merged.added)
        else:
            decisions = [
                Decision(opening.keys[kept.file], kept.words, kept.edits)
                for kept in opening.kept.decisions
                if kept.file in opening.keys
            ]

        def done(restored: Restored) -> None:
            if not opening.wanted():
                return
            if session.take_restored(restored):
                self._end(opening, restored.left, merged)
            else:
                # Something was decided meanwhile, or a file closed: on top of that, then.
                self._restore(opening)

        def failed(error: HighPairError) -> None:
            if opening.wanted():
                self._over(opening)
                self.controller.failed.emit(str(error))

        self.controller.worker.do(
            lambda: session.restored(decisions), done, failed, Urgency.AT_HAND, opening.wanted
        )

    def _decisions(self, merged: Merged, kept: Sequence[KeptDecision]) -> list[Decision]:
        """Give decisions of a merged review as the session has them, those of its open files."""
        keys = list(self.controller.session.files)
        return [
            Decision(keys[each.file], each.words, each.edits)
            for each in kept
            if each.file < len(keys)
        ]

    def take_second(self, merged: Merged, chosen: Sequence[Difference]) -> None:
        """Take the other reviewer's decisions in place of those here, where they were chosen."""
        session = self.controller.session
        theirs = [decision for each in chosen for decision in each.second]
        ours = [decision for each in chosen for decision in each.first]
        taken, left = self._decisions(merged, theirs), self._decisions(merged, ours)

        def done(restored: Restored) -> None:
            if not session.take_restored(restored):
                # Something was decided meanwhile: on top of that, then.
                self.take_second(merged, chosen)
                return
            for key in restored.documents:
                self.controller.document_changed.emit(key)
            self.controller.measure_due()
            self.told.emit(f"Took {len(taken)} of the other review’s decisions.")

        def failed(error: HighPairError) -> None:
            self.controller.failed.emit(str(error))

        self.controller.worker.do(
            lambda: session.restored(taken, left), done, failed, Urgency.AT_HAND
        )

    def _end(
        self, opening: _Opening, left: Sequence[Decision], merged: Merged | None = None
    ) -> None:
        session = self.controller.session
        self.lost = bool(left) or len(opening.keys) < len(opening.kept.files)
        if left:
            count = f"{len(left)} decisions" if len(left) > 1 else "One decision"
            opening.troubles.append(
                f"{count} can't be carried out any more, since the text isn't there: "
                + "; ".join(decision.words for decision in left[:5])
            )
        if opening.as_own and merged is None:
            self.path = opening.path
            if not self.lost:
                session.kept = session.history.taken
        self._over(opening)
        self.controller.pages_changed.emit()
        for key in list(opening.keys.values())[:1]:
            self.controller.opened.emit(key)
        self.controller.measure_due()
        if opening.troubles:
            self.controller.failed.emit("\n\n".join(opening.troubles))
        self.opened.emit(opening.path)
        if merged is not None:
            self.told.emit(
                f"{opening.path.name}: {merged.agreed} decided alike, {len(merged.added)} added, "
                f"{len(merged.differences)} differ."
            )
            if merged.differences:
                self.differed.emit(merged, opening.path.stem)

    # Saving

    def _note_digest(self, key: int) -> None:
        file = self.controller.session.files.get(key)
        if file is None or key in self._digests:
            return
        path = file.location

        def done(digest: str) -> None:
            self._digests[key] = digest

        # A large file takes a while: its pages are measured first.
        idle = Urgency.WHEN_IDLE
        self.controller.worker.do(lambda: digest_of(path), done, lambda _error: None, idle)

    def save(self, target: Path) -> bool:
        """Save the review; tells whether that worked."""
        session = self.controller.session
        try:
            save_review(session.kept_review(self._digests), target)
        except HighPairError as error:
            self.controller.failed.emit(str(error))
            return False
        self.path = target
        session.kept = session.history.taken
        self.told.emit(f"Saved the review as {target.name}.")
        self.changed.emit()
        return True

    # While it is under way

    @property
    def own_autosave(self) -> Path:
        """Where this window's review is kept while it is under way."""
        return self.folder / f"{os.getpid()}{SUFFIX}"

    def autosave(self) -> None:
        """Keep the review as it is now; a folder that can't be written is no reason to stop."""
        session = self.controller.session
        if not session.files:
            return
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            save_review(session.kept_review(self._digests), self.own_autosave)
        except (OSError, HighPairError):
            self.told.emit("The review under way can't be kept on disk: save it by hand.")

    def forget(self) -> None:
        """Remove what was kept of the review under way: the window closes as it should."""
        self._soon.stop()
        self.own_autosave.unlink(missing_ok=True)

    def left_behind(self) -> list[Path]:
        """List the reviews of windows that ended without closing, the newest first."""
        found = []
        for path in self.folder.glob(f"*{SUFFIX}") if self.folder.is_dir() else ():
            if path.stem.isdecimal() and not _runs(int(path.stem)):
                found.append(path)
        return sorted(found, key=lambda path: path.stat().st_mtime, reverse=True)


def _runs(process: int) -> bool:
    """Tell whether a process is running."""
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True
