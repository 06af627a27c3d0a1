"""Measure an audit of generated decks, the same audit again, and a summary of a million pairs.

python -m benchmarks.audit [DECKS]
"""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.util import Pt

from high_pair.formats.web.settings import WebSettings
from high_pair.report.store import FileRows, Store
from high_pair.review.auditing import AuditWishes, audit
from high_pair.review.parallel import usable_processes
from high_pair.wcag.asked import Asked

DECKS, SLIDES, TEXTS = 60, 10, 12
FILES, PAIRS = 1000, 1000


def write_decks(folder: Path, count: int) -> None:
    """Write decks with texts of many greys."""
    for number in range(count):
        deck = Presentation()
        for page in range(SLIDES):
            slide = deck.slides.add_slide(deck.slide_layouts[6])
            for text in range(TEXTS):
                box = slide.shapes.add_textbox(Pt(40), Pt(20 + 40 * text), Pt(500), Pt(30))
                run = box.text_frame.paragraphs[0].add_run()
                run.text, run.font.size = f"Sailing {number} {page} {text}", Pt(14)
                level = (37 * number + 11 * page + 17 * text) % 256
                code = f"{level:02X}" * 3
                run.font.color.rgb = RGBColor.from_string(code)  # type: ignore[no-untyped-call]
        deck.save(str(folder / f"{number:04}.pptx"))


def main() -> None:
    """Print the times."""
    count = int(sys.argv[1]) if sys.argv[1:] else DECKS
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        (folder / "share").mkdir()
        write_decks(folder / "share", count)
        jobs = usable_processes()
        wishes = AuditWishes((str(folder / "share"),), Asked(), WebSettings(), jobs=jobs)
        store = Store(folder / "audit.sqlite")
        took = []
        for _ in range(2):
            start = time.perf_counter()
            audit(wishes, store, lambda *_: None)
            took.append(time.perf_counter() - start)
        sys.stdout.write(
            f"{count} decks: {took[0]:.1f} s, again {took[1]:.2f} s, {took[1] / took[0]:.1%} "
            "(target 2%)\n"
        )
        store.close()
        store = Store(folder / "large.sqlite")
        run = store.begin({})
        for file in range(FILES):
            rows = tuple(
                (f"{file}-{each}", 1, "text", "Words", "#777777", "#FFFFFF", 4.48, 4.5, "1.4.3",
                 "falls_short" if each % 5 == 0 else "passes", "", "Slide 1", "run")
                for each in range(PAIRS)
            )  # fmt: skip
            store.keep(run, FileRows(str(file), "d", "slides", "", 0.0, rows))
        store.finish(run, (str(file) for file in range(FILES)))
        start = time.perf_counter()
        store.summary(run)
        sys.stdout.write(
            f"{FILES * PAIRS:,} pairs: a summary in {time.perf_counter() - start:.2f} s "
            "(target 1)\n"
        )
        store.close()


if __name__ == "__main__":
    main()
