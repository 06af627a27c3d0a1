"""Formulas of custom shapes (ODF 1.3 Part 3 §19.171, draw:formula)."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping, Sequence

_TOKEN = re.compile(
    r"\s*(?:([0-9]*\.?[0-9]+(?:[eE][-+]?[0-9]+)?)|(\?[^\s()*/+,-]+|\$[0-9]+|[a-zA-Z][a-zA-Z0-9]*)"
    r"|([-+*/(),]))"
)
MOST_TOKENS = 2_000
DEEPEST = 40
_FUNCTIONS: dict[str, tuple[int, Callable[..., float]]] = {
    "abs": (1, abs),
    "sqrt": (1, lambda a: math.sqrt(max(0.0, a))),
    "sin": (1, math.sin),
    "cos": (1, math.cos),
    "tan": (1, math.tan),
    "atan": (1, math.atan),
    "atan2": (2, math.atan2),
    "min": (2, min),
    "max": (2, max),
    "if": (3, lambda condition, yes, no: yes if condition > 0 else no),
}


class Formulas:
    """Works out a shape's equations when they are asked for.

    equations: by name, as written; modifiers: the values of $0, $1, …; named:
    the values of the words of the format (left, width, …). What makes no sense
    is worth nothing: 0.
    """

    def __init__(
        self,
        equations: Mapping[str, str],
        modifiers: Sequence[float],
        named: Mapping[str, float],
    ) -> None:
        self._equations = equations
        self._modifiers = modifiers
        self._named = named
        self._known: dict[str, float] = {}
        self._open: set[str] = set()

    def value(self, word: str) -> float:
        """Give the value of a number, a modifier ($0), an equation (?f0) or a word."""
        if word.startswith("$"):
            place = int(word[1:]) if word[1:].isdecimal() and len(word) < 6 else -1
            return self._modifiers[place] if 0 <= place < len(self._modifiers) else 0.0
        if word.startswith("?"):
            return self._equation(word[1:])
        if word in self._named:
            return self._named[word]
        if word == "pi":
            return math.pi
        try:
            found = float(word)
        except ValueError:
            return 0.0
        return found if math.isfinite(found) else 0.0

    def _equation(self, name: str) -> float:
        if name in self._known:
            return self._known[name]
        if name in self._open or name not in self._equations or len(self._open) >= DEEPEST:
            return 0.0
        self._open.add(name)
        try:
            found = self.work_out(self._equations[name])
        finally:
            self._open.discard(name)
        self._known[name] = found
        return found

    def work_out(self, formula: str) -> float:
        """Give a formula's value."""
        tokens = [match.group().strip() for match in _TOKEN.finditer(formula)]
        if len(tokens) > MOST_TOKENS:
            return 0.0
        try:
            found, _ = self._sum(tokens, 0, 0)
        except (IndexError, OverflowError, ValueError, ZeroDivisionError):
            return 0.0
        return found if math.isfinite(found) else 0.0

    def _sum(self, tokens: list[str], at: int, depth: int) -> tuple[float, int]:
        total, at = self._product(tokens, at, depth)
        while at < len(tokens) and tokens[at] in "+-":
            sign = 1.0 if tokens[at] == "+" else -1.0
            term, at = self._product(tokens, at + 1, depth)
            total += sign * term
        return total, at

    def _product(self, tokens: list[str], at: int, depth: int) -> tuple[float, int]:
        total, at = self._single(tokens, at, depth)
        while at < len(tokens) and tokens[at] in "*/":
            times = tokens[at] == "*"
            factor, at = self._single(tokens, at + 1, depth)
            total = total * factor if times else total / factor
        return total, at

    def _single(self, tokens: list[str], at: int, depth: int) -> tuple[float, int]:
        if depth > DEEPEST:
            raise ValueError("nested too deeply")
        token = tokens[at]
        if token in "+-":
            found, at = self._single(tokens, at + 1, depth + 1)
            return (found if token == "+" else -found), at
        if token == "(":
            found, at = self._sum(tokens, at + 1, depth + 1)
            return found, at + 1
        if token in _FUNCTIONS:
            count, function = _FUNCTIONS[token]
            arguments = []
            # The bracket, then arguments with commas between them, then the other bracket.
            at += 1
            for _ in range(count):
                argument, at = self._sum(tokens, at + 1, depth + 1)
                arguments.append(argument)
            return float(function(*arguments)), at + 1
        return self.value(token), at + 1
