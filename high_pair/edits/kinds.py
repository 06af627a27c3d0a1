"""The kinds of edits: what is to be changed, at which address. Formats carry them out."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Self

from high_pair.scene.overlay import Overlay


class EditKind:
    """What all kinds have. name: as it is written; matter: what it is about, see `key`."""

    name: ClassVar[str]
    matter: ClassVar[str]
    # Whether it says something of its own, and doesn't merely end what another says.
    lasts: ClassVar[bool] = True
    address: str

    @property
    def key(self) -> tuple[str, ...]:
        """What it is about: one of the same key replaces it, any other stands beside it."""
        return self.matter, self.address

    @property
    def texts(self) -> tuple[str, ...]:
        """The addresses of the texts that it changes, or lays something behind."""
        return ()

    def over(self, before: object) -> Self:
        """Give it as it counts after another of its key, or after None."""
        return self


class OfItsText(EditKind):
    """Changes the text at its address."""

    @property
    def texts(self) -> tuple[str, ...]:
        """The one."""
        return (self.address,)


class Serving(EditKind):
    """Changes something for the sake of texts elsewhere."""

    serves: tuple[str, ...]

    @property
    def texts(self) -> tuple[str, ...]:
        """Those that it serves."""
        return self.serves


class Judgement(EditKind):
    """Is about one pair of an address, and changes no file."""

    subject: str

    @property
    def key(self) -> tuple[str, ...]:
        """Another pair of the address is judged apart."""
        return self.matter, self.address, self.subject


@dataclass(frozen=True)
class RecolourText(OfItsText):
    """Give the text at an address another colour.

    address: of one run or a span of them, see `scene.addresses`; levels: 8-bit
    sRGB; opacity: 0 to 1.
    """

    name: ClassVar[str] = "recolour-text"
    matter: ClassVar[str] = "colour"
    address: str
    levels: tuple[int, int, int]
    opacity: float = 1.0


@dataclass(frozen=True)
class RecolourOrigin(Serving):
    """Give a style, or a colour of the theme, another colour, for all that follows it.

    serves: the addresses of the texts that change by it.
    """

    name: ClassVar[str] = "recolour-origin"
    matter: ClassVar[str] = "colour where it is decided"
    address: str
    levels: tuple[int, int, int]
    serves: tuple[str, ...] = ()


@dataclass(frozen=True)
class RecolourFill(Serving):
    """Give what is behind texts a fill of one colour; serves: those texts' addresses."""

    name: ClassVar[str] = "recolour-fill"
    matter: ClassVar[str] = "fill"
    address: str
    levels: tuple[int, int, int]
    serves: tuple[str, ...] = ()


@dataclass(frozen=True)
class RecolourStops(Serving):
    """Give a gradient's stops other colours, or a pattern's two.

    stops: of a gradient all that stay, each its place from 0 to 1 and its colour, in rising order;
    of a pattern the foreground at 0 and the background at 1; serves: as of a fill.
    """

    name: ClassVar[str] = "recolour-stops"
    matter: ClassVar[str] = "fill"
    address: str
    stops: tuple[tuple[float, tuple[int, int, int]], ...]
    serves: tuple[str, ...] = ()


@dataclass(frozen=True)
class Restyle(OfItsText):
    """Give the text at an address another size in points, make it bold, or underline it.

    None leaves each as it is.
    """

    name: ClassVar[str] = "restyle"
    matter: ClassVar[str] = "style"
    address: str
    size: float | None = None
    bold: bool | None = None
    underline: bool | None = None

    def over(self, before: object) -> Restyle:
        """Give both changes as one; where both say something, this one counts."""
        if not isinstance(before, Restyle):
            return self
        said = {name: value for name, value in vars(self).items() if value is not None}
        return replace(before, **said)


@dataclass(frozen=True)
class MoveShape(Serving):
    """Move a shape with its texts, in points on the page.

    box: x, y, width, height of its rectangle before it is turned, in points, and turn: by how many
    degrees, clockwise, for one that has its place from elsewhere; serves: the addresses of its
    texts.
    """

    name: ClassVar[str] = "move-shape"
    matter: ClassVar[str] = "place"
    address: str
    across: float
    down: float
    box: tuple[float, float, float, float]
    turn: float = 0.0
    serves: tuple[str, ...] = ()

    def over(self, before: object) -> MoveShape:
        """Give both ways as one, from where it stood at first."""
        if not isinstance(before, MoveShape):
            return self
        across, down = before.across + self.across, before.down + self.down
        return replace(self, across=across, down=down, box=before.box)


@dataclass(frozen=True)
class MarkText(EditKind):
    """Say that text stands in a box on a picture's page, and what is known of it.

    box: x, y, width, height in points; words: what the text says; size (points)
    and weight: as set, None to be estimated from the letters.
    """

    name: ClassVar[str] = "mark-text"
    matter: ClassVar[str] = "box"
    address: str
    box: tuple[float, float, float, float]
    words: str = ""
    size: float | None = None
    weight: int | None = None


@dataclass(frozen=True)
class UnmarkText(EditKind):
    """Take a box away again."""

    name: ClassVar[str] = "unmark-text"
    matter: ClassVar[str] = "box"
    address: str


@dataclass(frozen=True)
class LayOver(Serving):
    """Lay an overlay where an address says: below a text, or right above a picture.

    One that is there already is changed. serves: the addresses of the texts that
    it is for.
    """

    name: ClassVar[str] = "lay-over"
    matter: ClassVar[str] = "overlay"
    address: str
    overlay: Overlay
    serves: tuple[str, ...] = ()


@dataclass(frozen=True)
class TakeOff(EditKind):
    """Take an overlay away."""

    name: ClassVar[str] = "take-off"
    matter: ClassVar[str] = "overlay"
    address: str


@dataclass(frozen=True)
class Repaint(OfItsText):
    """Put other pixels in the place of a part of a picture, with the text that a box is round.

    box: x, y, width, height in points, on whole pixels; patch: those pixels, a PNG without
    transparency in sRGB, in Base64.
    """

    name: ClassVar[str] = "repaint"
    matter: ClassVar[str] = "pixels"
    address: str
    box: tuple[float, float, float, float]
    patch: str


@dataclass(frozen=True)
class SetAside(Judgement):
    """Say of a pair that it isn't to be judged, with the person's reason; changes no file.

    address, subject: which of a page's pairs; note: in the reviewer's own words.
    """

    name: ClassVar[str] = "set-aside"
    matter: ClassVar[str] = "judging"
    address: str
    subject: str
    reason: str
    note: str = ""

    @property
    def words(self) -> str:
        """The reason and the note, as reports have them."""
        return f"{self.reason}: {self.note}" if self.note else self.reason


@dataclass(frozen=True)
class TakeUp(Judgement):
    """Judge a pair again that was set aside."""

    name: ClassVar[str] = "take-up"
    matter: ClassVar[str] = "judging"
    lasts: ClassVar[bool] = False
    address: str
    subject: str


# Of a deck's texts and surfaces; of a picture's boxes; of what a person has decided.
Mend = (
    RecolourText
    | RecolourOrigin
    | RecolourFill
    | RecolourStops
    | Restyle
    | LayOver
    | TakeOff
    | MoveShape
    | Repaint
)
Boxing = MarkText | UnmarkText
Judging = SetAside | TakeUp
Edit = Mend | Boxing | Judging
KINDS: tuple[type[Edit], ...] = (
    RecolourText, RecolourOrigin, RecolourFill, RecolourStops, Restyle, LayOver, TakeOff, MoveShape,
    MarkText, UnmarkText, Repaint, SetAside, TakeUp,
)  # fmt: skip
