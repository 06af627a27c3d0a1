"""What stands on the page while a remedy is fitted by hand: painted in the time of a frame."""

from __future__ import annotations

from typing import Protocol

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter


class Live(Protocol):
    """A page with something on it that is moved by hand. Places are in points of the page."""

    def paint(self, painter: QPainter, box: QRectF, factor: float) -> None:
        """Paint the page in a box; factor: window units a point."""

    def paint_marks(self, painter: QPainter, box: QRectF, factor: float, held: str) -> None:
        """Paint the handles over it. held: the name of the one that is held."""

    def hold(self, x: float, y: float, reach: float) -> str:
        """Take hold of what is at a place, or within reach; gives its name, empty for nothing."""

    def drag(self, held: str, x: float, y: float) -> object:
        """Move what is held to a place; gives what it has become, for whoever fits it."""

    def nudge(self, across: int, down: int) -> object | None:
        """Move it by steps; gives what it has become, None where it isn't moved by steps."""
