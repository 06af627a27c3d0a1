"""Bringing links and controls into a state, as if they were pointed at, by the engine's tools."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass

from high_pair.engine.page import BrowserPage

# By these the engine's tools find the elements in a state, and those round them.
ATTRIBUTE, ROUND = "hp-state", "hp-round"
MOST_NODES = 20_000


@dataclass(frozen=True)
class State:
    """A state of links and controls.

    names: the pseudo-classes that hold in it; around: those that then hold for the
    elements round it; words: how a report says it.
    """

    name: str
    names: tuple[str, ...]
    around: tuple[str, ...]
    words: str


STATES = (
    State("hover", ("hover",), ("hover",), "on hover"),
    State("focus", ("focus", "focus-visible", "focus-within"), ("focus-within",), "on focus"),
    State("active", ("active",), ("active",), "when pressed"),
    State("visited", ("visited",), (), "when visited"),
)


def force(page: BrowserPage, state: State, numbers: list[int]) -> list[int]:
    """Bring links and controls into a state; gives the nodes of all that are forced.

    numbers: of the elements, in whichever tree of the page.
    """
    page.ask(f"highPair.name('{ATTRIBUTE}', {json.dumps(numbers)})")
    nodes, around = _named(page, ATTRIBUTE), []
    if state.around:
        page.ask(f"highPair.nameAround('{ROUND}', '{ATTRIBUTE}')")
        around = _named(page, ROUND)
    _set(page, around, state.around)
    _set(page, nodes, state.names)
    page.ask("highPair.mendNow()")
    page.ask("highPair.finishAnimations()")
    return [*nodes, *around]


def _named(page: BrowserPage, attribute: str) -> list[int]:
    """Give the nodes of the elements that have an attribute of ours, in frames and shadows too."""
    search = page.tools.ask("DOM.performSearch", query=f"[{attribute}]")
    # Whatever has the attribute's name in its text is found too.
    count = min(search.get("resultCount", 0), MOST_NODES)
    if not count:
        return []
    asked = {"searchId": search["searchId"], "fromIndex": 0, "toIndex": count}
    nodes: list[int] = page.tools.ask("DOM.getSearchResults", **asked).get("nodeIds", [])
    page.tools.ask("DOM.discardSearchResults", searchId=search["searchId"])
    return nodes


def release(page: BrowserPage, nodes: list[int]) -> None:
    """Bring nodes that were forced back to rest."""
    _set(page, nodes, ())


def _set(page: BrowserPage, nodes: list[int], names: Sequence[str]) -> None:
    for place, node in enumerate(nodes):
        # The last answer tells that all have been heard.
        last = place == len(nodes) - 1
        speak = page.tools.ask if last else page.tools.tell
        speak("CSS.forcePseudoState", nodeId=node, forcedPseudoClasses=list(names))
