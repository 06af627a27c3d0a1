"""The guide formulas of shape geometries (ECMA-376 Part 1 §20.1.9.11)."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable

from high_pair.formats.xml import number

# §20.1.10.3: a full turn in units of angle.
TURN = 21_600_000
LARGEST = 1e12


def radians_of(angle: float) -> float:
    """Turn 60,000ths of a degree into radians."""
    return angle / TURN * 2 * math.pi


def _divided(value: float, by: float) -> float:
    return value / by if by else 0.0


_FORMULAS: dict[str, Callable[[float, float, float], float]] = {
    "*/": lambda x, y, z: _divided(x * y, z),
    "+-": lambda x, y, z: x + y - z,
    "+/": lambda x, y, z: _divided(x + y, z),
    "?:": lambda x, y, z: y if x > 0 else z,
    "abs": lambda x, _y, _z: abs(x),
    "at2": lambda x, y, _z: math.atan2(y, x) / (2 * math.pi) * TURN,
    "cat2": lambda x, y, z: x * math.cos(math.atan2(z, y)),
    "cos": lambda x, y, _z: x * math.cos(radians_of(y)),
    "max": lambda x, y, _z: max(x, y),
    "min": lambda x, y, _z: min(x, y),
    "mod": lambda x, y, z: math.sqrt(x * x + y * y + z * z),
    "pin": lambda x, y, z: max(x, min(y, z)),
    "sat2": lambda x, y, z: x * math.sin(math.atan2(z, y)),
    "sin": lambda x, y, _z: x * math.sin(radians_of(y)),
    "sqrt": lambda x, _y, _z: math.sqrt(max(0.0, x)),
    "tan": lambda x, y, _z: x * math.tan(radians_of(y)),
    "val": lambda x, _y, _z: x,
}


def standard_guides(width: float, height: float) -> dict[str, float]:
    """Give the guides that every shape has (the standard's presetTextWarp and shape preamble)."""
    shorter, longer = min(width, height), max(width, height)
    guides = {
        "l": 0.0, "t": 0.0, "r": width, "b": height, "w": width, "h": height,
        "hc": width / 2, "vc": height / 2, "ss": shorter, "ls": longer,
        "cd2": TURN / 2, "cd4": TURN / 4, "cd8": TURN / 8,
        "3cd4": TURN * 3 / 4, "3cd8": TURN * 3 / 8, "5cd8": TURN * 5 / 8, "7cd8": TURN * 7 / 8,
    }  # fmt: skip
    for part in (2, 3, 4, 5, 6, 8, 10, 12, 16, 32):
        guides[f"wd{part}"] = width / part
        guides[f"hd{part}"] = height / part
        guides[f"ssd{part}"] = shorter / part
    return guides


def value_of(word: str, guides: dict[str, float]) -> float:
    """Give what a word of a formula or a path means: a guide, or a number."""
    found = guides.get(word)
    return found if found is not None else number(word)


def work_out(formulas: Iterable[tuple[str, str]], guides: dict[str, float]) -> dict[str, float]:
    """Work out guides (name, formula) in order, each from those before it.

    A formula that can't be read gives 0, as does anything past LARGEST.
    """
    known = dict(guides)
    for name, formula in formulas:
        words = formula.split()
        rule = _FORMULAS.get(words[0]) if words else None
        values = [value_of(word, known) for word in words[1:4]]
        values += [0.0] * (3 - len(values))
        result = 0.0
        if rule is not None:
            try:
                result = rule(*values)
            except (OverflowError, ValueError):
                result = 0.0
        known[name] = result if abs(result) < LARGEST else 0.0
    return known
