"""What colours are picked from: pixels with text, and without it where that is known."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PySide6.QtGui import QImage

from high_pair.colour.compositing import on_white
from high_pair.colour.srgb import Bytes


@dataclass(frozen=True)
class PickSource:
    """Pixels to pick from.

    words: what they are of, as the log says it; shown: uint8 (h, w, 3), as it
    looks; below: the same without any text, None where nobody can tell.
    """

    words: str
    shown: Bytes
    below: Bytes | None = None


def pixels_of(image: QImage) -> Bytes:
    """Give an image's pixels, uint8 (h, w, 3); what is see-through lies on white."""
    plain = image.convertToFormat(QImage.Format.Format_RGBA8888)
    width, height = plain.width(), plain.height()
    flat = np.frombuffer(plain.constBits(), np.uint8).reshape(height, plain.bytesPerLine())
    return on_white(flat[:, : width * 4].reshape(height, width, 4))
