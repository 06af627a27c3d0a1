"""Pixels of the core as Qt's images."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QIcon, QImage, QPainter, QPixmap

from high_pair.colour.srgb import Bytes

# The stripes that mark pixels, slantwise, so that they show on any picture and let it through: of
# so many pixels
STRIPE_PERIOD = 8
# those before this one are black,
BLACK_TO = 2
# those before this one white, and the rest is left clear.
WHITE_TO = 4


def stripes_of(mask: NDArray[np.bool_]) -> QImage:
    """Turn marked pixels (h, w) into stripes of black and white on nothing."""
    height, width = mask.shape
    rows, columns = np.indices(mask.shape)
    phase = (rows + columns) % STRIPE_PERIOD
    pixels = np.zeros((height, width, 4), np.uint8)
    pixels[mask & (phase < BLACK_TO)] = (0, 0, 0, 255)
    pixels[mask & (phase >= BLACK_TO) & (phase < WHITE_TO)] = (255, 255, 255, 255)
    return QImage(pixels.tobytes(), width, height, width * 4, QImage.Format.Format_RGBA8888).copy()


def image_of(pixels: Bytes, ratio: float = 1.0) -> QImage:
    """Turn uint8 (h, w, 3) into an image of its own memory; ratio: device pixels a unit."""
    height, width, _ = pixels.shape
    packed = QImage(pixels.tobytes(), width, height, width * 3, QImage.Format.Format_RGB888)
    # Of the format in which Qt paints, so that it needn't convert it each time.
    image = packed.convertToFormat(QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(ratio)
    return image


def pixels_of(image: QImage) -> Bytes:
    """Give an image's pixels, uint8 (h, w, 3)."""
    plain = image.convertToFormat(QImage.Format.Format_RGB888)
    rows = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), -1)
    return rows[:, : 3 * plain.width()].reshape(plain.height(), plain.width(), 3).copy()


def several_icon(colours: Sequence[tuple[int, int, int]], side: int) -> QIcon:
    """Give a square of up to four colours, the sign of a set."""
    picture = QPixmap(side, side)
    painter = QPainter(picture)
    shown = [*colours[:4], *[colours[-1]] * 4][:4]
    for place, levels in enumerate(shown):
        left, top = place % 2 * side // 2, place // 2 * side // 2
        painter.fillRect(left, top, side, side, QColor(*levels))
    painter.setPen(Qt.GlobalColor.gray)
    painter.drawRect(0, 0, side - 1, side - 1)
    painter.end()
    return QIcon(picture)


def swatch_icon(levels: tuple[int, int, int], side: int = 18) -> QIcon:
    """Give a square of a colour, for a list or a menu."""
    picture = QPixmap(side, side)
    picture.fill(QColor(*levels))
    return QIcon(picture)
