"""A field for a colour in any notation, and a swatch of one."""

from __future__ import annotations

import functools

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QAction, QColor, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QLineEdit, QMenu, QWidget

from high_pair.app.images import several_icon, swatch_icon
from high_pair.app.theme import Theme, colour
from high_pair.colour.notation import read, write
from high_pair.colour.srgb import hex_of
from high_pair.errors import NotationError
from high_pair.scene.colour_set import ColourSet
from high_pair.scene.paint import Colour, from_levels

SWATCH = QSize(64, 84)
# Pixels of the sign that opens the menu of a set's colours.
OFFER_SIDE = 14


class Swatch(QWidget):
    """A colour, over a chequer where it is see-through."""

    def __init__(self, theme: Theme, size: QSize = SWATCH) -> None:
        super().__init__()
        self.theme = theme
        self.shown = Colour(0.0, 0.0, 0.0)
        self.setFixedSize(size)

    def show_colour(self, shown: Colour) -> None:
        """Show a colour."""
        self.shown = shown
        self.setAccessibleName(f"Swatch of {write(shown.levels, 'hex', shown.opacity)}")
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint it."""
        painter = QPainter(self)
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        if self.shown.opacity < 1:
            painter.fillRect(box, Qt.GlobalColor.white)
            painter.fillRect(box, Qt.BrushStyle.Dense4Pattern)
        red, green, blue = self.shown.levels
        painter.fillRect(box, QColor(red, green, blue, round(self.shown.opacity * 255)))
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.drawRect(box)
        painter.end()


class ColourField(QLineEdit):
    """A field for a colour in any notation; what can't be read is said beside it.

    taken: a colour was typed; said: why what stands there is none, empty when it is one.
    """

    taken = Signal(object)
    said = Signal(str)

    def __init__(self, words: str) -> None:
        super().__init__()
        self.menu = QMenu(self)
        self._offering = QAction("Colours of the set in use (Down)", self)
        self._offering.triggered.connect(self.show_offer)
        self.setAccessibleName(words)
        self.setPlaceholderText("#1B4F72, rgb(27 79 114), navy …")
        self._shown = ""
        self.textEdited.connect(self._edited)
        self.editingFinished.connect(self._finished)

    def show_colour(self, shown: Colour) -> None:
        """Show a colour, unless the field itself is being typed in and means it already."""
        self._shown = write(shown.levels, "hex", shown.opacity)
        if self.hasFocus() and self._meant() == shown:
            return
        self.setText(self._shown)
        self.said.emit("")

    def offer(self, colours: ColourSet | None) -> None:
        """Offer the colours of the set in use, in a menu; none without one."""
        self.menu.clear()
        for each in colours.colours if colours is not None else ():
            action = self.menu.addAction(
                swatch_icon(each.levels), f"{each.name}  {hex_of(each.levels)}"
            )
            action.triggered.connect(functools.partial(self._choose, each.levels))
        known = self._offering in self.actions()
        if colours is not None and not known:
            self._offering.setIcon(
                several_icon([each.levels for each in colours.colours], OFFER_SIDE)
            )
            self.addAction(self._offering, QLineEdit.ActionPosition.TrailingPosition)
        elif colours is None and known:
            self.removeAction(self._offering)

    def show_offer(self) -> None:
        """Open the menu with the colours of the set in use."""
        if not self.menu.isEmpty():
            self.menu.popup(self.mapToGlobal(self.rect().bottomLeft()))

    def _choose(self, levels: tuple[int, int, int], _checked: bool = False) -> None:
        self.setText(hex_of(levels))
        self._edited(self.text())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Open the menu with the down arrow."""
        if event.key() == Qt.Key.Key_Down and not self.menu.isEmpty():
            self.show_offer()
        else:
            super().keyPressEvent(event)

    def _meant(self) -> Colour | None:
        try:
            found = read(self.text())
        except NotationError:
            return None
        return from_levels(found.rgb, found.opacity)

    def _edited(self, text: str) -> None:
        try:
            found = read(text)
        except NotationError as error:
            empty = "Empty: the last colour stays." if not text.strip() else f"{error}."
            self.said.emit(empty)
            return
        notes = []
        if found.mapped:
            notes.append("Outside sRGB: its chroma was brought in.")
        if found.naive:
            notes.append("CMYK without a profile: a print may differ.")
        self.said.emit(" ".join(notes))
        self.taken.emit(from_levels(found.rgb, found.opacity))

    def _finished(self) -> None:
        """Bring the last good colour back when the field is left with none in it."""
        if self._meant() is None:
            self.setText(self._shown)
            self.said.emit("")
