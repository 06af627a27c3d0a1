"""Painting a page with an overlay that is being moved, in the time of a frame."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import (
    QBrush,
    QColor,
    QImage,
    QLinearGradient,
    QPainter,
    QPen,
    QTransform,
)

from high_pair.app.fitting.handles import dragged, handles_of, nearest
from high_pair.colour.srgb import Bytes
from high_pair.raster.layers import Layers
from high_pair.scene.overlay import Overlay, OverlayKind

HANDLE = 9.0
# A soft plate is painted from so few samples across; it has no detail between them.
SOFT_SIDE = 96


def image_of_layer(pixels: Bytes) -> QImage:
    """Turn a layer, uint8 (h, w, 4) with opacity multiplied in, into an image."""
    height, width = pixels.shape[:2]
    data = pixels.tobytes()
    image = QImage(data, width, height, width * 4, QImage.Format.Format_RGBA8888_Premultiplied)
    # A copy, in the form in which it is drawn, so that no frame has to convert it.
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)


def _inked(layer: Bytes) -> tuple[slice, slice]:
    """Give the part of a layer outside which there is nothing: blending that would take time."""
    painted = layer[..., 3] > 0
    rows, columns = np.flatnonzero(painted.any(axis=1)), np.flatnonzero(painted.any(axis=0))
    if not len(rows):
        return slice(0, 1), slice(0, 1)
    return slice(int(rows[0]), int(rows[-1]) + 1), slice(int(columns[0]), int(columns[-1]) + 1)


class Sheet:
    """A layer of a page, of which only what is painted is kept."""

    def __init__(self, layer: Bytes) -> None:
        height, width = layer.shape[:2]
        rows, columns = _inked(layer)
        self.image = image_of_layer(np.ascontiguousarray(layer[rows, columns]))
        # Where on the page it stands, in shares of its sides.
        self._place = QRectF(
            columns.start / width,
            rows.start / height,
            (columns.stop - columns.start) / width,
            (rows.stop - rows.start) / height,
        )

    def paint(self, painter: QPainter, box: QRectF) -> None:
        """Paint it, the page's place being a box."""
        place = self._place
        painter.drawImage(
            QRectF(
                box.x() + place.x() * box.width(),
                box.y() + place.y() * box.height(),
                place.width() * box.width(),
                place.height() * box.height(),
            ),
            self.image,
        )


class LivePage:
    """A page's two layers and the overlay between them."""

    def __init__(self, layers: Layers, overlay: Overlay) -> None:
        # Without its opacity, which is whole, it is copied instead of blended.
        self.below = image_of_layer(layers.below).convertToFormat(QImage.Format.Format_RGB32)
        self.above = Sheet(layers.above)
        self.overlay = overlay

    def paint(self, painter: QPainter, box: QRectF, factor: float) -> None:
        """Paint the page in a box; factor: window units a point."""
        painter.drawImage(box, self.below)
        painter.save()
        painter.setClipRect(box, Qt.ClipOperation.IntersectClip)
        painter.setTransform(
            QTransform.fromTranslate(box.x(), box.y()).scale(factor, factor), combine=True
        )
        painter.setPen(Qt.PenStyle.NoPen)
        self._paint_overlay(painter)
        painter.restore()
        self.above.paint(painter, box)

    def paint_marks(self, painter: QPainter, box: QRectF, factor: float, held: str) -> None:
        """Paint the overlay's outline and handles."""
        paint_handles(painter, self.overlay, box, factor, held)

    def hold(self, x: float, y: float, reach: float) -> str:
        """Take hold of the handle at a place."""
        return nearest(self.overlay, x, y, reach)

    def drag(self, held: str, x: float, y: float) -> object:
        """Move a handle; gives the overlay as it is then."""
        self.overlay = dragged(self.overlay, held, x, y)
        return self.overlay

    def nudge(self, _across: int, _down: int) -> object | None:
        """An overlay's numbers stand beside the page."""
        return None

    def _paint_overlay(self, painter: QPainter) -> None:
        overlay = self.overlay
        area = QRectF(overlay.box.x, overlay.box.y, overlay.box.width, overlay.box.height)
        if overlay.turn:
            painter.setRenderHints(
                QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform
            )
            _turn(painter, area.center(), overlay.turn)
        if overlay.kind is OverlayKind.SOFT_PLATE:
            painter.drawImage(area, self._soft())
        elif overlay.kind is OverlayKind.RAMP:
            painter.fillRect(area, QBrush(self._gradient()))
        elif overlay.rounding > 0:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setBrush(self._colour(1.0))
            painter.drawRoundedRect(area, overlay.rounding, overlay.rounding)
        else:
            painter.fillRect(area, self._colour(1.0))

    def _colour(self, share: float) -> QColor:
        found = QColor(*self.overlay.levels)
        found.setAlphaF(self.overlay.percent / 100 * share)
        return found

    def _gradient(self) -> QLinearGradient:
        start, end = self.overlay.axis
        gradient = QLinearGradient(QPointF(*start), QPointF(*end))
        for place, share in self.overlay.stops:
            gradient.setColorAt(place, self._colour(share))
        return gradient

    def _soft(self) -> QImage:
        upright = replace(self.overlay, turn=0.0)
        box = upright.box
        height = max(2, min(SOFT_SIDE, round(SOFT_SIDE * box.height / max(box.width, 1e-6))))
        x = box.x + (np.arange(SOFT_SIDE) + 0.5) * box.width / SOFT_SIDE
        y = box.y + (np.arange(height) + 0.5) * box.height / height
        shares = upright.shares_at(x[None, :], y[:, None]) * self.overlay.percent / 100
        colour = np.array(self.overlay.levels, np.float64)
        pixels = np.empty((height, SOFT_SIDE, 4), np.uint8)
        pixels[..., :3] = shares[..., None] * colour + 0.5
        pixels[..., 3] = shares * 255 + 0.5
        return image_of_layer(pixels)


def _turn(painter: QPainter, centre: QPointF, degrees: float) -> None:
    painter.translate(centre)
    painter.rotate(degrees)
    painter.translate(-centre)


def paint_handles(
    painter: QPainter, overlay: Overlay, box: QRectF, factor: float, held: str
) -> None:
    """Paint an overlay's outline and handles in light and dark lines, which show on any picture."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(Qt.BrushStyle.NoBrush)

    def place(x: float, y: float) -> QPointF:
        return QPointF(box.x() + x * factor, box.y() + y * factor)

    outline = QRectF(
        place(overlay.box.x, overlay.box.y), place(overlay.box.right, overlay.box.bottom)
    )
    for ink, width, dash in (
        (Qt.GlobalColor.white, 2.0, Qt.PenStyle.SolidLine),
        (Qt.GlobalColor.black, 1.0, Qt.PenStyle.DashLine),
    ):
        painter.setPen(QPen(ink, width, dash))
        if overlay.kind in (OverlayKind.PLATE, OverlayKind.SOFT_PLATE):
            painter.save()
            _turn(painter, outline.center(), overlay.turn)
            painter.drawRect(outline)
            painter.restore()
        elif overlay.kind is OverlayKind.RAMP:
            _paint_ramp_lines(painter, overlay, outline, place)
    for handle in handles_of(overlay):
        centre = place(handle.x, handle.y)
        size = HANDLE + 3 if handle.name == held else HANDLE
        square = QRectF(centre.x() - size / 2, centre.y() - size / 2, size, size)
        painter.setPen(QPen(Qt.GlobalColor.black, 1.5))
        painter.setBrush(Qt.GlobalColor.white)
        if handle.name == "middle":
            painter.drawEllipse(square)
        else:
            painter.drawRect(square)
    painter.restore()


def _paint_ramp_lines(
    painter: QPainter, ramp: Overlay, outline: QRectF, place: Callable[[float, float], QPointF]
) -> None:
    """Paint lines across a ramp's way at its ends."""
    for handle in handles_of(ramp):
        if handle.name == "middle":
            continue
        # Across the way, as far as the overlay goes.
        point = place(handle.x, handle.y)
        angle = math.radians(ramp.towards + 90)
        reach = outline.width() + outline.height()
        side = QPointF(math.cos(angle) * reach, math.sin(angle) * reach)
        painter.save()
        painter.setClipRect(outline, Qt.ClipOperation.IntersectClip)
        painter.drawLine(point - side, point + side)
        painter.restore()
