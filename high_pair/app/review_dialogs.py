"""Saving a review under a name, and offering one that was left behind."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt
from PySide6.QtWidgets import QFileDialog, QMessageBox

from high_pair.app.copies import folder_for
from high_pair.app.differences import ask_about
from high_pair.review.review_file import SUFFIX

if TYPE_CHECKING:
    from high_pair.app.window import Window

REVIEWS = f"Reviews (*{SUFFIX})"


class ReviewDialogs(QObject):
    """The dialogs. box: the offer of a review that was left behind, once it was made."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window = window
        self.box: QMessageBox | None = None
        window.keeper.opened.connect(self._opened)
        window.keeper.differed.connect(lambda merged, name: ask_about(window, merged, name))

    def save(self) -> None:
        """Save the review in its file; ask for one the first time."""
        if self.window.keeper.path is None:
            self.ask_save()
        else:
            self.window.keeper.save(self.window.keeper.path)

    def ask_save(self) -> None:
        """Ask where to save the review."""
        file = self.window.current_file()
        if file is None:
            return
        beside = folder_for(file) / f"{Path(file.name).stem}{SUFFIX}"
        suggested = self.window.keeper.path or beside
        name, _ = QFileDialog.getSaveFileName(
            self.window, "Save the review", str(suggested), REVIEWS
        )
        if name:
            path = Path(name)
            self.window.keeper.save(path if path.suffix else path.with_suffix(SUFFIX))

    def _opened(self, path: Path) -> None:
        if path.parent != self.window.keeper.folder:
            self.window.settings.note_recent(path)
            return
        # One that was left behind is this window's now, unless something of it couldn't be taken
        # up: then it stays, and is offered again.
        self.window.keeper.autosave()
        if not self.window.keeper.lost:
            path.unlink(missing_ok=True)

    def offer_left_behind(self) -> None:
        """Offer to go on with a review whose window ended without closing."""
        left = self.window.keeper.left_behind()
        if not left:
            return
        box = QMessageBox(self.window)
        box.setWindowTitle("High Pair")
        box.setWindowModality(Qt.WindowModality.NonModal)
        box.setText(
            "High Pair ended in the middle of a review. What was decided until then is kept."
        )
        take = box.addButton("Go on with it", QMessageBox.ButtonRole.AcceptRole)
        drop = box.addButton("Discard it", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Ask again later", QMessageBox.ButtonRole.RejectRole)

        def answered() -> None:
            if box.clickedButton() is take:
                self.window.keeper.open(left[0], as_own=False)
            elif box.clickedButton() is drop:
                left[0].unlink(missing_ok=True)

        box.finished.connect(answered)
        box.show()
        self.box = box
