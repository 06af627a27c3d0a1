"""A table for terminals: what falls short and what needs eyes, alike ones on one line."""

from __future__ import annotations

import unicodedata

from high_pair.colour.ratio import shown_ratio
from high_pair.measure.alike import Alike, alike_groups
from high_pair.measure.seat_numbers import Reading
from high_pair.report.contents import Report, ReportedFile
from high_pair.report.terminal import plain
from high_pair.wcag.verdicts import Verdict

LISTED = (Verdict.FALLS_SHORT, Verdict.NEEDS_EYES)
TEXT_WIDTH = 34
# So many texts that don't read from a seat are listed.
MOST_SHORT = 12
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


def _seat_lines(file: ReportedFile, name: str) -> list[str]:
    """Say what reads from a seat, and list what doesn't, the shortest reach first."""
    every = [
        (pair, file.seats[pair.id][name])
        for pair in file.pairs
        if name in file.seats.get(pair.id, {})
    ]
    found = [each for each in every if not each[1].apart]
    counts = {each: sum(n.reading is each for _, n in found) for each in Reading}
    eyes = counts[Reading.NEEDS_EYES]
    lines = [
        f"from “{plain(name)}”: {counts[Reading.READS]} of {plural_texts(len(found))} read, "
        f"{counts[Reading.FALLS_SHORT]} don't" + (f", {eyes} need eyes" if eyes else "")
    ]
    short = sorted(
        (each for each in found if each[1].reading is Reading.FALLS_SHORT),
        key=lambda each: each[1].reach,
    )
    for pair, numbers in short[:MOST_SHORT]:
        lines.append(
            f"  reads to {numbers.reach:5.2f} m  x {numbers.angle:5.1f}′  "
            f"ratio {shown_ratio(numbers.ratio):>5}  reserve ×{numbers.reserve:<5.1f}  "
            f"page {pair.page}  {cut(pair.text, TEXT_WIDTH)}"
        )
    if len(short) > MOST_SHORT:
        lines.append(f"  and {len(short) - MOST_SHORT} more")
    busy = [each for each in found if each[1].busy and each[1].reading is Reading.READS]
    links = [each for each in every if each[1].apart and each[1].reading is Reading.FALLS_SHORT]
    for words, listed in (("busy behind", busy), ("a link as its text", links)):
        for pair, numbers in listed[:MOST_SHORT]:
            beside = f"ratio {shown_ratio(numbers.ratio):>5}"
            known = f"unrest {numbers.unrest:5.2f}" if not numbers.apart else beside
            lines.append(f"  {words}  {known}  page {pair.page}  {cut(pair.text, TEXT_WIDTH)}")
        if len(listed) > MOST_SHORT:
            lines.append(f"  and {len(listed) - MOST_SHORT} more")
    return lines


def plural_texts(count: int) -> str:
    """Count texts."""
    return f"{count} text" + ("" if count == 1 else "s")


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
        for name in dict.fromkeys(name for each in file.seats.values() for name in each):
            lines += ["", *_seat_lines(file, name)]
        blocks.append("\n".join(lines))
    return "\n\n".join(blocks) + ("\n" if blocks else "")
