"""The day by which rules about dates are worked out, and which days its periods have.

Source: ECMA-376 Part 1 §18.18.83 (time periods); of OpenDocument the extension that writers use.
"""

from __future__ import annotations

import os
import re
from datetime import UTC, date, datetime, timedelta

from high_pair.formats.number_formats import FIRST_DAY, FIRST_DAY_1904

# By reproducible-builds.org's specification: the moment, in seconds of Unix time, that a tool takes
# for now.
GIVEN = "SOURCE_DATE_EPOCH"
# Words in a formula, in which it asks for nothing, or a question for now.
_NOW = re.compile(r'"[^"]*"|\b(?:TODAY|NOW)\s*\(\s*\)', re.IGNORECASE)
# Periods go on into the next year but one.
LAST_YEAR = 9_997
# Sunday is a week's first day (§18.18.83); Python counts from Monday.
_FROM_SUNDAY = 1


def today() -> date:
    """Give the day that counts as today: the one that is given, else the calendar's."""
    given = os.environ.get(GIVEN, "")
    if given.isdecimal():
        try:
            day = datetime.fromtimestamp(int(given), UTC).date()
        except (OverflowError, ValueError, OSError):
            return date.today()
        if day.year <= LAST_YEAR:
            return day
    return date.today()


def number_of(day: date, from_1904: bool = False) -> int:
    """Give the number that cells have for a day."""
    first = FIRST_DAY_1904 if from_1904 else FIRST_DAY
    return (day - first.date()).days


def is_by_date(formula: str) -> bool:
    """Tell whether a formula asks for today."""
    return any(not match.group().startswith('"') for match in _NOW.finditer(formula))


def at_day(formula: str, from_1904: bool) -> str:
    """Write a formula with today's number where it asks for it."""
    number = str(number_of(today(), from_1904))
    return _NOW.sub(
        lambda match: match.group() if match.group().startswith('"') else number, formula
    )


def period_of(name: str, day: date) -> tuple[date, date] | None:
    """Give the first and the last day of a period; None for one that isn't known."""
    week = day - timedelta(days=(day.weekday() + _FROM_SUNDAY) % 7)
    month, year = day.replace(day=1), day.replace(month=1, day=1)
    next_month = (month + timedelta(days=31)).replace(day=1)
    one, seven = timedelta(days=1), timedelta(days=7)
    next_year = year.replace(year=year.year + 1)
    known = {
        "today": (day, day),
        "yesterday": (day - one, day - one),
        "tomorrow": (day + one, day + one),
        "last7Days": (day - 6 * one, day),
        "thisWeek": (week, week + 6 * one),
        "lastWeek": (week - seven, week - one),
        "nextWeek": (week + seven, week + 2 * seven - one),
        "thisMonth": (month, next_month - one),
        "lastMonth": ((month - one).replace(day=1), month - one),
        "nextMonth": (next_month, (next_month + timedelta(days=31)).replace(day=1) - one),
        "thisYear": (year, next_year - one),
        "lastYear": (year.replace(year=year.year - 1), year - one),
        "nextYear": (next_year, next_year.replace(year=next_year.year + 1) - one),
    }
    return known.get(name)
