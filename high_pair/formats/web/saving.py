"""Writing a copy of a local page with its mends in place, the rest of it byte for byte."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from pathlib import Path
from typing import IO
from urllib.parse import unquote, urlsplit

from high_pair.errors import UnwritableFile
from high_pair.formats.web.css_source import Found, find
from high_pair.formats.web.html_source import PageSource, moved_sheet, mover, moves_in
from high_pair.formats.web.mends import Mends, RuleChange
from high_pair.formats.web.origins import Place
from high_pair.formats.writing import write_whole

MOST_BYTES = 64 * 1024**2
COMMENT = "Mends of contrast, each measured"


@dataclass(frozen=True)
class SheetText:
    """The text of a style sheet in a file. path: None for one within the page itself.

    line: at which of the file's lines it begins; start: likewise its place in the page's text.
    """

    name: str
    path: Path | None
    text: str
    line: int = 1
    start: int = 0


class SourceFiles:
    """Reads a local page and its sheets as written. page: None for one from the web."""

    def __init__(self, page: Path | None) -> None:
        self.page = page
        self._source: PageSource | None = None
        self._sheets: dict[str, SheetText | None] = {}

    @property
    def source(self) -> PageSource | None:
        """The page's own text."""
        if self._source is None and self.page is not None:
            try:
                self._source = PageSource(self.page.read_bytes())
            except (OSError, UnicodeError):
                return None
        return self._source

    def sheet(self, place: Place) -> SheetText | None:
        """Give the text of the sheet that holds a declaration, None where it is no file here."""
        if self.page is None or place.tree != 0:
            return None
        if place.href:
            if place.href not in self._sheets:
                self._sheets[place.href] = _read(place.href)
            return self._sheets[place.href]
        source = self.source
        if source is None or not 0 <= place.style < len(source.styles):
            return None
        element = source.styles[place.style]
        line = source.text.count("\n", 0, element.start) + 1
        text = source.text[element.start : element.stop]
        return SheetText(self.page.name, None, text, line, element.start)


def _read(href: str) -> SheetText | None:
    parts = urlsplit(href)
    if parts.scheme != "file":
        return None
    path = Path(unquote(parts.path))
    try:
        if path.stat().st_size > MOST_BYTES:
            return None
        text = path.read_bytes().decode("utf-8", "surrogateescape")
    except OSError:
        return None
    return SheetText(path.name, path, text)


def write_copy(page: Path, target: Path, mends: Mends, files: SourceFiles) -> None:
    """Write a copy of a page. Raises UnwritableFile.

    A rule that stands in the page is changed there; one of a style sheet in
    another file in a copy of that, beside the page's copy. What can't be found
    in the source becomes a rule of its own.
    """
    source = files.source
    if source is None:
        raise UnwritableFile(target.name, f"{page.name} can't be read any more. Open it again.")
    folder = target.parent.resolve()
    move = mover(page.parent.resolve(), folder)
    changes: list[tuple[int, int, str]] = []
    if folder != page.parent.resolve():
        changes += moves_in(source, move)
    own_rules = list(mends.rules)
    by_file: dict[Path, list[RuleChange]] = {}
    for change in mends.changes:
        sheet = files.sheet(change.place)
        found = _found(sheet, change.place)
        if sheet is None or found is None:
            own_rules.append(_as_rule(change))
        elif sheet.path is None:
            changes.append((sheet.start + found.start, sheet.start + found.stop, change.value))
        elif _links(source, sheet.path, page):
            by_file.setdefault(sheet.path, []).append(change)
        else:
            # A sheet that only another sheet imports isn't linked anew: its rule is added.
            own_rules.append(_as_rule(change))
    for path, theirs in by_file.items():
        name = _write_sheet(path, target, theirs, files)
        for start, stop in _links(source, path, page):
            changes = [each for each in changes if each[:2] != (start, stop)]
            changes.append((start, stop, name))
    if own_rules:
        text = "".join(f"/* {comment} */\n{rule}\n" for comment, rule in own_rules)
        # Within a page the end of its style element ends the sheet, wherever it stands.
        safe = text.replace("</", "<\\/")
        block = f"<style>\n/* {COMMENT} */\n{safe}</style>\n"
        changes.append((source.head_end, source.head_end, block))

    def write(out: IO[bytes]) -> None:
        out.write(source.encoded(changes))

    write_whole(target, page, write)


def _found(sheet: SheetText | None, place: Place) -> Found | None:
    return None if sheet is None else find(sheet.text, place.selector, place.nth, place.named)


def _as_rule(change: RuleChange) -> tuple[str, str]:
    rules = Mends((), (change,)).whole_sheet
    comment, _, rule = rules.partition("*/\n")
    return comment.removeprefix("/* ").strip(), rule.strip()


def _links(source: PageSource, sheet: Path, page: Path) -> list[tuple[int, int]]:
    """Give the places where a page links a style sheet."""
    found = []
    for attribute in source.attributes:
        if attribute.tag == "link" and attribute.name == "href" and not source.has_base:
            parts = urlsplit(attribute.value.strip())
            if not parts.scheme and not parts.netloc and parts.path:
                linked = (page.parent / unquote(parts.path)).resolve()
                if linked == sheet.resolve():
                    found.append((attribute.start, attribute.stop))
    return found


def _write_sheet(path: Path, target: Path, changes: list[RuleChange], files: SourceFiles) -> str:
    """Write the copy of a style sheet with rules changed, beside the page's; gives its name."""
    sheet = files.sheet(changes[0].place)
    assert sheet is not None
    pieces = []
    for change in changes:
        place = change.place
        found = _found(sheet, place)
        if found is not None:
            pieces.append((found.start, found.stop, change.value))
    parts, at = [], 0
    for start, stop, value in sorted(pieces):
        parts += [sheet.text[at:start], value]
        at = stop
    text = "".join([*parts, sheet.text[at:]])
    if target.parent.resolve() != path.parent.resolve():
        text = moved_sheet(text, mover(path.parent.resolve(), target.parent.resolve()))
    name = f"{target.stem}-{path.name}"
    beside = target.with_name(name)
    if beside.exists() and beside.samefile(path):
        mark = hashlib.sha256(text.encode("utf-8", "surrogateescape")).hexdigest()[:6]
        name = f"{target.stem}-{mark}-{path.name}"
        beside = target.with_name(name)

    def write(out: IO[bytes]) -> None:
        out.write(text.encode("utf-8", "surrogateescape"))

    write_whole(beside, path, write)
    return name
