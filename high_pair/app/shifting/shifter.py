"""Leads through moving a text by hand: from the place proposed to the one that is applied."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject

from high_pair.app.controller import Controller
from high_pair.app.fitting.fitter import NOT_YET
from high_pair.app.page_view import PageView
from high_pair.app.pair_panel import PairPanel
from high_pair.app.shifting.live import LiveShift
from high_pair.colour.ratio import shown_ratio
from high_pair.measure.pairs import Pair
from high_pair.remedy.remedies import Moved
from high_pair.review.session import OpenFile
from high_pair.review.shifting import Shifting

HOW = "Drag it, or nudge it with the arrow keys on the page; M: back to the nearest"


class Shifter(QObject):
    """The shifter."""

    def __init__(self, controller: Controller, view: PageView, panel: PairPanel) -> None:
        super().__init__(view)
        self.controller = controller
        self.view = view
        self.panel = panel
        self.live: LiveShift | None = None
        self._ticket = object()
        view.fitted.connect(self._moved)

    def begin(self, file: OpenFile, moved: Moved, pair: Pair, wanted: Callable[[], bool]) -> None:
        """Prepare moving a text that is at a place that was proposed."""
        self.end()
        ticket = self._ticket

        def still() -> bool:
            return ticket is self._ticket and wanted()

        def done(shifting: Shifting) -> None:
            if still():
                self.live = LiveShift(shifting)
                self.view.show_live(self.live)
                self._tell()

        self.controller.shift(file, moved, pair, self.view.wanted_part[1][0], done, still)

    def end(self) -> None:
        """End it; the page is shown as painted again."""
        self._ticket = object()
        if self.live is not None:
            self.live = None
            self.view.show_live(None)

    def snap(self) -> None:
        """Go back to the place that was proposed."""
        if self.live is not None:
            self.live.go_to(*self.live.shifting.proposed)
            self.view.canvas.update()
            self._moved(self.live.at)

    def _moved(self, at: object) -> None:
        if self.live is None or at != self.live.at:
            return
        moved = self.live.shifting.moved_to(*self.live.at)
        self.panel.remedies.replace_chosen(moved)
        # What falls short or covers something is shown, and not applied.
        self.panel.enable_apply(not self.live.shifting.trouble_at(*self.live.at))
        self._tell()

    def _tell(self) -> None:
        if self.live is None:
            return
        shifting = self.live.shifting
        moved = shifting.moved_to(*self.live.at)
        trouble = shifting.trouble_at(*self.live.at)
        outcome = trouble or "passes here"
        self.view.show_caption(
            f"{NOT_YET}: {moved.label} · {shown_ratio(moved.ratio)}, {outcome}. "
            "Hatched: where its middle may be"
        )
        self.view.canvas.setToolTip(HOW)
