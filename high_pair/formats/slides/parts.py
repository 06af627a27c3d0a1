"""The parts that a slide is made from: slide, layout, master, theme."""

from __future__ import annotations

from collections.abc import Mapping

from high_pair.errors import UnreadableFile
from high_pair.formats.drawing.colours import PLAIN_MAP, Palette
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.theme import scheme_of
from high_pair.formats.parts import Part, PartStore
from high_pair.formats.xml import Element, child, local_name


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


def slide_parts(store: PartStore, presentation: Part, member: str) -> Setting:
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
    return Setting(
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
