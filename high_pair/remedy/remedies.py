"""What a remedy is: a proposal that passes, measured, with its cost."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.scene.overlay import Overlay, OverlayKind
from high_pair.scene.text import Decider


@dataclass(frozen=True)
class Recolour:
    """Another colour for the text.

    direction: darker, lighter, black, white, own or set; ratio: the governing ratio that
    the weakest of the pairs served has with it; difference: ΔE00 from the
    colour as it is; made_opaque: a see-through text becomes opaque.
    """

    levels: tuple[int, int, int]
    opacity: float
    direction: str
    ratio: float
    difference: float
    made_opaque: bool = False

    kind = "recolour"

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        red, green, blue = self.levels
        return f"Recolour text to #{red:02X}{green:02X}{blue:02X}"

    @property
    def detail(self) -> str:
        """What the change is like."""
        keeps = {
            "darker": "darker, hue kept",
            "lighter": "lighter, hue kept",
            "own": "a colour of the file's own",
            "set": "of the set in use",
        }
        parts = [keeps.get(self.direction, f"plain {self.direction}")]
        if self.made_opaque:
            parts.append("made opaque")
        parts.append(f"ΔE {self.difference:.1f}")
        return " · ".join(parts)


@dataclass(frozen=True)
class Laid:
    """An overlay between the text and what is behind it.

    address: where it goes; ratio: the governing ratio of the weakest of the
    pairs served; covered: the share of the picture that it covers; kept: how
    much of its own contrast the picture keeps there, the mean of what shows
    through; edge: the largest step at an edge of the overlay that falls on the
    picture, as a difference in OKLab times 100; difference: the same measure of
    what changes, the mean over the page; serves: the addresses of the texts
    that it is for; text: another colour for them besides, where no overlay
    serves the one they have; before: it lies there already, and what it costs
    isn't worked out.
    """

    address: str
    overlay: Overlay
    ratio: float
    covered: float
    kept: float
    edge: float
    difference: float
    serves: tuple[str, ...] = ()
    text: tuple[int, int, int] | None = None
    before: bool = False

    @property
    def kind(self) -> str:
        """The remedy's name."""
        return self.overlay.kind.value

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        red, green, blue = self.overlay.levels
        name = self.kind.capitalize()
        if self.overlay.kind is OverlayKind.DIM:
            name = "Dim picture over"
        return f"{name} #{red:02X}{green:02X}{blue:02X}, {self.overlay.percent}%"

    @property
    def detail(self) -> str:
        """What the change is like."""
        if self.before:
            return "chosen, it is fitted anew"
        words = f"covers {self.covered:.0%}, keeps {self.kept:.0%}"
        if self.text is not None:
            red, green, blue = self.text
            words = f"text #{red:02X}{green:02X}{blue:02X} · {words}"
        return words


@dataclass(frozen=True)
class AtOrigin:
    """A change where many texts have it from: a colour in a style or the theme, or an overlay.

    overlay: what is laid over a picture of the layout or the master, None where
    a colour is changed; words: where that is; ratio: of the weakest text that it mends; difference:
    ΔE00; changed: how many texts change, on how many pages; serves: their
    addresses; mended: how many of them come to pass; broken: the texts that
    would newly fall short, with their pages.
    """

    address: str
    words: str
    levels: tuple[int, int, int]
    ratio: float
    difference: float
    changed: int
    pages: int
    serves: tuple[str, ...]
    mended: int
    broken: tuple[tuple[str, int], ...] = ()
    overlay: Overlay | None = None

    @property
    def kind(self) -> str:
        """The remedy's name."""
        return self.overlay.kind.value if self.overlay else "recolour"

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        red, green, blue = self.levels
        code = f"#{red:02X}{green:02X}{blue:02X}"
        if self.overlay is not None:
            return f"{self.kind.capitalize()} {code}, {self.overlay.percent}%"
        return f"Recolour to {code}"

    @property
    def detail(self) -> str:
        """What the change is like."""
        return f"mends {self.mended}, breaks {len(self.broken) or 'none'}"

    @property
    def consequences(self) -> str:
        """What it does beside the text at hand, in a sentence."""
        texts = "text" if self.changed == 1 else "texts"
        pages = "page" if self.pages == 1 else "pages"
        return (
            f"Changes {self.changed} {texts} on {self.pages} {pages} {self.words}: "
            f"{self.mended} come to pass, {len(self.broken) or 'none'} would newly fall short."
        )


@dataclass(frozen=True)
class Backdrop:
    """Another colour for the fill behind the text; text: another for the text as well.

    serves: the addresses of the texts that it is for; difference: ΔE00 of the
    larger of the changes; plate: the fill comes in right behind the words, above
    what is there now.
    """

    address: str
    levels: tuple[int, int, int]
    ratio: float
    difference: float
    serves: tuple[str, ...]
    text: tuple[int, int, int] | None = None
    plate: bool = False

    @property
    def kind(self) -> str:
        """The remedy's name."""
        return "plate" if self.plate else "recolour the backdrop"

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        red, green, blue = self.levels
        if self.plate:
            return f"Plate #{red:02X}{green:02X}{blue:02X}"
        if self.text is None:
            return f"Backdrop to #{red:02X}{green:02X}{blue:02X}"
        one, two, three = self.text
        own = f"#{one:02X}{two:02X}{three:02X}"
        return f"{own} on #{red:02X}{green:02X}{blue:02X}"

    @property
    def detail(self) -> str:
        """What the change is like."""
        count = len(self.serves)
        kind = "behind the words · " if self.plate else "shared · " if self.text else ""
        serves = f" · serves {count} texts" if count > 1 else ""
        return f"{kind}ΔE {self.difference:.1f}{serves}"


@dataclass(frozen=True)
class Restyled:
    """Bold letters, or larger ones, which make the text large-scale; or an underline for a link.

    size: in points, None where it stays; required: what is asked then.
    """

    address: str
    size: float | None
    bold: bool | None
    ratio: float
    required: float
    difference: float = 0.0
    underline: bool | None = None

    @property
    def kind(self) -> str:
        """The remedy's name."""
        return "underline" if self.underline else "weight and size"

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        if self.underline:
            return "Underline the link"
        size = f"{self.size:.4g} pt" if self.size is not None else ""
        return (
            f"Make it {' and '.join(word for word in ('bold' if self.bold else '', size) if word)}"
        )

    @property
    def detail(self) -> str:
        """What the change is like."""
        if self.underline:
            return "then colour alone needn't tell it from the text around it"
        return f"large-scale: {self.required:g} is enough · it still fits its box"


@dataclass(frozen=True)
class Calmed:
    """A gradient or a pattern behind the text whose colours lie nearer to one another.

    stops: see `RecolourStops`; left_out: how many stops are; pattern: it is one; difference: the
    mean ΔE00 over all of it.
    """

    address: str
    stops: tuple[tuple[float, tuple[int, int, int]], ...]
    ratio: float
    difference: float
    serves: tuple[str, ...]
    left_out: int = 0
    pattern: bool = False

    @property
    def kind(self) -> str:
        """The remedy's name."""
        return "calm pattern" if self.pattern else "calm gradient"

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        codes = [f"#{red:02X}{green:02X}{blue:02X}" for _, (red, green, blue) in self.stops]
        shown = codes if len(codes) <= 2 else [codes[0], codes[-1]]
        return f"{'Pattern' if self.pattern else 'Gradient'} {' to '.join(shown)}"

    @property
    def detail(self) -> str:
        """What the change is like."""
        count = len(self.serves)
        serves = f" · serves {count} texts" if count > 1 else ""
        left = " · one stop left out" if self.left_out else " · calmer, hues kept"
        return f"ΔE {self.difference:.1f}{left}{serves}"


@dataclass(frozen=True)
class Repainted:
    """Other pixels in a picture, where its letters have been told from what is behind them.

    box, patch: see `Repaint`; levels: the letters' new colour, or the plate's; plate: a fill comes
    in below the letters, which stay, so strong in percent.
    """

    address: str
    box: tuple[float, float, float, float]
    patch: str
    levels: tuple[int, int, int]
    ratio: float
    difference: float
    plate: int = 0

    @property
    def kind(self) -> str:
        """The remedy's name."""
        return "plate in the picture" if self.plate else "letters in the picture"

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        red, green, blue = self.levels
        code = f"#{red:02X}{green:02X}{blue:02X}"
        return f"Plate {code}, {self.plate}%" if self.plate else f"Letters {code}"

    @property
    def detail(self) -> str:
        """What the change is like."""
        return f"repainted · ΔE {self.difference:.1f}"


@dataclass(frozen=True)
class Moved:
    """The text's shape at another place on the page, where its texts pass as they are.

    across, down: the way there, in points; box, turn: of the shape, see `MoveShape`; serves: all
    of its texts; past: so many texts it comes below that it stood above, or the reverse.
    """

    address: str
    across: float
    down: float
    ratio: float
    box: tuple[float, float, float, float]
    turn: float = 0.0
    serves: tuple[str, ...] = ()
    difference: float = 0.0
    past: int = 0

    kind = "shift"

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        ways = (
            (self.across, "right", "left"),
            (self.down, "down", "up"),
        )
        words = [
            f"{abs(way):.0f} pt {after if way > 0 else before}"
            for way, after, before in ways
            if abs(way) >= 0.5
        ]
        return f"Move {', '.join(words)}" if words else "Where it is"

    @property
    def detail(self) -> str:
        """What the change is like."""
        if self.past:
            side = "below" if self.down > 0 else "above"
            return f"as it is · comes {side} {self.past} other{'s' if self.past > 1 else ''}"
        count = len(self.serves)
        return f"as it is · {count} texts together" if count > 1 else "as it is, where it is calmer"


@dataclass(frozen=True)
class ForSeat:
    """Advice: what makes a text read from a seat.

    larger: its size; other: what raises its contrast; at least one of them; ratio: by the standard.
    """

    seat: str
    larger: Restyled | None
    other: Recolour | Backdrop | Laid | None
    ratio: float

    @property
    def kind(self) -> str:
        """The remedy's name."""
        return self.other.kind if self.other is not None else "weight and size"

    @property
    def serves(self) -> tuple[str, ...]:
        """The addresses of the texts that it is for, empty for the one at hand."""
        return self.other.serves if isinstance(self.other, Backdrop | Laid) else ()

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        if self.larger is None:
            return self.other.label if self.other is not None else ""
        if self.other is None:
            return self.larger.label
        what = self.other.label
        if not isinstance(self.other, Laid):
            red, green, blue = self.other.levels
            word = "text" if isinstance(self.other, Recolour) else "backdrop"
            what = f"{word} #{red:02X}{green:02X}{blue:02X}"
        return f"{self.larger.size:.4g} pt · {what}"

    @property
    def detail(self) -> str:
        """What the change is like."""
        return "advice: reads there"


Remedy = Recolour | Laid | AtOrigin | Backdrop | Restyled | Calmed | Moved | Repainted | ForSeat


@dataclass(frozen=True)
class Proposals:
    """The remedies for a pair or for alike pairs, the least visible change first.

    none: when no other colour for the text is among them, why, in a sentence for
    the user; reaches: where beyond the text at hand a remedy may act.
    """

    remedies: tuple[Remedy, ...]
    none: str = ""
    reaches: tuple[Decider, ...] = ()
