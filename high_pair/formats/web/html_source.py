"""Changing a page's own text, and leaving every other byte of it as it is."""

from __future__ import annotations

import codecs
import os
import re
from collections.abc import Callable
from dataclasses import dataclass
from html.parser import HTMLParser
from pathlib import Path
from urllib.parse import quote, unquote, urlsplit

from high_pair.formats.web.css_source import moved_urls, urls_in

MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
_CHARSET = re.compile(rb"""charset\s*=\s*["']?\s*([\w-]+)""", re.IGNORECASE)
# Attributes that hold an address, and the one that holds several.
ADDRESSED = ("href", "src", "poster", "action", "data", "background", "formaction")
LISTED = "srcset"


@dataclass(frozen=True)
class StyleElement:
    """A `style` element's text: its first and last place in the page's text."""

    start: int
    stop: int


@dataclass(frozen=True)
class Attribute:
    """An attribute's value in the page's text: of which tag, its name, its places, its text."""

    tag: str
    name: str
    start: int
    stop: int
    value: str


class PageSource:
    """A page's text, with the places of what may be changed in it."""

    def __init__(self, data: bytes) -> None:
        self.encoding = encoding_of(data)
        self.text = data.decode(self.encoding, "surrogateescape")
        finder = _Finder(self.text)
        self.styles = finder.styles
        self.attributes = finder.attributes
        self.head_end = finder.head_end
        self.has_base = finder.has_base

    def encoded(self, changes: list[tuple[int, int, str]]) -> bytes:
        """Give the page's bytes with pieces of its text replaced: start, stop, new text."""
        parts, at = [], 0
        for start, stop, new in sorted(changes):
            parts += [self.text[at:start], new]
            at = stop
        parts.append(self.text[at:])
        text = "".join(parts)
        if self.encoding == "utf-8-sig":
            return codecs.BOM_UTF8 + text.encode("utf-8", "surrogateescape")
        if self.encoding == "utf-16":
            return text.encode("utf-16")
        return text.encode(self.encoding, "surrogateescape")


def encoding_of(data: bytes) -> str:
    """Tell a page's encoding by its mark or by what it says; every byte comes back as it was."""
    for mark, name in MARKS:
        if data.startswith(mark):
            return name
    match = _CHARSET.search(data[:2048])
    if match:
        try:
            name = codecs.lookup(match.group(1).decode("ascii")).name
        except LookupError:
            name = ""
        if name.startswith(("iso8859", "cp125", "koi8", "mac")):
            # Latin keeps every byte, and all that is written in is plain.
            return "latin-1"
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        return "latin-1"
    return "utf-8"


class _Finder(HTMLParser):
    """Finds the places of style elements, addresses and the end of the head."""

    def __init__(self, text: str) -> None:
        super().__init__(convert_charrefs=False)
        self._starts = [0]
        for match in re.finditer(r"\n", text):
            self._starts.append(match.end())
        self.styles: list[StyleElement] = []
        self.attributes: list[Attribute] = []
        self.head_end = -1
        self.has_base = False
        self._style_start = -1
        self._whole = text
        self.feed(text)
        self.close()
        if self.head_end < 0:
            self.head_end = self._without_head()

    def _place(self) -> int:
        line, column = self.getpos()
        return self._starts[line - 1] + column

    def _without_head(self) -> int:
        """Give where a style element goes on a page that names no head."""
        match = re.search(r"<body[\s>]", self._whole, re.IGNORECASE)
        if match:
            return match.start()
        match = re.match(r"\s*(<!doctype[^>]*>)?\s*(<html[^>]*>)?", self._whole, re.IGNORECASE)
        return match.end() if match else 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """Note a tag's addresses."""
        raw, at = self.get_starttag_text() or "", self._place()
        if tag == "base":
            self.has_base = True
        if tag == "style":
            self._style_start = at + len(raw)
        for match in re.finditer(r"""\s([\w:-]+)\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'>]+))""", raw):
            name = match.group(1).lower()
            group = next(number for number in (2, 3, 4) if match.group(number) is not None)
            if name in ADDRESSED or name in (LISTED, "style"):
                start, stop = match.span(group)
                self.attributes.append(
                    Attribute(tag, name, at + start, at + stop, match.group(group))
                )

    def handle_endtag(self, tag: str) -> None:
        """Note where style elements and the head end."""
        if tag == "style" and self._style_start >= 0:
            self.styles.append(StyleElement(self._style_start, self._place()))
            self._style_start = -1
        elif tag == "head" and self.head_end < 0:
            self.head_end = self._place()


def mover(source: Path, target: Path) -> Callable[[str], str]:
    """Give what rewrites a relative address for a copy in another folder."""

    def move(url: str) -> str:
        stripped = url.strip()
        parts = urlsplit(stripped)
        if not stripped or parts.scheme or stripped.startswith(("#", "/", "?")) or parts.netloc:
            return url
        here = source / unquote(parts.path)
        there = quote(os.path.relpath(here, target).replace(os.sep, "/"))
        rest = stripped[len(parts.path) :]
        return there + rest

    return move


def moved_sheet(text: str, move: Callable[[str], str]) -> str:
    """Give a style sheet with its relative addresses rewritten."""
    return moved_urls(text, {url: move(url) for url in urls_in(text)})


def moves_in(source: PageSource, move: Callable[[str], str]) -> list[tuple[int, int, str]]:
    """List the changes that rewrite a page's relative addresses."""
    if source.has_base:
        return []
    changes = []
    for attribute in source.attributes:
        if attribute.name == LISTED:
            parts = [part.strip().split(" ", 1) for part in attribute.value.split(",")]
            new = ", ".join(" ".join([move(part[0]), *part[1:]]) for part in parts if part[0])
        elif attribute.name == "style":
            new = moved_sheet(attribute.value, move)
        else:
            new = move(attribute.value)
        if new != attribute.value:
            changes.append((attribute.start, attribute.stop, new))
    return changes
