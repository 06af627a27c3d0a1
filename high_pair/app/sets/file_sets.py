"""The sets of the file at hand: read, met on its pages, and tried there."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import CancelledError, Future
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from high_pair.app.images import image_of
from high_pair.app.page_strip import THUMBNAIL_WIDTH
from high_pair.app.stops import Stops
from high_pair.app.worker import Urgency
from high_pair.edits.kinds import Edit
from high_pair.errors import Cancelled, HighPairError
from high_pair.measure.pairs import Pair
from high_pair.report.colours import Effect
from high_pair.review import tasks
from high_pair.review.colour_sets import (
    Meeting,
    code,
    effect_on,
    meetings,
    together,
    with_meetings,
)
from high_pair.review.parallel import LONG_DOCUMENT
from high_pair.review.session import OpenFile
from high_pair.scene.colour_set import ColourSet

if TYPE_CHECKING:
    from high_pair.app.controller import Controller

# So many pages that change are shown as pictures.
MOST_SHOWN = 3


@dataclass(frozen=True)
class TriedPage:
    """A page with a set as proposed: what that does there, and how it looks."""

    page: int
    effect: Effect
    picture: QImage


class FileSets(QObject):
    """Reads and tries. changed: something came, began or ended; failed: a message for the user.

    file: whose sets are shown; sets: with their pairs as far as those are known; uses: what
    stands where two colours meet; is_met: whether all pages were looked at; tried: the edits
    that were tried last, and on which pages; done, total: pages looked at.
    """

    changed = Signal()
    failed = Signal(str)
    _pooled = Signal(object, object)

    def __init__(self, controller: Controller) -> None:
        super().__init__(controller)
        self._controller = controller
        self.file: OpenFile | None = None
        self.sets: tuple[ColourSet, ...] = ()
        # As they were read, with shades that no page may show.
        self._read_sets: tuple[ColourSet, ...] = ()
        self.uses: dict[Meeting, list[Pair]] = {}
        self.is_read = self.is_met = False
        self.tried_edits: tuple[Edit, ...] = ()
        self.tried: list[TriedPage] = []
        self.done = self.total = 0
        self._editions: tuple[object, ...] = ()
        self._meets = self._tries = False
        self._meeting, self._trying = Stops(), Stops()
        self._pooled.connect(self._take_pooled)

    # Reading, and where colours meet

    def look(self, file: OpenFile | None) -> None:
        """Bring the sets of a file, as it is now; what is known already stays."""
        session = self._controller.session
        key = () if file is None else (file.key, tuple(file.editions), session.asked)
        if file is not self.file or key != self._editions:
            self._meeting.stop()
            self._trying.stop()
            other = file is not self.file
            self.file, self._editions = file, key
            self.is_read = self.is_met = self._meets = self._tries = False
            self.tried_edits, self.tried = (), []
            self.done = self.total = 0
            if other:
                self.sets, self.uses = (), {}
            if file is not None:
                self._read(file)
            self.changed.emit()
        elif file is not None and self.is_read and not self.is_met and not self._meets:
            self._meet(file)

    def _read(self, file: OpenFile) -> None:
        wanted, document = self._meeting.asked(), file.document

        def done(sets: tuple[ColourSet, ...]) -> None:
            if wanted():
                self.is_read = True
                self._read_sets = sets
                met = [(m, pair) for m, pairs in self.uses.items() for pair in pairs]
                # Until they are looked for anew the pairs are those of before.
                self.sets = with_meetings(sets, [each for each in met if each[0][0] < len(sets)])
                self.is_met = not sets
                self.changed.emit()
                self.look(file)

        def failed(error: HighPairError) -> None:
            if wanted():
                self.is_read = self.is_met = True
                self.changed.emit()
                self._tell(error)

        self._controller.worker.do(
            lambda: document.run(tasks.colour_sets), done, failed, Urgency.AT_HAND, wanted
        )

    def _meet(self, file: OpenFile) -> None:
        """Look where colours meet, as soon as all pages are measured."""
        pages = [review for review in file.pages if review is not None]
        if len(pages) < len(file.pages) or not self.sets:
            return
        coded, wanted = code(self._read_sets), self._meeting.asked()
        if not coded.edits:
            # Such as a picture's: nobody can ask it for other colours.
            self.is_met = True
            self.changed.emit()
            return
        self._meets = True
        found: list[tuple[Meeting, Pair]] = []
        self.done, self.total = 0, len(pages)

        def done(page: int, after: tuple[Pair, ...]) -> None:
            found.extend(meetings(pages[page].pairs, after, coded))
            self.done += 1
            if self.done == self.total:
                self._end_meeting(found)
            self.changed.emit()

        self._measure(file, coded.edits, range(len(pages)), done, wanted, self._meeting_failed)
        self.changed.emit()

    def _end_meeting(self, found: Sequence[tuple[Meeting, Pair]]) -> None:
        self._meets, self.is_met = False, True
        self.done = self.total = 0
        self.sets = with_meetings(self._read_sets, found)
        uses: dict[Meeting, list[Pair]] = {}
        for meeting, pair in found:
            uses.setdefault(meeting, []).append(pair)
        self.uses = uses

    def _meeting_failed(self, error: HighPairError) -> None:
        self._meeting.stop()
        self._meets, self.is_met = False, True
        self.done = self.total = 0
        self.changed.emit()
        self._tell(error)

    # Trying

    def try_on_pages(self, edits: Sequence[Edit]) -> None:
        """Measure all pages with these edits; those that were tried last are known."""
        file = self.file
        wished = tuple(edits) if file is not None and self.is_met else ()
        if wished == self.tried_edits:
            return
        self._trying.stop()
        self.tried_edits, self.tried, self._tries = wished, [], bool(wished)
        self.done = self.total = 0
        if not wished or file is None:
            return
        wanted = self._trying.asked()
        pages = [review for review in file.pages if review is not None]
        self.done, self.total = 0, len(pages)

        def done(page: int, result: tasks.PageResult) -> None:
            effect = effect_on(pages[page].pairs, result.review.pairs)
            self.tried.append(TriedPage(page, effect, image_of(result.thumbnail)))
            self.done += 1
            if self.done == self.total:
                self._tries = False
                self.done = self.total = 0
            self.changed.emit()

        self._measure(file, edits, range(len(pages)), done, wanted, self._trial_failed, True)
        self.changed.emit()

    def _trial_failed(self, error: HighPairError) -> None:
        self._trying.stop()
        self._tries = False
        self.tried_edits, self.tried = (), []
        self.done = self.total = 0
        self.changed.emit()
        self._tell(error)

    @property
    def effect(self) -> Effect | None:
        """What was tried last does on all pages; None until it is known."""
        if self._tries or not self.tried_edits:
            return None
        return together([each.effect for each in self.tried])

    def shown_pages(self) -> list[TriedPage]:
        """List the pages that show best what a trial does, in their order."""
        changed = [each for each in self.tried if each.effect.mends or each.effect.breaks]
        most = sorted(changed, key=lambda each: (-each.effect.breaks, -each.effect.mends))
        return sorted(most[:MOST_SHOWN], key=lambda each: each.page)

    # What is under way

    @property
    def under_way(self) -> str:
        """What is under way, in words; empty where nothing is."""
        if self._meets:
            return f"Looking where the colours meet: {self.done} of {self.total} pages"
        if self._tries:
            return f"Trying the set on the pages: {self.done} of {self.total}"
        return ""

    def leave(self) -> None:
        """Wait for nothing any more: the window closes."""
        self._meeting.stop()
        self._trying.stop()

    def stop(self) -> str:
        """Leave what is under way; gives words for what was stopped."""
        if self._meets:
            self._meeting.stop()
            self._meets, self.is_met = False, True
            # When the desk is shown again, one looks again.
            self._editions = ()
            words = "Stopped; what stands on what isn't known."
        elif self._tries:
            self._trying.stop()
            self._tries = False
            self.tried_edits, self.tried = (), []
            words = "Stopped trying the set."
        else:
            return ""
        self.done = self.total = 0
        self.changed.emit()
        return words

    def _tell(self, error: HighPairError) -> None:
        if not isinstance(error, Cancelled):
            self.failed.emit(str(error))

    # Measuring pages with edits that aren't decided

    def _measure(
        self,
        file: OpenFile,
        edits: Sequence[Edit],
        pages: Sequence[int],
        done: Callable[[int, Any], None],
        wanted: Callable[[], bool],
        failed: Callable[[HighPairError], None],
        pictured: bool = False,
    ) -> None:
        """Measure pages, one after the other, those of a long document in several processes."""
        decided = self._controller.session.history.edits_of(file.key)
        document, asked = file.base.with_edits((*decided, *edits)), self._controller.session.asked
        width = round(THUMBNAIL_WIDTH * self._controller.device_ratio)
        for page in pages:
            task = (
                (tasks.measure, page, asked, width) if pictured else (tasks.pairs_on, page, asked)
            )

            def take(result: Any, page: int = page) -> None:
                if wanted():
                    done(page, result)

            def take_failure(error: HighPairError) -> None:
                if wanted():
                    failed(error)

            if len(pages) < LONG_DOCUMENT:

                def run(task: tuple = task) -> Any:
                    return document.run(*task, stopped=lambda: not wanted())

                self._controller.worker.do(run, take, take_failure, Urgency.WHEN_IDLE, wanted)
            else:
                self._in_pool(document, task, (take, take_failure), wanted)

    def _in_pool(
        self, document: Any, task: tuple, takers: tuple, wanted: Callable[[], bool]
    ) -> None:
        def run(host: Any) -> Any:
            if not wanted():
                raise Cancelled("It was stopped.")
            return document.run_in(host, *task)

        future = self._controller.pool.submit(run)

        def hand_over(done: Future) -> None:
            if wanted():
                self._pooled.emit(takers, done)

        future.add_done_callback(hand_over)

    def _take_pooled(self, takers: tuple, future: Future) -> None:
        take, take_failure = takers
        try:
            result = future.result()
        except (CancelledError, Cancelled):
            return
        except HighPairError as error:
            take_failure(error)
        else:
            take(result)
