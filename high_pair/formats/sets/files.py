"""Reading and writing sets as files, by their suffix."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import IO

from high_pair.errors import UnreadableFile, UnwritableFile
from high_pair.formats.sets.palette import PaletteProblem, read_palette, write_palette
from high_pair.formats.sets.properties import read_properties, write_properties
from high_pair.formats.sets.tokens import TokenProblem, read_tokens, write_tokens
from high_pair.formats.writing import write_whole
from high_pair.scene.colour_set import ColourSet, SetColour, SetPair

TOKENS, SHEET, PALETTE = ".json", ".css", ".gpl"
SUFFIXES = (TOKENS, SHEET, PALETTE)
KINDS = {TOKENS: "tokens", SHEET: "custom properties", PALETTE: "palette"}
# A larger sheet takes longer to read than anybody waits; sets are far smaller.
MOST_BYTES = 1024**2
# More colours than that nobody settles as one set.
MOST_COLOURS = 500


def read_set(path: Path) -> ColourSet:
    """Read a set's file. Raises UnreadableFile."""
    suffix = path.suffix.lower()
    try:
        if path.exists() and not path.is_file():
            raise UnreadableFile(path.name, "it is no file.")
        if path.stat().st_size > MOST_BYTES:
            raise UnreadableFile(path.name, "it is larger than a set's file is read.")
        text = path.read_text("utf-8-sig")
    except OSError as error:
        raise UnreadableFile(path.name, f"it can't be opened ({error.strerror}).") from error
    except UnicodeError as error:
        raise UnreadableFile(path.name, "it isn't text in UTF-8. Save it so.") from error
    name, pairs = path.stem, list[SetPair]()
    try:
        if suffix == TOKENS:
            given, colours, pairs = read_tokens(text)
            name = given or name
        elif suffix == SHEET:
            colours = read_properties(text)
        elif suffix == PALETTE:
            given, colours = read_palette(text)
            name = given or name
        else:
            raise UnreadableFile(path.name, f"no set is read from it, but from {_listed()}.")
    except (TokenProblem, PaletteProblem) as problem:
        raise UnreadableFile(path.name, str(problem)) from problem
    if not colours:
        raise UnreadableFile(path.name, "no colour is found in it.")
    if len(colours) > MOST_COLOURS:
        raise UnreadableFile(
            path.name, f"it has {len(colours):,} colours; a set has {MOST_COLOURS} at most."
        )
    return ColourSet(name, KINDS[suffix], path.name, with_own_names(colours), tuple(pairs))


def _listed() -> str:
    return f"{', '.join(SUFFIXES[:-1])} and {SUFFIXES[-1]}"


def with_own_names(colours: Sequence[SetColour]) -> tuple[SetColour, ...]:
    """Give colours each a name of its own: of those of one name the second and on are counted."""
    taken: dict[str, int] = {}
    found = []
    names = {colour.name for colour in colours}
    for colour in colours:
        count = taken.get(colour.name, 0) + 1
        name = colour.name
        while count > 1 and (name := f"{colour.name} {count}") in names:
            count += 1
        taken[colour.name] = count
        names.add(name)
        found.append(replace(colour, name=name))
    return tuple(found)


def write_set(colours: ColourSet, target: Path) -> None:
    """Write a set as a file of its own. Raises UnwritableFile."""
    suffix = target.suffix.lower()
    listed = list(colours.colours)
    if suffix == TOKENS:
        text = write_tokens(colours)
    elif suffix == SHEET:
        text = write_properties(listed)
    elif suffix == PALETTE:
        text = write_palette(colours.name, listed)
    else:
        raise UnwritableFile(target.name, f"a set is written as {_listed()}.")

    def put(out: IO[bytes]) -> None:
        out.write(text.encode())

    write_whole(target, target, put)
