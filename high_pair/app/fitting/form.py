"""The form of an overlay that is being fitted: strength, colour, and what its kind has."""

from __future__ import annotations

import functools
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QSize, Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QDoubleSpinBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.colour_field import ColourField, Swatch
from high_pair.app.fitting.handles import LEAST_GAP, SMALLEST, half_way, middle_for
from high_pair.app.images import swatch_icon
from high_pair.app.theme import Theme
from high_pair.app.track_slider import TrackSlider
from high_pair.colour.ratio import shown_ratio
from high_pair.colour.srgb import hex_of
from high_pair.remedy.strength import FULL
from high_pair.review.fitting import Fitting
from high_pair.scene.geometry import Box, turned
from high_pair.scene.overlay import Overlay, OverlayKind
from high_pair.scene.paint import Colour, from_levels

NAME_WIDTH, NAME_NARROW = 62, 54
# After this pause the track shows anew from where on it passes.
TRACK_MILLISECONDS = 80


def _spin(words: str, suffix: str, most: float) -> QDoubleSpinBox:
    spin = QDoubleSpinBox()
    spin.setRange(0.0, most)
    spin.setDecimals(0 if suffix == "%" else 1)
    spin.setSuffix(suffix if suffix == "%" else f" {suffix}")
    spin.setAccessibleName(words)
    spin.setToolTip(words)
    spin.setKeyboardTracking(False)
    spin.setMinimumHeight(28)
    return spin


class FittingForm(QFrame):
    """The form. changed: the overlay as it is now, and whether it passes; shown: it came to be."""

    changed = Signal(object, bool)
    shown = Signal()
    pick_asked = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.fitting: Fitting | None = None
        self.overlay: Overlay | None = None
        self.passes = False
        self._quiet = False
        self.strength = TrackSlider(theme, FULL, "Strength of the overlay in percent")
        self.strength.setSingleStep(1)
        self.percent = QLabel()
        self.percent.setFixedWidth(40)
        self.percent.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.swatch = Swatch(theme, QSize(28, 26))
        self.field = ColourField("Colour of the overlay")
        self.near = [QToolButton() for _ in range(3)]
        self.theme_button = QToolButton()
        self.theme_button.setText("…")
        self.theme_button.setToolTip("Colours of the theme, or picked from the page")
        self.theme_button.setFixedSize(QSize(28, 26))
        self.theme_button.setAccessibleName("Take a colour of the theme, or pick one")
        self.theme_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.theme_button.setStyleSheet(
            "QToolButton { padding: 0; min-height: 0; }"
            "QToolButton::menu-indicator { image: none; width: 0; }"
        )
        self.theme_menu = QMenu(self.theme_button)
        self.theme_button.setMenu(self.theme_menu)
        self.side = QComboBox()
        self.side.setAccessibleName("Side from which the ramp fades")
        self.room = _spin("Room round the text", "pt", 400.0)
        self.soften = _spin("Rounding of the corners", "pt", 400.0)
        self.full = _spin("At full strength up to this share of the way", "%", 100.0)
        self.middle = _spin("Half the strength is left at this share of the fading", "%", 75.0)
        self.middle.setMinimum(25.0)
        self.none = _spin("Gone from this share of the way on", "%", 100.0)
        self.said = QLabel()
        self.said.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.said.setWordWrap(True)
        self.least = QPushButton("Least that passes")
        self.least.setToolTip("Set the strength to the least that passes (M)")
        self.least.setProperty("tight", True)
        self._rows: dict[str, QWidget] = {}
        self._titles: list[QLabel] = []
        self.narrow = False
        self._lay_out()
        self._track_soon = QTimer(self)
        self._track_soon.setSingleShot(True)
        self._track_soon.setInterval(TRACK_MILLISECONDS)
        self._track_soon.timeout.connect(self.refresh_track)
        self._connect()
        self.hide()

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 8, 16, 0)
        column.setSpacing(5)
        self._row(column, "Strength", [self.strength, self.percent])
        self._row(column, "Colour", [self.swatch, self.field, *self.near, self.theme_button])
        self._row(column, "Fades", [self.side])
        self._row(column, "Room", [self.room, self.soften])
        self._row(column, "Way", [self.full, self.middle, self.none])
        row = QHBoxLayout()
        row.addWidget(self.said, 1)
        row.addWidget(self.least)
        column.addLayout(row)
        for button in self.near:
            button.setFixedSize(QSize(24, 24))

    def _row(self, column: QVBoxLayout, name: str, widgets: list[QWidget]) -> None:
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        title = QLabel(name)
        title.setProperty("quiet", True)
        title.setFixedWidth(NAME_WIDTH)
        self._titles.append(title)
        row.addWidget(title)
        for widget in widgets:
            row.addWidget(widget)
        self._rows[name] = holder
        column.addWidget(holder)

    def _connect(self) -> None:
        self.strength.valueChanged.connect(lambda value: self._take(percent=value))
        self.field.taken.connect(self.take_colour)
        self.field.said.connect(self.said.setText)
        for place, button in enumerate(self.near):
            button.clicked.connect(lambda _checked=False, place=place: self._near_taken(place))
        self.side.activated.connect(self._side_taken)
        self.room.valueChanged.connect(lambda _value: self._plate_taken())
        self.soften.valueChanged.connect(lambda _value: self._plate_taken())
        for spin in (self.full, self.middle, self.none):
            spin.valueChanged.connect(lambda _value: self._way_taken())
        self.least.clicked.connect(self.snap)

    # Showing

    def set_narrow(self, narrow: bool) -> None:
        """Leave out what is near at hand otherwise, in a small window."""
        self.narrow = narrow
        self._show_near()
        self.swatch.setVisible(not narrow)
        for title in self._titles:
            title.setFixedWidth(NAME_NARROW if narrow else NAME_WIDTH)

    def _show_near(self) -> None:
        count = len(self.fitting.colours) if self.fitting is not None else 0
        for place, button in enumerate(self.near):
            button.setVisible(place < count and not self.narrow)

    def _show_theme(self, theme: tuple[tuple[int, int, int], ...]) -> None:
        self.theme_menu.clear()
        for levels in theme:
            action = self.theme_menu.addAction(swatch_icon(levels), hex_of(levels))
            action.triggered.connect(functools.partial(self._theme_taken, levels))
        self.theme_menu.addSeparator()
        self.theme_menu.addAction("Pick from the page…").triggered.connect(self.pick_asked)

    def _theme_taken(self, levels: tuple[int, int, int], _checked: bool = False) -> None:
        self._take(levels=levels)

    def show_fitting(self, fitting: Fitting | None) -> None:
        """Begin with an overlay as it was proposed; None ends it."""
        self.fitting = fitting
        self.overlay = fitting.laid.overlay if fitting is not None else None
        self.setVisible(fitting is not None)
        if fitting is None:
            return
        for button, levels in zip(self.near, fitting.colours, strict=False):
            code = hex_of(levels)
            button.setToolTip(f"Take {code}")
            button.setAccessibleName(f"Take the colour {code}")
            button.setStyleSheet(
                f"QToolButton {{ background: {code}; border: 1px solid {self.theme.edge};"
                " padding: 0; min-height: 0; border-radius: 3px; }"
                f"QToolButton:focus {{ border: 3px solid {self.theme.accent}; }}"
            )
        self._show_near()
        self._show_theme(fitting.theme)
        self.side.clear()
        self.side.addItems([words.capitalize() for words in fitting.ways])
        self._show()
        self.refresh_track()
        self.shown.emit()

    def set_overlay(self, overlay: Overlay) -> None:
        """Show an overlay that was changed on the page."""
        self.overlay = overlay
        self._show()
        self._track_soon.start()
        self._tell()

    def _show(self) -> None:
        overlay, fitting = self.overlay, self.fitting
        if overlay is None or fitting is None:
            return
        self._quiet = True
        kind = overlay.kind
        ramp = kind is OverlayKind.RAMP
        plate = kind in (OverlayKind.PLATE, OverlayKind.SOFT_PLATE)
        for name, shown in (("Fades", ramp), ("Way", ramp), ("Room", plate and not overlay.bound)):
            self._rows[name].setVisible(shown)
        self.percent.setText(f"{overlay.percent}%")
        colour = from_levels(overlay.levels)
        self.swatch.show_colour(colour)
        self.field.show_colour(colour)
        self.side.setCurrentIndex(nearest_way(list(fitting.ways.values()), overlay.towards))
        self.room.setValue(max(0.0, room_above(fitting.site.ink, overlay)))
        soft = kind is OverlayKind.SOFT_PLATE
        words = "Feather of the edges" if soft else "Rounding of the corners"
        self.soften.setToolTip(words)
        self.soften.setAccessibleName(words)
        self.soften.setPrefix("feather " if soft else "round ")
        self.soften.setValue(overlay.feather if soft else overlay.rounding)
        self.full.setValue(overlay.full * 100)
        self.none.setValue(overlay.none * 100)
        self.middle.setValue(half_way(overlay) * 100)
        self._quiet = False
        ratio, required = fitting.ratio(overlay)
        broken = fitting.broken(overlay)
        self.passes = ratio >= required and not broken
        words = f"passes {required:g}" if ratio >= required else f"falls short of {required:g}"
        if broken:
            words += f", and “{_short(broken)}” would fall short"
        if overlay.bound:
            words += "; it fills the text's own box"
        self.said.setText(f"<b>{shown_ratio(ratio)}</b> {words}")
        passing = self.strength.passing if len(self.strength.passing) > FULL else _nothing()
        self.strength.show_place(passing, overlay.percent)

    def refresh_track(self) -> None:
        """Show from where on the strength passes, and where it leads."""
        overlay, fitting = self.overlay, self.fitting
        if overlay is None or fitting is None:
            return
        passing = fitting.passing(overlay)
        behind = np.array(fitting.site.main.mean(axis=0) if len(fitting.site.main) else (128,) * 3)
        share = np.linspace(0, 1, FULL + 1)[:, None]
        mixed = behind * (1 - share) + np.array(overlay.levels) * share
        self.strength.show_track((mixed + 0.5).astype(np.uint8))
        self.strength.show_place(passing, overlay.percent)
        self.least.setEnabled(bool(passing.any()))
        if not passing.any():
            self.said.setText("No strength of this overlay passes. Try another colour.")

    # Changing

    def _tell(self) -> None:
        if self.overlay is not None:
            self.changed.emit(self.overlay, self.passes)

    def _take(self, **changes: object) -> None:
        if self._quiet or self.overlay is None:
            return
        self.overlay = replace(self.overlay, **changes)  # type: ignore[arg-type]
        self._show()
        if set(changes) != {"percent"}:
            self._track_soon.start()
        self._tell()

    def take_colour(self, colour: Colour) -> None:
        """Give the overlay another colour."""
        self._take(levels=colour.levels)

    def _near_taken(self, place: int) -> None:
        if self.fitting is not None:
            self._take(levels=self.fitting.colours[place])

    def _side_taken(self, place: int) -> None:
        if self.fitting is not None and self.overlay is not None and not self._quiet:
            towards = list(self.fitting.ways.values())[place]
            turned = self.fitting.turned(self.overlay, towards)
            self._take(towards=turned.towards, full=turned.full, none=turned.none)

    def _plate_taken(self) -> None:
        overlay, fitting = self.overlay, self.fitting
        if self._quiet or overlay is None or fitting is None:
            return
        ink, room, soften = fitting.site.ink, self.room.value(), self.soften.value()
        if overlay.kind is OverlayKind.SOFT_PLATE:
            self._take(box=ink.grown(room + soften), feather=soften)
        else:
            across = room * 4 / 3
            box = Box(ink.x - across, ink.y - room, ink.width + 2 * across, ink.height + 2 * room)
            self._take(box=box, rounding=min(soften, min(box.width, box.height, SMALLEST * 40) / 2))

    def _way_taken(self) -> None:
        if self._quiet:
            return
        full = self.full.value() / 100
        none = max(self.none.value() / 100, full + LEAST_GAP)
        self._take(full=full, none=min(1.0, none), middle=middle_for(self.middle.value() / 100))

    def snap(self) -> None:
        """Set the strength to the least that passes."""
        if self.fitting is not None and self.overlay is not None:
            least = self.fitting.least(self.overlay)
            if least is not None:
                self._take(percent=least)


def room_above(ink: Box, overlay: Overlay) -> float:
    """Give how far a plate reaches beyond the upper edge of the ink that it serves, in points."""
    _, middle = turned(-overlay.turn, overlay.box.centre).apply(*ink.centre)
    return middle - ink.height / 2 - overlay.core.y


def nearest_way(ways: list[float], towards: float) -> int:
    """Give the place of the way nearest to a direction, all in degrees."""
    return min(range(len(ways)), key=lambda at: abs((ways[at] - towards + 180) % 360 - 180))


def _short(text: str, most: int = 22) -> str:
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"


def _nothing() -> NDArray[np.bool_]:
    return np.zeros(FULL + 1, bool)
