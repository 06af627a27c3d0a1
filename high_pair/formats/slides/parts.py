"""The parts that a slide is made from: slide, layout, master, theme."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from high_pair.errors import UnreadableFile
from high_pair.formats.drawing.colours import PLAIN_MAP, Palette
from high_pair.formats.drawing.theme import Theme, read_theme, scheme_of
from high_pair.formats.package import Package
from high_pair.formats.relationships import Relationship, relationships_of
from high_pair.formats.xml import Element, child, local_name, parse


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


@dataclass(frozen=True)
class SlideParts:
    """A slide with all that it inherits from.

    theme_member: the part whose colours hold here; empty where an override's do.
    """

    slide: Part
    layout: Part | None
    master: Part | None
    theme: Theme
    palette: Palette
    presentation: Part
    table_styles: Element | None
    assumed: tuple[str, ...] = ()
    theme_member: str = ""


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


def _mapping(part: Part | None, name: str) -> dict[str, str] | None:
    """Read a colour map override (§19.3.1.7); None where there is none."""
    if part is None:
        return None
    override = child(part.root, name, "a:overrideClrMapping")
    return _attributes(override) if override is not None else None


def _attributes(element: Element) -> dict[str, str]:
    return {str(key): str(value) for key, value in element.attrib.items()}


def _colour_map(slide: Part, layout: Part | None, master: Part | None) -> Mapping[str, str]:
    """Give the colour map in force: the slide's, else its layout's, else its master's."""
    for part in (slide, layout):
        override = _mapping(part, "p:clrMapOvr")
        if override:
            return {**PLAIN_MAP, **override}
    base = child(master.root, "p:clrMap") if master else None
    return {**PLAIN_MAP, **_attributes(base)} if base is not None else PLAIN_MAP


def slide_parts(store: PartStore, presentation: Part, member: str) -> SlideParts:
    """Gather a slide's parts; what is missing is replaced by the plain thing and said."""
    slide = store.part(member)
    if local_name(slide.root) != "sld":
        raise UnreadableFile(store.package.name, f"its part {member} is not a slide.")
    assumed: list[str] = []
    layout = store.shared(slide.target("slideLayout"))
    if layout is None:
        assumed.append(f"{member} has no layout: its own formatting alone is used")
    master = store.shared(layout.target("slideMaster")) if layout else None
    if layout is not None and master is None:
        assumed.append(f"{layout.member} has no master: plain text styles are used")
    theme_member = master.target("theme") if master else ""
    theme = store.theme(theme_member)
    if theme.missing:
        theme_member = presentation.target("theme")
        theme = store.theme(theme_member)
    if theme.missing:
        assumed.append("the theme is missing: black on white, and greys for its accents, are used")
    scheme = theme.scheme
    for part in (layout, slide):
        override = store.shared(part.target("themeOverride")) if part else None
        if override is not None:
            own = child(override.root, "a:clrScheme")
            if own is not None:
                scheme, theme_member = scheme_of(own), ""
    palette = Palette(scheme, _colour_map(slide, layout, master))
    styles = store.shared(presentation.target("tableStyles"))
    return SlideParts(
        slide,
        layout,
        master,
        theme,
        palette,
        presentation,
        styles.root if styles else None,
        tuple(assumed),
        "" if theme.missing else theme_member,
    )
