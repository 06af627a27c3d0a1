"""The ladder: contrast from 1 to 21 on a logarithmic scale, with rungs at 3, 4.5 and 7."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.measure.pairs import Numbers

LOWEST, HIGHEST = 1.0, 21.0
RUNGS = (3.0, 4.5, 7.0)


def place_of(ratio: float) -> float:
    """Give a ratio's place on the ladder, 0 at 1:1 to 1 at 21:1."""
    clipped = min(HIGHEST, max(LOWEST, ratio))
    return math.log(clipped / LOWEST) / math.log(HIGHEST / LOWEST)


def paint_small_ladder(
    painter: QPainter, box: QRectF, numbers: Numbers, required: float, theme: Theme
) -> None:
    """Paint a ladder for a list's row: the spread, the governing ratio, and what is asked."""
    painter.save()
    track = QRectF(box.left(), box.center().y() - 3, box.width(), 6)
    painter.fillRect(track, colour(theme.track))
    low, high = (
        track.left() + place_of(r) * track.width() for r in (numbers.lowest, numbers.highest)
    )
    painter.fillRect(QRectF(low, track.top(), max(2.0, high - low), 6), colour(theme.quiet))
    painter.setPen(QPen(colour(theme.text), 2))
    asked = track.left() + place_of(required) * track.width()
    painter.drawLine(QPointF(asked, box.top()), QPointF(asked, box.bottom()))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour(theme.mark if numbers.ratio < required else theme.text))
    at = track.left() + place_of(numbers.ratio) * track.width()
    painter.drawPolygon(
        QPolygonF(
            [QPointF(at - 4, box.top()), QPointF(at + 4, box.top()), QPointF(at, track.top() + 1)]
        )
    )
    painter.restore()


class Ladder(QWidget):
    """The ladder of the pair at hand."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.numbers: Numbers | None = None
        self.required = 4.5
        # What remedies are to reach, where that is more.
        self.aim = 0.0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMinimumWidth(160)

    def sizeHint(self) -> QSize:
        """Give the height that track, rungs and numbers need."""
        return QSize(300, 58)

    def show_numbers(self, numbers: Numbers | None, required: float, aim: float = 0.0) -> None:
        """Show what was measured, what is asked, and what is aimed at where that is more."""
        self.numbers, self.required, self.aim = numbers, required, aim
        words = f"Ladder from 1 to 21; asked for {required:g}"
        if aim > required:
            words += f"; the aim is {aim:.3g}"
        if numbers is not None:
            words += f"; ratio {shown_ratio(numbers.ratio)}"
            if numbers.varied:
                words += f"; from {shown_ratio(numbers.lowest)} to {shown_ratio(numbers.highest)}"
        self.setAccessibleName(words)
        self.setToolTip(words)
        self.update()

    def paintEvent(self, _event: object) -> None:
        """Paint track, spread, rungs and pointer."""
        theme = self.theme
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(SMALL_PIXELS - 1))
        track = QRectF(6, 20, self.width() - 12, 12)
        painter.setPen(QPen(colour(theme.edge), 1))
        painter.setBrush(colour(theme.track))
        painter.drawRect(track)
        if self.numbers is not None:
            self._paint_spread(painter, track, self.numbers)
        self._paint_rungs(painter, track)
        if self.aim > self.required:
            self._paint_aim(painter, track)
        if self.numbers is not None:
            self._paint_pointer(painter, track, self.numbers.ratio)
        painter.end()

    def _at(self, track: QRectF, ratio: float) -> float:
        return track.left() + place_of(ratio) * track.width()

    def _paint_spread(self, painter: QPainter, track: QRectF, numbers: Numbers) -> None:
        low, high = self._at(track, numbers.lowest), self._at(track, numbers.highest)
        spread = QRectF(low, track.top(), max(2.0, high - low), track.height())
        painter.fillRect(spread, QBrush(colour(self.theme.quiet), Qt.BrushStyle.BDiagPattern))
        painter.setPen(QPen(colour(self.theme.text), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(spread)

    def _paint_rungs(self, painter: QPainter, track: QRectF) -> None:
        for rung in (LOWEST, *RUNGS, HIGHEST):
            asked = rung == self.required
            x = self._at(track, rung)
            painter.setPen(QPen(colour(self.theme.text), 3 if asked else 1))
            painter.drawLine(QPointF(x, track.top() - 7), QPointF(x, track.bottom() + 7))
            painter.setFont(font(SMALL_PIXELS - 1, bold=asked))
            box = QRectF(x - 20, track.bottom() + 7, 40, 18)
            align = Qt.AlignmentFlag.AlignHCenter
            if rung == LOWEST:
                box, align = QRectF(0, box.top(), 40, 18), Qt.AlignmentFlag.AlignLeft
            elif rung == HIGHEST:
                box = QRectF(self.width() - 40, box.top(), 40, 18)
                align = Qt.AlignmentFlag.AlignRight
            painter.setPen(colour(self.theme.text))
            painter.drawText(box, align, f"{rung:g}")

    def _paint_aim(self, painter: QPainter, track: QRectF) -> None:
        """Paint a ring on the track, which no rung is."""
        x = self._at(track, self.aim)
        painter.setBrush(colour(self.theme.panel))
        painter.setPen(QPen(colour(self.theme.text), 2))
        painter.drawEllipse(QPointF(x, track.center().y()), 5, 5)

    def _paint_pointer(self, painter: QPainter, track: QRectF, ratio: float) -> None:
        x = self._at(track, ratio)
        short = ratio < self.required
        painter.setPen(QPen(colour(self.theme.panel), 1))
        painter.setBrush(colour(self.theme.mark if short else self.theme.text))
        painter.drawPolygon(
            QPolygonF([QPointF(x - 8, 4), QPointF(x + 8, 4), QPointF(x, track.top() + 1)])
        )
