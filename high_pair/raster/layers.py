"""A page in two layers, so that something can be moved between them without painting anew."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import skia
from PIL import Image

from high_pair.colour.srgb import Bytes
from high_pair.raster.painting import paint_all, with_obstacles_for_lost_pictures
from high_pair.raster.pictures import Pictures
from high_pair.raster.shading import matrix_of
from high_pair.scene.geometry import scaled
from high_pair.scene.page import Scene
from high_pair.scene.painted import FULL, Painting


@dataclass(frozen=True)
class Layers:
    """below: uint8 (h, w, 4), opaque; above: (h, w, 4), opacity multiplied in."""

    below: Bytes
    above: Bytes


def paint_layers(scene: Scene, pictures: Pictures, width: int, split: int) -> Layers:
    """Paint a page, `width` pixels wide, below and above a place among its items."""
    height = max(1, round(width * scene.height / max(scene.width, 1e-6)))
    if scene.painting is not None:
        return _of_painting(scene.painting, width, height)
    scene = with_obstacles_for_lost_pictures(scene, pictures)
    found = []
    for items, paper in (
        (scene.items[:split], skia.Color4f(*scene.paper.rgb, 1.0)),
        (scene.items[split:], skia.Color4f(0, 0, 0, 0)),
    ):
        info = skia.ImageInfo.Make(width, height, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
        surface = skia.Surface.MakeRaster(info)
        canvas = surface.getCanvas()
        canvas.clear(paper)
        across, down = width / max(scene.width, 1e-6), height / max(scene.height, 1e-6)
        canvas.concat(matrix_of(scaled(across, down)))
        paint_all(canvas, items, pictures)
        pixels = np.empty((height, width, 4), np.uint8)
        surface.readPixels(info, pixels, width * 4, 0, 0)
        found.append(pixels)
    return Layers(*found)


def _of_painting(painting: Painting, width: int, height: int) -> Layers:
    """Give the page without its text, and the text alone, of one that another program painted.

    What is seen is ink over the backdrop; so the ink's part, its share multiplied in, is what is
    seen less what of the backdrop shows through.
    """
    rows = painting.rows
    backdrop, seen = painting.backdrop[:rows], painting.seen[:rows]
    coverage = painting.coverage[:rows]
    share = np.minimum(coverage, FULL).astype(np.float32)[..., None] / FULL
    ink = np.clip(seen - (1 - share) * backdrop, 0, None)
    ink = np.minimum(np.where(share > 0, ink, 0), share * 255)
    above = (np.concatenate([ink, share * 255], axis=-1) + 0.5).astype(np.uint8)
    below = np.concatenate([backdrop, np.full((*backdrop.shape[:2], 1), 255, np.uint8)], axis=-1)
    return Layers(_sized(below, width, height), _sized(above, width, height))


def _sized(pixels: Bytes, width: int, height: int) -> Bytes:
    """Give premultiplied pixels in another size; each channel for itself, as that allows."""
    if pixels.shape[:2] == (height, width):
        return pixels
    how = Image.Resampling.BOX if pixels.shape[1] > width else Image.Resampling.BILINEAR
    channels = [
        np.asarray(Image.fromarray(pixels[..., channel]).resize((width, height), how))
        for channel in range(4)
    ]
    return np.stack(channels, axis=-1)
