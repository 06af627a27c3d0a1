"""Number formats: their sections, the colours in them, and a value as it is shown.

Source: ECMA-376 Part 1 §18.8.30, §18.8.31.
"""

from __future__ import annotations

import functools
import re
from dataclasses import dataclass
from datetime import datetime, timedelta

# §18.8.31: the names of colours in brackets.
NAMED = {
    "black": (0, 0, 0),
    "blue": (0, 0, 255),
    "cyan": (0, 255, 255),
    "green": (0, 255, 0),
    "magenta": (255, 0, 255),
    "red": (255, 0, 0),
    "white": (255, 255, 255),
    "yellow": (255, 255, 0),
}
# §18.8.30: formats that files name by number alone, as far as values are shown by them.
BUILT_IN = {
    1: "0", 2: "0.00", 3: "#,##0", 4: "#,##0.00", 9: "0%", 10: "0.00%", 11: "0.00E+00",
    14: "yyyy-mm-dd", 15: "d-mmm-yy", 16: "d-mmm", 17: "mmm-yy", 18: "h:mm AM/PM",
    19: "h:mm:ss AM/PM", 20: "h:mm", 21: "h:mm:ss", 22: "yyyy-mm-dd h:mm",
    37: "#,##0 ;(#,##0)", 38: "#,##0 ;[Red](#,##0)", 39: "#,##0.00;(#,##0.00)",
    40: "#,##0.00;[Red](#,##0.00)", 45: "mm:ss", 46: "[h]:mm:ss", 47: "mmss.0", 49: "@",
}  # fmt: skip
_BRACKET = re.compile(r"\[([^\[\]]*)\]")
_CONDITION = re.compile(r"^(<=|>=|<>|<|>|=)\s*(-?\d*\.?\d+)$")
_INDEX = re.compile(r"^color\s*(\d{1,2})$")
_DATES = re.compile(r"[ymdhs]")
FIRST_DAY = datetime(1899, 12, 30)
FIRST_DAY_1904 = datetime(1904, 1, 1)
LAST_SERIAL = 2_958_465


@dataclass(frozen=True)
class Section:
    """A section: its code without brackets; colour: three levels, or a palette's index."""

    code: str
    colour: tuple[int, int, int] | int | None = None
    condition: tuple[str, float] | None = None


@functools.cache
def sections_of(code: str) -> tuple[Section, ...]:
    """Cut a format into its sections, at semicolons outside quotes and brackets."""
    parts, part, quoted, bracketed, escaped = [], "", False, False, False
    for character in code:
        if escaped:
            escaped = False
        elif character == "\\":
            escaped = True
        elif character == '"':
            quoted = not quoted
        elif character in "[]" and not quoted:
            bracketed = character == "["
        elif character == ";" and not quoted and not bracketed:
            parts.append(part)
            part = ""
            continue
        part += character
    parts.append(part)
    return tuple(_section(each) for each in parts[:4])


def _section(text: str) -> Section:
    colour: tuple[int, int, int] | int | None = None
    condition: tuple[str, float] | None = None
    for inside in _BRACKET.findall(text):
        word = inside.strip().lower()
        index = _INDEX.match(word)
        compared = _CONDITION.match(inside.strip())
        if word in NAMED:
            colour = NAMED[word]
        elif index is not None:
            # [ColorN] is the palette's colour N + 7.
            colour = int(index.group(1)) + 7
        elif compared is not None:
            condition = (compared.group(1), float(compared.group(2)))
    return Section(_BRACKET.sub(_kept, text), colour, condition)


def _kept(match: re.Match[str]) -> str:
    """Keep of a bracket what is a count of hours or minutes, or a currency's sign."""
    inside = match.group(1)
    if inside and set(inside.lower()) <= set("hms"):
        return inside
    return inside[1:].partition("-")[0] if inside.startswith("$") else ""


def has_colours(code: str) -> bool:
    """Tell whether any section of a format has a colour, or shows nothing at all."""
    sections = sections_of(code)
    return any(each.colour is not None or not each.code for each in sections)


def section_for(code: str, value: float | str) -> Section | None:
    """Give the section by which a value is shown; None for text that the format leaves alone."""
    sections = sections_of(code)
    if isinstance(value, str):
        if len(sections) == 4:
            return sections[3]
        return sections[-1] if "@" in sections[-1].code else None
    numeric = sections[:3] if len(sections) == 4 else sections
    if any(each.condition for each in numeric):
        for each in numeric:
            if each.condition is None or _holds(value, *each.condition):
                return each
        return None
    if len(numeric) == 1 or value > 0:
        return numeric[0]
    if value < 0:
        return numeric[1]
    return numeric[2] if len(numeric) > 2 else numeric[0]


def _holds(value: float, sign: str, other: float) -> bool:
    return {
        "<": value < other,
        "<=": value <= other,
        ">": value > other,
        ">=": value >= other,
        "=": value == other,
        "<>": value != other,
    }[sign]


def is_date(code: str) -> bool:
    """Tell whether a format shows a date or a time."""
    plain = re.sub(r'"[^"]*"|\\.', "", sections_of(code)[0].code)
    return bool(_DATES.search(plain.lower())) and "general" not in plain.lower()


def shown(code: str, value: float | str, from_1904: bool = False) -> str:
    """Give a value about as programs show it: enough to know it by."""
    section = section_for(code, value)
    if isinstance(value, str):
        return value if section is None or section.code else ""
    if section is not None and not section.code and len(sections_of(code)) > 1:
        return ""
    if is_date(code):
        return _date(code, value, from_1904)
    plain = section.code if section is not None else "General"
    return _number(plain, value, len(sections_of(code)) > 1)


def _date(code: str, value: float, from_1904: bool) -> str:
    if not 0 <= value <= LAST_SERIAL:
        return "#" * 6
    moment = (FIRST_DAY_1904 if from_1904 else FIRST_DAY) + timedelta(days=value)
    lowered = code.lower()
    parts = []
    if "y" in lowered or "d" in lowered:
        parts.append(moment.strftime("%Y-%m-%d"))
    if "h" in lowered or "s" in lowered:
        parts.append(moment.strftime("%H:%M"))
    return " ".join(parts) or moment.strftime("%B")


def _number(code: str, value: float, signed_by_section: bool) -> str:
    digits = re.sub(r'"([^"]*)"|\\(.)', "", code)
    if "general" in code.lower() or not re.search(r"[0#?]", digits):
        before = re.sub(r'"([^"]*)"', r"\1", code) if "general" not in code.lower() else ""
        return before or f"{value:.10g}"
    if signed_by_section and value < 0:
        value = -value
    percent = "%" in digits
    if percent:
        value *= 100
    decimals = re.search(r"\.([0#?]+)", digits)
    places = len(decimals.group(1)) if decimals else 0
    if "e+" in digits.lower():
        text = f"{value:.{places}E}"
    else:
        text = f"{value:,.{places}f}" if "," in digits else f"{value:.{places}f}"
    match = re.search(r"[0#?][0#?,.]*(?:[eE][+-]0+)?", code)
    start, end = match.span() if match is not None else (0, len(code))
    around = [re.sub(r'"([^"]*)"|\\(.)|[_*].', lambda m: m.group(1) or m.group(2) or "", part)
              for part in (code[:start], code[end:])]  # fmt: skip
    return f"{around[0]}{text}{around[1]}".strip()
