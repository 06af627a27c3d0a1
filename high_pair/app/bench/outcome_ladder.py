"""The ladder of the Bench: the ratio, and at each rung what passes and what misses by how much."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from high_pair.app.ladder import HIGHEST, LOWEST, place_of
from high_pair.app.marks import paint_mark
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.measure.by_hand import HandPair, Outcome
from high_pair.wcag.verdicts import Verdict

TRACK_TOP, TRACK_HEIGHT = 40, 14
ROW = 19
MARK = 11
HEIGHT = 128
GAP = 14.0


def missing_words(missing: float) -> str:
    """Say by how much a ratio misses, never less than it does: 0.001 is «0.01 short»."""
    return f"{math.ceil(missing * 100 - 1e-9) / 100:.2f} short"


class OutcomeLadder(QWidget):
    """The ladder."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.ratio = 1.0
        self.outcomes: tuple[Outcome, ...] = ()
        self.required = 4.5
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMinimumWidth(420)

    def sizeHint(self) -> QSize:
        """Give the height that track and words need."""
        return QSize(600, HEIGHT)

    def show_pair(self, pair: HandPair, required: float) -> None:
        """Show a pair's ratio and what it reaches."""
        self.ratio, self.outcomes, self.required = pair.ratio, pair.outcomes, required
        words = [f"Ratio {shown_ratio(self.ratio)}"]
        for outcome in self.outcomes:
            result = (
                "passes" if outcome.passes else f"falls short, {missing_words(outcome.missing)}"
            )
            words.append(f"{outcome.target.words}, {outcome.target.required:g}: {result}")
        self.setAccessibleName("; ".join(words))
        self.setToolTip("\n".join(words))
        self.update()

    def _at(self, ratio: float) -> float:
        return place_of(ratio) * (self.width() - 2)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the ratio, the track, and the rungs with their words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        track = QRectF(1, TRACK_TOP, self.width() - 2, TRACK_HEIGHT)
        painter.fillRect(track, colour(theme.track))
        here = self._at(self.ratio)
        painter.fillRect(QRectF(1, TRACK_TOP, here, TRACK_HEIGHT), colour(theme.quiet))
        painter.setPen(QPen(colour(theme.edge), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(track.adjusted(-0.5, -0.5, 0.5, 0.5))
        self._paint_ratio(painter, here)
        self._paint_ends(painter)
        rungs = sorted({outcome.target.required for outcome in self.outcomes})
        limit = float(self.width())
        # From the right: where two rungs' words would meet, the left ones move further left.
        for rung in reversed(rungs):
            limit = self._paint_rung(painter, rung, limit) - GAP
        painter.end()

    def _paint_ratio(self, painter: QPainter, here: float) -> None:
        painter.setFont(font(27, bold=True))
        painter.setPen(colour(self.theme.text))
        words = shown_ratio(self.ratio)
        width = painter.fontMetrics().horizontalAdvance(words)
        left = min(max(0.0, here - width / 2), self.width() - width)
        painter.drawText(QRectF(left, 0, width + 4, 32), Qt.AlignmentFlag.AlignVCenter, words)

    def _paint_ends(self, painter: QPainter) -> None:
        painter.setFont(font(SMALL_PIXELS))
        painter.setPen(colour(self.theme.text))
        top = TRACK_TOP + TRACK_HEIGHT + 6
        left = Qt.AlignmentFlag.AlignLeft
        painter.drawText(QRectF(1, top, 40, ROW), left, f"{LOWEST:g}")
        right = Qt.AlignmentFlag.AlignRight
        painter.drawText(QRectF(self.width() - 41, top, 40, ROW), right, f"{HIGHEST:g}")

    def _words_of(self, rung: float) -> list[tuple[Outcome | None, str]]:
        """Give the lines below a rung: what it is asked for, and by how much the ratio misses."""
        own = [outcome for outcome in self.outcomes if outcome.target.required == rung]
        lines: list[tuple[Outcome | None, str]] = [(each, each.target.words) for each in own]
        if not own[0].passes:
            lines.append((None, missing_words(own[0].missing)))
        return lines

    def _paint_rung(self, painter: QPainter, rung: float, limit: float) -> float:
        """Paint a rung and its words, which end before a limit; gives where they begin."""
        theme, x = self.theme, self._at(rung)
        asked = rung == self.required
        painter.setPen(QPen(colour(theme.text), 3 if asked else 2))
        painter.drawLine(QPointF(x, TRACK_TOP - 7), QPointF(x, TRACK_TOP + TRACK_HEIGHT + 7))
        lines = self._words_of(rung)
        painter.setFont(font(SMALL_PIXELS, bold=True))
        number = f"{rung:g}"
        indent = painter.fontMetrics().horizontalAdvance(number) + 7.0
        painter.setFont(font(SMALL_PIXELS))
        widest = max(painter.fontMetrics().horizontalAdvance(words) for _, words in lines)
        width = indent + MARK + 6 + widest
        left, top = min(x - 14, limit - width), float(TRACK_TOP + TRACK_HEIGHT + 9)
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.setPen(colour(theme.text))
        painter.setFont(font(SMALL_PIXELS, bold=True))
        painter.drawText(QRectF(left, top, 40, ROW), middle, number)
        painter.setFont(font(SMALL_PIXELS))
        for outcome, words in lines:
            if outcome is not None:
                verdict = Verdict.PASSES if outcome.passes else Verdict.FALLS_SHORT
                mark = QRectF(left + indent, top + 4, MARK, MARK)
                paint_mark(painter, mark, verdict, theme)
            painter.setPen(colour(theme.text))
            place = QRectF(left + indent + MARK + 6, top, widest + 4, ROW)
            painter.drawText(place, middle, words)
            top += ROW
        return left
