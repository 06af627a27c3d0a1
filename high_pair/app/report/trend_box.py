"""How much fell short in each run, and what is new, gone, or still there since the one before."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QLabel, QSizePolicy, QVBoxLayout, QWidget

from high_pair.app.report.source import short_times, when_words
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.review.overview import Overview

BAR, GAP, HEIGHT, LABEL = 34, 22, 48, 18


class RunBars(QWidget):
    """A bar for each run, as high as what fell short in it; this run's in the mark's colour."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.runs: Sequence[tuple[str, int]] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """Give the room of the bars and their days."""
        return QSize(max(120, len(self.runs) * (BAR + GAP)), HEIGHT + 2 * LABEL)

    def show_runs(self, runs: Sequence[tuple[str, int]]) -> None:
        """Show when runs ended, and what fell short in each."""
        self.runs = runs
        told = "; ".join(f"{when_words(when)}: {count:,}" for when, count in runs)
        self.setAccessibleName(f"What fell short in each run: {told}")
        self.setToolTip(told)
        self.setVisible(len(runs) > 1)
        self.updateGeometry()
        self.update()

    def paintEvent(self, _event: object) -> None:
        """Paint the bars."""
        painter = QPainter(self)
        painter.setFont(font(SMALL_PIXELS - 1))
        most = max((count for _, count in self.runs), default=0) or 1
        days = short_times([when for when, _ in self.runs])
        for number, (_, count) in enumerate(self.runs):
            left = GAP / 2 + number * (BAR + GAP)
            height = max(2.0, HEIGHT * count / most)
            last = number == len(self.runs) - 1
            bar = QRectF(left, LABEL + HEIGHT - height, BAR, height)
            painter.fillRect(bar, colour(self.theme.mark if last else self.theme.edge))
            painter.setPen(colour(self.theme.text))
            above = QRectF(left - GAP / 2, bar.top() - LABEL, BAR + GAP, LABEL)
            painter.drawText(above, Qt.AlignmentFlag.AlignCenter, f"{count:,}")
            painter.setPen(colour(self.theme.quiet))
            below = QRectF(left - GAP / 2, LABEL + HEIGHT, BAR + GAP, LABEL)
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter, "now" if last else days[number])
        painter.end()


class TrendBox(QWidget):
    """The trend: words above, bars below; hidden where there is no earlier run."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.heading, self.words = QLabel(), QLabel()
        self.heading.setProperty("heading", True)
        self.words.setWordWrap(True)
        self.bars = RunBars(theme)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 8)
        column.setSpacing(4)
        for each in (self.heading, self.words, self.bars):
            column.addWidget(each)

    def show_overview(self, overview: Overview) -> None:
        """Show what has changed, where there is something to hold it against."""
        found = overview.trend
        self.setVisible(found is not None)
        if found is not None:
            self.heading.setText(f"Since {when_words(found.since)}")
            self.words.setText(
                f"{found.new:,} new · {found.gone:,} gone · {found.still:,} still there"
            )
            self.bars.show_runs(overview.runs)
