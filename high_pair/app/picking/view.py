"""The picking view: the pixels, a cross hair, and a magnifier beside them."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.bench.state import Side
from high_pair.app.colour_field import Swatch
from high_pair.app.images import image_of
from high_pair.app.picking.source import PickSource
from high_pair.app.theme import Theme, colour, font
from high_pair.colour.srgb import Bytes, hex_of
from high_pair.raster.picking import SIDES, picked
from high_pair.scene.paint import from_levels

REACH = 8
CELL = 15
FAR = 10
# A box no larger than this is a click.
CLICK = 4
BOX_WORDS = (
    "Set the box's first corner with Enter or the mouse, then the other. Escape gives it up."
)
PANEL_WIDTH, SCROLL_ROOM = 292, 11
_STEPS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}


class PickCanvas(QWidget):
    """The pixels, fitted, with a cross hair. moved: it stands on another pixel."""

    moved = Signal()
    taken = Signal()
    left = Signal()
    side_asked = Signal()
    boxed = Signal(QRect)
    box_changed = Signal()
    below_asked = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.image = QImage()
        self.at = QPoint(0, 0)
        self.boxing = False
        self.corner: QPoint | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setMinimumSize(160, 120)
        self.setAccessibleName("Picture to pick from")

    def show_pixels(self, pixels: Bytes) -> None:
        """Show other pixels; the cross hair stays where it can."""
        self.image = image_of(pixels)
        self.move_to(self.at.x(), self.at.y())
        self.update()

    def move_to(self, x: int, y: int) -> None:
        """Put the cross hair on a pixel, or on the nearest there is."""
        x = min(max(0, x), max(0, self.image.width() - 1))
        y = min(max(0, y), max(0, self.image.height() - 1))
        self.at = QPoint(x, y)
        self.moved.emit()
        self.update()

    def draw_box(self, on: bool) -> None:
        """Draw a box instead of picking, or stop doing so."""
        self.boxing, self.corner = on, None
        self.box_changed.emit()
        self.update()

    @property
    def box(self) -> QRect | None:
        """The box from its corner to the cross hair, in pixels; None without a corner."""
        if self.corner is None:
            return None
        left, right = sorted((self.corner.x(), self.at.x()))
        top, bottom = sorted((self.corner.y(), self.at.y()))
        return QRect(left, top, right - left + 1, bottom - top + 1)

    def _go_on(self) -> None:
        """Set the box's corner, or end the box; without one, take the colour."""
        if not self.boxing:
            self.taken.emit()
        elif self.corner is None:
            self.corner = QPoint(self.at)
            self.box_changed.emit()
            self.update()
        else:
            box = self.box
            self.draw_box(False)
            if box is not None:
                self.boxed.emit(box)

    @property
    def place(self) -> QRectF:
        """Where the pixels are shown: fitted, never larger than themselves."""
        if self.image.isNull():
            return QRectF()
        ratio = self.devicePixelRatioF()
        width, height = self.image.width() / ratio, self.image.height() / ratio
        scale = min(1.0, (self.width() - 16) / width, (self.height() - 16) / height)
        shown = QSize(round(width * scale), round(height * scale))
        left, top = (self.width() - shown.width()) / 2, (self.height() - shown.height()) / 2
        return QRectF(left, top, shown.width(), shown.height())

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the pixels and the cross hair."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour(self.theme.surround))
        place = self.place
        if place.isEmpty():
            painter.end()
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(place, self.image)
        x = place.left() + (self.at.x() + 0.5) * place.width() / self.image.width()
        y = place.top() + (self.at.y() + 0.5) * place.height() / self.image.height()
        for ink, width in ((Qt.GlobalColor.white, 4), (Qt.GlobalColor.black, 1.6)):
            painter.setPen(QPen(ink, width))
            for across, down in ((1, 0), (-1, 0), (0, 1), (0, -1)):
                start = QPointF(x + 7 * across, y + 7 * down)
                painter.drawLine(start, QPointF(x + 22 * across, y + 22 * down))
        self._paint_box(painter, place)
        if self.hasFocus():
            painter.setPen(QPen(colour(self.theme.surround_text), 2, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(2, 2, -2, -2))
        painter.end()

    def _paint_box(self, painter: QPainter, place: QRectF) -> None:
        box = self.box
        if box is None:
            return
        across = place.width() / self.image.width()
        down = place.height() / self.image.height()
        shown = QRectF(
            place.left() + box.x() * across,
            place.top() + box.y() * down,
            box.width() * across,
            box.height() * down,
        )
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for ink, width in ((Qt.GlobalColor.white, 4), (Qt.GlobalColor.black, 1.6)):
            painter.setPen(QPen(ink, width))
            painter.drawRect(shown)

    def _pixel_at(self, point: QPointF) -> tuple[int, int]:
        place = self.place
        across = (point.x() - place.left()) / max(1.0, place.width())
        down = (point.y() - place.top()) / max(1.0, place.height())
        return int(across * self.image.width()), int(down * self.image.height())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Follow the pointer."""
        if self.place.contains(event.position()):
            self.move_to(*self._pixel_at(event.position()))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take the colour under the pointer."""
        if event.button() == Qt.MouseButton.LeftButton and self.place.contains(event.position()):
            self.setFocus()
            self.move_to(*self._pixel_at(event.position()))
            self._go_on()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """End a box that was dragged."""
        box = self.box
        if event.button() != Qt.MouseButton.LeftButton or box is None:
            return
        # A click alone sets the corner, and the next one ends the box.
        if max(box.width(), box.height()) > CLICK:
            self._go_on()

    def event(self, event: QEvent) -> bool:
        """Keep the keys that mean something here from the window's."""
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            own = (*_STEPS, Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape)
            if event.key() in (*own, Qt.Key.Key_S, Qt.Key.Key_T, Qt.Key.Key_B):
                event.accept()
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Move by a pixel, or with Shift by ten; take, leave, change what is taken."""
        key = Qt.Key(event.key())
        if key in _STEPS:
            by = FAR if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            across, down = _STEPS[key]
            self.move_to(self.at.x() + across * by, self.at.y() + down * by)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._go_on()
        elif key == Qt.Key.Key_Escape and self.boxing:
            self.draw_box(False)
        elif key == Qt.Key.Key_Escape:
            self.left.emit()
        elif key == Qt.Key.Key_B:
            self.draw_box(not self.boxing)
        elif key == Qt.Key.Key_S:
            self.side_asked.emit()
        elif key == Qt.Key.Key_T:
            self.below_asked.emit()
        else:
            super().keyPressEvent(event)


class Magnifier(QWidget):
    """The pixels round the cross hair, with a grid and the square that is taken."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.part = np.zeros((2 * REACH + 1, 2 * REACH + 1, 3), np.uint8)
        self.side = 1
        extent = (2 * REACH + 1) * CELL + 2
        self.setFixedSize(extent, extent)
        self.setAccessibleName("Magnified pixels")

    def show_place(self, pixels: Bytes, x: int, y: int, side: int) -> None:
        """Show the pixels round one; past the edge there is nothing."""
        extent = 2 * REACH + 1
        part = np.full((extent, extent, 3), 128, np.uint8)
        height, width = pixels.shape[:2]
        top, left = max(0, y - REACH), max(0, x - REACH)
        bottom, right = min(height, y + REACH + 1), min(width, x + REACH + 1)
        rows = slice(top - (y - REACH), bottom - (y - REACH))
        columns = slice(left - (x - REACH), right - (x - REACH))
        part[rows, columns] = pixels[top:bottom, left:right]
        self.part, self.side = part, side
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint cells, grid and square."""
        painter = QPainter(self)
        box = QRectF(1, 1, self.width() - 2, self.height() - 2)
        painter.drawImage(box, image_of(np.ascontiguousarray(self.part)))
        painter.setPen(QPen(QColor(128, 128, 128, 120), 1))
        for line in range(1, 2 * REACH + 1):
            at = 1 + line * CELL
            painter.drawLine(QPointF(at, 1), QPointF(at, self.height() - 1))
            painter.drawLine(QPointF(1, at), QPointF(self.width() - 1, at))
        first = REACH - self.side // 2
        square = QRectF(1 + first * CELL, 1 + first * CELL, self.side * CELL, self.side * CELL)
        for ink, width in ((Qt.GlobalColor.white, 5), (Qt.GlobalColor.black, 2)):
            painter.setPen(QPen(ink, width))
            painter.drawRect(square)
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.drawRect(box.adjusted(-0.5, -0.5, 0.5, 0.5))
        painter.end()


class PickView(QWidget):
    """The view. taken: a side, its colour, and where it is from; finished: back to the Bench."""

    taken = Signal(object, object, str)
    finished = Signal()
    page_asked = Signal()
    screen_asked = Signal()
    paste_asked = Signal()
    boxed = Signal(object, QRect)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.source: PickSource | None = None
        self.wanted: list[Side] = []
        self.canvas = PickCanvas(theme)
        self.magnifier = Magnifier(theme)
        self.heading = QLabel()
        self.heading.setFont(font(15, bold=True))
        self.heading.setWordWrap(True)
        self.code = QLabel()
        self.code.setFont(font(17, bold=True))
        self.swatch = Swatch(theme, QSize(64, 30))
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.said.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.sides = {side: QPushButton(f"{side}×{side}" if side > 1 else "1") for side in SIDES}
        self.group = QButtonGroup(self)
        self.below = QCheckBox("Below the text")
        self.page = QPushButton("This page")
        self.screen_button = QPushButton("Screen")
        self.paste = QPushButton("Paste")
        self.box_button = QPushButton("Box round text")
        self.box_button.setCheckable(True)
        self.box_button.setToolTip("Read both colours of a text from the pixels in a box (B)")
        self.take_button = QPushButton("Take")
        self.back_button = QPushButton("Back")
        self._lay_out()
        self.canvas.moved.connect(self.refresh)
        self.canvas.taken.connect(self.take)
        self.canvas.left.connect(self.finished)
        self.canvas.side_asked.connect(self.next_side)
        self.canvas.below_asked.connect(self.below.click)
        self.canvas.boxed.connect(self._boxed)
        self.canvas.box_changed.connect(self._box_changed)
        self.box_button.clicked.connect(self.canvas.draw_box)
        self.below.toggled.connect(self._show_pixels)
        self.take_button.clicked.connect(self.take)
        self.back_button.clicked.connect(self.finished)
        self.page.clicked.connect(self.page_asked)
        self.screen_button.clicked.connect(self.screen_asked)
        self.paste.clicked.connect(self.paste_asked)

    def _lay_out(self) -> None:
        panel = QFrame()
        panel.setObjectName("panel")
        panel.setMinimumWidth(PANEL_WIDTH)
        column = QVBoxLayout(panel)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(9)
        column.addWidget(self.heading)
        column.addWidget(self.magnifier, 0, Qt.AlignmentFlag.AlignHCenter)
        row = QHBoxLayout()
        row.addWidget(self.swatch)
        row.addWidget(self.code, 1)
        column.addLayout(row)
        row = QHBoxLayout()
        row.setSpacing(6)
        for side, button in self.sides.items():
            button.setCheckable(True)
            words = f"Average of {side} by {side} pixels" if side > 1 else "A single pixel"
            button.setAccessibleName(words)
            button.setToolTip(f"{words} (S goes to the next)")
            button.setProperty("tight", True)
            button.clicked.connect(self.refresh)
            self.group.addButton(button)
            row.addWidget(button)
        self.sides[1].setChecked(True)
        column.addLayout(row)
        self.below.setToolTip("Pick what lies behind the text (T)")
        column.addWidget(self.below)
        column.addWidget(self.box_button, 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(self.said)
        column.addStretch(1)
        for buttons in (
            (self.page, self.screen_button, self.paste),
            (self.take_button, self.back_button),
        ):
            row = QHBoxLayout()
            row.setSpacing(6)
            for button in buttons:
                button.setProperty("tight", True)
                row.addWidget(button)
            column.addLayout(row)
        self.take_button.setProperty("main", True)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.canvas, 1)
        scroll = QScrollArea()
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidgetResizable(True)
        scroll.setFixedWidth(PANEL_WIDTH + SCROLL_ROOM)
        scroll.setWidget(panel)
        whole.addWidget(scroll)

    @property
    def pixels(self) -> Bytes | None:
        """The pixels that are picked from."""
        if self.source is None:
            return None
        return self.source.below if self._is_below else self.source.shown

    @property
    def _is_below(self) -> bool:
        return self.source is not None and self.source.below is not None and self.below.isChecked()

    @property
    def side(self) -> int:
        """The side of the square that is averaged."""
        return next(side for side, button in self.sides.items() if button.isChecked())

    def want(self, sides: list[Side]) -> None:
        """Say which colours are wanted, in order."""
        self.wanted = list(sides)
        self.refresh()

    def show_source(self, source: PickSource) -> None:
        """Show what is picked from."""
        first = self.source is None or self.source.shown.shape != source.shown.shape
        self.source = source
        self.below.setVisible(source.below is not None)
        self.say("")
        self._show_pixels()
        if first:
            height, width = source.shown.shape[:2]
            self.canvas.move_to(width // 2, height // 2)
        self.canvas.setFocus()

    def say(self, words: str) -> None:
        """Say something beside the picture."""
        self.said.setText(words)
        self.said.setVisible(bool(words))

    def next_side(self) -> None:
        """Average over the next larger square, or go back to one pixel."""
        place = (SIDES.index(self.side) + 1) % len(SIDES)
        self.sides[SIDES[place]].click()

    def _show_pixels(self) -> None:
        if self.pixels is not None:
            self.canvas.show_pixels(self.pixels)

    def refresh(self) -> None:
        """Show what stands under the cross hair."""
        wanted = f"Take the {self.wanted[0]}" if self.wanted else "Pick"
        of = f" from {self.source.words}" if self.source else ""
        self.heading.setText(wanted + of)
        there = self.pixels is not None
        self.take_button.setEnabled(there and bool(self.wanted))
        if self.pixels is None:
            self.code.setText("")
            return
        x, y = self.canvas.at.x(), self.canvas.at.y()
        levels = picked(self.pixels, x, y, self.side)
        self.magnifier.show_place(self.pixels, x, y, self.side)
        self.code.setText(hex_of(levels))
        self.swatch.show_colour(from_levels(levels))
        self.canvas.setAccessibleDescription(f"{hex_of(levels)} at {x}, {y}")

    def _box_changed(self) -> None:
        self.box_button.setChecked(self.canvas.boxing)
        self.say(BOX_WORDS if self.canvas.boxing else "")
        if self.canvas.boxing:
            self.canvas.setFocus()

    def _boxed(self, box: QRect) -> None:
        """Give on the pixels in a box, with their text."""
        if self.source is not None:
            rows = slice(box.top(), box.bottom() + 1)
            columns = slice(box.left(), box.right() + 1)
            self.say("Reading the text…")
            self.boxed.emit(np.ascontiguousarray(self.source.shown[rows, columns]), box)

    def take(self) -> None:
        """Take the colour for the side that is wanted next."""
        if self.pixels is None or not self.wanted or self.source is None:
            return
        levels = picked(self.pixels, self.canvas.at.x(), self.canvas.at.y(), self.side)
        side = self.wanted.pop(0)
        self.taken.emit(side, from_levels(levels), f"picked from {self.source.words}")
        if not self.wanted:
            self.finished.emit()
        else:
            # What is behind the text is the likeliest next.
            self.refresh()


def key_words() -> str:
    """Say what the keys do, for the window's foot."""
    return "Arrows move    S size    T below the text    B box    Enter takes    Escape leaves"
