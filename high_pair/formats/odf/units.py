"""Lengths, shares, angles and colours as ODF writes them (ODF 1.3 Part 3 §18)."""

from __future__ import annotations

import math
import re

from high_pair.colour.srgb import bytes_of, from_bytes
from high_pair.formats.xml import number
from high_pair.scene.paint import Colour

POINTS = {"pt": 1.0, "in": 72.0, "cm": 72 / 2.54, "mm": 72 / 25.4, "pc": 12.0, "px": 0.75, "": 1.0}
MOST_POINTS = 100_000.0
_LENGTH = re.compile(r"\s*([-+]?[0-9]*\.?[0-9]+)\s*(pt|in|cm|mm|pc|px|)\s*\Z")
_DEGREES = {"deg": 1.0, "grad": 0.9, "rad": 180 / math.pi}


def length(text: str | None, default: float = 0.0) -> float:
    """Read a length in points; what is none, or past all sense, gives the default."""
    match = _LENGTH.match(text) if text else None
    if match is None:
        return default
    value = number(match.group(1)) * POINTS[match.group(2)]
    return value if abs(value) <= MOST_POINTS else default


def written(points: float) -> str:
    """Write a length, to a thousandth of a point."""
    return f"{points:.3f}pt"


def percent(text: str | None, default: float = 0.0) -> float:
    """Read a percentage as a share of 1."""
    if text is None or not text.strip().endswith("%"):
        return default
    return number(text.strip()[:-1], default * 100) / 100


def degrees(text: str | None, bare_is_tenths: bool) -> float:
    """Read an angle; a bare number is tenths of a degree from old writers, degrees from new."""
    trimmed = (text or "0").strip()
    for unit, factor in _DEGREES.items():
        if trimmed.endswith(unit):
            return number(trimmed.removesuffix(unit)) * factor
    return number(trimmed) / (10 if bare_is_tenths else 1)


def colour(text: str | None, opacity: float = 1.0) -> Colour | None:
    """Read #rrggbb; None for anything else, such as `transparent`."""
    try:
        red, green, blue = from_bytes(bytes_of((text or "").strip()))
    except ValueError:
        return None
    return Colour(float(red), float(green), float(blue), min(1.0, max(0.0, opacity)))
