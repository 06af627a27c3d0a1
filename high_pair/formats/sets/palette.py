"""Palettes (.gpl): lines of three levels and a name, below a head."""

from __future__ import annotations

import re

from high_pair.scene.colour_set import SetColour

HEAD = "GIMP Palette"
_LINE = re.compile(r"\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(.*?))?\s*")


class PaletteProblem(ValueError):
    """The palette can't be read; the message says what to mend."""


def read_palette(text: str) -> tuple[str, list[SetColour]]:
    """Give a palette's name and its colours; those without a name are counted."""
    lines = text.splitlines()
    if not lines or lines[0].strip() != HEAD:
        raise PaletteProblem(f"its first line isn't «{HEAD}», as that of a palette is.")
    name, found = "", list[SetColour]()
    for number, line in enumerate(lines[1:], start=2):
        if line.startswith("Name:"):
            name = line.partition(":")[2].strip()
        elif not line.strip() or line.lstrip().startswith(("#", "Columns:")):
            continue
        else:
            match = _LINE.fullmatch(line)
            levels = [int(match.group(place)) for place in (1, 2, 3)] if match else [256]
            if match is None or max(levels) > 255:
                raise PaletteProblem(f"line {number} isn't three levels from 0 to 255 and a name.")
            words = match.group(4) or ""
            own = words if words and words != "Untitled" else f"colour {len(found) + 1}"
            found.append(SetColour(own, (levels[0], levels[1], levels[2])))
    return name, found


def write_palette(name: str, colours: list[SetColour]) -> str:
    """Write colours as a palette."""
    lines = [f"{red:3} {green:3} {blue:3}\t{' '.join(each.name.split())}"
             for each in colours for red, green, blue in (each.levels,)]  # fmt: skip
    return "\n".join([HEAD, f"Name: {' '.join(name.split())}", "#", *lines, ""])
