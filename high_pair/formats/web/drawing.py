"""Drawings (.svg), which the browser engine shows as it shows pages."""

from __future__ import annotations

import re
from pathlib import Path

from high_pair.errors import UnreadableFile

SUFFIX = ".svg"
KIND = "picture"
FIXED = "The text is part of a drawing: change it where the drawing was made."
# SVG 2, §8.2 and CSS Images 3, §5.3: without a size of its own.
USUAL = (300.0, 150.0)
LARGEST = 8_000.0
MOST_START = 1 << 20
_ROOT = re.compile(r"<(?:\w+:)?svg\b[^>]*>")
_ATTRIBUTE = re.compile(r"""\b([\w:]+)\s*=\s*(?:"([^"]*)"|'([^']*)')""")
# CSS Values 3, §6.2: pixels a unit.
UNITS = {"": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4}
_LENGTH = re.compile(r"^\s*([\d.]+(?:e[+-]?\d+)?)\s*([a-z]*)\s*$", re.IGNORECASE)


def _length(text: str | None) -> float | None:
    match = _LENGTH.match(text or "")
    if match is None or match.group(2).lower() not in UNITS:
        return None
    found = _number(match.group(1)) * UNITS[match.group(2).lower()]
    return found if found > 0 else None


def _number(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        return 0.0


def size_of(path: Path) -> tuple[float, float]:
    """Give a drawing's width and height in CSS pixels. Raises UnreadableFile."""
    try:
        with path.open("rb") as stream:
            start = stream.read(MOST_START).decode("utf-8", "replace")
    except OSError as error:
        raise UnreadableFile(path.name, f"it can't be opened ({error.strerror}).") from error
    # The engine reads the whole; of its first tag alone the size is wanted.
    match = _ROOT.search(re.sub(r"<!--.*?-->", "", start, flags=re.DOTALL))
    if match is None:
        raise UnreadableFile(path.name, "no drawing is found in it. Save it anew as SVG.")
    told = {name: one or other for name, one, other in _ATTRIBUTE.findall(match.group(0))}
    width, height = _length(told.get("width")), _length(told.get("height"))
    numbers = re.findall(r"-?[\d.]+(?:e[+-]?\d+)?", told.get("viewBox", ""))[:4]
    box = [_number(each) for each in numbers]
    ratio = box[2] / box[3] if len(box) == 4 and box[2] > 0 and box[3] > 0 else None
    if width is None and height is None and ratio:
        width, height = box[2], box[3]
    elif ratio and width is None and height is not None:
        width = height * ratio
    elif ratio and height is None and width is not None:
        height = width / ratio
    width, height = width or USUAL[0], height or USUAL[1]
    if max(width, height) > LARGEST:
        shrink = LARGEST / max(width, height)
        width, height = width * shrink, height * shrink
    return max(1.0, width), max(1.0, height)
