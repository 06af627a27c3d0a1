"""Controls that something lies over: what is painted there is no control's border or ring.

Whatever a click at a control doesn't reach is looked at: filled with one
colour, the page differs just where the control shows.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from enum import Enum

from high_pair.engine.frames import Pixels, differs
from high_pair.engine.paintings import ONE, STEADY, WITHOUT, Taken, pixels_of

ATTRIBUTE = "hp-doubt"
# Of a control that shows no less than this nothing is said.
NEARLY_ALL = 0.97


class Shows(Enum):
    """How much of a control shows; those that show whole aren't told of."""

    IN_PART = "in part"
    NOWHERE = "nowhere"
    # A box round it would have to be scrolled to it.
    AWAY = "away"


def hidden_in(covered: Mapping[int, Shows], number: int) -> bool:
    """Tell whether a control shows nowhere."""
    return covered.get(number, Shows.IN_PART) is not Shows.IN_PART


def find_covered(taken: Taken, backdrop: Pixels) -> dict[int, Shows]:
    """Find the controls, by their numbers, that something lies over, or that are see-through.

    backdrop: the page without text as it is now.
    """
    doubtful = taken.page.ask("highPair.doubtful()")
    if not doubtful:
        return {}
    numbers = [number for number, _, _ in doubtful]
    taken.page.ask(f"highPair.name('{ATTRIBUTE}', {json.dumps(numbers)})")
    colour = "rgb({} {} {})!important".format(*ONE)
    look = (
        f"background:{colour};border-color:{colour};fill:{colour};object-fit:none!important;"
        "object-position:-99999px -99999px!important"
    )
    taken.painter.show(f"{STEADY}{WITHOUT}[{ATTRIBUTE}],[{ATTRIBUTE}] *{{{look}}}")
    filled = taken.painter.grab()
    taken.page.ask(f"highPair.name('{ATTRIBUTE}', [])")
    shows = differs(filled, backdrop)
    found = {}
    for number, box, scrolled in doubtful:
        left, top, right, bottom = pixels_of(box, taken.painter.zoom, shows.shape)
        part = shows[top:bottom, left:right]
        # What lies off the page is nowhere.
        shown = float(part.mean()) if part.size else 0.0
        if shown == 0:
            found[number] = Shows.AWAY if scrolled else Shows.NOWHERE
        elif shown < NEARLY_ALL:
            found[number] = Shows.IN_PART
    return found
