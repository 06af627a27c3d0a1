"""How cells look in the end: their style, their table's, and what holds by condition.

Source: ECMA-376 Part 1 §18.3.1.10: rules that don't conflict combine, the
first of them in order of priority counts where they do.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from high_pair.formats.automatic_text import OUTLINED, automatic, automatic_in_odf
from high_pair.formats.sheets.colours import Chosen
from high_pair.formats.sheets.conditional import Rule
from high_pair.formats.sheets.styles import SCRIPT_SIZE, Difference, Font, Style
from high_pair.formats.sheets.tables import Given
from high_pair.scene.addresses import address_below, address_in
from high_pair.scene.paint import BLACK, WHITE, Colour, Fill, Shadow, colours_of, from_levels
from high_pair.scene.text import Decider, Run

AUTOMATIC = "automatic: the colour of window text"
UNSURE = (
    "its colour is automatic: some programs show it black, others white on what is dark, and "
    "here that decides"
)
BY_FORMAT = "The colour stands in the cells' number format. Change the format in its own program."
BOTH = (
    "its number format and a conditional format both give it a colour, and programs differ in "
    "which they show"
)
EXTENDED = (
    "The colour stands in a conditional format of a newer kind, which High Pair doesn't change."
)


@dataclass(frozen=True)
class Place:
    """The parts of the file that addresses name; the theme's is empty without one.

    number: which of its part's sheets it is, from 1; 0 where it has a part of its own;
    turns: automatic text is white on what is dark, by the format's own rule.
    """

    sheet: str
    styles: str
    theme: str
    strings: str = ""
    number: int = 0
    turns: bool = False

    def cells(self, style: Style) -> str:
        """Give the address of the cells of a sheet that have a style."""
        if self.number:
            return address_in(self.sheet, sheet=self.number, look=style.index)
        return address_in(self.sheet, xf=style.index)

    def difference(self, difference: Difference) -> str:
        """Give the address of what a conditional format changes; empty where it can't be."""
        if difference.address:
            return difference.address
        return address_in(self.styles, dxf=difference.index) if difference.index >= 0 else ""


@dataclass(frozen=True)
class CellLook:
    """A look: the run without words, the fill (white where there is none), and its address."""

    run: Run
    fill: Fill | None
    fill_address: str
    style: Style


def look_of(
    style: Style,
    font: Font,
    section: tuple[int, int, int] | None,
    given: Sequence[Given],
    rules: Sequence[Rule],
    place: Place,
    default: Font,
    rich: str = "",
) -> CellLook:
    """Put a look together.

    font: the style's, or that of a run within the cell; section: the colour
    that the number format gives; given: by the table's style, the strongest
    first; rules: those that hold, in order; default: the workbook's own font;
    rich: the address of a run within the cell, empty for the cell's own text.
    """
    fill, fill_address = _fill(style, given, rules, place)
    base = place.cells(style)
    differences = [rule.difference for rule in rules if rule.difference is not None]
    coloured = next((d for d in differences if d.colour is not None), None)
    tabled = next((each for each in given if each.difference.colour is not None), None)
    plain = font.colour == default.colour
    address, fixed, deciders = rich or base, "", tuple[Decider, ...]()
    shades: tuple[Colour, ...]
    why = ""
    if section is not None:
        shades, origin, fixed = (from_levels(section),), "number format", BY_FORMAT
        if coloured is not None and coloured.colour is not None:
            shades, why = (*shades, coloured.colour.colour), BOTH
    elif coloured is not None and coloured.colour is not None:
        shades, origin = (coloured.colour.colour,), f"conditional format → {coloured.colour.words}"
        deciders = _slot(coloured.colour, place)
        address = place.difference(coloured) or base
        fixed = "" if place.difference(coloured) else EXTENDED
    elif tabled is not None and plain and tabled.difference.colour is not None:
        chosen = tabled.difference.colour
        shades, origin = (chosen.colour,), f"{tabled.words} → {chosen.words}"
        own = (Decider(f"in the {tabled.words}", tabled.address),) if tabled.address else ()
        deciders = (*own, *_slot(chosen, place))
    elif font.colour is not None:
        shades, origin = (font.colour.colour,), f"{_of(style, rich)} → {font.colour.words}"
        deciders = (*_named(style, place, rich), *_slot(font.colour, place))
    else:
        shades, why = _automatic(fill, place.turns)
        origin, deciders = AUTOMATIC, _named(style, place, rich)
    if font.outlined:
        # Some programs fill the letters, some leave them white.
        shades, why = tuple(dict.fromkeys((*shades, WHITE))), OUTLINED
    bold = next((d.bold for d in differences if d.bold is not None), None)
    if bold is None:
        by_table = any(each.difference.bold for each in given)
        bold = font.bold or by_table
    run = Run(
        "",
        shades[0],
        font.family,
        font.size * (SCRIPT_SIZE if font.baseline else 1.0),
        700 if bold else 400,
        origin,
        address,
        italic=font.italic,
        underline=font.underline,
        strike=font.strike,
        baseline=font.baseline,
        fixed=fixed,
        shades=shades if len(shades) > 1 else (),
        why_shades=why,
        deciders=deciders,
        shadow=Shadow(font.shadow, 1.0, 1.0, 0.0) if font.shadow is not None else None,
    )
    return CellLook(run, fill, fill_address, style)


def _of(style: Style, rich: str) -> str:
    if rich:
        return "run in the cell"
    return f"cell style {style.named}" if style.named and not style.own_font else "cell"


def _named(style: Style, place: Place, rich: str) -> tuple[Decider, ...]:
    if style.decider is not None and not rich:
        return (style.decider,)
    if rich or style.own_font or not style.named:
        return ()
    address = address_in(place.styles, cellstyle=style.named_index)
    return (Decider(f"in the cell style {style.named}", address),)


def _slot(chosen: Chosen, place: Place) -> tuple[Decider, ...]:
    if not chosen.slot or not place.theme:
        return ()
    return (Decider(f"in the theme, {chosen.slot}", address_in(place.theme, slot=chosen.slot)),)


def _fill(
    style: Style, given: Sequence[Given], rules: Sequence[Rule], place: Place
) -> tuple[Fill | None, str]:
    """Give a look's fill, and where it can be changed; None for no fill at all."""
    for rule in rules:
        difference = rule.difference
        if difference is not None and difference.fills:
            address = place.difference(difference)
            return difference.fill, address_below(address, fill="") if address else ""
    own = address_below(place.cells(style), fill="")
    if style.fill is not None:
        return style.fill, own
    filled = next((each for each in given if each.difference.fills), None)
    return (filled.difference.fill if filled is not None else None), own


def _automatic(fill: Fill | None, turns: bool) -> tuple[tuple[Colour, ...], str]:
    """Give the colour of automatic text; two where programs differ."""
    behind = colours_of(fill) if fill is not None else (WHITE,)
    found = {
        (automatic_in_odf(colour),) if turns else automatic(colour, turns=False)
        for colour in behind
    }
    if len(found) == 1 and len(only := found.pop()) == 1:
        return only, ""
    return (BLACK, WHITE), UNSURE
