"""Looking for the text of a picture on the worker's thread, and drawing the boxes it finds."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from high_pair.app.rows import plural
from high_pair.app.stops import Stops
from high_pair.app.worker import Urgency
from high_pair.edits.kinds import Edit
from high_pair.errors import Cancelled, HighPairError
from high_pair.review import tasks

if TYPE_CHECKING:
    from high_pair.app.review_desk import ReviewDesk
    from high_pair.review.session import OpenFile


class TextSearch(QObject):
    """The search. changed: it began or ended; told: what came of it, in words."""

    changed = Signal()
    told = Signal(str)

    def __init__(self, desk: ReviewDesk) -> None:
        super().__init__(desk)
        self._desk = desk
        self._controller = desk.controller
        self.under_way = False
        self._stops = Stops()

    def begin(self) -> None:
        """Look for text on the page that is shown, and draw a box round each line."""
        file, page = self._desk.file, self._desk.page
        if file is None or self.under_way or not self._desk.decisions.takes_boxes:
            return
        self.under_way = True
        self.changed.emit()
        wanted, editions = self._stops.asked(), tuple(file.editions)
        document = file.document

        def run() -> Sequence[Edit]:
            found: Sequence[Edit] = document.run(
                tasks.find_text, [page], stopped=lambda: not wanted()
            )
            return found

        def done(edits: Sequence[Edit]) -> None:
            if not wanted():
                return
            self._end()
            if tuple(file.editions) == editions:
                self._take(file, edits)

        def failed(error: HighPairError) -> None:
            if wanted():
                self._end()
            if not isinstance(error, Cancelled):
                self._controller.failed.emit(str(error))

        self._controller.worker.do(run, done, failed, Urgency.AT_HAND)

    def stop(self) -> None:
        """Leave the search; what it still finds isn't drawn."""
        self._stops.stop()
        self._end()

    def _end(self) -> None:
        self.under_way = False
        self.changed.emit()

    def _take(self, file: OpenFile, edits: Sequence[Edit]) -> None:
        if not edits:
            self.told.emit("No further text was found. Drag a box round what was missed.")
            return
        self._desk.decisions.awaited = edits[0].address
        self._controller.mark_all(file, edits)
        self.told.emit(f"{plural(len(edits), 'box', 'boxes')} drawn; undo takes them away.")
