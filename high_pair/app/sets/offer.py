"""Offering the set in use wherever a colour is chosen: in fields, on the Bench, among remedies."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from high_pair.app.colour_field import ColourField
from high_pair.scene.colour_set import ColourSet

if TYPE_CHECKING:
    from high_pair.app.window import Window


class SetOffer(QObject):
    """Offers it as soon as it is another, or is changed."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self._window = window
        # As it is offered now; and as the remedies at hand have it.
        self._offered: ColourSet | None = None
        self._proposed_from = window.controller.family
        window.sets.used.connect(lambda _file: self.offer())
        window.sets.state.changed.connect(self.offer)
        self.offer()

    def offer(self) -> None:
        """Offer the set in use."""
        window = self._window
        colours = window.sets.colours_in_use()
        if colours != self._offered:
            self._offered = colours
            for field in window.findChildren(ColourField):
                field.offer(colours)
            window.bench.two.set_row.show_set(colours)
        window.controller.family = window.sets.family()

    def propose_from_it(self) -> None:
        """Look for remedies anew, where those at hand are from another set."""
        if self._proposed_from != self._window.controller.family:
            self._proposed_from = self._window.controller.family
            self._window.desk.propose_anew()
