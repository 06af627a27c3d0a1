"""The list of keys."""

from __future__ import annotations

from collections.abc import Mapping

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

from high_pair.app.actions import DESKS, ON_ONE_DESK
from high_pair.app.theme import font

# Keys in a row that are listed in one line.
ROWS = {
    "remedy_1": ("1 to 9", "Choose a remedy, and see it on the page"),
    "proposal_1": ("1 to 3", "Look at a way to mend the set"),
    "copy_foreground_1": ("1 to 6", "Copy the foreground in one of its notations"),
    "copy_backdrop_1": ("Alt+1 to Alt+6", "Copy the backdrop in one of its notations"),
}
PLACES = {"": "On all desks", **{name: words for name, words, _ in DESKS}}


def keys_of(actions: Mapping[str, QAction]) -> dict[str, list[tuple[str, str]]]:
    """List the keys and what they do, for each desk and for all; rows of numbers in one line."""
    found: dict[str, list[tuple[str, str]]] = {name: [] for name in PLACES.values()}
    found["Review"] += [
        ("B, held", "Show the page as the file has it"),
        ("V, held", "Show it as authored, and not from a seat"),
    ]
    for name, action in actions.items():
        key = action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)
        words = action.text()
        place = next((desk for desk, names in ON_ONE_DESK.items() if name in names), "")
        if name in ROWS:
            key, words = ROWS[name]
        if key and (name in ROWS or name.rpartition("_")[2] not in "23456789"):
            found[PLACES[place]].append((key, words))
    found["Bench"] += [
        ("Ctrl+Left, Ctrl+Right", "On a slider: to where passing begins or ends"),
        ("Enter, F2, Delete", "In the log: to the Bench, name, delete"),
    ]
    found["Sets"] += [
        ("Up, Down", "On the line: choose a colour"),
        ("Left, Right", "Move it, with Shift further"),
        ("Ctrl+Left, Ctrl+Right", "To where all its pairs pass"),
        ("Enter", "In the list of places: to the Review desk"),
    ]
    found["Report"] += [
        ("Left, Right, Home, End", "On the ladder: choose a ratio"),
        ("Enter", "On a figure: to its pairs on the Review desk"),
    ]
    return found


class KeysDialog(QDialog):
    """A dialog that lists the keys."""

    def __init__(self, parent: QWidget, actions: Mapping[str, QAction]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        inside = QWidget()
        grid = QGridLayout(inside)
        grid.setHorizontalSpacing(24)
        for desk, keys in keys_of(actions).items():
            heading = QLabel(desk)
            heading.setFont(font(15, bold=True))
            heading.setContentsMargins(0, 8, 0, 2)
            grid.addWidget(heading, grid.rowCount(), 0, 1, 2)
            for row, (key, words) in enumerate(keys, start=grid.rowCount()):
                name = QLabel(key)
                name.setProperty("heading", True)
                grid.addWidget(name, row, 0, Qt.AlignmentFlag.AlignTop)
                told = QLabel(words)
                told.setWordWrap(True)
                grid.addWidget(told, row, 1)
        grid.setColumnStretch(1, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inside)
        scroll.setAccessibleName("Keys and what they do")
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(scroll)
        column.addWidget(buttons)
        self.resize(520, min(620, parent.height() - 20))
