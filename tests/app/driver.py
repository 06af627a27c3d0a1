"""Drives the real window for tests, as a user would."""

from __future__ import annotations

import os
import tempfile
import time
import unittest
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QCoreApplication, QEvent, QSize, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from high_pair.app.settings import Settings
from high_pair.app.start import make_application
from high_pair.app.window import Window
from high_pair.review.history import History

PATIENCE = 180.0
# The window is at rest when so often in a row nothing is asked for, with so long between.
QUIET_ROUNDS = 4
ROUND_SECONDS = 0.003


class WindowTest(unittest.TestCase):
    """A test with a window of its own, whose memory lies in a temporary folder."""

    size = QSize(1280, 800)

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.settings = Settings(self.folder / "window.ini")
        self.settings.theme = "light"
        self.application: QApplication = make_application(self.settings)
        self.window = self.make_window()

    def make_window(self) -> Window:
        window = Window(self.settings)
        window.resize(self.size)
        window.show()
        window.activateWindow()
        self.addCleanup(self.close_window, window)
        self.application.processEvents()
        return window

    def close_window(self, window: Window) -> None:
        window.controller.session.history = History()
        window.close()
        window.deleteLater()
        # Windows that stay alive would make every later style sheet slower.
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        self.application.processEvents()

    def settle(self) -> None:
        """Wait until the worker has nothing left to do."""
        end = time.monotonic() + PATIENCE
        quiet = 0
        while quiet < QUIET_ROUNDS:
            self.application.processEvents()
            time.sleep(ROUND_SECONDS)
            window = self.window
            busy = window.controller.busy or window.sets.busy or window.report.source.under_way
            quiet = 0 if busy else quiet + 1
            self.assertLess(time.monotonic(), end, "the worker does not come to rest")

    def open(self, *paths: Path) -> None:
        self.window.open_paths(list(paths))
        self.settle()

    def press(
        self, key: Qt.Key, *modifiers: Qt.KeyboardModifier, on: QWidget | None = None
    ) -> None:
        """Press a key on whatever has the focus."""
        held = Qt.KeyboardModifier.NoModifier
        for modifier in modifiers:
            held |= modifier
        target = on or QApplication.focusWidget() or self.window
        QTest.keyClick(target, key, held)
        self.settle()
