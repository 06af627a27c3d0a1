"""Make the demo poster of Ostrel Bay Ferries: a picture, whose text is in its pixels.

    python -m tools.make_poster [FOLDER]

The same seed gives the same picture, to the byte.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from tools import photographs
from tools.make_demo import FOLDER, SEED

FONTS = FOLDER.parent / "fonts"
NAME = "night-sailings-poster.png"
SIZE = (900, 1200)
# The place of the left end of each line, its size in pixels, font, colour and words.
LINES = (
    ((64, 70), 92, "carlito/Carlito-Bold.ttf", "#F4F7F8", "Night sailings"),
    ((66, 176), 40, "carlito/Carlito-Regular.ttf", "#8FA3B0", "to Ostrel Bay and the islands"),
    ((64, 560), 34, "caladea/Caladea-Regular.ttf", "#E0952B", "Every Friday from 22:15"),
    ((64, 900), 30, "carlito/Carlito-Regular.ttf", "#1E3D4F", "Foot passengers 8.40, cars 31.00"),
    ((64, 948), 30, "carlito/Carlito-Regular.ttf", "#93A5AE", "Bicycles travel free"),
    ((64, 1130), 19, "carlito/Carlito-Regular.ttf", "#5B6E79", "Sailings depend on the weather."),
)
PAPER, PAPER_FROM = "#F6F2E8", 840


def make(folder: Path) -> Path:
    """Make the poster in a folder; gives its path."""
    night = photographs.night_harbour(np.random.default_rng(SEED))
    scale = PAPER_FROM / night.shape[0]
    picture = Image.fromarray(night).resize((round(night.shape[1] * scale), PAPER_FROM))
    poster = Image.new("RGB", SIZE, PAPER)
    poster.paste(picture.crop((300, 0, 300 + SIZE[0], PAPER_FROM)), (0, 0))
    pen = ImageDraw.Draw(poster)
    for place, size, name, colour, words in LINES:
        pen.text(place, words, fill=colour, font=ImageFont.truetype(str(FONTS / name), size))
    target = folder / NAME
    poster.save(target, optimize=True)
    return target


if __name__ == "__main__":
    print(make(Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER))
