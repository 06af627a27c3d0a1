"""Verdicts on a pair, and the reasons for which the standard exempts text."""

from __future__ import annotations

from enum import StrEnum


class Verdict(StrEnum):
    """What is said of a pair; the values are those of the review format."""

    FALLS_SHORT = "falls_short"
    NEEDS_EYES = "needs_eyes"
    PASSES = "passes"
    SET_ASIDE = "set_aside"
    EXEMPT = "exempt"

    @property
    def words(self) -> str:
        """The verdict as people read it."""
        return self.value.replace("_", " ")


class Exemption(StrEnum):
    """Why the standard asks nothing of a text (WCAG 2.2, 1.4.3, «Incidental»)."""

    INVISIBLE = "the text is invisible: it has no fill"
    TRANSPARENT = "the text is invisible: it is wholly transparent"
    COVERED = "the text is invisible: something painted above covers it wholly"
    OFF_PAGE = "the text lies wholly off the page"
    CUT_OFF = "the text lies outside what its box shows"
    CLIPPED = "the text isn't shown: only screen readers are told it"
    INACTIVE = "it is part of an inactive control"
    BROWSER = "its look is the browser's own, which the standard leaves to it"
    HIDDEN_PAGE = "the page is hidden: it isn't shown to the audience"


class AsideReason(StrEnum):
    """Why a person sets a pair aside (WCAG 2.2, 1.4.3, «Incidental» and «Logotypes»)."""

    LOGOTYPE = "it is part of a logotype"
    DECORATION = "it is pure decoration"
    INACTIVE = "it is part of an inactive control"
    OTHER = "the reviewer set it aside"


def verdict_of(ratio: float, required: float) -> Verdict:
    """Compare the unrounded ratio with what is required."""
    return Verdict.FALLS_SHORT if ratio < required else Verdict.PASSES
