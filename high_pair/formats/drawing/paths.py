"""Paths of shape geometries as outlines: lines, curves, and arcs of ellipses (§20.1.9)."""

from __future__ import annotations

import math
from collections.abc import Sequence

from high_pair.formats.drawing.guides import radians_of
from high_pair.scene.geometry import Step

# The most that one cubic curve covers of an arc.
PIECE = math.pi / 2


class Pen:
    """Draws the steps of a path; positions are those of the shape's own box at the origin."""

    def __init__(self, scale_x: float = 1.0, scale_y: float = 1.0) -> None:
        """Begin a path whose units are so many points across and down."""
        self._scale = scale_x, scale_y
        self.steps: list[Step] = []
        self._x = self._y = 0.0

    def _placed(self, points: Sequence[float]) -> tuple[float, ...]:
        across, down = self._scale
        return tuple(v * (across if i % 2 == 0 else down) for i, v in enumerate(points))

    def _go(self, kind: str, points: Sequence[float]) -> None:
        if not self.steps and kind != "M":
            self.steps.append(Step("M", (0.0, 0.0)))
        self.steps.append(Step(kind, self._placed(points)))
        self._x, self._y = points[-2], points[-1]

    @property
    def at(self) -> tuple[float, float]:
        """Where the pen is, in the path's own units."""
        return self._x, self._y

    def go_on_from(self, x: float, y: float) -> None:
        """Put the pen to a place without drawing, as closing a part does."""
        self._x, self._y = x, y

    def move(self, x: float, y: float) -> None:
        """Begin a part of the path."""
        self._go("M", (x, y))

    def line(self, x: float, y: float) -> None:
        """Draw a line."""
        self._go("L", (x, y))

    def cubic(self, points: Sequence[float]) -> None:
        """Draw a cubic curve through two handles to a point: six numbers."""
        self._go("C", tuple(points[:6]))

    def quadratic(self, points: Sequence[float]) -> None:
        """Draw a quadratic curve through one handle to a point: four numbers."""
        hx, hy, x, y = points[:4]
        one = self._x + (hx - self._x) * 2 / 3, self._y + (hy - self._y) * 2 / 3
        two = x + (hx - x) * 2 / 3, y + (hy - y) * 2 / 3
        self._go("C", (*one, *two, x, y))

    def arc(self, width: float, height: float, start: float, sweep: float) -> None:
        """Draw an arc of an ellipse from where the pen is (§20.1.9.4, arcTo).

        width, height: its radii; start, sweep: in 60,000ths of a degree,
        clockwise on the screen, as seen and not as the ellipse's parameter.
        """
        if width <= 0 or height <= 0 or sweep == 0:
            return
        begin = _parameter(radians_of(start), width, height)
        end = _parameter(radians_of(start + sweep), width, height)
        turn = radians_of(sweep)
        # The parameter of the end, in the turn that the sweep asks for.
        while turn > 0 and end < begin:
            end += 2 * math.pi
        while turn < 0 and end > begin:
            end -= 2 * math.pi
        if abs(turn) >= 2 * math.pi - 1e-9:
            end = begin + math.copysign(2 * math.pi, turn)
        centre = self._x - width * math.cos(begin), self._y - height * math.sin(begin)
        pieces = max(1, math.ceil(abs(end - begin) / PIECE - 1e-9))
        step = (end - begin) / pieces
        handle = 4 / 3 * math.tan(step / 4)
        for piece in range(pieces):
            a, b = begin + piece * step, begin + (piece + 1) * step
            self._go(
                "C",
                (
                    centre[0] + width * (math.cos(a) - handle * math.sin(a)),
                    centre[1] + height * (math.sin(a) + handle * math.cos(a)),
                    centre[0] + width * (math.cos(b) + handle * math.sin(b)),
                    centre[1] + height * (math.sin(b) - handle * math.cos(b)),
                    centre[0] + width * math.cos(b),
                    centre[1] + height * math.sin(b),
                ),
            )

    def close(self) -> None:
        """Close the part of the path that is open."""
        if self.steps and self.steps[-1].kind != "Z":
            self.steps.append(Step("Z"))


def _parameter(angle: float, width: float, height: float) -> float:
    """Give an ellipse's parameter for an angle as seen from its centre."""
    found = math.atan2(width * math.sin(angle), height * math.cos(angle))
    # The two are never a quarter turn apart, so the nearest turn is the right one.
    return found + round((angle - found) / (2 * math.pi)) * 2 * math.pi
