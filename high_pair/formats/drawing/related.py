"""What the parts of charts and diagrams hold (ECMA-376 Part 1 §21.2 and §21.4)."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.formats.package import Package
from high_pair.formats.parts import Part
from high_pair.formats.relationships import relationships_of
from high_pair.formats.xml import NAMESPACES, Element, child, local_name, parse, tag

# A diagram's drawing is built like a slide's shapes, in a namespace of its own.
DRAWING_SPACE = b"http://schemas.microsoft.com/office/drawing/2008/diagram"


@dataclass(frozen=True)
class PackageParts:
    """Reads them from a package."""

    package: Package

    def words_of(self, member: str) -> str:
        """Give the words of a chart's or a diagram's part; empty for none."""
        if member not in self.package.members:
            return ""
        root = parse(self.package.read(member), self.package.name, member)
        words = [
            (each.text or "").strip()
            for each in root.iter(tag("a:t"), tag("c:v"))
            if each.tag == tag("a:t") or _is_text_point(each)
        ]
        return " · ".join(dict.fromkeys(word for word in words if word))

    def diagram(self, part: Part, data: Element | None) -> Part | None:
        """Give the drawing of a diagram in a frame of `part`; None when it is none, or lost.

        The frame names the diagram's data, which names the relationship of the
        drawing that its writer made from it.
        """
        identifiers = child(data, "dgm:relIds")
        if identifiers is None:
            return None
        member = part.target_of(identifiers.get(tag("r:dm"), ""))
        if member not in self.package.members:
            return None
        model = parse(self.package.read(member), self.package.name, member)
        extension = next((e for e in model.iter() if local_name(e) == "dataModelExt"), None)
        drawing = part.target_of(extension.get("relId", "")) if extension is not None else ""
        if drawing not in self.package.members:
            return None
        content = self.package.read(drawing).replace(DRAWING_SPACE, NAMESPACES["p"].encode())
        root = parse(content, self.package.name, drawing)
        if child(root, "p:spTree") is None:
            return None
        return Part(drawing, root, relationships_of(self.package, drawing))

    def chart(self, part: Part, data: Element | None) -> Part | None:
        """Give the chart in a frame of `part`; None when it is none, or lost."""
        reference = child(data, "c:chart")
        member = part.target_of(reference.get(tag("r:id"), "")) if reference is not None else ""
        if member not in self.package.members:
            return None
        root = parse(self.package.read(member), self.package.name, member)
        if local_name(root) != "chartSpace" or child(root, "c:chart", "c:plotArea") is None:
            return None
        return Part(member, root, relationships_of(self.package, member))


def _is_text_point(value: Element) -> bool:
    """Tell whether a chart's cached value is a word, not a number."""
    cache = value.getparent()
    cache = cache.getparent() if cache is not None else None
    return cache is not None and local_name(cache) == "strCache"
