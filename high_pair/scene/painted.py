"""A page that another program has laid out and painted, such as a browser engine.

Nothing of it is painted here: its pixels are given, with and without text.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from high_pair.scene.geometry import Box
from high_pair.scene.paint import Colour
from high_pair.scene.text import Run

PixelBox = tuple[int, int, int, int]
# What `Painting.coverage` holds for ink through and through,
FULL = 250
# and for a letter that has colours of its own.
OWN_COLOURS = 255


@dataclass(frozen=True, eq=False)
class Painting:
    """A page's pixels, and below them parts of it as they look at other times.

    seen: uint8 (h, w, 3), with text; backdrop: (h, w, 3), without; coverage:
    uint8 (h, w), how much of a pixel is ink, FULL for all of it; scale: pixels
    a point; rows: those of the page itself; layers: whose ink each of its pixels
    is where texts lie over one another, uint8 (rows, w), None where none do;
    shadows: where texts' own shadows are painted, likewise, 1 or 0.
    """

    seen: NDArray[np.uint8]
    backdrop: NDArray[np.uint8]
    coverage: NDArray[np.uint8]
    scale: float
    rows: int
    layers: NDArray[np.uint8] | None = None
    shadows: NDArray[np.uint8] | None = None


@dataclass(frozen=True)
class PaintedWord:
    """A word, and the box on the painting (left, top, right, bottom) in which its ink lies.

    shift: by which a place on the painting is moved to its place on the page, in
    pixels; cut: something hides the rest of it, so nothing beyond its box is behind it.
    """

    text: str
    box: PixelBox
    shift: tuple[int, int] = (0, 0)
    cut: bool = False


@dataclass(frozen=True)
class PaintedText:
    """A stretch of text of one look.

    run: its look, and its colour as stated; words: where they are; paragraph:
    what it shares with the texts around it; otherwise: why its colour may be
    painted otherwise than stated, empty where that is not known; blended: for the reason that what
    is behind it changes it, place by place; group: it is
    within something see-through; exempt: why the standard asks nothing of it;
    appears: when it looks so, empty where it does at rest; note: what is to be
    known of its verdict; loose: its box is one
    in which other ink may lie that belongs to no word; ink_opacity: how opaque
    what it stands in leaves its ink; inkless: nothing of it is painted, so ink in
    its boxes is another's; layer: in which of `Painting.layers` its ink is, 0 in any;
    shadowed: it has a shadow of its own, which is part of what is behind it.
    """

    run: Run
    words: tuple[PaintedWord, ...]
    where: str
    paragraph: int = 0
    otherwise: str = ""
    blended: bool = False
    group: bool = False
    exempt: str = ""
    appears: str = ""
    note: str = ""
    loose: bool = False
    ink_opacity: float = 1.0
    inkless: bool = False
    layer: int = 0
    shadowed: bool = False

    @property
    def on_page(self) -> bool:
        """Whether all of its words are on the page as it is at rest."""
        return all(word.shift == (0, 0) for word in self.words)


@dataclass(frozen=True)
class PaintedSurface:
    """Something painted behind texts: a fill, or a picture.

    box: in points; address: where it can be changed; colour: of its fill, None
    where it has none or is more than that; picture: it shows one; layered: a
    layer can be laid between its picture and the text; shades: the colours of its
    gradients in the order in which they are written, empty where it has none or
    they can't be changed one by one.
    """

    box: Box
    address: str
    colour: Colour | None = None
    picture: bool = False
    layered: bool = False
    shades: tuple[Colour, ...] = ()


@dataclass(frozen=True)
class PaintedGraphic:
    """What tells where a control is, or which has the focus: measured against what is next to it.

    inner, outer: boxes on the painting between which it is painted, as a border
    or a ring; before: the box of the same place at rest, on the painting, where
    what is new counts alone; exempt, trouble: why it isn't judged; changeable: its
    address is one where its colour can be changed; icon: it is a picture within
    its box, whose colours are measured against what they lie on.
    """

    name: str
    where: str
    address: str
    inner: PixelBox
    outer: PixelBox
    shift: tuple[int, int]
    exempt: str = ""
    trouble: str = ""
    before: PixelBox | None = None
    appears: str = ""
    changeable: bool = False
    icon: bool = False
