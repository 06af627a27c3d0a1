"""Controls that something lies over: what is painted there is no control's border or ring.

Whatever a click at a control doesn't reach is looked at: filled with one
colour, the page differs just where the control shows.
"""

from __future__ import annotations

import json
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


def find_covered(taken: Taken, backdrop: Pixels) -> dict[int, Shows]:
    """Find the controls, by their numbers, that something lies over, or that are see-through.

    How many lie where a box round them is scrolled to is told, as `scrolled_away`.
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
    away = 0
    for number, box, scrolled in doubtful:
        left, top, right, bottom = pixels_of(box, taken.painter.zoom, shows.shape)
        part = shows[top:bottom, left:right]
        # What lies off the page is nowhere.
        shown = float(part.mean()) if part.size else 0.0
        if shown == 0:
            found[number] = Shows.NOWHERE
            away += scrolled
        elif shown < NEARLY_ALL:
            found[number] = Shows.IN_PART
    taken.told["scrolled_away"] = away
    return found
