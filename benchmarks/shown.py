"""The real window, offscreen, for measuring frames."""

from __future__ import annotations

import os
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QApplication

from high_pair.app.settings import Settings
from high_pair.app.start import make_application
from high_pair.app.window import Window


def shown_window(folder: Path) -> tuple[QApplication, Window]:
    """Show a window at 1280 by 800, whose memory lies in a folder."""
    settings = Settings(folder / "window.ini")
    application = make_application(settings)
    window = Window(settings)
    window.resize(QSize(1280, 800))
    window.show()
    return application, window
