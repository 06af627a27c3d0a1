"""How sets, their colours and their pairs are named in the window."""

from __future__ import annotations

import re

from high_pair.app.rows import plural
from high_pair.colour.ratio import shown_ratio
from high_pair.scene.colour_set import ColourSet, SetPair, State

_SLOT = re.compile(r"(dk|lt|accent|hlink|folHlink)(\d?)(?=,|\Z)")
_SLOTS = {
    "dk": "dark",
    "lt": "light",
    "accent": "accent",
    "hlink": "link",
    "folHlink": "visited link",
}
THEME = "theme"


def shown_name(name: str, colours: ColourSet) -> str:
    """Give a colour's name as it is shown: a theme's slots have short ones in their files."""
    if colours.kind != THEME:
        return name
    return _SLOT.sub(lambda found: f"{_SLOTS[found[1]]} {found[2]}".strip(), name, count=1)


def pair_words(pair: SetPair, colours: ColourSet) -> str:
    """Name a pair: «accent 2 on dark 2»."""
    text, backdrop = (shown_name(name, colours) for name in (pair.text, pair.backdrop))
    return f"{text} on {backdrop}"


def places_words(pair: SetPair) -> str:
    """Say where a pair stands."""
    if pair.state is State.IN_USE:
        return plural(pair.places, "place")
    return "wanted" if pair.state is State.WANTED else "possible"


def ratio_words(ratio: float, required: float) -> str:
    """Say a pair's ratio and what it is asked for."""
    verdict = "passes" if ratio >= required else "falls short"
    return f"{verdict}, {shown_ratio(ratio)} of {required:g}"
