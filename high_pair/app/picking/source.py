"""What colours are picked from: pixels with text, and without it where that is known."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PySide6.QtGui import QImage

from high_pair.colour.srgb import Bytes
from high_pair.errors import UnreadableFile
from high_pair.raster.pictures import PictureProblem, decode

# Files that are opened as pictures to pick from.
PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".gif", ".bmp", ".tif", ".tiff")
MOST_BYTES = 512 * 1024**2


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
    """Read a picture's file, in sRGB. Raises UnreadableFile."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise UnreadableFile(path.name, "it is larger than is read.")
        rgba = decode(path.read_bytes())
    except OSError as error:
        raise UnreadableFile(path.name, f"it can't be opened ({error.strerror}).") from error
    except PictureProblem as error:
        raise UnreadableFile(
            path.name, f"it can't be read as a picture: {error}. Save it anew as PNG or JPEG."
        ) from error
    return PickSource(path.name, on_white(rgba))


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
