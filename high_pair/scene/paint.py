"""Colours with opacity, gradients and patterns: what lines and fills are painted with."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

from high_pair.scene.geometry import Box


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
class Stop:
    """A gradient's colour at a place from 0 to 1."""

    place: float
    colour: Colour


@dataclass(frozen=True)
class LinearGradient:
    """Colours along the line from `start` to `end`, constant across it and beyond its ends.

    stops: rising; two at one place make a hard edge; interpolated in
    gamma-encoded values, opacity apart from colour. upright: the points are on
    the page, not in the figure's own coordinates, so that the gradient doesn't
    turn with it.
    """

    stops: tuple[Stop, ...]
    start: tuple[float, float]
    end: tuple[float, float]
    upright: bool = False


@dataclass(frozen=True)
class RoundGradient:
    """Colours in circles about a point: stop 0 at the centre, stop 1 at the radius and beyond.

    squash: how high the circles are in shares of their width; not 1 for ellipses.
    """

    stops: tuple[Stop, ...]
    centre: tuple[float, float]
    radius: float
    upright: bool = False
    squash: float = 1.0


@dataclass(frozen=True)
class NestedGradient:
    """Colours in nested rectangles: stop 0 in `focus`, stop 1 on the edges of `box`."""

    stops: tuple[Stop, ...]
    box: Box
    focus: Box
    upright: bool = False


@dataclass(frozen=True)
class Pattern:
    """Two colours in a repeated field of eight by eight cells.

    rows: eight bytes, the highest bit leftmost; a set bit has the foreground.
    A cell is a pixel at 96 dpi; the field begins at the page's corner.
    """

    rows: tuple[int, ...]
    foreground: Colour
    background: Colour


Gradient = LinearGradient | RoundGradient | NestedGradient
Fill = Colour | Gradient | Pattern


def colours_of(fill: Fill) -> tuple[Colour, ...]:
    """List the colours that a fill is made of."""
    if isinstance(fill, Colour):
        return (fill,)
    if isinstance(fill, Pattern):
        return (fill.foreground, fill.background)
    return tuple(stop.colour for stop in fill.stops)


def shades_of(fill: Fill, steps: int = 12) -> tuple[Colour, ...]:
    """List the colours that a fill shows, each once; of a gradient, so many between two stops."""
    own = colours_of(fill)
    found = list(own)
    if not isinstance(fill, Colour | Pattern):
        for one, other in itertools.pairwise(own):
            found += [mixed(one, other, step / steps) for step in range(1, steps)]
    return tuple(dict.fromkeys(found))


def mixed(one: Colour, other: Colour, share: float) -> Colour:
    """Give the colour so far on the way from one to another, in gamma-encoded values."""

    def between(first: float, second: float) -> float:
        return first + (second - first) * share

    return Colour(
        between(one.red, other.red),
        between(one.green, other.green),
        between(one.blue, other.blue),
        between(one.opacity, other.opacity),
    )


def is_opaque(fill: Fill) -> bool:
    """Tell whether nothing shows through a fill."""
    return all(colour.opacity >= 1 for colour in colours_of(fill))


@dataclass(frozen=True)
class Shadow:
    """A copy in one colour, shifted by points and blurred by a standard deviation in points."""

    colour: Colour
    across: float
    down: float
    blur: float


@dataclass(frozen=True)
class Stroke:
    """A line: what it is painted with, and its width in points.

    dashes: the lengths of dash and gap by turns, in widths of the line, an even
    number of them; none for an unbroken line. cap: flat, square or round; join:
    round, bevel or miter.
    """

    fill: Fill
    width: float
    dashes: tuple[float, ...] = ()
    cap: str = "flat"
    join: str = "miter"
