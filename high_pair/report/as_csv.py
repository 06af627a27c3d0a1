"""A report as CSV: one row for each pair, which no spreadsheet takes for a formula.

Source: RFC 4180; the signs with which formulas begin, as spreadsheet programs read them.
"""

from __future__ import annotations

import csv
from collections.abc import Iterable
from typing import TextIO

from high_pair.report.findings import Located

COLUMNS = (
    "page", "place", "subject", "text", "foreground", "background", "ratio", "required",
    "criterion", "verdict", "reason", "origin",
)  # fmt: skip
HEADINGS = ("path", *COLUMNS)
# A cell that begins so would be worked out by a program that opens the file.
FORMULA_SIGNS = ("=", "+", "-", "@", "\t", "\r", "\n", "|", "%")
PLAIN = "'"


def cell(value: object) -> str:
    """Write a value so that it is read as what it is; texts that look like formulas get an
    apostrophe before them."""
    if value is None:
        return ""
    if isinstance(value, float):
        return f"{value:.4f}".rstrip("0").rstrip(".")
    text = str(value).replace("\0", "")
    return f"{PLAIN}{text}" if text.startswith(FORMULA_SIGNS) else text


def write_csv(pairs: Iterable[Located], out: TextIO) -> None:
    """Write pairs under their headings, with lines that end as RFC 4180 has it."""
    writer = csv.writer(out)
    writer.writerow(HEADINGS)
    for pair in pairs:
        values = (pair.path, *(getattr(pair.row, name) for name in COLUMNS))
        writer.writerow([cell(value) for value in values])
