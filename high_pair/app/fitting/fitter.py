"""Leads through fitting an overlay: from the remedy chosen to the one that is applied."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer, Signal

from high_pair.app.controller import Controller
from high_pair.app.fitting.live import LivePage
from high_pair.app.page_view import PageView
from high_pair.app.pair_panel import PairPanel
from high_pair.measure.pairs import Pair
from high_pair.remedy.remedies import Laid
from high_pair.review.fitting import Fitting
from high_pair.review.session import OpenFile
from high_pair.scene.overlay import Overlay

# What an overlay costs is worked out when it has rested for so long.
REST_MILLISECONDS = 60
NOT_YET = "With the remedy, not applied yet"


class Fitter(QObject):
    """The fitter. changed: the overlay as it is now."""

    changed = Signal(object)

    def __init__(self, controller: Controller, view: PageView, panel: PairPanel) -> None:
        super().__init__(view)
        self.controller = controller
        self.view = view
        self.panel = panel
        self.fitting: Fitting | None = None
        self._ticket = object()
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MILLISECONDS)
        self._rest.timeout.connect(self.take_in)
        self.form = panel.fitting
        self.form.changed.connect(self._form_changed)
        view.fitted.connect(self._fitted)

    def _fitted(self, found: object) -> None:
        if isinstance(found, Overlay) and self.fitting is not None:
            self.form.set_overlay(found)

    def begin(self, file: OpenFile, laid: Laid, pair: Pair, wanted: Callable[[], bool]) -> None:
        """Prepare the fitting of an overlay that was chosen."""
        self.end()
        ticket = self._ticket

        def still() -> bool:
            return ticket is self._ticket and wanted()

        def done(fitting: Fitting) -> None:
            if still():
                self.fitting = fitting
                self.form.show_fitting(fitting)
                self.view.show_live(LivePage(fitting.layers, laid.overlay))

        self.controller.fit(file, laid, pair, self.view.wanted_part[1][0], done, still)

    def end(self) -> None:
        """End fitting; the page is shown as painted again."""
        self._ticket = object()
        self._rest.stop()
        self.fitting = None
        self.form.show_fitting(None)
        self.view.show_live(None)

    def take_in(self) -> None:
        """Put the overlay as it is now, with what it costs, in the place of the chosen remedy."""
        self._rest.stop()
        overlay = self.form.overlay
        if self.fitting is not None and overlay is not None:
            laid = self.fitting.with_overlay(overlay)
            self.panel.remedies.replace_chosen(laid)
            self.view.show_caption(f"{NOT_YET}: {laid.label}")

    def _form_changed(self, overlay: Overlay, passes: bool) -> None:
        if self.fitting is None:
            return
        self.view.show_overlay(overlay)
        self._rest.start()
        # What falls short is shown, and not applied.
        self.panel.enable_apply(passes)
        self.changed.emit(overlay)
