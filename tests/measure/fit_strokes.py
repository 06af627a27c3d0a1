"""Fit the constants by which the contrast of thin strokes is told from figures of them.

    python -m tests.measure.fit_strokes [HOW_MANY_SEEDS]

Prints the table for `high_pair/measure/separation.py`, from generated pictures
of other seeds than the tests use. Takes a minute or two.
"""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from high_pair.colour.srgb import from_bytes
from high_pair.measure.separation import LETTERS, YCC, NoText, line_height, separate, stroke_figures
from tests.measure.text_pictures import make

FIRST_SEED, PICTURES, LARGEST = 300, 20, 34
SIZES = (11.0, 13.0, 16.0, 20.0, 25.0, 33.0)
RIDGE = 1e-2


def rows_of(seed: int) -> list[tuple[float, float, np.ndarray]]:
    """Give for each picture its size, the true contrast in lightness, and the figures."""
    found = []
    # Their number differs, so that each font comes in each size.
    for picture in make(PICTURES + seed % 11, seed=seed, largest=LARGEST):
        try:
            apart = separate(picture.pixels)
        except NoText:
            continue
        letters = apart.ink >= 0.5
        lightness = (from_bytes(picture.pixels) @ YCC.T)[..., 0]
        behind = (from_bytes(apart.backdrop) @ YCC.T)[..., 0]
        text = (from_bytes(np.array(picture.colour, np.uint8)) @ YCC.T)[0]
        figures, sign, _ = stroke_figures(lightness, behind, apart.ink)
        contrast = sign * float(np.median((text - behind)[letters]))
        if contrast > 0.02:
            found.append((line_height(apart.ink) / LETTERS, contrast, figures))
    return found


def main(seeds: int) -> None:
    """Print the fitted table."""
    with ProcessPoolExecutor() as pool:
        rows = [
            row
            for found in pool.map(rows_of, range(FIRST_SEED, FIRST_SEED + seeds))
            for row in found
        ]
    smallest = 0.0
    for largest in SIZES:
        own = [row for row in rows if smallest <= row[0] < largest]
        columns = np.array([figures for _, _, figures in own])
        wanted = np.log([contrast for _, contrast, _ in own])
        square = columns.T @ columns + RIDGE * np.eye(columns.shape[1])
        solved = np.linalg.solve(square, columns.T @ wanted)
        numbers = ", ".join(f"{value:.3f}" for value in solved)
        print(f"    ({largest:.1f}, ({numbers})),  # {len(own)} pictures")
        smallest = largest


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 48)
