"""Pictures that look like photographs of sea, fog, quay and night harbour, drawn by NumPy.

Each function takes a random generator and gives uint8 (height, width, 3).
"""

from __future__ import annotations

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray
from scipy import ndimage

WIDTH, HEIGHT = 1600, 900
Floats = NDArray[np.float64]
Bytes = NDArray[np.uint8]


def _noise(random: Generator, size: tuple[int, int], stretch: float, octaves: int = 5) -> Floats:
    """Give cloud-like noise of 0 to 1, `stretch` times longer across than down."""
    height, width = size
    total = np.zeros(size)
    for octave in range(octaves):
        cells = 2 ** (octave + 2)
        rows, columns = cells + 3, max(3, int(cells * width / height / stretch)) + 3
        coarse = random.random((rows, columns))
        zoom = (height / (rows - 2), width / (columns - 2))
        fine = ndimage.zoom(coarse, zoom, order=3, mode="nearest")[:height, :width]
        total[: fine.shape[0], : fine.shape[1]] += fine / 2**octave
    total -= total.min()
    return total / total.max()


def _blend(top: tuple[int, ...], bottom: tuple[int, ...], share: Floats) -> Floats:
    return (1 - share[..., None]) * np.array(top, float) + share[..., None] * np.array(
        bottom, float
    )


def _mix(picture: Floats, colour: tuple[int, ...], share: Floats) -> Floats:
    return picture * (1 - share[..., None]) + np.array(colour, float) * share[..., None]


def _finish(random: Generator, picture: Floats, grain: float = 2.0) -> Bytes:
    grainy = picture + random.normal(0, grain, picture.shape[:2])[..., None]
    return np.clip(grainy, 0, 255).astype(np.uint8)


def _grid() -> tuple[Floats, Floats]:
    rows, columns = np.mgrid[0:HEIGHT, 0:WIDTH]
    return rows / HEIGHT, columns / WIDTH


def _water(random: Generator, down: Floats, near: tuple[int, ...], far: tuple[int, ...]) -> Floats:
    """Draw water for rows of 0 (horizon) to 1 (near): ripples that grow towards the viewer."""
    depth = np.clip(down, 0, 1)
    ripples = np.zeros_like(depth)
    for length, weight in ((14, 0.5), (30, 0.35), (70, 0.25)):
        phase = _noise(random, depth.shape, 4.0, 3) * 9
        ripples += weight * np.sin(np.sqrt(depth + 0.002) * length * 2 + phase)
    fine = _noise(random, depth.shape, 8.0, 6) - 0.5
    water = _blend(far, near, depth**0.7)
    return water + (ripples * 14 + fine * 46)[..., None] * (0.35 + 0.65 * depth[..., None])


def _headland(
    random: Generator, across: Floats, base: float, height: float, start: float
) -> Floats:
    """Give the height of a line of hills that rises to the right of `start`."""
    steps = np.cumsum(random.normal(0, 1, WIDTH))
    rough = ndimage.gaussian_filter1d(steps, 35)
    rough = (rough - rough.min()) / (rough.max() - rough.min())
    rise = np.clip((across[0] - start) / 0.12, 0, 1)
    return base - height * rise * (0.35 + 0.65 * rough)


def bright_sea(random: Generator) -> Bytes:
    """A bright sky with thin clouds over a grey-green sea, a headland at the right."""
    down, across = _grid()
    horizon = 0.56
    clouds = _noise(random, (HEIGHT, WIDTH), 3.2)
    sky = _blend((96, 142, 190), (226, 231, 228), np.clip(down / horizon, 0, 1) ** 0.85)
    sky = _mix(sky, (244, 244, 240), np.clip((clouds - 0.42) * 2.1, 0, 0.9))
    picture = np.where((down < horizon)[..., None], sky, 0)
    sea = _water(random, (down - horizon) / (1 - horizon), (22, 58, 74), (148, 170, 172))
    picture = np.where((down >= horizon)[..., None], sea, picture)
    for height, colour, start in ((0.09, (126, 146, 156), 0.30), (0.06, (92, 112, 118), 0.42)):
        line = _headland(random, across, horizon, height, start)
        hill = (down > line[None, :]) & (down < horizon)
        picture = np.where(hill[..., None], np.array(colour, float), picture)
    haze = np.exp(-(((down - horizon) / 0.05) ** 2)) * 0.5
    return _finish(random, _mix(ndimage.gaussian_filter(picture, (1, 1, 0)), (222, 228, 226), haze))


def fog(random: Generator) -> Bytes:
    """Fog over still water with the shade of a moored ferry in it."""
    down, across = _grid()
    drift = _noise(random, (HEIGHT, WIDTH), 2.2)
    picture = _blend((203, 210, 212), (164, 176, 181), down)
    picture += ((drift - 0.5) * 44)[..., None]
    hull = (np.abs(across - 0.68) < 0.2 - (down - 0.5) * 0.5) & (down > 0.5) & (down < 0.6)
    house = (np.abs(across - 0.7) < 0.12) & (down > 0.42) & (down <= 0.5)
    funnel = (np.abs(across - 0.74) < 0.018) & (down > 0.34) & (down <= 0.42)
    shade = ndimage.gaussian_filter((hull | house | funnel).astype(float), 5) * 0.55
    picture = _mix(picture, (96, 110, 120), shade)
    mirror = np.roll(shade[::-1], int(0.2 * HEIGHT), axis=0) * (down > 0.6) * 0.4
    return _finish(random, _mix(picture, (110, 122, 130), mirror))


def quay(random: Generator) -> Bytes:
    """A stone quay in afternoon light, with bollards and a wet edge."""
    down, across = _grid()
    edge = 0.38 + 0.1 * across
    stones = _noise(random, (HEIGHT, WIDTH), 1.4, 6)
    courses = 0.5 + 0.5 * np.sin((down - edge) * 70 + 6 * np.sin(across * 3))
    joints = (courses > 0.985) | (np.sin(across * 46 + np.floor((down - edge) * 11) * 2) > 0.992)
    ground = _blend((190, 176, 150), (128, 114, 96), np.clip((down - edge) / 0.62, 0, 1))
    ground += ((stones - 0.5) * 62)[..., None]
    ground = _mix(ground, (86, 78, 68), joints * 0.55)
    water = _water(random, np.clip(down / 0.48, 0, 1), (44, 84, 92), (150, 182, 186))
    picture = np.where((down > edge)[..., None], ground, water)
    wet = np.exp(-(((down - edge) / 0.014) ** 2)) * (down > edge)
    picture = _mix(picture, (52, 50, 48), wet * 0.8)
    for place in (0.18, 0.52, 0.86):
        top = 0.38 + 0.1 * place
        post = (np.abs(across - place) < 0.016) & (down > top - 0.06) & (down < top + 0.05)
        head = ((across - place) / 0.024) ** 2 + ((down - top + 0.06) / 0.022) ** 2 < 1
        picture = _mix(picture, (40, 44, 48), ndimage.gaussian_filter((post | head) * 1.0, 1.5))
    light = np.clip(1.12 - 0.4 * across, 0, 2)
    return _finish(random, ndimage.gaussian_filter(picture * light[..., None], (0.8, 0.8, 0)))


def night_harbour(random: Generator) -> Bytes:
    """A harbour at night: a dark sky, a row of lamps, and their light on the water."""
    down, across = _grid()
    horizon = 0.6
    picture = _blend((9, 14, 30), (30, 40, 62), np.clip(down / horizon, 0, 1) ** 2)
    water = _water(random, (down - horizon) / (1 - horizon), (8, 14, 26), (26, 36, 54)) * 0.8
    picture = np.where((down > horizon)[..., None], water, picture)
    line = _headland(random, across, horizon, 0.1, -0.2)
    hill = (down > line[None, :]) & (down < horizon)
    picture = np.where(hill[..., None], np.array((12, 17, 27), float), picture)
    glow = np.zeros((HEIGHT, WIDTH))
    for lamp in np.sort(random.random(17)):
        height = horizon - 0.015 - 0.03 * random.random()
        spread = ((across - lamp) * 1.78) ** 2 + (down - height) ** 2
        glow += 1.3 * np.exp(-spread / 0.00002) + 0.16 * np.exp(-spread / 0.0012)
        sway = 0.002 * np.sin(down * 260 + lamp * 40)
        trail = np.exp(-(((across - lamp + sway) / 0.0035) ** 2)) * (down > horizon)
        glow += trail * np.exp(-(down - horizon) * 7) * 0.75
    return _finish(random, _mix(picture, (255, 206, 128), np.clip(glow, 0, 1)), 2.5)


def half_and_half(random: Generator) -> Bytes:
    """A white ferry's side in full sun against its own deep shadow: half bright, half dark."""
    down, across = _grid()
    border = 0.5 + 0.05 * np.sin(down * 7)
    plates = _noise(random, (HEIGHT, WIDTH), 2.0, 5)
    sun = np.array((236, 234, 226), float) + ((plates - 0.5) * 26)[..., None]
    shade = np.array((24, 32, 42), float) + ((plates - 0.5) * 22)[..., None]
    share = 1 / (1 + np.exp(-(across - border) * 90))
    picture = sun * (1 - share[..., None]) + shade * share[..., None]
    rivets = (np.mod(down * 9, 1) < 0.05) & (np.mod(across * 60, 1) < 0.12)
    seams = np.mod(down * 9, 1) < 0.012
    return _finish(random, picture * (1 - 0.18 * (rivets | seams))[..., None])
