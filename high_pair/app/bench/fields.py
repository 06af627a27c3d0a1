"""A row for one colour: its name, its swatch, its field, and what is wrong with it."""

from __future__ import annotations

from PySide6.QtCore import QSize, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QVBoxLayout, QWidget

from high_pair.app.colour_field import ColourField, Swatch
from high_pair.app.theme import SMALL_PIXELS, Theme, font
from high_pair.scene.paint import Colour

NAME_WIDTH = 96


class ColourRow(QWidget):
    """The row. taken: another colour was typed."""

    taken = Signal(object)

    def __init__(self, name: str, theme: Theme) -> None:
        super().__init__()
        self.name = QLabel(name)
        self.name.setFixedWidth(NAME_WIDTH)
        self.swatch = Swatch(theme, QSize(44, 30))
        self.field = ColourField(name)
        self.field.setFixedWidth(200)
        self.name.setBuddy(self.field)
        self.said = QLabel()
        self.said.setFont(font(SMALL_PIXELS))
        self.said.setWordWrap(True)
        self.said.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        row = QHBoxLayout()
        row.setSpacing(10)
        row.addWidget(self.name)
        row.addWidget(self.swatch)
        row.addWidget(self.field)
        row.addStretch(1)
        column.addLayout(row)
        column.addWidget(self.said)
        self.said.hide()
        self.field.taken.connect(self.taken)
        self.field.said.connect(self._say)

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.setVisible(bool(words))

    def show_colour(self, shown: Colour) -> None:
        """Show a colour."""
        self.swatch.show_colour(shown)
        self.field.show_colour(shown)
