"""Bitmaps within metafiles ([MS-WMF] 2.2.2.9: a header, colours and rows, as in a BMP file)."""

from __future__ import annotations

import io
import struct

import numpy as np
import skia
from PIL import Image

from high_pair.raster.metafiles.device import Unpainted

MOST_PIXELS = 40_000_000
HEADER = 40


def bitmap(info: bytes, bits: bytes) -> skia.Image:
    """Give a bitmap from its header with its colours, and its rows. Raises Unpainted."""
    _, width, height = _size(info)
    if width * height > MOST_PIXELS:
        raise Unpainted("it has a bitmap of very many pixels")
    start = struct.pack("<2sIHHI", b"BM", 14 + len(info) + len(bits), 0, 0, 14 + len(info))
    try:
        picture = Image.open(io.BytesIO(start + info + bits), formats=("BMP",)).convert("RGBA")
    except (OSError, ValueError, SyntaxError, EOFError, OverflowError, struct.error) as error:
        raise Unpainted("it has a bitmap that is damaged") from error
    return _as_skia(np.asarray(picture), skia.kUnpremul_AlphaType)


def see_through(info: bytes, bits: bytes) -> skia.Image:
    """Give a bitmap of 32 bits whose fourth channel is its opacity, multiplied in."""
    count, width, height = _size(info)
    if count != 32 or width * height > MOST_PIXELS or len(bits) < width * height * 4:
        raise Unpainted("it has a see-through bitmap of an unusual kind")
    rows = np.frombuffer(bits[: width * height * 4], np.uint8).reshape(height, width, 4)
    upright = rows[::-1] if struct.unpack_from("<i", info, 8)[0] > 0 else rows
    return _as_skia(upright[..., [2, 1, 0, 3]], skia.kPremul_AlphaType)


def _size(info: bytes) -> tuple[int, int, int]:
    """Give a header's bits a pixel, and its width and height."""
    if len(info) < HEADER or struct.unpack_from("<I", info)[0] < HEADER:
        raise Unpainted("it has a bitmap of an old kind")
    width, height = struct.unpack_from("<ii", info, 4)
    if width <= 0 or height == 0:
        raise Unpainted("it has a bitmap that is damaged")
    return struct.unpack_from("<H", info, 14)[0], width, abs(height)


def header_length(data: bytes, start: int) -> int:
    """Give how long a bitmap's header with its colours is, in bytes."""
    if len(data) < start + HEADER:
        raise Unpainted("it has a bitmap that is damaged")
    size, count = (
        struct.unpack_from("<I", data, start)[0],
        struct.unpack_from("<H", data, start + 14)[0],
    )
    compression, used = (
        struct.unpack_from("<I", data, start + 16)[0],
        struct.unpack_from("<I", data, start + 32)[0],
    )
    colours = (used or 1 << count) if count <= 8 else 0
    masks = 12 if compression == 3 and size == HEADER else 0
    return int(size + masks + 4 * min(colours, 256))


def _as_skia(pixels: np.ndarray, alpha: skia.AlphaType) -> skia.Image:
    return skia.Image.fromarray(
        np.ascontiguousarray(pixels), skia.kRGBA_8888_ColorType, alpha, copy=True
    )
