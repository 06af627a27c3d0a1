"""The colour transforms of DrawingML, carried out in the order in which they are written.

Each works on a `Mixing`, a colour in linear light with opacity: `tint`,
`shade`, `gamma`, `inv` and the channel transforms in linear light; `lum*`,
`sat*`, `hue*` and `comp` on the HSL of the gamma-encoded values.
Source: ECMA-376 Part 1 §20.1.2.3, each transform's own clause beside it.
"""

from __future__ import annotations

import colorsys
from collections.abc import Callable
from dataclasses import dataclass, replace

from high_pair.colour.srgb import LUMINANCE_WEIGHTS, decode, encode

Triple = tuple[float, float, float]


@dataclass(frozen=True)
class Mixing:
    """A colour under transformation: linear light channels and opacity, 0 to 1."""

    linear: Triple
    opacity: float = 1.0


def _clip(value: float) -> float:
    return min(1.0, max(0.0, value))


def encoded_of(linear: Triple) -> Triple:
    """Give gamma-encoded channels, clipped to 0 to 1."""
    red, green, blue = (float(_clip(value)) for value in encode(linear))
    return red, green, blue


def linear_of(encoded: Triple) -> Triple:
    """Give linear light channels."""
    red, green, blue = (float(value) for value in decode(encoded))
    return red, green, blue


def _with_hsl(mixing: Mixing, change: Callable[[Triple], Triple]) -> Mixing:
    """Change hue (in turns), saturation and lightness of the gamma-encoded values."""
    hue, lightness, saturation = colorsys.rgb_to_hls(*encoded_of(mixing.linear))
    hue, saturation, lightness = change((hue, saturation, lightness))
    rgb = colorsys.hls_to_rgb(hue % 1.0, _clip(lightness), _clip(saturation))
    return replace(mixing, linear=linear_of(rgb))


def _set(place: int, value: float) -> Callable[[Triple], Triple]:
    def change(parts: Triple) -> Triple:
        changed = list(parts)
        changed[place] = value
        return changed[0], changed[1], changed[2]

    return change


def _scale(place: int, factor: float) -> Callable[[Triple], Triple]:
    return lambda parts: _set(place, parts[place] * factor)(parts)


def _shift(place: int, by: float) -> Callable[[Triple], Triple]:
    return lambda parts: _set(place, parts[place] + by)(parts)


def _on_linear(mixing: Mixing, change: Callable[[Triple], Triple]) -> Mixing:
    red, green, blue = change(mixing.linear)
    return replace(mixing, linear=(_clip(red), _clip(green), _clip(blue)))


def _grey(mixing: Mixing) -> Mixing:
    """§20.1.2.3.9: the grey of the same luminance."""
    luminance = float(sum(w * v for w, v in zip(LUMINANCE_WEIGHTS, mixing.linear, strict=True)))
    return replace(mixing, linear=(luminance, luminance, luminance))


# What one transform does with its value: a share of 1, or turns for a hue.
Transform = Callable[[Mixing, float], Mixing]

TRANSFORMS: dict[str, Transform] = {
    # §20.1.2.3.1 to .3
    "alpha": lambda m, v: replace(m, opacity=_clip(v)),
    "alphaMod": lambda m, v: replace(m, opacity=_clip(m.opacity * v)),
    "alphaOff": lambda m, v: replace(m, opacity=_clip(m.opacity + v)),
    # §20.1.2.3.14 to .16 (hue), .26 to .28 (saturation), .19 to .21 (luminance)
    "hue": lambda m, v: _with_hsl(m, _set(0, v)),
    "hueMod": lambda m, v: _with_hsl(m, _scale(0, v)),
    "hueOff": lambda m, v: _with_hsl(m, _shift(0, v)),
    "sat": lambda m, v: _with_hsl(m, _set(1, v)),
    "satMod": lambda m, v: _with_hsl(m, _scale(1, v)),
    "satOff": lambda m, v: _with_hsl(m, _shift(1, v)),
    "lum": lambda m, v: _with_hsl(m, _set(2, v)),
    "lumMod": lambda m, v: _with_hsl(m, _scale(2, v)),
    "lumOff": lambda m, v: _with_hsl(m, _shift(2, v)),
    # §20.1.2.3.23 to .25, .10 to .12, .4 to .6: one channel, in linear light
    "red": lambda m, v: _on_linear(m, _set(0, v)),
    "redMod": lambda m, v: _on_linear(m, _scale(0, v)),
    "redOff": lambda m, v: _on_linear(m, _shift(0, v)),
    "green": lambda m, v: _on_linear(m, _set(1, v)),
    "greenMod": lambda m, v: _on_linear(m, _scale(1, v)),
    "greenOff": lambda m, v: _on_linear(m, _shift(1, v)),
    "blue": lambda m, v: _on_linear(m, _set(2, v)),
    "blueMod": lambda m, v: _on_linear(m, _scale(2, v)),
    "blueOff": lambda m, v: _on_linear(m, _shift(2, v)),
    # §20.1.2.3.34 tint: so much of the colour, the rest white; .31 shade: the rest black
    "tint": lambda m, v: _on_linear(m, lambda c: (_tint(c[0], v), _tint(c[1], v), _tint(c[2], v))),
    "shade": lambda m, v: _on_linear(m, lambda c: (c[0] * v, c[1] * v, c[2] * v)),
    # §20.1.2.3.7 comp, .17 inv, .9 gray
    "comp": lambda m, _v: _with_hsl(m, _shift(0, 0.5)),
    "inv": lambda m, _v: _on_linear(m, lambda c: (1 - c[0], 1 - c[1], 1 - c[2])),
    "gray": lambda m, _v: _grey(m),
    # §20.1.2.3.8 gamma, .18 invGamma: the values taken through the sRGB curve once more
    "gamma": lambda m, _v: replace(m, linear=encoded_of(m.linear)),
    "invGamma": lambda m, _v: replace(m, linear=linear_of(m.linear)),
}
HUES = frozenset({"hue", "hueOff"})


def _tint(channel: float, keep: float) -> float:
    return channel * keep + 1 - keep
