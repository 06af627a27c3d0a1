"""What a person decides on a pair beside remedies: boxes, setting aside, overlays laid before."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from high_pair.edits.kinds import MarkText
from high_pair.remedy.remedies import Laid, Proposals
from high_pair.wcag.verdicts import Verdict

if TYPE_CHECKING:
    from high_pair.app.review_desk import ReviewDesk


class PairDecisions(QObject):
    """Carries such decisions out for the Review desk.

    awaited: the address of a box just drawn, which is to come to hand.
    """

    def __init__(self, desk: ReviewDesk) -> None:
        super().__init__(desk)
        self.desk = desk
        self.controller = desk.controller
        self.awaited = ""
        panel = desk.panel
        panel.aside.asked.connect(self._set_aside)
        panel.aside.taken_up.connect(self._take_up)
        panel.box.changed.connect(self._describe_box)
        panel.box.removed.connect(lambda _box: self.remove())
        panel.take_off_asked.connect(self.remove)
        desk.view.boxed.connect(self.add_box)

    # Setting aside

    def _set_aside(self, reason: str, note: str, for_all: bool) -> None:
        file, pair = self.desk.file, self.desk.pair
        if file is not None and pair is not None:
            self.controller.set_aside(file, self.desk.alike if for_all else (pair,), reason, note)

    def _take_up(self, for_all: bool) -> None:
        file, pair = self.desk.file, self.desk.pair
        if file is not None and pair is not None:
            self.controller.take_up(file, self.desk.alike if for_all else (pair,))

    # Boxes round text in a picture

    @property
    def takes_boxes(self) -> bool:
        """Whether boxes can be drawn on the page that is shown."""
        file, page = self.desk.file, self.desk.page
        return file is not None and file.document.new_box_address(page) is not None

    @property
    def box(self) -> MarkText | None:
        """The box that the pair at hand was read from, None where its file states its text."""
        file, pair = self.desk.file, self.desk.pair
        return file.document.box_at(pair.address) if file is not None and pair else None

    def add_box(self, x: float, y: float, width: float, height: float) -> None:
        """Read the text in a box on the page, in points."""
        file = self.desk.file
        address = file.document.new_box_address(self.desk.page) if file is not None else None
        if file is None or address is None:
            return
        self.awaited = address
        self.controller.mark(file, MarkText(address, (x, y, width, height)))

    def _describe_box(self, box: MarkText) -> None:
        if self.desk.file is not None:
            self.controller.mark(self.desk.file, box)

    # Overlays laid before

    @property
    def applied(self) -> Laid | None:
        """The overlay that was laid for the pair at hand, None where none was."""
        file, pair = self.desk.file, self.desk.pair
        if file is None or pair is None or pair.verdict is not Verdict.PASSES:
            return None
        return self.controller.applied_overlay(file, pair)

    def show_applied(self) -> None:
        """Show the overlay that was laid for the pair at hand, to be fitted anew or taken off."""
        laid = self.applied
        if laid is not None:
            proposals = Proposals((laid,))
            self.desk.panel.show_applied(proposals)
            self.desk.painter.paint_remedies(proposals, self.desk.ticket)

    @property
    def removes(self) -> bool:
        """Whether there is a box or an overlay to be taken away."""
        return self.box is not None or self.applied is not None

    def remove(self) -> None:
        """Take away the box or the overlay of the pair at hand."""
        file, pair, box, laid = self.desk.file, self.desk.pair, self.box, self.applied
        if file is None or pair is None:
            return
        if box is not None:
            self.desk.show_no_pair("The box is gone; undo brings it back.")
            self.controller.unmark(file, box)
        elif laid is not None:
            self.controller.take_off(file, laid, pair)
