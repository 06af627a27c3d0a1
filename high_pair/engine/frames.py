"""Painting a page to pixels, and being sure that what was painted is what was asked for.

A grab may show the frame before. So a small mark below the page, which the
page can't cover, takes another colour with every change; style and mark reach
the screen in one frame, and a grab counts only when it shows the mark's colour.
"""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPoint, QRect
from PySide6.QtGui import QImage, QRegion
from PySide6.QtQuickWidgets import QQuickWidget
from PySide6.QtWidgets import QWidget

from high_pair.engine.page import BrowserPage, PageProblem
from high_pair.engine.waiting import pause, wait_until

Pixels = NDArray[np.uint8]
Words = NDArray[np.uint32]
# A higher view fails to paint without a word: 20,000 px were whole, 30,000 px were not.
TALLEST = 16_000
# What a painting of a whole page may hold: up to four are held at a time, in about a gigabyte.
MOST_PIXELS = 26_000_000
# So many rows of a painting are worked on at a time, where several are compared.
BAND = 512
# And so many of the view are brought over at a time.
SLICE = 2_000
# A page of more elements, each frame of which takes seconds, is painted as far as the view alone.
MOST_ELEMENTS = 150_000
COUNT = "document.getElementsByTagName('*').length"
MARK = 4
# After so many seconds without a sign of a frame one looks all the same.
BLIND = 0.4
# A frame is waited for so many seconds,
FRAME = 10.0
# and where a page would have led elsewhere, for which the engine waits in vain, so many.
FRAME_OF_LEAVING = 3.0
# Colours of the mark in turn: far apart, so that none is taken for another.
MARKS = ((255, 0, 255), (0, 255, 255), (255, 255, 0), (0, 0, 255))


@dataclass(frozen=True)
class Extent:
    """The page's size in CSS pixels; rows: of device pixels that are painted of it."""

    width: int
    height: int
    rows: int


class Painter:
    """Paints a page in a view that is as high as the page."""

    def __init__(self, page: BrowserPage) -> None:
        self.page = page
        self.zoom = page.wanted.zoom
        self._turn = 0
        self._view_rows = 0
        # Counts the frames that the view has shown.
        self._frames = 0
        for inner in page.view.findChildren(QQuickWidget):
            inner.quickWindow().afterRendering.connect(self._count_frame)
        self.extent = Extent(0, 0, 0)

    @property
    def view_rows(self) -> int:
        """How many rows of the page the view shows at a time, in device pixels."""
        return self._view_rows

    @property
    def whole(self) -> bool:
        """Whether the view holds all of the page that is painted."""
        return self.extent.rows <= self._view_rows

    def _count_frame(self) -> None:
        self._frames += 1

    def unroll(self) -> None:
        """Make the view as high as the page, and keep what would grow with it as it was."""
        page = self.page
        page.ask("highPair.layOut()")
        page.ask("highPair.noteHeights()")
        width, height = page.ask("highPair.size()")
        for _ in range(3):
            view_height = min(TALLEST, round(height * self.zoom)) + MARK
            page.view.resize(page.wanted.width, view_height)
            pause(0.02)
            page.settle(quiet=0.1)
            pinned = page.ask("highPair.pinHeights()")
            width, now = page.ask("highPair.size()")
            if now == height and not pinned:
                break
            height = now
        self._view_rows = page.view.height() - MARK
        rows = min(round(height * self.zoom), MOST_PIXELS // max(1, page.wanted.width))
        if rows > self._view_rows and page.ask(COUNT) > MOST_ELEMENTS:
            # What takes so long to paint isn't painted part by part.
            rows = self._view_rows
        elif rows > self._view_rows:
            self._go_through(rows)
            width, height = page.ask("highPair.size()")
            rows = min(round(height * self.zoom), MOST_PIXELS // max(1, page.wanted.width))
        self.extent = Extent(int(width), int(height), max(1, rows))
        page.hold_still()

    def _go_through(self, rows: int) -> None:
        """Scroll through a page that the view can't hold, for what shows when it is reached."""
        for top in range(0, rows, self._view_rows):
            self.page.ask(f"highPair.scrollTo({top / self.zoom}, false)")
            self.page.settle(quiet=0.1)
        self.page.ask("highPair.scrollTo(0, false)")
        self.page.settle(quiet=0.1)

    def show(self, sheet: str) -> None:
        """Take a style sheet of ours in place of the one before, and wait for its frame."""
        colour = self._next_mark()
        self.page.ask(f"highPair.show({json.dumps(sheet)}, {json.dumps(colour)})")
        self._wait_for(colour)

    def show_again(self) -> None:
        """Wait for a frame with everything as it is."""
        colour = self._next_mark()
        self.page.ask(f"highPair.mark({json.dumps(colour)})")
        self._wait_for(colour)

    def time_frame(self) -> float:
        """Give the seconds that one frame of the whole page takes, from a change to its pixels."""
        self.show("html{visibility:hidden!important}")
        start = time.monotonic()
        self.show("")
        self.grab()
        return time.monotonic() - start

    def _next_mark(self) -> tuple[int, int, int]:
        self._turn += 1
        return MARKS[self._turn % len(MARKS)]

    def _wait_for(self, mark: tuple[int, int, int]) -> None:
        place = QRect(0, self._view_rows, MARK, MARK)

        def there() -> bool:
            found = self.page.view.grab(place).toImage().pixelColor(1, MARK - 2)
            return (found.red(), found.green(), found.blue()) == mark

        seen, looked = self._frames, time.monotonic()

        def painted() -> bool:
            # Looking takes time away from what is waited for: only when there is something new.
            nonlocal seen, looked
            now = time.monotonic()
            if self._frames == seen and now - looked < BLIND:
                return False
            seen, looked = self._frames, now
            return there()

        refused = self.page.page.refused
        if not wait_until(painted, FRAME_OF_LEAVING if refused else FRAME):
            if refused:
                # The engine waits for the page to which a script leads before it paints this one.
                raise PageProblem("it leads elsewhere at once, where a file mayn't lead", hung=True)
            raise PageProblem("the engine doesn't paint it")

    def grab(self) -> Words:
        """Give the whole page's pixels as shown now, uint32 (rows, width): 0xFFRRGGBB each."""
        whole = np.zeros((self.extent.rows, self.page.wanted.width), np.uint32)

        def keep(first: int, words: Words) -> None:
            whole[first : first + len(words)] = words

        self._go_over(keep)
        return whole

    def grab_colours(self) -> Pixels:
        """Give the whole page's pixels as shown now, uint8 (rows, width, 3)."""
        whole = np.zeros((self.extent.rows, self.page.wanted.width, 3), np.uint8)

        def keep(first: int, words: Words) -> None:
            whole[first : first + len(words)] = colours_of(words)

        self._go_over(keep)
        return whole

    def _go_over(self, keep: Callable[[int, Words], None]) -> None:
        """Bring the page over; keep gets the first row of some, and their pixels."""
        rows = self.extent.rows
        if self.whole:
            self._bring(keep, 0, rows, 0)
            return
        top = 0
        while top < rows:
            # The page can't be scrolled beyond its end: what was reached is what counts.
            self.page.ask(f"highPair.scrollTo({top / self.zoom}, {str(top > 0).lower()})")
            self.show_again()
            reached = round(float(self.page.ask("highPair.scrolled()")) * self.zoom)
            stop = min(rows, reached + self._view_rows)
            self._bring(keep, top, stop, reached)
            if stop <= top:
                break
            top = stop
        self.page.ask("highPair.scrollTo(0, false)")
        self.show_again()

    def _bring(
        self, keep: Callable[[int, Words], None], top: int, stop: int, scrolled: int
    ) -> None:
        """Bring rows of the page over, some at a time: an image of the whole view takes 80 MB."""
        for first in range(top, stop, SLICE):
            last = min(stop, first + SLICE)
            part = QRect(0, first - scrolled, self.page.wanted.width, last - first)
            # Its pixels are there as long as it is.
            image = self._rendered(part)
            keep(first, self._words_of(image))

    def holds(self, box: list[float]) -> bool:
        """Tell whether a part of the page, in CSS pixels, lies within the view as it stands."""
        return (box[1] + box[3]) * self.zoom <= self._view_rows

    def grab_part(self, box: list[float], scrolled: float = 0.0) -> Words:
        """Give the pixels of a part of the page, in CSS pixels, as shown now in the view.

        scrolled: how far the page is, in CSS pixels.
        """
        x, y, width, height = (value * self.zoom for value in box)
        above = round(scrolled * self.zoom)
        left, top = max(0, int(x)), max(0, int(y) - above)
        right = min(self.page.wanted.width, int(np.ceil(x + width)))
        rows = self._view_rows if above else self.extent.rows
        bottom = min(rows, int(np.ceil(y + height)) - above)
        return self._grab_view(QRect(left, top, max(1, right - left), max(1, bottom - top)))

    def _grab_view(self, part: QRect | None = None) -> Words:
        # Its pixels are there as long as it is.
        image = self._rendered(part)
        return self._words_of(image).copy()

    def _rendered(self, part: QRect | None = None) -> QImage:
        view = self.page.view
        image = QImage(part.size() if part else view.size(), QImage.Format.Format_RGB32)
        region = QRegion(part) if part else QRegion()
        view.render(image, QPoint(0, 0), region, QWidget.RenderFlag.DrawChildren)
        return image

    def _words_of(self, image: QImage) -> Words:
        """Give an image's pixels while it is there."""
        data = np.frombuffer(image.constBits(), np.uint32)
        return data.reshape(image.height(), image.width())[: self._view_rows]


def bands(rows: int) -> Iterator[slice]:
    """Go through the rows of a painting, some at a time."""
    for top in range(0, rows, BAND):
        yield slice(top, min(rows, top + BAND))


def differs(words: Words, colours: Pixels) -> NDArray[np.bool_]:
    """Tell which pixels, uint32 (h, w), aren't those of colours, uint8 (h, w, 3); bool (h, w)."""
    found = np.empty(words.shape, bool)
    for band in bands(len(words)):
        found[band] = (colours_of(words[band]) != colours[band]).any(axis=-1)
    return found


def colours_of(words: Words) -> Pixels:
    """Give pixels as red, green and blue, uint8 (h, w, 3) or (n, 3)."""
    # An engine's pixel is its levels from blue on in memory, whatever the words say.
    levels = words.view(np.uint8).reshape(*words.shape, 4)
    found = np.empty((*words.shape, 3), np.uint8)
    # Channel by channel is three times as fast as all at once.
    for channel in range(3):
        found[..., channel] = levels[..., 2 - channel]
    return found
