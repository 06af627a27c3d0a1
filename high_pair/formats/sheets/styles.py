"""How cells look: fonts, fills, borders, named styles, and what differs in conditional formats.

Source: ECMA-376 Part 1 §18.8.
"""

from __future__ import annotations

import functools
from collections.abc import Sequence
from dataclasses import dataclass, replace

from high_pair.formats.drawing.theme import Theme
from high_pair.formats.number_formats import BUILT_IN
from high_pair.formats.sheets.colours import Chosen, SheetColours
from high_pair.formats.xml import Element, child, children, flag, local_name, number, whole
from high_pair.scene.flow import Edges
from high_pair.scene.paint import BLACK, Colour, Fill, Stroke
from high_pair.scene.text import Decider

PLAIN_SIZE = 11.0
_SCRIPTS = {"superscript": 0.33, "subscript": -0.33}
SCRIPT_SIZE = 2 / 3
_WIDTHS = {"hair": 0.25, "thin": 0.75, "medium": 1.5, "thick": 2.25, "double": 1.5}


@dataclass(frozen=True)
class Font:
    """A font; colour: None for the system's text colour; shadow: of its letters, None for none;
    outlined: its letters are no more than that in some programs."""

    family: str = "Calibri"
    size: float = PLAIN_SIZE
    bold: bool = False
    italic: bool = False
    underline: bool = False
    strike: bool = False
    baseline: float = 0.0
    colour: Chosen | None = None
    shadow: Colour | None = None
    outlined: bool = False


@dataclass(frozen=True)
class Style:
    """A cell's style: what an entry of cellXfs makes of the lists.

    index: its place there; named: the named style's, where font or fill are
    its own; own_font, own_fill: whether they differ from the named style's;
    decider: the style that decides the text's colour for others too, where the
    format says so itself.
    """

    index: int
    font: Font
    fill: Fill | None
    format: str
    edges: Edges
    across: str = "general"
    down: str = "bottom"
    wraps: bool = False
    indent: int = 0
    turn: float = 0.0
    named: str = ""
    named_index: int = 0
    own_font: bool = True
    own_fill: bool = True
    shrinks: bool = False
    decider: Decider | None = None


@dataclass(frozen=True)
class Difference:
    """What a conditional format or a part of a table's style changes (§18.8.14, dxf).

    address: where that can be changed, when its index doesn't say.
    """

    index: int
    colour: Chosen | None = None
    bold: bool | None = None
    italic: bool | None = None
    strike: bool | None = None
    fill: Fill | None = None
    fills: bool = False
    format: str = ""
    address: str = ""

    @property
    def changes_looks(self) -> bool:
        """Whether it has to do with contrast at all."""
        return self.colour is not None or self.fills or self.bold is not None


class StyleTable:
    """The styles part; without one, plain cells."""

    def __init__(self, root: Element | None, colours: SheetColours, theme: Theme) -> None:
        """Find the lists."""
        self.colours = colours
        self.theme = theme
        self._fonts = list(children(child(root, "x:fonts")))
        self._fills = list(children(child(root, "x:fills")))
        self._borders = list(children(child(root, "x:borders")))
        self._formats = {
            whole(each, "numFmtId", -1): each.get("formatCode", "")
            for each in children(child(root, "x:numFmts"))
        }
        self._styles = list(children(child(root, "x:cellXfs")))
        self._named = list(children(child(root, "x:cellStyleXfs")))
        self._names = {
            whole(each, "xfId", -1): each.get("name", "")
            for each in children(child(root, "x:cellStyles"))
        }
        self._differences = list(children(child(root, "x:dxfs")))
        self.table_styles = {
            each.get("name", ""): each for each in children(child(root, "x:tableStyles"))
        }
        self._made: dict[int, Style] = {}
        self._made_differences: dict[int, Difference] = {}

    @functools.cached_property
    def default_font(self) -> Font:
        """The font of cells that no style speaks of."""
        return self.style(0).font

    def style(self, index: int) -> Style:
        """Give a cell's style; an index past the list means the first."""
        if index not in self._made:
            self._made[index] = self._style(index if 0 <= index < len(self._styles) else 0)
        return self._made[index]

    def _style(self, index: int) -> Style:
        if not self._styles:
            return Style(0, Font(), None, "", Edges())
        element = self._styles[index]
        parent_index = whole(element, "xfId")
        parent = self._at(self._named, parent_index)
        alignment = child(element, "x:alignment")
        font, fill = whole(element, "fontId"), whole(element, "fillId")
        turn = whole(alignment, "textRotation")
        name = self._names.get(parent_index, "")
        normal = parent_index == 0
        return Style(
            index,
            self.font(self._at(self._fonts, font)),
            self.colours.fill(self._at(self._fills, fill)),
            self.format(whole(element, "numFmtId")),
            self._edges(self._at(self._borders, whole(element, "borderId"))),
            alignment.get("horizontal", "general") if alignment is not None else "general",
            alignment.get("vertical", "bottom") if alignment is not None else "bottom",
            flag(alignment, "wrapText"),
            max(0, min(250, whole(alignment, "indent"))),
            _turn(turn),
            "" if normal else name,
            parent_index,
            own_font=normal or parent is None or font != whole(parent, "fontId"),
            own_fill=normal or parent is None or fill != whole(parent, "fillId"),
            shrinks=flag(alignment, "shrinkToFit"),
        )

    def format(self, identifier: int) -> str:
        """Give a number format's code; empty for the general one."""
        return self._formats.get(identifier, BUILT_IN.get(identifier, ""))

    def _at(self, listed: Sequence[Element], index: int) -> Element | None:
        return listed[index] if 0 <= index < len(listed) else None

    def font(self, element: Element | None, base: Font | None = None) -> Font:
        """Read a font, or a run's properties in a cell (§18.4.7) on top of a font."""
        found = base or Font()
        for each in children(element):
            name, value = local_name(each), each.get("val", "")
            if name == "sz":
                size = number(value, PLAIN_SIZE)
                found = replace(found, size=size if 1 <= size <= 409 else PLAIN_SIZE)
            elif name in ("name", "rFont") and value:
                found = replace(found, family=value)
            elif name in ("b", "i", "strike"):
                key = {"b": "bold", "i": "italic", "strike": "strike"}[name]
                found = replace(found, **{key: value not in ("0", "false")})  # type: ignore[arg-type]
            elif name == "outline":
                outlined = value not in ("0", "false")
                found = replace(found, outlined=outlined)
            elif name == "u":
                found = replace(found, underline=value != "none")
            elif name == "vertAlign":
                found = replace(found, baseline=_SCRIPTS.get(value, 0.0))
            elif name == "color":
                found = replace(found, colour=self.colours.read(each))
            elif name == "scheme" and value in ("major", "minor"):
                themed = self.theme.major if value == "major" else self.theme.minor
                if not self.theme.missing:
                    found = replace(found, family=themed)
        return found

    def difference(self, index: int) -> Difference | None:
        """Give an entry of the dxfs; None when it isn't there."""
        if not 0 <= index < len(self._differences):
            return None
        if index not in self._made_differences:
            self._made_differences[index] = self.read_difference(self._differences[index], index)
        return self._made_differences[index]

    def read_difference(self, element: Element, index: int) -> Difference:
        """Read a dxf."""
        font, fill = child(element, "x:font"), child(element, "x:fill")
        stated = {local_name(each): each for each in children(font)}

        def on(name: str) -> bool | None:
            found = stated.get(name)
            return None if found is None else found.get("val", "1") not in ("0", "false")

        own = child(element, "x:numFmt")
        return Difference(
            index,
            self.colours.read(stated.get("color")),
            on("b"),
            on("i"),
            on("strike"),
            self.colours.fill(fill, differential=True),
            fill is not None and len(fill) > 0,
            own.get("formatCode", "") if own is not None else "",
        )

    def _edges(self, element: Element | None) -> Edges:
        def stroke(side: str) -> Stroke | None:
            found = child(element, f"x:{side}")
            kind = found.get("style", "none") if found is not None else "none"
            if kind == "none":
                return None
            chosen = self.colours.read(child(found, "x:color"))
            width = next((w for name, w in _WIDTHS.items() if name in kind.lower()), 0.75)
            dashes = (3.0, 2.0) if "dash" in kind.lower() else ()
            return Stroke(chosen.colour if chosen else BLACK, width, dashes)

        return Edges(stroke("top"), stroke("right"), stroke("bottom"), stroke("left"))


def _turn(value: int) -> float:
    """Give a text's turn in degrees clockwise (§18.8.1): 0 to 90 up, 91 to 180 down."""
    if 0 < value <= 90:
        return -float(value)
    return float(value - 90) if 90 < value <= 180 else 0.0
