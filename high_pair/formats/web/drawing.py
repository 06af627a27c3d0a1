"""Drawings (.svg), which the browser engine shows as it shows pages."""

from __future__ import annotations

import re
from pathlib import Path

from lxml import etree

from high_pair.errors import UnreadableFile
from high_pair.formats.xml import local_name

KIND = "picture"
FIXED = "The text is part of a drawing: change it where the drawing was made."
# SVG 2, §8.2 and CSS Images 3, §5.3: without a size of its own.
USUAL = (300.0, 150.0)
LARGEST = 8_000.0
MOST_START = 1 << 20
# CSS Values 3, §6.2: pixels a unit.
UNITS = {"": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4}
# No length and no view box that a person means is longer.
MOST_LETTERS = 200
_LENGTH = re.compile(r"\s*(\d*\.?\d+(?:e[+-]?\d+)?)\s*([a-z]*)\s*", re.IGNORECASE)
_NUMBER = re.compile(r"-?\d*\.?\d+(?:e[+-]?\d+)?", re.IGNORECASE)


def _length(text: str | None) -> float | None:
    match = _LENGTH.fullmatch((text or "")[:MOST_LETTERS])
    if match is None or match.group(2).lower() not in UNITS:
        return None
    found = _number(match.group(1)) * UNITS[match.group(2).lower()]
    return found if found > 0 else None


def _number(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        return 0.0


def _root_of(start: bytes) -> etree._Element | None:
    """Give the first element of a drawing, of which a start is read; None for what is none."""
    # The engine reads the whole; of its first tag alone the size is wanted.
    parser = etree.XMLPullParser(
        ("start",), resolve_entities=False, no_network=True, load_dtd=False, recover=True
    )
    try:
        parser.feed(start)
    except etree.XMLSyntaxError:
        return None
    for _, element in parser.read_events():
        if isinstance(element, etree._Element):
            return element if local_name(element) == "svg" else None
    return None


def size_of(path: Path) -> tuple[float, float]:
    """Give a drawing's width and height in CSS pixels. Raises UnreadableFile."""
    try:
        with path.open("rb") as stream:
            root = _root_of(stream.read(MOST_START))
    except OSError as error:
        raise UnreadableFile(path.name, f"it can't be opened ({error.strerror}).") from error
    if root is None:
        raise UnreadableFile(path.name, "no drawing is found in it. Save it anew as SVG.")
    width, height = _length(root.get("width")), _length(root.get("height"))
    numbers = _NUMBER.findall(root.get("viewBox", "")[:MOST_LETTERS])[:4]
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
