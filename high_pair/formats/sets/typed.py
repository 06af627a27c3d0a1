"""Colours as a person types or pastes them: one a line, in any notation, with names or without."""

from __future__ import annotations

import re
from dataclasses import dataclass

from high_pair.colour.notation import LONGEST, Read, read
from high_pair.errors import NotationError

# Commas and blanks stand inside notations too: colours are cut at lines and semicolons,
# and at blanks and commas between codes.
_LINES = re.compile(r"[\n;]+")
_CODES = re.compile(r"#[0-9a-fA-F]{3,8}(?:[\s,]+#[0-9a-fA-F]{3,8})+\s*\Z")
_NAMED = re.compile(r"([^:=]+?)\s*[:=]\s*(.+)\Z", re.DOTALL)
# A name has no more words than this.
MOST_WORDS = 12


@dataclass(frozen=True)
class Typed:
    """A colour that was typed. name: empty where none was."""

    name: str
    colour: Read


def read_typed(text: str) -> list[Typed]:
    """Read several colours: «#1B4F72», «quay blue: navy», «--sand: oklch(90% 0.03 90);».

    Raises NotationError for what is none.
    """
    found = []
    for line in _LINES.split(text):
        whole = line.strip().strip(",").strip()
        for words in re.split(r"[\s,]+", whole) if _CODES.match(whole) else [whole]:
            if words:
                found.append(_read_one(words))
    return found


def _read_one(words: str) -> Typed:
    try:
        return Typed("", read(words))
    except NotationError as error:
        if len(words) > 2 * LONGEST:
            raise
        known = _named(words)
        if known is None:
            raise error
        return known


def _named(words: str) -> Typed | None:
    """Read a colour with a name, before a colon or without one, or after the colour."""
    match = _NAMED.match(words)
    splits = [(match[1], match[2])] if match else []
    parts = words.split()
    for count in range(1, min(len(parts), MOST_WORDS + 1)):
        splits += [(" ".join(parts[:count]), " ".join(parts[count:]))]
        splits += [(" ".join(parts[-count:]), " ".join(parts[:-count]))]
    for name, value in splits:
        try:
            return Typed(name.strip().lstrip("-").strip("\"' "), read(value.strip("\"' ,")))
        except NotationError:
            continue
    return None
