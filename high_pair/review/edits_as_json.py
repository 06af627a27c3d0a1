"""Edits as JSON: in review files, and in reports as the changes that remedies would make."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from high_pair.colour.srgb import bytes_of, hex_of
from high_pair.remedy.edits import (
    Edit,
    LayOver,
    MarkText,
    RecolourFill,
    RecolourOrigin,
    RecolourText,
    Restyle,
    SetAside,
    TakeOff,
    TakeUp,
    UnmarkText,
)
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, OverlayKind

LONGEST_TEXT = 4_000
Entry = Mapping[str, Any]

# Reading what a stranger may have written. All raise ValueError, KeyError or TypeError.


def text(entry: Entry, key: str) -> str:
    """Give a text that isn't too long."""
    value = entry[key]
    if not isinstance(value, str) or len(value) > LONGEST_TEXT:
        raise ValueError(f"“{key}” is no text")
    return value


def number(value: Any, low: float, high: float) -> float:
    """Give a number within bounds."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
        raise ValueError(f"{value!r} is out of range")
    return float(value)


def _optional(value: Any, most: float) -> float | None:
    return None if value is None else number(value, 0, most)


def _levels(entry: Entry) -> tuple[int, int, int]:
    return bytes_of(text(entry, "colour"))


def _serves(entry: Entry) -> tuple[str, ...]:
    return tuple(each for each in entry["serves"] if isinstance(each, str))


def _box(value: Any) -> tuple[float, float, float, float]:
    if not isinstance(value, list) or len(value) != 4:
        raise ValueError("a box is no box")
    x, y, width, height = (number(side, -1e5, 1e5) for side in value)
    return x, y, width, height


def _overlay(entry: Entry) -> Overlay:
    return Overlay(
        OverlayKind(entry["kind"]),
        Box(*_box(entry["box"])),
        _levels(entry),
        int(number(entry["percent"], 0, 100)),
        number(entry["rounding"], 0, 1e5),
        number(entry["feather"], 0, 1e5),
        number(entry["towards"], 0, 360),
        number(entry["full"], 0, 1),
        number(entry["none"], 0, 1),
        number(entry["middle"], 0, 1),
        entry.get("bound") is True,
        number(entry.get("turn", 0), 0, 360),
    )


def _mark_text(address: str, entry: Entry) -> MarkText:
    weight = _optional(entry["weight"], 1000)
    return MarkText(
        address,
        _box(entry["box"]),
        text(entry, "words"),
        _optional(entry["size"], 1e4),
        None if weight is None else int(weight),
    )


def _restyle(address: str, entry: Entry) -> Restyle:
    if entry["bold"] not in (True, False, None):
        raise ValueError("“bold” is neither true nor false")
    underline = entry.get("underline")
    if underline not in (True, False, None):
        raise ValueError("“underline” is neither true nor false")
    return Restyle(address, _optional(entry["size"], 1e4), entry["bold"], underline)


READERS: Mapping[str, Callable[[str, Entry], Edit]] = {
    "recolour-text": lambda address, entry: RecolourText(
        address, _levels(entry), number(entry["opacity"], 0, 1)
    ),
    "recolour-origin": lambda address, entry: RecolourOrigin(
        address, _levels(entry), _serves(entry)
    ),
    "recolour-fill": lambda address, entry: RecolourFill(address, _levels(entry), _serves(entry)),
    "restyle": _restyle,
    "lay-over": lambda address, entry: LayOver(address, _overlay(entry["overlay"]), _serves(entry)),
    "take-off": lambda address, _entry: TakeOff(address),
    "mark-text": _mark_text,
    "unmark-text": lambda address, _entry: UnmarkText(address),
    "set-aside": lambda address, entry: SetAside(
        address, text(entry, "subject"), text(entry, "reason"), text(entry, "note")
    ),
    "take-up": lambda address, entry: TakeUp(address, text(entry, "subject")),
}
NAMES: Mapping[type, str] = {
    RecolourText: "recolour-text",
    RecolourOrigin: "recolour-origin",
    RecolourFill: "recolour-fill",
    Restyle: "restyle",
    LayOver: "lay-over",
    TakeOff: "take-off",
    MarkText: "mark-text",
    UnmarkText: "unmark-text",
    SetAside: "set-aside",
    TakeUp: "take-up",
}


def edit_in(entry: Entry) -> Edit:
    """Read an edit. Raises ValueError, KeyError or TypeError for what is none."""
    reader = READERS.get(entry["edit"])
    if reader is None:
        raise ValueError(f"“{entry['edit']}” is no edit that this version knows")
    return reader(text(entry, "address"), entry)


def edit_out(edit: Edit) -> dict[str, Any]:
    """Write an edit as JSON has it: its fields by their names, colours as #RRGGBB."""
    return {"edit": NAMES[type(edit)]} | {_key(k): _value(v) for k, v in vars(edit).items()}


def _key(name: str) -> str:
    return "colour" if name == "levels" else name


def _value(value: Any) -> Any:
    if isinstance(value, Overlay):
        return {_key(key): _field(key, own) for key, own in vars(value).items()}
    if isinstance(value, tuple):
        return _field("levels", value) if _is_colour(value) else list(value)
    return value


def _is_colour(value: tuple[Any, ...]) -> bool:
    return len(value) == 3 and all(type(level) is int for level in value)


def _field(name: str, value: Any) -> Any:
    if name == "levels":
        return hex_of(value)
    if isinstance(value, Box):
        return [value.x, value.y, value.width, value.height]
    return value.value if isinstance(value, OverlayKind) else value
