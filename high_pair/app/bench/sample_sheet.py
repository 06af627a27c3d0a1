"""The two colours at work: text in three sizes, an icon and a control."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from high_pair.app.images import image_of, pixels_of
from high_pair.app.seats.look import Apart, Look
from high_pair.app.theme import Theme, colour
from high_pair.measure.by_hand import HandPair
from high_pair.scene.seat import Seat

FAMILY = "Carlito"
# CSS pixels: normal text, large-scale text (18 pt), large-scale bold text (14 pt).
SIZES = ((16, False), (24, False), (19, True))
LINE = 1.5
MARGIN = 24
ICON_ROOM = 210


def sample_font(pixels: int, bold: bool) -> QFont:
    """Give the font of the samples at a size in CSS pixels."""
    made = QFont(FAMILY)
    made.setPixelSize(pixels)
    made.setBold(bold)
    return made


def paint_boat(painter: QPainter, box: QRectF, ink: QColor) -> None:
    """Paint a ferry as an icon with an outline."""

    def at(x: float, y: float) -> QPointF:
        return QPointF(box.x() + x * box.width(), box.y() + y * box.height())

    painter.setPen(QPen(ink, max(2.0, box.width() / 14)))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolygon(QPolygonF([at(0.04, 0.6), at(0.96, 0.6), at(0.82, 0.92), at(0.18, 0.92)]))
    painter.drawPolyline([at(0.22, 0.6), at(0.22, 0.3), at(0.6, 0.3), at(0.72, 0.6)])
    painter.drawLine(at(0.4, 0.3), at(0.4, 0.06))


class SampleSheet(QWidget):
    """The samples. Their words can be the user's own."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.pair: HandPair | None = None
        self.words = ""
        # From where the samples are looked at; None for as they are.
        self.seat: Seat | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(150)
        self.setAccessibleName("Samples of text, an icon and a control in the two colours")

    def sizeHint(self) -> QSize:
        """Ask for room for three lines."""
        return QSize(600, 190)

    def show_pair(self, pair: HandPair, words: str) -> None:
        """Show two colours with a text."""
        self.pair, self.words = pair, words
        self.update()

    def look_from(self, seat: Seat | None) -> None:
        """Show the samples as they are seen from a seat; None for as they are."""
        self.seat = seat
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the samples."""
        if self.pair is None:
            return
        painter = QPainter(self)
        if self.seat is None:
            self._paint_samples(painter, self.pair)
        else:
            ratio = self.devicePixelRatioF()
            plain = QImage(self.size() * ratio, QImage.Format.Format_RGB888)
            plain.setDevicePixelRatio(ratio)
            samples = QPainter(plain)
            self._paint_samples(samples, self.pair)
            samples.end()
            seen = Look.on_a_page(self.seat, ratio).seen(Apart.of(pixels_of(plain), self.seat))
            painter.drawImage(0, 0, image_of(seen, ratio))
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        painter.end()

    def _paint_samples(self, painter: QPainter, pair: HandPair) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink, paper = QColor(*pair.seen), QColor(*pair.behind)
        box = QRectF(self.rect())
        painter.fillRect(box, paper)
        painter.setPen(ink)
        room = box.width() - 2 * MARGIN - ICON_ROOM
        top = 14.0
        for pixels, bold in SIZES:
            painter.setFont(sample_font(pixels, bold))
            shown = painter.fontMetrics().elidedText(
                self.words, Qt.TextElideMode.ElideRight, int(room)
            )
            height = pixels * LINE
            painter.drawText(
                QRectF(MARGIN, top, room, height), Qt.AlignmentFlag.AlignVCenter, shown
            )
            top += height + 4
        self._paint_control(painter, box, ink)

    def _paint_control(self, painter: QPainter, box: QRectF, ink: QColor) -> None:
        left = box.right() - ICON_ROOM
        middle = box.top() + 62
        paint_boat(painter, QRectF(left, middle - 26, 52, 52), ink)
        button = QRectF(left + 76, middle - 20, 84, 40)
        painter.setPen(QPen(ink, 2))
        painter.drawRoundedRect(button, 5, 5)
        painter.setFont(sample_font(16, False))
        painter.drawText(button, Qt.AlignmentFlag.AlignCenter, "Book")
