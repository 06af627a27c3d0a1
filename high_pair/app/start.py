"""Starting the window."""

from __future__ import annotations

import functools
import signal
import sys
import traceback
from collections.abc import Sequence
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QTimer
from PySide6.QtGui import QIcon
from PySide6.QtWidgets import QApplication

from high_pair.app.settings import Settings
from high_pair.app.theme import apply, load_fonts, theme_for
from high_pair.app.window import Window
from high_pair.formats.location import Location
from high_pair.process.host import get_ready
from high_pair.review.held import LOADED

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


def _tell_fault(
    window: Window, kind: type[BaseException], fault: BaseException, trace: TracebackType | None
) -> None:
    """Tell of a fault of ours in the window, with the details on standard error."""
    traceback.print_exception(kind, fault, trace)
    window.show_problem(
        f"Something went wrong inside High Pair ({kind.__name__}: {fault}). "
        "Your file is unharmed; please report this."
    )


def start(paths: Sequence[Location], demo: bool) -> int:
    """Open the window with files, and the demo files if asked for; gives the exit status."""
    # They load while the window is made.
    get_ready(LOADED)
    settings = Settings()
    application = make_application(settings)
    window = Window(settings)
    window.show()
    window.reviews.offer_left_behind()
    window.open_paths(list(paths))
    if demo:
        window.open_demo()
    sys.excepthook = functools.partial(_tell_fault, window)
    # Ctrl+C in the terminal closes the window; Qt's loop must wake to notice it.
    signal.signal(signal.SIGINT, lambda *_: window.close() or application.quit())
    wake = QTimer()
    wake.timeout.connect(lambda: None)
    wake.start(250)
    return application.exec()
