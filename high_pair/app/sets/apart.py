"""The two colours that four kinds of eyes tell apart least, shown as those eyes have them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from high_pair.app.sets.words import shown_name
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.colour.srgb import from_bytes, to_bytes
from high_pair.colour.vision import Eyes, apart, seen_with
from high_pair.scene.colour_set import ColourSet, Levels, SetColour

WORDS = {
    Eyes.NORMAL: "usual eyes",
    Eyes.PROTAN: "red-weak",
    Eyes.DEUTAN: "green-weak",
    Eyes.TRITAN: "blue-weak",
}
ROW = 24


@dataclass(frozen=True)
class Closest:
    """Two colours, as some eyes have them. distance: ΔE2000 for those eyes."""

    eyes: Eyes
    one: SetColour
    other: SetColour
    seen: tuple[Levels, Levels]
    distance: float


def closest_of(colours: ColourSet, name: str = "") -> list[Closest]:
    """Give for each kind of eyes the two closest colours, or the one closest to a colour of a name.

    What is derived from a colour isn't compared: it belongs to it.
    """
    own = [each for each in colours.colours if not each.parent]
    places = [place for place, each in enumerate(own) if not name or each.name == name]
    if len(own) < 2 or not places:
        return []
    encoded = from_bytes(np.array([each.levels for each in own], np.uint8))
    found = []
    for eyes in Eyes:
        distances = apart(eyes, encoded)
        np.fill_diagonal(distances, np.inf)
        among = distances[places]
        row, column = np.unravel_index(int(np.argmin(among)), among.shape)
        one, other = places[int(row)], int(column)
        seen = to_bytes(seen_with(eyes, encoded[[one, other]]))
        pictures = tuple((int(r), int(g), int(b)) for r, g, b in seen)
        found.append(
            Closest(
                eyes,
                own[one],
                own[other],
                (pictures[0], pictures[1]),
                float(distances[one, other]),
            )
        )
    return found


class ApartView(QWidget):
    """A row for each kind of eyes."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.found: Sequence[Closest] = ()
        self._names: list[str] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """Give the height of the rows."""
        return QSize(200, ROW * len(self.found))

    def show_closest(self, found: Sequence[Closest], colours: ColourSet, named: bool) -> None:
        """Show pairs of colours. named: whether the first of each pair is named as well."""
        self.found = found
        self._names = []
        for each in found:
            one, other = (shown_name(c.name, colours) for c in (each.one, each.other))
            self._names.append(f"{one}, {other}" if named else other)
        rows = zip(found, self._names, strict=True)
        self.setAccessibleName(
            "; ".join(f"{WORDS[each.eyes]}: {name}, ΔE {each.distance:.0f}" for each, name in rows)
        )
        self.setToolTip(self.accessibleName().replace("; ", "\n"))
        self.updateGeometry()
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the rows: whose eyes, the two colours so, their names, and how far apart."""
        painter = QPainter(self)
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.setFont(font(SMALL_PIXELS))
        first = 84 if self.width() > 240 else 74
        for place, (each, name) in enumerate(zip(self.found, self._names, strict=True)):
            top = place * ROW
            painter.setPen(colour(self.theme.quiet))
            painter.drawText(QRect(0, top, first, ROW), middle, WORDS[each.eyes])
            for number, levels in enumerate(each.seen):
                box = QRect(first + number * 22, top + 3, 22, ROW - 7)
                painter.fillRect(box, QColor(*levels))
                painter.setPen(QPen(colour(self.theme.edge), 1))
                painter.drawRect(box)
            painter.setPen(colour(self.theme.text))
            distance = f"ΔE {each.distance:.0f}"
            width = painter.fontMetrics().horizontalAdvance(distance) + 2
            right = self.width() - width
            painter.drawText(QRect(right, top, width, ROW), middle, distance)
            left = first + 54
            shown = painter.fontMetrics().elidedText(
                name, Qt.TextElideMode.ElideRight, max(10, right - left - 6)
            )
            painter.drawText(QRect(left, top, max(10, right - left - 6), ROW), middle, shown)
        painter.end()
