"""Adjusting colours by hand: what a slider leads to, and the nearest colours that pass."""

from __future__ import annotations

import functools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.compositing import over_bytes
from high_pair.colour.difference import ciede2000
from high_pair.colour.gamut import in_gamut, into_srgb
from high_pair.colour.oklab import oklab_of_oklch, oklch_of, srgb_of
from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import Bytes, Floats, relative_luminance, to_bytes
from high_pair.measure.by_hand import PAPER, HandPair
from high_pair.remedy.recolour import lightness_walk
from high_pair.scene.paint import Colour, from_levels

Levels = tuple[int, int, int]


class Channel(StrEnum):
    """What a slider changes."""

    LIGHTNESS = "lightness"
    CHROMA = "chroma"
    HUE = "hue"


# The highest value of each channel, and into how many steps its slider is cut.
HIGHEST = {Channel.LIGHTNESS: 1.0, Channel.CHROMA: 0.37, Channel.HUE: 360.0}
STEPS = {Channel.LIGHTNESS: 500, Channel.CHROMA: 370, Channel.HUE: 360}
_PLACE = {Channel.LIGHTNESS: 0, Channel.CHROMA: 1, Channel.HUE: 2}


@dataclass(frozen=True)
class Tone:
    """A colour as its sliders hold it: OKLCH, and the opacity.

    lightness: 0 to 1; chroma: wanted, which may be more than sRGB has there;
    hue: in degrees.
    """

    lightness: float
    chroma: float
    hue: float
    opacity: float = 1.0

    @property
    def oklch(self) -> Floats:
        """The three channels as an array."""
        return np.array([self.lightness, self.chroma, self.hue])

    @functools.cached_property
    def levels(self) -> Levels:
        """The 8-bit colour, its chroma brought into gamut."""
        red, green, blue = (int(level) for level in to_bytes(into_srgb(self.oklch)))
        return red, green, blue

    @property
    def is_inside(self) -> bool:
        """Whether sRGB has the colour as wanted."""
        return bool(in_gamut(srgb_of(oklab_of_oklch(self.oklch))))

    def value(self, channel: Channel) -> float:
        """Give one channel."""
        return float(self.oklch[_PLACE[channel]])

    def with_value(self, channel: Channel, value: float) -> Tone:
        """Give the tone with one channel changed."""
        return replace(self, **{channel.value: value})


def tone_of(levels: Levels, opacity: float = 1.0) -> Tone:
    """Give the tone of an 8-bit colour."""
    lightness, chroma, hue = (float(value) for value in oklch_of(np.array(levels) / 255.0))
    return Tone(lightness, chroma, hue, opacity)


@dataclass(frozen=True)
class Steps:
    """What a slider's steps lead to.

    colours: uint8 (n, 3); inside: (n,), whether sRGB has each as wanted.
    """

    channel: Channel
    colours: Bytes
    inside: NDArray[np.bool_]


def stretches(mask: NDArray[np.bool_]) -> list[tuple[float, float]]:
    """Give the stretches of a track where something holds, as shares, each from step to step."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], mask.astype(np.int8), [0]])))
    last = len(mask) - 1
    starts, ends = edges[::2], edges[1::2] - 1
    return [(float(a) / last, float(b) / last) for a, b in zip(starts, ends, strict=True)]


def value_at(channel: Channel, step: int) -> float:
    """Give the value of a slider's step."""
    return HIGHEST[channel] * step / STEPS[channel]


def step_of(channel: Channel, value: float) -> int:
    """Give the slider's step nearest to a value."""
    return round(min(1.0, max(0.0, value / HIGHEST[channel])) * STEPS[channel])


def steps_of(tone: Tone, channel: Channel) -> Steps:
    """Work out where a slider leads; depends on the tone's two other channels alone."""
    path = np.repeat(tone.oklch[None, :], STEPS[channel] + 1, axis=0)
    path[:, _PLACE[channel]] = np.linspace(0.0, HIGHEST[channel], STEPS[channel] + 1)
    encoded = srgb_of(oklab_of_oklch(path))
    inside = in_gamut(encoded)
    if channel is Channel.CHROMA:
        # All that is outside is brought in to the same colour.
        outside = np.flatnonzero(~inside)
        if len(outside):
            encoded[outside] = into_srgb(path[outside[0]])
    else:
        encoded[~inside] = into_srgb(path[~inside])
    return Steps(channel, to_bytes(encoded), inside)


def ratios_with(colours: Bytes, opacity: float, other: Colour, is_text: bool) -> Floats:
    """Give the ratio of many colours with another, as foregrounds or as backdrops, (n,).

    colours: uint8 (n, 3), all of one opacity.
    """
    white = np.array(PAPER, np.uint8)
    their = np.array(other.levels, np.uint8)
    if is_text:
        behind = over_bytes(their, other.opacity, white)
        return contrast_ratio(over_bytes(colours, opacity, behind), behind)
    behind = over_bytes(colours, opacity, white)
    return contrast_ratio(over_bytes(their, other.opacity, behind), behind)


# The nearest pass


def _as_levels(colour: Bytes) -> Levels:
    red, green, blue = (int(level) for level in colour)
    return red, green, blue


def _differences(colours: Bytes, levels: Levels) -> Floats:
    return np.asarray(ciede2000(colours / 255.0, np.array(levels) / 255.0))


def nearest_pass(
    one: Colour, asked: Sequence[tuple[Colour, float]], is_text: bool
) -> Colour | None:
    """Give the nearest colour of the same hue that passes with all others; None if none does.

    one: the text, if is_text, else the backdrop; asked: each other colour with
    the ratio that it must have with it. Its opacity stays; least ΔE00
    among the steps of its lightness.
    """
    own = np.array([one.levels], np.uint8)
    candidates = np.concatenate([own, lightness_walk(one.levels)])
    good = np.ones(len(candidates), bool)
    for other, required in asked:
        good &= ratios_with(candidates, one.opacity, other, is_text) >= required
    if not good.any():
        return None
    chosen = candidates[good]
    best = chosen[int(np.argmin(_differences(chosen, one.levels)))]
    return from_levels(_as_levels(best), one.opacity)


def _one_way(levels: Levels, lighter: bool) -> Bytes:
    """Give the colours of a hue from one on, itself first, towards white or towards black."""
    walk = lightness_walk(levels)
    own = relative_luminance(np.array(levels, np.uint8))
    luminances = relative_luminance(walk)
    start = np.array([levels], np.uint8)
    onward = walk[luminances > own] if lighter else walk[luminances < own][::-1]
    return np.concatenate([start, onward])


def _way(colours: Bytes, start: Levels) -> Floats:
    """Give how far each colour is from the first, never less than the one before it."""
    found = _differences(colours, start)
    found[0] = 0.0
    return np.asarray(np.maximum.accumulate(found))


def shared_pass(text: Colour, backdrop: Colour, required: float) -> tuple[Colour, Colour] | None:
    """Give the text and the backdrop that pass when both change by as much; None if none do.

    The lighter of the two gets lighter, the darker darker, each by the same ΔE00
    as far as it can, by the least that passes.
    """
    pair = HandPair(text, backdrop)
    text_is_lighter = relative_luminance(np.array(pair.seen, np.uint8)) >= relative_luminance(
        np.array(pair.behind, np.uint8)
    )
    texts = _one_way(text.levels, bool(text_is_lighter))
    backdrops = _one_way(backdrop.levels, not text_is_lighter)
    text_way = _way(texts, text.levels)
    backdrop_way = _way(backdrops, backdrop.levels)
    for way in np.unique(np.concatenate([text_way, backdrop_way])):
        one = _as_levels(texts[int(np.searchsorted(text_way, way, side="right")) - 1])
        other = _as_levels(backdrops[int(np.searchsorted(backdrop_way, way, side="right")) - 1])
        found = HandPair(from_levels(one, text.opacity), from_levels(other, backdrop.opacity))
        if found.ratio >= required:
            return found.foreground, found.backdrop
    return None
