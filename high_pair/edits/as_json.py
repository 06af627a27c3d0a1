"""Edits as JSON: in review files, and in reports as the changes that remedies would make.

Every field of a kind stands by its name, colours as `colour`: #RRGGBB. How a field is
read, with its bounds, is said once for all kinds that have it.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Mapping
from typing import Any

from high_pair.colour.srgb import bytes_of, hex_of
from high_pair.edits.kinds import KINDS, Edit
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, OverlayKind

LONGEST_TEXT = 4_000
# Points: no page is so long, and no letter so large.
FARTHEST, LARGEST = 1e5, 1e4
HEAVIEST = 1000
MOST_STOPS = 1000
# Base64 of a PNG of as many pixels as letters are looked for in.
LONGEST_PATCH = 12_000_000
Entry = Mapping[str, Any]
Reader = Callable[[Any], Any]

# Reading what a stranger may have written. All raise ValueError, KeyError or TypeError.


def text(entry: Entry, key: str) -> str:
    """Give a text that isn't too long."""
    return _text(entry[key])


def number(value: Any, low: float, high: float) -> float:
    """Give a number within bounds."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
        raise ValueError(f"{value!r} is out of range")
    return float(value)


def _text(value: Any) -> str:
    if not isinstance(value, str) or len(value) > LONGEST_TEXT:
        raise ValueError(f"{str(value)[:40]!r} is no text")
    return value


def _flag(value: Any) -> bool:
    if not isinstance(value, bool):
        raise ValueError(f"{value!r} is neither true nor false")
    return value


def _within(low: float, high: float) -> Reader:
    return lambda value: number(value, low, high)


def _whole(most: int) -> Reader:
    return lambda value: int(number(value, 0, most))


def _or_none(reader: Reader) -> Reader:
    return lambda value: None if value is None else reader(value)


def _sides(value: Any) -> tuple[float, ...]:
    if not isinstance(value, list) or len(value) != 4:
        raise ValueError("a box is no box")
    return tuple(number(side, -FARTHEST, FARTHEST) for side in value)


def _stops(value: Any) -> tuple[tuple[float, tuple[int, int, int]], ...]:
    if not isinstance(value, list) or len(value) > MOST_STOPS:
        raise ValueError("stops are no list, or too many")
    return tuple((number(place, 0, 1), bytes_of(_text(code))) for place, code in value)


def _pixels(value: Any) -> str:
    if not isinstance(value, str) or len(value) > LONGEST_PATCH:
        raise ValueError("a patch of pixels is none, or too large")
    return value


def _texts(value: Any) -> tuple[str, ...]:
    return tuple(each for each in value if isinstance(each, str))


_SHARE, _LENGTH, _DEGREES = _within(0, 1), _within(0, FARTHEST), _within(0, 360)
OF_OVERLAYS: Mapping[str, Reader] = {
    "kind": OverlayKind,
    "box": lambda value: Box(*_sides(value)),
    "levels": lambda value: bytes_of(_text(value)),
    "percent": _whole(100),
    "rounding": _LENGTH,
    "feather": _LENGTH,
    "towards": _DEGREES,
    "full": _SHARE,
    "none": _SHARE,
    "middle": _SHARE,
    "bound": _flag,
    "turn": _DEGREES,
}
OF_EDITS: Mapping[str, Reader] = {
    "address": _text,
    "levels": lambda value: bytes_of(_text(value)),
    "opacity": _SHARE,
    "serves": _texts,
    "stops": _stops,
    "size": _or_none(_within(0, LARGEST)),
    "bold": _or_none(_flag),
    "underline": _or_none(_flag),
    "box": _sides,
    "turn": _DEGREES,
    "across": _within(-FARTHEST, FARTHEST),
    "down": _within(-FARTHEST, FARTHEST),
    "patch": _pixels,
    "words": _text,
    "weight": _or_none(_whole(HEAVIEST)),
    "overlay": lambda value: _made(Overlay, value, OF_OVERLAYS),
    "subject": _text,
    "reason": _text,
    "note": _text,
}
BY_NAME: Mapping[str, type[Edit]] = {kind.name: kind for kind in KINDS}


def _key(name: str) -> str:
    return "colour" if name == "levels" else name


def _made(kind: type, entry: Entry, readers: Mapping[str, Reader]) -> Any:
    """Make a dataclass of what is written; a field that isn't there has what it has by default."""
    values = {}
    for field in dataclasses.fields(kind):
        key = _key(field.name)
        if key in entry or field.default is dataclasses.MISSING:
            values[field.name] = readers[field.name](entry[key])
    return kind(**values)


def edit_in(entry: Entry) -> Edit:
    """Read an edit. Raises ValueError, KeyError or TypeError for what is none."""
    kind = BY_NAME.get(entry["edit"])
    if kind is None:
        raise ValueError(f"“{entry['edit']}” is no edit that this version knows")
    edit: Edit = _made(kind, entry, OF_EDITS)
    return edit


def edit_out(edit: Edit) -> dict[str, Any]:
    """Write an edit as JSON has it."""
    return {"edit": edit.name} | _written(edit)


def _written(made: Any) -> dict[str, Any]:
    return {_key(name): _value(name, value) for name, value in vars(made).items()}


def _value(name: str, value: Any) -> Any:
    if name == "levels":
        return hex_of(value)
    if name == "stops":
        return [[place, hex_of(levels)] for place, levels in value]
    if isinstance(value, Overlay):
        return _written(value)
    if isinstance(value, Box):
        return [value.x, value.y, value.width, value.height]
    if isinstance(value, OverlayKind):
        return value.value
    return list(value) if isinstance(value, tuple) else value
