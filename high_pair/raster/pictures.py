"""Decoding pictures to pixels, once for each however often it is used."""

from __future__ import annotations

import io
import warnings
from collections import OrderedDict
from collections.abc import Callable

import numpy as np
import skia
from PIL import Image, ImageCms, UnidentifiedImageError

from high_pair.errors import HighPairError

FORMATS = ("PNG", "JPEG", "GIF", "BMP", "DIB", "TIFF", "WEBP")
MOST_PIXELS = 120_000_000
# A decoded picture keeps at most so many pixels a side: three times a page at 96 dpi.
LONGEST_SIDE = 4096
CACHE_BYTES = 256 * 1024 * 1024


class PictureProblem(HighPairError):
    """A picture can't be decoded; the message says why, without naming it."""


class GiantPicture(PictureProblem):
    """A picture has more pixels than High Pair will take on."""


def _opened(data: bytes) -> Image.Image:
    try:
        with warnings.catch_warnings():
            # The limit below is ours, and an error instead of a warning.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(data), formats=FORMATS)
    except Image.DecompressionBombError as error:
        raise GiantPicture("it has far more pixels than a picture on a page can use") from error
    except UnidentifiedImageError as error:
        raise PictureProblem("its format is none that High Pair decodes") from error
    except (OSError, ValueError, SyntaxError, EOFError, OverflowError, TypeError) as error:
        raise PictureProblem("its data is damaged") from error
    width, height = picture.size
    if width * height > MOST_PIXELS:
        raise GiantPicture(f"it is {width:,} × {height:,} pixels")
    return picture


def picture_size(data: bytes) -> tuple[int, int]:
    """Read a picture's width and height in pixels from its header alone.

    Raises PictureProblem when that can't be, GiantPicture past MOST_PIXELS.
    """
    return _opened(data).size


def _in_srgb(picture: Image.Image) -> Image.Image:
    """Convert a picture with a colour profile of its own to sRGB; without one, leave it."""
    profile = picture.info.get("icc_profile")
    if not profile or picture.mode not in ("RGB", "RGBA", "L", "CMYK"):
        return picture
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        if "srgb" in ImageCms.getProfileDescription(source).lower():
            return picture
        mode = "RGBA" if picture.mode == "RGBA" else "RGB"
        converted = ImageCms.profileToProfile(
            picture, source, ImageCms.createProfile("sRGB"), outputMode=mode
        )
    except (ImageCms.PyCMSError, OSError, ValueError, TypeError):
        # A broken profile is ignored by every program that shows the picture.
        return picture
    return converted or picture


def decode(data: bytes) -> np.ndarray:
    """Decode a picture's first frame to RGBA.

    Gives uint8 (height, width, 4), alpha not multiplied in, at most
    LONGEST_SIDE a side (larger ones are averaged down). Raises PictureProblem.
    """
    picture = _opened(data)
    try:
        if picture.format == "JPEG":
            picture.draft(None, (LONGEST_SIDE, LONGEST_SIDE))
        picture.load()
        if picture.mode.startswith("I;16") or picture.mode == "I":
            # Sixteen bits to eight: Pillow would clip instead of scaling.
            deep = np.asarray(picture, dtype=np.float64)
            picture = Image.fromarray(np.uint8(np.clip(np.round(deep / 257.0), 0, 255)))
        factor = -(-max(picture.size) // LONGEST_SIDE)
        if factor > 1:
            if picture.mode in ("P", "1", "PA"):
                picture = picture.convert("RGBA")
            picture = picture.reduce(factor)
        return np.asarray(_in_srgb(picture).convert("RGBA"))
    except (
        OSError,
        ValueError,
        SyntaxError,
        EOFError,
        OverflowError,
        TypeError,
        IndexError,
        KeyError,
        ZeroDivisionError,
        MemoryError,
        Image.DecompressionBombError,
    ) as error:
        raise PictureProblem("its data is damaged") from error


class Pictures:
    """A document's pictures by name, decoded when first asked for and kept while there is room."""

    def __init__(self, load: Callable[[str], bytes], most_bytes: int = CACHE_BYTES) -> None:
        self._load = load
        self._most_bytes = most_bytes
        self._bytes = 0
        self._kept: OrderedDict[str, skia.Image | PictureProblem] = OrderedDict()

    def get(self, name: str) -> skia.Image:
        """Give a picture ready to be drawn; raises PictureProblem, each time alike."""
        if name not in self._kept:
            self._keep(name)
        self._kept.move_to_end(name)
        found = self._kept[name]
        if isinstance(found, PictureProblem):
            raise found
        return found

    def _keep(self, name: str) -> None:
        try:
            pixels = decode(self._load(name))
        except PictureProblem as problem:
            self._kept[name] = problem
            return
        self._kept[name] = skia.Image.fromarray(
            np.ascontiguousarray(pixels), skia.kRGBA_8888_ColorType, skia.kUnpremul_AlphaType
        )
        self._bytes += pixels.nbytes
        while self._bytes > self._most_bytes and len(self._kept) > 1:
            _, oldest = self._kept.popitem(last=False)
            if isinstance(oldest, skia.Image):
                self._bytes -= oldest.width() * oldest.height() * 4
