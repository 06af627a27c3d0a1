"""What lies behind text in a picture, of which only what shows between the letters is known.

Where the pixels beside the letters lie on one even or evenly changing surface,
that surface goes on under them. Elsewhere each pixel under a letter has the
value of a plane through the nearest clean pixels (local linear regression:
W. S. Cleveland, 1979), which, unlike an average of them, keeps a gradient.
A photograph's grain is carried on as well, as measured far from the letters,
where a JPEG's unrest round them doesn't reach.

Values are those of `ink_reader.YCC`, float64 (h, w, 3); ink: (h, w), 0 to 1.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from high_pair.colour.srgb import Floats

Mask = NDArray[np.bool_]
Places = NDArray[np.intp]
# Shares of ink: a pixel with less shows what is behind, one with more shows a letter.
CLEAN = 0.08
INKED = 0.25
# Pixels from any ink at which what is behind is clean; a JPEG smears colour farther than lightness.
AWAY = 4
AWAY_IN_LIGHTNESS = 2
# Least share of a box's pixels that must be clean.
FEWEST_CLEAN = 0.05
LEAST_INKED = 0.2
# Degrees of the polynomials, in both directions, that are tried as a surface.
DEGREES = (0, 1, 2)
# Pixels to which one is fitted at most: more take longer and change nothing.
MOST_FITTED = 100_000
# A surface fits where what is seen, smoothed over so many pixels (a standard deviation), departs
# from it by less than this root mean square, and nowhere by more than the worst; linear light.
SMOOTHING = 3.0
MOST_DEPARTURE = 0.007
WORST_DEPARTURE = 0.06
# Clean pixels within this distance (a standard deviation, in pixels) are asked first, then those
# twice as far, and so on, until they weigh so much together.
NEAREST = 1.2
LEAST_WEIGHT = 0.08
# So much of the plane's slope is held back, in shares of the square of that distance.
HELD_BACK = 0.15
# Grain is taken from the clean pixels that are farther from ink than this share of them are, or
# than so many pixels; where even those lie nearer than the least, none is.
FAR_SHARE = 0.6
FAR = 14.0
LEAST_FAR = 7.0
# Less grain than this, as a root mean square, is a JPEG's own.
LEAST_GRAIN = 1.25 / 255.0
# How many times the median of the grain it may be.
MOST_GRAIN = 3.5


def clean_pixels(ink: Floats, away: int = AWAY) -> Mask:
    """Tell where what is behind shows with no ink, and none near."""
    inked = ndimage.binary_dilation(ink >= CLEAN, iterations=1)
    near = ndimage.binary_dilation(ink >= INKED, iterations=away)
    clean = ~(inked | near)
    # Text that leaves no such place: the least inked pixels will do.
    if clean.mean() < FEWEST_CLEAN:
        clean = ink <= np.quantile(ink, LEAST_INKED)
    return np.asarray(clean)


def behind_text(ycc: Floats, ink: Floats) -> Floats:
    """Give what is behind everywhere, carried on under the text."""
    clean = clean_pixels(ink)
    clean_in = [clean_pixels(ink, AWAY_IN_LIGHTNESS), clean, clean]
    surface = _even_surface(ycc, clean)
    even = surface is not None
    if surface is None:
        light = _carried_on(ycc[..., :1], clean_in[0])
        surface = np.concatenate([light, _carried_on(ycc[..., 1:], clean)], axis=-1)
    grain = _grain(ycc - surface, ink, clean)
    for channel, known in enumerate(clean_in):
        if grain is not None:
            surface[~known, channel] += np.resize(grain[:, channel], int((~known).sum()))
        if grain is not None or not even:
            surface[known, channel] = ycc[known, channel]
    return surface


def _even_surface(ycc: Floats, clean: Mask) -> Floats | None:
    """Give the simplest surface that the clean pixels lie on, None where they lie on none."""
    height, width = clean.shape
    weight = _smooth(clean.astype(np.float64), SMOOTHING)
    surrounded = clean & (weight > 0.3)
    if not surrounded.any():
        return None
    down, across = (2 * place / max(height, width) for place in _places(clean.shape))
    fitted = tuple(each[:: clean.sum() // MOST_FITTED + 1] for each in np.nonzero(clean))
    for degree in DEGREES:
        terms = np.stack(
            [
                across**first * down**second
                for first in range(degree + 1)
                for second in range(degree + 1 - first)
            ],
            axis=-1,
        )
        solved = np.linalg.lstsq(terms[fitted], ycc[fitted], rcond=None)[0]
        surface = terms @ solved
        left = np.where(clean[..., None], ycc - surface, 0.0)
        departs = np.stack(
            [_smooth(left[..., channel], SMOOTHING) for channel in range(3)], axis=-1
        )
        departs = departs[surrounded] / weight[surrounded][:, None]
        even = float(np.square(departs).mean(axis=0).max()) < MOST_DEPARTURE**2
        if even and float(np.abs(departs).max()) < WORST_DEPARTURE:
            return np.asarray(surface)
    return None


def _places(shape: tuple[int, int]) -> tuple[Floats, Floats]:
    """Give each pixel's place below and to the right of the middle."""
    height, width = shape
    down, across = np.mgrid[0:height, 0:width].astype(np.float64)
    return down - height / 2, across - width / 2


def _smooth(values: Floats, sigma: float) -> Floats:
    return np.asarray(ndimage.gaussian_filter(values, sigma, mode="constant"))


def _carried_on(values: Floats, clean: Mask) -> Floats:
    """Give what is behind everywhere, (h, w, c): from the clean pixels near, or else farther ones.

    Sums over the clean pixels near give the plane through them. For those twice as
    far, the sums are added up over squares of twice the size, which costs a quarter.
    """
    found = np.zeros_like(values)
    missing = np.ones(clean.shape, bool)
    weight = clean.astype(np.float64)
    down, across = _places(clean.shape)
    # The sums: of ones, of places and of their products, and of those with each channel's values.
    sums = [weight, weight * down, weight * across]
    sums += [sums[1] * down, sums[1] * across, sums[2] * across]
    for channel in np.moveaxis(values, -1, 0):
        sums += [each * channel for each in sums[:3]]
    side = 1
    while missing.any() and side < 2 * max(clean.shape):
        near = [_smooth(each, NEAREST) for each in sums]
        rows, columns = np.nonzero(missing)
        total, weights = np.zeros((len(rows), values.shape[2])), np.zeros(len(rows))
        for cells, share in _cells_round(rows, columns, side, near[0].shape):
            known = (near[0][cells] > LEAST_WEIGHT * side**2) & (share > 0)
            there = [each[cells][known] for each in near]
            place = down[rows[known], columns[known]], across[rows[known], columns[known]]
            total[known] += share[known, None] * _planes(there, place, NEAREST * side)
            weights[known] += share[known]
        known = weights > 0
        rows, columns = rows[known], columns[known]
        found[rows, columns] = total[known] / weights[known, None]
        missing[rows, columns] = False
        sums = [_halved(each) for each in sums]
        side *= 2
    if missing.any():
        found[missing] = values[clean].mean(axis=0)
    return np.clip(found, values.min(axis=(0, 1)), values.max(axis=(0, 1)))


def _cells_round(
    rows: Places, columns: Places, side: int, shape: tuple[int, ...]
) -> Iterator[tuple[tuple[Places, Places], Floats]]:
    """Give the squares whose middles are round each of n pixels, and the share each has there."""
    if side == 1:
        yield (rows, columns), np.ones(len(rows))
        return
    down, across = ((place + 0.5) / side - 0.5 for place in (rows, columns))
    top, left = np.floor(down).astype(int), np.floor(across).astype(int)
    for below in (0, 1):
        for beside in (0, 1):
            row, column = top + below, left + beside
            share = (1 - np.abs(down - row)) * (1 - np.abs(across - column))
            cells = np.clip(row, 0, shape[0] - 1), np.clip(column, 0, shape[1] - 1)
            yield cells, share


def _halved(values: Floats) -> Floats:
    """Add up squares of two by two."""
    height, width = values.shape
    whole = np.pad(values, ((0, height % 2), (0, width % 2)))
    return np.asarray(whole[::2, ::2] + whole[1::2, ::2] + whole[::2, 1::2] + whole[1::2, 1::2])


def _planes(sums: list[Floats], place: tuple[Floats, Floats], sigma: float) -> Floats:
    """Give values (n, c), at n places, of the planes that n sums of each kind tell."""
    means = [each / sums[0] for each in sums]
    _, down, across, down_down, down_across, across_across = means[:6]
    held = HELD_BACK * sigma**2
    # Variances and what goes together, and the solution of two equations with two unknowns.
    of_down = down_down - down**2 + held
    of_across = across_across - across**2 + held
    of_both = down_across - down * across
    determinant = of_down * of_across - of_both**2
    found = []
    for channel in range((len(means) - 6) // 3):
        middle, with_down, with_across = means[6 + 3 * channel : 9 + 3 * channel]
        with_down, with_across = with_down - middle * down, with_across - middle * across
        slope_down = (with_down * of_across - with_across * of_both) / determinant
        slope_across = (with_across * of_down - with_down * of_both) / determinant
        found.append(middle + slope_down * (place[0] - down) + slope_across * (place[1] - across))
    return np.stack(found, axis=-1)


def _grain(left: Floats, ink: Floats, clean: Mask) -> Floats | None:
    """Give the grain of what is behind, (n, 3), None where it has none, or none that is known.

    left: what is seen without the surface that it lies on.
    """
    distance = ndimage.distance_transform_edt(ink < INKED)
    far = float(np.quantile(distance[clean], FAR_SHARE))
    if far < LEAST_FAR:
        return None
    grain = left[clean & (distance >= min(far, FAR))]
    # What stands out of the grain is an edge or a lamp, which isn't carried on.
    most = MOST_GRAIN * np.median(np.abs(grain), axis=0)
    grain = np.clip(grain, -most, most)
    return grain if float(np.square(grain[:, 0]).mean()) >= LEAST_GRAIN**2 else None
