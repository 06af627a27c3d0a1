"""Fills as Skia's paints: colours, gradients, patterns, tiled pictures."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import skia
from numpy.typing import NDArray

from high_pair.scene.geometry import Affine, Box
from high_pair.scene.paint import (
    Colour,
    Fill,
    LinearGradient,
    NestedGradient,
    Pattern,
    RoundGradient,
    Stop,
)

# A pattern's cell in points: a pixel at 96 dpi.
CELL = 0.75
# The most pixels a side at which a nested gradient is worked out; between them it is linear.
NESTED_SIDE = 1024


def matrix_of(transform: Affine) -> skia.Matrix:
    """Give an affine map as Skia's matrix."""
    return skia.Matrix.MakeAll(
        transform.a, transform.c, transform.e, transform.b, transform.d, transform.f, 0, 0, 1
    )


def inverse_of(transform: Affine) -> skia.Matrix:
    """Give the way back; the identity for a map that flattens everything."""
    inverse = skia.Matrix()
    return inverse if matrix_of(transform).invert(inverse) else skia.Matrix()


def _colour(colour: Colour) -> skia.Color4f:
    return skia.Color4f(*colour.rgb, colour.opacity)


def stop_colours(stops: Sequence[Stop], places: NDArray[np.float64]) -> NDArray[np.float64]:
    """Give a gradient's colours, (…, 4) of 0 to 1, opacity not multiplied in, at places of 0 to 1.

    Of two stops at one place, the later holds from there on.
    """
    at = np.array([stop.place for stop in stops])
    values = np.array([(*stop.colour.rgb, stop.colour.opacity) for stop in stops])
    upper = np.clip(np.searchsorted(at, places, side="right"), 1, len(at) - 1)
    lower = upper - 1
    width = at[upper] - at[lower]
    share = np.where(width > 0, (places - at[lower]) / np.where(width > 0, width, 1), 1.0)
    share = np.clip(share, 0, 1)[..., None]
    return np.asarray(values[lower] * (1 - share) + values[upper] * share)


def nested_places(gradient: NestedGradient, width: int, height: int) -> NDArray[np.float64]:
    """Give the place (0 in the focus, 1 on the box's edges) of each pixel's centre, (h, w)."""
    box, focus = gradient.box, gradient.focus
    x = box.x + (np.arange(width) + 0.5) * box.width / width
    y = box.y + (np.arange(height) + 0.5) * box.height / height

    def along(
        value: NDArray[np.float64], low: float, high: float, start: float, end: float
    ) -> NDArray[np.float64]:
        before = (start - value) / max(start - low, 1e-9)
        after = (value - end) / max(high - end, 1e-9)
        return np.asarray(np.clip(np.maximum(before, after), 0, 1))

    across = along(x, box.x, box.right, focus.x, focus.right)
    down = along(y, box.y, box.bottom, focus.y, focus.bottom)
    return np.maximum(across[None, :], down[:, None])


def _image_shader(
    pixels: NDArray[np.uint8],
    modes: tuple[skia.TileMode, skia.TileMode],
    local: skia.Matrix,
    smooth: bool,
) -> skia.Shader:
    image = skia.Image.fromarray(
        np.ascontiguousarray(pixels), skia.kRGBA_8888_ColorType, skia.kUnpremul_AlphaType
    )
    mode = skia.FilterMode.kLinear if smooth else skia.FilterMode.kNearest
    return image.makeShader(modes[0], modes[1], skia.SamplingOptions(mode), local)


def _nested_shader(gradient: NestedGradient, scale: float) -> skia.Shader:
    box = gradient.box
    width = min(NESTED_SIDE, max(2, math.ceil(box.width * scale)))
    height = min(NESTED_SIDE, max(2, math.ceil(box.height * scale)))
    values = stop_colours(gradient.stops, nested_places(gradient, width, height))
    pixels = np.asarray(np.clip(values * 255 + 0.5, 0, 255), np.uint8)
    local = skia.Matrix.Translate(box.x, box.y)
    local.preScale(box.width / width, box.height / height)
    clamp = skia.TileMode.kClamp
    return _image_shader(pixels, (clamp, clamp), local, smooth=True)


def _pattern_shader(pattern: Pattern) -> skia.Shader:
    bits = np.unpackbits(np.array(pattern.rows, np.uint8)[:, None], axis=1).astype(bool)
    pixels = np.empty((8, 8, 4), np.uint8)
    for mask, colour in ((bits, pattern.foreground), (~bits, pattern.background)):
        pixels[mask] = (*colour.levels, round(colour.opacity * 255))
    local = skia.Matrix.Scale(CELL, CELL)
    repeat = skia.TileMode.kRepeat
    return _image_shader(pixels, (repeat, repeat), local, smooth=False)


def shader_of(fill: Fill, scale: float) -> skia.Shader | None:
    """Give a fill's shader; None for a plain colour. scale: pixels a point."""
    if isinstance(fill, LinearGradient):
        return skia.GradientShader.MakeLinear(
            points=[skia.Point(*fill.start), skia.Point(*fill.end)],
            colors=[_colour(stop.colour).toColor() for stop in fill.stops],
            positions=[stop.place for stop in fill.stops],
        )
    if isinstance(fill, RoundGradient):
        x, y = fill.centre
        # Circles round the origin, squashed and moved to their place.
        local = skia.Matrix.Translate(x, y)
        local.preScale(1.0, max(1e-6, fill.squash))
        return skia.GradientShader.MakeRadial(
            center=skia.Point(0.0, 0.0),
            radius=max(1e-6, fill.radius),
            colors=[_colour(stop.colour).toColor() for stop in fill.stops],
            positions=[stop.place for stop in fill.stops],
        ).makeWithLocalMatrix(local)
    if isinstance(fill, NestedGradient):
        return _nested_shader(fill, scale)
    if isinstance(fill, Pattern):
        return _pattern_shader(fill)
    return None


def fill_paint(fill: Fill, transform: Affine, scale: float) -> skia.Paint:
    """Give the paint of a figure's fill.

    transform: the figure's, which a pattern and an upright gradient don't follow.
    """
    paint = skia.Paint(AntiAlias=True)
    if isinstance(fill, Colour):
        paint.setColor4f(_colour(fill))
        return paint
    shader = shader_of(fill, scale)
    on_page = isinstance(fill, Pattern) or fill.upright
    if on_page and shader is not None:
        shader = shader.makeWithLocalMatrix(inverse_of(transform))
    paint.setShader(shader)
    return paint


def tile_origin(
    box: Box, size: tuple[float, float], align: tuple[float, float], offset: tuple[float, float]
) -> tuple[float, float]:
    """Give the corner of one copy of a tiled picture, from which all others follow."""
    return (
        box.x + (box.width - size[0]) * align[0] + offset[0],
        box.y + (box.height - size[1]) * align[1] + offset[1],
    )
