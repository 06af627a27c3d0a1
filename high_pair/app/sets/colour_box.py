"""The chosen colour: what it is, its lightness, where it stands, what is nearest to it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.colour_field import ColourField, Swatch
from high_pair.app.elided_label import ElidedLabel
from high_pair.app.rows import pages_words, plural
from high_pair.app.sets.apart import ApartView, closest_of
from high_pair.app.sets.line_view import LineView
from high_pair.app.sets.state import SetsState
from high_pair.app.sets.words import shown_name
from high_pair.app.theme import SMALL_PIXELS, Theme, font
from high_pair.app.track_slider import TrackSlider
from high_pair.colour.notation import write
from high_pair.measure.pairs import Pair
from high_pair.remedy.by_hand import STEPS, Channel, step_of, steps_of, value_at
from high_pair.review.set_drafts import heights_of
from high_pair.scene.colour_set import ColourSet, SetColour
from high_pair.scene.paint import Colour, from_levels

LIGHTNESS = Channel.LIGHTNESS
# So many pages are named, the rest counted.
MOST_NAMED = 5


class ColourBox(QWidget):
    """The box. rename_asked, remove_asked: of a kept set's colour."""

    rename_asked = Signal()
    remove_asked = Signal()

    def __init__(self, state: SetsState, line: LineView, theme: Theme) -> None:
        super().__init__()
        self.state, self.line = state, line
        self.swatch = Swatch(theme, QSize(76, 52))
        self.name, self.codes = (ElidedLabel(Qt.AlignmentFlag.AlignLeft) for _ in range(2))
        self.field = ColourField("Value of the colour")
        self.said = QLabel()
        self.slider = TrackSlider(theme, STEPS[LIGHTNESS], "Lightness", " with all its pairs")
        self.lightness = QLabel()
        self.leave = QCheckBox("Leave it as it is")
        self.leave.setToolTip("It isn’t moved when the set is mended, nor on the Review desk (L)")
        self.stands = QLabel()
        self.moves_with = QLabel()
        self.apart = ApartView(theme)
        self.rename = QPushButton("Rename…")
        self.remove = QPushButton("Remove")
        self._lay_out()
        self.field.taken.connect(self._take)
        self.field.said.connect(self._say)
        self.slider.valueChanged.connect(self._moved)
        self.slider.sliderReleased.connect(state.end_gesture)
        self.leave.clicked.connect(lambda on: state.set_leave(state.chosen, on))
        self.rename.clicked.connect(self.rename_asked)
        self.remove.clicked.connect(self.remove_asked)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        head = QHBoxLayout()
        head.setSpacing(12)
        head.addWidget(self.swatch)
        names = QVBoxLayout()
        names.setSpacing(4)
        self.name.setFont(font(15, bold=True))
        self.codes.setFont(font(SMALL_PIXELS))
        names.addWidget(self.name)
        names.addWidget(self.codes)
        names.addStretch(1)
        head.addLayout(names, 1)
        column.addLayout(head)
        column.addLayout(self._row("Value", self.field))
        self.said.setFont(font(SMALL_PIXELS))
        for label in (self.said, self.stands, self.moves_with):
            label.setWordWrap(True)
            label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.said.hide()
        column.addWidget(self.said)
        row = self._row("Lightness", self.slider)
        self.lightness.setFixedWidth(28)
        row.addWidget(self.lightness)
        column.addLayout(row)
        column.addWidget(self.moves_with)
        column.addWidget(self.leave)
        column.addLayout(self._row("Stands at", self.stands))
        nearest = QLabel("Nearest to it")
        nearest.setProperty("quiet", True)
        column.addWidget(nearest)
        column.addWidget(self.apart)
        self.own = QWidget()
        buttons = QHBoxLayout(self.own)
        buttons.setContentsMargins(0, 0, 0, 0)
        for button in (self.rename, self.remove):
            button.setProperty("tight", True)
            buttons.addWidget(button)
        buttons.addStretch(1)
        column.addWidget(self.own)

    @staticmethod
    def _row(words: str, widget: QWidget) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(8)
        label = QLabel(words)
        label.setProperty("quiet", True)
        label.setFixedWidth(66)
        label.setBuddy(widget)
        row.addWidget(label)
        row.addWidget(widget, 1)
        return row

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.setVisible(bool(words))

    def _take(self, typed: Colour) -> None:
        self.state.type_colour(self.state.chosen, typed.levels)

    def _moved(self, step: int) -> None:
        self.state.move(self.state.chosen, value_at(LIGHTNESS, step))

    def show_colour(
        self,
        found: SetColour,
        colours: ColourSet,
        uses: Mapping[tuple[str, str], Sequence[Pair]],
        noun: str,
    ) -> None:
        """Show a colour. uses: what stands where two colours meet; noun: for a page."""
        movable = self.state.is_movable(found.name)
        shown = from_levels(found.levels)
        self.swatch.show_colour(shown)
        self.name.setText(shown_name(found.name, colours))
        self.name.setToolTip(self.name.text())
        lightness, chroma, hue = self.state.tone(found.name).oklch
        code = f"oklch({lightness * 100:.0f}% {chroma:.2f} {hue:.0f})"
        self.codes.setText(f"{write(found.levels, 'hex')} · {code}")
        self.field.show_colour(shown)
        self._show_slider(found, movable)
        parent = shown_name(found.parent, colours)
        self.moves_with.setText(f"Derived from {parent}, {found.change}: it moves with that.")
        self.moves_with.setVisible(not movable)
        self.leave.setChecked(found.leave)
        self.leave.setVisible(movable)
        self.stands.setText(_stands(found.name, uses, noun))
        nearest = closest_of(colours, found.name)
        self.apart.show_closest(nearest, colours, named=False)
        self.own.setVisible(self.state.shows_kept)

    def _show_slider(self, found: SetColour, movable: bool) -> None:
        for widget in (self.slider, self.field):
            widget.setEnabled(movable)
        tone = self.state.tone(found.name)
        self.lightness.setText(f"{tone.lightness * 100:.0f}")
        steps = steps_of(tone, LIGHTNESS)
        passing = self.line.passing(heights_of(steps.colours))
        self.slider.show_track(steps.colours)
        self.slider.show_place(passing, step_of(LIGHTNESS, tone.lightness))


def _stands(name: str, uses: Mapping[tuple[str, str], Sequence[Pair]], noun: str) -> str:
    """Say as what a colour stands on the pages, and on which."""
    texts = [pair for names, pairs in uses.items() if names[0] == name for pair in pairs]
    behind = [pair for names, pairs in uses.items() if names[1] == name for pair in pairs]
    if not texts and not behind:
        return "no text, and behind none"
    parts = []
    if texts:
        parts.append(plural(len(texts), "text"))
    if behind:
        parts.append(f"behind {len(behind)}")
    pages = sorted({pair.page for pair in (*texts, *behind)})
    named = pages_words(pages, noun) if len(pages) <= MOST_NAMED else f"{len(pages)} {noun}s"
    return f"{', '.join(parts)}; {named}"
