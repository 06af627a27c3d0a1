"""The built-in looks of tables, which live in programs and not in files.

What is here follows their published looks: for each family, which slots of the
theme its parts show, and how far lightened or darkened.
"""

from __future__ import annotations

import functools
import re
from dataclasses import dataclass

_NAME = re.compile(r"^TableStyle(Light|Medium|Dark)(\d{1,2})$")
_ACCENTS = tuple(f"accent{n}" for n in range(1, 7))

# A theme's slot and a tint.
Tone = tuple[str, float]


@dataclass(frozen=True)
class Part:
    """What a part of a table's look gives its cells; None leaves it."""

    fill: Tone | None = None
    text: Tone | None = None
    bold: bool = False


Looks = dict[str, Part]
_DARK, _LIGHT = ("dk1", 0.0), ("lt1", 0.0)
_GREY, _DARKER_GREY = ("lt1", -0.15), ("lt1", -0.35)


@functools.cache
def built_in(name: str) -> Looks | None:
    """Give the parts of a built-in look by its name; None for an unknown one."""
    match = _NAME.match(name)
    if match is None:
        return None
    kind, number = match.group(1), int(match.group(2))
    most = {"Light": 21, "Medium": 28, "Dark": 11}[kind]
    if not 1 <= number <= most:
        return None
    if kind == "Dark":
        return _dark(number)
    slot = ("dk1", *_ACCENTS)[(number - 1) % 7]
    family = (number - 1) // 7
    return _light(family, slot) if kind == "Light" else _medium(family, slot)


def _stripe(slot: str, tint: float, grey: Tone) -> Tone:
    return grey if slot == "dk1" else (slot, tint)


def _light(family: int, slot: str) -> Looks:
    """Light 1 to 7, 8 to 14, and 15 to 21."""
    bold = Part(bold=True)
    edges = {"firstColumn": bold, "lastColumn": bold, "totalRow": bold}
    if family == 0:
        text: Tone = _DARK if slot == "dk1" else (slot, -0.25)
        strong = Part(text=text, bold=True)
        return {
            "wholeTable": Part(text=text),
            "firstRowStripe": Part(_stripe(slot, 0.8, _GREY)),
            "firstColumnStripe": Part(_stripe(slot, 0.8, _GREY)),
            **dict.fromkeys(("headerRow", "totalRow", "firstColumn", "lastColumn"), strong),
        }
    if family == 1:
        return {"headerRow": Part((slot, 0.0), _LIGHT, bold=True), **edges}
    return {
        "headerRow": bold,
        "firstRowStripe": Part(_stripe(slot, 0.8, _GREY)),
        "firstColumnStripe": Part(_stripe(slot, 0.8, _GREY)),
        **edges,
    }


def _medium(family: int, slot: str) -> Looks:
    """Medium 1 to 7, 8 to 14, 15 to 21, and 22 to 28."""
    bold = Part(bold=True)
    strong = Part((slot, 0.0), _LIGHT, bold=True)
    if family == 0:
        stripe = Part(_stripe(slot, 0.8, _GREY))
        return {
            "wholeTable": Part(text=_DARK),
            "firstRowStripe": stripe,
            "firstColumnStripe": stripe,
            "headerRow": strong,
            **dict.fromkeys(("totalRow", "firstColumn", "lastColumn"), bold),
        }
    whole, stripe = (
        Part(_stripe(slot, 0.8, _GREY), _DARK),
        Part(_stripe(slot, 0.6, _DARKER_GREY)),
    )
    if family == 1:
        return {
            "wholeTable": whole,
            "firstRowStripe": stripe,
            "firstColumnStripe": stripe,
            **dict.fromkeys(("headerRow", "totalRow", "firstColumn", "lastColumn"), strong),
        }
    if family == 2:
        grey = Part(_GREY)
        return {
            "wholeTable": Part(text=_DARK),
            "firstRowStripe": grey,
            "firstColumnStripe": grey,
            **dict.fromkeys(("headerRow", "firstColumn", "lastColumn"), strong),
        }
    heading = Part(text=_DARK, bold=True)
    return {
        "wholeTable": whole,
        "firstRowStripe": stripe,
        "firstColumnStripe": stripe,
        **dict.fromkeys(("headerRow", "totalRow", "firstColumn", "lastColumn"), heading),
    }


def _dark(number: int) -> Looks:
    """Dark 1 to 7, and 8 to 11, which pair two accents."""
    if number <= 7:
        slot = ("dk1", *_ACCENTS)[number - 1]
        plain = slot == "dk1"
        stripe = Part((slot, 0.25 if plain else -0.25))
        edge = Part((slot, 0.15 if plain else -0.5), _LIGHT, bold=True)
        return {
            "wholeTable": Part((slot, 0.45 if plain else 0.0), _LIGHT),
            "firstRowStripe": stripe,
            "firstColumnStripe": stripe,
            "headerRow": Part(_DARK, _LIGHT, bold=True),
            "totalRow": edge,
            "firstColumn": stripe if not plain else edge,
            "lastColumn": stripe if not plain else edge,
        }
    pair = {8: ("dk1", "dk1"), 9: ("accent1", "accent2"), 10: ("accent3", "accent4"),
            11: ("accent5", "accent6")}[number]  # fmt: skip
    body, head = pair
    stripe = Part(_stripe(body, 0.6, _DARKER_GREY))
    return {
        "wholeTable": Part(_stripe(body, 0.8, _GREY), _DARK),
        "firstRowStripe": stripe,
        "firstColumnStripe": stripe,
        "headerRow": Part((head, 0.0), _LIGHT, bold=True),
        **dict.fromkeys(("totalRow", "firstColumn", "lastColumn"), Part(bold=True)),
    }
