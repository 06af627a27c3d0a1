"""The page, or a part of it, as it is seen at one place of the scrolling."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from concurrent.futures import Executor
from dataclasses import dataclass
from typing import Any

from high_pair.engine.frames import Painter, Pixels, colours_of
from high_pair.engine.paintings import (
    STEADY,
    WITHOUT,
    Paintings,
    Part,
    paint,
    paint_backdrop,
    paint_parts,
    paint_seen,
)
from high_pair.engine.protocol import Control, Icon, Text
from high_pair.engine.texts import boxes_of


@dataclass(frozen=True)
class View:
    """What is looked at in one place of the scrolling.

    part: which of the page, None for the whole as it stands; rest: its paintings at rest; texts:
    those seen there, as told there at rest, by their keys; numbers: of the links and controls seen
    there, None for all; controls, icons: of these, those that nowhere else are seen.
    """

    painter: Painter
    part: Part | None
    rest: Paintings
    texts: Mapping[tuple[Any, ...], Text]
    numbers: frozenset[int] | None = None
    controls: Sequence[Control] = ()
    icons: Sequence[Icon] = ()

    def bring(self) -> None:
        """Scroll there."""
        if self.part is not None and self.part.bring is not None:
            self.part.bring()

    def seen(self, more: str = "") -> Pixels:
        """Paint it as it is now, with its text. more: a sheet besides."""
        return paint_seen(self.painter, more) if self.part is None else self._grab(more)

    def backdrop(self, more: str = "") -> Pixels:
        """Paint it as it is now, without its text. more: a sheet besides."""
        if self.part is None:
            return paint_backdrop(self.painter, more)
        return self._grab(WITHOUT + more)

    def _grab(self, sheet: str) -> Pixels:
        assert self.part is not None
        self.bring()
        self.painter.show(STEADY + sheet)
        return colours_of(self.painter.grab_part(self.part.box, self.part.scrolled))

    def paintings(self, beside: Executor, more: str = "") -> Paintings:
        """Paint all of it as it is now. beside: see `paint`."""
        if self.part is None:
            return paint(self.painter, beside, more=more).result()
        found = next(paint_parts(self.painter, [self.part], True, more))
        assert found is not None
        return found


def place_words(text: Text, now: Text, places: list[int], tile: int) -> None:
    """Say of some of a text's words in which part's painting they are, and where as told now."""
    # What of it shows at rest is its ink there all the same.
    text.setdefault("rest", boxes_of(text))
    boxes = boxes_of(now)
    said = [word[0] for word in now["words"]] or [now["text"]]
    placed = text.setdefault("placed", [])
    placed += [[said[place], *boxes[place], tile] for place in places]
