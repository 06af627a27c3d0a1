"""Measure audits: the same again, a summary of a million pairs, a file's time, and memory.

python -m benchmarks.audit [again|pairs|files|memory …]     all but memory, without a word
"""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.util import Pt

from high_pair.formats import open_document
from high_pair.formats.web.settings import WebSettings
from high_pair.report.findings import Findings
from high_pair.report.rows import rows_in
from high_pair.report.store import FileRows, Store
from high_pair.review.auditing import AuditWishes, audit
from high_pair.review.measuring import review_pages
from high_pair.review.overview import overview_of
from high_pair.review.parallel import usable_processes
from high_pair.wcag.asked import Asked

DECKS, SLIDES, TEXTS = 40, 10, 12
FILES, PAIRS = 1000, 1000
FEW, MANY = 100, 10_000
# What runs an audit and says how much memory it took itself at most, in KiB.
PARENT = """
import resource, sys
from high_pair.cli import main
main(["audit", sys.argv[1], "--store", sys.argv[2], "--fail-on", "never"])
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)
"""


def write_deck(path: Path, number: int, slides: int, texts: int) -> None:
    """Write a deck with texts of many greys."""
    deck = Presentation()
    for page in range(slides):
        slide = deck.slides.add_slide(deck.slide_layouts[6])
        for text in range(texts):
            box = slide.shapes.add_textbox(Pt(40), Pt(20 + 40 * text), Pt(500), Pt(30))
            run = box.text_frame.paragraphs[0].add_run()
            run.text, run.font.size = f"Sailing {number} {page} {text}", Pt(14)
            level = (37 * number + 11 * page + 17 * text) % 256
            run.font.color.rgb = RGBColor.from_string(f"{level:02X}" * 3)  # type: ignore[no-untyped-call]
    deck.save(str(path))


def wishes(folder: Path) -> AuditWishes:
    """Give the audit of a folder by all of this machine's processors."""
    return AuditWishes((str(folder),), Asked(), WebSettings(), jobs=usable_processes())


def say(words: str) -> None:
    """Print a line."""
    sys.stdout.write(f"{words}\n")
    sys.stdout.flush()


def again(folder: Path) -> None:
    """Time an audit, and the same over again."""
    share = folder / "share"
    share.mkdir()
    for number in range(DECKS):
        write_deck(share / f"{number:04}.pptx", number, SLIDES, TEXTS)
    store = Store(folder / "audit.sqlite")
    took = []
    for _ in range(2):
        start = time.perf_counter()
        audit(wishes(share), store, lambda *_: None)
        took.append(time.perf_counter() - start)
    store.close()
    say(f"{DECKS} decks of {SLIDES} slides: {took[0]:.1f} s, again {took[1]:.2f} s, "
        f"{took[1] / took[0]:.1%} (target 2%)")  # fmt: skip


def pairs(folder: Path) -> None:
    """Time a summary, and all that the Report desk shows, of a million pairs."""
    store = Store(folder / "large.sqlite")
    run = store.begin({})
    told = {
        "id": "p1-0001", "page": 1, "where": "Slide 1 › Title 2", "address": "slide1.xml#sp=2",
        "subject": "text", "text": "Words", "size_pt": 12.0, "bold": False, "size_class": "normal",
        "foreground": "#777777", "background": "#FFFFFF", "backdrop": "solid", "ratio": 4.48,
        "ratio_lowest": 4.48, "ratio_median": 4.48, "ratio_highest": 4.48, "share_below": 1.0,
        "criterion": "1.4.3", "required": 4.5, "verdict": "passes", "reason": "",
        "bbox": [0.0, 0.0, 9.0, 9.0], "colour_origin": "run", "layout": "exact",
    }  # fmt: skip
    for file in range(FILES):
        listed = [
            {**told, "ratio": 1.0 + (file * 7 + each * 13) % 2000 / 100, "colour_origin":
             f"style {each % 40}", "verdict": "falls_short" if each % 5 == 0 else "passes"}
            for each in range(PAIRS)
        ]  # fmt: skip
        store.keep(run, FileRows(str(file), "d", "slides", "", 0.0, rows_in(listed, str(file))))
    store.finish(run, [str(file) for file in range(FILES)])
    findings = Findings(store, run)
    for words, ask in (
        ("a summary", findings.summary),
        ("all that the Report desk shows", lambda: overview_of(findings, findings)),
    ):
        start = time.perf_counter()
        ask()
        took = time.perf_counter() - start
        say(f"{FILES * PAIRS:,} pairs: {words} in {took:.2f} s")
    store.close()


def files(folder: Path) -> None:
    """Time a file of an audit, held against reviewing all in one process."""
    share = folder / "share"
    share.mkdir()
    for number in range(FILES):
        write_deck(share / f"{number:04}.pptx", number, 1, 4)
    store = Store(folder / "audit.sqlite")
    start = time.perf_counter()
    audit(wishes(share), store, lambda *_: None)
    audited = time.perf_counter() - start
    store.close()
    start = time.perf_counter()
    for path in sorted(share.iterdir()):
        list(review_pages(open_document(path), Asked()))
    alone = time.perf_counter() - start
    say(f"{FILES:,} files of one slide: {1000 * audited / FILES:.0f} ms a file audited by "
        f"{usable_processes()} processes, {1000 * alone / FILES:.0f} ms in one process, "
        f"{audited / alone:.2f} x")  # fmt: skip


def memory(folder: Path) -> None:
    """Hold an audit's own memory over many files against that over few."""
    one = folder / "one.pptx"
    write_deck(one, 1, 1, 1)
    found = []
    for count in (FEW, MANY):
        share = folder / str(count)
        share.mkdir()
        for number in range(count):
            shutil.copy(one, share / f"{number:05}.pptx")
        start = time.perf_counter()
        command = [sys.executable, "-c", PARENT, str(share), str(folder / f"{count}.sqlite")]
        done = subprocess.run(command, capture_output=True, text=True, check=True)
        found.append(int(done.stdout.split()[-1]) / 1024)
        say(f"{count:,} files: {found[-1]:.0f} MiB, {time.perf_counter() - start:.0f} s")
    say(f"memory: {found[1] / found[0]:.2f} x (target 1.2)")


MEASURES: dict[str, Callable[[Path], None]] = {
    "again": again, "pairs": pairs, "files": files, "memory": memory,
}  # fmt: skip


def main() -> None:
    """Measure what was named."""
    for name in sys.argv[1:] or ["again", "pairs", "files"]:
        with tempfile.TemporaryDirectory() as place:
            MEASURES[name](Path(place))


if __name__ == "__main__":
    main()
