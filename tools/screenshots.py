"""Make every picture in docs/screenshots/ from the demo deck, without a display.

python -m tools.screenshots [FOLDER]
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QApplication

from high_pair.app.settings import Settings
from high_pair.app.start import make_application
from high_pair.app.window import DEMO, Window
from high_pair.wcag.verdicts import Verdict

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
SIZE = QSize(1280, 800)
LONGEST_WAIT = 60.0


class Camera:
    """Drives a window and takes its picture."""

    def __init__(self, folder: Path, theme: str, size: QSize = SIZE) -> None:
        self.folder = folder
        self._memory = tempfile.TemporaryDirectory()
        settings = Settings(Path(self._memory.name) / "window.ini")
        settings.theme = theme
        self.application: QApplication = make_application(settings)
        self.window = Window(settings)
        self.window.resize(size)
        self.window.show()
        self.window.activateWindow()

    def settle(self) -> None:
        """Wait until everything asked for is painted."""
        end = time.monotonic() + LONGEST_WAIT
        quiet = 0
        while quiet < 4 and time.monotonic() < end:
            self.application.processEvents()
            time.sleep(0.05)
            quiet = 0 if self.window.controller.busy else quiet + 1

    def open_demo(self) -> None:
        """Open the demo deck and wait for its measurement."""
        self.window.open_paths([DEMO])
        self.settle()

    def go_to(self, text: str) -> None:
        """Bring the look to hand whose text starts so."""
        for verdict in Verdict:
            for look in self.window.controller.session.looks(verdict):
                for pair in look.group.pairs:
                    if pair.text.startswith(text):
                        self.window.desk.show_verdict(verdict)
                        self.window.desk.show_pair(look.file, pair)
                        self.settle()
                        return
        raise LookupError(text)

    def take(self, name: str) -> None:
        """Save a picture of the window."""
        self.settle()
        self.folder.mkdir(parents=True, exist_ok=True)
        self.window.grab().save(str(self.folder / f"{name}.png"))

    def close(self) -> None:
        """Close the window without asking."""
        self.window.controller.session.history = type(self.window.controller.session.history)()
        self.window.close()
        self._memory.cleanup()


def main(folder: Path) -> None:
    """Make all pictures."""
    for theme in ("light", "dark"):
        camera = Camera(folder, theme)
        camera.take(f"welcome-{theme}")
        camera.open_demo()
        camera.go_to("Go to the muster station")
        camera.take(f"review-{theme}")
        camera.go_to("Passenger safety briefing")
        camera.window.desk.choose_remedy(1)
        camera.take(f"remedy-{theme}")
        if theme == "light":
            camera.go_to("Mind the gap")
            camera.take("no-colour-serves-light")
            camera.window.change_stripes()
            camera.take("pixels-light")
            camera.window.change_stripes()
            camera.go_to("letter or telephone")
            camera.take("link-light")
        camera.close()


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER)
