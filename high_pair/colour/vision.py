"""Colours as three kinds of colour-blind eyes have them, simulated in linear light.

Protan and deutan: Machado, Oliveira and Fernandes 2009, «A physiologically-based model
for simulation of color vision deficiency», the tables for a severity of 1. Tritan:
Brettel, Viénot and Mollon 1997, «Computerized simulation of color appearance for
dichromats», with the cones of Smith and Pokorny 1975, since the model of 2009 says of
itself that it doesn't hold for tritan eyes.
"""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum

import numpy as np
from numpy.typing import ArrayLike, NDArray

from high_pair.colour.difference import LINEAR_SRGB_TO_XYZ, ciede2000
from high_pair.colour.srgb import Floats, decode, encode


class Eyes(StrEnum):
    """The eyes that colours are looked at with."""

    NORMAL = "normal"
    PROTAN = "protan"
    DEUTAN = "deutan"
    TRITAN = "tritan"


# Linear sRGB to linear sRGB, rows for red, green and blue.
_MACHADO: dict[Eyes, Floats] = {
    Eyes.PROTAN: np.array(
        [
            [0.152286, 1.052583, -0.204868],
            [0.114503, 0.786281, 0.099216],
            [-0.003882, -0.048116, 1.051998],
        ]
    ),
    Eyes.DEUTAN: np.array(
        [
            [0.367322, 0.860646, -0.227968],
            [0.280085, 0.672501, 0.047413],
            [-0.011820, 0.042940, 0.968881],
        ]
    ),
}
# Linear sRGB to the cones' responses: Smith and Pokorny 1975 on the primaries of sRGB.
_TO_CONES: Floats = np.array(
    [
        [0.178824, 0.435161, 0.0411935],
        [0.0345565, 0.271554, 0.0386714],
        [0.000299566, 0.00184309, 0.0146709],
    ]
)
# What tritan eyes see of light of 485 nm and of 660 nm is what others see: CIE 1931 colours of
# those wavelengths, as XYZ.
_ANCHORS = {485: (0.05795, 0.16930, 0.61620), 660: (0.16490, 0.06100, 0.0)}
_XYZ_TO_LINEAR: Floats = np.asarray(np.linalg.inv(LINEAR_SRGB_TO_XYZ), np.float64)


def _tritan(linear: Floats) -> Floats:
    """Give what tritan eyes have: the third cone's response from the two others'.

    The colours that both eyes see alike lie on two half-planes that meet in the greys.
    """
    cones = linear @ _TO_CONES.T
    white = _TO_CONES @ np.ones(3)
    red, blue = (
        _TO_CONES @ (_XYZ_TO_LINEAR @ np.array(_ANCHORS[wavelength])) for wavelength in (660, 485)
    )
    # Which of the two half-planes a colour belongs to: by its ratio of the other cones.
    reddish = cones[..., 1] * white[0] < cones[..., 0] * white[1]
    found = cones.copy()
    for anchor, chosen in ((red, reddish), (blue, ~reddish)):
        across, down, deep = np.cross(white, anchor)
        third = -(across * cones[..., 0] + down * cones[..., 1]) / deep
        found[..., 2] = np.where(chosen, third, found[..., 2])
    return np.asarray(found @ np.linalg.inv(_TO_CONES).T)


def seen_with(eyes: Eyes, colours: ArrayLike) -> Floats:
    """Give colours, encoded sRGB (…, 3) of 0 to 1, as some eyes have them, in the same encoding."""
    shown = np.asarray(colours, np.float64)
    if eyes is Eyes.NORMAL:
        return shown
    linear = decode(shown)
    seen = _tritan(linear) if eyes is Eyes.TRITAN else linear @ _MACHADO[eyes].T
    return np.asarray(encode(np.clip(seen, 0.0, 1.0)))


def apart(eyes: Eyes, colours: ArrayLike) -> NDArray[np.float64]:
    """Give how far each two colours are apart for some eyes: (n, 3) encoded sRGB, ΔE2000 (n, n)."""
    seen = seen_with(eyes, colours)
    return np.asarray(ciede2000(seen[:, None, :], seen[None, :, :]))


def closest(eyes: Eyes, colours: Sequence[tuple[float, float, float]]) -> tuple[int, int, float]:
    """Give the two colours that some eyes tell apart least, by their places, and their ΔE2000.

    At least two are needed.
    """
    distances = apart(eyes, np.asarray(colours, np.float64))
    upper = np.triu_indices(len(distances), 1)
    least = int(np.argmin(distances[upper]))
    return int(upper[0][least]), int(upper[1][least]), float(distances[upper][least])
