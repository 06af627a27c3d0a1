"""Pictures that are made to do harm."""

from __future__ import annotations

import io
import struct
import zlib
from collections.abc import Callable, Iterator

import numpy as np
from PIL import Image

Made = Callable[[], bytes]


def _png(mode: str, size: tuple[int, int], bits: int = 8) -> bytes:
    """Give a PNG that packs very well."""
    channels = {"L": 1, "RGB": 3, "RGBA": 4, "LA": 2}[mode]
    kind = {"L": 0, "RGB": 2, "RGBA": 6, "LA": 4}[mode]
    row = b"\0" + b"\x55" * (size[0] * channels * bits // 8)
    packer = zlib.compressobj(9)
    data = b"".join(packer.compress(row * 64) for _ in range(size[1] // 64)) + packer.flush()

    def chunk(name: bytes, content: bytes) -> bytes:
        return (
            struct.pack(">I", len(content))
            + name
            + content
            + struct.pack(">I", zlib.crc32(name + content))
        )

    header = struct.pack(">IIBBBBB", *size, bits, kind, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", data) + chunk(b"IEND", b"")
    )


def _png_with(name: bytes, content: bytes) -> bytes:
    data = _png("RGB", (640, 640))
    part = (
        struct.pack(">I", len(content))
        + name
        + content
        + struct.pack(">I", zlib.crc32(name + content))
    )
    return data[:33] + part + data[33:]


def _saved(form: str, size: tuple[int, int], mode: str = "RGB", **options: object) -> Made:
    def make() -> bytes:
        out = io.BytesIO()
        Image.new(mode, size, 120 if mode in ("L", "I;16", "I", "F") else None).save(
            out, form, **options
        )  # type: ignore[arg-type]
        return out.getvalue()

    return make


def _frames(form: str, count: int, size: tuple[int, int] = (20, 20)) -> Made:
    def make() -> bytes:
        rng = np.random.default_rng(1)
        frames = [Image.fromarray(rng.integers(0, 255, (*size, 3), np.uint8)) for _ in range(8)]
        out = io.BytesIO()
        more = [frames[n % 8] for n in range(count - 1)]
        frames[0].save(out, form, save_all=True, append_images=more)
        return out.getvalue()

    return make


def pictures() -> Iterator[tuple[str, str, Made]]:
    """List pictures, each with what is hostile in it, and its suffix."""
    large = (10_900, 10_944)
    yield "sixteen bits of grey at the limit", ".png", lambda: _png("L", large, 16)
    yield "sixteen bits of colour at the limit", ".png", lambda: _png("RGB", large, 16)
    yield "sixteen bits see-through at the limit", ".png", lambda: _png("RGBA", large, 16)
    yield "grey at the limit", ".png", lambda: _png("L", large)
    yield "colours at the limit", ".png", lambda: _png("RGB", large)
    yield "see-through at the limit", ".png", lambda: _png("RGBA", large)
    yield "far beyond the limit", ".png", lambda: _png("L", (60_032, 60_032))
    yield "one row of a hundred million", ".png", lambda: _png("L", (1_500_000, 64))
    yield "one column of a million", ".png", lambda: _png("L", (64, 1_500_032))
    yield (
        "a packed text of gigabytes",
        ".png",
        lambda: _png_with(b"zTXt", b"k\0\0" + zlib.compress(b"a" * 200_000_000, 9)),
    )
    yield (
        "a packed profile of gigabytes",
        ".png",
        lambda: _png_with(b"iCCP", b"k\0\0" + zlib.compress(b"a" * 200_000_000, 9)),
    )
    yield "webp at its largest", ".webp", _saved("WEBP", (10_000, 10_000), lossless=True, method=0)
    yield (
        "webp see-through at its largest",
        ".webp",
        _saved("WEBP", (10_000, 10_000), "RGBA", lossless=True, method=0),
    )
    yield "tiff at the limit", ".tif", _saved("TIFF", large, compression="tiff_adobe_deflate")
    yield (
        "tiff of sixteen bits at the limit",
        ".tif",
        _saved("TIFF", large, "I;16", compression="tiff_adobe_deflate"),
    )
    yield (
        "tiff of floats at the limit",
        ".tif",
        _saved("TIFF", large, "F", compression="tiff_adobe_deflate"),
    )
    yield (
        "tiff of cmyk at the limit",
        ".tif",
        _saved("TIFF", large, "CMYK", compression="tiff_adobe_deflate"),
    )
    yield "tiff in one strip packed by runs", ".tif", _saved("TIFF", large, compression="packbits")
    yield "tiff of nine hundred pages", ".tif", _frames("TIFF", 900)
    yield (
        "tiff of large pages",
        ".tif",
        _saved(
            "TIFF",
            (8_000, 8_000),
            compression="tiff_adobe_deflate",
            save_all=True,
            append_images=[Image.new("RGB", (8_000, 8_000))] * 20,
        ),
    )
    yield "gif of ten thousand frames", ".gif", _frames("GIF", 10_000)
    yield "gif at the limit", ".gif", _saved("GIF", large, "L")
    yield "jpeg at the limit", ".jpg", _saved("JPEG", large)
    yield "jpeg in steps at the limit", ".jpg", _saved("JPEG", large, progressive=True)
    yield "jpeg of cmyk at the limit", ".jpg", _saved("JPEG", large, "CMYK")
    yield "bmp at the limit", ".bmp", _saved("BMP", (7_000, 7_000), "L")
