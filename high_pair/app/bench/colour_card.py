"""One colour of the Bench: its swatch, its field, its notations, its sliders."""

from __future__ import annotations

import functools

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QBoxLayout,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
)

from high_pair.app.bench.state import BenchState, Side
from high_pair.app.bench.tone_slider import ToneSlider
from high_pair.app.colour_field import ColourField, Swatch
from high_pair.app.theme import SMALL_PIXELS, Theme, font
from high_pair.colour.notation import write
from high_pair.remedy.by_hand import Channel, Steps, ratios_with, step_of, steps_of, value_at
from high_pair.scene.paint import Colour

SHOWN = ("hex", "rgb", "hsl", "oklch", "lab", "cmyk")
WORDS_WIDTH = 332
NAMES = {Side.FOREGROUND: "Foreground", Side.BACKDROP: "Backdrop"}


class ColourCard(QFrame):
    """The card of one side. copied: the text that was put on the clipboard."""

    copy_asked = Signal(str)
    pick_asked = Signal(object)

    def __init__(self, state: BenchState, side: Side, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("card")
        self.state = state
        self.side = side
        name = NAMES[side]
        self.swatch = Swatch(theme)
        self.field = ColourField(f"{name}, in any notation")
        self.field.setFont(font(17))
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.said.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.said.setAccessibleName(f"What is wrong with the {name.lower()}")
        self.notations: dict[str, QPushButton] = {}
        self.sliders = {
            channel: ToneSlider(theme, channel, f"{name} {channel.value}") for channel in Channel
        }
        self.values = {channel: QLabel() for channel in Channel}
        self.nearest = QPushButton("Nearest pass")
        self.nearest.setToolTip(f"The nearest {name.lower()} of this hue that passes")
        self.pick = QPushButton("Pick")
        self.pick.setToolTip(f"Pick the {name.lower()} from a page, a picture or the screen")
        self._shown: Colour | None = None
        self._steps: dict[Channel, tuple[tuple[float, ...], Steps]] = {}
        self._lay_out(name)
        self.field.taken.connect(lambda taken: state.set_colour(side, taken))
        self.field.said.connect(self._say)
        self.field.editingFinished.connect(state.end_gesture)
        for channel, slider in self.sliders.items():
            slider.valueChanged.connect(functools.partial(self._slid, channel))
            slider.sliderReleased.connect(state.end_gesture)
        self.pick.clicked.connect(lambda: self.pick_asked.emit(side))

    def _lay_out(self, name: str) -> None:
        self.parts = QBoxLayout(QBoxLayout.Direction.LeftToRight, self)
        self.parts.setContentsMargins(14, 10, 14, 10)
        self.parts.setSpacing(14)
        lead = QHBoxLayout()
        lead.setSpacing(14)
        lead.addWidget(self.swatch, 0, Qt.AlignmentFlag.AlignTop)
        lead.addLayout(self._words(name), 0)
        lead.addStretch(1)
        self.parts.addLayout(lead)
        self.parts.addLayout(self._slider_rows(), 1)
        self.buttons = QBoxLayout(QBoxLayout.Direction.TopToBottom)
        self.buttons.setSpacing(8)
        for button in (self.nearest, self.pick):
            button.setMinimumWidth(112)
            self.buttons.addWidget(button)
        self.buttons.addStretch(1)
        self.parts.addLayout(self.buttons)

    def set_narrow(self, narrow: bool) -> None:
        """Put the parts one below another where there is no room beside."""
        ways = QBoxLayout.Direction.TopToBottom, QBoxLayout.Direction.LeftToRight
        self.parts.setDirection(ways[0] if narrow else ways[1])
        self.buttons.setDirection(ways[1] if narrow else ways[0])

    def _words(self, name: str) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(4)
        # Both cards' sliders begin at one line, however long the notations are.
        column.addStrut(WORDS_WIDTH)
        title = QLabel(name)
        title.setProperty("heading", True)
        title.setBuddy(self.field)
        column.addWidget(title)
        self.field.setFixedWidth(232)
        column.addWidget(self.field)
        self.said.setFixedWidth(WORDS_WIDTH)
        column.addWidget(self.said)
        grid = QGridLayout()
        grid.setHorizontalSpacing(2)
        grid.setVerticalSpacing(0)
        modifier = "" if self.side is Side.FOREGROUND else "Alt+"
        for number, notation in enumerate(SHOWN, start=1):
            button = QPushButton()
            button.setProperty("copies", True)
            button.setFont(font(SMALL_PIXELS - 1))
            key = f"{modifier}{number}"
            button.setToolTip(f"Copy as {notation} ({key})")
            button.clicked.connect(functools.partial(self.copy_notation, notation))
            button.setFixedWidth(WORDS_WIDTH // 2 - 1)
            self.notations[notation] = button
            grid.addWidget(button, (number - 1) // 2, (number - 1) % 2)
        column.addLayout(grid)
        column.addStretch(1)
        return column

    def _slider_rows(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(0)
        for row, (channel, slider) in enumerate(self.sliders.items()):
            name = QLabel(channel.value.capitalize())
            name.setBuddy(slider)
            grid.addWidget(name, row, 0)
            grid.addWidget(slider, row, 1)
            value = self.values[channel]
            value.setMinimumWidth(40)
            grid.addWidget(value, row, 2)
        grid.setColumnStretch(1, 1)
        grid.setRowStretch(len(self.sliders), 1)
        return grid

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.setVisible(bool(words))

    def _slid(self, channel: Channel, step: int) -> None:
        self.state.set_channel(self.side, channel, value_at(channel, step))

    def copy_notation(self, notation: str) -> None:
        """Ask for the colour in a notation on the clipboard."""
        shown = self.state.colour(self.side)
        self.copy_asked.emit(write(shown.levels, notation, shown.opacity))

    def refresh(self) -> None:
        """Show the state's colour."""
        tone, shown = self.state.now.tone(self.side), self.state.colour(self.side)
        other = self.state.colour(self.side.other)
        self.field.show_colour(shown)
        if shown != self._shown:
            self._shown = shown
            self.swatch.show_colour(shown)
            for notation, button in self.notations.items():
                words = write(shown.levels, notation, shown.opacity)
                button.setText(words)
                button.setAccessibleName(f"Copy {words}")
        texts = {
            Channel.LIGHTNESS: f"{tone.lightness * 100:.1f}",
            Channel.CHROMA: f"{tone.chroma:.3f}",
            Channel.HUE: f"{tone.hue:.0f}°",
        }
        for channel, slider in self.sliders.items():
            # Where a slider leads depends on the two other channels: it is worked out anew
            # only when they change.
            key = tuple(tone.value(each) for each in Channel if each is not channel)
            known = self._steps.get(channel)
            if known is None or known[0] != key:
                known = (key, steps_of(tone, channel))
                self._steps[channel] = known
            is_text = self.side is Side.FOREGROUND
            ratios = ratios_with(known[1].colours, tone.opacity, other, is_text)
            slider.show_steps(
                known[1], ratios >= self.state.required, step_of(channel, tone.value(channel))
            )
            self.values[channel].setText(texts[channel])
