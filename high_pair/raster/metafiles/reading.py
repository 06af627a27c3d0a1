"""From a metafile's bytes to pixels."""

from __future__ import annotations

import struct

import numpy as np
import skia
from PIL import Image

from high_pair.raster.metafiles import emf, wmf
from high_pair.raster.metafiles.device import Device, Unpainted

# A picture drawn by commands is painted so many pixels long.
LONGEST_SIDE = 1600
LEAST_SIDE = 8
MOST_BYTES = 64 * 1024**2
# A WMF without a placeable header begins with its kind, the length of its header, and its version.
BARE = (b"\x01\x00\x09\x00\x00\x03", b"\x01\x00\x09\x00\x00\x01", b"\x02\x00\x09\x00\x00\x03")
# What reading damaged records may end in.
DAMAGE = (struct.error, ValueError, IndexError, OverflowError, TypeError, ZeroDivisionError)


def _is_emf(data: bytes) -> bool:
    return data[:4] == b"\x01\x00\x00\x00" and data[40:44] == emf.SIGNATURE


def is_metafile(data: bytes) -> bool:
    """Tell whether bytes are an EMF or a WMF."""
    return _is_emf(data) or data.startswith((wmf.PLACEABLE, *BARE))


def metafile_size(data: bytes) -> tuple[float, float]:
    """Give a metafile's own size in points. Raises Unpainted."""
    try:
        header = emf.header_of(data) if _is_emf(data) else wmf.header_of(data)
    except DAMAGE as error:
        raise Unpainted("its data is damaged") from error
    return header.points


def painted_metafile(data: bytes) -> Image.Image:
    """Paint a metafile as RGBA, see-through where it paints nothing. Raises Unpainted."""
    if len(data) > MOST_BYTES:
        raise Unpainted("it is larger than is read")
    width, height = metafile_size(data)
    scale = LONGEST_SIDE / max(width, height, 1e-6)
    size = max(LEAST_SIDE, round(width * scale)), max(LEAST_SIDE, round(height * scale))
    pixels = np.zeros((size[1], size[0], 4), np.uint8)
    info = skia.ImageInfo.Make(*size, skia.kRGBA_8888_ColorType, skia.kUnpremul_AlphaType)
    surface = skia.Surface.MakeRaster(info.makeAlphaType(skia.kPremul_AlphaType))
    try:
        if _is_emf(data):
            own = emf.header_of(data)
            base = _onto(own.left, own.top, own.width, own.height, size)
            emf.paint_emf(Device(surface.getCanvas(), base, own.dots), data)
        else:
            header = wmf.header_of(data)
            device = Device(surface.getCanvas(), skia.Matrix())
            whole = (0.0, 0.0, float(size[0]), float(size[1]))
            box = (header.left, header.top, header.width, header.height)
            device.set(window=box, viewport=whole)
            wmf.paint_wmf(device, data, header)
    except DAMAGE as error:
        raise Unpainted("its data is damaged") from error
    surface.readPixels(info, pixels, size[0] * 4, 0, 0)
    return Image.fromarray(pixels)


def _onto(
    left: float, top: float, width: float, height: float, size: tuple[int, int]
) -> skia.Matrix:
    """Give the map from a box to a raster of a size."""
    across, down = size[0] / width, size[1] / height
    return skia.Matrix.MakeAll(across, 0, -left * across, 0, down, -top * down, 0, 0, 1)
