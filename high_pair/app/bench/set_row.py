"""The colours of the set in use, beside the two of the Bench: one click takes one."""

from __future__ import annotations

import functools

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QApplication, QHBoxLayout, QLabel, QToolButton, QWidget

from high_pair.app.bench.state import Side
from high_pair.app.theme import Theme
from high_pair.colour.srgb import hex_of
from high_pair.scene.colour_set import ColourSet, Levels

# As many are shown; the fields offer all.
MOST_SHOWN = 16


class SetRow(QWidget):
    """The row. taken: a side, and the 8-bit colour that it is to have."""

    taken = Signal(object, object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.label = QLabel()
        self.buttons: list[QToolButton] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(5)
        row.addWidget(self.label)
        row.addStretch(1)
        self.hide()

    def show_set(self, colours: ColourSet | None) -> None:
        """Show a set's colours; None hides the row."""
        layout = self.layout()
        assert isinstance(layout, QHBoxLayout)
        for button in self.buttons:
            layout.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.buttons = []
        self.setVisible(colours is not None)
        if colours is None:
            return
        self.label.setText(f"“{colours.name}”")
        self.label.setToolTip("The set in use (Sets desk)")
        for each in colours.colours[:MOST_SHOWN]:
            code = hex_of(each.levels)
            button = QToolButton()
            button.setFixedSize(26, 26)
            button.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
            button.setAccessibleName(f"{each.name}, {code}")
            button.setToolTip(f"{each.name} {code}: the foreground; with Shift, the backdrop")
            button.setStyleSheet(
                f"QToolButton {{ background: {code}; border: 1px solid {self.theme.edge};"
                " padding: 0; min-height: 0; border-radius: 3px; }"
                f"QToolButton:focus {{ border: 3px solid {self.theme.accent}; }}"
            )
            button.clicked.connect(functools.partial(self._take, each.levels))
            layout.insertWidget(layout.count() - 1, button)
            self.buttons.append(button)

    def _take(self, levels: Levels, _checked: bool = False) -> None:
        held = QApplication.keyboardModifiers() & Qt.KeyboardModifier.ShiftModifier
        self.taken.emit(Side.BACKDROP if held else Side.FOREGROUND, levels)
