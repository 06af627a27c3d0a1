"""Changes to a picture's colours, as data; `raster.effects` carries them out."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from high_pair.scene.paint import Colour


@dataclass(frozen=True)
class Greyscale:
    """Every pixel the grey of its luma."""


@dataclass(frozen=True)
class TwoLevels:
    """Black where the luma is below a threshold of 0 to 1, white elsewhere."""

    threshold: float


class Way(StrEnum):
    """How brightness and contrast are reckoned, for which the standards give no arithmetic."""

    OPENDOCUMENT = "opendocument"
    SLIDES = "slides"
    MIDDLE = "middle"


@dataclass(frozen=True)
class Luminance:
    """Brightness and contrast, each from -1 to 1; shift: added to red, green and blue; gamma."""

    brightness: float
    contrast: float
    way: Way = Way.SLIDES
    shift: tuple[float, float, float] = (0.0, 0.0, 0.0)
    gamma: float = 1.0


@dataclass(frozen=True)
class Duotone:
    """Two colours mixed by the luma: `dark` at 0, `light` at 1."""

    dark: Colour
    light: Colour


@dataclass(frozen=True)
class ColourChange:
    """One colour, exactly, becomes another, opacity included if `with_opacity`."""

    before: Colour
    after: Colour
    with_opacity: bool = True


@dataclass(frozen=True)
class OpacityChange:
    """A change to each pixel's opacity.

    kind: replace (to `amount`), ceiling (anything to 1), floor (anything less
    than 1 to 0), invert, two-level (1 from `amount` on, else 0).
    """

    kind: str
    amount: float = 1.0


@dataclass(frozen=True)
class OneColour:
    """Every pixel one colour, at its own opacity."""

    colour: Colour


@dataclass(frozen=True)
class HueChange:
    """Hue, saturation and lightness of HSL: the hue turned by `hue` (0 to 1), the others multiplied
    by 1 and their value."""

    hue: float
    saturation: float
    lightness: float


Effect = (
    Greyscale
    | TwoLevels
    | Luminance
    | Duotone
    | ColourChange
    | OpacityChange
    | OneColour
    | HueChange
)
