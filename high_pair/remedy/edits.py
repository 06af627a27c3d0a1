"""Edits: what is to be changed, at which address. Formats carry them out."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.scene.overlay import Overlay


@dataclass(frozen=True)
class RecolourText:
    """Give the text at an address another colour.

    address: of one run or a span of them, see `scene.addresses`; levels: 8-bit
    sRGB; opacity: 0 to 1.
    """

    address: str
    levels: tuple[int, int, int]
    opacity: float = 1.0


@dataclass(frozen=True)
class RecolourOrigin:
    """Give a style, or a colour of the theme, another colour, for all that follows it.

    serves: the addresses of the texts that change by it.
    """

    address: str
    levels: tuple[int, int, int]
    serves: tuple[str, ...] = ()


@dataclass(frozen=True)
class RecolourFill:
    """Give what is behind texts a fill of one colour; serves: those texts' addresses."""

    address: str
    levels: tuple[int, int, int]
    serves: tuple[str, ...] = ()


@dataclass(frozen=True)
class Restyle:
    """Give the text at an address another size in points, make it bold, or underline it.

    None leaves each as it is.
    """

    address: str
    size: float | None = None
    bold: bool | None = None
    underline: bool | None = None


@dataclass(frozen=True)
class MarkText:
    """Say that text stands in a box on a picture's page, and what is known of it.

    box: x, y, width, height in points; words: what the text says; size (points)
    and weight: as set, None to be estimated from the letters.
    """

    address: str
    box: tuple[float, float, float, float]
    words: str = ""
    size: float | None = None
    weight: int | None = None


@dataclass(frozen=True)
class UnmarkText:
    """Take a box away again."""

    address: str


@dataclass(frozen=True)
class LayOver:
    """Lay an overlay where an address says: below a text, or right above a picture.

    One that is there already is changed. serves: the addresses of the texts that
    it is for.
    """

    address: str
    overlay: Overlay
    serves: tuple[str, ...] = ()


@dataclass(frozen=True)
class TakeOff:
    """Take an overlay away."""

    address: str


@dataclass(frozen=True)
class SetAside:
    """Say of a pair that it isn't to be judged, with the person's reason; changes no file.

    address, subject: which of a page's pairs; note: in the reviewer's own words.
    """

    address: str
    subject: str
    reason: str
    note: str = ""


@dataclass(frozen=True)
class TakeUp:
    """Judge a pair again that was set aside."""

    address: str
    subject: str


# Of a deck's texts and surfaces; of a picture's boxes; of what a person has decided.
Mend = RecolourText | RecolourOrigin | RecolourFill | Restyle | LayOver | TakeOff
Boxing = MarkText | UnmarkText
Judging = SetAside | TakeUp
Edit = Mend | Boxing | Judging
