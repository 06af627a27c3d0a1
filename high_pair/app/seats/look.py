"""How a painted page is turned into what is seen from a seat."""

from __future__ import annotations

import math
from dataclasses import dataclass

from high_pair.colour.seen import Octaves, octaves_of, seen_from
from high_pair.colour.sight import angle_of
from high_pair.colour.srgb import Bytes
from high_pair.scene.seat import PIXELS_A_POINT, Seat

# Points: of a page 1280 pixels wide.
USUAL_WIDTH = 960.0


@dataclass(frozen=True)
class Apart:
    """A painted page, uint8 (h, w, 3), taken apart as a seat's eyes have its colours."""

    picture: Bytes
    octaves: Octaves
    seat: Seat

    @classmethod
    def of(cls, picture: Bytes, seat: Seat) -> Apart:
        """Take a picture apart for a seat."""
        return cls(picture, octaves_of(picture, seat.eyes, seat.grey), seat)

    def for_seat(self, seat: Seat) -> Apart:
        """Give the picture taken apart for another seat: itself, where that has the same eyes."""
        same = (seat.eyes, seat.grey) == (self.seat.eyes, self.seat.grey)
        return self if same else Apart.of(self.picture, seat)


@dataclass(frozen=True)
class Look:
    """A seat, and how large a pixel of a painted page is there, in metres."""

    seat: Seat
    pixel: float

    @classmethod
    def on_a_page(cls, seat: Seat, ratio: float) -> Look:
        """Give the look at a part of a page of the usual width, painted with so many device pixels
        for each of the page's."""
        metres_a_point = seat.metres_a_point(USUAL_WIDTH, USUAL_WIDTH, whole=False)
        return cls(seat, metres_a_point / PIXELS_A_POINT / ratio)

    def seen(self, apart: Apart) -> Bytes:
        """Give a painted page, uint8 (h, w, 3), as it is seen. apart: for this seat's eyes."""
        seat = self.seat
        minutes = float(angle_of(self.pixel, seat.distance))
        pixels_a_degree = 60.0 / minutes if minutes > 0 else math.inf
        return seen_from(apart.octaves, pixels_a_degree, seat.flare, seat.acuity, seat.loss)
