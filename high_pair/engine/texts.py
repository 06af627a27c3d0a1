"""What is told of a text: its name at all times, its boxes, whether it shows whole."""

from __future__ import annotations

from typing import Any

from high_pair.engine.protocol import Room, Text


def boxes_of(text: Room) -> list[list[float]]:
    """Give the boxes of a text's words on the page, or of the region in which it lies."""
    return [word[1:] for word in text["words"]] or ([text["region"]] if text["region"] else [])


def boxes_meet(one: list[float], other: list[float]) -> bool:
    """Tell whether two boxes have some of the page in common."""
    return (
        one[0] < other[0] + other[2]
        and other[0] < one[0] + one[2]
        and one[1] < other[1] + other[3]
        and other[1] < one[1] + one[3]
    )


def key_of(text: Text) -> tuple[Any, ...]:
    """Give what names a text of a page at all times."""
    return text["address"], text["kind"], text["number"]


def inside(clip: list[float], box: list[float]) -> bool:
    """Tell whether a box lies within what clips it."""
    x, y, width, height = box
    left, top, right, bottom = clip
    return x >= left - 1 and y >= top - 1 and x + width <= right + 1 and y + height <= bottom + 1


def visible(text: Room) -> bool:
    """Tell whether all words of a text lie within what clips them."""
    clip = text["clip"]
    return clip is None or all(inside(clip, box) for box in boxes_of(text))


def words_shown(text: Room) -> list[int]:
    """Give the places of a text's words that lie within what clips them; of a region, 0."""
    clip = text["clip"]
    return [place for place, box in enumerate(boxes_of(text)) if clip is None or inside(clip, box)]


def shows_in_part(text: Room) -> bool:
    """Tell whether some of a text, be it part of a word, lies within what clips it."""
    if text["clip"] is None:
        return True
    left, top, right, bottom = text["clip"]
    return any(boxes_meet([left, top, right - left, bottom - top], box) for box in boxes_of(text))
