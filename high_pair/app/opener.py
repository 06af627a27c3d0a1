"""Opening files on the worker's thread: what is under way, and stopping it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from high_pair.app.stops import Stops
from high_pair.app.worker import Urgency
from high_pair.errors import Cancelled, HighPairError
from high_pair.formats.location import Location, resolved
from high_pair.formats.web.settings import WebSettings
from high_pair.review.held import HeldDocument

if TYPE_CHECKING:
    from high_pair.app.controller import Controller


class Opener(QObject):
    """Opens files for the review. changed: another file is being opened, or none any more."""

    changed = Signal()

    def __init__(self, controller: Controller) -> None:
        super().__init__(controller)
        self._controller = controller
        self._under_way: dict[Location, Location] = {}
        # Those that are open and come into the review together: showing each by itself would
        # keep the window from answering where there are many.
        self._ready: list[tuple[Location, HeldDocument]] = []
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._take_ready)
        self._stops = Stops()

    @property
    def under_way(self) -> tuple[Location, ...]:
        """The files that are being opened."""
        return tuple(self._under_way.values())

    @property
    def has_ready(self) -> bool:
        """Whether files are open that aren't in the review yet."""
        return bool(self._ready)

    def _take_ready(self) -> None:
        ready, self._ready = self._ready, []
        for path, _document in ready:
            self._under_way.pop(resolved(path), None)
        self.changed.emit()
        if ready:
            self._controller.take_in(ready)

    def open(self, places: Sequence[Location], web: WebSettings) -> None:
        """Open files; each that can't be read is told, and the others go on.

        web: how web pages are shown.
        """
        for path in places:
            if resolved(path) in self._under_way:
                continue
            known = self._controller.session.file_at(path)
            if known is not None:
                self._controller.opened.emit(known.key)
            else:
                self._open_one(path, web)

    def _open_one(self, path: Location, web: WebSettings) -> None:
        self._under_way[resolved(path)] = path
        self.changed.emit()
        wanted = self._stops.asked()

        def done(document: HeldDocument) -> None:
            if not wanted():
                document.close()
                return
            self._ready.append((path, document))
            self._soon.start()

        def failed(error: HighPairError) -> None:
            if not wanted():
                return
            self._under_way.pop(resolved(path), None)
            self.changed.emit()
            if not isinstance(error, Cancelled):
                self._controller.failed.emit(str(error))

        processes = self._controller.processes
        self._controller.worker.do(
            lambda: processes.open(path, web, lambda: not wanted()),
            done,
            failed,
            Urgency.AT_HAND,
            wanted,
        )

    def stop(self) -> None:
        """Leave what is being opened, a web page that takes its time above all."""
        self._stops.stop()
        for _path, document in self._ready:
            document.close()
        self._ready.clear()
        self._under_way.clear()
        self.changed.emit()
