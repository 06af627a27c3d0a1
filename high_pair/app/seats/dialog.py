"""Making a seat, or changing one: every setting with its unit, and what it is after."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QScrollArea,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.choice_box import ChoiceBox
from high_pair.app.sets.apart import WORDS as EYES
from high_pair.app.theme import Theme
from high_pair.colour.vision import Eyes
from high_pair.review.seats import BOUNDS, LONGEST_NAME
from high_pair.scene.seat import Needs, Seat


@dataclass(frozen=True)
class Setting:
    """A number of a seat: its name, words, unit, decimals, and where it comes from.

    bend: its slider's way is the share of its bounds' width to this power: 3 where they are wide.
    """

    name: str
    words: str
    unit: str
    decimals: int
    source: str
    bend: int = 3


SEAT = (
    Setting("distance", "Distance", " m", 2, "From the eyes to the picture or the screen"),
    Setting("picture", "Height of the picture", " m", 2, "Of a projection, or of a window"),
    Setting("pixels_per_inch", "Pixels an inch", "", 0,
            "Of a page: CSS has 96; phones show 160 of them on an inch"),
    Setting("peak", "White", " cd/m²", 1, "The screen's own, in the dark"),
    Setting("black", "Black", " cd/m²", 2, "The screen's own, in the dark"),
    Setting("lux", "Light on it", " lx", 0, "300 to 500 in an office, over 10,000 on a bright day"),
    Setting("reflectance", "It throws back", "", 3, "0.04 of glass, 0.9 of a projection's screen",
            bend=1),
    Setting("acuity", "Acuity", " logMAR", 2, "0 of usual eyes, 1 of 20/200", bend=1),
    Setting("loss", "Loss of contrast", " log", 2, "0 of usual eyes, as a letter chart gives it",
            bend=1),
)  # fmt: skip
NEEDS = (
    Setting("angle", "Height of x", "′", 1, "12 minutes of arc: Legge and Bigelow 2011"),
    Setting("reserve", "Reserve", " times", 1, "10, for fluent reading: Whittaker and others 1993"),
    Setting("calm", "Unrest at most", "", 2, "After Scharff, Hill and Ahumada 2000"),
)
BY_HEIGHT, BY_PIXELS = "a picture of some height", "at its pixels"


STEPS = 1000
BOX_WIDTH = 124


class NumberRow(QWidget):
    """A number of a seat, with a slider beside it."""

    changed = Signal()

    def __init__(self, setting: Setting, value: float) -> None:
        super().__init__()
        self.setting = setting
        self.least, most = BOUNDS[setting.name]
        self.width_of_bounds = most - self.least
        self.box = _spin(setting, value)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, STEPS)
        self.slider.setPageStep(STEPS // 20)
        self.slider.setMinimumWidth(90)
        self.box.setFixedWidth(BOX_WIDTH)
        self.slider.setAccessibleName(f"{setting.words}, by slider")
        self.slider.setToolTip(setting.source)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.slider, 1)
        row.addWidget(self.box)
        self._follow()
        self.slider.valueChanged.connect(self._slid)
        self.box.valueChanged.connect(self._typed)

    def _slid(self, place: int) -> None:
        share = (place / STEPS) ** self.setting.bend
        self.box.valueChanged.disconnect(self._typed)
        self.box.setValue(self.least + share * self.width_of_bounds)
        self.box.valueChanged.connect(self._typed)
        self.changed.emit()

    def _typed(self) -> None:
        self._follow()
        self.changed.emit()

    def _follow(self) -> None:
        share = (self.box.value() - self.least) / self.width_of_bounds
        self.slider.blockSignals(True)
        self.slider.setValue(round(STEPS * share ** (1 / self.setting.bend)))
        self.slider.blockSignals(False)


class SeatDialog(QDialog):
    """Asks for a seat. changed: a sound seat, while it is being changed."""

    changed = Signal(object)

    def __init__(self, parent: QWidget, seat: Seat, theme: Theme) -> None:
        super().__init__(parent)
        self.setWindowTitle("A seat of your own")
        self.name = QLineEdit(seat.name)
        self.name.setMaxLength(LONGEST_NAME)
        self.shown = ChoiceBox(theme)
        self.shown.addItems([BY_HEIGHT, BY_PIXELS])
        self.shown.setCurrentIndex(0 if seat.picture is not None else 1)
        self.eyes = ChoiceBox(theme)
        for eyes, words in EYES.items():
            self.eyes.addItem(words, eyes)
        self.eyes.setCurrentIndex(list(Eyes).index(seat.eyes))
        self.grey = QCheckBox("Without colours, as a grey print")
        self.grey.setChecked(seat.grey)
        given = {each.name: getattr(seat, each.name) for each in SEAT}
        # What isn't stated begins with a metre.
        given["picture"] = given["picture"] or 1.0
        given |= {each.name: getattr(seat.needs, each.name) for each in NEEDS}
        self.rows = {each.name: NumberRow(each, given[each.name]) for each in (*SEAT, *NEEDS)}
        self.numbers = {name: row.box for name, row in self.rows.items()}
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Save | QDialogButtonBox.StandardButton.Cancel
        )
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        self._lay_out()
        self._refresh()
        self.name.textChanged.connect(self._refresh)
        for signal in (
            self.shown.currentIndexChanged,
            self.eyes.currentIndexChanged,
            self.grey.toggled,
            *(row.changed for row in self.rows.values()),
        ):
            signal.connect(self._changed)

    def _lay_out(self) -> None:
        inside = QWidget()
        form = QFormLayout(inside)
        form.addRow("Name", self.name)
        form.addRow("Pages are shown", self.shown)
        for each in SEAT:
            form.addRow(each.words, self.rows[each.name])
        form.addRow("Eyes", self.eyes)
        form.addRow("", self.grey)
        heading = QLabel("What reading asks there")
        heading.setProperty("heading", True)
        form.addRow(heading)
        for each in NEEDS:
            form.addRow(each.words, self.rows[each.name])
            source = QLabel(each.source)
            source.setProperty("quiet", True)
            source.setWordWrap(True)
            form.addRow("", source)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(inside)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setMinimumSize(inside.minimumSizeHint().width() + 24, 300)
        column = QVBoxLayout(self)
        column.addWidget(area, 1)
        column.addWidget(self.said)
        column.addWidget(self.buttons)
        self.resize(430, 620)

    def _changed(self) -> None:
        self._refresh()
        if self._sound:
            self.changed.emit(self.seat)

    @property
    def _sound(self) -> bool:
        return self.numbers["black"].value() < self.numbers["peak"].value()

    def _refresh(self) -> None:
        by_height = self.shown.currentIndex() == 0
        self.rows["picture"].setEnabled(by_height)
        self.rows["pixels_per_inch"].setEnabled(not by_height)
        sound = self._sound
        named = bool(self.name.text().strip())
        if not sound:
            self.said.setText("Black has to be darker than white.")
        elif not named:
            self.said.setText("Give it a name.")
        else:
            self.said.setText(f"Black and white are washed to {self.seat.washed:.3g}:1 there.")
        self.buttons.button(QDialogButtonBox.StandardButton.Save).setEnabled(sound and named)

    @property
    def seat(self) -> Seat:
        """The seat as it stands in the form."""
        value = {name: box.value() for name, box in self.numbers.items()}
        by_height = self.shown.currentIndex() == 0
        black = max(value["black"], value["peak"] / 1e6)
        return Seat(
            " ".join(self.name.text().split()),
            value["distance"],
            value["picture"] if by_height else None,
            value["pixels_per_inch"],
            value["peak"],
            black,
            value["lux"],
            value["reflectance"],
            value["acuity"],
            value["loss"],
            # Qt gives back a plain word.
            Eyes(self.eyes.currentData()),
            self.grey.isChecked(),
            Needs(value["angle"], value["reserve"], value["calm"]),
        )


def _spin(setting: Setting, value: float) -> QDoubleSpinBox:
    box = QDoubleSpinBox()
    box.setDecimals(setting.decimals)
    box.setRange(*BOUNDS[setting.name])
    box.setSuffix(setting.unit)
    box.setValue(value)
    box.setToolTip(setting.source)
    box.setAccessibleName(setting.words)
    box.setSingleStep(10.0 ** -min(setting.decimals, 1))
    return box
