"""The strip at the left: the sets there are, and what is done with them."""

from __future__ import annotations

from PySide6.QtWidgets import QFrame, QGridLayout, QPushButton, QVBoxLayout

from high_pair.app.sets.set_list import SetList
from high_pair.app.theme import Theme

WIDTH = 196
BUTTONS = (
    ("new", "New…", "Type or paste the colours of a new set"),
    ("bring", "Bring in…", "Keep the set of a file: design tokens, .css or .gpl"),
    ("copy", "Copy", "Keep a copy of this set"),
    ("write", "Write…", "Write this set as design tokens, .css or .gpl"),
    ("rename", "Rename…", "Give this kept set another name (F2)"),
    ("delete", "Delete", "Delete this kept set; undo brings it back"),
    ("use", "Use", "Offer this set’s colours wherever a colour is chosen"),
    ("put", "Put on…", "Give this kept set’s colours to the file’s own set"),
)


class SetStrip(QFrame):
    """The strip. buttons: by their names in `BUTTONS`."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("strip")
        self.setFixedWidth(WIDTH)
        self.sets = SetList(theme)
        self.buttons: dict[str, QPushButton] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 8)
        column.addWidget(self.sets, 1)
        grid = QGridLayout()
        grid.setContentsMargins(8, 0, 8, 0)
        grid.setSpacing(6)
        for place, (name, label, tip) in enumerate(BUTTONS):
            button = QPushButton(label)
            button.setProperty("tight", True)
            button.setToolTip(tip)
            self.buttons[name] = button
            grid.addWidget(button, place // 2, place % 2)
        self.buttons["use"].setCheckable(True)
        column.addLayout(grid)

    def allow(self, kept: bool, there: bool, of_file: bool) -> None:
        """Enable what can be done. kept: a kept set is shown; there: any is; of_file: the file has
        sets of its own."""
        for name in ("rename", "delete", "use"):
            self.buttons[name].setEnabled(kept)
        self.buttons["put"].setEnabled(kept and of_file)
        for name in ("copy", "write"):
            self.buttons[name].setEnabled(there)
