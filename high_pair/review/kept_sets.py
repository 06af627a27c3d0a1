"""Sets that a person keeps: design-token files in a folder of their own."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from high_pair.errors import FileProblem, UnwritableFile
from high_pair.formats.sets.files import TOKENS, read_set, write_set
from high_pair.scene.colour_set import ColourSet, State

KIND = "kept"
# Nobody finds one of more.
MOST_SETS = 200
LONGEST_NAME = 80
_NOT_IN_NAMES = re.compile(r"[^\w-]+")


@dataclass(frozen=True)
class KeptSet:
    """A set that is kept. file: the name of its file in the folder."""

    file: str
    colours: ColourSet

    def with_colours(self, colours: ColourSet) -> KeptSet:
        """Give the set with other colours, in the same file."""
        return replace(self, colours=colours)


def load_sets(folder: Path) -> tuple[tuple[KeptSet, ...], list[str]]:
    """Read all sets of a folder, by their names, and say which can't be read; those stay there."""
    found: list[KeptSet] = []
    troubles: list[str] = []
    if not folder.is_dir():
        return (), []
    for path in sorted(folder.glob(f"*{TOKENS}"))[:MOST_SETS]:
        try:
            found.append(kept_as(read_set(path), path.name))
        except FileProblem as problem:
            troubles.append(str(problem))
    return tuple(sorted(found, key=lambda each: each.colours.name.casefold())), troubles


def kept_as(colours: ColourSet, file: str) -> KeptSet:
    """Give a set as one that is kept in a file: its colours are free, and nobody uses them yet.

    What is derived from another becomes a colour of its own.
    """
    own = tuple(
        replace(each, parent="", steps=(), change="", addresses=()) for each in colours.colours
    )
    # What is in use where the set comes from is wanted wherever it goes.
    pairs = tuple(replace(each, state=State.WANTED, places=0, worst=None) for each in colours.pairs)
    return KeptSet(file, replace(colours, kind=KIND, source=file, colours=own, pairs=pairs))


def file_for(name: str, taken: Collection[str]) -> str:
    """Give a file's name for a set's name, that is none of those taken."""
    start = _NOT_IN_NAMES.sub("-", name).strip("-").casefold()[:LONGEST_NAME] or "set"
    file, count = f"{start}{TOKENS}", 1
    while file in taken:
        count += 1
        file = f"{start}-{count}{TOKENS}"
    return file


def name_for(name: str, taken: Collection[str]) -> str:
    """Give a name that is none of those taken: «Quay», «Quay 2»."""
    start = " ".join(name.split())[:LONGEST_NAME] or "Set"
    found, count = start, 1
    while found in taken:
        count += 1
        found = f"{start} {count}"
    return found


def store_sets(folder: Path, before: Sequence[KeptSet], after: Sequence[KeptSet]) -> None:
    """Write the sets that are other than before, and remove those that are gone.

    Raises UnwritableFile.
    """
    known = {each.file: each for each in before}
    for each in after:
        if known.pop(each.file, None) != each:
            try:
                folder.mkdir(parents=True, exist_ok=True)
            except OSError as error:
                raise UnwritableFile(
                    folder.name, f"the folder for sets can't be made ({error.strerror})."
                ) from error
            write_set(each.colours, folder / each.file)
    for gone in known.values():
        try:
            (folder / gone.file).unlink(missing_ok=True)
        except OSError as error:
            raise UnwritableFile(gone.file, f"it can't be removed ({error.strerror}).") from error
