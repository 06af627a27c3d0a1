"""What the engine tells of a page, and what it is asked: every key, with what it holds.

Boxes are [x, y, width, height] in CSS pixels on the page; a clip is [left, top, right, bottom].
Colours are [red, green, blue] of 0 to 255 and an opacity of 0 to 1. What a later pass adds to a
text is not required, and says which pass that is.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, NotRequired, TypedDict

Box = list[float]
# The word itself and its box.
Word = list[Any]


class Look(TypedDict):
    """How a text looks. opacity: of all that it stands in; faded: what of that is see-through, as
    selectors, the nearest first; painted: why its colour must be read off the painting; blended:
    for the reason that what is behind it changes it; xHeight: of its font, as a share of its size,
    0 where it isn't known.
    """

    colour: list[float]
    opacity: float
    faded: list[str]
    size: float
    weight: int
    italic: bool
    shadow: bool
    family: str
    painted: str
    blended: bool
    xHeight: float


class Origin(TypedDict):
    """What decides a colour: the numbers of a rule, of an inline style's owner, of a property."""

    rule: int
    inline: int
    custom: int


class Room(TypedDict):
    """Where a text stands. element: its number; region: where, if its words' boxes aren't known."""

    kind: str
    exempt: str
    words: list[Word]
    region: Box | None
    clip: Box | None
    element: int


class Text(Room):
    """A stretch of text of one element.

    element, block, fixed, scroller: numbers of elements, 0 for none; surface, image: the places of
    what is behind it among the surfaces, -1 for nothing; side: of generated content; reason: why
    nothing can be said of it, of what is opaque.
    """

    text: str
    look: Look
    link: bool
    marked: bool
    property: str
    filled: bool
    side: str
    address: str
    number: int
    where: str
    block: int
    fixed: int
    scroller: int
    surface: int
    image: int
    attached: bool
    tilted: bool
    focus: bool
    reason: NotRequired[str]
    # By `snapshot`: where its words stand in parts that were painted apart, with the part's number;
    # which of them something fixed covers at rest; the boxes as they were then; what never shows.
    placed: NotRequired[list[Word]]
    covered: NotRequired[list[int]]
    rest: NotRequired[list[Box]]
    unreached: NotRequired[bool]
    # By `layers`: in which layer of text over text it lies; whether all of it is covered; and what
    # is left of a word that something lies over, by its place.
    layer: NotRequired[int]
    under: NotRequired[bool]
    seen: NotRequired[dict[str, Box]]
    # By `veils`: how much comes through what lies over it, 0 to 1.
    veil: NotRequired[float]
    # By `states`: how it comes to look so, and in which part's painting; shown by that alone.
    state: NotRequired[str]
    appears: NotRequired[str]
    tile: NotRequired[int | None]
    revealed: NotRequired[bool]
    hidden: NotRequired[bool]
    # By `origins`.
    origin: NotRequired[Origin]
    # By `moving`: something moves behind it.
    moving: NotRequired[bool]


class Fills(TypedDict):
    """An element's background pictures, as its style states them."""

    image: str
    position: str
    size: str
    repeat: str
    origin: str
    clip: str
    attachment: str


class Surface(TypedDict):
    """An element with a fill or a picture of its own."""

    address: str
    box: Box
    fill: list[float]
    fills: Fills | None
    image: bool
    picture: bool
    tag: str


class Picture(TypedDict):
    """A picture of the page's content. plain: nothing of a style changes it."""

    address: str
    box: Box
    opacity: float
    plain: bool


class Place(TypedDict):
    """A declaration in a sheet of the page. nth: of the rules with its selector; prefix: what
    addresses in its tree begin with; style: the style element of that tree, -1 for none."""

    tree: int
    prefix: str
    sheet: int
    style: int
    path: list[int | str]
    href: str
    selector: str
    nth: int
    within: list[str]
    property: str
    value: str
    important: bool
    mend: bool


class Tree(TypedDict):
    """The page's document, or one of a frame or a shadow within. prefix: what addresses in it begin
    with; host: the name of the element that holds it; source: the document that a frame states
    itself; address: of a document; text: how that of a shadow begins, blanks as one."""

    prefix: str
    host: str
    source: str | None
    address: str
    text: str


class Control(TypedDict):
    """A field or button. sides: which of its borders show; usual: it looks as browsers have it;
    partly: something lies over a part of it; tile: of what had to be scrolled to.
    """

    address: str
    box: Box
    disabled: bool
    name: str
    native: bool
    number: int
    partly: NotRequired[bool]
    tile: NotRequired[int | None]
    sides: list[int]
    usual: bool
    visible: bool
    where: str


class Icon(TypedDict):
    """What stands for the words of a control: control, within: the addresses of that, and of the
    drawing in it; holder: the control's number. By `states`: as for texts; tile: of what had to be
    scrolled to as well.
    """

    address: str
    box: Box
    control: str
    disabled: bool
    holder: int
    name: str
    number: int
    property: str
    where: str
    within: str
    appears: NotRequired[str]
    state: NotRequired[str]
    tile: NotRequired[int | None]


class Indicator(TypedDict):
    """A sign of focus. own: the browser's own; tile, rest: of its place with the focus, and without
    it where that isn't in the page's own painting."""

    address: str
    box: Box
    name: str
    number: int
    offset: float
    own: NotRequired[bool]
    shadow: str
    style: str
    tag: str
    where: str
    width: float
    tile: NotRequired[int | None]
    rest: NotRequired[int | None]


class Tile(TypedDict):
    """A part that was painted apart: where on the page, and where below the page's painting."""

    x: int
    y: int
    left: int
    top: int
    rows: int
    columns: int


class Told(TypedDict):
    """All of a page. rows: of its painting; arrays: the files that hold the paintings; styles: how
    the texts of its own style elements begin, blanks as one."""

    title: str
    lang: str
    headings: list[list[Any]]
    texts: list[Text]
    pictures: list[Picture]
    surfaces: list[Surface]
    laid: list[Box]
    bars: list[list[float]]
    cut: bool
    width: int
    height: int
    rows: int
    zoom: float
    address: str
    restless: bool
    places: list[Place]
    definers: list[Place]
    declared: list[Place]
    trees: list[Tree]
    styles: list[str]
    controls: list[Control]
    icons: list[Icon]
    indicators: list[Indicator]
    tiles: list[Tile]
    arrays: dict[str, Any]
    notes: list[str]
    blocked: dict[str, int]
    loaded: list[str]
    times: dict[str, float]
    # The paintings themselves, put in by `formats/web/engine_process.py`.
    seen: NotRequired[Any]
    backdrop: NotRequired[Any]
    coverage: NotRequired[Any]
    layers: NotRequired[Any]
    shadows: NotRequired[Any]
    without_states: NotRequired[int]
    scrolled_away: NotRequired[int]
    unforced: NotRequired[bool]


class RuleChange(TypedDict):
    """Another value for a declaration of the page's own."""

    tree: int
    sheet: int
    path: list[int | str]
    property: str
    value: str


class Changes(TypedDict):
    """What is tried on a page: sheets over its own, by the prefix of the tree, and other values
    in its rules."""

    sheets: dict[str, str]
    rules: list[RuleChange]


@dataclass(frozen=True)
class Wanted:
    """Which page, and how it is to be shown: see `formats.web.settings`, where each is explained.

    visit: the page stays loaded under that name, and another visit loads it anew; folders: of
    a page that is a file, those from which it may load, none of another; drawing: the width
    and the height in CSS pixels of a drawing that is shown alone, None of a page.
    """

    visit: str
    address: str
    width: int
    height: int
    dark: bool
    zoom: float
    limit: float
    scripts: bool
    folders: tuple[str, ...]
    drawing: tuple[float, float] | None = None

    @classmethod
    def heard(cls, told: Mapping[str, Any]) -> Wanted:
        """Take it as it came over the wire, which has lists alone."""
        tuples = {name: tuple(value) for name, value in told.items() if isinstance(value, list)}
        return cls(**{**told, **tuples})
