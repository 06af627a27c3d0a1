"""Time the review of a long web page against the engine's own loading and painting of it.

    python -m benchmarks.web [ROUNDS]

The page has 2,500 text nodes and is 12,000 pixels high; it has a menu, tables,
pictures, tinted boxes and looks on hover and focus. The engine's own time is
from asking for the page until it has been quiet for half a second, and one
frame of the whole page after that. Memory is what all processes of the engine
hold, before, while the page is open, and after it is closed.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from pathlib import Path

from high_pair.formats.web.engine_process import FILES, shared_engine
from high_pair.formats.web.settings import WebSettings
from high_pair.formats.web.web_file import WebFile
from high_pair.review.measuring import measured
from high_pair.wcag.asked import Asked

ROWS = 590
WORDS = tuple("Sailings leave from the north pier while the linkspan is painted in spring".split())  # noqa: SIM905


def page() -> str:
    """Give the page's text."""
    parts = []
    for number in range(ROWS):
        words = " ".join(WORDS[(number + k) % len(WORDS)] for k in range(7))
        if number % 10 == 0:
            parts.append(f"<h2>Part {number // 10 + 1}</h2>")
        if number % 5 == 0:
            parts.append(f'<div class="box">{words} <a href="#">{words}</a> {words}</div>')
        elif number % 5 == 1:
            cells = "".join(f"<td>{number}:{cell}0 {WORDS[cell]}</td>" for cell in range(6))
            parts.append(f"<table><tr>{cells}</tr></table>")
        else:
            parts.append(f"<p>{words} <em>{words}</em> {words} <b>{words}</b></p>")
    menu = "".join(f'<a href="#">Page {number}</a> ' for number in range(8))
    return (
        "<!doctype html><html lang=en><head><meta charset=utf-8><title>Long</title><style>"
        "body{margin:0 40px;font:14px/17px Arial;color:#334} .box{background:#eef2f4;color:#789;"
        "line-height:22px} a{color:#27a;text-decoration:none} a:hover{color:#9cf}"
        "a:focus{outline:2px solid #9cf} h2{background:linear-gradient(90deg,#135,#9bd);color:#fff;"
        "font-size:18px;line-height:22px;margin:3px 0} p{margin:2px 0;height:16px;overflow:hidden}"
        "table{width:100%} td{background:#dde;color:#667;padding:1px 5px} nav{background:#123}"
        f"</style></head><body><nav>{menu}</nav>{''.join(parts)}</body></html>"
    )


def resident(group: int) -> float:
    """Give what the processes of a group hold in memory, in MB; each page of memory once."""
    total = 0
    for status in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = status.read_text().rpartition(")")[2].split()
            if int(fields[2]) == group:
                rollup = (status.parent / "smaps_rollup").read_text()
                line = next(each for each in rollup.splitlines() if each.startswith("Pss:"))
                total += int(line.split()[1])
        except (OSError, StopIteration, ValueError):
            continue
    return total / 1024


def main(rounds: int) -> None:
    """Time some rounds."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "long.html"
        path.write_text(page())
        small = Path(folder) / "small.html"
        small.write_text("<p>Small")
        # The engine's start is no part of either time.
        kept = WebFile(small)
        group = shared_engine(FILES).group
        before = resident(group)
        for settings, name in (
            (WebSettings(), "with states"),
            (WebSettings(states=False), "at rest"),
        ):
            ratios = []
            for _ in range(rounds):
                start = time.monotonic()
                file = WebFile(path, settings)
                told = file.told(0)
                found = measured(file, 0, Asked())
                whole = time.monotonic() - start
                own = told["times"]["load"] + file.frame_seconds(0)
                ratios.append(whole / own)
                held = resident(group)
                texts = sum(len(text["words"]) > 0 for text in told["texts"])
                print(
                    f"{name}: engine {own:.2f} s, review {whole:.2f} s, {whole / own:.2f} times; "
                    f"{texts} texts, {len(found.pairs)} pairs, {told['height']} px, {held:.0f} MB",
                    {k: round(v, 2) for k, v in told["times"].items()},
                )
                file.close()
            time.sleep(1.0)
            print(f"{name}: {statistics.median(ratios):.2f} times (3 asked)")
        print(f"memory: {before:.0f} MB before, {resident(group):.0f} MB after")
        kept.close()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 3)
