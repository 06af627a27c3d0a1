"""The ladder of all pairs: shares of what is asked, on a scale of logarithms.

Since 3, 4.5 and 7 are asked of different pairs, one rung parts what falls short from what passes
only where each pair stands by its ratio over what is asked of it.
"""

from __future__ import annotations

import math

# 7:1 asked, and 1:1 there; 21:1 there, and 3:1 asked.
LEAST_SHARE, MOST_SHARE = 1 / 7, 7.0
RUNGS = ((1 / 4, "¼"), (1 / 2, "½"), (1.0, "what is asked"), (2.0, "2×"), (4.0, "4×"))


def place_on_ladder(share: float) -> float:
    """Give where a share of what is asked stands, from 0 to 1; what is asked stands midway."""
    bounded = min(MOST_SHARE, max(LEAST_SHARE, share))
    return math.log(bounded / LEAST_SHARE) / math.log(MOST_SHARE / LEAST_SHARE)
