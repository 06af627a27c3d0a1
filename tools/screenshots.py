"""Make every picture in docs/screenshots/ from the demo deck, without a display.

python -m tools.screenshots [FOLDER]
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QApplication

from high_pair.app.actions import BENCH, REPORT, REVIEW, SETS
from high_pair.app.settings import Settings
from high_pair.app.start import make_application
from high_pair.app.window import DEMO, DEMOS, Window
from high_pair.colour.srgb import bytes_of
from high_pair.formats.web.settings import WebSettings
from high_pair.review.seats import BUILT_IN
from high_pair.scene.colour_set import ColourSet, SetColour
from high_pair.scene.paint import from_levels
from high_pair.simulated.site import SITE
from high_pair.wcag.verdicts import Verdict
from tools.make_poster import LINES
from tools.make_poster import NAME as POSTER

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
SIZE = QSize(1280, 800)
LONGEST_WAIT = 60.0
TYPED = "typed"
# Looks that are mended before the Report desk is shown.
MENDED = 12
BRAND = (("deep sea", "#0E2A3B"), ("paper", "#FFFFFF"), ("sea", "#1F6F8B"), ("signal", "#D9652B"))
KEPT = (
    ("Timetable notes", "#777777", "#FFFFFF"),
    ("Poster headline", "#F3F7F6", "#14384A"),
    ("Fare change label", "#B05A10", "#FFD8A0"),
    ("Link on panel", "#3F8C86", "#E7F0EE"),
)


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
            window = self.window
            busy = window.controller.busy or window.sets.busy or window.report.source.under_way
            quiet = 0 if busy else quiet + 1

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

    def choose(self, kind: str) -> None:
        """Choose the first remedy of a kind."""
        rows = self.window.desk.panel.remedies.cards.rows
        self.window.desk.choose_remedy(1 + [row.remedy.kind for row in rows].index(kind))
        self.settle()

    def show_bench(self, theme: str) -> None:
        """Take pictures of the Bench: two colours in both themes, the rest in light."""
        window = self.window
        window.show_desk(BENCH)
        bench = window.bench
        for name, foreground, backdrop in KEPT:
            bench.state.set_pair(*(from_levels(bytes_of(c)) for c in (foreground, backdrop)), TYPED)
            bench.state.keep(name)
        self.take(f"bench-{theme}")
        if theme != "light":
            return
        bench.show_sheet("One against many")
        bench.many.add_field.setText("#E7F0EE #FFD8A0 #C0D8FF #3F8C86 #14283C")
        bench.many.add_button.click()
        self.take("one-against-many-light")
        bench.show_sheet("Two colours")
        window.desk.show_page(window.desk.file.key, 3)
        window.guide.pick_from_page()
        self.settle()
        bench.picking.canvas.move_to(310, 225)
        self.take("picking-light")

    def show_sets(self) -> None:
        """Take a picture of the Sets desk with the demo's theme, and a kept set beside it."""
        sets = self.window.sets
        self.window.show_desk(SETS)
        self.settle()
        colours = tuple(SetColour(name, bytes_of(code)) for name, code in BRAND)
        sets.state.keep(ColourSet("Ferry brand 2026", "kept", "", colours))
        sets.state.show(sets.state.all_keys()[0])
        self.settle()
        sets.state.choose("accent1")
        self.take("sets-light")

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

    def show_picture(self) -> None:
        """Take a picture of the poster under review, with boxes round its texts."""
        window = self.window
        window.show_desk(REVIEW)
        window.open_paths([DEMO.parent / POSTER])
        self.settle()
        desk = window.desk
        assert desk.file is not None
        desk.show_page(desk.file.key, 0)
        for (left, top), size, _, _, words in LINES:
            desk.decisions.add_box(*(0.75 * side for side in (left - 14, top - 8, 640, size * 1.4)))
            self.settle()
            if desk.decisions.box is not None:
                desk.panel.box.changed.emit(replace(desk.decisions.box, words=words))
                self.settle()
        self.go_to("Bicycles")
        self.take("picture-light")


def office(folder: Path) -> None:
    """Take pictures of the notice and the workbook."""
    for theme, path, words, name in (
        ("light", DEMOS[1], "late", "notice"),
        ("dark", DEMOS[2], "92%", "workbook"),
    ):
        camera = Camera(folder, theme)
        camera.window.open_paths([path])
        camera.settle()
        camera.go_to(words)
        camera.take(f"{name}-{theme}")
        camera.close()


def site(folder: Path) -> None:
    """Take a picture of the ferry line's site in two widths, with a ramp over its photograph."""
    camera = Camera(folder, "light")
    shown = WebSettings((1280, 320))
    camera.window.controller.open([SITE / "index.html"], shown)
    camera.settle()
    camera.go_to("Across the bay")
    camera.choose("ramp")
    camera.take("web-page-light")
    camera.close()


def report(folder: Path) -> None:
    """Take the picture of the Report desk, with some of what falls short mended."""
    camera = Camera(folder, "light")
    camera.window.open_paths([*DEMOS, SITE / "index.html"])
    camera.settle()
    desk = camera.window.desk
    for _ in range(MENDED):
        desk.list.setCurrentIndex(desk.list.looks.index(0))
        camera.settle()
        desk.choose_remedy(1)
        camera.settle()
        desk.apply_to_alike()
        camera.settle()
    camera.window.show_desk(REPORT)
    camera.settle()
    camera.take("report-light")
    camera.close()


def main(folder: Path) -> None:
    """Make all pictures."""
    for theme in ("light", "dark"):
        camera = Camera(folder, theme)
        if theme == "light":
            camera.take("welcome-light")
        camera.open_demo()
        camera.go_to("Go to the muster station")
        camera.take(f"review-{theme}")
        if theme == "dark":
            camera.go_to("Passenger safety briefing")
            camera.window.desk.choose_remedy(1)
            camera.take("remedy-dark")
        if theme == "light":
            camera.go_to("If you hear")
            camera.choose("ramp")
            camera.take("fitting-light")
            camera.choose("shift")
            camera.take("shift-light")
            camera.go_to("Mind the gap")
            camera.take("no-colour-serves-light")
            camera.window.change_stripes()
            camera.take("pixels-light")
            camera.window.change_stripes()
            camera.go_to("letter or telephone")
            camera.take("link-light")
            camera.go_to("Go to the muster station")
            camera.window.desk.seats.take(BUILT_IN[0])
            camera.take("seat-light")
            camera.window.desk.seats.take(None)
        if theme == "light":
            camera.show_bench(theme)
            camera.show_sets()
            camera.show_picture()
        camera.close()
    office(folder)
    site(folder)
    report(folder)


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER)
