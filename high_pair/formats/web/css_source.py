"""Finding a declaration in the text of a style sheet, and changing it there and nowhere else."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

import tinycss2
from tinycss2 import ast

_BLANKS = re.compile(r"\s+")
_ROUND_COMBINATORS = re.compile(r"\s*([>+~,()\[\]=])\s*")
_URL = re.compile(r"""(url\(\s*)(["']?)([^"')]+)(\2\s*\))|(@import\s+)(["'])([^"']+)(\6)""")
# Rules within these hold rules of their own.
HOLDERS = frozenset({"media", "supports", "layer", "container", "scope", "starting-style"})
DEEPEST = 40


@dataclass(frozen=True)
class Found:
    """A declaration's value in a text: its line, from 1, and its first and last place."""

    line: int
    start: int
    stop: int


def plain_selector(text: str) -> str:
    """Give a selector in one spelling, whatever blanks, quotes and colons it was written with."""
    text = re.sub(r"/\*.*?\*/", "", text, flags=re.DOTALL)
    text = _ROUND_COMBINATORS.sub(r"\1", _BLANKS.sub(" ", text).strip()).replace("'", '"')
    text = re.sub(r'="([\w-]+)"\]', r"=\1]", text)
    return re.sub(r"(?<!:):(before|after|first-line|first-letter)\b", r"::\1", text).lower()


class _Lines:
    """Turns lines and columns into places in a text."""

    def __init__(self, text: str) -> None:
        self._starts = [0]
        for match in re.finditer(r"\r\n|\n|\r|\f", text):
            self._starts.append(match.end())

    def place(self, line: int, column: int) -> int:
        """Give the place in the text of a line and a column, both from 1."""
        return self._starts[min(line, len(self._starts)) - 1] + column - 1


def _rules(nodes: list[ast.Node], depth: int = 0) -> Iterator[ast.QualifiedRule]:
    """Give style rules in order, those within others too."""
    if depth > DEEPEST:
        return
    for node in nodes:
        if node.type == "qualified-rule":
            yield node
            inner = tinycss2.parse_blocks_contents(node.content, True, True)
            yield from _rules([n for n in inner if n.type != "declaration"], depth + 1)
        elif node.type == "at-rule" and node.lower_at_keyword in HOLDERS and node.content:
            inner = tinycss2.parse_blocks_contents(node.content, True, True)
            yield from _rules(inner, depth + 1)


def style_rules(text: str) -> Iterator[ast.QualifiedRule]:
    """Give the style rules of a sheet in order, those within others too."""
    return _rules(tinycss2.parse_stylesheet(text, True, True))


def find(text: str, selector: str, nth: int, prop: str) -> Found | None:
    """Find a declaration's value: of the nth rule, from 0, with a selector. None if it isn't there.

    The last declaration of the property in the rule is the one that counts.
    """
    wanted, seen = plain_selector(selector), 0
    lines = _Lines(text)
    for rule in style_rules(text):
        if plain_selector(tinycss2.serialize(rule.prelude)) != wanted:
            continue
        if seen < nth:
            seen += 1
            continue
        inner = tinycss2.parse_blocks_contents(rule.content, True, True)
        declared = [
            node
            for node in inner
            if node.type == "declaration" and node.name.lower() == prop.lower() and node.value
        ]
        return _value_of(text, declared[-1], lines) if declared else None
    return None


def _value_of(text: str, declaration: ast.Declaration, lines: _Lines) -> Found | None:
    at = lines.place(declaration.source_line, declaration.source_column)
    colon = text.find(":", at)
    if colon < 0:
        return None
    start = colon + 1
    while start < len(text) and text[start].isspace():
        start += 1
    written = tinycss2.serialize([n for n in declaration.value if n.type != "whitespace"])
    stop = start
    depth = 0
    while stop < len(text):
        mark = text[stop]
        if mark in "([{":
            depth += 1
        elif mark in ")]}":
            if depth == 0:
                break
            depth -= 1
        elif depth == 0 and mark in ";!":
            break
        stop += 1
    while stop > start and text[stop - 1].isspace():
        stop -= 1
    if not written or stop <= start:
        return None
    return Found(declaration.source_line, start, stop)


def urls_in(text: str) -> list[tuple[int, int, str]]:
    """List the addresses that a style sheet names, each with its first and last place."""
    found = []
    for match in _URL.finditer(text):
        group = 3 if match.group(3) is not None else 7
        found.append((*match.span(group), match.group(group)))
    return found
