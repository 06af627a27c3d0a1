"""The share of ink in each pixel of a box of text, as a small network has learnt to see it.

The network is a pyramid of convolutions (after Ronneberger, Fischer and Brox, U-Net, 2015),
taught by `tools/train_ink.py` on made-up pictures. It gives the expected share, so that sums
and least squares over what it gives are right on the average.
"""

from __future__ import annotations

from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from high_pair.colour.srgb import Bytes, Floats

Singles = NDArray[np.float32]
WEIGHTS = Path(__file__).parent.parent / "data" / "ink-reader.npz"
LEVELS = 4
# ITU-R BT.601, in which JPEG (JFIF) splits lightness from colour.
YCC: Floats = np.array(
    [[0.299, 0.587, 0.114], [-0.168736, -0.331264, 0.5], [0.5, -0.418688, -0.081312]]
)
# The quantile of how far pixels are from the box's middle colour that is scaled to one.
FAR = 0.99
# Boxes in which less stands out aren't scaled any further.
LEAST_FAR = 0.02
# Values that are convolved at a time, so that they stay close to the processor.
BAND = 200_000
# A box is looked at ever smaller, by halves, so that letters larger than those that were taught are
# read too: as far as its shorter side keeps so many pixels,
LEAST_SIDE = 24
# and down to this part of its size.
TIMES_SMALLER = 16


def seen_by_network(pixels: Bytes) -> Singles:
    """Give lightness and colour about the middle ones: float32 (3, h, w), mostly -1 to 1."""
    ycc = (pixels.astype(np.float32) / 255) @ YCC.T.astype(np.float32)
    ycc -= np.median(ycc.reshape(-1, 3), axis=0)
    far = float(np.quantile(np.abs(ycc).max(axis=-1), FAR))
    return np.ascontiguousarray(np.moveaxis(ycc / max(far, LEAST_FAR), -1, 0))


@cache
def _weights() -> dict[str, Singles]:
    with np.load(WEIGHTS) as kept:
        return {name: kept[name].astype(np.float32) for name in kept.files}


def _convolved(seen: Singles, kernel: Singles, shift: Singles) -> Singles:
    """Convolve (c, h, w) with kernels (d, c, 3, 3), the edges with nothing beyond; then ReLU."""
    channels, height, width = seen.shape
    padded = np.zeros((channels, height + 2, width + 2), np.float32)
    padded[:, 1:-1, 1:-1] = seen
    windows = np.lib.stride_tricks.sliding_window_view(padded, (3, 3), axis=(1, 2))
    flat = kernel.reshape(len(kernel), -1)
    found = np.empty((len(kernel), height, width), np.float32)
    rows = max(1, BAND // (channels * width))
    for top in range(0, height, rows):
        part = windows[:, top : top + rows].transpose(0, 3, 4, 1, 2).reshape(channels * 9, -1)
        found[:, top : top + rows] = (flat @ part).reshape(len(kernel), -1, width)
    found += shift[:, None, None]
    return np.maximum(found, 0.0, out=found)


def _block(number: int, seen: Singles) -> Singles:
    weights = _weights()
    for place in (0, 1):
        name = f"{number}.{place}"
        seen = _convolved(seen, weights[f"{name}.kernel"], weights[f"{name}.shift"])
    return seen


def read_ink(pixels: Bytes) -> NDArray[np.float64]:
    """Give the share of ink in each pixel of a box of text: (h, w), 0 to 1.

    pixels: uint8 (h, w, 3). Letters may be of any size from about 8 pixels on:
    of several scales the one counts at which most is plainly ink.
    """
    height, width = pixels.shape[:2]
    best = _read_at_scale(pixels)
    factor = 2
    while factor <= TIMES_SMALLER and min(height, width) // factor >= LEAST_SIDE:
        found = _read_at_scale(_smaller(pixels, factor))
        if _plainness(found) > _plainness(best):
            best = found
        factor *= 2
    return best if best.shape == (height, width) else _larger(best, (height, width))


def _plainness(ink: NDArray[np.float64]) -> float:
    """Give how much is plainly ink, on the average of all pixels."""
    return float(np.maximum(0.0, 2 * ink - 1).mean())


def _smaller(pixels: Bytes, factor: int) -> Bytes:
    """Give a picture smaller by a whole factor; what is over at its edges is cut."""
    height, width = (side // factor for side in pixels.shape[:2])
    parts = pixels[: height * factor, : width * factor]
    parts = parts.reshape(height, factor, width, factor, 3)
    return np.asarray(np.rint(parts.mean(axis=(1, 3))), np.uint8)


def _larger(ink: NDArray[np.float64], shape: tuple[int, int]) -> NDArray[np.float64]:
    """Give shares at a larger scale, blended between the middles of pixels."""
    factor = shape[0] // ink.shape[0]
    places = [
        np.clip((np.arange(side) + 0.5) / factor - 0.5, 0, count - 1)
        for side, count in zip(shape, ink.shape, strict=True)
    ]
    return np.asarray(
        ndimage.map_coordinates(ink, np.meshgrid(*places, indexing="ij"), order=1, mode="nearest")
    )


def _read_at_scale(pixels: Bytes) -> NDArray[np.float64]:
    """Give the shares for letters of 8 to 66 pixels."""
    height, width = pixels.shape[:2]
    step = 2 ** (LEVELS - 1)
    now = seen_by_network(pixels)
    now = np.pad(now, ((0, 0), (0, -height % step), (0, -width % step)), mode="edge")
    kept: list[Singles] = []
    for level in range(LEVELS):
        if level:
            channels, rows, columns = now.shape
            now = now.reshape(channels, rows // 2, 2, columns // 2, 2).mean(axis=(2, 4))
        now = _block(level, now)
        kept.append(now)
    for number, level in enumerate(reversed(range(LEVELS - 1))):
        wide = now.repeat(2, axis=1).repeat(2, axis=2)
        now = _block(LEVELS + number, np.concatenate([wide, kept[level]]))
    weights = _weights()
    logits = np.tensordot(weights["last.kernel"][0, :, 0, 0], now, 1) + weights["last.shift"][0]
    return np.asarray(1.0 / (1.0 + np.exp(-logits[:height, :width].astype(np.float64))))
