"""Pairs measured by hand: two colours, what each target asks of them, and colours of links.

Source: WCAG 2.2, 1.4.3, 1.4.6, 1.4.11, and 1.4.1 with technique G183 for links.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from high_pair.colour.compositing import over_bytes
from high_pair.colour.ratio import contrast_ratio
from high_pair.scene.paint import Colour
from high_pair.wcag.criteria import (
    CONTRAST_ENHANCED,
    CONTRAST_MINIMUM,
    NON_TEXT_CONTRAST,
    USE_OF_COLOUR,
)

# What shows through a see-through backdrop, of which nothing else is known.
PAPER = (255, 255, 255)


@dataclass(frozen=True)
class Target:
    """Something that a standard asks of two colours."""

    words: str
    criterion: str
    required: float


TARGETS = (
    Target("normal text AA", CONTRAST_MINIMUM.number, CONTRAST_MINIMUM.normal),
    Target("normal text AAA", CONTRAST_ENHANCED.number, CONTRAST_ENHANCED.normal),
    Target("large-scale AA", CONTRAST_MINIMUM.number, CONTRAST_MINIMUM.large),
    Target("large-scale AAA", CONTRAST_ENHANCED.number, CONTRAST_ENHANCED.large),
    Target("graphics, controls", NON_TEXT_CONTRAST.number, NON_TEXT_CONTRAST.normal),
)


@dataclass(frozen=True)
class Outcome:
    """A target and whether a ratio reaches it.

    missing: by how much it misses, 0 when it passes.
    """

    target: Target
    ratio: float

    @property
    def passes(self) -> bool:
        """Whether the ratio is enough, unrounded."""
        return self.ratio >= self.target.required

    @property
    def missing(self) -> float:
        """By how much the ratio misses."""
        return max(0.0, self.target.required - self.ratio)


@dataclass(frozen=True)
class HandPair:
    """Two colours as given, and as they are seen.

    seen, behind: the foreground over the backdrop, and the backdrop, 8-bit. A
    see-through backdrop is laid on white, the paper on which nothing is known.
    """

    foreground: Colour
    backdrop: Colour

    @property
    def behind(self) -> tuple[int, int, int]:
        """The backdrop as seen."""
        return laid_over(self.backdrop, PAPER)

    @property
    def seen(self) -> tuple[int, int, int]:
        """The foreground as seen."""
        return laid_over(self.foreground, self.behind)

    @property
    def ratio(self) -> float:
        """The contrast ratio."""
        return ratio_between(self.seen, self.behind)

    @property
    def outcomes(self) -> tuple[Outcome, ...]:
        """What each target says of it."""
        ratio = self.ratio
        return tuple(Outcome(target, ratio) for target in TARGETS)


def laid_over(colour: Colour, behind: tuple[int, int, int]) -> tuple[int, int, int]:
    """Give the 8-bit colour that a colour shows over an opaque one."""
    if colour.opacity >= 1:
        return colour.levels
    seen = over_bytes(np.array(colour.levels, np.uint8), colour.opacity, np.array(behind, np.uint8))
    red, green, blue = (int(level) for level in seen)
    return red, green, blue


def ratio_between(one: tuple[int, int, int], other: tuple[int, int, int]) -> float:
    """Give the contrast ratio of two 8-bit colours; the order doesn't matter."""
    return float(contrast_ratio(np.array(one, np.uint8), np.array(other, np.uint8)))


# Links

LINK_STATES = ("visited", "hover", "focus")


@dataclass(frozen=True)
class LinkColours:
    """The colours of a link, of the text round it, and of what is behind both.

    states: further colours of the link by their names (LINK_STATES);
    underlined: something other than colour tells the link.
    """

    link: Colour
    body: Colour
    backdrop: Colour
    states: tuple[tuple[str, Colour], ...] = ()
    underlined: bool = False


@dataclass(frozen=True)
class LinkOutcome:
    """One ratio of a link's colours.

    required: what it must reach, None where nothing is asked, and then `why` says so.
    """

    words: str
    ratio: float
    criterion: str
    required: float | None
    why: str = ""

    @property
    def passes(self) -> bool:
        """Whether it is enough; where nothing is asked, anything is."""
        return self.required is None or self.ratio >= self.required


UNDERLINED = "the link is underlined, so colour needn't tell it from the text"


def link_outcomes(colours: LinkColours, target: Target) -> tuple[LinkOutcome, ...]:
    """Measure a link's colours: each against the backdrop, the link's against the text round it.

    target: what is asked of text. The text's own ratio comes last. Of its states,
    hover and focus are asked nothing against the body text: technique G183 asks
    for another cue there.
    """
    behind = laid_over(colours.backdrop, PAPER)
    body = laid_over(colours.body, behind)
    found: list[LinkOutcome] = []
    for name, colour in (("link", colours.link), *colours.states):
        seen = laid_over(colour, behind)
        words = name if name == "link" else f"{name} link"
        found.append(
            LinkOutcome(
                f"{words} on the backdrop",
                ratio_between(seen, behind),
                target.criterion,
                target.required,
            )
        )
        if name in ("hover", "focus"):
            continue
        required = None if colours.underlined else USE_OF_COLOUR.normal
        found.append(
            LinkOutcome(
                f"{words} beside the body text",
                ratio_between(seen, body),
                USE_OF_COLOUR.number,
                required,
                UNDERLINED if colours.underlined else "",
            )
        )
    found.append(
        LinkOutcome(
            "body text on the backdrop",
            ratio_between(body, behind),
            target.criterion,
            target.required,
        )
    )
    return tuple(found)


# One against many


@dataclass(frozen=True)
class OneAndMany:
    """One colour and several others, which are its backdrops, or else the texts on it."""

    one: Colour
    others: tuple[Colour, ...] = ()
    one_is_text: bool = True

    @property
    def pairs(self) -> tuple[HandPair, ...]:
        """Each of the others with the one."""
        if self.one_is_text:
            return tuple(HandPair(self.one, other) for other in self.others)
        return tuple(HandPair(other, self.one) for other in self.others)

    @property
    def weakest(self) -> int | None:
        """The place of the pair with the lowest ratio; None without any."""
        ratios = [pair.ratio for pair in self.pairs]
        return ratios.index(min(ratios)) if ratios else None
