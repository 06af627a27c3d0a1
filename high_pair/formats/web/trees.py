"""Frames and shadow trees of a local page: in which file, and where in its text, they stand."""

from __future__ import annotations

import html
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import unquote, urlsplit

from high_pair.engine import protocol
from high_pair.formats.web.html_source import Attribute, PageSource, one_spaced
from high_pair.formats.web.source_files import SourceFiles, local_path, read_whole

SHADOW, FRAME = "//shadow//", "//frame//"
# The engine tells so much of how a shadow tree's text begins.
TOLD = 200


@dataclass(frozen=True, eq=False)
class Part:
    """A document's own text: the page's, that of a frame's file, or one that a frame states.

    folder: from which its relative addresses count; path: its file, None for a stated one;
    holder: the document that shows it, None for the page.
    """

    source: PageSource
    folder: Path
    path: Path | None
    holder: Part | None = None

    @property
    def shown_by(self) -> list[Attribute]:
        """The attributes of its holder that show it."""
        if self.holder is None:
            return []
        if self.path is None:
            return list(self.holder.source.stating.get(self.source.text, ()))
        return links(self.holder.source, self.path, self.holder.folder, ("iframe", "frame"), "src")


@dataclass(frozen=True)
class Spot:
    """Where a style element for a tree goes: in which document, and at which place of its text."""

    part: Part
    at: int


class Trees:
    """Finds in the text of a page and of its frames where each of its trees is written.

    told: what the engine says of them; files: the page's.
    """

    def __init__(self, told: Sequence[protocol.Tree], files: SourceFiles) -> None:
        self._told = {each["prefix"]: each for each in told}
        self._parts: dict[str, Part | None] = {}
        self._sources: dict[Path, PageSource] = {}
        # Shadow trees in order, by the document that they are in and the names of their hosts.
        self._shadows: dict[tuple[str, str], dict[str, int]] = {}
        for each in told:
            if each["prefix"].endswith(SHADOW):
                key = (_document_of(each["prefix"]), each["host"])
                alike = self._shadows.setdefault(key, {})
                alike[each["prefix"]] = len(alike)
        self._spots: dict[str, Spot | None] = {}
        self._files = files

    def reaches(self, prefix: str) -> bool:
        """Tell whether a rule can be written into a tree: into the page's always."""
        return not prefix or self.spot(prefix) is not None

    def spot(self, prefix: str) -> Spot | None:
        """Give where a tree's style element goes; None for one whose text is nowhere at hand."""
        if prefix not in self._spots:
            part = self._part(_document_of(prefix))
            found = None
            if part is not None and prefix.endswith(SHADOW):
                at = self._in_template(prefix, part)
                found = None if at is None else Spot(part, at)
            elif part is not None:
                found = Spot(part, part.source.sheet_end)
            self._spots[prefix] = found
        return self._spots[prefix]

    def _part(self, prefix: str) -> Part | None:
        """Give the document whose addresses begin with a prefix."""
        if prefix not in self._parts:
            self._parts[prefix] = self._framed(prefix) if prefix else self._page()
        return self._parts[prefix]

    def _page(self) -> Part | None:
        page, source = self._files.page, self._files.source
        if page is None or source is None:
            return None
        return Part(source, page.resolve().parent, page.resolve())

    def _framed(self, prefix: str) -> Part | None:
        told = self._told.get(prefix)
        outer = _outer(prefix)
        # What a script made within a shadow tree isn't in the text, nor is what is in that.
        if told is None or not self.reaches(outer):
            return None
        holder = self._part(_document_of(outer))
        if holder is None:
            return None
        if told["source"] is not None:
            part = Part(PageSource.stated(told["source"]), holder.folder, None, holder)
        else:
            path = local_path(told["address"])
            if path is None:
                return None
            if path not in self._sources:
                data = read_whole(path)
                if data is None:
                    return None
                self._sources[path] = PageSource(data)
            part = Part(self._sources[path], path.parent, path, holder)
        return part if part.shown_by else None

    def _in_template(self, prefix: str, part: Part) -> int | None:
        """Give where the template of a shadow tree ends.

        Trees that hosts of a name have are those of the text where both are as many, in order, as
        scripts make others; and where both begin alike, as scripts may fill them anew.
        """
        told = self._told.get(prefix)
        if told is None:
            return None
        alike = self._shadows[_document_of(prefix), told["host"]]
        templates = part.source.templates_of(told["host"])
        if len(alike) != len(templates):
            return None
        template = templates[alike[prefix]]
        return template.stop if one_spaced(template.text)[:TOLD].strip() == told["text"] else None


def _outer(prefix: str) -> str:
    """Give the prefix of the tree that a tree's holder is in."""
    ending = SHADOW if prefix.endswith(SHADOW) else FRAME
    holder = prefix.removesuffix(ending)
    ends = [place + len(each) for each in (SHADOW, FRAME) if (place := holder.rfind(each)) >= 0]
    return holder[: max(ends, default=0)]


def _document_of(prefix: str) -> str:
    """Give the prefix of the document that a tree is in, its own for a document."""
    while prefix.endswith(SHADOW):
        prefix = _outer(prefix)
    return prefix


def links(
    source: PageSource, path: Path, folder: Path, tags: Sequence[str], name: str
) -> list[Attribute]:
    """Give the attributes of a page by which it shows a file. folder: the page's."""
    if source.has_base:
        return []
    found = []
    for attribute in source.attributes:
        if attribute.tag in tags and attribute.name == name:
            parts = urlsplit(html.unescape(attribute.value).strip())
            near = parts.path and not parts.scheme and not parts.netloc
            if near and (folder / unquote(parts.path)).resolve() == path.resolve():
                found.append(attribute)
    return found
