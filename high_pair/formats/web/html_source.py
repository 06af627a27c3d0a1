"""Changing a page's own text, and leaving every other byte of it as it is."""

from __future__ import annotations

import codecs
import functools
import html
import os
import re
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from html.parser import HTMLParser
from pathlib import Path
from urllib.parse import quote, unquote, urlsplit

from high_pair.formats.web.css_source import urls_in

MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
_CHARSET = re.compile(rb"""charset\s*=\s*["']?\s*([\w-]+)""", re.IGNORECASE)
# Attributes that hold an address, and the one that holds several.
ADDRESSED = ("href", "src", "poster", "action", "data", "background", "formaction")
LISTED = "srcset"
# Attributes that hold a style sheet's declarations, and a whole document.
STYLED, STATED = "style", "srcdoc"
# HTML, §13.5: a character's number or name, and what parsers make a line's end.
_REFERENCE = re.compile(r"&(?:#[0-9]+;?|#[xX][0-9a-fA-F]+;?|[^\s<&#;]{1,32};?)|\r\n?")
LATIN = "latin-1"
VOID = frozenset(
    [
        "area",
        "base",
        "br",
        "col",
        "embed",
        "hr",
        "img",
        "input",
        "link",
        "meta",
        "source",
        "track",
        "wbr",
    ]
)
# So much of a shadow tree's text is kept.
MOST_KEPT = 4000
# The engine tells so much of how a style element's text begins.
TOLD_OF_STYLE = 400
_CDATA = re.compile(r"<!\[CDATA\[|\]\]>")
# Documents stated within documents, of which no page has so many.
DEEPEST = 20


# New texts for pieces of a page's text, by where those start and stop.
Changes = dict[tuple[int, int], str]


@dataclass(frozen=True)
class StyleElement:
    """A `style` element's text: its first and last place in the page's text.

    own: it is one of the page's, and not of a template or of what shows without scripts.
    """

    start: int
    stop: int
    own: bool = True


@dataclass
class Template:
    """The template of a shadow tree: the name of the tree's host, where the template ends in the
    page's text, -1 as long as that isn't known, and the text in it, as far as it is kept."""

    host: str
    stop: int = -1
    pieces: list[str] = field(default_factory=list)

    @property
    def text(self) -> str:
        """How its text begins."""
        return "".join(self.pieces)

    def take(self, text: str) -> None:
        """Note text in it."""
        if sum(map(len, self.pieces)) < MOST_KEPT:
            self.pieces.append(text)


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
        encoding = encoding_of(data)
        self._find(data.decode(encoding, "surrogateescape"), encoding)

    @classmethod
    def stated(cls, text: str) -> PageSource:
        """Give a document that another one states."""
        source = cls.__new__(cls)
        source._find(text, "utf-8")
        return source

    def _find(self, text: str, encoding: str) -> None:
        self.text, self.encoding = text, encoding
        finder = _Finder(text)
        self.styles = finder.styles
        # Where several begin alike, the last one decides.
        self._by_start: dict[str, StyleElement] = {}
        for style in self.styles:
            if style.own:
                start = one_spaced(_CDATA.sub("", text[style.start : style.stop]))
                self._by_start[start[:TOLD_OF_STYLE].strip()] = style
        self.templates = [each for each in finder.templates if each.stop >= 0]
        self.attributes = finder.attributes
        # Where a sheet comes after all others: at the end of the head, or after those further down.
        self.sheet_end = max(finder.head_end, finder.last_sheet)
        self.has_base = finder.has_base

    @functools.cached_property
    def stating(self) -> dict[str, list[Attribute]]:
        """The attributes that state documents, by what they say."""
        found: dict[str, list[Attribute]] = {}
        for each in self.attributes:
            if each.name == STATED:
                found.setdefault(read_value(each.value)[0], []).append(each)
        return found

    @functools.cached_property
    def _by_host(self) -> dict[str, list[Template]]:
        found: dict[str, list[Template]] = {}
        for each in self.templates:
            found.setdefault(each.host, []).append(each)
        return found

    def templates_of(self, host: str) -> list[Template]:
        """Give the templates of shadow trees whose hosts have a name, in order."""
        return self._by_host.get(host, [])

    def style(self, start: str) -> StyleElement | None:
        """Give a style element of the page's own by how its text begins, blanks as one."""
        return self._by_start.get(one_spaced(_CDATA.sub("", start))) if start else None

    def changed(self, changes: Changes) -> str:
        """Give the page's text with pieces of it replaced."""
        parts, at = [], 0
        for (start, stop), new in sorted(changes.items()):
            parts += [self.text[at:start], new]
            at = stop
        parts.append(self.text[at:])
        return "".join(parts)

    def encoded(self, changes: Changes) -> bytes:
        """Give the page's bytes with pieces of its text replaced."""
        text = self.changed(changes)
        if self.encoding == "utf-8-sig":
            return codecs.BOM_UTF8 + text.encode("utf-8", "surrogateescape")
        if self.encoding == "utf-16":
            return text.encode("utf-16")
        return text.encode(self.encoding, "surrogateescape")

    def as_sheet(self, text: str) -> str:
        """Write a style sheet so that this page can hold it."""
        # Within a page the end of its style element ends the sheet, wherever it stands.
        safe = text.replace("</", "<\\/")
        if self.encoding != LATIN:
            return safe
        # What its bytes from 128 on stand for isn't known here; CSS Syntax 3, §4.3.7.
        plain = safe.replace("“", '"').replace("”", '"')
        return "".join(each if each.isascii() else f"\\{ord(each):X} " for each in plain)

    def as_value(self, text: str) -> str:
        """Write a text so that an attribute in quotes can hold it."""
        safe = html.escape(text)
        if self.encoding != LATIN:
            return safe
        return "".join(each if each.isascii() else f"&#{ord(each)};" for each in safe)


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
            return LATIN
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        return LATIN
    return "utf-8"


class _Finder(HTMLParser):
    """Finds the places of style elements, addresses and the end of the head."""

    def __init__(self, text: str) -> None:
        super().__init__(convert_charrefs=False)
        self._starts = [0]
        for match in re.finditer(r"\n", text):
            self._starts.append(match.end())
        self.styles: list[StyleElement] = []
        self.templates: list[Template] = []
        # Elements that are open, the innermost last.
        self._open: list[str] = []
        self._counts: Counter[str] = Counter()
        # Templates that are open, those that are no shadow tree as None.
        self._within: list[Template | None] = []
        # Hosts that have a tree, by how deep they are: no other template becomes one.
        self._hosts: set[int] = set()
        self.attributes: list[Attribute] = []
        self.head_end = self.last_sheet = -1
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
        if tag == "link" and "stylesheet" in (dict(attrs).get("rel") or "").lower().split():
            self._note_sheet(at + len(raw))
        if tag not in VOID:
            self._enter(tag, dict(attrs))
        for match in re.finditer(r"""\s([\w:-]+)\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'>]+))""", raw):
            name = match.group(1).lower()
            group = next(number for number in (2, 3, 4) if match.group(number) is not None)
            if name in ADDRESSED or name in (LISTED, STYLED, STATED):
                start, stop = match.span(group)
                self.attributes.append(
                    Attribute(tag, name, at + start, at + stop, match.group(group))
                )

    @property
    def _is_own(self) -> bool:
        """Whether what stands here is the page's own, and shows."""
        return not self._within and not self._counts["noscript"]

    def _note_sheet(self, stop: int) -> None:
        if self._is_own:
            self.last_sheet = max(self.last_sheet, stop)

    def _enter(self, tag: str, attributes: dict[str, str | None]) -> None:
        depth = len(self._open)
        if tag == "template":
            declared = attributes.get("shadowrootmode") == "open" and depth > 0
            found = None
            # In a template that is no tree nothing is shown.
            if declared and depth - 1 not in self._hosts and None not in self._within:
                self._hosts.add(depth - 1)
                found = Template(self._open[-1])
                self.templates.append(found)
            self._within.append(found)
        self._open.append(tag)
        self._counts[tag] += 1

    def _leave(self, tag: str) -> None:
        # An end without a beginning ends nothing.
        name = "" if self._counts[tag] else tag
        while name != tag:
            name = self._open.pop()
            self._hosts.discard(len(self._open))
            self._counts[name] -= 1
            tree = self._within.pop() if name == "template" else None
            if tree is not None and name == tag:
                tree.stop = self._place()

    def _take(self, text: str) -> None:
        if self._within and (tree := self._within[-1]) is not None:
            tree.take(text)

    def handle_data(self, data: str) -> None:
        """Note the text of shadow trees."""
        self._take(data)

    def handle_entityref(self, name: str) -> None:
        """Likewise a character by its name."""
        self._take(html.unescape(f"&{name};"))

    def handle_charref(self, name: str) -> None:
        """Likewise a character by its number."""
        self._take(html.unescape(f"&#{name};"))

    def handle_endtag(self, tag: str) -> None:
        """Note where style elements, shadow trees and the head end."""
        self._leave(tag)
        if tag == "style" and self._style_start >= 0:
            own, place = self._is_own, self._place()
            self.styles.append(StyleElement(self._style_start, place, own))
            self._note_sheet(self._whole.find(">", place) + 1)
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
    parts, at = [], 0
    for start, stop, url in urls_in(text):
        parts += [text[at:start], move(url)]
        at = stop
    return "".join([*parts, text[at:]])


def one_spaced(text: str) -> str:
    """Give a text with its blanks as one each, and none round it."""
    return " ".join(text.split())


def read_value(value: str) -> tuple[str, list[int]]:
    """Give what an attribute's value says, and where each of its characters is written: the place
    of the first sign of each, and of the end."""
    pieces: list[str] = []
    places: list[int] = []
    at = 0
    for match in _REFERENCE.finditer(value):
        start, stop = match.span()
        said = "\n" if match.group().startswith("\r") else html.unescape(match.group())
        pieces += [value[at:start], said]
        places += [*range(at, start), *[start] * len(said)]
        at = stop
    pieces.append(value[at:])
    places += range(at, len(value) + 1)
    return "".join(pieces), places


def in_value(source: PageSource, attribute: Attribute, changes: Changes) -> Changes:
    """Give the changes in a page for changes in the document that an attribute of it states."""
    said, places = read_value(attribute.value)
    if source.text[attribute.start - 1] in "\"'":
        return {
            (attribute.start + places[start], attribute.start + places[stop]): source.as_value(new)
            for (start, stop), new in changes.items()
        }
    # Without quotes it holds no blanks.
    whole = PageSource.stated(said).changed(changes)
    return {(attribute.start, attribute.stop): f'"{source.as_value(whole)}"'}


def moves_in(source: PageSource, move: Callable[[str], str], depth: int = 0) -> Changes:
    """Give the changes that rewrite a page's relative addresses. depth: of documents round it."""
    if source.has_base or depth > DEEPEST:
        return {}
    changes: Changes = {}
    for style in source.styles:
        for start, stop, url in urls_in(source.text[style.start : style.stop]):
            changes[style.start + start, style.start + stop] = move(url)
    for attribute in source.attributes:
        if attribute.name == LISTED:
            parts = [part.strip().split(" ", 1) for part in attribute.value.split(",")]
            new = ", ".join(" ".join([move(part[0]), *part[1:]]) for part in parts if part[0])
        elif attribute.name == STATED:
            moved = moves_in(PageSource.stated(read_value(attribute.value)[0]), move, depth + 1)
            if moved:
                changes.update(in_value(source, attribute, moved))
            continue
        elif attribute.name == STYLED:
            new = moved_sheet(attribute.value, move)
        else:
            new = move(attribute.value)
        if new != attribute.value:
            changes[attribute.start, attribute.stop] = new
    return changes
