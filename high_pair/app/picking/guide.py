"""Leads through picking: which pixels, which side, and back to the Bench."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QRect, QTimer, Signal
from PySide6.QtGui import QGuiApplication, QImage, QScreen

from high_pair.app.bench.state import Side
from high_pair.app.picking.portal import NoPortal, pick_colour
from high_pair.app.picking.screen import NO_WAY, ScreenWay, grab, way_to_screen
from high_pair.app.picking.source import PickSource, pixels_of
from high_pair.colour.srgb import Bytes, hex_of
from high_pair.review import tasks
from high_pair.scene.paint import Colour, from_levels

if TYPE_CHECKING:
    from high_pair.app.window import Window
    from high_pair.measure.separation import NoText, ReadText

# How long a window takes to vanish from the screen before that is grabbed, in milliseconds.
VANISHING = 350
BOTH = (Side.FOREGROUND, Side.BACKDROP)
NOTHING_PASTED = "There is no picture on the clipboard. Copy one, or take a screenshot, first."


def read_words(found: ReadText) -> str:
    """Say what was read of a text, and how sure it is."""
    size = f"about {found.size:.0f} pixels high" + (", bold" if found.bold else "")
    words = f"Read from the pixels of letters {size}: near the truth, not exact."
    if found.outline is not None:
        words += f" They have an outline of about {hex_of(found.outline)}: look at that too."
    return words


class PickGuide(QObject):
    """The guide. Its signals bring what another thread found."""

    _picked = Signal(object)
    _failed = Signal(str)

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window = window
        self.bench = window.bench
        self.view = window.bench.picking
        self.asking_desktop = False
        # Whether a box that is drawn belongs to the review.
        self.marking = False
        # Whether the colour that is taken is that of an overlay.
        self.for_overlay = False
        self.view.taken.connect(self._taken)
        self.view.finished.connect(self.leave)
        self.view.page_asked.connect(self.from_page)
        self.view.screen_asked.connect(self.from_screen)
        self.view.paste_asked.connect(self.from_clipboard)
        self.view.boxed.connect(self._boxed)
        self.bench.pick_asked.connect(lambda side: self.pick([side]))
        self._picked.connect(self._desktop_picked)
        self._failed.connect(self._desktop_failed)

    # Coming and going

    def pick(self, sides: list[Side]) -> None:
        """Pick for sides, in order: from what was picked from last, else from the page."""
        self.marking = self.for_overlay = False
        self.window.show_desk("bench")
        self.view.want(sides)
        self.bench.show_picking(True)
        self.view.page.setEnabled(self.window.current_file() is not None)
        if self.view.source is not None:
            self.view.canvas.setFocus()
        elif self.window.current_file() is not None:
            self.from_page()
        else:
            self.view.say("Choose the screen, or paste a picture.")
            self.view.screen_button.setFocus()

    def pick_from_page(self) -> None:
        """Pick both colours from the page that is shown on the Review desk."""
        self.view.source = None
        self.pick(list(BOTH))

    def pick_for_overlay(self) -> None:
        """Pick the colour of the overlay that is being fitted, from its page."""
        if self.window.desk.fitter.fitting is None:
            return
        self.pick_from_page()
        self.for_overlay = True
        self.view.want([Side.BACKDROP])

    def leave(self) -> None:
        """Go back to the Bench, or to the review whose page a box was to be drawn on."""
        self.bench.show_picking(False)
        if self.marking or self.for_overlay:
            self.marking = self.for_overlay = False
            self.window.show_desk("review")

    def _taken(self, side: Side, taken: Colour, source: str) -> None:
        if self.for_overlay:
            self.window.desk.panel.fitting.take_colour(taken)
            return
        self.bench.state.set_colour(side, taken, source)
        self.bench.told.emit(f"Took the {side}.")

    def draw_box(self) -> None:
        """Draw a box round text on the page that the Review desk shows."""
        if self.window.desk.decisions.takes_boxes:
            self.pick_from_page()
            self.marking = True

    def _boxed(self, pixels: Bytes, box: QRect) -> None:
        """Give the box on, to the review or to the Bench."""
        if not self.marking or self.view.source is None:
            self._read(pixels)
            return
        height, width = self.view.source.shown.shape[:2]
        across, down = self.window.desk.page_size
        self.leave()
        self.window.show_desk("review")
        self.window.desk.decisions.add_box(
            box.x() * across / width,
            box.y() * down / height,
            box.width() * across / width,
            box.height() * down / height,
        )

    def _read(self, pixels: Bytes) -> None:
        """Read a text's two colours from the pixels in a box."""
        words = self.view.source.words if self.view.source else "a picture"
        # SciPy, by which this is done, takes long to load and is wanted nowhere else in the window.
        from high_pair.measure.separation import NoText, read_text

        def run() -> ReadText | NoText:
            try:
                return read_text(pixels)
            except NoText as problem:
                return problem

        def done(found: ReadText | NoText) -> None:
            if isinstance(found, NoText):
                self.view.say(str(found))
                return
            text, behind = from_levels(found.colour), from_levels(found.backdrop)
            self.bench.state.set_pair(text, behind, f"read from {words}")
            self.leave()
            self.bench.told.emit(read_words(found))

        self.window.controller.work(run, done)

    # Where from

    def show_picture(self, image: QImage, words: str) -> None:
        """Pick from a picture."""
        self._show(PickSource(words, pixels_of(image)))

    def open_picture(self, path: Path) -> None:
        """Pick from a picture's file."""
        processes = self.window.controller.processes
        self.window.controller.work(
            lambda: PickSource(path.name, processes.picture(path)), self._show
        )

    def _show(self, source: PickSource) -> None:
        self.window.show_desk("bench")
        if not self.view.wanted:
            self.view.want(list(BOTH))
        self.bench.show_picking(True)
        self.view.show_source(source)

    def from_page(self) -> None:
        """Pick from the page that the Review desk shows."""
        file, page = self.window.desk.file, self.window.desk.page
        if file is None or page < 0:
            self.view.say("No page is open. Open a file, choose the screen, or paste a picture.")
            return
        document = file.document
        name = file.base.pages[page].name

        def run() -> PickSource:
            shown, backdrop = document.run(tasks.pick_from, page)
            return PickSource(f"{file.name}, {name.lower()}", shown, backdrop)

        def done(source: PickSource) -> None:
            self.view.show_source(source)
            if self.marking:
                self.view.canvas.draw_box(True)

        self.view.say("Painting the page…")
        self.window.controller.work(run, done)

    def from_clipboard(self) -> None:
        """Pick from a picture on the clipboard."""
        image = QGuiApplication.clipboard().image()
        if image.isNull():
            self.view.say(NOTHING_PASTED)
            return
        self.show_picture(image, "a pasted picture")

    def from_screen(self) -> None:
        """Pick from the screen, in the way that there is here."""
        way = way_to_screen()
        if way is ScreenWay.GRAB:
            screen = self.window.screen()
            self.window.hide()
            QTimer.singleShot(VANISHING, lambda: self._grab(screen))
        elif way is ScreenWay.PORTAL:
            self._ask_desktop()
        else:
            self.view.say(NO_WAY)

    def _grab(self, screen: QScreen) -> None:
        source = grab(screen)
        self.window.show()
        self.window.activateWindow()
        if source is None:
            self.view.say(NO_WAY)
        else:
            self.view.show_source(source)

    # The desktop's own picker

    def _ask_desktop(self) -> None:
        """Let the desktop pick, on a thread that waits for the user."""
        if self.asking_desktop:
            return
        self.asking_desktop = True
        self.view.say(f"Pick the {self.view.wanted[0] if self.view.wanted else 'colour'} anywhere.")

        def run() -> None:
            try:
                found = pick_colour()
            except NoPortal as problem:
                self._failed.emit(str(problem))
            else:
                self._picked.emit(found)

        threading.Thread(target=run, daemon=True, name="desktop's picker").start()

    def _desktop_picked(self, found: Colour | None) -> None:
        self.asking_desktop = False
        if found is None:
            self.view.say("Nothing was picked.")
            return
        side = self.view.wanted.pop(0) if self.view.wanted else Side.FOREGROUND
        self._taken(side, found, "picked from the screen")
        if self.view.wanted:
            self.view.refresh()
            self._ask_desktop()
        else:
            self.leave()

    def _desktop_failed(self, words: str) -> None:
        self.asking_desktop = False
        self.view.say(words)
