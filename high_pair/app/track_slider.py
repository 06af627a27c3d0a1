"""A slider whose track shows the colours it leads to, and which of its steps pass."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QSlider

from high_pair.app.theme import Theme, colour
from high_pair.colour.srgb import Bytes
from high_pair.remedy.by_hand import stretches

HEIGHT = 32
TRACK_TOP, TRACK_HEIGHT = 11, 14
PASS_TOP, PASS_HEIGHT = 2, 5
INSET = 6
HANDLE_WIDTH = 8
PAGES = 20


class TrackSlider(QSlider):
    """The slider. Ctrl with an arrow goes to the next place where passing begins or ends."""

    def __init__(self, theme: Theme, last: int, words: str, more: str = "") -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self.theme = theme
        self.words = words
        self.passing: NDArray[np.bool_] = np.zeros(1, bool)
        self.outside: NDArray[np.bool_] = np.zeros(1, bool)
        self._image = QImage()
        self.setRange(0, last)
        self.setSingleStep(max(1, last // 200))
        self.setPageStep(max(1, last // PAGES))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMinimumWidth(90)
        self.setAccessibleName(words)
        self.setToolTip(
            f"{words}. The bar above the track marks what passes{more}. "
            "Ctrl with an arrow key goes to where passing begins or ends."
        )

    def sizeHint(self) -> QSize:
        """Give the height that the pass bar and the track need."""
        return QSize(240, HEIGHT)

    def show_track(self, colours: Bytes, outside: NDArray[np.bool_] | None = None) -> None:
        """Show the colours that the steps lead to, uint8 (n, 3), and which lie outside sRGB."""
        row = np.ascontiguousarray(colours[None, :, :])
        width = row.shape[1]
        self._image = QImage(row.tobytes(), width, 1, width * 3, QImage.Format.Format_RGB888).copy()
        self.outside = outside if outside is not None else np.zeros(width, bool)
        self.update()

    def show_place(self, passing: NDArray[np.bool_], value: int) -> None:
        """Show which steps pass, and where the slider stands."""
        self.passing = passing
        self.blockSignals(True)
        self.setValue(value)
        self.blockSignals(False)
        here = "passes here" if passing[min(value, len(passing) - 1)] else "falls short here"
        self.setAccessibleDescription(here)
        self.update()

    # Painting

    def _track(self) -> QRectF:
        return QRectF(INSET, TRACK_TOP, max(1, self.width() - 2 * INSET), TRACK_HEIGHT)

    def _at(self, share: float) -> float:
        track = self._track()
        return track.left() + share * track.width()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the track, what lies outside sRGB, what passes, and the handle."""
        painter = QPainter(self)
        track = self._track()
        if not self._image.isNull():
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(track, self._image)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
            self._paint_outside(painter, track)
            self._paint_passing(painter)
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.drawRect(track.adjusted(-0.5, -0.5, 0.5, 0.5))
        self._paint_handle(painter, track)
        painter.end()

    def _paint_outside(self, painter: QPainter, track: QRectF) -> None:
        for start, end in stretches(self.outside):
            area = QRectF(
                self._at(start), track.top(), self._at(end) - self._at(start), track.height()
            )
            # Dark and light lines over the colour that shows there, its chroma brought in.
            painter.fillRect(area, QBrush(Qt.GlobalColor.white, Qt.BrushStyle.FDiagPattern))
            painter.fillRect(area, QBrush(Qt.GlobalColor.black, Qt.BrushStyle.BDiagPattern))

    def _paint_passing(self, painter: QPainter) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        ink = colour(self.theme.text)
        for start, end in stretches(self.passing):
            left, right = self._at(start), self._at(end)
            painter.fillRect(QRectF(left, PASS_TOP, max(2.0, right - left), PASS_HEIGHT), ink)
            for inner, x in ((start > 0, left), (end < 1, right)):
                if inner:
                    # A tick down to the track where passing begins or ends.
                    painter.fillRect(QRectF(x - 1, PASS_TOP, 2, TRACK_TOP - PASS_TOP), ink)

    def _paint_handle(self, painter: QPainter, track: QRectF) -> None:
        x = self._at(self.value() / max(1, self.maximum()))
        box = QRectF(x - HANDLE_WIDTH / 2, track.top() - 3, HANDLE_WIDTH, track.height() + 6)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        # Dark within light shows on any colour.
        for pen in (QPen(Qt.GlobalColor.white, 5), QPen(Qt.GlobalColor.black, 2)):
            painter.setPen(pen)
            painter.drawRoundedRect(box, 2, 2)
        if self.hasFocus():
            painter.setPen(QPen(colour(self.theme.accent), 2))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)

    # Moving

    def _move_to(self, point: QPointF) -> None:
        track = self._track()
        share = (point.x() - track.left()) / track.width()
        self.setValue(round(min(1.0, max(0.0, share)) * self.maximum()))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Go to where the user clicks."""
        if event.button() == Qt.MouseButton.LeftButton:
            self.setSliderDown(True)
            self._move_to(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Follow the pointer."""
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._move_to(event.position())

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        """End the drag."""
        self.setSliderDown(False)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Go to the next place where passing begins or ends, with Ctrl."""
        ways = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        way = ways.get(Qt.Key(event.key()))
        if way is None or not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            super().keyPressEvent(event)
            return
        edges = np.flatnonzero(np.diff(self.passing.astype(np.int8)))
        # The step that passes, on whichever side of the edge it lies.
        places = [int(edge) if self.passing[edge] else int(edge) + 1 for edge in edges]
        beyond = [p for p in places if (p - self.value()) * way > 0]
        if beyond:
            self.setValue(min(beyond, key=lambda place: abs(place - self.value())))
