"""How a painted page is turned into what is seen from a seat."""

from __future__ import annotations

import math
from dataclasses import dataclass

from high_pair.colour.seen import octaves_of, seen_from
from high_pair.colour.sight import angle_of
from high_pair.colour.srgb import Bytes
from high_pair.scene.seat import PIXELS_A_POINT, Seat

# Points: of a page 1280 pixels wide.
USUAL_WIDTH = 960.0


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

    def seen(self, picture: Bytes) -> Bytes:
        """Give a painted page, uint8 (h, w, 3), as it is seen."""
        seat = self.seat
        minutes = float(angle_of(self.pixel, seat.distance))
        pixels_a_degree = 60.0 / minutes if minutes > 0 else math.inf
        octaves = octaves_of(picture, seat.eyes, seat.grey)
        return seen_from(octaves, pixels_a_degree, seat.flare, seat.acuity, seat.loss)
