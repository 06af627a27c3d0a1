"""Design tokens: JSON whose groups hold named values, after the community group's draft.

A token has `$value`, and `$type` itself or from a group around it; a value in braces
names another token. Source: Design Tokens Format Module, chapters 5 to 8.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping
from typing import Any

from high_pair.colour.notation import read
from high_pair.colour.srgb import hex_of
from high_pair.errors import NotationError
from high_pair.scene.colour_set import Levels, SetColour

_REFERENCE = re.compile(r"\{([^{}]+)\}")
# Groups within groups, which nobody nests deeper by hand.
DEEPEST = 60
# References that lead from one to another.
MOST_REFERENCES = 30


class TokenProblem(ValueError):
    """The tokens can't be read; the message says what to mend."""


def read_tokens(text: str) -> list[SetColour]:
    """List the colours of a token file, each by its path with dots. Raises TokenProblem."""
    try:
        root = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise TokenProblem(f"it isn't sound JSON ({error}).") from error
    if not isinstance(root, dict):
        raise TokenProblem("it holds no groups of tokens.")
    tokens = dict(_tokens(root, (), None, 0))
    found = []
    for name, (kind, value) in tokens.items():
        # A token without a type of its own may have one by what it refers to.
        if kind not in (None, "color"):
            continue
        target, resolved = _resolved(name, value, tokens)
        if kind is None and tokens[target][0] != "color":
            continue
        found.append(SetColour(name, _levels(name, resolved)))
    return found


def _tokens(
    group: Mapping[str, Any], path: tuple[str, ...], kind: str | None, depth: int
) -> Iterator[tuple[str, tuple[str | None, Any]]]:
    """Go through the tokens of a group: the name of each, its type, and its value as written."""
    if depth > DEEPEST:
        raise TokenProblem(f"its groups lie more than {DEEPEST} deep in one another.")
    stated = group.get("$type")
    own = stated if isinstance(stated, str) else kind
    if "$value" in group:
        yield ".".join(path), (own, group["$value"])
        return
    for name, inner in group.items():
        if not name.startswith("$") and isinstance(inner, dict):
            yield from _tokens(inner, (*path, name), own, depth + 1)


def _resolved(
    name: str, value: Any, tokens: Mapping[str, tuple[str | None, Any]]
) -> tuple[str, Any]:
    """Follow references to what they lead to: the last token's name, and its value."""
    way = [name]
    while isinstance(value, str) and (match := _REFERENCE.fullmatch(value.strip())):
        target = match.group(1)
        if target in way:
            raise TokenProblem(f"its tokens refer to one another in a circle: {' → '.join(way)}.")
        if target not in tokens:
            raise TokenProblem(f"“{way[-1]}” refers to “{target}”, which isn't there.")
        if len(way) > MOST_REFERENCES:
            raise TokenProblem(f"“{name}” refers to others more than {MOST_REFERENCES} times over.")
        way.append(target)
        value = tokens[target][1]
    return way[-1], value


def _levels(name: str, value: Any) -> Levels:
    try:
        return read(_notation(value)).rgb
    except (NotationError, TypeError, ValueError) as error:
        raise TokenProblem(f"the value of “{name}” is no colour: {error}.") from error


def _notation(value: Any) -> str:
    """Give a value as CSS has it; one as an object states its space and components."""
    if isinstance(value, str):
        return value
    if isinstance(value, dict):
        space, components = value.get("colorSpace"), value.get("components")
        if isinstance(space, str) and isinstance(components, list) and len(components) == 3:
            numbers = " ".join(
                "none" if each == "none" else f"{float(each):.6f}" for each in components
            )
            if space in ("oklab", "oklch", "lab", "lch"):
                return f"{space}({numbers})"
            if space in ("hsl", "hwb"):
                hue, one, other = numbers.split()
                return f"{space}({hue} {one}% {other}%)"
            return f"color({space} {numbers})"
        if isinstance(value.get("hex"), str):
            return str(value["hex"])
    raise ValueError("it is neither a text nor a space with three components")


def write_tokens(name: str, colours: list[SetColour]) -> str:
    """Write colours as a token file, in groups by the dots of their names."""
    root: dict[str, Any] = {"$description": name, "$type": "color"}
    for colour in colours:
        group = root
        *groups, last = colour.name.split(".")
        for each in groups:
            inner = group.setdefault(each, {})
            # A token can't be a group as well: what is below it has its whole name.
            if "$value" in inner:
                last, inner = colour.name, root
                group = inner
                break
            group = inner
        group[last] = {"$value": hex_of(colour.levels)}
    return json.dumps(root, indent=2, ensure_ascii=False) + "\n"
