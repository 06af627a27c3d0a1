"""The parts of an OPC package, parsed, with where their relationships lead."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from high_pair.formats.drawing.theme import Theme, read_theme
from high_pair.formats.package import Package
from high_pair.formats.relationships import Relationship, relationships_of
from high_pair.formats.xml import Element, parse


@dataclass(frozen=True)
class Part:
    """A parsed part and where its relationships lead."""

    member: str
    root: Element
    relationships: Mapping[str, Relationship]

    def target(self, kind: str) -> str:
        """Give the member that the first relationship of a kind leads to; empty without one."""
        for relationship in self.relationships.values():
            if relationship.kind == kind and not relationship.external:
                return relationship.target
        return ""

    def target_of(self, identifier: str) -> str:
        """Give the member that a relationship leads to; empty when it leads nowhere inside."""
        relationship = self.relationships.get(identifier)
        return "" if relationship is None or relationship.external else relationship.target


@dataclass
class PartStore:
    """Parses the parts of a package; those that slides share only once.

    edited: roots that stand for the file's own parts.
    """

    package: Package
    edited: Mapping[str, Element] = field(default_factory=dict)
    _shared: dict[str, Part | None] = field(default_factory=dict)
    _themes: dict[str, Theme] = field(default_factory=dict)

    def with_edited(self, edited: Mapping[str, Element]) -> PartStore:
        """Give a store in which some parts are replaced; what slides share is shared on."""
        store = PartStore(self.package, edited)
        if not any(member in self._shared for member in {**self.edited, **edited}):
            store._shared = self._shared
            store._themes = self._themes
        return store

    def part(self, member: str) -> Part:
        """Parse a part. Raises UnreadableFile when it is missing or broken."""
        root = self.edited.get(member)
        if root is None:
            root = parse(self.package.read(member), self.package.name, member)
        return Part(member, root, relationships_of(self.package, member))

    def part_by(self, member: str, each: str, take: Callable[[Element], None]) -> Part:
        """Parse a part of the file whose elements of a name are taken one by one, see `parse`."""
        package = self.package
        root = parse(package.read(member), package.name, member, each, take)
        return Part(member, root, relationships_of(package, member))

    def shared(self, member: str) -> Part | None:
        """Give a part that several slides use; None when it isn't there."""
        if member not in self._shared:
            there = bool(member) and member in self.package.members
            self._shared[member] = self.part(member) if there else None
        return self._shared[member]

    def theme(self, member: str) -> Theme:
        """Give a theme; the plain one when the part isn't there."""
        if member not in self._themes:
            part = self.shared(member)
            self._themes[member] = read_theme(part.root if part else None)
        return self._themes[member]
