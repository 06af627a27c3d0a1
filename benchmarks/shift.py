"""Hold the map of where a text would pass against measuring: generated slides, places by places.

python -m benchmarks.shift [PAGES] [EVERY]
"""

from __future__ import annotations

import io
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
from PIL import Image
from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.util import Pt
from scipy import ndimage

from high_pair.formats import open_document
from high_pair.measure.page import MeasuredPage
from high_pair.remedy.shift import mover_for
from high_pair.review.measuring import measured
from high_pair.review.shifting import move_edits, moved_to
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict

WIDTH, HEIGHT = 960, 540
PAGES, EVERY = 20, 8


def photograph(seed: int) -> bytes:
    """Paint something like a photograph: colours in blots of many sizes, as PNG."""
    random = np.random.default_rng(seed)
    pixels = np.zeros((HEIGHT // 2, WIDTH // 2, 3))
    for size in (60, 20, 5):
        blots = random.normal(0, 1, pixels.shape)
        pixels += size * ndimage.gaussian_filter(blots, (size, size, 0)) * random.uniform(0.5, 1.5)
    low, high = np.percentile(pixels, (1, 99))
    levels = np.clip((pixels - low) / (high - low), 0, 1) * 255
    data = io.BytesIO()
    Image.fromarray(levels.astype(np.uint8)).save(data, "PNG")
    return data.getvalue()


def write_deck(path: Path, pages: int) -> None:
    """Write slides with a text over a picture each."""
    deck = Presentation()
    deck.slide_width, deck.slide_height = Pt(WIDTH), Pt(HEIGHT)
    random = np.random.default_rng(7)
    for page in range(pages):
        slide = deck.slides.add_slide(deck.slide_layouts[6])
        slide.shapes.add_picture(io.BytesIO(photograph(page)), 0, 0, Pt(WIDTH), Pt(HEIGHT))
        x, y = random.uniform(40, 500), random.uniform(40, 400)
        box = slide.shapes.add_textbox(Pt(x), Pt(y), Pt(320), Pt(80))
        box.text_frame.word_wrap = True
        run = box.text_frame.paragraphs[0].add_run()
        run.text = "Mind the gap between ship and shore"
        run.font.size, run.font.name = Pt(int(random.choice([16, 20, 28]))), "Carlito"
        level = int(random.choice([0, 255]))
        colour = RGBColor.from_string(f"{level:02X}" * 3)  # type: ignore[no-untyped-call]
        run.font.color.rgb = colour
    deck.save(str(path))


def compared(path: Path, number: int, every: int) -> tuple[int, int, int, float]:
    """Give how many places were measured, passed, and differ from the map; and the map's time."""
    document = open_document(path)
    page: MeasuredPage = measured(document, number, Asked())
    (pair,) = page.pairs
    start = time.perf_counter()
    mover = mover_for(page, pair, Asked().coverage)
    assert not isinstance(mover, str), mover
    places = mover.places()
    took = time.perf_counter() - start
    count = passed = wrong = 0
    for row in range(0, len(places.down), every):
        for column in range(0, len(places.across), every):
            at = (int(places.across[column]), int(places.down[row]))
            moved = moved_to(mover, pair, document, page, at)
            assert moved is not None
            (there,) = measured(document.edited(move_edits(moved)), number, Asked()).pairs
            count += 1
            passes = there.verdict is Verdict.PASSES
            passed += passes
            wrong += passes != bool(places.passing[row, column])
    document.close()
    return count, passed, wrong, took


def main() -> None:
    """Print for each page what was compared."""
    words = [int(word) for word in sys.argv[1:]]
    pages, every = words if len(words) == 2 else (PAGES, EVERY)
    total = np.zeros(3, int)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shift.pptx"
        write_deck(path, pages)
        for number in range(pages):
            *found, took = compared(path, number, every)
            total += found
            sys.stdout.write(
                f"page {number + 1}: {found[0]} places, {found[1]} pass, {found[2]} differ, "
                f"the map took {took * 1000:.0f} ms\n"
            )
            sys.stdout.flush()
    sys.stdout.write(f"all: {total[0]} places, {total[1]} pass, {total[2]} differ\n")


if __name__ == "__main__":
    main()
