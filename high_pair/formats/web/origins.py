"""Where a text's colour is decided on a web page, in words and as an address."""

from __future__ import annotations

import functools
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from high_pair.engine import protocol
from high_pair.scene.text import Decider

STYLE = "style"
UNKNOWN: protocol.Origin = {"rule": -1, "custom": -1, "inline": 0}


@dataclass(frozen=True)
class Place:
    """A declaration in a rule of the page's. within: the at-rules round it, outermost first;
    mend: it is one of ours that is tried; prefix: what addresses in its tree begin with.

    style: how the `style` element that it stands in begins, empty for none; href: the sheet's
    address, empty without one; nth: of the rules with the same selector in that sheet.
    """

    tree: int
    sheet: int
    path: tuple[int | str, ...]
    named: str
    selector: str
    value: str
    style: str
    href: str
    nth: int
    within: tuple[str, ...]
    important: bool
    mend: bool = False
    prefix: str = ""

    @property
    def address(self) -> str:
        """Where its value can be changed for all that follow it."""
        path = ".".join(str(step) for step in self.path)
        return f"{STYLE}#tree={self.tree}/sheet={self.sheet}/rule={path}/property={self.named}"


def place_from(told: protocol.Place, styles: Sequence[str]) -> Place:
    """Take over what the engine tells of a declaration. styles: see `protocol.Told`."""
    number = told["style"]
    style = styles[number] if not told["prefix"] and 0 <= number < len(styles) else ""
    return Place(
        told["tree"], told["sheet"], tuple(told["path"]), told["property"], told["selector"],
        told["value"], style, told["href"], told["nth"], tuple(told["within"]),
        bool(told["important"]), bool(told["mend"]),
        told["prefix"],
    )  # fmt: skip


class Origins:
    """Tells where texts' colours come from. line_of: gives the name of the file in which a place
    stands, or nothing, and the line there from 1, or 0."""

    def __init__(self, told: protocol.Told, line_of: Callable[[Place], tuple[str, int]]) -> None:
        styles = told.get("styles", ())
        self._places = [place_from(each, styles) for each in told.get("places", ())]
        self._definers = [place_from(each, styles) for each in told.get("definers", ())]
        # Those that say a colour by themselves, without ours.
        every = (place_from(each, styles) for each in told.get("declared", ()))
        self.declared = [place for place in every if not place.mend]
        # Many texts have one rule, and finding its line takes reading the sheet.
        self._line_of = functools.cache(line_of)

    def all_places(self) -> dict[str, Place]:
        """Give all declarations by their addresses."""
        return {place.address: place for place in (*self._places, *self._definers, *self.declared)}

    def decisive(self, told: protocol.Text, selector: str) -> bool:
        """Tell whether a rule with a selector must be important to decide a text's colour."""
        origin = told.get("origin")
        number = origin["rule"] if origin else -1
        if number < 0:
            inline = origin["inline"] if origin else 0
            return inline > 0 or bool(told.get("appears"))
        place = self._places[number]
        return place.important or weight_of(place.selector) > weight_of(selector)

    def of(self, told: protocol.Text) -> tuple[str, tuple[Decider, ...], str]:
        """Give the origin in words, the deciders, and why its colour can't be changed, if so."""
        origin = told.get("origin") or UNKNOWN
        deciders: list[Decider] = []
        words = ""
        if origin["rule"] >= 0:
            place = self._places[origin["rule"]]
            if place.mend:
                return "changed here", (), ""
            words = f"rule {place.selector}{self._stands(place)}"
            if "var(" not in place.value:
                deciders.append(self._decider(f"in the rule {place.selector}", place))
        elif origin.get("inline"):
            words = "inline style" if origin["inline"] > 0 else "an attribute of the drawing"
        elif told.get("appears"):
            words = f"as it looks {told['appears']}"
        else:
            words = "the browser's own colour"
        if origin.get("custom", -1) >= 0:
            place = self._definers[origin["custom"]]
            words += f" → custom property {place.named}{self._stands(place)}"
            deciders.append(self._decider(f"in the custom property {place.named}", place))
        return words, tuple(deciders), ""

    def _stands(self, place: Place) -> str:
        name, line = self._line_of(place)
        return f" ({name}:{line})" if line else f" ({name})" if name else ""

    def _decider(self, words: str, place: Place) -> Decider:
        return Decider(words, place.address, place.href, self._line_of(place)[1])


def weight_of(selector: str) -> tuple[int, int, int]:
    """Give about how much weight a selector has, the heaviest of a list (Selectors 4, §17)."""
    weights = []
    for part in re.split(r",(?![^(]*\))", re.sub(r'"[^"]*"', "", selector)):
        identities = len(re.findall(r"#[\w-]", part))
        sides = len(re.findall(r"::[\w-]", part))
        classes = len(re.findall(r"\.[\w-]|\[|(?<!:):(?!:)(?!is\b|not\b|where\b|has\b)[\w-]", part))
        names = len(re.findall(r"(?:^|[\s>+~(])[a-zA-Z]", part))
        weights.append((identities, classes, names + sides))
    return max(weights, default=(0, 0, 0))
