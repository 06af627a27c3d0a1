"""The list of keys."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QLabel,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)


def keys_of(actions: Sequence[QAction]) -> list[tuple[str, str]]:
    """List the keys and what they do, remedies in one line."""
    found = [("B, held", "Show the page as the file has it")]
    for action in actions:
        key = action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)
        if not key or key in "23456789":
            continue
        words = action.text()
        if key == "1":
            key, words = "1 to 9", "Choose a remedy, and see it on the page"
        found.append((key, words))
    return found


class KeysDialog(QDialog):
    """A dialog that lists the keys."""

    def __init__(self, parent: QWidget, actions: Sequence[QAction]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        inside = QWidget()
        grid = QGridLayout(inside)
        grid.setHorizontalSpacing(24)
        for row, (key, words) in enumerate(keys_of(actions)):
            name = QLabel(key)
            name.setProperty("heading", True)
            grid.addWidget(name, row, 0, Qt.AlignmentFlag.AlignTop)
            grid.addWidget(QLabel(words), row, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inside)
        scroll.setAccessibleName("Keys and what they do")
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(scroll)
        column.addWidget(buttons)
        self.resize(460, min(620, parent.height() - 20))
