"""What a review asks of every pair, and what its reviewer aims at besides."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from high_pair.wcag.criteria import Level

COVERAGE = 0.95
HIGHEST = 21.0
# A number without a sign up to here is a factor: less than a ratio of 3 nobody asks for.
MOST_BARE_FACTOR = 3.0
_WRITTEN = re.compile(r"(?P<times>[x×])?\s*(?P<number>\d+(?:\.\d+)?)\s*(?P<unit>x|×|%|:1)?")


@dataclass(frozen=True)
class Aim:
    """What remedies are to reach, where that is more than the standard asks; verdicts stay its own.

    factor: times what is asked, from 1; ratio: in any case, from 1 to 21.
    """

    factor: float = 1.0
    ratio: float = 1.0

    def of(self, required: float) -> float:
        """Give the ratio to reach where the standard asks for one; 21 is the most there is."""
        return max(required, min(HIGHEST, max(required * self.factor, self.ratio)))

    @property
    def words(self) -> str:
        """The aim as one writes it; empty for that of the standard itself."""
        if self.factor > 1.0:
            return f"×{self.factor:g}"
        return f"{self.ratio:g}:1" if self.ratio > 1.0 else ""


NO_AIM = Aim()


def read_aim(text: str) -> Aim:
    """Read an aim: a factor (1.2x, ×1.2, 120%), or a ratio (6:1, 6).

    A bare number up to 3 is a factor. Raises ValueError with what an aim may be.
    """
    found = _WRITTEN.fullmatch(text.strip().lower())
    if found is None or (found["times"] and found["unit"]):
        raise ValueError(_MAY_BE)
    value = float(found["number"])
    if found["unit"] == "%":
        value /= 100
    bare = not found["times"] and not found["unit"]
    if found["unit"] == ":1" or (bare and value > MOST_BARE_FACTOR):
        if not 1.0 <= value <= HIGHEST:
            raise ValueError(_MAY_BE)
        return Aim(ratio=value)
    if not 1.0 <= value <= HIGHEST or not math.isfinite(value):
        raise ValueError(_MAY_BE)
    return Aim(factor=value)


_MAY_BE = "a factor such as 1.2x, ×1.2 or 120%, or a ratio such as 6:1, up to 21"


@dataclass(frozen=True)
class Asked:
    """What a review asks of every pair: the level, and the share of a footprint that must pass;
    aim: what remedies reach."""

    level: Level = Level.AA
    coverage: float = COVERAGE
    aim: Aim = NO_AIM
