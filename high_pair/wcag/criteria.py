"""The success criteria on contrast, and which one asks what of a pair.

Source: WCAG 2.2, success criteria 1.4.1, 1.4.3, 1.4.6 and 1.4.11, the
definition of «large scale (text)», and technique G183 for links.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Level(StrEnum):
    """The conformance level that a review asks for."""

    AA = "AA"
    AAA = "AAA"


class SizeClass(StrEnum):
    """Whether text counts as large scale."""

    NORMAL = "normal"
    LARGE = "large"


class Subject(StrEnum):
    """What is measured against its surroundings."""

    TEXT = "text"
    LINK = "link"
    GRAPHIC = "graphic"


@dataclass(frozen=True)
class Criterion:
    """One success criterion: its number, name, and the ratio it asks of each size class.

    anchor: of it in the standard's own text.
    """

    number: str
    name: str
    normal: float
    large: float
    anchor: str

    def required(self, size_class: SizeClass) -> float:
        """Give the ratio asked for."""
        return self.large if size_class is SizeClass.LARGE else self.normal

    @property
    def address(self) -> str:
        """Its address in the standard."""
        return f"https://www.w3.org/TR/WCAG22/#{self.anchor}"

    @property
    def understanding(self) -> str:
        """The address of what the standard's writers say about it."""
        return f"https://www.w3.org/WAI/WCAG22/Understanding/{self.anchor}.html"


USE_OF_COLOUR = Criterion("1.4.1", "Use of Color", 3.0, 3.0, "use-of-color")
CONTRAST_MINIMUM = Criterion("1.4.3", "Contrast (Minimum)", 4.5, 3.0, "contrast-minimum")
CONTRAST_ENHANCED = Criterion("1.4.6", "Contrast (Enhanced)", 7.0, 4.5, "contrast-enhanced")
NON_TEXT_CONTRAST = Criterion("1.4.11", "Non-text Contrast", 3.0, 3.0, "non-text-contrast")
ALL = (USE_OF_COLOUR, CONTRAST_MINIMUM, CONTRAST_ENHANCED, NON_TEXT_CONTRAST)


def by_number(number: str) -> Criterion:
    """Give the criterion of a number. Raises KeyError."""
    return {criterion.number: criterion for criterion in ALL}[number]


LARGE_FROM_POINTS = 18.0
LARGE_BOLD_FROM_POINTS = 14.0
BOLD_FROM_WEIGHT = 700
# 14 pt is 18⅔ px; people write 18.66px and mean it.
CSS_PX_TAKEN_FOR_14_POINTS = 18.66
POINTS_PER_CSS_PX = 0.75


def criterion_for(subject: Subject, level: Level) -> Criterion:
    """Give the criterion that governs a subject at a level.

    Only text has an enhanced criterion; links by colour alone (G183) and
    graphics ask 3:1 at both levels.
    """
    if subject is Subject.LINK:
        return USE_OF_COLOUR
    if subject is Subject.GRAPHIC:
        return NON_TEXT_CONTRAST
    return CONTRAST_ENHANCED if level is Level.AAA else CONTRAST_MINIMUM


def size_class(size_points: float, weight: int) -> SizeClass:
    """Tell the size class of text shown at a size in points and a weight of 1 to 1000.

    A size within a millionth of a point of the border is on it, so that sizes
    that come from arithmetic (18.66 px, 24 px scaled) fall where their writer meant.
    """
    shown = size_points + 1e-6
    bold_border = CSS_PX_TAKEN_FOR_14_POINTS * POINTS_PER_CSS_PX
    border = min(LARGE_BOLD_FROM_POINTS, bold_border)
    if weight < BOLD_FROM_WEIGHT:
        border = LARGE_FROM_POINTS
    return SizeClass.LARGE if shown >= border else SizeClass.NORMAL
