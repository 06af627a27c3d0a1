"""Pictures of text with the share of ink in each pixel, to teach the ink reader from.

None of the program's own photographs is among their backdrops, and any folder of fonts
will do, so that what is learnt can be tested with others.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont
from scipy import ndimage

Floats = NDArray[np.float64]
Bytes = NDArray[np.uint8]
HEIGHT, WIDTH = 96, 160
SMALLEST, LARGEST = 8, 66
LEAST_DIFFERENCE = 22.0
LETTERS = "etaoinshrdlucmfwypvbgkjqxzETAOINSHRDLUCMWYPVBGK"
OTHERS = "0123456789:,.-/&%!?()"
LUMA = np.array([0.299, 0.587, 0.114])
# How often a picture has an outline or shadow that is no ink, was made by a rasteriser with no
# hinting, or with colours in thirds of pixels.
UNHINTED, THIRDS = 0.4, 0.08


@dataclass(frozen=True)
class InkPicture:
    """A box of text: pixels, uint8 (h, w, 3), and the shares of ink, uint8 (h, w) of 255."""

    pixels: Bytes
    ink: Bytes


def words(random: Generator, count: int) -> str:
    """Make up so many words, some of digits."""
    found = []
    for _ in range(count):
        length = int(random.integers(1, 11))
        source = OTHERS if random.random() < 0.15 else LETTERS
        word = "".join(source[int(place)] for place in random.integers(0, len(source), length))
        found.append(word.upper() if random.random() < 0.15 else word)
    return " ".join(found)


def _cloud(random: Generator, slope: float, shape: tuple[int, int]) -> Floats:
    """Give noise of 0 to 1 whose power falls with the frequency by a slope."""
    down = np.fft.fftfreq(shape[0])[:, None]
    across = np.fft.rfftfreq(shape[1])[None, :] * random.uniform(0.3, 3.0)
    frequency = np.hypot(down, across)
    frequency[0, 0] = 1.0
    spectrum = random.normal(size=frequency.shape) + 1j * random.normal(size=frequency.shape)
    field = np.fft.irfft2(spectrum * frequency**-slope, s=shape)
    field -= field.min()
    return np.asarray(field / max(float(field.max()), 1e-9))


def _shapes(random: Generator, picture: Floats) -> Floats:
    """Draw some plain shapes over a picture, as things in a photograph have edges."""
    height, width = picture.shape[:2]
    image = Image.fromarray(picture.astype(np.uint8))
    draw = ImageDraw.Draw(image)
    for _ in range(int(random.integers(1, 14))):
        colour = tuple(int(value) for value in random.integers(0, 256, 3))
        x, y = random.uniform(-0.2, 1.0, 2) * (width, height)
        wide, high = random.uniform(0.02, 0.8) * width, random.uniform(0.02, 0.8) * height
        kind = int(random.integers(4))
        if kind == 0:
            draw.rectangle((x, y, x + wide, y + high), fill=colour)
        elif kind == 1:
            draw.ellipse((x, y, x + wide, y + high), fill=colour)
        elif kind == 2:
            draw.line((x, y, x + wide, y + high), fill=colour, width=int(random.integers(1, 9)))
        else:
            for _ in range(12):
                a, b = random.uniform(0, 1, 2) * (width, height)
                reach = random.uniform(0.7, 3.0)
                draw.ellipse((a - reach, b - reach, a + reach, b + reach), fill=colour)
    drawn = np.asarray(image, np.float64)
    return np.asarray(ndimage.gaussian_filter(drawn, (*[random.uniform(0.3, 2.0)] * 2, 0)))


def backdrop(random: Generator, shape: tuple[int, int]) -> Floats:
    """Make up what is behind: flat, a gradient, clouds, or something like a photograph."""
    height, width = shape
    one, other = random.uniform(0, 255, (2, 3))
    kind = random.random()
    if kind < 0.25:
        return np.asarray(np.broadcast_to(one, (height, width, 3)).copy())
    if kind < 0.45:
        other = np.clip(one + random.uniform(-90, 90, 3), 0, 255)
        turn = random.uniform(0, 2 * np.pi)
        down, across = np.mgrid[0:height, 0:width]
        share = np.cos(turn) * across / width + np.sin(turn) * down / height
        share = (share - share.min()) / max(float(np.ptp(share)), 1e-9)
        return np.asarray(one + share[..., None] * (other - one))
    share = _cloud(random, random.uniform(0.8, 2.2), shape)[..., None]
    near = np.clip(one + random.uniform(-110, 110, 3), 0, 255)
    picture = one + share * (near - one)
    if kind < 0.75:
        picture = _shapes(random, picture)
    picture = picture + random.normal(0, random.uniform(0, 5), (height, width))[..., None]
    return np.asarray(np.clip(picture, 0, 255))


def _shares(random: Generator, font_file: str, shape: tuple[int, int]) -> Floats:
    """Rasterise lines of made-up words: the shares of ink, (h, w) or (h, w, 3), 0 to 1."""
    height, width = shape
    size = float(np.exp(random.uniform(np.log(SMALLEST), np.log(LARGEST))))
    unhinted, thirds = random.random() < UNHINTED, random.random() < THIRDS
    times = 4 if unhinted else 1
    across = 3 if thirds else 1
    size = size if unhinted else max(SMALLEST, round(size))
    font = ImageFont.truetype(font_file, round(size * times * across))
    canvas = Image.new("L", (width * times * across, height * times * across))
    draw = ImageDraw.Draw(canvas)
    room = random.uniform(0.15, 0.6) * size
    step = size * random.uniform(1.1, 1.6)
    top = (
        random.uniform(-0.1, 0.35) * size
        if random.random() < 0.7
        else room + random.uniform(0, max(0.0, height - 2.5 * size))
    )
    lines = 1 if random.random() < 0.5 else 9
    left = room if random.random() < 0.6 else -random.uniform(0, 2) * size
    while top < height and lines > 0:
        text = words(random, 1 + int(width / size * random.uniform(0.1, 0.8)))
        place = (round(left * times * across), round(top * times * across))
        draw.text(place, text, fill=255, font=font)
        top += step
        lines -= 1
    drawn = np.asarray(canvas, np.float64) / 255
    if thirds:
        # Each colour's third of a pixel is smoothed over its neighbours, as such rasterisers do.
        drawn = drawn.reshape(height * times, across, width * times * across).mean(axis=1)
        drawn = drawn.reshape(height, times, -1).mean(axis=1)
        drawn = drawn.reshape(height, width * across, times).mean(axis=2)
        smooth = ndimage.convolve1d(drawn, np.array([1, 2, 3, 2, 1]) / 9, axis=1)
        return np.asarray(smooth.reshape(height, width, 3))
    return np.asarray(drawn.reshape(height, times, width, times).mean(axis=(1, 3)))


def make(random: Generator, fonts: list[str]) -> InkPicture:
    """Make a picture of text. Colours too near each other to be read are tried again."""
    while True:
        shape = (HEIGHT, WIDTH)
        shares = _shares(random, fonts[int(random.integers(len(fonts)))], shape)
        whole = shares if shares.ndim == 2 else shares.mean(axis=-1)
        if not 0.01 < float((whole > 0.5).mean()) < 0.5:
            continue
        behind = backdrop(random, shape)
        colour = random.uniform(0, 255, 3)
        if random.random() < 0.25:
            colour = np.full(3, random.choice([0.0, 255.0, random.uniform(0, 255)]))
        under = behind[whole > 0.5] @ LUMA
        if abs(float(np.median(under)) - float(colour @ LUMA)) < LEAST_DIFFERENCE:
            continue
        mixing = shares if shares.ndim == 3 else shares[..., None]
        painted = behind * (1 - mixing) + colour * mixing
        image = Image.fromarray(np.uint8(np.clip(painted + 0.5, 0, 255)))
        if random.random() < 0.8:
            out = io.BytesIO()
            image.save(
                out,
                "JPEG",
                quality=int(random.integers(55, 97)),
                subsampling=2 if random.random() < 0.8 else 0,
            )
            image = Image.open(io.BytesIO(out.getvalue())).convert("RGB")
        return InkPicture(np.asarray(image), np.uint8(np.round(255 * whole)))
