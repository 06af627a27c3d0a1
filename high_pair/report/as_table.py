"""A table for terminals: what falls short and what needs eyes, alike ones on one line."""

from __future__ import annotations

import unicodedata

from high_pair.colour.ratio import shown_ratio
from high_pair.measure.alike import Alike, alike_groups
from high_pair.report.contents import Report, ReportedFile
from high_pair.report.terminal import plain
from high_pair.wcag.verdicts import Verdict

LISTED = (Verdict.FALLS_SHORT, Verdict.NEEDS_EYES)
TEXT_WIDTH = 34
HEADINGS = ("verdict", "ratio", "asked", "text", "colours", "pages", "size", "colour from")


def width_of(text: str) -> int:
    """Give the columns a text takes on a terminal."""
    return sum(
        0 if unicodedata.combining(c) else 2 if unicodedata.east_asian_width(c) in "WF" else 1
        for c in text
    )


def cut(text: str, width: int) -> str:
    """Shorten a text to so many columns; what can't be printed is written as its number."""
    clean = plain(text)
    if width_of(clean) <= width:
        return clean
    kept = ""
    for character in clean:
        if width_of(kept + character) > width - 1:
            break
        kept += character
    return kept.rstrip() + "…"


def page_words(group: Alike) -> str:
    """Write the pages of alike pairs: `2`, or `2, 5 and 7 (4 places)`."""
    pages = sorted({pair.page for pair in group.pairs})
    shown = [str(page) for page in pages[:4]] + (["…"] if len(pages) > 4 else [])
    words = shown[0] if len(shown) == 1 else f"{', '.join(shown[:-1])} and {shown[-1]}"
    return words if len(group.pairs) == 1 else f"{words} ({len(group.pairs)} places)"


def _row(group: Alike) -> tuple[str, ...]:
    pair = group.weakest
    numbers = pair.numbers
    colours = f"{numbers.foreground} on {numbers.background}" if numbers else ""
    if numbers and numbers.varied:
        colours += " varied"
    return (
        pair.verdict.words,
        shown_ratio(numbers.ratio) if numbers else "–",
        f"{pair.required:g}",
        cut(pair.text, TEXT_WIDTH),
        colours,
        page_words(group),
        f"{pair.size:.4g} pt" + (" bold" if pair.bold else "") if pair.size else "",
        plain(pair.reason or pair.origin),
    )


def _lines(rows: list[tuple[str, ...]]) -> list[str]:
    widths = [max(width_of(row[column]) for row in rows) for column in range(len(HEADINGS))]
    lines = []
    for row in rows:
        cells = []
        for column, cell in enumerate(row):
            blanks = " " * (widths[column] - width_of(cell))
            # Numbers stand at the right, so that their sizes compare.
            cells.append(blanks + cell if column in (1, 2) else cell + blanks)
        lines.append("  ".join(cells).rstrip())
    return lines


def summary_of(file: ReportedFile) -> str:
    """Count a file's pairs by verdict, in words."""
    counts = {verdict: sum(p.verdict is verdict for p in file.pairs) for verdict in Verdict}
    parts = [f"{counts[verdict]} {verdict.words}" for verdict in Verdict if counts[verdict]]
    pages = f"{len(file.pages)} page" + ("" if len(file.pages) == 1 else "s")
    return f"{cut(file.path, 200)}: {pages}, " + (", ".join(parts) or "no text")


def write_table(report: Report) -> str:
    """Write a report as text."""
    blocks = []
    for file in report.files:
        if file.error is not None:
            continue
        lines = [summary_of(file)]
        lines += [f"  assumed: {plain(sentence)}" for sentence in file.assumed]
        listed = [group for group in alike_groups(file.pairs) if group.weakest.verdict in LISTED]
        if listed:
            lines += ["", *_lines([HEADINGS, *(_row(group) for group in listed)])]
        blocks.append("\n".join(lines))
    return "\n\n".join(blocks) + ("\n" if blocks else "")
