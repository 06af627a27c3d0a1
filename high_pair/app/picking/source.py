"""What colours are picked from: pixels with text, and without it where that is known."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PySide6.QtGui import QImage

from high_pair.colour.srgb import Bytes
from high_pair.formats.picture.picture_file import PictureFile


@dataclass(frozen=True)
class PickSource:
    """Pixels to pick from.

    words: what they are of, as the log says it; shown: uint8 (h, w, 3), as it
    looks; below: the same without any text, None where nobody can tell.
    """

    words: str
    shown: Bytes
    below: Bytes | None = None


def picture_at(path: Path) -> PickSource:
    """Read a picture's file, in sRGB, as it is shown. Raises UnreadableFile."""
    return PickSource(path.name, on_white(PictureFile(path).first_page()))


def on_white(rgba: Bytes) -> Bytes:
    """Lay pixels of four channels, uint8 (h, w, 4), on white; rounded as compositing is."""
    wide = rgba.astype(np.uint16)
    alpha = wide[..., 3:]
    mixed = (wide[..., :3] * alpha + 255 * (255 - alpha) + 127) // 255
    return np.asarray(mixed, np.uint8)


def pixels_of(image: QImage) -> Bytes:
    """Give an image's pixels, uint8 (h, w, 3); what is see-through lies on white."""
    plain = image.convertToFormat(QImage.Format.Format_RGBA8888)
    width, height = plain.width(), plain.height()
    flat = np.frombuffer(plain.constBits(), np.uint8).reshape(height, plain.bytesPerLine())
    return on_white(flat[:, : width * 4].reshape(height, width, 4))
