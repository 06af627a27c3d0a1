"""The line of log luminance: colours are chosen on it, and moved along it."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QToolTip

from high_pair.app.sets.line_layout import Chip
from high_pair.app.sets.line_picture import MARGIN, MARK, LinePicture
from high_pair.app.sets.state import SetsState
from high_pair.app.sets.words import pair_words, shown_name
from high_pair.app.theme import Theme
from high_pair.colour.ratio import shown_ratio
from high_pair.colour.srgb import Floats, hex_of
from high_pair.remedy.by_hand import HIGHEST, Channel, Tone, steps_of, value_at
from high_pair.review.set_drafts import far_apart, heights_of
from high_pair.scene.colour_set import SetPair

STEP, LARGE_STEP = 0.005, 0.05


class LineView(LinePicture):
    """The view. It shows the state, and moves and chooses in it."""

    def __init__(self, state: SetsState, theme: Theme) -> None:
        super().__init__(state, theme)
        self._dragged = ""
        self._walk: tuple[Tone, Floats] | None = None
        self.setMouseTracking(True)

    # What is where

    def chip_at(self, point: QPointF) -> Chip | None:
        """Give the chip at a point."""
        if self.layout_now is None:
            return None
        for chip in reversed(self.layout_now.chips):
            if self.box_of(chip).adjusted(-3, -3, 3, 3).contains(point):
                return chip
        return None

    def pair_at(self, point: QPointF) -> SetPair | None:
        """Give the pair whose mark, or line, is at a point."""
        nearest: tuple[float, SetPair | None] = (6.0, None)
        for pair in self._pairs:
            ends = self._ends(pair)
            distance = _distance(point, *ends)
            middle = (ends[0] + ends[1]) / 2
            if math.hypot(point.x() - middle.x(), point.y() - middle.y()) < MARK * 0.7:
                distance = 0.0
            nearest = min(nearest, (distance, pair), key=lambda each: each[0])
        return nearest[1]

    # Choosing and moving

    def resizeEvent(self, _event: object) -> None:
        """Place everything anew."""
        self.refresh()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose the colour or the pair that is there."""
        if event.button() != Qt.MouseButton.LeftButton:
            return
        chip = self.chip_at(event.position())
        if chip is not None:
            self._dragged = chip.name
            self.state.choose(chip.name)
            return
        pair = self.pair_at(event.position())
        if pair is not None:
            self.state.choose_pair((pair.text, pair.backdrop))
        else:
            self.state.choose("")

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Move the colour that is dragged along the line."""
        if not event.buttons() & Qt.MouseButton.LeftButton or not self._dragged:
            chip = self.chip_at(event.position())
            movable = chip is not None and self.state.is_movable(chip.name)
            shape = Qt.CursorShape.SizeHorCursor if movable else Qt.CursorShape.ArrowCursor
            self.setCursor(shape)
            return
        height = (event.position().x() - MARGIN) / self._width()
        self.move_to(self._dragged, min(1.0, max(0.0, height)))

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        """End the drag."""
        self._dragged = ""
        self.state.end_gesture()

    def move_to(self, name: str, height: float) -> None:
        """Move a colour to a height on the line, 0 to 1."""
        if not self.state.is_movable(name):
            return
        walk = self._walk_of(self.state.tone(name))
        nearest = int(np.argmin(np.abs(walk - height)))
        self.state.move(name, value_at(Channel.LIGHTNESS, nearest))

    def _walk_of(self, tone: Tone) -> Floats:
        """Give the heights of a colour at all steps of lightness, kept while it is moved."""
        known = self._walk
        if known is None or (known[0].chroma, known[0].hue) != (tone.chroma, tone.hue):
            known = self._walk = (tone, heights_of(steps_of(tone, Channel.LIGHTNESS).colours))
        return known[1]

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Choose with up and down, move with left and right."""
        ways = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        turns = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        key = Qt.Key(event.key())
        if key in ways and self.state.chosen:
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self.move_to_pass(ways[key])
            else:
                large = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
                self._move_by(ways[key] * (LARGE_STEP if large else STEP))
        elif key in turns:
            self.choose_next(turns[key])
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self.state.choose("")
            self.choose_next(1 if key == Qt.Key.Key_Home else -1)
        else:
            super().keyPressEvent(event)

    def _move_by(self, by: float) -> None:
        name = self.state.chosen
        if self.state.is_movable(name):
            self.state.move(name, self.state.tone(name).lightness + by)

    def move_to_pass(self, way: int) -> None:
        """Move the chosen colour to where its pairs pass next, darker or lighter."""
        name = self.state.chosen
        if not self.state.is_movable(name):
            return
        heights = self._walk_of(self.state.tone(name))
        passing = self.passing(heights)
        here = self.state.tone(name).lightness
        steps = np.arange(len(heights)) * HIGHEST[Channel.LIGHTNESS] / (len(heights) - 1)
        beyond = np.flatnonzero(passing & ((steps - here) * way > 0.001))
        if len(beyond):
            step = int(beyond[0] if way > 0 else beyond[-1])
            self.state.end_gesture()
            self.state.move(name, value_at(Channel.LIGHTNESS, step))

    def passing(self, heights: Floats) -> np.ndarray:
        """Tell at which heights of the chosen colour all its pairs pass, bool (n,)."""
        name = self.state.chosen
        found = np.ones(len(heights), bool)
        for pair in self._pairs:
            if name in (pair.text, pair.backdrop) and pair.text != pair.backdrop:
                other = pair.backdrop if pair.text == name else pair.text
                reach = far_apart(pair.required) - 1e-9
                found &= np.abs(heights - self._heights[other]) >= reach
        return found

    def choose_next(self, by: int) -> None:
        """Choose the next colour, from dark to light."""
        colours = self.state.looked_at
        if colours is None or not colours.colours:
            return
        names = sorted((each.name for each in colours.colours), key=self._heights.__getitem__)
        chosen = self.state.chosen
        place = names.index(chosen) + by if chosen in names else (0 if by > 0 else -1)
        self.state.choose(names[place % len(names)])

    def event(self, event: object) -> bool:
        """Name the chip, or the pair, that is pointed at."""
        if isinstance(event, QHelpEvent) and event.type() == QHelpEvent.Type.ToolTip:
            words = self._words_at(QPointF(event.pos()))
            if words:
                QToolTip.showText(event.globalPos(), words, self)
            else:
                QToolTip.hideText()
            return True
        return super().event(event)  # type: ignore[arg-type]

    def _words_at(self, point: QPointF) -> str:
        colours, chip = self.state.looked_at, self.chip_at(point)
        if colours is None:
            return ""
        if chip is not None:
            found = colours.colour(chip.name)
            assert found is not None
            stays = ", left as it is" if found.leave else ""
            return f"{shown_name(chip.name, colours)} {hex_of(found.levels)}{stays}"
        pair = self.pair_at(point)
        if pair is None:
            return ""
        ratio = self._ratios[self._pairs.index(pair)]
        return f"{pair_words(pair, colours)}: {shown_ratio(ratio)} of {pair.required:g}"


def _distance(point: QPointF, start: QPointF, end: QPointF) -> float:
    """Give how far a point is from a line between two others."""
    across, down = end.x() - start.x(), end.y() - start.y()
    length = across**2 + down**2
    share = 0.0
    if length:
        share = ((point.x() - start.x()) * across + (point.y() - start.y()) * down) / length
    share = min(1.0, max(0.0, share))
    return math.hypot(point.x() - start.x() - share * across, point.y() - start.y() - share * down)
