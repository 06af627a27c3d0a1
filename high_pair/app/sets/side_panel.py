"""The panel at the right: the colour or pair at hand, ways to mend the set, and what is applied."""

from __future__ import annotations

from PySide6.QtCore import QRect, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.marks import Mark
from high_pair.app.rows import plural
from high_pair.app.sets.apart import ApartView
from high_pair.app.sets.colour_box import ColourBox
from high_pair.app.sets.file_sets import TriedPage
from high_pair.app.sets.line_view import LineView
from high_pair.app.sets.pair_box import PairBox
from high_pair.app.sets.proposal_list import ProposalList
from high_pair.app.sets.state import SetsState
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.report.colours import Effect
from high_pair.wcag.verdicts import Verdict

PICTURE = 100


class TriedView(QWidget):
    """Small pictures of pages with the set as it is proposed."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.pages: list[TriedPage] = []
        self.noun = "page"
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """Give the height of the pictures with their names."""
        tallest = max((self._height(page) for page in self.pages), default=0)
        return QSize(200, tallest + 22 if self.pages else 0)

    def _width(self) -> int:
        return min(PICTURE, max(40, (self.width() - 16) // 3))

    def _height(self, page: TriedPage) -> int:
        size = page.picture.size()
        return min(90, round(self._width() * size.height() / max(1, size.width())))

    def show_pages(self, pages: list[TriedPage], noun: str) -> None:
        """Show pages."""
        self.pages, self.noun = pages, noun
        names = ", ".join(f"{noun} {page.page + 1}" for page in pages)
        self.setAccessibleName(f"Pages with the set as proposed: {names}" if pages else "")
        self.setVisible(bool(pages))
        self.updateGeometry()
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the pictures."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        width = self._width()
        tallest = max((self._height(page) for page in self.pages), default=0)
        for place, page in enumerate(self.pages):
            box = QRect(place * (width + 8), 0, width, self._height(page))
            painter.drawImage(box, page.picture)
            painter.setPen(QPen(colour(self.theme.edge), 1))
            painter.drawRect(box.adjusted(0, 0, -1, -1))
            painter.setPen(colour(self.theme.text))
            painter.setFont(font(SMALL_PIXELS))
            words = f"{self.noun} {page.page + 1}"
            painter.drawText(QRect(box.left(), tallest + 3, width, 18), 0, words)
        painter.end()


class EffectView(QWidget):
    """What a set as proposed does on the pages: mends so many texts, breaks so many."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.rows: list[tuple[Mark, QLabel]] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        for _ in range(3):
            mark, words = Mark(theme, 14), QLabel()
            words.setWordWrap(True)
            words.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
            row = QHBoxLayout()
            row.addWidget(mark)
            row.addWidget(words, 1)
            column.addLayout(row)
            self.rows.append((mark, words))

    def show_effect(self, effect: Effect) -> None:
        """Show what was measured."""
        before = plural(effect.falls_short_before, "text")
        said: list[tuple[Verdict | None, str]] = [
            (Verdict.PASSES, f"mends {effect.mends} of {before} that fall short"),
            (
                Verdict.FALLS_SHORT if effect.breaks else None,
                f"breaks {effect.breaks}" if effect.breaks else "breaks none",
            ),
            (None, f"{effect.falls_short_after} fall short then"),
        ]
        for (mark, label), (verdict, words) in zip(self.rows, said, strict=True):
            mark.show_verdict(verdict)
            label.setText(words)


class SidePanel(QFrame):
    """The panel. apply_asked, keep_asked, add_asked: its buttons were pressed."""

    add_asked = Signal()
    apply_asked = Signal()
    keep_asked = Signal()

    def __init__(self, state: SetsState, line: LineView, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.narrow = False
        self.overview = QLabel()
        self.apart = ApartView(theme)
        self.add_button = QPushButton("Add colours…")
        self.colour = ColourBox(state, line, theme)
        self.pair = PairBox(state, theme)
        self.mending = QLabel("Mend the set")
        self.said = QLabel()
        self.proposals = ProposalList(theme)
        self.on_pages = QLabel("On the pages, measured")
        self.effect = EffectView(theme)
        self.tried = TriedView(theme)
        self.apply_button = QPushButton("Apply to the file")
        self.keep_button = QPushButton("Keep as a new set")
        self._lay_out()
        self.add_button.clicked.connect(self.add_asked)
        self.apply_button.clicked.connect(self.apply_asked)
        self.keep_button.clicked.connect(self.keep_asked)

    def _lay_out(self) -> None:
        inside = QWidget()
        inside.setObjectName("panelInside")
        column = QVBoxLayout(inside)
        column.setContentsMargins(16, 14, 14, 10)
        column.setSpacing(9)
        for label in (self.overview, self.said):
            label.setWordWrap(True)
            label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.mending.setFont(font(15, bold=True))
        self.on_pages.setProperty("heading", True)
        for widget in (
            self.overview,
            self.apart,
            self.add_button,
            self.colour,
            self.pair,
            self.mending,
            self.said,
            self.proposals,
            self.on_pages,
            self.effect,
            self.tried,
        ):
            column.addWidget(widget)
        column.addStretch(1)
        self.area = QScrollArea()
        self.area.setObjectName("panelInside")
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidget(inside)
        self.apply_button.setProperty("main", True)
        buttons = QHBoxLayout()
        buttons.setContentsMargins(16, 8, 14, 10)
        buttons.setSpacing(8)
        buttons.addWidget(self.apply_button, 1)
        buttons.addWidget(self.keep_button, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(self.area, 1)
        outer.addLayout(buttons)

    def set_narrow(self, narrow: bool) -> None:
        """Say less on the buttons where there is little room."""
        self.narrow = narrow
        self.keep_button.setText("Keep" if narrow else "Keep as a new set")

    def name_apply(self, kept: bool) -> None:
        """Name the button that applies. kept: to a kept set, and not to the file."""
        words = ("Change the set", "Change") if kept else ("Apply to the file", "Apply")
        self.apply_button.setText(words[self.narrow])
