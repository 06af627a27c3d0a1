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
_DATE_TOKEN = re.compile(
    r"""\"[^"]*"|\\.|[_*].|\[[hms]+\]|AM/PM|A/P|y+|m+|d+|h+|s+|.""", re.IGNORECASE | re.DOTALL
)
# What is shown as it is, and what leaves room for a letter or fills a cell.
_QUOTED = re.compile(r'"([^"]*)"|\\(.)|[_*].', re.DOTALL)
_PLACES = re.compile(r"[0#?][0#?,.]*(?:[eE][+-]0+)?")
_GROUPED = re.compile(r"[0#?],[0#?]")
FIRST_DAY = datetime(1899, 12, 30)
FIRST_DAY_1904 = datetime(1904, 1, 1)
LAST_DAY = datetime(9999, 12, 31)
# No program writes a longer code,
LONGEST_CODE = 255
# nor one that divides by a thousand more often.
MOST_SCALED = 20


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
    """Keep of a bracket what is a count of hours, minutes or seconds, or a currency's sign."""
    inside = match.group(1)
    if inside and set(inside.lower()) <= set("hms"):
        return match.group()
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
            if each.condition is None or holds(value, *each.condition):
                return each
        return None
    if len(numeric) == 1 or value > 0:
        return numeric[0]
    if value < 0:
        return numeric[1]
    return numeric[2] if len(numeric) > 2 else numeric[0]


def holds(value: float, sign: str, other: float) -> bool:
    """Compare two numbers by a sign; unequal has one in each family of formats."""
    return {
        "<": value < other,
        "<=": value <= other,
        ">": value > other,
        ">=": value >= other,
        "=": value == other,
        "<>": value != other,
        "!=": value != other,
    }[sign]


def is_date(code: str) -> bool:
    """Tell whether a format shows a date or a time."""
    plain = re.sub(r'"[^"]*"|\\.', "", sections_of(code)[0].code)
    return bool(_DATES.search(plain.lower())) and "general" not in plain.lower()


def shown(code: str, value: float | str, from_1904: bool = False) -> str:
    """Give a value about as programs show it: enough to know it by."""
    if len(code) > LONGEST_CODE:
        code = "General"
    section = section_for(code, value)
    if isinstance(value, str):
        return value if section is None or section.code else ""
    if section is not None and not section.code and len(sections_of(code)) > 1:
        return ""
    if is_date(code):
        return _date(section.code if section is not None else code, value, from_1904)
    plain = section.code if section is not None else "General"
    return _number(plain, value, len(sections_of(code)) > 1)


def _date(code: str, value: float, from_1904: bool) -> str:
    """Write a day's number, with its part of a day, as a code says; names are English."""
    first = FIRST_DAY_1904 if from_1904 else FIRST_DAY
    if not 0 <= value <= (LAST_DAY - first).days:
        return "#" * 6
    moment = first + timedelta(days=value)
    # To the second, lest a minute is shown that hasn't quite passed.
    moment = (moment + timedelta(microseconds=500_000)).replace(microsecond=0)
    tokens = _DATE_TOKEN.findall(code)
    halves = any("/" in token and token[0] in "aA" for token in tokens)
    words, before = [], ""
    for place, token in enumerate(tokens):
        following = next((t for t in tokens[place + 1 :] if t[0].lower() in "ymdhs"), "")
        minutes = before[:1] == "h" or following[:1].lower() == "s"
        words.append(_date_part(token, moment, value, minutes, halves))
        if token[0].lower() in "ymdhs" or token[0] == "[":
            before = token.lower().strip("[]")
    return "".join(words)


def _date_part(token: str, moment: datetime, days: float, minutes: bool, halves: bool) -> str:
    """Write one part of a date. minutes: an m means them; halves: hours go to twelve twice."""
    low, many = token.lower(), len(token)
    if low[0] == "[":
        whole = int(days * {"h": 24, "m": 1_440, "s": 86_400}[low[1]] + 1e-6)
        return f"{whole:0{many - 2}d}"
    if low[0] == "y":
        return moment.strftime("%Y" if many > 2 else "%y").zfill(4 if many > 2 else 2)
    if low[0] == "m" and not minutes and many > 2:
        name = moment.strftime("%b" if many == 3 else "%B")
        return name[0] if many == 5 else name
    if low[0] == "d" and many > 2:
        return moment.strftime("%a" if many == 3 else "%A")
    hour = (moment.hour + 11) % 12 + 1 if halves else moment.hour
    counts = {
        "m": moment.minute if minutes else moment.month,
        "d": moment.day,
        "h": hour,
        "s": moment.second,
    }
    if low[0] in counts:
        return f"{counts[low[0]]:0{min(2, many)}d}"
    if "/" in token and low[0] == "a":
        return ("AM" if moment.hour < 12 else "PM")[: 2 if many > 3 else 1]
    return _literal(token)


def _literal(code: str) -> str:
    """Give what stands in a code to be shown as it is: quotes and escapes off, blanks out."""
    return _QUOTED.sub(lambda match: match.group(1) or match.group(2) or "", code)


def _number(code: str, value: float, signed_by_section: bool) -> str:
    digits = re.sub(r'"([^"]*)"|\\(.)', "", code)
    if "general" in code.lower() or not re.search(r"[0#?]", digits):
        before = _literal(code) if "general" not in code.lower() else ""
        return before.strip() or f"{value:.10g}"
    if signed_by_section and value < 0:
        value = -value
    if "%" in digits:
        value *= 100
    # A comma after the last digit divides by a thousand, one between two groups by thousands.
    scaled = re.search(r"[0#?](,+)(?=[^0#?,]*$)", digits)
    value /= 1000.0 ** min(len(scaled.group(1)), MOST_SCALED) if scaled else 1.0
    decimals = re.search(r"\.([0#?]+)", digits)
    places = len(decimals.group(1)) if decimals else 0
    if "e+" in digits.lower():
        text = f"{value:.{places}E}"
    else:
        text = f"{value:,.{places}f}" if _GROUPED.search(digits) else f"{value:.{places}f}"
    match = _PLACES.search(_QUOTED.sub(lambda found: "\0" * len(found.group()), code))
    start, end = match.span() if match is not None else (0, len(code))
    return f"{_literal(code[:start])}{text}{_literal(code[end:])}".strip()
