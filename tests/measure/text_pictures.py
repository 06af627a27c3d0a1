"""Generated pictures of text whose colours are known: a seeded set for the tests."""

from __future__ import annotations

import functools
import io
from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from high_pair.colour.ratio import contrast_ratio
from high_pair.measure.footprint import distinct, grow, reached_by
from high_pair.raster.fonts import FOLDER
from tools import photographs

FONTS = (
    "carlito/Carlito-Regular.ttf",
    "carlito/Carlito-Bold.ttf",
    "caladea/Caladea-Regular.ttf",
    "liberation/LiberationSans-Regular.ttf",
    "liberation/LiberationSerif-Regular.ttf",
    "atkinson-hyperlegible/AtkinsonHyperlegible_400Regular.ttf",
)
WORDS = ("Last sailing 21:40", "Fog on the quay", "Foot passengers", "Mind the ramp", "Deck 3, aft")
PHOTOGRAPHS = ("bright_sea", "fog", "quay", "night_harbour")
BACKDROPS = ("flat", "gradient", "photograph")
COVERAGE, INK = 0.95, 1 / 8
LUMA = np.array([0.299, 0.587, 0.114])
LEAST_LIGHTNESS = 30.0


@dataclass(frozen=True)
class TextPicture:
    """A picture of text, and the truth about it.

    pixels: as a reader gets it, uint8 (h, w, 3); colour: of the text; ratio:
    the governing one on the clean backdrop; size: of the font in pixels; bold:
    its weight.
    """

    pixels: np.ndarray
    colour: tuple[int, int, int]
    ratio: float
    size: int
    words: str
    bold: bool


@functools.cache
def _photograph(name: str) -> np.ndarray:
    return getattr(photographs, name)(np.random.default_rng(7))


def _backdrop(random: np.random.Generator, kind: str, size: tuple[int, int]) -> np.ndarray:
    width, height = size
    if kind == "flat":
        return np.full((height, width, 3), random.integers(0, 256, 3), np.float64)
    if kind == "gradient":
        one = random.integers(0, 256, 3).astype(float)
        other = np.clip(one + random.integers(-50, 51, 3), 0, 255)
        share = np.linspace(0, 1, width)[None, :, None]
        if random.random() < 0.5:
            share = np.linspace(0, 1, height)[:, None, None]
        return one * (1 - share) + other * share + np.zeros((height, width, 3))
    whole = _photograph(PHOTOGRAPHS[random.integers(4)])
    top = int(random.integers(0, whole.shape[0] - height))
    left = int(random.integers(0, whole.shape[1] - width))
    return whole[top : top + height, left : left + width].astype(float)


def ratio_on(colour: np.ndarray, backdrop: np.ndarray, mask: np.ndarray, size: float) -> float:
    """Give the governing ratio by its definition, for ink of a mask on a clean backdrop."""
    grown = grow(mask >= INK, max(1.0, size / 12))
    colours, counts = distinct(backdrop[grown])
    return reached_by(contrast_ratio(colour, colours), counts, COVERAGE)


def make(
    count: int = 60,
    seed: int = 5,
    kinds: tuple[str, ...] = BACKDROPS,
    smallest: int = 9,
    largest: int = 60,
    fonts: tuple[str, ...] = FONTS,
    words: tuple[str, ...] = WORDS,
) -> list[TextPicture]:
    """Make so many pictures, of sizes from smallest to largest in pixels, JPEG quality 60 to 95, on kinds of backdrops.

    fonts: files, in the program's folder where a path isn't whole.
    """
    random = np.random.default_rng(seed)
    found: list[TextPicture] = []
    while len(found) < count:
        place = len(found)
        size = smallest + round((largest - smallest) * place / max(1, count - 1))
        font = ImageFont.truetype(str(FOLDER / fonts[place % len(fonts)]), size)
        bold = "Bold" in fonts[place % len(fonts)]
        said = words[int(random.integers(len(words)))]
        left, top, right, bottom = (int(value) for value in font.getbbox(said))
        room = max(4, size // 3)
        width, height = right - left + 2 * room, bottom - top + 2 * room
        backdrop = _backdrop(random, kinds[place % len(kinds)], (width, height))
        colour = random.integers(0, 256, 3)
        mask = Image.new("L", (width, height))
        ImageDraw.Draw(mask).text((room - left, room - top), said, fill=255, font=font)
        share = np.asarray(mask, float) / 255
        ratio = ratio_on(colour.astype(np.uint8), backdrop.astype(np.uint8), share, size)
        lightness = backdrop.mean(axis=(0, 1)) @ LUMA
        if ratio < 2.0 or abs(float(colour @ LUMA) - float(lightness)) < LEAST_LIGHTNESS:
            # Nobody would find the text, nor draw a box round it; a JPEG doesn't keep it.
            continue
        painted = backdrop * (1 - share[..., None]) + colour * share[..., None]
        out = io.BytesIO()
        quality = 60 + int(random.integers(36))
        Image.fromarray(np.uint8(np.clip(painted + 0.5, 0, 255))).save(out, "JPEG", quality=quality)
        pixels = np.asarray(Image.open(io.BytesIO(out.getvalue())).convert("RGB"))
        red, green, blue = (int(value) for value in colour)
        found.append(TextPicture(pixels, (red, green, blue), ratio, size, said, bold))
    return found
