"""What the records of both kinds of metafiles have in common."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import accumulate, pairwise

from high_pair.raster.metafiles.device import (
    BLACK,
    NO_PEN,
    WHITE,
    Brush,
    Device,
    Font,
    Levels,
    Pen,
    Point,
    Unpainted,
)

# [MS-WMF] 2.1.1.31: operations that copy a bitmap, paint with the brush, black, white, nothing.
COPIES, INKED, BLACKNESS, WHITENESS, NOTHING = 0xCC0020, 0xF00021, 0x42, 0xFF0062, 0xAA0029
HATCHED = "it has hatches or patterns, whose lines may lie elsewhere"
MIXED = "it mixes a bitmap with what is below it"
MOST_RECORDS = 200_000
MOST_POINTS = 500_000
# A short command may ask for much painting, again and again.
MOST_SECONDS = 10.0


@dataclass
class Records:
    """The records of one metafile, and the objects that they have made so far."""

    device: Device
    data: bytes
    objects: dict[int, object] = field(default_factory=dict)
    points: int = 0
    began: float = field(default_factory=time.monotonic)

    def hurry(self) -> None:
        """See that there is time for a further command. Raises Unpainted."""
        if time.monotonic() - self.began > MOST_SECONDS:
            raise Unpainted("painting it takes too long")

    def colour(self, place: int) -> Levels:
        """Read a colour."""
        red, green, blue = self.data[place : place + 3]
        return red, green, blue

    def counted(self, flat: Sequence[int]) -> list[Point]:
        """Give points from their numbers. Raises Unpainted for very many."""
        self.points += len(flat) // 2
        if self.points > MOST_POINTS:
            raise Unpainted("it has very many points")
        return [(float(x), float(y)) for x, y in zip(flat[::2], flat[1::2], strict=True)]

    def apart(self, sizes: Sequence[int], points: Sequence[Point]) -> list[Sequence[Point]]:
        """Give points in parts of some sizes."""
        return [points[start:end] for start, end in pairwise(accumulate(sizes, initial=0))]

    def take(self, chosen: object) -> None:
        """Paint with a pen, a brush or a font from here on."""
        if isinstance(chosen, Pen):
            self.device.set(pen=chosen)
        elif isinstance(chosen, Brush):
            self.device.set(brush=chosen)
        elif isinstance(chosen, Font):
            self.device.set(font=chosen)

    def brush_of(self, kind: int, place: int) -> Brush:
        """Read a brush: of one colour, of none, or of a kind that isn't painted."""
        known = {0: Brush(self.colour(place)), 1: Brush(None)}
        return known.get(kind, Brush(WHITE, HATCHED))

    def font_of(self, numbers: Sequence[int], italic: int, name: str) -> Font:
        """Read a font. numbers: its height, width, two angles and weight."""
        height, _, angle, _, weight = numbers
        return Font(name, float(height), max(1, min(1000, weight or 400)), bool(italic), angle / 10)

    def ground(self, box: Sequence[int], operation: int) -> None:
        """Paint a box (left, top, right, bottom) as an operation without a bitmap says."""
        known = {BLACKNESS: Brush(BLACK), WHITENESS: Brush(WHITE), INKED: self.device.state.brush}
        if operation == NOTHING:
            return
        if operation not in known:
            raise Unpainted("it mixes what it paints with what is below it")
        before = self.device.state
        self.device.set(brush=known[operation], pen=Pen(kind=NO_PEN))
        self.device.box(box)
        self.device.set(brush=before.brush, pen=before.pen)
