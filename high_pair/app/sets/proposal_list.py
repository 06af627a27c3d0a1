"""The ways to mend a set, as cards: its colours before and after, what moves, and how far."""

from __future__ import annotations

from PySide6.QtCore import QRect, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from high_pair.app.rows import ROW, Index, RowModel, plural
from high_pair.app.sets.settler import Proposal
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.remedy.sets import Move
from high_pair.scene.colour_set import ColourSet

CARD_HEIGHT = 74
CARD = CARD_HEIGHT + 8
SWATCHES = 104
TITLES = {
    Move.TEXTS: "Move the texts",
    Move.BACKDROPS: "Move the backdrops",
    Move.BOTH: "Move both, the least",
}


def moved_words(proposal: Proposal) -> str:
    """Say what moves."""
    mended = proposal.mended
    return f"{plural(len(mended.changes), 'colour')}, ΔE {mended.total:.0f} in all"


def held_words(proposal: Proposal) -> str:
    """Say what can't be held, or how far apart the two closest colours are."""
    given_up = len(proposal.mended.given_up)
    if given_up:
        return f"{plural(given_up, 'pair')} can’t be held so"
    return f"still apart: ΔE {proposal.least:.0f} at least"


class _Delegate(QStyledItemDelegate):
    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.before: ColourSet | None = None

    def sizeHint(self, _option: QStyleOptionViewItem, _index: Index) -> QSize:
        """Give a row's size."""
        return QSize(200, CARD)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint a card."""
        proposal: Proposal = index.data(ROW)
        theme = self.theme
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area: QRect = option.rect.adjusted(2, 2, -3, -7)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.setPen(QPen(colour(theme.accent if chosen else theme.edge), 3 if chosen else 1))
        painter.setBrush(colour(theme.field))
        painter.drawRoundedRect(area, 6, 6)
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(QPen(colour(theme.text), 1, Qt.PenStyle.DotLine))
            painter.drawRoundedRect(area.adjusted(4, 4, -4, -4), 4, 4)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        swatches = QRect(area.left() + 10, area.top() + 9, SWATCHES, 22)
        if area.width() < 280:
            swatches.setWidth(64)
        if self.before is not None:
            self._paint_swatches(painter, self.before, swatches)
        self._paint_swatches(painter, proposal.mended.colours, swatches.translated(0, 28))
        self._paint_words(painter, proposal, area, swatches.right() + 12, index.row())
        painter.restore()

    def _paint_swatches(self, painter: QPainter, colours: ColourSet, box: QRect) -> None:
        own = [each for each in colours.colours if not each.parent]
        for place, each in enumerate(own):
            left = box.left() + box.width() * place // len(own)
            right = box.left() + box.width() * (place + 1) // len(own)
            swatch = QRect(left, box.top(), max(1, right - left), box.height())
            painter.fillRect(swatch, QColor(*each.levels))
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)

    def _paint_words(
        self, painter: QPainter, proposal: Proposal, area: QRect, left: int, row: int
    ) -> None:
        room = area.right() - left - 8
        line = QRect(left, area.top() + 7, room, 20)
        elide = Qt.TextElideMode.ElideRight
        lines = (
            (f"{row + 1}  {TITLES[proposal.move]}", font(), self.theme.text),
            (moved_words(proposal), font(SMALL_PIXELS), self.theme.quiet),
            (held_words(proposal), font(SMALL_PIXELS), self.theme.quiet),
        )
        for words, face, ink in lines:
            painter.setFont(face)
            painter.setPen(colour(ink))
            shown = painter.fontMetrics().elidedText(words, elide, room)
            painter.drawText(line, Qt.AlignmentFlag.AlignLeft, shown)
            line.translate(0, 20)


class ProposalList(QListView):
    """The list. proposal_chosen: a proposal, or None when none is chosen any more."""

    proposal_chosen = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("remedies")
        self.setAccessibleName("Ways to mend the set")
        self.setSelectionMode(QListView.SelectionMode.SingleSelection)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.cards: RowModel[Proposal] = RowModel(
            lambda each: f"{TITLES[each.move]}, {moved_words(each)}, {held_words(each)}"
        )
        self.setModel(self.cards)
        self.delegate = _Delegate(theme)
        self.setItemDelegate(self.delegate)
        self.selectionModel().selectionChanged.connect(lambda *_: self._tell())
        self._quiet = False

    @property
    def chosen(self) -> Proposal | None:
        """The proposal chosen, None when none is."""
        selected = self.selectedIndexes()
        return self.cards.rows[selected[0].row()] if selected else None

    def show_proposals(
        self, proposals: tuple[Proposal, ...], before: ColourSet | None, chosen: object
    ) -> None:
        """Show proposals; chosen: what is looked at, which is marked without a signal."""
        self._quiet = True
        self.delegate.before = before
        if list(proposals) != self.cards.rows:
            self.cards.show_rows(list(proposals))
        places = [n for n, each in enumerate(proposals) if each.mended is chosen]
        if places:
            self.setCurrentIndex(self.cards.index(places[0]))
        else:
            self.selectionModel().clear()
        self._quiet = False
        self.setFixedHeight(len(proposals) * CARD + 4)
        self.setVisible(bool(proposals))
        self.viewport().update()

    def choose(self, row: int) -> None:
        """Choose a proposal by its place."""
        if 0 <= row < len(self.cards.rows):
            self.setCurrentIndex(self.cards.index(row))

    def _tell(self) -> None:
        if not self._quiet:
            self.proposal_chosen.emit(self.chosen)
