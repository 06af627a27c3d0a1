"""What the text at hand is like from the seat, and how far each text of its page reaches."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QGridLayout, QLabel, QSizePolicy, QVBoxLayout, QWidget

from high_pair.app.sets.apart import WORDS as EYES
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.measure.pairs import Pair
from high_pair.measure.seat_numbers import Reading, SeatNumbers
from high_pair.scene.seat import Seat

ROWS = ("Height of x", "Ratio there", "Reserve", "Behind it", "Reads to", "Weak eyes", "Apart")
# So many texts of a page have a bar.
MOST_BARS = 8
BAR_ROW = 38


@dataclass(frozen=True)
class Reach:
    """A text of the page, and how far it reads, in metres."""

    text: str
    metres: float
    at_hand: bool


def metres_words(metres: float) -> str:
    """Write a distance: centimetres below a metre."""
    return f"{metres:.1f} m" if metres >= 1.0 else f"{metres * 100:.0f} cm"


class ReachBars(QWidget):
    """The bars, against the seat's distance."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.reaches: tuple[Reach, ...] = ()
        self.distance = 1.0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """Give the height of the bars and the scale."""
        return QSize(200, BAR_ROW * len(self.reaches) + 42)

    def show_reaches(self, reaches: Sequence[Reach], distance: float) -> None:
        """Show how far texts read, and where the seat is."""
        self.reaches, self.distance = tuple(reaches), distance
        self.setAccessibleName(
            f"How far each text reaches, of {metres_words(distance)}: "
            + "; ".join(f"{each.text}, {metres_words(each.metres)}" for each in reaches)
        )
        self.updateGeometry()
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the bars, the seat's line and the scale."""
        painter = QPainter(self)
        theme, right = self.theme, self.width() - 12.0
        most = max([self.distance * 1.4, *(min(r.metres, self.distance * 3) for r in self.reaches)])
        top = 20.0
        painter.setFont(font(SMALL_PIXELS))
        metrics = painter.fontMetrics()
        bottom = top + BAR_ROW * len(self.reaches)
        for row, each in enumerate(self.reaches):
            y = top + BAR_ROW * row
            painter.setPen(colour(theme.text))
            painter.setFont(font(SMALL_PIXELS, bold=each.at_hand))
            shown = painter.fontMetrics().elidedText(
                each.text, Qt.TextElideMode.ElideRight, int(right - 10)
            )
            painter.drawText(QPointF(0, y + 12), shown)
            end = right * min(1.0, each.metres / most)
            bar = QRectF(0, y + 18, end, 10)
            painter.fillRect(bar, colour(theme.text if each.at_hand else theme.quiet))
            painter.setPen(QPen(colour(theme.text), 2))
            painter.drawLine(QPointF(end, y + 15), QPointF(end, y + 31))
            words = metres_words(each.metres)
            width = metrics.horizontalAdvance(words) + 4
            inside = end + 6 + width > self.width()
            painter.setPen(colour(theme.panel if inside else theme.text))
            x = end - width - 4 if inside else end + 6
            painter.drawText(QPointF(x, y + 27), words)
        self._paint_seat(painter, right * self.distance / most, bottom)
        painter.setPen(colour(theme.quiet))
        painter.setFont(font(SMALL_PIXELS - 1))
        painter.drawText(QPointF(0, bottom + 16), "0")
        painter.drawText(QRectF(right - 80, bottom + 4, 80, 16), Qt.AlignmentFlag.AlignRight,
                         metres_words(most))  # fmt: skip
        painter.end()

    def _paint_seat(self, painter: QPainter, x: float, bottom: float) -> None:
        painter.setPen(QPen(colour(self.theme.accent), 2, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(x, 16), QPointF(x, bottom + 2))
        painter.setFont(font(SMALL_PIXELS - 1))
        painter.setPen(colour(self.theme.text))
        words = f"seat, {metres_words(self.distance)}"
        width = painter.fontMetrics().horizontalAdvance(words) + 4
        left = min(max(0.0, x - width / 2), self.width() - width)
        painter.drawText(QRectF(left, 0, width, 16), Qt.AlignmentFlag.AlignCenter, words)


class SeatBox(QWidget):
    """The box."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.heading = QLabel()
        self.heading.setProperty("heading", True)
        self.titles: dict[str, QLabel] = {}
        self.values: dict[str, QLabel] = {}
        self.notes: dict[str, QLabel] = {}
        self.far = QLabel("How far each text reaches")
        self.far.setProperty("heading", True)
        self.bars = ReachBars(theme)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 4)
        column.setSpacing(6)
        column.addWidget(self.heading)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(4)
        for row, name in enumerate(ROWS):
            title, value, note = QLabel(name), QLabel(), QLabel()
            title.setProperty("quiet", True)
            value.setProperty("heading", True)
            note.setProperty("quiet", True)
            note.setWordWrap(True)
            note.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
            self.titles[name], self.values[name], self.notes[name] = title, value, note
            for place, label in enumerate((title, value, note)):
                grid.addWidget(label, row, place, Qt.AlignmentFlag.AlignTop)
        grid.setColumnStretch(2, 1)
        column.addLayout(grid)
        column.addWidget(self.far)
        column.addWidget(self.bars)
        self.hide()

    def show_numbers(
        self, pair: Pair, numbers: SeatNumbers, seat: Seat, reaches: Sequence[Reach]
    ) -> None:
        """Show what a text is like from a seat, and the reach of its page's texts."""
        self.heading.setText(f"From “{seat.name}”: {_words(numbers)} (advice)")
        self.heading.setWordWrap(True)
        shown = _shown(pair, numbers, seat)
        for name in ROWS:
            value, note = shown.get(name, ("", ""))
            self.values[name].setText(value)
            self.notes[name].setText(note)
            for labels in (self.titles, self.values, self.notes):
                labels[name].setVisible(name in shown)
        self.bars.show_reaches(reaches, seat.distance)
        for widget in (self.far, self.bars):
            widget.setVisible(bool(reaches))
        self.show()


def _words(numbers: SeatNumbers) -> str:
    """Say whether a text reads, or a link is told from its text."""
    if numbers.reading is Reading.NEEDS_EYES:
        return "needs eyes there, too"
    short = numbers.reading is Reading.FALLS_SHORT
    if numbers.apart:
        return "not told from its text there" if short else "told from its text there"
    if short:
        return "doesn’t read there"
    return "reads there, on something busy" if numbers.busy else "reads there"


def _shown(pair: Pair, numbers: SeatNumbers, seat: Seat) -> dict[str, tuple[str, str]]:
    """Give what is known of a text from a seat, row by row: the value, and what it is beside."""
    if numbers.reading is Reading.NEEDS_EYES:
        return {}
    authored = shown_ratio(pair.ratio) if pair.ratio is not None else ""
    ratio = {"Ratio there": (shown_ratio(numbers.ratio), f"{authored} by WCAG")}
    if numbers.apart:
        eyes = min(numbers.apart, key=lambda each: numbers.apart[each])
        return {
            **ratio,
            "Weak eyes": _weak_eyes(numbers, pair.required),
            "Apart": (f"ΔE {numbers.apart[eyes]:.1f}", f"least, for {EYES[eyes]} eyes"),
        }
    needs = seat.needs
    calm = "busy" if numbers.busy else "calm"
    return {
        "Height of x": (f"{numbers.angle:.1f}′", f"asks {needs.angle:g}′"),
        **ratio,
        "Reserve": (f"× {numbers.reserve:.1f}", f"asks × {needs.reserve:g}, to read at ease"),
        "Behind it": (calm, f"unrest {_finite(numbers.unrest)}, calm to {needs.calm:g}"),
        "Reads to": (metres_words(numbers.reach), f"of {metres_words(seat.distance)}"),
        "Weak eyes": _weak_eyes(numbers, pair.required),
    }


def _weak_eyes(numbers: SeatNumbers, required: float) -> tuple[str, str]:
    """Say the ratio that colour-weak eyes have at least, and which kinds fall short of what is
    asked."""
    if not numbers.vision:
        return "–", ""
    short = [EYES[eyes] for eyes, ratio in numbers.vision.items() if ratio < required]
    words = f"{', '.join(short)} fall short" if short else "at least"
    return shown_ratio(min(numbers.vision.values())), f"{words}; asks {required:g}"


def _finite(value: float) -> str:
    return f"{value:.2f}" if math.isfinite(value) else "beyond measure"
