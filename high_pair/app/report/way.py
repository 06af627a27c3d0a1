"""The way from a figure of a report to its pairs on the Review desk; a file that isn't open is
opened first."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from high_pair.app.actions import REVIEW
from high_pair.formats.location import location_of
from high_pair.review.listing import Kept
from high_pair.wcag.verdicts import Verdict

if TYPE_CHECKING:
    from high_pair.app.window import Window


class WayToPairs(QObject):
    """The way. It keeps what is to be shown while the file opens."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window = window
        self._awaited: tuple[str, Kept | None, Verdict] | None = None
        window.controller.opened.connect(self._opened)

    def go(self, kept: Kept | None, path: str, verdict: Verdict) -> None:
        """Show pairs of a verdict: those of some kind, or all; path: of the file that they are in,
        empty for all that is open."""
        session = self.window.controller.session
        file = session.file_at(location_of(path)) if path else None
        if path and file is None:
            location = location_of(path)
            if isinstance(location, Path) and not location.is_file():
                self.window.show_problem(
                    f"{path}: it isn't there any more, or its path was told from another folder. "
                    "Start High Pair where the audit was made, or open the file itself."
                )
                return
            self._awaited = path, kept, verdict
            self.window.open_paths([location])
            return
        self._show(kept, file.key if file else None, verdict)

    def _show(self, kept: Kept | None, key: int | None, verdict: Verdict) -> None:
        desk = self.window.desk
        files = self.window.controller.session.files
        if kept is None and key is not None and len(files) > 1:
            kept = Kept(files[key].name, file=key)
        desk.head.listing.keep_to(kept)
        if key is not None and (desk.file is None or desk.file.key != key):
            desk.show_page(key, 0)
        desk.show_verdict(verdict)
        self.window.show_desk(REVIEW)
        desk.list.step(1)

    def _opened(self, key: int) -> None:
        if self._awaited is None:
            return
        path, kept, verdict = self._awaited
        file = self.window.controller.session.file_at(location_of(path))
        if file is not None and file.key == key:
            self._awaited = None
            self._show(kept, key, verdict)
