"""Painting a page over which a text is moved: where it passes is hatched."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPen

from high_pair.app.fitting.live import Sheet, image_of_layer
from high_pair.app.images import stripes_of
from high_pair.remedy.shift import STEP
from high_pair.review.shifting import Shifting

MIDDLE = "middle"


class LiveShift:
    """The page, the text on it, and the hatched places of its middle where it passes.

    at: where it is, in pixels of the raster from where it stood.
    """

    def __init__(self, shifting: Shifting) -> None:
        self.shifting = shifting
        self.below = image_of_layer(shifting.layers.below).convertToFormat(
            QImage.Format.Format_RGB32
        )
        self.text = Sheet(shifting.layers.above)
        places = shifting.places
        mask = np.repeat(np.repeat(places.good, STEP, axis=0), STEP, axis=1)
        self.hatching = stripes_of(mask)
        self.at = shifting.proposed
        self._grip = (0.0, 0.0)

    @property
    def _scale(self) -> float:
        return self.shifting.mover.scale

    @property
    def ink(self) -> QRectF:
        """The box of the text's ink where it is, in points."""
        left, top, right, bottom = self.shifting.mover.ink
        across, down = self.at
        scale = self._scale
        return QRectF(
            (left + across) / scale,
            (top + down) / scale,
            (right - left) / scale,
            (bottom - top) / scale,
        )

    def paint(self, painter: QPainter, box: QRectF, factor: float) -> None:
        """Paint the page, the hatching, and the text where it is."""
        painter.drawImage(box, self.below)
        painter.save()
        painter.setClipRect(box, Qt.ClipOperation.IntersectClip)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
        painter.setOpacity(0.55)
        painter.drawImage(self._hatched(box, factor), self.hatching)
        painter.setOpacity(1.0)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        units = factor / self._scale
        self.text.paint(painter, box.translated(self.at[0] * units, self.at[1] * units))
        painter.restore()

    def _hatched(self, box: QRectF, factor: float) -> QRectF:
        """Give the place of the hatching: its squares lie round places of the text's middle."""
        left, top, right, bottom = self.shifting.mover.ink
        places, units = self.shifting.places, factor / self._scale
        x = (left + right) / 2 + places.across[0] - STEP / 2
        y = (top + bottom) / 2 + places.down[0] - STEP / 2
        return QRectF(
            box.x() + x * units,
            box.y() + y * units,
            self.hatching.width() * units,
            self.hatching.height() * units,
        )

    def paint_marks(self, painter: QPainter, box: QRectF, factor: float, held: str) -> None:
        """Paint a frame round the text and a cross at its middle, dark in light."""
        ink = self.ink
        frame = QRectF(
            box.x() + ink.x() * factor,
            box.y() + ink.y() * factor,
            ink.width() * factor,
            ink.height() * factor,
        )
        middle, reach = frame.center(), 9.0 if held else 7.0
        for ink_colour, width, dash in (
            (Qt.GlobalColor.white, 3.0, Qt.PenStyle.SolidLine),
            (Qt.GlobalColor.black, 1.4, Qt.PenStyle.DashLine),
        ):
            painter.setPen(QPen(ink_colour, width, dash))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(frame)
            painter.setPen(QPen(ink_colour, width))
            painter.drawLine(middle - QPointF(reach, 0), middle + QPointF(reach, 0))
            painter.drawLine(middle - QPointF(0, reach), middle + QPointF(0, reach))

    def hold(self, x: float, y: float, reach: float) -> str:
        """Take hold of the text, or of the hatched place at which it is then."""
        if not self.ink.adjusted(-reach, -reach, reach, reach).contains(x, y):
            return ""
        self._grip = (x - self.at[0] / self._scale, y - self.at[1] / self._scale)
        return MIDDLE

    def drag(self, _held: str, x: float, y: float) -> object:
        """Move the text to where it is dragged."""
        return self.go_to(
            round((x - self._grip[0]) * self._scale), round((y - self._grip[1]) * self._scale)
        )

    def nudge(self, across: int, down: int) -> object | None:
        """Move it by pixels."""
        return self.go_to(self.at[0] + across, self.at[1] + down)

    def go_to(self, across: int, down: int) -> tuple[int, int]:
        """Move it to a place on the page, in pixels from where it stood."""
        self.at = self.shifting.kept_on_the_page(across, down)
        return self.at
