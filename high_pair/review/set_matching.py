"""Which colour of one set takes the place of which of another: by name, else by look and role."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from scipy.optimize import linear_sum_assignment

from high_pair.colour.difference import ciede2000
from high_pair.colour.srgb import from_bytes
from high_pair.scene.colour_set import ColourSet, SetColour

# A colour that is text in the one set and a backdrop in the other is as good as so far off, ΔE00.
OTHER_ROLE = 20.0


def matched(source: ColourSet, target: ColourSet) -> dict[str, str]:
    """Give for the target's colours those of the source that suit; what has none stays as it is.

    Each of the source's colours is given once at most. Those of one name belong together;
    of the others those that look alike, and serve alike as texts or backdrops.
    """
    theirs = [each for each in source.colours if not each.parent]
    free = [each for each in target.colours if not each.parent and not each.leave]
    by_name = {each.name.casefold(): each for each in theirs}
    found: dict[str, str] = {}
    for each in free:
        same = by_name.pop(each.name.casefold(), None)
        if same is not None:
            found[each.name] = same.name
            theirs.remove(same)
    free = [each for each in free if each.name not in found]
    if free and theirs:
        distances = _levels(free)[:, None], _levels(theirs)[None]
        roles = _roles(source), _roles(target)
        cost = ciede2000(*distances) + OTHER_ROLE * np.array(
            [[_serves_otherwise(one.name, other.name, *roles) for other in theirs] for one in free]
        )
        for row, column in zip(*linear_sum_assignment(cost), strict=True):
            found[free[row].name] = theirs[column].name
    return found


def _levels(colours: list[SetColour]) -> np.ndarray:
    return from_bytes(np.array([each.levels for each in colours], np.uint8))


def _roles(colours: ColourSet) -> Mapping[str, set[str]]:
    roles: dict[str, set[str]] = {}
    for pair in colours.pairs:
        roles.setdefault(pair.text, set()).add("text")
        roles.setdefault(pair.backdrop, set()).add("backdrop")
    return roles


def _serves_otherwise(
    target: str, source: str, of_source: Mapping[str, set[str]], of_target: Mapping[str, set[str]]
) -> bool:
    one, other = of_target.get(target), of_source.get(source)
    return bool(one and other and not one & other)
