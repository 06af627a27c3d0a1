"""Starting the window."""

from __future__ import annotations

import signal
import sys
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtGui import QIcon
from PySide6.QtWidgets import QApplication

from high_pair.app.settings import Settings
from high_pair.app.theme import apply, load_fonts
from high_pair.app.window import DEMO, Window, theme_for

ICON = Path(__file__).resolve().parent.parent / "data" / "icon.svg"


def make_application(settings: Settings) -> QApplication:
    """Make the application, or give the one there is, with our fonts and colours."""
    existing = QApplication.instance()
    application = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    application.setApplicationName("High Pair")
    application.setDesktopFileName("org.highpair.HighPair")
    application.setWindowIcon(QIcon(str(ICON)))
    load_fonts()
    apply(application, theme_for(settings.theme))
    return application


def start(paths: Sequence[Path], demo: bool) -> int:
    """Open the window with files, and the demo deck if asked for; gives the exit status."""
    settings = Settings()
    application = make_application(settings)
    window = Window(settings)
    window.show()
    window.open_paths([*paths, *([DEMO] if demo else [])])
    # Ctrl+C in the terminal closes the window; Qt's loop must wake to notice it.
    signal.signal(signal.SIGINT, lambda *_: window.close() or application.quit())
    wake = QTimer()
    wake.timeout.connect(lambda: None)
    wake.start(250)
    return application.exec()
