"""Design tokens: JSON whose groups hold named values, after the community group's draft.

A token has `$value`, and `$type` itself or from a group around it; a value in braces
names another token. What the draft has no word for stands in `$extensions`: that a colour
is left as it is, and which pairs are wanted. Source: Design Tokens Format Module, chapters
5 to 8.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from high_pair.colour.notation import read
from high_pair.colour.ratio import HIGHEST_RATIO
from high_pair.colour.srgb import hex_of
from high_pair.errors import NotationError
from high_pair.scene.colour_set import ColourSet, Levels, SetColour, SetPair, State

_REFERENCE = re.compile(r"\{([^{}]+)\}")
# Groups within groups, which nobody nests deeper by hand.
DEEPEST = 60
# Whose extensions ours are.
VENDOR = "high-pair"
# References that lead from one to another.
MOST_REFERENCES = 30
# More pairs than that nobody wants by hand.
MOST_WANTED = 2_000


class TokenProblem(ValueError):
    """The tokens can't be read; the message says what to mend."""


@dataclass(frozen=True)
class _Token:
    """A token as written. kind: its type, None where none is stated; leave: it isn't moved."""

    kind: str | None
    value: Any
    leave: bool


def read_tokens(text: str) -> tuple[str, list[SetColour], list[SetPair]]:
    """Give a token file's name, empty without one, its colours and the pairs that are wanted.

    Each colour has its path with dots for its name. Raises TokenProblem.
    """
    try:
        root = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise TokenProblem(f"it isn't sound JSON ({error}).") from error
    if not isinstance(root, dict):
        raise TokenProblem("it holds no groups of tokens.")
    tokens = dict(_tokens(root, (), None, 0))
    found = []
    for name, token in tokens.items():
        # A token without a type of its own may have one by what it refers to.
        if token.kind not in (None, "color"):
            continue
        target, resolved = _resolved(name, token.value, tokens)
        if token.kind is None and tokens[target].kind != "color":
            continue
        found.append(SetColour(name, _levels(name, resolved), leave=token.leave))
    own = _extension(root)
    # Only what is ours names itself: what describes a stranger's file is a sentence.
    title = root.get("$description") if own else ""
    names = {colour.name for colour in found}
    return title if isinstance(title, str) else "", found, _wanted(own, names)


def _extension(group: Mapping[str, Any]) -> Mapping[str, Any]:
    extensions = group.get("$extensions")
    own = extensions.get(VENDOR) if isinstance(extensions, dict) else None
    return own if isinstance(own, dict) else {}


def _wanted(own: Mapping[str, Any], names: set[str]) -> list[SetPair]:
    """List the pairs that are wanted; what makes no sense is passed over."""
    listed = own.get("wanted")
    found = []
    for each in listed[:MOST_WANTED] if isinstance(listed, list) else ():
        if not isinstance(each, dict):
            continue
        text, backdrop, required = (each.get(key) for key in ("text", "backdrop", "required"))
        known = isinstance(text, str) and isinstance(backdrop, str) and {text, backdrop} <= names
        if known and isinstance(required, int | float) and 1 <= required <= HIGHEST_RATIO:
            found.append(SetPair(str(text), str(backdrop), State.WANTED, float(required)))
    return found


def _tokens(
    group: Mapping[str, Any], path: tuple[str, ...], kind: str | None, depth: int
) -> Iterator[tuple[str, _Token]]:
    """Go through the tokens of a group, each with its name."""
    if depth > DEEPEST:
        raise TokenProblem(f"its groups lie more than {DEEPEST} deep in one another.")
    stated = group.get("$type")
    own = stated if isinstance(stated, str) else kind
    if "$value" in group:
        leave = _extension(group).get("leave") is True
        yield ".".join(path), _Token(own, group["$value"], leave)
        return
    for name, inner in group.items():
        if not name.startswith("$") and isinstance(inner, dict):
            yield from _tokens(inner, (*path, name), own, depth + 1)


def _resolved(name: str, value: Any, tokens: Mapping[str, _Token]) -> tuple[str, Any]:
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
        value = tokens[target].value
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


def write_tokens(colours: ColourSet) -> str:
    """Write a set as a token file, in groups by the dots of its colours' names."""
    wanted = [
        {"text": pair.text, "backdrop": pair.backdrop, "required": pair.required}
        for pair in colours.pairs
        if pair.state is State.WANTED
    ]
    root: dict[str, Any] = {
        "$description": colours.name,
        "$type": "color",
        "$extensions": {VENDOR: {"wanted": wanted}},
    }
    paths = [_path(colour.name) for colour in colours.colours]
    # A token can't be a group as well: then none lies in groups.
    groups = {path[:count] for path in paths for count in range(1, len(path))}
    flat = any(path in groups for path in paths)
    for colour, path in zip(colours.colours, paths, strict=True):
        token: dict[str, Any] = {"$value": hex_of(colour.levels)}
        if colour.leave:
            token["$extensions"] = {VENDOR: {"leave": True}}
        group = root
        for each in () if flat else path[:-1]:
            group = group.setdefault(each, {})
        group[".".join(path) if flat else path[-1]] = token
    return json.dumps(root, indent=2, ensure_ascii=False) + "\n"


def _path(name: str) -> tuple[str, ...]:
    """Give the groups and the name of a token; what begins with a dollar would be no token."""
    return tuple(f"_{part}" if part.startswith("$") else part for part in name.split("."))
