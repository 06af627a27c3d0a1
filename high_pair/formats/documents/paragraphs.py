"""Properties of paragraphs, the nearest statement first (ECMA-376 Part 1 §17.3.1)."""

from __future__ import annotations

from collections.abc import Sequence

from high_pair.formats.documents.styles import StyleSheet, is_on
from high_pair.formats.xml import Element, child, children, digits, number, tag
from high_pair.scene.text import Spacing, TabStop

TWENTIETHS = 20.0
# Room that programs leave where it is theirs to choose (§17.3.1.33), in points.
AUTOMATIC_ROOM = 14.0
_TAB_ALIGNS = {"center": "centre", "right": "right", "end": "right", "decimal": "decimal"}


def is_stated(properties: Sequence[Element], name: str) -> bool:
    """Tell whether an on/off property is on."""
    found = next((e for p in properties if (e := child(p, name)) is not None), None)
    return found is not None and is_on(found)


def value_of(properties: Sequence[Element], name: str, default: str) -> str:
    """Give the nearest value of a property."""
    found = next((e for p in properties if (e := child(p, name)) is not None), None)
    return found.get(tag("w:val"), default) if found is not None else default


def plain_value(element: Element | None) -> str:
    """Give an element's value; empty without one."""
    return element.get(tag("w:val"), "") if element is not None else ""


def space_of(properties: Sequence[Element], side: str) -> float:
    """Give the points above or below a paragraph (§17.3.1.33)."""
    for each in properties:
        spacing = child(each, "w:spacing")
        if spacing is None:
            continue
        if spacing.get(tag(f"w:{side}Autospacing"), "0") in ("1", "true", "on"):
            return AUTOMATIC_ROOM
        lines = spacing.get(tag(f"w:{side}Lines"))
        if lines is not None and number(lines):
            return max(0.0, min(1000.0, number(lines) / 100 * 12.0))
        stated = spacing.get(tag(f"w:{side}"))
        if stated is not None:
            return max(0.0, min(1584.0, number(stated) / TWENTIETHS))
    return 0.0


def heading_level(properties: Sequence[Element], styles: StyleSheet, style: str | None) -> int:
    """Give a heading's level, from 1: by its outline level (§17.3.1.20)."""
    level = digits(value_of(properties, "w:outlineLvl", ""))
    if level is not None and level < 9:
        return level + 1
    for each in styles.chain("paragraph", style):
        name = styles.name(each).lower()
        if name.startswith("heading ") and (own := digits(name[8:])) is not None:
            return own
        if name == "title":
            return 1
    return 0


def indents_of(properties: Sequence[Element]) -> tuple[float, float, float]:
    """Give the left and right indents and the first line's (§17.3.1.12), in points."""

    def first(*names: str) -> str | None:
        for each in properties:
            indent = child(each, "w:ind")
            if indent is None:
                continue
            for name in names:
                stated = indent.get(tag(f"w:{name}"))
                if stated is not None:
                    return stated
        return None

    left = number(first("start", "left")) / TWENTIETHS
    right = number(first("end", "right")) / TWENTIETHS
    line = 0.0
    for each in properties:
        indent = child(each, "w:ind")
        if indent is None:
            continue
        hanging = indent.get(tag("w:hanging"))
        ahead = indent.get(tag("w:firstLine"))
        if hanging is not None:
            line = -number(hanging) / TWENTIETHS
        elif ahead is not None:
            line = number(ahead) / TWENTIETHS
        if hanging is not None or ahead is not None:
            break
    limit = 1500.0
    return (
        max(-limit, min(limit, left)),
        max(-limit, min(limit, right)),
        max(-limit, min(limit, line)),
    )


def line_spacing(properties: Sequence[Element], size: float) -> Spacing:
    """Give the distance of lines (§17.3.1.33)."""
    for each in properties:
        spacing = child(each, "w:spacing")
        stated = spacing.get(tag("w:line")) if spacing is not None else None
        if spacing is None or stated is None:
            continue
        rule = spacing.get(tag("w:lineRule"), "auto")
        value = number(stated)
        if rule == "auto":
            return Spacing(share=min(20.0, max(0.1, value / 240)))
        points = min(1584.0, max(1.0, value / TWENTIETHS))
        if rule == "atLeast" and points < size * 1.2:
            return Spacing()
        return Spacing(points=points)
    return Spacing()


def tabs_of(properties: Sequence[Element]) -> tuple[TabStop, ...]:
    """Give the tab stops, those of styles too, unless a nearer one clears them (§17.3.1.37)."""
    found: dict[float, str] = {}
    for each in reversed(properties):
        for stop in children(child(each, "w:tabs")):
            place = number(stop.get(tag("w:pos"))) / TWENTIETHS
            kind = stop.get(tag("w:val"), "left")
            if kind == "clear":
                found.pop(place, None)
            elif kind != "bar" and 0 <= place < 5000:
                found[place] = _TAB_ALIGNS.get(kind, "left")
    return tuple(TabStop(place, align) for place, align in sorted(found.items()))
