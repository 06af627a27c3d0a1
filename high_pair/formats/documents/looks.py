"""How a run looks: from all that states its properties to a run of the scene.

Source: ECMA-376 Part 1 §17.3.2 (run properties) and §17.7.2 (their order).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from lxml import etree

from high_pair.formats.automatic_text import automatic
from high_pair.formats.documents.colours import DocumentColours, Tinted, highlight
from high_pair.formats.documents.styles import PLAIN_SIZE, Layer, is_on, nearest, toggled
from high_pair.formats.drawing.theme import Theme
from high_pair.formats.xml import Element, child, children, local_name, number, tag
from high_pair.scene.addresses import address_in
from high_pair.scene.paint import BLACK, WHITE, Colour, Fill, Pattern
from high_pair.scene.text import Decider, Haze, Run

# How far raised text is raised, as a share of its size.
RAISED = 0.33
# And how much of its size it has.
RAISED_SIZE = 2 / 3
AUTOMATIC = "automatic: dark on light, light on dark"
UNSURE = (
    "its colour is automatic, black or white by what is behind it, and on this backdrop "
    "programs differ in which"
)
# Effects of newer writers, beside the properties of the standard.
_EFFECTS = {"w14:reflection": "a reflection", "w14:props3d": "depth"}
STRIPES = "it is shaded with stripes, and where they lie differs from program to program"
GLOW = "its letters glow, and how strongly differs from program to program"
_STOP_COLOURS = "/".join(tag(f"w14:{name}") for name in ("gradFill", "gsLst", "gs")) + "/*"
UNKNOWN_COLOUR = "the text has a {} of a colour that isn't worked out"
_OLD_EFFECTS = {
    "emboss": "an embossed edge",
    "imprint": "an engraved edge",
}
SURROGATE = {"text1": "tx1", "background1": "bg1", "text2": "tx2", "background2": "bg2"}


@dataclass(frozen=True)
class Behind:
    """What a text knows of what is behind it: the nearest shading, None for a varied one."""

    colour: Colour | None = WHITE

    def over(self, fill: Fill | None) -> Behind:
        """Give what is behind a text on a further fill; None fills nothing."""
        if fill is None:
            return self
        plain = isinstance(fill, Colour) and fill.opacity >= 1
        return Behind(fill if plain and isinstance(fill, Colour) else None)


@dataclass(frozen=True)
class _Look:
    """A run without its words; capitals: they are shown as such."""

    run: Run
    capitals: bool


def _key(layer: Layer) -> object:
    """Give what tells a layer from others: a style's address, or what is stated directly."""
    if not layer.address:
        return (layer.words, etree.tostring(layer.properties))
    return (layer.kind, layer.words, layer.address)


@dataclass(frozen=True)
class LookReader:
    """Reads looks with the document's colours and fonts at hand.

    theme_member: the part of the theme's colours, for their addresses; known:
    looks that were read before, by what states them.
    """

    colours: DocumentColours
    theme: Theme
    theme_member: str
    known: dict[tuple[tuple[object, ...], Behind], _Look] = field(
        default_factory=dict, compare=False, repr=False
    )

    def run(
        self, text: str, layers: Sequence[Layer], behind: Behind, address: str, link: bool = False
    ) -> Run:
        """Give a run. layers: nearest first; behind: what is below it but for its own shading."""
        key = (tuple(_key(layer) for layer in layers), behind)
        if key not in self.known:
            self.known[key] = self._look(layers, behind)
        look = self.known[key]
        shown = text.upper() if look.capitals else text
        return replace(look.run, text=shown, address=address, link=link)

    def _look(self, layers: Sequence[Layer], behind: Behind) -> _Look:
        mark = self._mark(layers)
        backdrop = behind.over(mark)
        shades, origin, deciders, trouble = self._colour(layers, backdrop)
        size = self._size(layers)
        raised, size = self._raised(layers, size)
        hidden = toggled(layers, "vanish")
        effect = self._effect(layers)
        haze = self._glow(layers)
        shown = mark if isinstance(mark, Colour) else None
        if isinstance(mark, Pattern):
            # Where its stripes lie differs: a place may have either of its colours.
            shown, haze = mark.background, Haze((mark.foreground,), STRIPES)
        why = UNSURE if len(shades) > 1 and origin == AUTOMATIC else ""
        outline = self._outline(layers)
        if outline is not None:
            shades = tuple(dict.fromkeys((*shades, outline)))
        run = Run(
            text="",
            colour=shades[0],
            family=self._family(layers),
            size=size,
            weight=700 if toggled(layers, "b") else 400,
            origin=origin,
            address="",
            italic=toggled(layers, "i"),
            underline=self._value(layers, "w:u", "none") != "none",
            strike=toggled(layers, "strike") or self._on(layers, "w:dstrike"),
            spacing=max(-50.0, min(500.0, number(self._value(layers, "w:spacing", "0")) / 20)),
            baseline=raised,
            highlight=shown,
            trouble=trouble or effect,
            invisible=hidden,
            small_capitals=toggled(layers, "smallCaps"),
            shades=shades if len(shades) > 1 else (),
            why_shades=why,
            haze=haze,
            deciders=deciders,
        )
        return _Look(run, toggled(layers, "caps"))

    def _value(self, layers: Sequence[Layer], name: str, default: str) -> str:
        found = nearest(layers, name)
        return found[1].get(tag("w:val"), default) if found is not None else default

    def _on(self, layers: Sequence[Layer], name: str) -> bool:
        found = nearest(layers, name)
        return found is not None and is_on(found[1])

    def _size(self, layers: Sequence[Layer]) -> float:
        """Give the size in points; w:sz counts half points (§17.3.2.38)."""
        stated = number(self._value(layers, "w:sz", ""), PLAIN_SIZE * 2) / 2
        return stated if 0.5 <= stated <= 1638 else PLAIN_SIZE

    def _raised(self, layers: Sequence[Layer], size: float) -> tuple[float, float]:
        place = self._value(layers, "w:vertAlign", "baseline")
        if place in ("superscript", "subscript"):
            return (RAISED if place == "superscript" else -RAISED), size * RAISED_SIZE
        points = number(self._value(layers, "w:position", "0")) / 2
        return max(-1.0, min(1.0, points / size)), size

    def _family(self, layers: Sequence[Layer]) -> str:
        for layer in layers:
            fonts = child(layer.properties, "w:rFonts")
            if fonts is None:
                continue
            themed = fonts.get(tag("w:asciiTheme"), "")
            if themed:
                return self.theme.major if themed.startswith("major") else self.theme.minor
            named = fonts.get(tag("w:ascii")) or fonts.get(tag("w:hAnsi"))
            if named:
                return named
        return "Times New Roman"

    def _mark(self, layers: Sequence[Layer]) -> Fill | None:
        """Give a run's highlight, or else its shading."""
        found = nearest(layers, "w:highlight")
        marked = highlight(found[1]) if found is not None else None
        if marked is not None:
            return marked
        found = nearest(layers, "w:shd")
        return self.colours.shading(found[1]) if found is not None else None

    def _glow(self, layers: Sequence[Layer]) -> Haze | None:
        """Give the glow round a run's letters, of which the colour is known."""
        found = nearest(layers, "w14:glow")
        if found is None:
            return None
        colour = self._newer_colour(next(iter(children(found[1])), None))
        return Haze((colour,), GLOW) if colour is not None else None

    def _outline(self, layers: Sequence[Layer]) -> Colour | None:
        """Give the colour of the line round a run's letters; None for none."""
        if toggled(layers, "outline"):
            # Programs leave the letters empty, or fill them white.
            return WHITE
        found = nearest(layers, "w14:textOutline")
        solid = child(found[1], "w14:solidFill") if found is not None else None
        return self._newer_colour(next(iter(children(solid)), None))

    def _newer_colour(self, element: Element | None) -> Colour | None:
        """Read a colour as newer writers state it; None where it is changed by more than shares."""
        if element is None:
            return None
        value = element.get(tag("w14:val"), "")
        if local_name(element) == "schemeClr":
            name = next((k for k, v in SURROGATE.items() if v == value), value)
            base = self.colours.scheme.get(self.colours.slot(name))
        else:
            base = _as_colour(value)
        if any(local_name(step) != "alpha" for step in children(element)):
            return None
        return base

    def _effect(self, layers: Sequence[Layer]) -> str:
        for name, words in _OLD_EFFECTS.items():
            if toggled(layers, name):
                return f"the text has {words}, which isn't painted yet"
        for name, words in _EFFECTS.items():
            found = nearest(layers, name)
            if found is not None and len(found[1]):
                return f"the text has {words}, which isn't painted yet"
        if (glow := nearest(layers, "w14:glow")) is not None and self._glow(layers) is None:
            return UNKNOWN_COLOUR.format("glow") if len(glow[1]) else ""
        outline = nearest(layers, "w14:textOutline")
        if outline is not None and child(outline[1], "w14:noFill") is None and len(outline[1]):
            return UNKNOWN_COLOUR.format("outline") if self._outline(layers) is None else ""
        return ""

    def _colour(
        self, layers: Sequence[Layer], behind: Behind
    ) -> tuple[tuple[Colour, ...], str, tuple[Decider, ...], str]:
        """Give a run's colour (two where programs differ), where it is decided, and a trouble."""
        for layer in layers:
            filled = child(layer.properties, "w14:textFill")
            if filled is not None:
                found = self._filled(layer, filled)
                if found is not None:
                    return found
            element = child(layer.properties, "w:color")
            if element is None:
                continue
            stated = self.colours.read(element)
            if stated is None:
                break
            return (stated.colour,), self._origin(layer, stated), self._deciders(layer, stated), ""
        if behind.colour is None:
            return (BLACK, WHITE), AUTOMATIC, (), ""
        return automatic(behind.colour), AUTOMATIC, (), ""

    def _filled(
        self, layer: Layer, filled: Element
    ) -> tuple[tuple[Colour, ...], str, tuple[Decider, ...], str] | None:
        """Read a text's fill as newer writers state it, beside the colour of the standard."""
        stops = [self._newer_colour(each) for each in filled.iterfind(_STOP_COLOURS)]
        if stops:
            known = tuple(dict.fromkeys(stop for stop in stops if stop is not None))
            trouble = UNKNOWN_COLOUR.format("gradient") if None in stops else ""
            return known or (BLACK,), layer.words, (), trouble
        each = next(iter(children(child(filled, "w14:solidFill"))), None)
        base = self._newer_colour(each)
        if each is None or base is None:
            # Beside a changed colour stands the plain one that its writer saw.
            return None
        alpha = child(each, "w14:alpha")
        amount = number(alpha.get(tag("w14:val")), 0.0) / 100_000 if alpha is not None else 0.0
        if amount in (0.0, 1.0):
            return None
        words = "its opacity is stated in a way that programs read differently"
        return (base.with_opacity(1 - amount),), layer.words, (), words

    def _origin(self, layer: Layer, stated: Tinted) -> str:
        return f"{layer.words} → {stated.words}"

    def _deciders(self, layer: Layer, stated: Tinted) -> tuple[Decider, ...]:
        found = []
        if layer.address:
            found.append(Decider(f"in the {layer.words}", layer.address))
        if stated.slot and self.theme_member:
            address = address_in(self.theme_member, slot=stated.slot)
            found.append(Decider(f"in the theme, {stated.slot}", address))
        return tuple(found)


def _as_colour(value: str) -> Colour | None:
    try:
        levels = bytes.fromhex(value)
    except ValueError:
        return None
    if len(levels) != 3:
        return None
    return Colour(levels[0] / 255, levels[1] / 255, levels[2] / 255)
