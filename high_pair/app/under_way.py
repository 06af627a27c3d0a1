"""What is under way that a person may wait for: its words, and stopping it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from high_pair.formats.location import name_of

if TYPE_CHECKING:
    from high_pair.app.controller import Controller
    from high_pair.app.keeping import ReviewKeeper
    from high_pair.app.report.source import Source
    from high_pair.app.sets.desk import SetsDesk
    from high_pair.app.text_search import TextSearch


class UnderWay(QObject):
    """Files and reviews being opened, decisions being carried out, text being looked for,
    reports being added up and written, and sets being settled and tried.

    changed: something began or ended.
    """

    changed = Signal()

    def __init__(
        self,
        controller: Controller,
        keeper: ReviewKeeper,
        search: TextSearch,
        sets: SetsDesk,
        report: Source,
    ) -> None:
        super().__init__(controller)
        self._sets, self._report = sets, report
        self._opener, self._stepper, self._search = controller.opener, controller.stepper, search
        self._keeper = keeper
        for each in (self._opener, self._stepper, keeper, search, sets, report):
            each.changed.connect(self.changed)

    @property
    def words(self) -> str:
        """What is under way; empty where nothing is."""
        opening = self._opener.under_way
        if opening:
            more = f" and {len(opening) - 1} more" if len(opening) > 1 else ""
            return f"Opening {name_of(opening[0])}{more}…"
        if self._keeper.under_way is not None:
            return f"Opening {self._keeper.under_way.name}…"
        if self._stepper.long:
            return "Carrying it out: the document flows anew…"
        if self._search.under_way:
            return "Looking for text in the picture…"
        return self._report.under_way or self._sets.under_way

    def stop(self) -> str:
        """Stop it; gives words for what is stopped, empty where nothing was under way."""
        if self._opener.under_way:
            self._opener.stop()
            return "Stopped; nothing more is opened."
        if self._keeper.under_way is not None:
            self._keeper.stop()
            return "Stopped; the review isn't opened."
        if self._stepper.long:
            self._stepper.stop()
            return "Stopped; nothing has changed."
        if self._search.under_way:
            self._search.stop()
            return "Stopped looking for text."
        return self._report.stop() or self._sets.stop()
