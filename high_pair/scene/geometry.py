"""Boxes, affine transforms and outlines."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True)
class Box:
    """An upright rectangle in points."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """The x of the right edge."""
        return self.x + self.width

    @property
    def bottom(self) -> float:
        """The y of the lower edge."""
        return self.y + self.height

    @property
    def centre(self) -> tuple[float, float]:
        """The middle point."""
        return self.x + self.width / 2, self.y + self.height / 2

    def grown(self, by: float) -> Box:
        """Give the box with every edge moved outwards by so many points."""
        return Box(self.x - by, self.y - by, self.width + 2 * by, self.height + 2 * by)

    @property
    def area(self) -> float:
        """Its extent in square points."""
        return self.width * self.height

    def about(self, middle: tuple[float, float]) -> Box:
        """Give the box with another middle."""
        x, y = middle
        return Box(x - self.width / 2, y - self.height / 2, self.width, self.height)

    def holds(self, other: Box) -> bool:
        """Tell whether all of another lies within it."""
        return (
            self.x <= other.x
            and self.y <= other.y
            and other.right <= self.right
            and other.bottom <= self.bottom
        )

    def overlaps(self, other: Box) -> bool:
        """Tell whether the two have a point in common."""
        return (
            self.x <= other.right
            and other.x <= self.right
            and self.y <= other.bottom
            and other.y <= self.bottom
        )


@dataclass(frozen=True)
class Affine:
    """The map (x, y) → (a·x + c·y + e, b·x + d·y + f)."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def after(self, first: Affine) -> Affine:
        """Give the map that does `first` and then this one."""
        return Affine(
            self.a * first.a + self.c * first.b,
            self.b * first.a + self.d * first.b,
            self.a * first.c + self.c * first.d,
            self.b * first.c + self.d * first.d,
            self.a * first.e + self.c * first.f + self.e,
            self.b * first.e + self.d * first.f + self.f,
        )

    def apply(self, x: float, y: float) -> tuple[float, float]:
        """Map one point."""
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    def bounds(self, box: Box) -> Box:
        """Give the upright box round the image of a box."""
        return box_round(self.apply(x, y) for x in (box.x, box.right) for y in (box.y, box.bottom))


def box_round(points: Iterable[tuple[float, float]]) -> Box:
    """Give the upright box round points; at least one is needed."""
    xs, ys = zip(*points, strict=True)
    return Box(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys))


def box_round_boxes(boxes: Iterable[Box]) -> Box:
    """Give the upright box round boxes; at least one is needed."""
    corners = [(x, y) for box in boxes for x, y in ((box.x, box.y), (box.right, box.bottom))]
    return box_round(corners)


IDENTITY = Affine()


def moved(x: float, y: float) -> Affine:
    """Give the shift by (x, y)."""
    return Affine(e=x, f=y)


def scaled(x: float, y: float) -> Affine:
    """Give the scaling about the origin."""
    return Affine(a=x, d=y)


def turned(degrees: float, centre: tuple[float, float]) -> Affine:
    """Give the turn about a point, clockwise on the screen (y is down)."""
    angle = math.radians(degrees)
    cosine, sine = math.cos(angle), math.sin(angle)
    turn = Affine(cosine, sine, -sine, cosine)
    return moved(*centre).after(turn).after(moved(-centre[0], -centre[1]))


def flipped(horizontally: bool, vertically: bool, centre: tuple[float, float]) -> Affine:
    """Give the mirroring about a point."""
    mirror = scaled(-1.0 if horizontally else 1.0, -1.0 if vertically else 1.0)
    return moved(*centre).after(mirror).after(moved(-centre[0], -centre[1]))


@dataclass(frozen=True)
class Step:
    """One step of an outline: M moves, L draws a line, C a cubic curve, Z closes.

    points: the coordinates in order, x and y by turns: two, two, six or none.
    """

    kind: str
    points: tuple[float, ...] = ()


Outline = tuple[Step, ...]


def mapped(outline: Outline, transform: Affine) -> Outline:
    """Give the image of an outline."""
    found = []
    for step in outline:
        pairs = zip(step.points[::2], step.points[1::2], strict=True)
        points = tuple(value for x, y in pairs for value in transform.apply(x, y))
        found.append(Step(step.kind, points))
    return tuple(found)


def polygon(*points: tuple[float, float]) -> Outline:
    """Give the closed outline through the points."""
    first, *others = points
    return (Step("M", first), *(Step("L", point) for point in others), Step("Z"))


def rectangle(box: Box) -> Outline:
    """Give a box's outline."""
    return polygon((box.x, box.y), (box.right, box.y), (box.right, box.bottom), (box.x, box.bottom))


def line(start: tuple[float, float], end: tuple[float, float]) -> Outline:
    """Give an open line."""
    return (Step("M", start), Step("L", end))


# The cubic curve nearest to a quarter circle has its handles at this share of the radius.
QUARTER = 4 / 3 * (math.sqrt(2) - 1)


def rounded(box: Box, radius_x: float, radius_y: float) -> Outline:
    """Give a box with elliptical corners; radii of half its sides make an ellipse."""
    kx, ky = radius_x * (1 - QUARTER), radius_y * (1 - QUARTER)
    left, top, right, bottom = box.x, box.y, box.right, box.bottom
    return (
        Step("M", (left + radius_x, top)),
        Step("L", (right - radius_x, top)),
        Step("C", (right - kx, top, right, top + ky, right, top + radius_y)),
        Step("L", (right, bottom - radius_y)),
        Step("C", (right, bottom - ky, right - kx, bottom, right - radius_x, bottom)),
        Step("L", (left + radius_x, bottom)),
        Step("C", (left + kx, bottom, left, bottom - ky, left, bottom - radius_y)),
        Step("L", (left, top + radius_y)),
        Step("C", (left, top + ky, left + kx, top, left + radius_x, top)),
        Step("Z"),
    )


def ellipse(box: Box) -> Outline:
    """Give the ellipse that a box holds."""
    return rounded(box, box.width / 2, box.height / 2)
