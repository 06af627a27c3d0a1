"""Pixels of the core as Qt's images."""

from __future__ import annotations

from PySide6.QtGui import QImage

from high_pair.colour.srgb import Bytes


def image_of(pixels: Bytes, ratio: float = 1.0) -> QImage:
    """Turn uint8 (h, w, 3) into an image of its own memory; ratio: device pixels a unit."""
    height, width, _ = pixels.shape
    image = QImage(pixels.tobytes(), width, height, width * 3, QImage.Format.Format_RGB888).copy()
    image.setDevicePixelRatio(ratio)
    return image
