"""Styles of a document: chains, defaults, toggles, and the conditional parts of table styles.

Source: ECMA-376 Part 1 §17.7, above all §17.7.2 (order) and §17.7.3 (toggles).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from high_pair.formats.xml import Element, child, tag
from high_pair.scene.addresses import address_in

LONGEST_CHAIN = 64
PLAIN_SIZE = 10.0  # §17.3.2.38: where nothing says another
_OFF = frozenset({"0", "false", "off", "none"})


def is_on(element: Element) -> bool:
    """Tell whether an on/off property is on (§17.17.4)."""
    return element.get(tag("w:val"), "1").lower() not in _OFF


@dataclass(frozen=True)
class Layer:
    """Run properties from one place.

    words: that place, as a person is told it; kind: direct, character,
    paragraph, numbering, table, font reference or defaults; address: where a colour for all
    that follows it can be written, empty for the run's own.
    """

    words: str
    kind: str
    properties: Element
    address: str = ""


class StyleSheet:
    """The styles part; without one, plain text."""

    def __init__(self, root: Element | None, member: str) -> None:
        """Read the styles' names and defaults."""
        self.member = member
        self._styles: dict[str, Element] = {}
        self._defaults: dict[str, str] = {}
        for style in root.findall(tag("w:style")) if root is not None else ():
            identifier = style.get(tag("w:styleId"), "")
            self._styles.setdefault(identifier, style)
            if style.get(tag("w:default"), "0").lower() not in _OFF:
                self._defaults[style.get(tag("w:type"), "")] = identifier
        self._run_defaults = child(root, "w:docDefaults", "w:rPrDefault", "w:rPr")
        self.paragraph_defaults = child(root, "w:docDefaults", "w:pPrDefault", "w:pPr")
        self._chains: dict[tuple[str, str], tuple[Element, ...]] = {}
        self._names: dict[str, str] = {}
        self._layers: dict[tuple[str, str], tuple[Layer, ...]] = {}

    def chain(self, kind: str, identifier: str | None) -> tuple[Element, ...]:
        """Give a style and those that it is based on, nearest first; the default without a name."""
        name: str | None = identifier
        if identifier not in self._styles:
            name = self._defaults.get(kind)
        key = (kind, name or "")
        if key not in self._chains:
            found: list[Element] = []
            seen: set[str] = set()
            while name and name in self._styles and name not in seen and len(found) < LONGEST_CHAIN:
                style = self._styles[name]
                if style.get(tag("w:type"), "paragraph") != kind:
                    break
                seen.add(name)
                found.append(style)
                based = child(style, "w:basedOn")
                name = based.get(tag("w:val")) if based is not None else None
            self._chains[key] = tuple(found)
        return self._chains[key]

    def name(self, style: Element) -> str:
        """Give a style's name as users know it."""
        identifier = style.get(tag("w:styleId"), "")
        if identifier not in self._names:
            named = child(style, "w:name")
            stated = named.get(tag("w:val")) if named is not None else None
            words = stated or identifier
            self._names[identifier] = words[:1].upper() + words[1:]
        return self._names[identifier]

    def default_layers(self) -> tuple[Layer, ...]:
        """Give the document's defaults."""
        if self._run_defaults is None:
            return ()
        address = address_in(self.member, defaults=1)
        return (Layer("document default", "defaults", self._run_defaults, address),)

    def style_layers(self, kind: str, identifier: str | None) -> tuple[Layer, ...]:
        """Give the run properties of a style and those that it is based on."""
        if kind == "character" and not identifier:
            # The default character style says nothing (§17.7.4.9).
            return ()
        key = (kind, identifier or "")
        if key not in self._layers:
            self._layers[key] = self._read_layers(kind, identifier)
        return self._layers[key]

    def _read_layers(self, kind: str, identifier: str | None) -> tuple[Layer, ...]:
        found = []
        for style in self.chain(kind, identifier):
            properties = child(style, "w:rPr")
            if properties is not None:
                address = address_in(self.member, style=style.get(tag("w:styleId"), ""))
                found.append(Layer(f"style {self.name(style)}", kind, properties, address))
        return tuple(found)

    def paragraph_layers(self, own: Element | None) -> tuple[Element, ...]:
        """Give what states a paragraph's properties, nearest first."""
        found = [own] if own is not None else []
        for style in self.chain("paragraph", style_of(own, "w:pStyle")):
            properties = child(style, "w:pPr")
            if properties is not None:
                found.append(properties)
        if self.paragraph_defaults is not None:
            found.append(self.paragraph_defaults)
        return tuple(found)


def style_of(properties: Element | None, name: str) -> str | None:
    """Give the style that properties name (w:pStyle, w:rStyle, w:tblStyle)."""
    element = child(properties, name)
    return element.get(tag("w:val")) if element is not None else None


def nearest(layers: Sequence[Layer], name: str) -> tuple[Layer, Element] | None:
    """Give the nearest layer that has a property, and the property."""
    for layer in layers:
        found = layer.properties.find(tag(name))
        if found is not None:
            return layer, found
    return None


def toggled(layers: Sequence[Layer], name: str) -> bool:
    """Tell whether a toggle property is on (§17.7.3).

    The run's own word counts as it is. Else the defaults' on counts; else the
    styles' values, the nearest of each kind, cancel each other.
    """
    values: dict[str, bool] = {}
    for layer in layers:
        found = layer.properties.find(tag(f"w:{name}"))
        if found is not None and layer.kind not in values:
            values[layer.kind] = is_on(found)
    if "direct" in values:
        return values["direct"]
    if values.get("defaults"):
        return True
    kinds = ("character", "paragraph", "numbering", "table")
    return sum(values.get(kind, False) for kind in kinds) % 2 == 1
