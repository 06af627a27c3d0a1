"""Overlays: see-through layers laid between a text and what is behind it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from high_pair.scene.geometry import Affine, Box, turned

Shares = NDArray[np.float64]


class OverlayKind(StrEnum):
    """The shapes of overlays."""

    PLATE = "plate"
    SOFT_PLATE = "soft plate"
    VEIL = "veil"
    RAMP = "ramp"
    DIM = "dim"


@dataclass(frozen=True)
class Overlay:
    """A layer of one colour. A dim isn't laid: the picture lets a colour behind it through, which
    looks the same as a veil over it.

    box: all that it covers, on the page, in points; percent: its strength, the
    opacity where it is fullest, 0 to 100; rounding: the radius of a plate's
    corners, in points; feather: how far a soft plate fades inwards from its
    edges, in points; towards: the way on which a ramp fades, in degrees, 0 to
    the right and 90 down; full, none: the shares of that way up to which it is
    at full strength and from which nothing is left; middle: how much of the
    strength is left halfway between; bound: a plate is the background of its
    text's own element, or the fill of its own box, and goes where that goes;
    turn: a plate's box is turned about its middle by so many degrees, clockwise.
    """

    kind: OverlayKind
    box: Box
    levels: tuple[int, int, int]
    percent: int
    rounding: float = 0.0
    feather: float = 0.0
    towards: float = 0.0
    full: float = 0.0
    none: float = 1.0
    middle: float = 0.5
    bound: bool = False
    turn: float = 0.0

    @property
    def core(self) -> Box:
        """The part of its box where it has its full strength, of a ramp the whole box."""
        return self.box.grown(-self.feather) if self.kind is OverlayKind.SOFT_PLATE else self.box

    @property
    def to_page(self) -> Affine:
        """How to get from its box as it is unturned to the page."""
        return turned(self.turn, self.box.centre)

    @property
    def bounds(self) -> Box:
        """The upright box on the page round all that it covers."""
        return self.to_page.bounds(self.box) if self.turn else self.box

    def unturned(self, x: Shares, y: Shares) -> tuple[Shares, Shares]:
        """Give where points of the page lie with regard to its box as it is unturned."""
        back = turned(-self.turn, self.box.centre)
        return back.a * x + back.c * y + back.e, back.b * x + back.d * y + back.f

    def reshaped(self, box: Box) -> Overlay:
        """Give it with another box, which is stated as its own is, before the turn."""
        return replace(self, box=box.about(self.to_page.apply(*box.centre)))

    @property
    def stops(self) -> tuple[tuple[float, float], ...]:
        """The places of its gradient, and the share of its strength at each."""
        if self.kind is OverlayKind.SOFT_PLATE:
            return SOFT
        if self.kind is not OverlayKind.RAMP:
            return ((0.0, 1.0), (1.0, 1.0))
        halfway = (self.full + self.none) / 2
        return (
            (0.0, 1.0),
            (self.full, 1.0),
            (halfway, self.middle),
            (self.none, 0.0),
            (1.0, 0.0),
        )

    @property
    def axis(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where a ramp's way begins and ends: between the box's extreme points in its direction."""
        angle = math.radians(self.towards)
        across, down = math.cos(angle), math.sin(angle)
        box = self.box
        reach = abs(across) * box.width / 2 + abs(down) * box.height / 2
        x, y = box.centre
        return (
            (x - across * reach, y - down * reach),
            (x + across * reach, y + down * reach),
        )

    def share_of_way(self, x: float, y: float) -> float:
        """Give how far along a ramp's way a point of the page lies, 0 to 1."""
        (left, top), (right, bottom) = self.axis
        across, down = right - left, bottom - top
        length = max(across * across + down * down, 1e-9)
        return min(1.0, max(0.0, ((x - left) * across + (y - top) * down) / length))

    def shares_at(self, x: Shares, y: Shares) -> Shares:
        """Give the share of its strength (0 to 1) at points on the page; nothing outside it."""
        if self.turn:
            x, y = self.unturned(x, y)
        box = self.box
        inside = (x >= box.x) & (x <= box.right) & (y >= box.y) & (y <= box.bottom)
        places, shares = zip(*self.stops, strict=True)
        if self.kind is OverlayKind.SOFT_PLATE:
            feather = max(self.feather, 1e-6)
            past = np.maximum(
                np.maximum(self.core.x - x, x - self.core.right),
                np.maximum(self.core.y - y, y - self.core.bottom),
            )
            found = np.interp(np.clip(past / feather, 0.0, 1.0), places, shares)
        elif self.kind is OverlayKind.RAMP:
            (left, top), (right, bottom) = self.axis
            across, down = right - left, bottom - top
            length = max(across * across + down * down, 1e-9)
            along = ((x - left) * across + (y - top) * down) / length
            found = np.interp(np.clip(along, 0.0, 1.0), places, shares)
        else:
            found = np.ones_like(x)
            if self.rounding > 0:
                inside &= _within_corners(box, self.rounding, x, y)
        return np.asarray(np.where(inside, found, 0.0))


# A soft plate fades as a smooth step does, so that its feather has no visible line.
SOFT = tuple(
    (place, 1.0 - place * place * (3.0 - 2.0 * place)) for place in (0, 0.2, 0.4, 0.6, 0.8, 1)
)


def _within_corners(box: Box, radius: float, x: Shares, y: Shares) -> NDArray[np.bool_]:
    radius = min(radius, box.width / 2, box.height / 2)
    across = np.maximum(np.maximum(box.x + radius - x, x - (box.right - radius)), 0.0)
    down = np.maximum(np.maximum(box.y + radius - y, y - (box.bottom - radius)), 0.0)
    return np.asarray(across * across + down * down <= radius * radius)


def pixel_centres(
    area: tuple[slice, slice], scale: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Give the x (1, w) and y (h, 1) of the centres of a raster's part, in points."""
    rows, columns = area
    x = (np.arange(columns.start, columns.stop) + 0.5) / scale
    y = (np.arange(rows.start, rows.stop) + 0.5) / scale
    return x[None, :], y[:, None]
