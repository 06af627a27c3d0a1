"""Placeholders: which shape of the layout and of the master a slide's shape inherits from.

Source: ECMA-376 Part 1 §19.3.1.36 (ph) and §19.7.10 (its types).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from high_pair.formats.parts import Part
from high_pair.formats.xml import Element, child, children, local_name, tag, whole


class TextKind(StrEnum):
    """Which of the master's text styles a shape's text takes."""

    TITLE = "title"
    BODY = "body"
    OTHER = "other"


@dataclass(frozen=True)
class Placeholder:
    """A placeholder's type (`obj` when it states none) and index."""

    type: str
    index: int
    typed: bool


# A master has five kinds; the rest inherit from the nearest.
_MASTER_KIND = {"ctrTitle": "title", "title": "title", "dt": "dt", "ftr": "ftr", "sldNum": "sldNum"}
_PROPERTIES = frozenset({"nvSpPr", "nvPicPr", "nvGraphicFramePr", "nvCxnSpPr", "nvGrpSpPr"})


def properties_of(shape: Element) -> Element | None:
    """Give a shape's non-visual properties (p:nvSpPr and its relatives)."""
    for each in children(shape):
        if local_name(each) in _PROPERTIES:
            return each
    return None


def placeholder_of(shape: Element) -> Placeholder | None:
    """Give what a shape says of itself as a placeholder; None when it is none."""
    mark = child(properties_of(shape), "p:nvPr", "p:ph")
    if mark is None:
        return None
    kind = mark.get("type")
    return Placeholder(kind or "obj", whole(mark, "idx"), kind is not None)


def master_kind(kind: str) -> str:
    """Give the master's kind for a placeholder's type."""
    return _MASTER_KIND.get(kind, "body")


def text_kind(kind: str) -> TextKind:
    """Give the master's text style for a placeholder's type."""
    found = master_kind(kind)
    if found == "title":
        return TextKind.TITLE
    return TextKind.BODY if found == "body" else TextKind.OTHER


def _placeholders(part: Part | None) -> list[tuple[Element, Placeholder]]:
    if part is None:
        return []
    tree = child(part.root, "p:cSld", "p:spTree")
    found = []
    for mark in tree.iter(tag("p:ph")) if tree is not None else ():
        parent = mark.getparent()
        properties = parent.getparent() if parent is not None else None
        shape = properties.getparent() if properties is not None else None
        placeholder = placeholder_of(shape) if shape is not None else None
        if shape is not None and placeholder is not None:
            found.append((shape, placeholder))
    return found


def in_layout(wanted: Placeholder, layout: Part | None) -> tuple[Element, Placeholder] | None:
    """Find a slide's placeholder in its layout: titles by type, all else by index, then by type."""
    candidates = _placeholders(layout)
    if master_kind(wanted.type) != "title":
        for shape, candidate in candidates:
            if candidate.index == wanted.index and master_kind(candidate.type) != "title":
                return shape, candidate
    for shape, candidate in candidates:
        if candidate.type == wanted.type:
            return shape, candidate
    for shape, candidate in candidates:
        if master_kind(candidate.type) == "title" == master_kind(wanted.type):
            return shape, candidate
    return None


def in_master(kind: str, master: Part | None) -> Element | None:
    """Find the master's placeholder for a type."""
    for shape, candidate in _placeholders(master):
        if master_kind(candidate.type) == master_kind(kind):
            return shape
    return None


@dataclass(frozen=True)
class Lineage:
    """A shape and those it inherits from, nearest first, with their names for the report."""

    shapes: tuple[Element, ...]
    names: tuple[str, ...]
    text_kind: TextKind | None


def lineage_of(
    shape: Element, layout: Part | None, master: Part | None, on: str = "slide"
) -> Lineage:
    """Give a shape's lineage.

    on: the part that the shape stands in (slide, layout, master); a layout's
    own placeholders inherit from the master alone. text_kind is None for a
    shape that is no placeholder.
    """
    placeholder = placeholder_of(shape)
    if placeholder is None:
        return Lineage((shape,), ("shape",), None)
    shapes, names = [shape], ["shape"]
    kind = placeholder.type
    if on == "slide":
        above = in_layout(placeholder, layout)
        if above:
            shapes.append(above[0])
            names.append("layout placeholder")
            if not placeholder.typed or above[1].typed:
                kind = above[1].type
    if on in ("slide", "layout"):
        top = in_master(kind, master)
        if top is not None:
            shapes.append(top)
            names.append("master placeholder")
    return Lineage(tuple(shapes), tuple(names), text_kind(kind))
