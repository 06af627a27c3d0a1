"""Carrying decisions out in turn, on the worker's thread."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from high_pair.app.stops import Stops
from high_pair.app.worker import Urgency
from high_pair.errors import HighPairError
from high_pair.review.parallel import LONG_DOCUMENT
from high_pair.review.session import Made, Step

if TYPE_CHECKING:
    from high_pair.app.controller import Controller

# Gives the step as it is when its turn has come; None where there is nothing to do any more.
Planned = Callable[[], Step | None]


class Stepper(QObject):
    """Carries steps out in the order they were asked for.

    changed: a step that takes its time began, or none is under way any more;
    under_way: a step is, long: one that takes its time, file: the key of the one it concerns.
    carried_out: a file's key, and the pages that the step touches.
    """

    changed = Signal()
    carried_out = Signal(int, object)

    def __init__(self, controller: Controller) -> None:
        super().__init__(controller)
        self._controller = controller
        self._waiting: deque[Planned] = deque()
        self.under_way = self.long = False
        self.file: int | None = None
        self._stops = Stops()

    def do(self, planned: Planned) -> None:
        """Carry a step out as soon as those before it are."""
        self._waiting.append(planned)
        if not self.under_way:
            self._go_on()

    def stop(self) -> None:
        """Leave the step under way and those that wait; nothing has changed by them."""
        self._stops.stop()
        self._waiting.clear()
        self._rest()

    def _go_on(self) -> None:
        while self._waiting and not self.under_way:
            planned = self._waiting.popleft()
            step = planned()
            if step is None or step.file not in self._controller.session.files:
                continue
            self._begin(step, planned)

    def _takes_long(self, step: Step) -> bool:
        base = self._controller.session.files[step.file].base
        return base.facts.made_whole and len(base.pages) >= LONG_DOCUMENT

    def _begin(self, step: Step, planned: Planned) -> None:
        session, wanted = self._controller.session, self._stops.asked()
        before = session.history
        file = session.files[step.file]
        self.under_way, self.file = True, step.file
        self.long = self._takes_long(step)
        if self.long:
            self.changed.emit()

        def done(made: Made) -> None:
            if not wanted():
                return
            self._rest()
            if session.history is not before:
                # Another file was closed meanwhile: its decisions must not come back.
                self._waiting.appendleft(planned)
            elif session.files.get(step.file) is file:
                self.carried_out.emit(step.file, session.take_step(step, made))
            self._go_on()

        def failed(error: HighPairError) -> None:
            if wanted():
                self._rest()
                self._controller.failed.emit(str(error))
                self._go_on()

        self._controller.worker.do(
            lambda: session.made(step), done, failed, Urgency.AT_HAND, wanted
        )

    def _rest(self) -> None:
        self.under_way, self.file = False, None
        if self.long:
            self.long = False
            self.changed.emit()
