"""Having the page, its text and its remedies painted for the review desk."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtGui import QImage

from high_pair.app.controller import Painted, crop_box, overlay_box
from high_pair.app.fitting.fitter import NOT_YET
from high_pair.app.pair_panel import SAMPLE_HEIGHT
from high_pair.app.remedy_list import PICTURE
from high_pair.app.seats.look import Apart
from high_pair.remedy.remedies import Moved, Proposals
from high_pair.review.held import HeldDocument
from high_pair.review.session import OpenFile
from high_pair.scene.geometry import Box

if TYPE_CHECKING:
    from high_pair.app.review_desk import ReviewDesk


class PagePainter:
    """Asks for what the desk shows. striped: pixels that fall short are marked.

    What is shown is kept taken apart while it is seen from a seat, so that another seat, or a
    seat that is changed, is seen at once.
    """

    def __init__(self, desk: ReviewDesk) -> None:
        self.desk = desk
        self.striped = False
        self._ticket = object()
        self._look_ticket = object()
        self._apart: Apart | None = None
        # What is said of the page besides from where it is seen.
        self._caption = ""

    def _document(self, file: OpenFile) -> HeldDocument:
        """Give the document as it is now, or with the remedy that is chosen."""
        chosen, pair = self.desk.panel.remedies.chosen, self.desk.pair
        if chosen is None or pair is None:
            document: HeldDocument = file.document
            return document
        return self.desk.controller.with_remedy(file, chosen, [pair])

    def paint_page(self) -> None:
        """Paint the page as it is now, or with the remedy that is chosen."""
        file, page = self.desk.file, self.desk.page
        if file is None or page < 0:
            return
        changed = self.desk.controller.session.history.changed_addresses(file.key)
        caption = "As it is now" if changed else ""
        chosen = self.desk.panel.remedies.chosen
        if chosen is not None and self.desk.pair is not None:
            caption = f"{NOT_YET}: {chosen.label}"
        self._ticket = self._look_ticket = object()
        ticket = self._ticket
        self._apart = None

        def wanted() -> bool:
            return ticket is self._ticket

        part, size = self.desk.view.wanted_part
        look = self.desk.viewing.look(part, size)

        pair = self.desk.pair
        measured = pair.address if pair is not None and pair.page == page + 1 else ""
        if measured and pair is not None and pair.appears and not caption and look is None:
            caption = f"As it looks {pair.appears}"
        self._caption = caption
        caption = caption or self.desk.viewing.caption

        def done(painted: Painted) -> None:
            if wanted():
                self._apart = painted.apart
                self.desk.view.show_image(painted.image, caption, part, painted.seen)

        self.desk.controller.paint_page(
            self._document(file), page, Box(*part), size, done, wanted, measured, look
        )
        self.paint_stripes()

    def look_again(self) -> None:
        """Look at what is shown from the seat as it is now."""
        apart = self._apart
        part, (across, down) = self.desk.view.wanted_part
        look = self.desk.viewing.look(part, (across, down))
        if apart is None or look is None or apart.picture.shape[:2] != (down, across):
            self.paint_page()
            return
        self._look_ticket = ticket = object()

        def wanted() -> bool:
            return ticket is self._look_ticket

        def done(seen: QImage, anew: Apart) -> None:
            if wanted():
                self._apart = anew
                self.desk.view.show_seen(seen, self._caption or self.desk.viewing.caption)

        self.desk.controller.look_again(apart, look, done, wanted)

    def paint_anew(self, width: int) -> None:
        """Paint the page at another size, or another part of it."""
        self.paint_page()
        if not width:
            self.paint_before()

    def show_stripes(self, on: bool) -> None:
        """Mark, or not, every pixel round the page's texts that falls short."""
        self.striped = on
        self.paint_stripes()

    def paint_stripes(self) -> None:
        """Mark what falls short on the page as it is painted, where that is asked for."""
        file, page = self.desk.file, self.desk.page
        if not self.striped or file is None:
            self.desk.view.show_stripes(QImage())
            return
        ticket = self._ticket

        def wanted() -> bool:
            return self.striped and ticket is self._ticket

        def done(stripes: QImage) -> None:
            if wanted():
                self.desk.view.show_stripes(stripes)

        self.desk.controller.find_shortfall(self._document(file), page, done, wanted)

    def paint_before(self) -> None:
        """Paint the page as it is in the file."""
        file, page = self.desk.file, self.desk.page
        if file is None:
            return

        def wanted() -> bool:
            return self.desk.file is file and self.desk.page == page

        def done(painted: Painted) -> None:
            if wanted():
                self.desk.view.keep_before(painted.image)

        part, size = self.desk.view.wanted_part
        self.desk.controller.paint_page(file.base, page, Box(*part), size, done, wanted)

    def paint_sample(self) -> None:
        """Paint the text at hand, large."""
        file, pair, ticket = self.desk.file, self.desk.pair, self.desk.ticket
        if file is None or pair is None:
            return
        document = self._document(file)
        chosen = self.desk.panel.remedies.chosen
        size = (max(200, self.desk.panel.width() - 34), SAMPLE_HEIGHT)
        self.desk.controller.paint_crop(
            document,
            pair,
            size,
            self.desk.panel.sample.show_image,
            lambda: ticket == self.desk.ticket,
            _with(chosen, crop_box(pair, size)) if isinstance(chosen, Moved) else None,
        )

    def paint_remedies(self, proposals: Proposals, ticket: int) -> None:
        """Paint the small pictures of remedies, while their ticket is the latest."""
        file, pair = self.desk.file, self.desk.pair
        if file is None or pair is None:
            return
        for row, remedy in enumerate(proposals.remedies):
            document = self.desk.controller.with_remedy(file, remedy, [pair])

            def done(image: QImage, row: int = row) -> None:
                if ticket == self.desk.ticket:
                    self.desk.panel.remedies.show_picture(row, image)

            self.desk.controller.paint_crop(
                document,
                pair,
                (PICTURE.width(), PICTURE.height()),
                done,
                lambda: ticket == self.desk.ticket,
                overlay_box(remedy, self.desk.page_size),
            )


def _with(moved: Moved, box: Box) -> Box:
    """Give the box in which a text stands that is moved."""
    return Box(box.x + moved.across, box.y + moved.down, box.width, box.height)
