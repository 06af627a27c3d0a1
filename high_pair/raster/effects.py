"""Carrying out a picture's colour effects (ECMA-376 Part 1 §20.1.8).

All work on gamma-encoded RGBA. The standard says "luminance" without a formula;
luma is taken as that of ITU-R BT.601.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from high_pair.scene.effects import (
    ColourChange,
    Duotone,
    Effect,
    Greyscale,
    HueChange,
    Luminance,
    OneColour,
    OpacityChange,
    TwoLevels,
    Way,
)

Floats = NDArray[np.float32]
LUMA = np.array([0.299, 0.587, 0.114], np.float32)


def luma(rgb: Floats) -> Floats:
    """Give the luma (h, w) of gamma-encoded RGB of 0 to 1."""
    return np.asarray(rgb @ LUMA)


# Levels of the arithmetic that other programs have: the middle, and what full contrast reaches.
MIDDLE, REACH = 128.0, 127.0
# What is asked of a picture that is to lie pale behind text, and what programs then do.
PALE, AS_PALE = (0.7, -0.7), (0.5, -0.7)


def luminance_curve(values: Floats, effect: Luminance) -> Floats:
    """Change brightness and contrast of gamma-encoded values of 0 to 1, (h, w, 3).

    The standards state no arithmetic. That of OpenDocument and of slides is fitted to neutral ramps
    as another program prints them, within half a level (see `docs/measuring.md`): a gain about the
    middle, to which brightness is added, in slides half of it before the gain. The third way is a
    guess of what still others do: full brightness shifts by half the range.
    """
    brightness, contrast, way = effect.brightness, effect.contrast, effect.way
    if way is Way.MIDDLE:
        gain = 1 + contrast if contrast <= 0 else 1 / max(1e-3, 1 - contrast)
        changed = (values - 0.5) * gain + 0.5 + brightness / 2
    else:
        if way is Way.SLIDES and (brightness, contrast) == PALE:
            (brightness, contrast), way = AS_PALE, Way.OPENDOCUMENT
        lowered = (MIDDLE + REACH * contrast) / MIDDLE
        gain = lowered if contrast < 0 else MIDDLE / (MIDDLE - REACH * contrast)
        before = brightness / 2 if way is Way.SLIDES else 0.0
        middle = MIDDLE / 255
        changed = (values + before - middle) * gain + middle + brightness - before
    changed = np.clip(changed + np.array(effect.shift, np.float32), 0, 1)
    return np.asarray(changed ** (1 / max(0.01, effect.gamma)), np.float32)


def _changed_opacity(alpha: Floats, change: OpacityChange) -> Floats:
    if change.kind == "replace":
        return np.full_like(alpha, change.amount)
    if change.kind == "ceiling":
        return np.asarray(alpha > 0, np.float32)
    if change.kind == "floor":
        return np.asarray(alpha >= 1, np.float32)
    if change.kind == "invert":
        return np.asarray(1 - alpha)
    return np.asarray(alpha >= change.amount, np.float32)


def _apply(pixels: Floats, effect: Effect) -> Floats:
    rgb, alpha = pixels[..., :3], pixels[..., 3]
    if isinstance(effect, OpacityChange):
        return np.dstack([rgb, _changed_opacity(alpha, effect)])
    if isinstance(effect, ColourChange):
        levels = np.rint(rgb * 255)
        hit = (levels == np.array(effect.before.levels, np.float32)).all(axis=-1)
        after = effect.after
        opacity = after.opacity if effect.with_opacity else 1.0
        changed = pixels.copy()
        changed[hit, :3] = np.array(after.rgb, np.float32)
        changed[hit, 3] *= opacity
        return changed
    if isinstance(effect, Greyscale):
        rgb = np.repeat(luma(rgb)[..., None], 3, axis=-1)
    elif isinstance(effect, TwoLevels):
        rgb = np.repeat((luma(rgb) >= effect.threshold)[..., None], 3, axis=-1).astype(np.float32)
    elif isinstance(effect, Luminance):
        rgb = luminance_curve(rgb, effect)
    elif isinstance(effect, OneColour):
        rgb = np.broadcast_to(np.array(effect.colour.rgb, np.float32), rgb.shape)
        alpha = alpha * np.float32(effect.colour.opacity)
    elif isinstance(effect, HueChange):
        rgb = _with_hue(rgb, effect)
    elif isinstance(effect, Duotone):
        share = luma(rgb)[..., None]
        dark = np.array(effect.dark.rgb, np.float32)
        light = np.array(effect.light.rgb, np.float32)
        rgb = dark * (1 - share) + light * share
    return np.dstack([rgb, alpha])


def _with_hue(rgb: Floats, effect: HueChange) -> Floats:
    """Turn the hue of gamma-encoded RGB, and scale its HSL saturation and lightness."""
    high, low = rgb.max(axis=-1), rgb.min(axis=-1)
    span, lightness = high - low, (high + low) / 2
    room = 1 - np.abs(2 * lightness - 1)
    saturation = np.divide(span, room, out=np.zeros_like(span), where=room > 1e-6)
    red, green, blue = np.moveaxis(rgb, -1, 0)
    safe = np.where(span > 1e-6, span, 1.0)
    sector = np.select(
        [span <= 1e-6, high == red, high == green],
        [np.zeros_like(span), (green - blue) / safe % 6, (blue - red) / safe + 2],
        (red - green) / safe + 4,
    )
    hue = (sector / 6 + effect.hue) % 1.0
    saturation = np.clip(saturation * (1 + effect.saturation), 0, 1)
    lightness = np.clip(lightness * (1 + effect.lightness), 0, 1)
    chroma = (1 - np.abs(2 * lightness - 1)) * saturation
    channels = []
    for shift in (0.0, 8.0, 4.0):
        place = (shift + hue * 12) % 12
        step = np.maximum(-1, np.minimum(np.minimum(place - 3, 9 - place), 1))
        channels.append(lightness - chroma / 2 * step)
    return np.asarray(np.stack(channels, axis=-1), np.float32)


def with_effects(picture: Image.Image, effects: Sequence[Effect]) -> Image.Image:
    """Give an RGB or RGBA picture with effects carried out in order, as RGBA."""
    pixels: Floats = np.asarray(picture.convert("RGBA"), np.float32) / np.float32(255)
    for effect in effects:
        pixels = _apply(pixels, effect)
    return Image.fromarray(np.asarray(np.clip(pixels * 255 + 0.5, 0, 255), np.uint8))
