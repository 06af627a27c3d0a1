"""Writing a copy of a local page with its mends in place, the rest of it byte for byte."""

from __future__ import annotations

import hashlib
from collections.abc import Container, Sequence
from pathlib import Path
from typing import IO
from urllib.parse import quote, urlsplit

from high_pair.errors import UnwritableFile
from high_pair.formats.web.css_source import Found, find
from high_pair.formats.web.html_source import (
    Changes,
    in_value,
    moved_sheet,
    mover,
    moves_in,
)
from high_pair.formats.web.mends import Mends, Rule, RuleChange, as_rule, sheet_of
from high_pair.formats.web.origins import Place
from high_pair.formats.web.source_files import SheetText, SourceFiles
from high_pair.formats.web.trees import Part, Spot, Trees, links
from high_pair.formats.writing import write_whole

COMMENT = "Mends of contrast, each measured"


def write_copy(
    page: Path,
    target: Path,
    mends: Mends,
    files: SourceFiles,
    trees: Trees,
    loaded: Container[Path] = (),
) -> None:
    """Write a copy of a page. Raises UnwritableFile.

    A rule that stands in the page is changed there; one of a style sheet in
    another file in a copy of that, beside the page's copy. What can't be found
    in the source becomes a rule of its own, in the tree that it is for: frames with
    rules of their own get a copy of their file. loaded: files that are never written.
    """
    source = files.source
    whole = trees.spot("")
    if source is None or whole is None:
        raise UnwritableFile(target.name, f"{page.name} can't be read any more. Open it again.")
    copy = _Copy(target, loaded)
    by_file: dict[Path, list[RuleChange]] = {}
    rules = list(mends.rules)
    for change in mends.changes:
        sheet = files.sheet(change.place)
        found = _found(sheet, change.place)
        if sheet is None or found is None:
            rules.append(as_rule(change))
        elif sheet.path is None:
            copy.changes_of(whole.part)[sheet.start + found.start, sheet.start + found.stop] = (
                change.value
            )
        elif links(source, sheet.path, page.parent, ("link",), "href"):
            by_file.setdefault(sheet.path, []).append(change)
        else:
            # A sheet that only another sheet imports isn't linked anew: its rule is added.
            rules.append(as_rule(change))
    for path, theirs in by_file.items():
        name = _write_sheet(path, theirs, files, copy)
        for link in links(source, path, page.parent, ("link",), "href"):
            copy.changes_of(whole.part)[link.start, link.stop] = quote(name)
    by_tree: dict[str, list[Rule]] = {}
    for rule in rules:
        by_tree.setdefault(rule.tree, []).append(rule)
    for tree, theirs_of_tree in by_tree.items():
        spot = trees.spot(tree)
        if spot is None:
            raise UnwritableFile(target.name, f"{theirs_of_tree[0].comment}: a script made it.")
        copy.add(spot, theirs_of_tree)
    data = source.encoded(copy.finished(whole.part))
    write_whole(target, page, lambda out: _put(out, data))


class _Copy:
    """A copy in the making: what changes in each document, and the files written beside it."""

    def __init__(self, target: Path, loaded: Container[Path]) -> None:
        self.target = target
        self.folder = target.parent.resolve()
        self._loaded = loaded
        self._written: set[Path] = set()
        self._changes: dict[Part, Changes] = {}

    def changes_of(self, part: Part) -> Changes:
        """Give what changes in a document so far; those that show it change with it."""
        if part not in self._changes:
            moves = part.folder != self.folder
            move = mover(part.folder, self.folder)
            self._changes[part] = moves_in(part.source, move) if moves else {}
            if part.holder is not None:
                self.changes_of(part.holder)
        return self._changes[part]

    def add(self, spot: Spot, rules: Sequence[Rule]) -> None:
        """Add rules to a tree."""
        sheet = spot.part.source.as_sheet(sheet_of(rules))
        block = f"<style>\n/* {COMMENT} */\n{sheet}</style>\n"
        self.changes_of(spot.part)[spot.at, spot.at] = block

    def finished(self, part: Part) -> Changes:
        """Give all that changes in a document, its frames with it, whose files are written."""
        changes = self.changes_of(part)
        for inner in [each for each in self._changes if each.holder is part]:
            theirs = self.finished(inner)
            if inner.path is None:
                for each in inner.shown_by:
                    changes.update(in_value(part.source, each, theirs))
                continue
            name = quote(self.write_beside(inner.path, inner.source.encoded(theirs)))
            for each in inner.shown_by:
                changes[each.start, each.stop] = name + _after_path(each.value)
        return changes

    def write_beside(self, path: Path, data: bytes) -> str:
        """Write the copy of another file beside the page's; gives its name."""
        beside = self.target.with_name(f"{self.target.stem}-{path.name}")
        resolved = beside.resolve()
        if resolved == path.resolve() or resolved in self._loaded or resolved in self._written:
            mark = hashlib.sha256(data).hexdigest()[:6]
            beside = self.target.with_name(f"{self.target.stem}-{mark}-{path.name}")
        write_whole(beside, path, lambda out: _put(out, data))
        self._written.add(beside.resolve())
        return beside.name


def _put(out: IO[bytes], data: bytes) -> None:
    out.write(data)


def _after_path(value: str) -> str:
    """Give what follows the path in an address: what is asked, and the place in the page."""
    address = value.strip()
    return address[len(urlsplit(address).path) :]


def _found(sheet: SheetText | None, place: Place) -> Found | None:
    return None if sheet is None else find(sheet.text, place.selector, place.nth, place.named)


def _write_sheet(path: Path, changes: list[RuleChange], files: SourceFiles, copy: _Copy) -> str:
    """Write the copy of a style sheet with rules changed, beside the page's; gives its name."""
    sheet = files.sheet(changes[0].place)
    assert sheet is not None
    pieces = []
    for change in changes:
        found = _found(sheet, change.place)
        if found is not None:
            pieces.append((found.start, found.stop, change.value))
    parts, at = [], 0
    for start, stop, value in sorted(pieces):
        parts += [sheet.text[at:start], value]
        at = stop
    text = "".join([*parts, sheet.text[at:]])
    folder = path.parent.resolve()
    if copy.folder != folder:
        text = moved_sheet(text, mover(folder, copy.folder))
    return copy.write_beside(path, text.encode("utf-8", "surrogateescape"))
