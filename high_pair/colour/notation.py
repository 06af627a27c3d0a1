"""Reading and writing colours as people write them.

coloraide does the CSS notations. Device CMYK has no colour of its own without
a profile: it is read and written by the naive conversion of CSS Color 5 §10,
and `Read.naive` says so.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from coloraide import Color

from high_pair.colour.srgb import from_bytes, hex_of, to_bytes
from high_pair.errors import NotationError

# Gamut mapping that keeps hue and lightness, as `gamut` does for arrays.
FIT = "oklch-chroma"
NOTATIONS = ("hex", "rgb", "hsl", "hwb", "lab", "lch", "oklab", "oklch", "color", "cmyk")
LONGEST = 200

_BARE_HEX = re.compile(r"(?:[0-9a-fA-F]{3,4}|[0-9a-fA-F]{6}|[0-9a-fA-F]{8})\Z")
_NUMBER = r"([0-9]+(?:\.[0-9]*)?|\.[0-9]+)"
_PRINTER_CMYK = re.compile(
    rf"C\s*{_NUMBER}%?[\s,/]*M\s*{_NUMBER}%?[\s,/]*Y\s*{_NUMBER}%?[\s,/]*K\s*{_NUMBER}%?\Z", re.I
)
_CSS_CMYK = re.compile(
    rf"(?:device-)?cmyk\(\s*{_NUMBER}(%?)[\s,]+{_NUMBER}(%?)[\s,]+{_NUMBER}(%?)[\s,]+{_NUMBER}(%?)"
    rf"\s*(?:/\s*{_NUMBER}(%?)\s*)?\)\Z",
    re.I,
)


@dataclass(frozen=True)
class Read:
    """A colour as read from text.

    rgb: 8-bit sRGB; opacity: 0 to 1; mapped: the colour lay outside sRGB and
    its chroma was brought in; naive: it was device CMYK, converted without a
    profile.
    """

    rgb: tuple[int, int, int]
    opacity: float = 1.0
    mapped: bool = False
    naive: bool = False


def read(text: str) -> Read:
    """Read a colour from any notation: hex, CSS functions and names, or CMYK as printers write it.

    Blanks around it, and a hash sign left off, are forgiven. Raises
    NotationError, with an example of what would do.
    """
    trimmed = text.strip().rstrip(";").strip()
    cmyk = None if len(trimmed) > LONGEST else _read_cmyk(trimmed)
    if cmyk is not None:
        return cmyk
    candidate = "#" + trimmed if _BARE_HEX.match(trimmed) else trimmed
    try:
        if not candidate or len(candidate) > LONGEST:
            raise ValueError("no colour")
        colour = Color(candidate)
    except (ValueError, TypeError, AttributeError, OverflowError) as error:
        shown = trimmed if len(trimmed) <= 40 else trimmed[:40] + "…"
        raise NotationError(
            f"{shown!r} is not a colour: write it like #1B4F72, rgb(27 79 114), "
            "oklch(41% 0.08 240), C76 M31 Y0 K55 or navy"
        ) from error
    in_srgb = colour.convert("srgb")
    mapped = not in_srgb.in_gamut(tolerance=0.001)
    if mapped:
        in_srgb = in_srgb.fit(method=FIT)
    channels = to_bytes([0.0 if value != value else value for value in in_srgb.coords()])
    opacity = in_srgb.alpha()
    return Read(
        (int(channels[0]), int(channels[1]), int(channels[2])),
        1.0 if opacity != opacity else float(min(1.0, max(0.0, opacity))),
        mapped=mapped,
    )


def _read_cmyk(text: str) -> Read | None:
    """Read device CMYK, or give None when the text is something else."""
    printed = _PRINTER_CMYK.match(text)
    opacity = 1.0
    if printed:
        inks = [float(value) / 100 for value in printed.groups()]
    else:
        styled = _CSS_CMYK.match(text)
        if not styled:
            return None
        parts = styled.groups()
        inks = [float(parts[i]) / (100 if parts[i + 1] else 1) for i in range(0, 8, 2)]
        if parts[8] is not None:
            opacity = min(1.0, float(parts[8]) / (100 if parts[9] else 1))
    if max(inks) > 1:
        raise NotationError(f"{text!r} has more than 100% of an ink: write it like C76 M31 Y0 K55")
    cyan, magenta, yellow, black = inks
    # CSS Color 5 §10: red = 1 - min(1, c (1 - k) + k), and so on.
    rgb = to_bytes([(1 - ink) * (1 - black) for ink in (cyan, magenta, yellow)])
    return Read((int(rgb[0]), int(rgb[1]), int(rgb[2])), opacity, naive=True)


def write(rgb: tuple[int, int, int], notation: str, opacity: float = 1.0) -> str:
    """Write an 8-bit colour in one of NOTATIONS.

    CMYK is the naive conversion with as much black as there can be. Raises
    ValueError for a notation that isn't listed.
    """
    red, green, blue = (float(value) for value in from_bytes(rgb))
    if notation == "hex":
        tail = "" if opacity >= 1 else f"{int(opacity * 255 + 0.5):02X}"
        return hex_of(rgb) + tail
    if notation == "cmyk":
        black = 1 - max(red, green, blue)
        light = 1 - black
        inks = [0.0 if light == 0 else (light - value) / light for value in (red, green, blue)]
        cyan, magenta, yellow, key = (round(100 * abs(ink)) for ink in (*inks, black))
        return f"C{cyan} M{magenta} Y{yellow} K{key}"
    colour = Color("srgb", [red, green, blue], min(1.0, opacity))
    if notation == "rgb":
        tail = "" if opacity >= 1 else f" / {opacity * 100:.4g}%"
        return f"rgb({rgb[0]} {rgb[1]} {rgb[2]}{tail})"
    if notation == "color":
        return str(colour.to_string(color=True, precision=5))
    if notation in NOTATIONS:
        lightness_in_percent = [notation in ("oklab", "oklch"), False, False]
        converted = colour.convert(notation)
        return str(converted.to_string(precision=4, percent=lightness_in_percent, none=False))
    raise ValueError(f"no such notation: {notation}")
