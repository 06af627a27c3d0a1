"""Edits as style sheets: what each mend says in CSS, and where of a page it applies."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from high_pair.edits.kinds import (
    Edit,
    LayOver,
    RecolourFill,
    RecolourOrigin,
    RecolourStops,
    RecolourText,
    Restyle,
    TakeOff,
)
from high_pair.edits.merging import in_force
from high_pair.engine.protocol import Surface, Text
from high_pair.errors import EditError
from high_pair.formats.web.addresses import PagePlace, in_page, place_of
from high_pair.formats.web.gradients import with_shades
from high_pair.formats.web.origins import Place
from high_pair.scene.addresses import expand
from high_pair.scene.overlay import Overlay, OverlayKind

POINTS_A_PIXEL = 0.75
BLACK, WHITE = (0, 0, 0), (255, 255, 255)


@dataclass(frozen=True)
class Context:
    """What is known of a page for writing mends.

    texts: what the engine told of each, by address; surfaces: likewise of those
    with pictures, by number; zoom: of the page; decisive: whether a rule with a
    selector must be important in order to decide a text's colour; reaches: whether
    a rule can be written into a tree, by its prefix.
    """

    texts: Mapping[str, Text]
    surfaces: Mapping[str, Surface]
    places: Mapping[str, Place]
    zoom: float
    decisive: Callable[[Text, str], bool]
    reaches: Callable[[str], bool]


@dataclass(frozen=True)
class RuleChange:
    """Another value for a declaration in one of the page's own rules."""

    place: Place
    value: str


@dataclass(frozen=True)
class Rule:
    """A rule of our own, with its comment, for a tree of the page, by its prefix."""

    comment: str
    text: str
    tree: str = ""


@dataclass(frozen=True)
class Mends:
    """Rules of our own, and changes within the page's."""

    rules: tuple[Rule, ...]
    changes: tuple[RuleChange, ...]

    @property
    def sheets(self) -> dict[str, str]:
        """The rules as style sheets, by the prefixes of their trees."""
        trees = {"", *(rule.tree for rule in self.rules)}
        return {tree: sheet_of(rule for rule in self.rules if rule.tree == tree) for tree in trees}

    @property
    def whole_sheet(self) -> str:
        """All of it as a style sheet that works where the page's own rules can't be changed.

        What stands in a frame or a shadow tree no sheet reaches: that is left out, and said.
        """
        rules = [*self.rules, *(as_rule(change) for change in self.changes)]
        left = [rule.comment for rule in rules if rule.tree]
        parts = [sheet_of(rule for rule in rules if not rule.tree)]
        parts += [f"/* Not here: {each}, in a frame or a shadow tree */\n" for each in left]
        return "".join(parts)


def sheet_of(rules: Iterable[Rule]) -> str:
    """Write rules as a style sheet."""
    return "".join(f"/* {rule.comment} */\n{rule.text}\n" for rule in rules)


def as_rule(change: RuleChange) -> Rule:
    """Give a change within a rule as a rule of its own."""
    place = change.place
    heavy = " !important" if place.important else ""
    rule = f"{place.selector} {{ {place.named}: {change.value}{heavy}; }}"
    for outer in reversed(place.within):
        rule = f"{outer} {{ {rule} }}"
    return Rule(f"In the rule {_in_comment(place.selector)}", rule, place.prefix)


def hex_of(levels: Sequence[int], opacity: float = 1.0) -> str:
    """Write a colour as CSS does."""
    red, green, blue = levels
    if opacity >= 1:
        return f"#{red:02X}{green:02X}{blue:02X}"
    return f"rgb({red} {green} {blue} / {round(opacity * 100, 2):g}%)"


def _in_comment(text: str) -> str:
    words = " ".join(text.split()).replace("*/", "* /")
    return words if len(words) <= 60 else words[:57] + "…"


@dataclass
class _Writing:
    """What was written so far, by what it is about."""

    context: Context
    rules: dict[str, Rule] = field(default_factory=dict)
    changes: dict[str, RuleChange] = field(default_factory=dict)


def mends_for(edits: Sequence[Edit], context: Context) -> Mends:
    """Write edits as CSS. Raises EditError for what CSS can't say, and for unknown places."""
    writing = _Writing(context)
    for edit in in_force(edits):
        write = WRITTEN.get(type(edit))
        if write is None:
            raise EditError("This can't be done on a web page.")
        write(edit, writing)
    return Mends(tuple(writing.rules.values()), tuple(writing.changes.values()))


def _write_origin(edit: RecolourOrigin, writing: _Writing) -> None:
    for address in expand(edit.address):
        place = writing.context.places.get(address)
        if place is None:
            raise EditError(f"{address} isn't in the page any more. Choose the text again.")
        writing.changes[address] = RuleChange(place, hex_of(edit.levels))


def _write_text(edit: RecolourText, writing: _Writing) -> None:
    context = writing.context
    for address in expand(edit.address):
        writing.rules[f"{address} colour"] = _text(edit, address, context)
        for faded in _made_opaque(edit, address, context):
            said = f"What {_said(address, context)} stands in"
            outer = _reached(PagePlace.of(faded), context)
            rule = f"{outer.own} {{ opacity: 1 !important; }}"
            writing.rules[f"{faded} opacity"] = Rule(said, rule, outer.tree)


def _write_fill(edit: RecolourFill, writing: _Writing) -> None:
    said = f"Backdrop of {_served(edit.serves, writing.context)}"
    value, place = hex_of(edit.levels), _place(edit.address, writing.context)
    rule = f"{place.own} {{ background-color: {value} !important; }}"
    writing.rules[edit.address] = Rule(said, rule, place.tree)


def _write_stops(edit: RecolourStops, writing: _Writing) -> None:
    """Write a background's gradients with other colours, all else as it is."""
    told = next(
        (
            each
            for each in writing.context.surfaces.values()
            if in_page(each["address"]) == edit.address and each["fills"]
        ),
        None,
    )
    levels = [colour for _, colour in edit.stops]
    image = with_shades(told["fills"]["image"], levels) if told and told["fills"] else None
    if image is None:
        raise EditError("The gradient behind the text isn't stated with colours one by one.")
    said = f"Gradient behind {_served(edit.serves, writing.context)}"
    place = _place(edit.address, writing.context)
    rule = f"{place.own} {{ background-image: {image} !important; }}"
    writing.rules[f"{edit.address} stops"] = Rule(said, rule, place.tree)


def _write_restyle(edit: Restyle, writing: _Writing) -> None:
    for rule in _restyled(edit, writing.context):
        writing.rules[f"{edit.address} size {rule.tree}"] = rule


def _write_overlay(edit: LayOver, writing: _Writing) -> None:
    writing.rules[edit.address] = _overlay(edit, writing.context)


def _write_nothing(edit: TakeOff, writing: _Writing) -> None:
    writing.rules.pop(edit.address, None)


WRITTEN: Mapping[type[Edit], Callable[[Any, _Writing], None]] = {
    RecolourText: _write_text,
    RecolourOrigin: _write_origin,
    RecolourFill: _write_fill,
    RecolourStops: _write_stops,
    Restyle: _write_restyle,
    LayOver: _write_overlay,
    TakeOff: _write_nothing,
}


def _place(address: str, context: Context) -> PagePlace:
    place = place_of(address)
    if place is None:
        raise EditError(f"{address} isn't a place in a page.")
    return _reached(place, context)


def _reached(place: PagePlace, context: Context) -> PagePlace:
    if not context.reaches(place.tree):
        raise EditError(f"{place.selector} isn't a place that a style sheet reaches.")
    return place


def _said(address: str, context: Context) -> str:
    told = context.texts.get(address)
    return f"“{_in_comment(told['text'])}”" if told else _place(address, context).own


def _served(addresses: Sequence[str], context: Context) -> str:
    first = expand(addresses[0])[0] if addresses else ""
    more = f" and {len(addresses) - 1} more" if len(addresses) > 1 else ""
    return (_said(first, context) + more) if first else "a surface"


def _graphic(edit: RecolourText, place: PagePlace) -> Rule:
    """Write another colour for a control's border, or for its sign of focus."""
    target, value = place.own, hex_of(edit.levels, edit.opacity)
    if place.part.startswith("/focus"):
        rule = f"{target}:focus {{ outline-color: {value} !important; }}"
        return Rule(f"Sign of focus of {_in_comment(target)}", rule, place.tree)
    if prop := place.icon:
        rule = f'{target} :not([{prop}="none"]) {{ {prop}: {value} !important; }}'
        return Rule(f"Icon {_in_comment(target)}", rule, place.tree)
    rule = f"{target} {{ border-color: {value} !important; }}"
    return Rule(f"Border of {_in_comment(target)}", rule, place.tree)


def _text(edit: RecolourText, address: str, context: Context) -> Rule:
    place = _place(address, context)
    if place.is_graphic:
        return _graphic(edit, place)
    told = context.texts.get(address)
    opacity = edit.opacity
    prop = "color"
    if told is not None:
        above = told["look"]["opacity"]
        made_opaque = _made_opaque(edit, address, context)
        opacity = edit.opacity / above if above > 0 and not made_opaque else edit.opacity
        prop = told["property"]
    value = hex_of(edit.levels, min(1.0, opacity))
    if prop == "color" and told is not None and told["filled"]:
        prop = "-webkit-text-fill-color"
    # Without need a rule takes no more weight than its selector has: looks on hover stay.
    heavy = told is None or context.decisive(told, place.own)
    words = f"{prop}: {value}{' !important' if heavy else ''};"
    return Rule(f"Text {_said(address, context)}", f"{place.own} {{ {words} }}", place.tree)


def _made_opaque(edit: RecolourText, address: str, context: Context) -> list[str]:
    """List what a text stands in that is too see-through for its new colour, as selectors.

    Raises EditError where no rule reaches that.
    """
    told = context.texts.get(address)
    if told is None or edit.opacity <= told["look"]["opacity"] + 1e-6:
        return []
    faded: list[str] = told["look"]["faded"]
    if not faded or not all(context.reaches(PagePlace.of(each).tree) for each in faded):
        raise EditError("What the text stands in is see-through, and so is any colour of it.")
    return faded


def _restyled(edit: Restyle, context: Context) -> list[Rule]:
    words = []
    if edit.underline is not None:
        line = "underline" if edit.underline else "none"
        words.append(f"text-decoration-line: {line} !important;")
    if edit.bold is not None:
        words.append(f"font-weight: {700 if edit.bold else 400} !important;")
    if edit.size is not None:
        pixels = math.ceil(edit.size / POINTS_A_PIXEL / context.zoom * 100) / 100
        words.append(f"font-size: {pixels:g}px !important;")
    said = f"Size or weight of {_said(expand(edit.address)[0], context)}"
    places = dict.fromkeys(_place(each, context) for each in expand(edit.address))
    found = []
    for tree in dict.fromkeys(place.tree for place in places):
        selectors = dict.fromkeys(place.own for place in places if place.tree == tree)
        found.append(Rule(said, f"{', '.join(selectors)} {{ {' '.join(words)} }}", tree))
    return found


# Overlays


def _overlay(edit: LayOver, context: Context) -> Rule:
    overlay = edit.overlay
    served = _served(edit.serves, context)
    said = f"{overlay.kind.value.capitalize()} behind {served}"
    place = _place(edit.address, context)
    if overlay.kind is OverlayKind.DIM:
        return Rule(f"Picture behind {served}", _dim(place.own, overlay), place.tree)
    if overlay.kind in (OverlayKind.PLATE, OverlayKind.SOFT_PLATE):
        return Rule(said, _plate(place.own, overlay, context), place.tree)
    told = context.texts.get(in_page(place.selector + place.part))
    surface = context.surfaces.get(str(told["image"])) if told else None
    if surface is None:
        raise EditError("No picture of a style sheet lies behind this text.")
    behind = _reached(PagePlace.of(surface["address"]), context)
    return Rule(said, _layer(surface, behind.own, overlay), behind.tree)


def _plate(selector: str, overlay: Overlay, context: Context) -> str:
    """Write a plate: the element's own background, spread so far that no layout moves."""
    value = hex_of(overlay.levels, overlay.percent / 100)
    factor = 1 / POINTS_A_PIXEL / context.zoom
    if overlay.kind is OverlayKind.SOFT_PLATE:
        # A blur reaches as far inwards as outwards: with a smaller spread the shadow would be
        # paler than the background where the two meet, and show a line.
        half = max(1, round(overlay.feather * factor / 2))
        words = (
            f"background-color: {value} !important; "
            f"box-shadow: 0 0 {half}px {half}px {value} !important;"
        )
    else:
        room = max(1, round(overlay.rounding * factor))
        words = (
            f"background-color: {value} !important; "
            f"box-shadow: 0 0 0 {room}px {value} !important; "
            f"border-radius: {room}px !important;"
        )
    words += " -webkit-box-decoration-break: clone; box-decoration-break: clone;"
    return f"{selector} {{ {words} }}"


def _dim(selector: str, overlay: Overlay) -> str:
    """Write a picture paler over black or white, by filters whose arithmetic is exact there.

    Filter Effects 1, §8: brightness multiplies by b, contrast(k) gives kC + (1 - k) / 2. Over
    white of share a: (1 - a)C + a is contrast((1 - a) / (1 + a)), then brightness(1 + a).
    """
    share = overlay.percent / 100
    if tuple(overlay.levels) == BLACK:
        words = f"brightness({1 - share:g})"
    elif tuple(overlay.levels) == WHITE:
        words = f"contrast({(1 - share) / (1 + share):.6g}) brightness({1 + share:g})"
    else:
        raise EditError("A picture of a page is dimmed over black or white only.")
    return f"{selector} {{ filter: {words} !important; }}"


def _layer(surface: Surface, selector: str, overlay: Overlay) -> str:
    """Write a veil or a ramp: a further layer above an element's own background pictures."""
    fills = surface["fills"]
    if fills is None:
        raise EditError("No picture of a style sheet lies behind this text.")
    if overlay.kind is OverlayKind.RAMP:
        image = _ramp(overlay)
    else:
        value = hex_of(overlay.levels, overlay.percent / 100)
        image = f"linear-gradient({value}, {value})"
    words = [
        f"background-image: {image}, {fills['image']} !important;",
        f"background-position: 0% 0%, {fills['position']} !important;",
        f"background-size: auto, {fills['size']} !important;",
        f"background-repeat: repeat, {fills['repeat']} !important;",
        f"background-origin: border-box, {fills['origin']} !important;",
        f"background-clip: border-box, {fills['clip']} !important;",
        f"background-attachment: scroll, {fills['attachment']} !important;",
    ]
    return f"{selector} {{ {' '.join(words)} }}"


def _ramp(overlay: Overlay) -> str:
    """Write a ramp as a gradient; CSS Images 4, §3.1: the line reaches from corner to corner.

    CSS counts its angle from straight up, clockwise; the overlay from rightwards, downwards.
    """
    angle = (overlay.towards + 90.0) % 360.0
    stops = [
        f"{hex_of(overlay.levels, min(0.9999, share * overlay.percent / 100))} {place * 100:.2f}%"
        for place, share in overlay.stops
    ]
    return f"linear-gradient({angle:g}deg, {', '.join(stops)})"
