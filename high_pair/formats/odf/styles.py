"""Styles: automatic, common and default ones, with their parents (ODF 1.3 Part 3 §16)."""

from __future__ import annotations

import functools
from collections.abc import Sequence
from dataclasses import dataclass

from lxml import etree

from high_pair.formats.odf.units import length
from high_pair.formats.xml import (
    NAMESPACES,
    Element,
    child,
    children,
    local_name,
    number,
    tag,
    whole,
)

DEEPEST = 32
PLAIN_SIZE = 18.0
_PLAIN_TEXT = etree.fromstring(
    f'<s:style xmlns:s="{NAMESPACES["style"]}" xmlns:f="{NAMESPACES["fo"]}">'
    '<s:text-properties f:font-size="12pt"/></s:style>'
)
# How values are shown, by what they are (§16.29).
_NUMBERS = frozenset(
    {
        "number-style", "currency-style", "percentage-style", "date-style", "time-style",
        "boolean-style", "text-style",
    }
)  # fmt: skip
# What is asked for by name beside styles.
_NAMED = ("gradient", "fill-image", "hatch", "opacity", "stroke-dash", "marker")


class Styles:
    """All styles of a document.

    Pages in content.xml use the automatic styles of that file; master pages
    those of styles.xml. Both share the common styles.
    """

    def __init__(self, content: Element, styles: Element | None) -> None:
        self._common: dict[tuple[str, str], Element] = {}
        self._automatic: dict[str, dict[tuple[str, str], Element]] = {"content": {}, "master": {}}
        self._defaults: dict[str, Element] = {}
        self._named: dict[tuple[str, str], Element] = {}
        self._faces: dict[str, str] = {}
        self._numbers: dict[str, Element] = {}
        self._templates: dict[str, Element] = {}
        self._outline: dict[int, Element] = {}
        self.layouts: dict[str, Element] = {}
        self.masters: dict[str, Element] = {}
        # In a text that states no size anywhere writers take this one.
        self._last = (
            (_PLAIN_TEXT,) if child(content, "office:body", "office:text") is not None else ()
        )
        self._take(content, "content")
        if styles is not None:
            self._take(styles, "master")

    def _take(self, root: Element, scope: str) -> None:
        for holder in children(root):
            name = local_name(holder)
            if name == "styles":
                self._collect(holder, self._common)
            elif name == "automatic-styles":
                self._collect(holder, self._automatic[scope])
            elif name == "master-styles":
                for master in holder.findall(tag("style:master-page")):
                    self.masters[master.get(tag("style:name"), "")] = master
            elif name == "font-face-decls":
                for face in holder.findall(tag("style:font-face")):
                    family = face.get(tag("svg:font-family"), "").strip("'\" ")
                    self._faces[face.get(tag("style:name"), "")] = family

    def _collect(self, holder: Element, into: dict[tuple[str, str], Element]) -> None:
        for each in children(holder):
            kind, name = local_name(each), each.get(tag("style:name"), "")
            if kind == "style":
                family = each.get(tag("style:family"), "")
                into[(family, name)] = each
                # Conditional formats of the extension name a style by what users see.
                into.setdefault((family, each.get(tag("style:display-name"), name)), each)
            elif kind == "list-style":
                into[("list", name)] = each
            elif kind == "outline-style":
                self._outline = holder_levels(each)
            elif kind == "default-style":
                self._defaults[each.get(tag("style:family"), "")] = each
            elif kind == "table-template":
                self._templates[each.get(tag("table:name"), "") or name] = each
            elif kind == "page-layout":
                self.layouts[name] = each
            elif kind in _NUMBERS:
                self._numbers[name] = each
            elif kind in _NAMED:
                self._named[(kind, each.get(tag("draw:name"), ""))] = each

    def find(self, family: str, name: str | None, scope: str) -> Element | None:
        """Give a style by family and name; None when there is none."""
        if not name:
            return None
        key = (family, name)
        return self._automatic[scope].get(key, self._common.get(key))

    def chain(self, family: str, name: str | None, scope: str) -> tuple[Element, ...]:
        """Give a style and its parents, nearest first; loops end where they begin."""
        found: list[Element] = []
        style = self.find(family, name, scope)
        while style is not None and style not in found and len(found) < DEEPEST:
            found.append(style)
            style = self._common.get((family, style.get(tag("style:parent-style-name"), "")))
        return tuple(found)

    def default(self, family: str) -> tuple[Element, ...]:
        """Give the default style of a family, if there is one, and what counts without it."""
        style = self._defaults.get(family)
        return (style, *self._last) if style is not None else self._last

    def named(self, kind: str, name: str | None) -> Element | None:
        """Give a gradient, fill image or the like by name."""
        return self._named.get((kind, name or ""))

    def number_style(self, name: str) -> Element | None:
        """Give how values are shown, by name."""
        return self._numbers.get(name)

    def outline_level(self, level: int) -> Element | None:
        """Give how headings of a level are numbered; None where nothing says so."""
        return self._outline.get(level)

    def template(self, name: str) -> Element | None:
        """Give a table's template by name."""
        return self._templates.get(name)

    def face(self, name: str) -> str:
        """Give the family that a font face's name stands for."""
        return self._faces.get(name, name)


def holder_levels(holder: Element) -> dict[int, Element]:
    """Give the levels of a list's or an outline's style by their numbers (§16.34)."""
    return {whole(entry, tag("text:level")): entry for entry in children(holder)}


def attribute(chain: Sequence[Element], properties: str, name: str) -> str | None:
    """Give the nearest value of an attribute in a kind of properties (`graphic`, `text`, …)."""
    for style in chain:
        holder = child(style, f"style:{properties}-properties")
        value = holder.get(tag(name)) if holder is not None else None
        if value is not None:
            return value
    return None


@dataclass(frozen=True)
class TextStyles:
    """The styles that govern a stretch of text, nearest first, each with words for the report."""

    entries: tuple[tuple[str, Element], ...]

    # Each run asks for a dozen properties of the same few styles.
    @functools.cached_property
    def _text(self) -> list[tuple[str, Element]]:
        return self._holders("text")

    @functools.cached_property
    def _paragraph(self) -> list[tuple[str, Element]]:
        return self._holders("paragraph")

    def _holders(self, kind: str) -> list[tuple[str, Element]]:
        found = ((words, child(each, f"style:{kind}-properties")) for words, each in self.entries)
        return [(words, holder) for words, holder in found if holder is not None]

    def get(self, name: str) -> str | None:
        """Give the nearest text property."""
        key = tag(name)
        return next((value for _, holder in self._text if (value := holder.get(key))), None)

    def paragraph(self, name: str) -> str | None:
        """Give the nearest paragraph property."""
        key = tag(name)
        values = (holder.get(key) for _, holder in self._paragraph)
        return next((value for value in values if value is not None), None)

    def size(self) -> float:
        """Give the size in points; a percentage is of the next style's size (§20.190)."""
        factor = 1.0
        for _, holder in self._text:
            stated = holder.get(tag("fo:font-size"))
            if stated is None:
                continue
            if stated.strip().endswith("%"):
                factor *= number(stated.strip()[:-1], 100) / 100
            else:
                size = length(stated, PLAIN_SIZE)
                return min(4000.0, max(0.1, size * factor))
        return min(4000.0, max(0.1, PLAIN_SIZE * factor))

    def weight(self) -> int:
        """Give the weight, 1 to 1000."""
        stated = (self.get("fo:font-weight") or "normal").strip()
        if stated in ("normal", "bold"):
            return 700 if stated == "bold" else 400
        return int(min(1000, max(1, number(stated, 400))))

    def colour_source(self) -> tuple[str, Element] | None:
        """Give the nearest text properties that decide the colour, with their words."""
        for words, holder in self._text:
            if holder.get(tag("style:use-window-font-color")) == "true":
                return words, holder
            if holder.get(tag("fo:color")) is not None:
                return words, holder
        return None
