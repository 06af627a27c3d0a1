"""Palettes (.gpl): lines of three levels and a name, below a head."""

from __future__ import annotations

from high_pair.scene.colour_set import SetColour

# As the format has it, and every reader of it asks.
HEAD = "GIMP Palette"


class PaletteProblem(ValueError):
    """The palette can't be read; the message says what to mend."""


def read_palette(text: str) -> tuple[str, list[SetColour]]:
    """Give a palette's name and its colours; those without a name are counted."""
    lines = text.splitlines()
    if not lines or lines[0].strip() != HEAD:
        raise PaletteProblem("its first line isn't that of a palette. Save it anew as .gpl.")
    name, found = "", list[SetColour]()
    for number, line in enumerate(lines[1:], start=2):
        if line.startswith("Name:"):
            name = line.partition(":")[2].strip()
        elif not line.strip() or line.lstrip().startswith(("#", "Columns:")):
            continue
        else:
            *levels, words = (*line.split(None, 3), "", "", "")[:4]
            if not all(_is_level(each) for each in levels):
                raise PaletteProblem(f"line {number} isn't three levels from 0 to 255 and a name.")
            red, green, blue = (int(each) for each in levels)
            words = words.strip()
            own = words if words and words != "Untitled" else f"colour {len(found) + 1}"
            found.append(SetColour(own, (red, green, blue)))
    return name, found


def _is_level(word: str) -> bool:
    return word.isascii() and word.isdecimal() and len(word) <= 3 and int(word) <= 255


def write_palette(name: str, colours: list[SetColour]) -> str:
    """Write colours as a palette."""
    lines = [f"{red:3} {green:3} {blue:3}\t{' '.join(each.name.split())}"
             for each in colours for red, green, blue in (each.levels,)]  # fmt: skip
    return "\n".join([HEAD, f"Name: {' '.join(name.split())}", "#", *lines, ""])
