"""Make a deck for the benchmarks: so many slides, each with a photograph and three texts.

python -m benchmarks.make_deck SLIDES OUT.pptx [--one-picture]
"""

from __future__ import annotations

import io
import sys
from pathlib import Path

import numpy as np
from PIL import Image
from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.util import Pt

from tools.photographs import quay

SEED = 3
SIZE = (1920, 1080)
TEXTS = (
    ("Boarding on the quay", 32),
    ("Foot passengers board first, by the gangway; wait behind the yellow line", 26),
    ("Engines must be off until the ramp is down", 20),
)


def make(slides: int, target: Path, one_picture: bool = False) -> None:
    """Write the deck; with `one_picture`, all slides share a photograph."""
    random = np.random.default_rng(SEED)
    base = np.asarray(Image.fromarray(quay(random)).resize(SIZE)).astype(int)
    deck = Presentation()
    deck.slide_width, deck.slide_height = Pt(960), Pt(540)
    data = io.BytesIO()
    for count in range(slides):
        if count == 0 or not one_picture:
            pixels = np.clip(base + random.integers(-20, 20), 0, 255).astype(np.uint8)
            pixels[:40, :40] = random.integers(0, 255, (40, 40, 3))
            data = io.BytesIO()
            Image.fromarray(pixels).save(data, "JPEG", quality=88)
        data.seek(0)
        slide = deck.slides.add_slide(deck.slide_layouts[6])
        slide.shapes.add_picture(data, 0, 0, Pt(960), Pt(540))
        for row, (words, size) in enumerate(TEXTS):
            box = slide.shapes.add_textbox(Pt(60), Pt(60 + 120 * row), Pt(600), Pt(60))
            box.text_frame.text = words
            run = box.text_frame.paragraphs[0].runs[0]
            run.font.size, run.font.color.rgb = Pt(size), RGBColor(255, 255, 255)
    deck.save(str(target))


if __name__ == "__main__":
    make(int(sys.argv[1]), Path(sys.argv[2]), "--one-picture" in sys.argv)
