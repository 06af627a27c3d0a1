"""A page in two layers, so that something can be moved between them without painting anew."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import skia

from high_pair.colour.srgb import Bytes
from high_pair.raster.painting import paint_all, with_obstacles_for_lost_pictures
from high_pair.raster.pictures import Pictures
from high_pair.raster.shading import matrix_of
from high_pair.scene.geometry import scaled
from high_pair.scene.page import Scene


@dataclass(frozen=True)
class Layers:
    """below: uint8 (h, w, 4), opaque; above: (h, w, 4), opacity multiplied in."""

    below: Bytes
    above: Bytes


def paint_layers(scene: Scene, pictures: Pictures, width: int, split: int) -> Layers:
    """Paint a page, `width` pixels wide, below and above a place among its items."""
    scene = with_obstacles_for_lost_pictures(scene, pictures)
    height = max(1, round(width * scene.height / max(scene.width, 1e-6)))
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
