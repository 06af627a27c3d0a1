"""A page's set: its custom properties, and the colours that its rules declare."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from high_pair.colour.notation import read
from high_pair.errors import NotationError
from high_pair.formats.sets.files import with_own_names
from high_pair.formats.web.origins import Place
from high_pair.scene.addresses import span
from high_pair.scene.colour_set import ColourSet, Levels, SetColour

KIND = "page"
CUSTOM = "--"
# Of a longer selector the beginning tells enough.
LONGEST = 40
# What holds on paper alone meets nothing on a screen.
PRINT = "print"


def sets_of(
    declared: Sequence[Place], changed: Mapping[str, str], source: str
) -> tuple[ColourSet, ...]:
    """Give a page's set. changed: values that declarations have now, by their addresses.

    Each custom property is a colour; of what rules declare besides, all that have one
    colour in the file are one, and changed together. See-through colours are left out:
    what shows depends on what is behind them.
    """
    custom: list[SetColour] = []
    others: dict[Levels, tuple[Levels, list[Place]]] = {}
    for place in declared:
        first, now = _opaque(place.value), _opaque(changed.get(place.address, place.value))
        if first is None or now is None or any(PRINT in each for each in place.within):
            continue
        if place.named.startswith(CUSTOM):
            name = place.named.removeprefix(CUSTOM)
            within = f" in {place.within[-1]}" if place.within else ""
            custom.append(SetColour(f"{name}{within}", now, addresses=(place.address,)))
        else:
            others.setdefault(first, (now, []))[1].append(place)
    rules = [
        SetColour(_name_of(places), now, addresses=(span([place.address for place in places]),))
        for now, places in others.values()
    ]
    colours = with_own_names([*custom, *rules])
    return (ColourSet(source, KIND, source, colours),) if colours else ()


def _name_of(places: Sequence[Place]) -> str:
    """Name a colour by the rule that declares it first."""
    selector = " ".join(places[0].selector.split())
    short = selector if len(selector) <= LONGEST else selector[: LONGEST - 1] + "…"
    more = f" +{len(places) - 1}" if len(places) > 1 else ""
    return f"{short} {places[0].named}{more}"


def _opaque(value: str) -> Levels | None:
    try:
        found = read(value)
    except NotationError:
        return None
    return found.rgb if found.opacity >= 1 else None
