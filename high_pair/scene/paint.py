"""Colours with opacity, and what lines and fills are painted with."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Colour:
    """A gamma-encoded sRGB colour; channels and opacity from 0 to 1."""

    red: float
    green: float
    blue: float
    opacity: float = 1.0

    @property
    def rgb(self) -> tuple[float, float, float]:
        """The three channels."""
        return self.red, self.green, self.blue

    @property
    def levels(self) -> tuple[int, int, int]:
        """The three channels rounded to 8 bits."""
        red, green, blue = (int(min(1.0, max(0.0, value)) * 255 + 0.5) for value in self.rgb)
        return red, green, blue

    def with_opacity(self, opacity: float) -> Colour:
        """Give the same colour at another opacity."""
        return Colour(self.red, self.green, self.blue, opacity)


BLACK = Colour(0.0, 0.0, 0.0)
WHITE = Colour(1.0, 1.0, 1.0)


def from_levels(levels: tuple[int, int, int], opacity: float = 1.0) -> Colour:
    """Give the colour of 8-bit channels."""
    red, green, blue = levels
    return Colour(red / 255, green / 255, blue / 255, opacity)


@dataclass(frozen=True)
class Stroke:
    """A line's colour and its width in points."""

    colour: Colour
    width: float
