"""Settling a set in a process of its own, which ends where nobody waits for it any more."""

from __future__ import annotations

from collections.abc import Callable

from high_pair.errors import HighPairError
from high_pair.formats.derived_colours import derived
from high_pair.process.host import CallProblem, Host
from high_pair.process.serving import Call
from high_pair.remedy.sets import MendedSet, Move, mend_to_aim
from high_pair.scene.colour_set import ColourSet
from high_pair.wcag.asked import Aim


def settle(
    host: Host, colours: ColourSet, move: Move, aim: Aim, stopped: Callable[[], bool]
) -> MendedSet:
    """Settle a set in a process. Raises Cancelled when stopped."""
    try:
        found: MendedSet = host.call(settled, colours, move, aim, stopped=stopped)
    except CallProblem as problem:
        raise HighPairError(f"The set can't be settled: it {problem}.") from problem
    return found


def settled(_call: Call, colours: ColourSet, move: Move, aim: Aim) -> MendedSet:
    """Move the colours of a set the least in all, so that its pairs have their ratios."""
    return mend_to_aim(colours, derived, move, aim)
