"""Getting at the screen: by grabbing it (X11), or by the desktop's own picker (Wayland)."""

from __future__ import annotations

from enum import Enum

from PySide6.QtGui import QGuiApplication, QScreen

from high_pair.app.picking.portal import has_bus
from high_pair.app.picking.source import PickSource, pixels_of


class ScreenWay(Enum):
    """How a colour can be picked from the screen."""

    GRAB = "grab"
    PORTAL = "portal"
    NONE = "none"


NO_WAY = (
    "This desktop lets no program see the screen. Take a screenshot with its own key, then paste "
    "it here with Ctrl+V."
)


def way_to_screen() -> ScreenWay:
    """Tell how the screen can be seen here."""
    if QGuiApplication.platformName() == "xcb":
        return ScreenWay.GRAB
    return ScreenWay.PORTAL if has_bus() else ScreenWay.NONE


def grab(screen: QScreen) -> PickSource | None:
    """Take the screen's pixels; None where the system gives none."""
    pixmap = screen.grabWindow(0)
    if pixmap.isNull():
        return None
    return PickSource("the screen", pixels_of(pixmap.toImage()))
