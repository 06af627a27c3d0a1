"""The pages as a strip, each with its marks."""

from __future__ import annotations

from dataclasses import dataclass, field

from PySide6.QtCore import QModelIndex, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QPainter, QPen
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from high_pair.app.marks import paint_mark
from high_pair.app.rows import ROW, Index, RowModel
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.wcag.verdicts import Verdict

THUMBNAIL_WIDTH = 112
NARROW_WIDTH = 64
FOOT = 24
MARGIN = 12
NARROW_MARGIN = 8
SCROLL_BAR = 12
# Headings of a page are listed below it, so many at most.
HEADING_ROW, MOST_HEADINGS = 16, 4
COUNTED = (Verdict.FALLS_SHORT, Verdict.NEEDS_EYES)


@dataclass
class PageRow:
    """A page in the strip, or (page -1) the name of the file whose pages follow.

    headings: level and words of those that begin on it; counts: how many pairs of
    each verdict; None while the page is not measured.
    """

    file: int
    page: int
    name: str
    aspect: float = 1.0
    hidden: bool = False
    headings: tuple[tuple[int, str], ...] = ()
    counts: dict[Verdict, int] | None = None
    thumbnail: QImage = field(default_factory=QImage)

    @property
    def is_heading(self) -> bool:
        """Whether the row names a file."""
        return self.page < 0

    @property
    def marks(self) -> list[tuple[Verdict, int]]:
        """The marks under the page: what is wrong with its count, else that it passes."""
        if self.counts is None:
            return []
        found = [(v, self.counts[v]) for v in COUNTED if self.counts.get(v)]
        if found:
            return found
        if self.hidden or not any(self.counts.values()):
            return [(Verdict.EXEMPT, sum(self.counts.values()))]
        return [(Verdict.PASSES, self.counts.get(Verdict.PASSES, 0))]

    @property
    def words(self) -> str:
        """The row in words, for those who hear it."""
        if self.is_heading:
            return self.name
        if self.counts is None:
            return f"{self.name}, not measured yet"
        parts = [f"{count} {verdict.words}" for verdict, count in self.marks]
        named = [words for _, words in self.headings[:MOST_HEADINGS]]
        return ", ".join([self.name, *(["hidden"] if self.hidden else []), *parts, *named])


class PageModel(RowModel[PageRow]):
    """The rows of the strip."""

    def __init__(self) -> None:
        super().__init__(lambda row: row.words)

    def flags(self, index: Index) -> Qt.ItemFlag:
        """Let pages be chosen, headings not."""
        if index.isValid() and self.rows[index.row()].is_heading:
            return Qt.ItemFlag.ItemIsEnabled
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable

    def place_of(self, file: int, page: int) -> int:
        """Give the row of a page, -1 without one."""
        for place, row in enumerate(self.rows):
            if row.file == file and row.page == page:
                return place
        return -1


class _Delegate(QStyledItemDelegate):
    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.thumbnail_width = THUMBNAIL_WIDTH

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        """Give a row's size."""
        row: PageRow = index.data(ROW)
        width = self.thumbnail_width + 2 * NARROW_MARGIN
        if row.is_heading:
            return QSize(width, 30)
        outline = HEADING_ROW * len(row.headings[:MOST_HEADINGS])
        return QSize(width, round(self.thumbnail_width * row.aspect) + FOOT + 12 + outline)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint a page with its number and marks."""
        row: PageRow = index.data(ROW)
        theme = self.theme
        painter.save()
        painter.setPen(colour(theme.text))
        area: QRect = option.rect
        if row.is_heading:
            painter.setFont(font(SMALL_PIXELS, bold=True))
            box = area.adjusted(MARGIN, 0, -MARGIN, -4)
            name = painter.fontMetrics().elidedText(
                row.name, Qt.TextElideMode.ElideMiddle, box.width()
            )
            painter.drawText(box, Qt.AlignmentFlag.AlignBottom, name)
            painter.restore()
            return
        left = area.left() + (area.width() - self.thumbnail_width) // 2
        height = round(self.thumbnail_width * row.aspect)
        box = QRect(left, area.top() + 8, self.thumbnail_width, height)
        if row.thumbnail.isNull():
            painter.fillRect(box, colour(theme.track))
        else:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(box, row.thumbnail)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.setPen(QPen(colour(theme.edge), 1))
        painter.drawRect(box)
        if chosen:
            painter.setPen(QPen(colour(theme.accent), 3))
            painter.drawRect(box.adjusted(-4, -4, 4, 4))
            if option.state & QStyle.StateFlag.State_HasFocus:
                painter.setPen(QPen(colour(theme.text), 1, Qt.PenStyle.DotLine))
                painter.drawRect(box.adjusted(-7, -7, 7, 7))
        foot = QRect(left, box.bottom() + 6, self.thumbnail_width, 18)
        self._paint_foot(painter, row, foot, chosen)
        self._paint_outline(painter, row, foot)
        painter.restore()

    def _paint_outline(self, painter: QPainter, row: PageRow, foot: QRect) -> None:
        """Write the headings that begin on a page, each indented by its level."""
        painter.setFont(font(SMALL_PIXELS))
        painter.setPen(colour(self.theme.quiet))
        for count, (level, words) in enumerate(row.headings[:MOST_HEADINGS]):
            indent = 8 * min(3, max(0, level - 1))
            line = QRect(foot.left() + indent, foot.bottom() + 2 + count * HEADING_ROW,
                         foot.width() - indent, HEADING_ROW)  # fmt: skip
            shown = painter.fontMetrics().elidedText(
                words, Qt.TextElideMode.ElideRight, line.width()
            )
            painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, shown)

    def _paint_foot(self, painter: QPainter, row: PageRow, box: QRect, chosen: bool) -> None:
        painter.setPen(colour(self.theme.text))
        painter.setFont(font(SMALL_PIXELS, bold=chosen))
        middle = Qt.AlignmentFlag.AlignVCenter
        roomy = box.width() >= THUMBNAIL_WIDTH
        label = f"{row.page + 1}" + (" hidden" if row.hidden and roomy else "")
        painter.drawText(box, middle | Qt.AlignmentFlag.AlignLeft, label)
        right = box.right()
        painter.setFont(font(SMALL_PIXELS))
        # Where there is no room for two marks, the graver one stands.
        for verdict, count in reversed(row.marks if roomy else row.marks[:1]):
            words = str(count)
            width = painter.fontMetrics().horizontalAdvance(words)
            painter.drawText(
                QRect(right - width, box.top(), width + 1, box.height()), middle, words
            )
            mark = QRectF(right - width - 18, box.center().y() - 5, 12, 12)
            paint_mark(painter, mark, verdict, self.theme)
            right -= width + 28
            painter.setPen(colour(self.theme.text))


class PageStrip(QListView):
    """The strip. `page_chosen` tells the file and page that the user went to."""

    page_chosen = Signal(int, int)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("pages")
        self.setAccessibleName("Pages")
        self.setFixedWidth(THUMBNAIL_WIDTH + 2 * MARGIN + SCROLL_BAR)
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setSelectionMode(QListView.SelectionMode.SingleSelection)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.pages = PageModel()
        self.setModel(self.pages)
        self._delegate = _Delegate(theme)
        self.setItemDelegate(self._delegate)
        self.selectionModel().currentChanged.connect(self._current_changed)
        self._quiet = False

    def _current_changed(self, current: QModelIndex, _before: QModelIndex) -> None:
        row = current.data(ROW) if current.isValid() else None
        if isinstance(row, PageRow) and not row.is_heading and not self._quiet:
            self.page_chosen.emit(row.file, row.page)

    def set_narrow(self, narrow: bool) -> None:
        """Show smaller pages, for a small window or a large scale."""
        width = NARROW_WIDTH if narrow else THUMBNAIL_WIDTH
        if self._delegate.thumbnail_width != width:
            self._delegate.thumbnail_width = width
            margin = NARROW_MARGIN if narrow else MARGIN
            self.setFixedWidth(width + 2 * margin + SCROLL_BAR)
            self.scheduleDelayedItemsLayout()

    def go_to(self, file: int, page: int) -> None:
        """Show a page as the chosen one, without a signal."""
        place = self.pages.place_of(file, page)
        if place >= 0 and self.currentIndex().row() != place:
            self._quiet = True
            self.setCurrentIndex(self.pages.index(place))
            self.scrollTo(self.pages.index(place))
            self._quiet = False

    def step(self, by: int) -> None:
        """Go to the next or previous page."""
        place = self.currentIndex().row() + by
        while 0 <= place < len(self.pages.rows):
            if not self.pages.rows[place].is_heading:
                self.setCurrentIndex(self.pages.index(place))
                return
            place += by
