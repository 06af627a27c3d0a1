"""Fit what tells the contrast of thin strokes in pictures.

    python -m tools.fit_strokes [FOLDER_OF_FONTS]

Writes `high_pair/data/thin-strokes.npz`, from generated pictures of other seeds than the
tests use: with the program's fonts, and with those of a folder and words that are made up,
so that it holds for the letters of strangers too. Takes a quarter of an hour.
"""

from __future__ import annotations

import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import numpy as np
from PIL import ImageFont

from high_pair.colour.srgb import from_bytes
from high_pair.measure.behind import behind_text
from high_pair.measure.ink_reader import YCC, read_ink
from high_pair.measure.letters import LETTER, LETTERS, line_height
from high_pair.measure.thin_strokes import FARTHEST, FITTED, quadratic, stroke_figures
from tests.measure.text_pictures import FONTS, WORDS, make
from tools.ink_pictures import words

FIRST_SEED, SEEDS, PICTURES, LARGEST = 300, 500, 20, 34
FIRST_STRANGE_SEED, STRANGE_SEEDS, LONGEST = 1400, 240, 22
SIZES = (11.0, 13.0, 16.0, 20.0, 25.0, 33.0)
# How far the quadratic's factors are held back, of 100 pictures; and the least contrast fitted to.
RIDGE, LEAST_CONTRAST = 0.2, 0.02

LETTERS_AND_DIGITS = "aegnrstAEMW0248"

# A picture's size, the true contrast in lightness, and the figures.
Row = tuple[float, float, np.ndarray]


def rows_of(seed: int, fonts: Sequence[str] = ()) -> list[Row]:
    """Give the rows of some pictures; fonts: files to choose from, else the program's own."""
    random = np.random.default_rng(seed + 1_000_000)
    chosen, said = FONTS, WORDS
    if fonts:
        chosen = tuple(fonts[int(place)] for place in random.integers(0, len(fonts), len(FONTS)))
        said = tuple(words(random, int(random.integers(2, 4)))[:LONGEST] for _ in WORDS)
    found = []
    # Their number differs, so that each font comes in each size.
    count = PICTURES + seed % 11
    for picture in make(count, seed, largest=LARGEST, fonts=chosen, words=said):
        ink = read_ink(picture.pixels)
        if not (ink >= LETTER).any():
            continue
        ycc = from_bytes(picture.pixels) @ YCC.T
        behind = behind_text(ycc, ink)[..., 0]
        text = float((from_bytes(np.array(picture.colour, np.uint8)) @ YCC.T)[0])
        figures, sign, _ = stroke_figures(ycc[..., 0], behind, ink)
        contrast = sign * float(np.median((text - behind)[ink >= LETTER]))
        if contrast > LEAST_CONTRAST:
            found.append((line_height(ink) / LETTERS, contrast, figures))
    return found


def fitted(rows: Sequence[Row]) -> dict[str, np.ndarray]:
    """Fit a quadratic for each range of sizes, by least squares that hold large factors back."""
    middles, spreads, factors = [], [], []
    smallest = 0.0
    for largest in SIZES:
        own = [row for row in rows if smallest <= row[0] < largest]
        figures = np.array([each for _, _, each in own])
        middle, spread = figures.mean(axis=0), figures.std(axis=0) + 1e-6
        terms = quadratic(np.clip((figures - middle) / spread, -FARTHEST, FARTHEST))
        wanted = np.log([contrast for _, contrast, _ in own])
        held = RIDGE * len(own) / 100 * np.eye(terms.shape[1])
        held[0, 0] = 0.0
        solved = np.linalg.solve(terms.T @ terms + held, terms.T @ wanted)
        print(f"to {largest:g} pixels: {len(own)} pictures", flush=True)
        for table, values in ((middles, middle), (spreads, spread), (factors, solved)):
            table.append(values)
        smallest = largest
    tables = {"largest": SIZES, "middle": middles, "spread": spreads, "factors": factors}
    return {name: np.array(table, np.float32) for name, table in tables.items()}


def _has_letters(file: str) -> bool:
    """Tell whether a font draws Latin letters, which some have none of."""
    drawn = [ImageFont.truetype(file, 20).getmask(each).getbbox() for each in LETTERS_AND_DIGITS]
    return all(drawn)


def main(folder: str) -> None:
    """Write the fitted table."""
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(rows_of, range(FIRST_SEED, FIRST_SEED + SEEDS)))
        if folder:
            files = sorted(str(path.resolve()) for path in Path(folder).iterdir())
            fonts = [file for file in files if _has_letters(file)]
            strange = range(FIRST_STRANGE_SEED, FIRST_STRANGE_SEED + STRANGE_SEEDS)
            found += list(pool.map(partial(rows_of, fonts=fonts), strange))
    rows = [row for some in found for row in some]
    np.savez_compressed(FITTED, **fitted(rows))


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "")
