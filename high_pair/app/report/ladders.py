"""All pairs on one ladder, before and now: a tick for each share of what is asked."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from high_pair.app.marks import paint_mark
from high_pair.app.theme import SMALL_PIXELS, TEXT_PIXELS, Theme, colour, font
from high_pair.report.findings import Tick
from high_pair.report.ladder import RUNGS, place_on_ladder
from high_pair.wcag.verdicts import Verdict

LEFT, RIGHT, TOP = 70, 96, 8
ROW, GAP, SCALE = 46, 10, 28
# Ticks that stand within so many pixels are one for the pointer.
NEAR = 3
MARK = 12
# By so much the shares of reports may differ from those of the pairs themselves.
ROUNDED = 1e-6


class Ladders(QWidget):
    """The ladder. shares_asked: the pairs between two shares are to be shown, with words."""

    shares_asked = Signal(float, float, str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.now: Sequence[Tick] = ()
        self.before: Sequence[Tick] | None = None
        # The place of the column at hand, in pixels from the left; None for none.
        self.at: int | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMinimumWidth(280)
        self.show_ticks((), None)

    def sizeHint(self) -> QSize:
        """Give the height of one row or two, and their scale."""
        return QSize(640, self._height)

    @property
    def _height(self) -> int:
        rows = 1 if self.before is None else 2
        return TOP + rows * ROW + (rows - 1) * GAP + SCALE

    def show_ticks(self, now: Sequence[Tick], before: Sequence[Tick] | None) -> None:
        """Show the pairs as they are now, and as they were, if there is a before."""
        self.now, self.before, self.at = now, before, None
        self.setFixedHeight(self._height)
        words = f"Ladder: now {_short(now):,} of {_all(now):,} pairs fall short"
        if before is not None:
            words += f", before {_short(before):,}"
        self.setAccessibleName(f"{words}. Arrow keys go along it, Enter shows the pairs there.")
        self.updateGeometry()
        self.update()

    # Where things are

    def _track(self, row: int) -> QRectF:
        width = max(40, self.width() - LEFT - RIGHT)
        return QRectF(LEFT, TOP + row * (ROW + GAP), width, ROW)

    def _x(self, share: float) -> int:
        track = self._track(0)
        return round(track.left() + place_on_ladder(share) * track.width())

    def _columns(self) -> dict[int, list[Tick]]:
        """Give the ticks of now by the pixel that they stand at; those that fall short stay left
        of what is asked."""
        asked = self._x(1.0)
        found: dict[int, list[Tick]] = {}
        for tick in self.now:
            x = self._x(tick.share)
            x = min(x, asked - 1) if tick.share < 1.0 else max(x, asked)
            found.setdefault(x, []).append(tick)
        return found

    # Painting

    def paintEvent(self, _event: object) -> None:
        """Paint the rows with their ticks, the rungs, and how much falls short."""
        painter = QPainter(self)
        rows = [("now", self.now)] if self.before is None else [
            ("before", self.before), ("now", self.now)
        ]  # fmt: skip
        for number, (words, ticks) in enumerate(rows):
            self._paint_row(painter, self._track(number), words, ticks)
        self._paint_rungs(painter, self._track(len(rows) - 1))
        if self.hasFocus():
            painter.setPen(QPen(colour(self.theme.accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))
        painter.end()

    def _paint_row(
        self, painter: QPainter, track: QRectF, words: str, ticks: Sequence[Tick]
    ) -> None:
        theme = self.theme
        asked = self._x(1.0)
        short = QRectF(track.left(), track.top(), asked - track.left(), track.height())
        painter.fillRect(track, colour(theme.field))
        painter.fillRect(short, colour(theme.chosen))
        painter.setFont(font(SMALL_PIXELS))
        painter.setPen(colour(theme.quiet))
        label = QRectF(12, track.top(), LEFT - 16, track.height())
        painter.drawText(label, Qt.AlignmentFlag.AlignVCenter, words)
        places: dict[tuple[int, bool], int] = {}
        for tick in ticks:
            falls = tick.share < 1.0
            x = self._x(tick.share)
            x = min(x, asked - 2) if falls else max(x, asked + 2)
            places[(x, falls)] = places.get((x, falls), 0) + tick.places
        most = math.log1p(max(places.values(), default=1))
        for (x, falls), count in places.items():
            height = track.height() * (0.18 + 0.78 * math.log1p(count) / most)
            painter.setPen(QPen(colour(theme.mark if falls else theme.text), 2))
            painter.drawLine(QPointF(x, track.bottom()), QPointF(x, track.bottom() - height))
        painter.setPen(QPen(colour(theme.edge), 1))
        painter.drawLine(track.bottomLeft(), track.bottomRight())
        mark = QRectF(track.right() + 16, track.center().y() - MARK / 2, MARK, MARK)
        fallen = _short(ticks)
        paint_mark(painter, mark, Verdict.FALLS_SHORT if fallen else Verdict.PASSES, theme)
        painter.setPen(colour(theme.text))
        painter.setFont(font(TEXT_PIXELS, bold=True))
        count_box = QRectF(mark.right() + 7, track.top(), RIGHT - 36, track.height())
        painter.drawText(count_box, Qt.AlignmentFlag.AlignVCenter, f"{fallen:,}")

    def _paint_rungs(self, painter: QPainter, last: QRectF) -> None:
        theme = self.theme
        top = self._track(0).top()
        for share, words in RUNGS:
            x, asked = self._x(share), share == 1.0
            painter.setPen(QPen(colour(theme.text), 3 if asked else 1))
            painter.drawLine(QPointF(x, top), QPointF(x, last.bottom() + 5))
            painter.setFont(font(SMALL_PIXELS - 1, bold=asked))
            painter.setPen(colour(theme.text))
            box = QRectF(x - 60, last.bottom() + 8, 120, 18)
            painter.drawText(box, Qt.AlignmentFlag.AlignHCenter, words)
        if self.at is not None:
            painter.setPen(QPen(colour(theme.accent), 2))
            painter.drawRect(QRectF(self.at - NEAR, top, 2 * NEAR, last.bottom() - top))

    # Going along it

    def _near(self, x: float) -> list[Tick]:
        return [
            tick
            for column, ticks in self._columns().items()
            if abs(column - x) <= NEAR
            for tick in ticks
        ]

    def _words_at(self, ticks: Sequence[Tick]) -> str:
        least, most = min(tick.share for tick in ticks), max(tick.share for tick in ticks)
        shares = f"{least:.0%}" if f"{least:.0%}" == f"{most:.0%}" else f"{least:.0%} to {most:.0%}"
        count = sum(tick.places for tick in ticks)
        return f"{count:,} with {shares} of what is asked"

    def _ask(self, ticks: Sequence[Tick]) -> None:
        if not ticks:
            return
        least, most = min(tick.share for tick in ticks), max(tick.share for tick in ticks)
        # What falls short and what passes are told apart, however near they are.
        if least < 1.0 <= most:
            ticks = [tick for tick in ticks if tick.share < 1.0]
            most = max(tick.share for tick in ticks)
        # Reports round ratios; what falls short stays on its own side all the same.
        short = least < 1.0
        least, most = least - ROUNDED, most + ROUNDED
        bounds = (least, min(most, 1.0)) if short else (max(least, 1.0), most)
        self.shares_asked.emit(*bounds, self._words_at(ticks))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Show the pairs at the pointer."""
        self._ask(self._near(event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Let the hand show where there is something."""
        there = bool(self._near(event.position().x()))
        shape = Qt.CursorShape.PointingHandCursor if there else Qt.CursorShape.ArrowCursor
        self.setCursor(shape)

    def event(self, event: QEvent) -> bool:
        """Say what is at the pointer."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            ticks = self._near(event.pos().x())
            QToolTip.showText(event.globalPos(), self._words_at(ticks) if ticks else "")
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Go along the ticks with arrow keys; Enter shows the pairs there."""
        columns = sorted(self._columns())
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()), 0)
        ends = {Qt.Key.Key_Home: 0, Qt.Key.Key_End: -1}
        if columns and (step or Qt.Key(event.key()) in ends):
            if Qt.Key(event.key()) in ends:
                self.at = columns[ends[Qt.Key(event.key())]]
            else:
                self.at = self._next(columns, step)
            words = self._words_at(self._near(self.at))
            self.setAccessibleDescription(words)
            self.setToolTip(words)
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.at is not None:
            self._ask(self._near(self.at))
        else:
            super().keyPressEvent(event)

    def _next(self, columns: list[int], step: int) -> int:
        """Give the next column beyond those that are one with this."""
        if self.at is None:
            return columns[0] if step > 0 else columns[-1]
        beyond = [each for each in columns if (each - self.at) * step > NEAR]
        return (beyond[0] if step > 0 else beyond[-1]) if beyond else self.at


def _short(ticks: Sequence[Tick]) -> int:
    return sum(tick.places for tick in ticks if tick.share < 1.0)


def _all(ticks: Sequence[Tick]) -> int:
    return sum(tick.places for tick in ticks)
