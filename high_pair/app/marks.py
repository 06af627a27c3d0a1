"""The marks of the verdicts: told apart by shape, never by hue alone."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from high_pair.app.theme import Theme, colour
from high_pair.wcag.verdicts import Verdict


def paint_mark(painter: QPainter, box: QRectF, verdict: Verdict, theme: Theme) -> None:
    """Paint a verdict's mark: a wedge, a ring, a half-filled lens, or a short bar."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink = colour(theme.text)
    if verdict is Verdict.FALLS_SHORT:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour(theme.mark))
        painter.drawPolygon(
            QPolygonF([box.topLeft(), box.topRight(), QPointF(box.center().x(), box.bottom())])
        )
    elif verdict is Verdict.PASSES:
        painter.setPen(QPen(ink, max(1.6, box.width() / 7)))
        inset = box.width() / 10
        painter.drawEllipse(box.adjusted(inset, inset, -inset, -inset))
    elif verdict is Verdict.NEEDS_EYES:
        painter.setPen(QPen(ink, max(1.4, box.width() / 9)))
        circle = box.adjusted(1, 1, -1, -1)
        painter.drawEllipse(circle)
        painter.setBrush(ink)
        painter.drawPie(circle, 90 * 16, 180 * 16)
    else:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(ink)
        height = max(2.0, box.height() / 5)
        painter.drawRect(QRectF(box.left(), box.center().y() - height / 2, box.width(), height))
    painter.restore()


def paint_advice(painter: QPainter, box: QRectF, reads: bool, theme: Theme) -> None:
    """Paint the mark of what is only advice: a square, struck through where a text doesn't read."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(colour(theme.text if reads else theme.mark), 1.6))
    painter.drawRect(box)
    if not reads:
        painter.drawLine(box.bottomLeft(), box.topRight())
    painter.restore()


class Mark(QWidget):
    """A mark as a widget."""

    def __init__(self, theme: Theme, side: int = 16) -> None:
        super().__init__()
        self.theme = theme
        self.verdict: Verdict | None = None
        self.setFixedSize(side, side)

    def show_verdict(self, verdict: Verdict | None) -> None:
        """Show another verdict's mark, or none."""
        self.verdict = verdict
        self.setAccessibleName(verdict.words if verdict else "")
        self.update()

    def paintEvent(self, _event: object) -> None:
        """Paint the mark."""
        if self.verdict is None:
            return
        painter = QPainter(self)
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        paint_mark(painter, box, self.verdict, self.theme)
        painter.end()
