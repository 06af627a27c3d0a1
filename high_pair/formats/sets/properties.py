"""Custom properties and declared colours of a style sheet as a set.

Source: CSS Custom Properties 1, §2 and §3.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

import tinycss2

from high_pair.colour.notation import read
from high_pair.colour.srgb import hex_of
from high_pair.errors import NotationError
from high_pair.formats.web.css_source import style_rules
from high_pair.scene.colour_set import SetColour

_VAR = re.compile(r"var\(\s*(--[^\s,)]+)\s*(?:,(.*))?\)", re.DOTALL)
_NOT_IN_NAMES = re.compile(r"[^\w-]+")
# What of a rule says a colour, where a sheet has no custom properties.
COLOURS = ("color", "background-color", "border-color", "fill", "stroke")
MOST_STEPS = 30


def read_properties(text: str) -> list[SetColour]:
    """List the custom properties that are colours; where there are none, what rules declare.

    Of several of one name the first counts.
    """
    values: dict[str, str] = {}
    declared: dict[str, str] = {}
    for rule in style_rules(text):
        selector = " ".join(tinycss2.serialize(rule.prelude).split())
        for each in tinycss2.parse_blocks_contents(rule.content, True, True):
            if each.type != "declaration":
                continue
            value = tinycss2.serialize(each.value).strip()
            if each.name.startswith("--"):
                values.setdefault(each.name, value)
            elif each.lower_name in COLOURS:
                declared.setdefault(f"{selector} {each.lower_name}", value)
    found = _colours(values, values)
    return found or _colours(declared, values)


def _colours(wanted: Mapping[str, str], values: Mapping[str, str]) -> list[SetColour]:
    found = []
    for name, value in wanted.items():
        try:
            found.append(SetColour(name.removeprefix("--"), read(_resolved(value, values)).rgb))
        except NotationError:
            # A property may as well hold a length, or a colour of the page around it.
            continue
    return found


def _resolved(value: str, values: Mapping[str, str]) -> str:
    """Follow references to other properties; one in a circle leads to nothing."""
    for _ in range(MOST_STEPS):
        match = _VAR.fullmatch(value.strip())
        if match is None:
            return value
        value = values.get(match.group(1), (match.group(2) or "").strip())
    return ""


def write_properties(colours: list[SetColour]) -> str:
    """Write colours as custom properties of the root."""
    named = ((_NOT_IN_NAMES.sub("-", each.name).strip("-"), each) for each in colours)
    lines = [f"  --{name or 'colour'}: {hex_of(colour.levels)};" for name, colour in named]
    return "\n".join([":root {", *lines, "}", ""])
