"""What open OpenDocument files of all kinds have alike."""

from __future__ import annotations

import copy
from collections.abc import Sequence
from pathlib import Path
from typing import Self

from high_pair.edits.kinds import Edit
from high_pair.formats.document import BareDocument, PageInfo
from high_pair.formats.odf.colour_sets import set_of, stated_in
from high_pair.formats.odf.file import OdfFile
from high_pair.scene.addresses import Address, expand
from high_pair.scene.colour_set import ColourSet


class OdfDocument(BareDocument):
    """An open OpenDocument file; see `formats.document.Document`, whose methods it has.

    page_step: the first step of the addresses of what stands on one page.
    """

    page_step = ""
    pages: tuple[PageInfo, ...]

    def __init__(self, file: OdfFile) -> None:
        """Take an open file. Raises UnreadableFile."""
        self.name = file.name
        self._on_disk = file
        self._take(file, None)

    def _take(self, file: OdfFile, before: int | None) -> None:
        """Read a file, or an edited version of it. before: how many pages it had."""
        self._file = file
        self.pictures = file.pictures

    def colour_sets(self) -> tuple[ColourSet, ...]:
        """List the colours of the file's styles, as they are now, by those on disk."""
        return set_of(stated_in(self._on_disk.roots), self._file.roots, self.name)

    def assumed(self) -> tuple[str, ...]:
        """Say what was assumed of parts that are missing."""
        return tuple(self._file.assumed)

    def edited(self, edits: Sequence[Edit]) -> Self:
        """Give the document with these edits carried out on copies of its parts."""
        document = copy.copy(self)
        document._take(self._file.edited(edits), len(self.pages))
        return document

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell which pages may look different: all, unless each edit says on which one it is."""
        every = range(len(self.pages))
        firsts = [Address.of(each).first for edit in edits for each in expand(edit.address)]
        numbers = [first.number if first.name == self.page_step else None for first in firsts]
        if None in numbers:
            return frozenset(every)
        return frozenset(page for page in every if page + 1 in numbers)

    def save(self, target: Path) -> None:
        """Write a copy: the edited parts new, every other member byte for byte."""
        self._file.save(target)

    def close(self) -> None:
        """Let go of the file; edited versions share it."""
        self._file.close()
