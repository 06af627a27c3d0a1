"""Three colours for links: the link, the text round it, and what is behind both."""

from __future__ import annotations

import functools
from dataclasses import replace

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import (
    QBoxLayout,
    QCheckBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.bench.fields import ColourRow
from high_pair.app.bench.outcome_ladder import missing_words
from high_pair.app.bench.sample_sheet import sample_font
from high_pair.app.bench.state import BenchState
from high_pair.app.marks import Mark
from high_pair.app.theme import Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.measure.by_hand import (
    LINK_STATES,
    PAPER,
    LinkColours,
    LinkOutcome,
    laid_over,
    link_outcomes,
)
from high_pair.scene.paint import Colour
from high_pair.wcag.verdicts import Verdict

BASE = ("link", "body", "backdrop")
NAMES = {"link": "Link", "body": "Body text", "backdrop": "Backdrop"}
SENTENCE = ("Fares change on the first of March. ", "See the new fares", " before you book.")


class LinkSample(QWidget):
    """A sentence with a link, and the link's other states below."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.colours: LinkColours | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(110)
        self.setAccessibleName("A sentence with a link in these colours")

    def sizeHint(self) -> QSize:
        """Ask for room for the sentence and the states."""
        return QSize(500, 150)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint it."""
        if self.colours is None:
            return
        colours = self.colours
        painter = QPainter(self)
        box = QRectF(self.rect())
        behind = laid_over(colours.backdrop, PAPER)
        painter.fillRect(box, QColor(*behind))
        x, y = 24.0, 18.0
        for place, words in enumerate(SENTENCE):
            own = colours.link if place == 1 else colours.body
            x += self._write(painter, words, own, behind, (x, y), place == 1)
        y += 40
        x = 24.0
        for name, own in colours.states:
            x += self._write(painter, f"{name} link", own, behind, (x, y), True) + 28
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5))
        painter.end()

    def _write(
        self,
        painter: QPainter,
        words: str,
        own: Colour,
        behind: tuple[int, int, int],
        place: tuple[float, float],
        link: bool,
    ) -> float:
        shown = sample_font(18, False)
        shown.setUnderline(link and self.colours is not None and self.colours.underlined)
        painter.setFont(shown)
        painter.setPen(QColor(*laid_over(own, behind)))
        width = float(painter.fontMetrics().horizontalAdvance(words))
        painter.drawText(
            QRectF(place[0], place[1], width + 4, 28), Qt.AlignmentFlag.AlignVCenter, words
        )
        return width


class LinkSheet(QWidget):
    """The sheet."""

    def __init__(self, state: BenchState, theme: Theme) -> None:
        super().__init__()
        self.state = state
        self.theme = theme
        self.rows = {
            name: ColourRow(NAMES.get(name, f"{name.capitalize()} link"), theme)
            for name in (*BASE, *LINK_STATES)
        }
        self.adders = {name: QPushButton(f"Add {name}") for name in LINK_STATES}
        self.removers = {name: QPushButton("Remove") for name in LINK_STATES}
        self.underlined = QCheckBox("The link is underlined")
        self.mend = QPushButton("Nearest link that passes")
        self.none = QLabel()
        self.outcomes = QGridLayout()
        self.lines: list[tuple[Mark, QLabel, QLabel, QLabel]] = []
        self.sample = LinkSample(theme)
        self._lay_out()
        for name, row in self.rows.items():
            row.taken.connect(functools.partial(self._taken, name))
        for name in LINK_STATES:
            self.removers[name].setAccessibleName(f"Remove the {name} colour")
            for buttons in (self.adders, self.removers):
                buttons[name].clicked.connect(functools.partial(self._switch, name))
        self.underlined.toggled.connect(self._underline)
        self.mend.clicked.connect(self._mend)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(12)
        card = QFrame()
        card.setObjectName("card")
        self.sides = QBoxLayout(QBoxLayout.Direction.LeftToRight, card)
        self.sides.setContentsMargins(14, 12, 14, 12)
        self.sides.setSpacing(20)
        left = QVBoxLayout()
        left.setSpacing(7)
        for name, row in self.rows.items():
            line = QHBoxLayout()
            line.setSpacing(8)
            line.addWidget(row, 1)
            if name in self.removers:
                line.addWidget(self.removers[name], 0, Qt.AlignmentFlag.AlignTop)
            left.addLayout(line)
        adding = QHBoxLayout()
        adding.setSpacing(8)
        for button in self.adders.values():
            adding.addWidget(button)
        adding.addStretch(1)
        left.addLayout(adding)
        left.addWidget(self.underlined)
        left.addStretch(1)
        self.sides.addLayout(left, 1)
        right = QVBoxLayout()
        right.setSpacing(8)
        title = QLabel("What each must reach")
        title.setFont(font(15, bold=True))
        right.addWidget(title)
        self.outcomes.setHorizontalSpacing(10)
        self.outcomes.setVerticalSpacing(6)
        right.addLayout(self.outcomes)
        right.addSpacing(4)
        right.addWidget(self.mend, 0, Qt.AlignmentFlag.AlignLeft)
        self.none.setWordWrap(True)
        right.addWidget(self.none)
        right.addStretch(1)
        self.sides.addLayout(right, 1)
        column.addWidget(card)
        column.addWidget(self.sample, 1)

    def set_narrow(self, narrow: bool) -> None:
        """Put the two sides one below the other where there is no room beside."""
        ways = QBoxLayout.Direction.TopToBottom, QBoxLayout.Direction.LeftToRight
        self.sides.setDirection(ways[0] if narrow else ways[1])

    # Changing

    def _taken(self, name: str, taken: Colour) -> None:
        links = self.state.now.links
        if name == "link":
            changed = replace(links, link=taken)
        elif name == "body":
            changed = replace(links, body=taken)
        elif name == "backdrop":
            changed = replace(links, backdrop=taken)
        else:
            changed = replace(links, states=_ordered({**dict(links.states), name: taken}))
        self.state.set_links(changed)

    def _switch(self, name: str) -> None:
        """Add a state, in the link's colour, or take it away."""
        links = self.state.now.links
        states = dict(links.states)
        if name in states:
            del states[name]
        else:
            states[name] = links.link
        self.state.set_links(replace(links, states=_ordered(states)))

    def _underline(self, on: bool) -> None:
        self.state.set_links(replace(self.state.now.links, underlined=on))

    def _mend(self) -> None:
        found = self.state.mend_link()
        words = "" if found else "No lightness of this hue reaches all of these ratios."
        self.none.setText(words)

    # Showing

    def refresh(self) -> None:
        """Show the state's colours."""
        links = self.state.now.links
        states = dict(links.states)
        for name in BASE:
            self.rows[name].show_colour(getattr(links, name))
        for name in LINK_STATES:
            there = name in states
            self.rows[name].setVisible(there)
            self.removers[name].setVisible(there)
            self.adders[name].setVisible(not there)
            if there:
                self.rows[name].show_colour(states[name])
        self.underlined.blockSignals(True)
        self.underlined.setChecked(links.underlined)
        self.underlined.blockSignals(False)
        found = link_outcomes(links, self.state.target)
        self._show_outcomes(found)
        passes = all(each.passes for each in found if each.words.startswith("link "))
        self.mend.setEnabled(not passes)
        if passes:
            self.none.setText("")
        self.sample.colours = links
        self.sample.update()

    def _show_outcomes(self, found: tuple[LinkOutcome, ...]) -> None:
        while len(self.lines) < len(found):
            row = len(self.lines)
            line = (Mark(self.theme, 14), QLabel(), QLabel(), QLabel())
            line[1].setFont(font(15, bold=True))
            for label in line[2:]:
                label.setWordWrap(True)
            for column, widget in enumerate(line):
                self.outcomes.addWidget(widget, row, column)
            self.outcomes.setColumnStretch(2, 4)
            self.outcomes.setColumnStretch(3, 3)
            self.lines.append(line)
        for place, (mark, ratio, words, asked) in enumerate(self.lines):
            there = place < len(found)
            for widget in (mark, ratio, words, asked):
                widget.setVisible(there)
            if not there:
                continue
            outcome = found[place]
            verdict = Verdict.PASSES if outcome.passes else Verdict.FALLS_SHORT
            mark.show_verdict(verdict if outcome.required is not None else Verdict.EXEMPT)
            ratio.setText(shown_ratio(outcome.ratio))
            words.setText(outcome.words)
            if outcome.required is None:
                asked.setText(outcome.why)
            else:
                missing = max(0.0, outcome.required - outcome.ratio)
                tail = "" if outcome.passes else f", {missing_words(missing)}"
                asked.setText(f"of {outcome.required:g} · {outcome.criterion}{tail}")


def _ordered(states: dict[str, Colour]) -> tuple[tuple[str, Colour], ...]:
    return tuple((name, states[name]) for name in LINK_STATES if name in states)
