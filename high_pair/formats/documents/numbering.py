"""Labels of lists: what they say and how they look (ECMA-376 Part 1 §17.9)."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field

from high_pair.formats.drawing.bullets import number_label
from high_pair.formats.xml import Element, child, tag, whole
from high_pair.scene.addresses import address_in

LEVELS = 9
_PLACE = re.compile(r"%([1-9])")
# §17.18.59, by the names that slides have for the same.
SCHEMES = {
    "decimal": "arabic",
    "lowerLetter": "alphaLc",
    "upperLetter": "alphaUc",
    "lowerRoman": "romanLc",
    "upperRoman": "romanUc",
}
PLAIN_BULLET = "•"


@dataclass(frozen=True)
class Level:
    """A level of a list: element, and the address of its label's colour."""

    element: Element
    address: str

    @property
    def run(self) -> Element | None:
        """The label's own run properties."""
        return child(self.element, "w:rPr")

    @property
    def paragraph(self) -> Element | None:
        """The paragraph properties that the level gives."""
        return child(self.element, "w:pPr")

    def value(self, name: str, default: str = "") -> str:
        """Give a property's value."""
        element = child(self.element, f"w:{name}")
        return element.get(tag("w:val"), default) if element is not None else default


class Numbering:
    """The numbering part."""

    def __init__(self, root: Element | None, member: str) -> None:
        """Find the lists' definitions."""
        self.member = member
        self._abstract: dict[str, Element] = {}
        self._lists: dict[str, Element] = {}
        for each in root.findall(tag("w:abstractNum")) if root is not None else ():
            self._abstract[each.get(tag("w:abstractNumId"), "")] = each
        for each in root.findall(tag("w:num")) if root is not None else ():
            self._lists[each.get(tag("w:numId"), "")] = each
        self._linked = {
            linked.get(tag("w:val"), ""): each
            for each in self._abstract.values()
            if (linked := child(each, "w:styleLink")) is not None
        }

    def abstract_of(self, number: str) -> str:
        """Give the definition that a list has."""
        element = child(self._lists.get(number), "w:abstractNumId")
        return element.get(tag("w:val"), "") if element is not None else ""

    def level(self, number: str, level: int) -> Level | None:
        """Give a level of a list; None where there is none."""
        own = self._lists.get(number)
        if own is None:
            return None
        for override in own.findall(tag("w:lvlOverride")):
            if whole(override, tag("w:ilvl"), -1) == level:
                found = child(override, "w:lvl")
                if found is not None:
                    return Level(found, address_in(self.member, num=number, lvl=level))
        identifier = self.abstract_of(number)
        abstract = self._abstract.get(identifier)
        link = child(abstract, "w:numStyleLink")
        if link is not None:
            abstract = self._linked.get(link.get(tag("w:val"), ""), abstract)
        for each in abstract.findall(tag("w:lvl")) if abstract is not None else ():
            if whole(each, tag("w:ilvl"), -1) == level and abstract is not None:
                own_id = abstract.get(tag("w:abstractNumId"), "")
                return Level(each, address_in(self.member, abs=own_id, lvl=level))
        return None

    def override(self, number: str, level: int) -> int | None:
        """Give the number with which a list says that a level begins anew, if so."""
        own = self._lists.get(number)
        for each in own.findall(tag("w:lvlOverride")) if own is not None else ():
            if whole(each, tag("w:ilvl"), -1) == level:
                begins = child(each, "w:startOverride")
                if begins is not None:
                    return whole(begins, tag("w:val"), 1)
        return None

    def start(self, number: str, level: int) -> int:
        """Give the number with which a level begins."""
        stated = self.override(number, level)
        if stated is not None:
            return stated
        found = self.level(number, level)
        return whole(child(found.element, "w:start"), tag("w:val"), 1) if found else 1


@dataclass
class Counter:
    """Counts the paragraphs of all lists as they come."""

    numbering: Numbering
    counts: dict[str, dict[int, int]] = field(default_factory=dict)
    begun: set[tuple[str, int]] = field(default_factory=set)

    def label(self, number: str, level: int) -> str:
        """Count a paragraph, and give what its label says."""
        found = self.numbering.level(number, level)
        if found is None:
            return ""
        counts = self.counts.setdefault(self.numbering.abstract_of(number), {})
        overridden = (number, level)
        anew = self.numbering.override(number, level) is not None
        if level not in counts or (anew and overridden not in self.begun):
            counts[level] = self.numbering.start(number, level)
        else:
            counts[level] += 1
        self.begun.add(overridden)
        for deeper in [each for each in counts if each > level]:
            del counts[deeper]
        return self._words(found, number, level, counts)

    def _words(self, found: Level, number: str, level: int, counts: Mapping[int, int]) -> str:
        kind = found.value("numFmt", "decimal")
        text = found.value("lvlText")
        if kind == "none":
            return _PLACE.sub("", text)
        if kind == "bullet":
            plain = any("\ue000" <= character <= "\uf8ff" for character in text)
            return PLAIN_BULLET if plain else text.strip()
        legal = child(found.element, "w:isLgl") is not None

        def part(match: re.Match[str]) -> str:
            own = int(match.group(1)) - 1
            count = counts.get(own, self.numbering.start(number, own))
            at = self.numbering.level(number, own)
            form = at.value("numFmt", "decimal") if at is not None and not legal else "decimal"
            if form == "decimalZero":
                return f"{count:02d}"
            return number_label(f"{SCHEMES.get(form, 'arabic')}Plain", count)

        return _PLACE.sub(part, text)
