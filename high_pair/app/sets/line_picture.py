"""The line of log luminance as it is painted: a ratio is a distance on it."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import (
    QColor,
    QFontMetricsF,
    QPainter,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from high_pair.app.marks import paint_mark
from high_pair.app.sets.line_layout import GAP, SIZES, Chip, Layout, Role, laid_out
from high_pair.app.sets.state import SetsState
from high_pair.app.sets.words import pair_words, ratio_words, shown_name
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.colour.ratio import HIGHEST_RATIO
from high_pair.colour.srgb import hex_of
from high_pair.review.set_drafts import far_apart, standing
from high_pair.scene.colour_set import ColourSet, SetPair, State
from high_pair.wcag.verdicts import Verdict

MARGIN = 30.0
YARD_TOP, YARD_ROW = 8.0, 20.0
AXIS_HEIGHT = 40.0
MOST_YARDS = 3
# So much height is left for the pairs' lines.
LINES_HEIGHT = 96.0
# but where there is little, chips have this share of it.
LEAST_FOR_CHIPS = 0.66
LONGEST_NAME = 92.0
# Beyond so many pairs only those that fall short, and the chosen ones, have their marks.
MANY_PAIRS = 40
MARK = 13.0
TICKS = (1.0, 3.0, 4.5, 7.0, 21.0)


class LinePicture(QWidget):
    """The picture: it follows the state."""

    def __init__(self, state: SetsState, theme: Theme) -> None:
        super().__init__()
        self.state = state
        self.theme = theme
        self.usual_ratio = 4.5
        self.layout_now: Layout | None = None
        self._pairs: tuple[SetPair, ...] = ()
        self._ratios: tuple[float, ...] = ()
        self._heights: dict[str, float] = {}
        self._before: dict[str, float] = {}
        # Of each chip, by its name and whether it is a text; and where lines begin and end.
        self._boxes: dict[tuple[str, bool], QRectF] = {}
        self._starts: dict[str, QPointF] = {}
        self._stops: dict[str, QPointF] = {}
        self._name_widths: dict[str, float] = {}
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(260, 140)
        state.changed.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """Give the size that a theme needs."""
        return QSize(740, 420)

    # What is shown

    def refresh(self) -> None:
        """Show the state."""
        colours = self.state.looked_at
        if colours is None:
            self._pairs, self._ratios, self.layout_now = (), (), None
            self.setAccessibleName("No set is shown")
            self.update()
            return
        pairs = list(colours.pairs)
        chosen = self.state.pair
        if chosen and not any((each.text, each.backdrop) == chosen for each in pairs):
            # A pair that is only possible is shown while it is chosen.
            pairs.append(SetPair(*chosen, State.POSSIBLE, self.usual_ratio))
        found = standing(colours, pairs)
        self._pairs, self._ratios = tuple(pairs), found.ratios
        self._heights = dict(found.heights)
        key = self.state.key
        assert key is not None
        self._before = dict(standing(self.state.base(key), ()).heights)
        self._lay_out(colours)
        self._tell(colours)
        self.update()

    def _lay_out(self, colours: ColourSet) -> None:
        if not self.state.is_moving or self.layout_now is None:
            metrics = QFontMetricsF(font(SMALL_PIXELS))
            self._name_widths = {
                each.name: min(
                    LONGEST_NAME, metrics.horizontalAdvance(shown_name(each.name, colours)) + 2
                )
                for each in colours.colours
            }
        height = self._bottom() - self._top()
        room = max(height - LINES_HEIGHT, LEAST_FOR_CHIPS * height)
        # While a colour is moved chips don't grow; what had no room a moment ago isn't tried again.
        known = self.layout_now if self.state.is_moving else None
        size = known.size if known is not None else SIZES[0]
        place = (MARGIN, self._width(), room, self._name_widths)
        layout = laid_out(colours, self._heights, *place, size)
        self.layout_now = layout
        self._boxes = {
            (chip.name, chip.role is Role.TEXT): self._box_of(chip) for chip in layout.chips
        }
        self._starts = {each.text: self._end_of(each.text, Role.TEXT) for each in self._pairs}
        self._stops = {
            each.backdrop: self._end_of(each.backdrop, Role.BACKDROP) for each in self._pairs
        }

    def _tell(self, colours: ColourSet) -> None:
        """Say in words what is chosen, for those who hear it."""
        short = sum(
            ratio < pair.required for pair, ratio in zip(self._pairs, self._ratios, strict=True)
        )
        name = self.state.chosen
        words = [f"{colours.name}: {len(self._pairs)} pairs, {short} fall short"]
        found = colours.colour(name)
        if found is not None:
            words.append(f"{shown_name(name, colours)}, {hex_of(found.levels)}")
            words += [
                f"{pair_words(pair, colours)} {ratio_words(ratio, pair.required)}"
                for pair, ratio in zip(self._pairs, self._ratios, strict=True)
                if name in (pair.text, pair.backdrop)
            ]
        self.setAccessibleName("; ".join(words))

    @property
    def asked(self) -> list[float]:
        """The ratios that are asked of the set's pairs, the usual one where there are none."""
        name = self.state.chosen
        own = {pair.required for pair in self._pairs if name in (pair.text, pair.backdrop)}
        every = own or {pair.required for pair in self._pairs} or {self.usual_ratio}
        return sorted(every)[-MOST_YARDS:]

    # Where things are

    def _width(self) -> float:
        return max(60.0, self.width() - 2 * MARGIN)

    def _x(self, height: float) -> float:
        return MARGIN + height * self._width()

    def _top(self) -> float:
        return YARD_TOP + YARD_ROW * min(MOST_YARDS, max(1, len(self.asked))) + 8.0

    def _bottom(self) -> float:
        return self.height() - AXIS_HEIGHT

    def box_of(self, chip: Chip) -> QRectF:
        """Give where a chip is painted."""
        return self._boxes[chip.name, chip.role is Role.TEXT]

    def _box_of(self, chip: Chip) -> QRectF:
        layout = self.layout_now
        assert layout is not None
        side, pitch = layout.side(chip.role), layout.pitch(chip.role)
        if chip.role is Role.TEXT:
            # The row nearest to the lines is the lowest, and names stand above their chips.
            top = self._top() + (layout.rows[Role.TEXT] - chip.row) * pitch - side - GAP + 2.0
        elif chip.role is Role.BACKDROP:
            rows = layout.rows[Role.BACKDROP] - chip.row
            top = self._bottom() - layout.height(Role.REST) - rows * pitch
        else:
            top = self._bottom() - (layout.rows[Role.REST] - chip.row) * pitch
        return QRectF(chip.x - side / 2, top, side, side)

    def _ends(self, pair: SetPair) -> tuple[QPointF, QPointF]:
        return self._starts[pair.text], self._stops[pair.backdrop]

    def _end_of(self, name: str, role: Role) -> QPointF:
        layout = self.layout_now
        assert layout is not None
        chip = layout.chip(name, role)
        if chip is None:
            # It has another role alone: where it would stand.
            middle = (self._top() + self._bottom()) / 2
            return QPointF(
                self._x(self._heights[name]), middle + (-40 if role is Role.TEXT else 40)
            )
        box = self.box_of(chip)
        return QPointF(box.center().x(), box.bottom() + 2 if role is Role.TEXT else box.top() - 2)

    # Painting

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the rules, the stretch round the chosen colour, the lines, chips and axis."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(self.theme.sheet))
        colours = self.state.looked_at
        if colours is not None and self.layout_now is not None:
            self._paint_stretch(painter)
            self._paint_yards(painter)
            self._paint_axis(painter)
            self._paint_lines(painter)
            for chip in self.layout_now.chips:
                self._paint_chip(painter, chip, colours)
            self._paint_sides(painter)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(colour(self.theme.accent), 2))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        painter.end()

    def _paint_stretch(self, painter: QPainter) -> None:
        """Shade where nothing is far enough from the chosen colour."""
        height = self._heights.get(self.state.chosen)
        if height is None:
            return
        reach = far_apart(self.asked[-1])
        low, high = height - reach, height + reach
        left, right = self._x(max(0.0, low)), self._x(min(1.0, high))
        area = QRectF(left, self._top(), right - left, self._bottom() - self._top())
        painter.fillRect(area, colour(self.theme.chosen))
        painter.setPen(QPen(colour(self.theme.edge), 1, Qt.PenStyle.DashLine))
        for end, x in ((low, left), (high, right)):
            if 0.0 < end < 1.0:
                painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))

    def _paint_yards(self, painter: QPainter) -> None:
        """Lay a rule as long as each ratio asked for at the chosen colour, to both sides."""
        height = self._heights.get(self.state.chosen)
        for row, ratio in enumerate(self.asked):
            y = YARD_TOP + YARD_ROW * row + 12.0
            reach = far_apart(ratio)
            if height is None:
                self._paint_yard(painter, 0.0, reach, y, ratio)
                continue
            if height > 0.005:
                self._paint_yard(painter, height, height - reach, y, ratio)
            if height < 0.995:
                self._paint_yard(painter, height, height + reach, y, ratio)

    def _paint_yard(
        self, painter: QPainter, start: float, end: float, y: float, ratio: float
    ) -> None:
        inside = min(1.0, max(0.0, end))
        left, right = sorted((self._x(start), self._x(inside)))
        ink = colour(self.theme.text)
        painter.setPen(QPen(ink, 2))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        painter.drawLine(QPointF(self._x(start), y - 4), QPointF(self._x(start), y + 4))
        x = self._x(inside)
        if inside == end:
            painter.drawLine(QPointF(x, y - 6), QPointF(x, y + 6))
        else:
            # It is longer than the line: no colour there is so far away.
            way = 5.0 if end < start else -5.0
            painter.drawLine(QPointF(x, y), QPointF(x + way, y - 4))
            painter.drawLine(QPointF(x, y), QPointF(x + way, y + 4))
        painter.setFont(font(SMALL_PIXELS, bold=True))
        words = f"{ratio:g}"
        metrics = painter.fontMetrics()
        width = metrics.horizontalAdvance(words) + 8.0
        if right - left > width + 12:
            box = QRectF((left + right) / 2 - width / 2, y - 8, width, 16)
            painter.fillRect(box, colour(self.theme.sheet))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)

    def _paint_axis(self, painter: QPainter) -> None:
        y = self._bottom() + 8.0
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.drawLine(QPointF(self._x(0), y), QPointF(self._x(1), y))
        painter.setFont(font(SMALL_PIXELS - 1))
        ends = QRectF()
        for ratio in TICKS:
            x = self._x(far_apart(ratio) if ratio < HIGHEST_RATIO else 1.0)
            painter.setPen(QPen(colour(self.theme.edge), 1))
            painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
            painter.setPen(colour(self.theme.quiet))
            ends = QRectF(x - 20, y + 5, 40, 16)
            painter.drawText(ends, Qt.AlignmentFlag.AlignHCenter, f"{ratio:g}")
        painter.setPen(colour(self.theme.quiet))
        words = "lighter →   ratio from black"
        width = painter.fontMetrics().horizontalAdvance(words) + 4.0
        if self._width() * (1 - far_apart(7)) > width + 40:
            place = QRectF(ends.left() - width, y + 5, width, 16)
            painter.drawText(place, Qt.AlignmentFlag.AlignLeft, words)

    def _paint_sides(self, painter: QPainter) -> None:
        """Say which side is which, beside the line."""
        layout = self.layout_now
        assert layout is not None
        rest = self._bottom() - layout.height(Role.REST)
        places = {
            Role.TEXT: ("Texts", self._top() + layout.height(Role.TEXT) + 4.0),
            Role.BACKDROP: ("Backdrops", rest - layout.height(Role.BACKDROP) - 22.0),
            Role.REST: ("No pair", rest - 2.0),
        }
        for role, (words, y) in places.items():
            if layout.rows[role]:
                painter.setFont(font(SMALL_PIXELS, bold=role is not Role.REST))
                painter.setPen(colour(self.theme.quiet if role is Role.REST else self.theme.text))
                place = QRectF(8.0, y, painter.fontMetrics().horizontalAdvance(words) + 2.0, 18.0)
                boxes = (self.box_of(chip).adjusted(-4, -4, 4, 4) for chip in layout.chips)
                if not any(box.intersects(place) for box in boxes):
                    painter.drawText(place, Qt.AlignmentFlag.AlignLeft, words)

    def _paint_lines(self, painter: QPainter) -> None:
        many = len(self._pairs) > MANY_PAIRS
        marks = []
        chosen = self.state.chosen
        # Those at hand last, over all others.
        order = sorted(range(len(self._pairs)), key=lambda number: self._is_at_hand(number))
        for number in order:
            pair, ratio = self._pairs[number], self._ratios[number]
            ends = self._ends(pair)
            short, at_hand = ratio < pair.required, self._is_at_hand(number)
            quiet = (bool(chosen) or self.state.pair is not None) and not at_hand
            ink = self.theme.mark if short else self.theme.text
            pen = QPen(colour(self.theme.edge if quiet else ink), _thickness(pair))
            if quiet:
                pen.setWidthF(1.0)
            elif at_hand and self.state.pair is not None:
                pen.setWidthF(pen.widthF() + 1.5)
            if short:
                pen.setStyle(Qt.PenStyle.DashLine)
            painter.setPen(pen)
            painter.drawLine(*ends)
            if short or at_hand or not many:
                marks.append(((ends[0] + ends[1]) / 2, short))
        for middle, short in marks:
            box = QRectF(middle.x() - MARK / 2, middle.y() - MARK / 2, MARK, MARK)
            if not short:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(colour(self.theme.sheet))
                painter.drawEllipse(box)
            verdict = Verdict.FALLS_SHORT if short else Verdict.PASSES
            paint_mark(painter, box, verdict, self.theme)

    def _is_at_hand(self, number: int) -> bool:
        pair = self._pairs[number]
        if self.state.pair is not None:
            return (pair.text, pair.backdrop) == self.state.pair
        return self.state.chosen in (pair.text, pair.backdrop)

    def _paint_chip(self, painter: QPainter, chip: Chip, colours: ColourSet) -> None:
        found = colours.colour(chip.name)
        layout = self.layout_now
        assert found is not None and layout is not None
        box, theme = self.box_of(chip), self.theme
        at_hand = chip.name == self.state.chosen
        if self.state.pair is not None:
            at_hand = (chip.name, chip.role) in zip(
                self.state.pair, (Role.TEXT, Role.BACKDROP), strict=True
            )
        before = self._before.get(chip.name)
        if before is not None and abs(before - self._heights[chip.name]) > 0.002:
            self._paint_way(painter, self._x(before), box)
        painter.setPen(QPen(colour(theme.edge), 1))
        painter.setBrush(QColor(*found.levels))
        painter.drawRoundedRect(box, 3, 3)
        if at_hand:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(colour(theme.accent), 2.5))
            painter.drawRoundedRect(box.adjusted(-4, -4, 4, 4), 5, 5)
        if found.leave:
            self._paint_left_as_it_is(painter, box)
        if layout.is_named(chip.role):
            self._paint_name(painter, chip, shown_name(chip.name, colours), box, at_hand)

    def _paint_way(self, painter: QPainter, x: float, box: QRectF) -> None:
        """Paint from where a colour has moved."""
        y = box.center().y()
        painter.setPen(QPen(colour(self.theme.text), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(x, y), QPointF(box.center().x(), y))
        painter.setPen(QPen(colour(self.theme.text), 1.5))
        painter.drawLine(QPointF(x, box.top() + 4), QPointF(x, box.bottom() - 4))

    def _paint_left_as_it_is(self, painter: QPainter, box: QRectF) -> None:
        """Mark a colour that stays: a bar below and above it, as if held."""
        painter.setPen(QPen(colour(self.theme.text), 3))
        for y in (box.top() - 2, box.bottom() + 2):
            painter.drawLine(QPointF(box.left() + 3, y), QPointF(box.right() - 3, y))

    def _paint_name(
        self, painter: QPainter, chip: Chip, words: str, box: QRectF, at_hand: bool
    ) -> None:
        painter.setFont(font(SMALL_PIXELS, bold=at_hand))
        painter.setPen(colour(self.theme.text))
        metrics = painter.fontMetrics()
        shown = metrics.elidedText(words, Qt.TextElideMode.ElideRight, int(LONGEST_NAME) + 8)
        width = metrics.horizontalAdvance(shown) + 4.0
        left = min(max(2.0, chip.x - width / 2), self.width() - width - 2.0)
        y = box.top() - 21.0 if chip.role is Role.TEXT else box.bottom() + 4.0
        box = QRectF(left, y, width, 16)
        # No line crosses a name.
        painter.fillRect(box, colour(self._ground_at(chip.x)))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, shown)

    def _ground_at(self, x: float) -> str:
        """Give what is painted behind the lines at a place."""
        height = self._heights.get(self.state.chosen)
        reach = far_apart(self.asked[-1]) * self._width()
        within = height is not None and abs(x - self._x(height)) < reach
        return self.theme.chosen if within else self.theme.sheet


def _thickness(pair: SetPair) -> float:
    return 1.2 + min(4.0, math.log2(1 + pair.places) * 0.8) if pair.places else 1.2
