"""What a person wants of remedies: what is changed first, and what stays as it is."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from high_pair.colour.difference import ciede2000
from high_pair.colour.srgb import relative_luminance
from high_pair.scene.overlay import OverlayKind

Levels = tuple[int, int, int]
PLATES = frozenset({OverlayKind.PLATE, OverlayKind.SOFT_PLATE})
VEILS = frozenset({OverlayKind.VEIL, OverlayKind.RAMP, OverlayKind.DIM})
BLACK, WHITE = (0, 0, 0), (255, 255, 255)


# What may be laid, by the words of the command line.
OVERLAYS = {
    "all": frozenset(OverlayKind),
    "plates": PLATES,
    "veils": VEILS,
    "no-overlays": frozenset[OverlayKind](),
}


class Preference(StrEnum):
    """What is changed first, where it serves; `least` is what is least visible."""

    LEAST = "least"
    TEXT = "text"
    BACKDROP = "backdrop"
    OVERLAY = "overlay"


@dataclass(frozen=True)
class Wishes:
    """How remedies are chosen.

    kept: colours of texts that are never recoloured; overlays: the kinds that may be laid.
    """

    prefer: Preference = Preference.LEAST
    kept: frozenset[Levels] = frozenset()
    overlays: frozenset[OverlayKind] = frozenset(OverlayKind)


WISHES = Wishes()


@dataclass(frozen=True)
class Family:
    """The set of colours that is in use, from which remedies take theirs where they can.

    colours: of the set; kept: colours of texts that are left as they are.
    """

    colours: tuple[Levels, ...] = ()
    kept: frozenset[Levels] = frozenset()


NO_FAMILY = Family()


def lighter_than(text: Levels, behind: Levels) -> bool:
    """Tell a text's polarity: whether it is lighter than what is behind it."""
    one, other = (relative_luminance(np.array(each, np.uint8)) for each in (text, behind))
    return bool(one > other)


def keeps_polarity(new: Levels, text: Levels, behind: Levels) -> bool:
    """Tell whether a text that was light on dark stays so, or dark on light."""
    return lighter_than(new, behind) == lighter_than(text, behind)


def in_order_of_a_palette(colours: list[Levels], light: bool) -> list[Levels]:
    """Put a file's own colours in the order in which they are tried for a text.

    light: it becomes light on dark, for which the lightest is first; else the darkest, and
    plain black, which no palette is made of, last.
    """
    end = np.array(WHITE if light else BLACK) / 255.0
    return sorted(
        dict.fromkeys(colours),
        key=lambda levels: (
            not light and levels == BLACK,
            float(ciede2000(np.array(levels) / 255.0, end)),
        ),
    )
