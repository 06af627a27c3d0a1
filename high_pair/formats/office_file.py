"""An open office file of the OPC kind: its parts, pictures, what was assumed, and saving it."""

from __future__ import annotations

import copy
from collections.abc import Mapping
from pathlib import Path

from high_pair.errors import EditError, UnreadableFile
from high_pair.formats.package import Package
from high_pair.formats.parts import PartStore
from high_pair.formats.picture_members import refuse_giant_pictures
from high_pair.formats.xml import Element, is_strict, serialise
from high_pair.raster.pictures import PictureProblem, Pictures


class OfficeFile:
    """What decks, documents and workbooks share; edited versions share package and pictures.

    store: gives the parts, the edited ones in place of the file's own; edited:
    those, by member.
    """

    def __init__(self, package: Package) -> None:
        """Take a package. Raises UnreadableFile for giant pictures."""
        self.name = package.name
        self.package = package
        self.store = PartStore(package)
        self.edited: dict[str, Element] = {}
        self.pictures = Pictures(self._load_picture)
        self._assumed: dict[str, None] = {}
        refuse_giant_pictures(package)

    def _load_picture(self, member: str) -> bytes:
        try:
            return self.package.read(member)
        except UnreadableFile as error:
            raise PictureProblem("its data is damaged or missing") from error

    def assume(self, sentence: str) -> None:
        """Note what is assumed of a part that is missing."""
        self._assumed[sentence] = None

    @property
    def assumed(self) -> tuple[str, ...]:
        """What was assumed of parts that are missing."""
        return tuple(self._assumed)

    def to_change(self, member: str, address: str) -> Element:
        """Give a part's root as it is in the file, for edits to change.

        Raises EditError when the file has no such part. address: for the message.
        """
        if member not in self.package.members:
            raise EditError(f"{address} isn't in {self.name}")
        # Parsed anew: nobody else has it.
        return PartStore(self.package).part(member).root

    def with_edited(self, roots: dict[str, Element]) -> OfficeFile:
        """Give the file with some parts replaced."""
        file = copy.copy(self)
        file.edited = roots
        file.store = self.store.with_edited(roots)
        file._assumed = dict(self._assumed)
        return file

    def replaced_members(self) -> Mapping[str, bytes]:
        """Give the members that edits changed, as they are to be written."""
        return {
            member: serialise(root, is_strict(self.package.read(member)))
            for member, root in self.edited.items()
        }

    def save(self, target: Path) -> None:
        """Write a copy: the edited parts new, every other member byte for byte."""
        self.package.write_copy(target, self.replaced_members())

    def close(self) -> None:
        """Let go of the file."""
        self.package.close()
