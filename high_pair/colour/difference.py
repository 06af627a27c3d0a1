"""How different two colours look: ΔE in OKLab and CIEDE2000."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from high_pair.colour.oklab import oklab_of
from high_pair.colour.srgb import Floats, decode

# Linear sRGB → XYZ with the white of D65, CSS Color 4 §10.2.
LINEAR_SRGB_TO_XYZ: Floats = np.array(
    [
        [506752 / 1228815, 87881 / 245763, 12673 / 70218],
        [87098 / 409605, 175762 / 245763, 12673 / 175545],
        [7918 / 409605, 87881 / 737289, 1001167 / 1053270],
    ]
)
WHITE_D65: Floats = np.array([0.3127 / 0.3290, 1.0, (1.0 - 0.3127 - 0.3290) / 0.3290])


def delta_e_ok(one: ArrayLike, other: ArrayLike) -> Floats:
    """Give the distance in OKLab of gamma-encoded sRGB colours (…, 3): 0 same, 1 black to white."""
    return np.asarray(np.linalg.norm(oklab_of(one) - oklab_of(other), axis=-1))


def cielab_of(colours: ArrayLike) -> Floats:
    """Turn gamma-encoded sRGB (…, 3) of 0 to 1 into CIE Lab (D65): L 0 to 100.

    Source: CIE 15:2004, equations 8.3 to 8.8.
    """
    relative = decode(colours) @ LINEAR_SRGB_TO_XYZ.T / WHITE_D65
    epsilon, kappa = 216 / 24389, 24389 / 27
    f = np.where(relative > epsilon, np.cbrt(relative), (kappa * relative + 16) / 116)
    x, y, z = f[..., 0], f[..., 1], f[..., 2]
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], axis=-1)


def ciede2000_of_lab(one: ArrayLike, other: ArrayLike) -> Floats:
    """Give ΔE00 of CIE Lab colours (…, 3); they broadcast.

    Source: Sharma, Wu and Dalal, «The CIEDE2000 color-difference formula»,
    Color Research and Application 30 (2005); the numbers are its equations'.
    """
    first, second = np.broadcast_arrays(
        np.asarray(one, dtype=np.float64), np.asarray(other, dtype=np.float64)
    )
    l1, a1, b1 = first[..., 0], first[..., 1], first[..., 2]
    l2, a2, b2 = second[..., 0], second[..., 1], second[..., 2]
    mean_c7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7  # (2), (3)
    g = 0.5 * (1 - np.sqrt(mean_c7 / (mean_c7 + 25.0**7)))  # (4)
    a1, a2 = (1 + g) * a1, (1 + g) * a2  # (5)
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)  # (6)
    h1, h2 = np.degrees(np.arctan2(b1, a1)) % 360, np.degrees(np.arctan2(b2, a2)) % 360  # (7)
    grey = c1 * c2 == 0
    turn = (h2 - h1 + 180) % 360 - 180
    # (10): a difference of exactly half a turn keeps its sign.
    turn = np.where(h2 - h1 == 180, 180.0, turn)
    turn = np.where(grey, 0.0, turn)
    d_l, d_c = l2 - l1, c2 - c1  # (8), (9)
    d_h = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn) / 2)  # (11)
    mean_l, mean_c = (l1 + l2) / 2, (c1 + c2) / 2  # (12), (13)
    apart = np.abs(h1 - h2) > 180
    mean_h = np.where(apart, (h1 + h2 + np.where(h1 + h2 < 360, 360, -360)) / 2, (h1 + h2) / 2)
    mean_h = np.where(grey, h1 + h2, mean_h)  # (14)

    def cosine(degrees: Floats) -> Floats:
        return np.asarray(np.cos(np.radians(degrees)))

    t = (
        1
        - 0.17 * cosine(mean_h - 30)
        + 0.24 * cosine(2 * mean_h)
        + 0.32 * cosine(3 * mean_h + 6)
        - 0.20 * cosine(4 * mean_h - 63)
    )  # (15)
    d_theta = 30 * np.exp(-(((mean_h - 275) / 25) ** 2))  # (16)
    r_c = 2 * np.sqrt(mean_c**7 / (mean_c**7 + 25.0**7))  # (17)
    s_l = 1 + 0.015 * (mean_l - 50) ** 2 / np.sqrt(20 + (mean_l - 50) ** 2)  # (18)
    s_c, s_h = 1 + 0.045 * mean_c, 1 + 0.015 * mean_c * t  # (19), (20)
    r_t = -np.sin(np.radians(2 * d_theta)) * r_c  # (21)
    terms = (d_l / s_l) ** 2 + (d_c / s_c) ** 2 + (d_h / s_h) ** 2
    cross = r_t * (d_c / s_c) * (d_h / s_h)
    return np.asarray(np.sqrt(np.maximum(terms + cross, 0.0)))  # (22)


def ciede2000(one: ArrayLike, other: ArrayLike) -> Floats:
    """Give ΔE00 of gamma-encoded sRGB colours (…, 3) of 0 to 1; they broadcast."""
    return ciede2000_of_lab(cielab_of(one), cielab_of(other))
