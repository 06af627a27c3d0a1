"""The model behind every list of the window: rows, each with words for those who hear them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Generic, TypeVar

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, Qt

Index = QModelIndex | QPersistentModelIndex
ROW = Qt.ItemDataRole.UserRole
Row = TypeVar("Row")
_WORDS = (
    Qt.ItemDataRole.DisplayRole,
    Qt.ItemDataRole.AccessibleTextRole,
    Qt.ItemDataRole.ToolTipRole,
)


class RowModel(QAbstractListModel, Generic[Row]):
    """Rows in order. words_of: says a row in words."""

    def __init__(self, words_of: Callable[[Row], str]) -> None:
        super().__init__()
        self.rows: list[Row] = []
        self._words_of = words_of

    def show_rows(self, rows: list[Row]) -> None:
        """Replace all rows."""
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def row_changed(self, place: int) -> None:
        """Tell the view that a row looks different."""
        index = self.index(place)
        self.dataChanged.emit(index, index)

    def rowCount(self, parent: Index | None = None) -> int:
        """Count the rows."""
        return 0 if parent is not None and parent.isValid() else len(self.rows)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        """Give a row, or its words."""
        if not index.isValid():
            return None
        row = self.rows[index.row()]
        if role == ROW:
            return row
        return self._words_of(row) if role in _WORDS else None


def plural(count: int, noun: str, nouns: str = "") -> str:
    """Count things: «1 slide», «2 slides»; nouns: for more than one, if not by an s."""
    return f"{count} {noun if count == 1 else nouns or noun + 's'}"


def page_noun(where: str) -> str:
    """Give what a page is called, from its name or a place on it: «slide», «picture»."""
    word = where.partition(" ")[0]
    return word.lower() if word[:1].isupper() else "page"


def pages_words(pages: Sequence[int], noun: str) -> str:
    """Name pages by their numbers: «slide 2», «slides 2, 3 and 5»."""
    if len(pages) == 1:
        return f"{noun} {pages[0]}"
    return f"{noun}s {', '.join(str(page) for page in pages[:-1])} and {pages[-1]}"
