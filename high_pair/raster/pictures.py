"""Decoding pictures to pixels, once for each however often it is used."""

from __future__ import annotations

import io
import math
import time
import warnings
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, TypeVar

import numpy as np
import skia
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from high_pair.errors import HighPairError
from high_pair.raster.effects import with_effects
from high_pair.raster.metafiles import is_metafile, metafile_size, painted_metafile
from high_pair.raster.metafiles.device import Unpainted
from high_pair.raster.svg import is_svg, painted_svg, svg_size
from high_pair.scene.effects import Effect

FORMATS = ("PNG", "JPEG", "GIF", "BMP", "DIB", "TIFF", "WEBP")
MOST_PIXELS = 120_000_000
# What a picture may take when it is decoded; beside it there is room for one conversion.
MOST_BYTES = 360 * 1024 * 1024
# Bytes a pixel in memory, by Pillow's modes; all others have four.
BYTES_A_PIXEL = {"1": 1, "L": 1, "P": 1, "LA": 4, "I;16": 2, "I;16B": 2, "I;16L": 2}
# So many rows of sixteen bits are converted at a time.
BAND = 256
# A decoded picture keeps at most so many pixels a side: three times a page at 96 dpi.
LONGEST_SIDE = 4096
CACHE_BYTES = 256 * 1024 * 1024
# A drawing takes less than this as a rule; after so much more for all of a file no further ones are
# painted.
USUAL_SECONDS = 1.0
MOST_SECONDS = 30.0
PLAIN_RESOLUTION = 96.0
POINTS_AN_INCH = 72.0
# What decoding a damaged picture may end in.
DAMAGE = (
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
)
# EXIF 2.32, 4.6.4: the tag of a picture's orientation.
ORIENTATION = 0x0112
# The first of its values by which rows and columns are exchanged.
FIRST_ON_ITS_SIDE = 5

Kept = TypeVar("Kept")


class PictureProblem(HighPairError):
    """A picture can't be decoded; the message says why, without naming it."""


class GiantPicture(PictureProblem):
    """A picture has more pixels than High Pair will take on."""


@dataclass(frozen=True)
class Vector:
    """How a kind of pictures that are commands is painted; size: in points."""

    size: Callable[[bytes], tuple[float, float]]
    painted: Callable[[bytes], Image.Image]


def vector_of(data: bytes) -> Vector | None:
    """Tell how a picture that is a list of commands is painted; None for one of pixels."""
    if is_metafile(data):
        return Vector(metafile_size, painted_metafile)
    return Vector(svg_size, painted_svg) if is_svg(data) else None


def undecoded(data: bytes) -> Image.Image:
    """Open a picture's file without decoding it. Raises PictureProblem, GiantPicture."""
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
    _refuse_giant(picture)
    return picture


def _refuse_giant(picture: Image.Image) -> None:
    width, height = picture.size
    size = width * height * BYTES_A_PIXEL.get(picture.mode, 4)
    # A JPEG is decoded small where it is large: see `opened`.
    if width * height > MOST_PIXELS or (size > MOST_BYTES and picture.format != "JPEG"):
        raise GiantPicture(f"it is {width:,} × {height:,} pixels")


def picture_size(data: bytes) -> tuple[int, int]:
    """Read a picture's width and height in pixels from its header alone.

    Raises PictureProblem when that can't be, GiantPicture past MOST_PIXELS.
    """
    return undecoded(data).size


@dataclass(frozen=True)
class Frames:
    """What a picture's file holds.

    count: of its frames; moving: they are shown one after the other, and aren't
    pages; size: of the first in pixels, as it is shown; turned: it is stored
    otherwise than it is shown; dots: an inch, across, as the file states it, 0
    where it doesn't.
    """

    count: int
    moving: bool
    size: tuple[int, int]
    turned: bool
    dots: float


def frames_of(data: bytes) -> Frames:
    """Read from its header what a picture's file holds. Raises PictureProblem."""
    picture = undecoded(data)
    try:
        count = int(getattr(picture, "n_frames", 1))
        orientation = int(picture.getexif().get(ORIENTATION) or 1)
        dots = picture.info.get("dpi")
    except DAMAGE as error:
        raise PictureProblem("its data is damaged") from error
    width, height = picture.size
    turned = 2 <= orientation <= 8
    if turned and orientation >= FIRST_ON_ITS_SIDE:
        width, height = height, width
    stated = float(dots[0]) if isinstance(dots, tuple) else 0.0
    return Frames(count, picture.format != "TIFF", (width, height), turned, stated)


class FrameFile:
    """A picture's file of several frames, which are gone to from one another."""

    def __init__(self, data: bytes) -> None:
        """Open it. Raises PictureProblem."""
        # Opened anew for each, the way to the last of a thousand frames would be gone a thousand
        # times from the first.
        self._picture = undecoded(data)

    def size(self, number: int) -> tuple[int, int]:
        """Give a frame's width and height in pixels, as it is shown. Raises PictureProblem."""
        try:
            self._picture.seek(number)
            orientation = int(self._picture.getexif().get(ORIENTATION) or 1)
        except DAMAGE as error:
            raise PictureProblem("its data is damaged") from error
        width, height = self._picture.size
        return (height, width) if FIRST_ON_ITS_SIDE <= orientation <= 8 else (width, height)

    def alone(self, number: int) -> bytes:
        """Give one frame (from 0) as a file of its own, turned as it is shown.

        Raises PictureProblem.
        """
        return _alone(self._picture, number)


def _alone(picture: Image.Image, number: int) -> bytes:
    out = io.BytesIO()
    try:
        picture.seek(number)
        _refuse_giant(picture)
        shown = ImageOps.exif_transpose(picture)
        profile = picture.info.get("icc_profile")
        shown.save(out, "TIFF", **({"icc_profile": profile} if profile else {}))
    except DAMAGE as error:
        raise PictureProblem("its data is damaged") from error
    return out.getvalue()


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


def _eight_bits(picture: Image.Image) -> Image.Image:
    """Bring a picture of sixteen bits to eight, some rows at a time."""
    width, height = picture.size
    found = np.empty((height, width), np.uint8)
    for top in range(0, height, BAND):
        bottom = min(height, top + BAND)
        deep = np.asarray(picture.crop((0, top, width, bottom)), dtype=np.float64)
        found[top:bottom] = np.clip(np.round(deep / 257.0), 0, 255)
    return Image.fromarray(found)


def opened(data: bytes) -> Image.Image:
    """Decode a picture's first frame to RGB or RGBA in sRGB.

    At most LONGEST_SIDE a side (larger ones are averaged down). Raises
    PictureProblem.
    """
    vector = vector_of(data)
    if vector is not None:
        try:
            return vector.painted(data)
        except Unpainted as error:
            raise PictureProblem(str(error)) from error
    picture = undecoded(data)
    try:
        if picture.format == "JPEG":
            picture.draft(None, (LONGEST_SIDE, LONGEST_SIDE))
        picture.load()
        if picture.mode.startswith("I;16") or picture.mode == "I":
            # Sixteen bits to eight: Pillow would clip instead of scaling.
            picture = _eight_bits(picture)
        see_through = picture.has_transparency_data
        if picture.mode in ("P", "1", "PA"):
            picture = picture.convert("RGBA" if see_through else "RGB")
        factor = -(-max(picture.size) // LONGEST_SIDE)
        if factor > 1:
            picture = picture.reduce(factor)
        picture = _in_srgb(picture)
        mode = "RGBA" if see_through else "RGB"
        return picture if picture.mode == mode else picture.convert(mode)
    except DAMAGE as error:
        raise PictureProblem("its data is damaged") from error


def decode(data: bytes) -> np.ndarray:
    """Decode a picture's first frame to uint8 (height, width, 4), alpha not multiplied in.

    Raises PictureProblem.
    """
    return np.asarray(opened(data).convert("RGBA"))


def _as_skia(picture: Image.Image) -> skia.Image:
    """Give a decoded picture to Skia, in the order of channels that it draws fastest."""
    see_through = picture.mode == "RGBA"
    size = picture.width, picture.height
    alpha = skia.kUnpremul_AlphaType if see_through else skia.kOpaque_AlphaType
    # Some of Skia's ways look at the fourth channel of an opaque picture too. As a rule it holds
    # 255; in what Pillow has averaged down it holds nothing.
    raw = picture.tobytes("raw", "RGBA" if see_through else "RGBX")
    if not see_through and raw[3] != 255:
        raw = picture.convert("RGBA").tobytes()
    bitmap = skia.Bitmap()
    bitmap.allocPixels(skia.ImageInfo.Make(*size, skia.kBGRA_8888_ColorType, alpha))
    source = skia.Pixmap(
        skia.ImageInfo.Make(*size, skia.kRGBA_8888_ColorType, alpha), raw, picture.width * 4
    )
    source.readPixels(bitmap.pixmap())
    # Pixels that can't change any more are shared with the image, not copied.
    bitmap.setImmutable()
    return skia.Image.MakeFromBitmap(bitmap)


class Pictures:
    """A document's pictures by name, decoded when first asked for and kept while there is room."""

    def __init__(self, load: Callable[[str], bytes], most_bytes: int = CACHE_BYTES) -> None:
        self._load = load
        self._most_bytes = most_bytes
        self._decoded: _Shelf[Image.Image | PictureProblem] = _Shelf(most_bytes // 2)
        self._scaled: _Shelf[skia.Image] = _Shelf(most_bytes // 2)
        self._full_sizes: dict[str, tuple[int, int]] = {}
        self._resolutions: dict[str, tuple[float, float]] = {}
        # What each slow drawing has taken beyond what is usual.
        self._beyond: dict[str, float] = {}

    def decoded(self, name: str) -> Image.Image:
        """Give a decoded picture; raises PictureProblem, each time alike."""
        found = self._decoded.get(name)
        if found is None:
            began = time.monotonic()
            try:
                data = self._measured(name)
                late = name not in self._beyond and sum(self._beyond.values()) > MOST_SECONDS
                if late and vector_of(data) is not None:
                    raise PictureProblem("painting the drawings before it took too long")
                found = opened(data)
            except PictureProblem as problem:
                found = problem
            beyond = time.monotonic() - began - USUAL_SECONDS
            if beyond > 0:
                self._beyond[name] = beyond
            bands = len(found.getbands()) if isinstance(found, Image.Image) else 0
            width, height = found.size if isinstance(found, Image.Image) else (0, 0)
            self._decoded.put(name, found, width * height * bands)
        if isinstance(found, PictureProblem):
            raise found
        return found

    def get(
        self, name: str, width: float = 0.0, height: float = 0.0, effects: tuple[Effect, ...] = ()
    ) -> skia.Image:
        """Give a picture ready to be drawn at about a size in pixels (whole when zero).

        A picture drawn at half its size or less comes averaged over whole
        blocks of its pixels, so that none is passed over when it is drawn; it
        is at least as large as it will be drawn. Raises PictureProblem.
        """
        picture = self.decoded(name)
        factor = 1
        if width > 0 and height > 0:
            factor = max(1, int(min(picture.width / width, picture.height / height)))
        key = f"{factor} {name} {effects!r}" if effects else f"{factor} {name}"
        found = self._scaled.get(key)
        if found is None:
            if effects:
                # Before averaging, since some effects look for one exact colour.
                picture = with_effects(picture, effects)
            if factor > 1:
                picture = picture.reduce(factor)
            found = _as_skia(picture)
            self._scaled.put(key, found, picture.width * picture.height * 4)
        return found

    def size_in_points(self, name: str) -> tuple[float, float]:
        """Give a picture's own size: its pixels at its resolution, 96 dpi where it states none.

        Reads the header alone. Raises PictureProblem.
        """
        if name not in self._full_sizes:
            self._measured(name)
        full, dots = self._full_sizes[name], self._resolutions[name]
        return full[0] / dots[0] * 72.0, full[1] / dots[1] * 72.0

    def _measured(self, name: str) -> bytes:
        """Give a picture's bytes, and keep what its header says. Raises PictureProblem."""
        data = self._load(name)
        vector = vector_of(data)
        if vector is not None:
            try:
                width, height = vector.size(data)
            except Unpainted as error:
                raise PictureProblem(str(error)) from error
            self._full_sizes[name] = math.ceil(width), math.ceil(height)
            self._resolutions[name] = (POINTS_AN_INCH, POINTS_AN_INCH)
            return data
        header = undecoded(data)
        self._full_sizes[name] = header.size
        self._resolutions[name] = _resolution(header.info)
        return data


def _resolution(info: dict[str | tuple[int, int], object]) -> tuple[float, float]:
    """Give the resolution in dots an inch that a picture's header states, if it makes sense."""
    stated = info.get("dpi")
    if isinstance(stated, tuple) and len(stated) == 2:
        across, down = float(stated[0]), float(stated[1])
        if 10 <= across <= 5000 and 10 <= down <= 5000:
            return across, down
    return PLAIN_RESOLUTION, PLAIN_RESOLUTION


class _Shelf(Generic[Kept]):
    """Keeps things by name up to a number of bytes; what was asked for longest ago goes first."""

    def __init__(self, most_bytes: int) -> None:
        self._most_bytes = most_bytes
        self._bytes = 0
        self._kept: OrderedDict[str, tuple[Kept, int]] = OrderedDict()

    def __len__(self) -> int:
        return len(self._kept)

    def get(self, name: str) -> Kept | None:
        """Give a thing, or None."""
        entry = self._kept.get(name)
        if entry is None:
            return None
        self._kept.move_to_end(name)
        return entry[0]

    def put(self, name: str, thing: Kept, size: int) -> None:
        """Keep a thing of a size in bytes."""
        self._kept[name] = (thing, size)
        self._bytes += size
        while self._bytes > self._most_bytes and len(self._kept) > 1:
            _, (_, freed) = self._kept.popitem(last=False)
            self._bytes -= freed
