"""The colours of an OpenDocument file's styles as a set: all that have one colour are one."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from high_pair.colour.srgb import bytes_of, hex_of
from high_pair.formats.following import gone
from high_pair.formats.sets.files import with_own_names
from high_pair.formats.xml import Element, child, local_name, tag
from high_pair.scene.addresses import Address, address_in, member_of, span
from high_pair.scene.colour_set import ColourSet, Levels, SetColour

KIND = "styles"
# The first step of the address of a colour that a style states.
COLOURED = "coloured"
# What says a colour in the properties of a style.
TEXT, FILLS = "fo:color", ("draw:fill-color", "fo:background-color")
ATTRIBUTES = (TEXT, *FILLS, "svg:stroke-color")
HOLDERS = ("styles", "automatic-styles")
STYLED = ("style", "default-style", "page-layout")


@dataclass(frozen=True)
class Stated:
    """Where a style states a colour. shown: the style's name, if a person chose it."""

    address: str
    levels: Levels
    shown: str


def stated_in(roots: Mapping[str, Element]) -> list[Stated]:
    """List where the styles of a file state colours, those of common styles first."""
    found: tuple[list[Stated], list[Stated]] = ([], [])
    for member, root in roots.items():
        for holder, style in _styles_of(root):
            common = holder == HOLDERS[0]
            name = style.get(tag("style:name"), "")
            shown = (style.get(tag("style:display-name")) or name) if common else ""
            for properties in style:
                for attribute in ATTRIBUTES:
                    levels = _levels(properties.get(tag(attribute), ""))
                    if levels is not None:
                        address = address_in(
                            member,
                            **{COLOURED: f"{holder}:{local_name(style)}:{_family(style)}:{name}"},
                            part=local_name(properties),
                            attribute=attribute,
                        )
                        words = f"{shown} fill" if shown and attribute in FILLS else shown
                        found[0 if common else 1].append(Stated(address, levels, words))
    return [*found[0], *found[1]]


def _styles_of(root: Element) -> Iterator[tuple[str, Element]]:
    for name in HOLDERS:
        holder = child(root, f"office:{name}")
        for style in holder if holder is not None else ():
            if isinstance(style.tag, str) and local_name(style) in STYLED:
                yield name, style


def _family(style: Element) -> str:
    return style.get(tag("style:family"), "")


def _levels(code: str) -> Levels | None:
    if len(code) != 7 or not code.startswith("#"):
        return None
    try:
        red, green, blue = bytes_of(code)
    except ValueError:
        return None
    return red, green, blue


def set_of(
    stated: Sequence[Stated], roots: Mapping[str, Element], source: str
) -> tuple[ColourSet, ...]:
    """Give a file's set as it is now. stated: where its styles on disk state colours."""
    groups: dict[Levels, list[Stated]] = {}
    for each in stated:
        groups.setdefault(each.levels, []).append(each)
    now = {each.address: each.levels for each in stated_in(roots)}
    colours = []
    for levels, members in groups.items():
        name = next((each.shown for each in members if each.shown), hex_of(levels))
        by_part: dict[str, list[str]] = {}
        for each in members:
            by_part.setdefault(member_of(each.address), []).append(each.address)
        colours.append(
            SetColour(
                name,
                now.get(members[0].address, levels),
                addresses=tuple(span(addresses) for addresses in by_part.values()),
            )
        )
    return (ColourSet(source, KIND, source, with_own_names(colours)),) if colours else ()


def recolour_stated(address: Address, levels: Levels, root: Element) -> None:
    """Give a style's property another colour. Raises EditError when it isn't there."""
    holder, kind, family, name = address.first.value.split(":", 3)
    part, attribute = address.step("part"), address.step("attribute")
    for each, style in _styles_of(root):
        same = (each, local_name(style), _family(style)) == (holder, kind, family)
        if not same or style.get(tag("style:name"), "") != name or not part or not attribute:
            continue
        for properties in style:
            if local_name(properties) == part.value and attribute.value in ATTRIBUTES:
                properties.set(tag(attribute.value), hex_of(levels).lower())
                return
    raise gone(str(address))
