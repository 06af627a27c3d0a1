"""Relationships between the parts of an OPC package (ECMA-376 Part 2 §9)."""

from __future__ import annotations

import posixpath
from dataclasses import dataclass
from urllib.parse import unquote

from high_pair.formats.package import Package
from high_pair.formats.xml import children, parse, tag


@dataclass(frozen=True)
class Relationship:
    """One relationship: its type's last word, and its target (a member unless external)."""

    kind: str
    target: str
    external: bool


def relationships_of(package: Package, member: str) -> dict[str, Relationship]:
    """Give the relationships of a part (of the package itself for an empty name) by id."""
    folder, base = posixpath.split(member)
    rels = posixpath.join(folder, "_rels", f"{base}.rels")
    if rels not in package.members:
        return {}
    found: dict[str, Relationship] = {}
    for entry in parse(package.read(rels), package.name, rels).iter(tag("rel:Relationship")):
        target = entry.get("Target", "")
        external = entry.get("TargetMode") == "External"
        if not external:
            target = _member(folder, target, package)
        kind = entry.get("Type", "").rstrip("/").rpartition("/")[2]
        found[entry.get("Id", "")] = Relationship(kind, target, external)
    return found


def _member(folder: str, target: str, package: Package) -> str:
    """Resolve a target against its source's folder, never past the package's root."""
    path = target if target.startswith("/") else posixpath.join("/", folder, target)
    name = posixpath.normpath(path).lstrip("/")
    return name if name in package.members else unquote(name)


def content_type_of(package: Package, member: str) -> str:
    """Give a part's content type from [Content_Types].xml; empty when it isn't listed."""
    listing = "[Content_Types].xml"
    if listing not in package.members:
        return ""
    root = parse(package.read(listing), package.name, listing)
    extension = posixpath.splitext(member)[1].lstrip(".").lower()
    default = ""
    for entry in children(root):
        if entry.tag == tag("ct:Override") and entry.get("PartName", "").lower() == (
            f"/{member}".lower()
        ):
            return entry.get("ContentType", "")
        if entry.tag == tag("ct:Default") and entry.get("Extension", "").lower() == extension:
            default = entry.get("ContentType", "")
    return default


def main_part_of(package: Package) -> str:
    """Give a package's main part by its relationships; empty when it has none."""
    found = relationships_of(package, "").values()
    main = next((each.target for each in found if each.kind == "officeDocument"), "")
    return main if main in package.members else ""
