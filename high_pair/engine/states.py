"""How links and controls look when pointed at, focused, pressed or visited, by forced states."""

from __future__ import annotations

import copy
import json
from collections.abc import Mapping
from concurrent.futures import Executor
from typing import Any, Literal

import numpy as np

from high_pair.engine.covered import Shows, find_covered
from high_pair.engine.forcing import ATTRIBUTE, ROUND, STATES, State, force, release
from high_pair.engine.frames import Pixels
from high_pair.engine.layers import meeting
from high_pair.engine.paintings import (
    Paintings,
    Taken,
    add_tile,
    areas_of,
    paint,
    paint_backdrop,
    paint_seen,
    pixels_of,
)
from high_pair.engine.protocol import Icon, Indicator, Room, Text
from high_pair.engine.texts import boxes_meet, boxes_of, key_of, visible

MOST_FORCED = 1000
MOST_INDICATORS = 300
WITHOUT_RINGS = f"[{ATTRIBUTE}]{{outline:none!important}}"
# Groups of controls that are looked at one after another, for what they show lies in one place.
MOST_GROUPS = 6
# What is shown in a state alone has so much of a panel round its words, in CSS pixels.
PADDING = 24.0
# Of these nothing showed at rest.
UNSEEN = ("invisible", "transparent")
# Room round a text in which its state's painting is kept, in CSS pixels.
ROOM = 12.0
# What of a text's look a state may change; the last two change its letters' shapes.
LookName = Literal["colour", "opacity", "size", "weight"]
LOOK: tuple[LookName, ...] = ("colour", "opacity", "size", "weight")
# What two paintings of one thing may differ by.
NOISE = 2
# Where there is no ink, what differs by more than this is another backdrop.
PLAINLY = 8
# Ink nearly through and through, of FULL.
INKED = 225
# The share of a word's ink that is most of it.
MOSTLY = 0.5


def take_states(taken: Taken, beside: Executor, covered: Mapping[int, Shows]) -> None:
    """Paint each state once, all links and controls at the same time, and keep what differs.

    covered: links and controls that something lies over.
    """
    page, told = taken.page, taken.told
    if told["cut"] or not taken.painter.whole:
        # A page of that size is painted in parts, which takes too long for each state.
        told["unforced"] = True
        return
    stateful = page.ask(f"highPair.stateful({MOST_FORCED})")
    if not any(stateful[state.name] for state in STATES):
        return
    told["without_states"] = stateful.get("left", 0)
    page.tools.ask("DOM.enable")
    page.tools.ask("CSS.enable")
    root = page.tools.ask("DOM.getDocument", depth=0).get("root", {}).get("nodeId")
    if root is None:
        told["unforced"] = True
        return
    rest = {key_of(text): text for text in told["texts"]}
    for state in STATES:
        numbers = stateful[state.name]
        if state.name != "focus":
            # What can't be seen can't be pointed at; the focus may bring it into view.
            numbers = [at for at in numbers if covered.get(at) is not Shows.NOWHERE]
        if not numbers:
            continue
        forced = force(taken.page, root, state, numbers)
        by_rule = bool(stateful[f"{state.name} rules"])
        crowded = _take_state(taken, beside, rest, numbers, state, by_rule, covered)
        release(taken.page, forced)
        _take_apart(taken, beside, root, state, rest, crowded)
    page.ask(f"highPair.name('{ATTRIBUTE}', [])")
    page.ask(f"highPair.name('{ROUND}', [])")
    page.tools.ask("CSS.disable")
    page.tools.ask("DOM.disable")


def _take_state(
    taken: Taken,
    beside: Executor,
    rest: dict[tuple[Any, ...], Text],
    numbers: list[int],
    state: State,
    by_rule: bool,
    covered: Mapping[int, Shows],
) -> list[Text]:
    """Keep what looks otherwise in a state; gives the texts that are to be looked at apart."""
    page = taken.page
    now = page.ask(f"highPair.collectWithin('{ATTRIBUTE}')")
    outlines: list[Indicator] = []
    if state.name == "focus":
        hidden = find_covered(taken, paint_backdrop(taken.painter)) if covered else {}
        # Of what the focus brings into view, that it appears is the sign.
        nowhere = [at for told in (covered, hidden) for at in told if told[at] is Shows.NOWHERE]
        shown = [at for at in numbers if at not in nowhere][:MOST_INDICATORS]
        outlines = page.ask(f"highPair.outlines({json.dumps(shown)})")
    if not by_rule and all(each["style"] in ("auto", "none") for each in outlines):
        # The browser's own ring, which the standard leaves to it, and nothing else.
        taken.told["indicators"] += [{**each, "own": True} for each in outlines]
        return []
    candidates: list[tuple[Text | None, Text]] = []
    for text in now:
        before = rest.get(key_of(text))
        # What lies outside the view in a scroller is measured at rest alone.
        unseen = text["scroller"] and not visible(text)
        if unseen or text["exempt"] or not boxes_of(text):
            continue
        if before is None or before["exempt"] in UNSEEN:
            candidates.append((None, text))
        elif not before["exempt"]:
            below = before.get("under") or before.get("veil")
            if not below or before["words"] != text["words"]:
                # Of what something lies over, it is that one's look that changes.
                candidates.append((before, text))
    paintings, changed = _painted(taken, beside, candidates)
    neighbours = _crowded(changed)
    for text in changed:
        if text["element"] not in neighbours:
            _add(taken, paintings, text, state)
    _add_icons(taken, paintings, state)
    if outlines:
        seen = paint_seen(taken.painter)
        paintings = Paintings(seen, paintings.backdrop, paintings.coverage)
    for each in outlines:
        if taken.full:
            taken.told["without_states"] += 1
            continue
        box = each["box"]
        reach = max(ROOM, each["width"] + each["offset"] + 4)
        room = [box[0] - reach, box[1] - reach, box[2] + 2 * reach, box[3] + 2 * reach]
        tile = add_tile(taken, paintings, room)
        taken.told["indicators"].append({**each, "own": each["style"] == "auto", "tile": tile})
    return [text for text in changed if text["element"] in neighbours]


def _crowded(texts: list[Text]) -> dict[int, set[int]]:
    """Find the elements whose texts lie over, or close to, what others show in a state alone."""
    if not any(text["revealed"] for text in texts):
        return {}
    rooms: list[Room] = [
        {
            "kind": "text", "exempt": "", "region": None, "clip": text["clip"],
            "element": text["element"],
            "words": [
                ["", x - room, y - room, width + 2 * room, height + 2 * room]
                for room in [PADDING if text["revealed"] else 0.0]
                for x, y, width, height in boxes_of(text)
            ],
        }
        for text in texts
    ]  # fmt: skip
    revealed = {text["element"] for text in texts if text["revealed"]}
    return {
        element: others if element in revealed else others & revealed
        for element, others in meeting(rooms).items()
        if element in revealed or others & revealed
    }


def _take_apart(
    taken: Taken,
    beside: Executor,
    root: int,
    state: State,
    rest: dict[tuple[Any, ...], Text],
    texts: list[Text],
) -> None:
    """Keep texts that lie over one another when all controls are in a state at once.

    So do links that the focus brings into view, all at the same place. Their
    controls are put into groups in which none lies over another's.
    """
    if not texts:
        return
    page = taken.page
    elements = sorted({text["element"] for text in texts})
    holders = dict(page.ask(f"highPair.holders('{ATTRIBUTE}', {json.dumps(elements)})"))
    neighbours: dict[int, set[int]] = {}
    for element, others in _crowded(texts).items():
        near = neighbours.setdefault(holders[element], set())
        near.update(holders[other] for other in others)
    groups: dict[int, int] = {}
    for control in sorted(neighbours):
        used = {groups.get(other) for other in neighbours[control] - {control}}
        groups[control] = next(at for at in range(len(neighbours) + 1) if at not in used)
    keys = {key_of(text) for text in texts}
    for group in range(min(MOST_GROUPS, max(groups.values()) + 1)):
        numbers = [control for control, at in groups.items() if at == group]
        forced = force(taken.page, root, state, numbers)
        now = page.ask(f"highPair.collectWithin('{ATTRIBUTE}')")
        paintings = paint(taken.painter, beside, more=WITHOUT_RINGS).result()
        for text in now:
            if key_of(text) in keys and _differs(taken, paintings.seen, rest, text):
                text["hidden"] = _hidden(taken, paintings, text)
                _add(taken, paintings, text, state)
        release(taken.page, forced)
    for text in texts:
        if groups.get(holders[text["element"]], 0) >= MOST_GROUPS:
            taken.told["without_states"] += 1


def _differs(taken: Taken, seen: Pixels, rest: dict[tuple[Any, ...], Text], text: Text) -> bool:
    """Tell whether a text looks otherwise than at rest. seen: the page as it is now."""
    assert taken.main is not None
    before = rest.get(key_of(text))
    if before is None or before["exempt"] or boxes_of(before) != boxes_of(text):
        return True
    own = any(before["look"][name] != text["look"][name] for name in LOOK)
    return own or _changed(taken, taken.main, seen, text)[0]


def _add_icons(taken: Taken, paintings: Paintings, state: State) -> None:
    """Keep the icons of controls that look otherwise in a state than at rest."""
    assert taken.main is not None
    zoom, rest = taken.painter.zoom, taken.main.seen
    icons: list[Icon] = taken.page.ask("highPair.icons()")
    for icon in icons:
        x, y, width, height = icon["box"]
        room = [x - ROOM, y - ROOM, width + 2 * ROOM, height + 2 * ROOM]
        near = pixels_of([x - 1, y - 1, width + 2, height + 2], zoom, rest.shape)
        rows, columns = slice(near[1], near[3]), slice(near[0], near[2])
        one = rest[rows, columns].astype(np.int16)
        other = paintings.seen[rows, columns].astype(np.int16)
        if not one.size or np.abs(one - other).max() <= NOISE:
            continue
        if taken.full:
            taken.told["without_states"] += 1
            continue
        tile = add_tile(taken, paintings, room)
        taken.told["icons"].append(
            {**icon, "tile": tile, "appears": state.words, "state": state.name}
        )


def _bounds(text: Text) -> list[float] | None:
    boxes = boxes_of(text)
    if not boxes:
        return None
    left, top = min(box[0] for box in boxes), min(box[1] for box in boxes)
    right = max(box[0] + box[2] for box in boxes)
    bottom = max(box[1] + box[3] for box in boxes)
    return [
        max(0.0, left - ROOM),
        max(0.0, top - ROOM),
        right - max(0.0, left - ROOM) + ROOM,
        bottom - max(0.0, top - ROOM) + ROOM,
    ]


def _painted(
    taken: Taken,
    beside: Executor,
    candidates: list[tuple[Text | None, Text]],
) -> tuple[Paintings, list[Text]]:
    """Paint the page in a state, and give the texts that look otherwise in it than at rest.

    candidates: texts at rest, None of those that weren't seen, and now; those that show
    somewhere else, or didn't show, are `revealed`. Only what the state changes is
    painted anew: mostly letters alone, whose shapes and backdrop are those at rest.
    """
    main = taken.main
    assert main is not None
    # Rings round what has the focus are looked at by themselves: of many at once one would lie over
    # another's text.
    seen = paint_seen(taken.painter, WITHOUT_RINGS)
    found, backdrops, shapes = [], False, False
    for before, text in candidates:
        text["revealed"] = before is None or not any(
            boxes_meet(one, other) for one in boxes_of(before) for other in boxes_of(text)
        )
        if before is None:
            found.append(text)
            shapes = True
            continue
        moved = before["words"] != text["words"] or before["region"] != text["region"]
        own = [before["look"][name] != text["look"][name] for name in LOOK]
        changed, around = _changed(taken, main, seen, text)
        if moved or any(own) or changed:
            found.append(text)
            shapes = shapes or moved or own[-1] or own[-2]
            backdrops = backdrops or around
    if shapes:
        paintings = paint(taken.painter, beside, more=WITHOUT_RINGS).result()
    else:
        backdrop = paint_backdrop(taken.painter, WITHOUT_RINGS) if backdrops else main.backdrop
        paintings = Paintings(seen, backdrop, main.coverage)
    for text in found:
        text["hidden"] = _hidden(taken, paintings, text)
    return paintings, found


def _hidden(taken: Taken, paintings: Paintings, text: Text) -> bool:
    """Tell whether a text's ink doesn't show though its colour is another than what is behind it.

    So it is where what one control shows in a state, such as a note, lies over another.
    """
    colour = np.array(text["look"]["colour"][:3])
    for area in areas_of(text, taken.painter.zoom, paintings.coverage.shape):
        inked = paintings.coverage[area] >= INKED
        if not inked.any():
            continue
        seen = paintings.seen[area][inked].astype(np.int16)
        behind = paintings.backdrop[area][inked].astype(np.int16)
        alike = np.abs(seen - behind).max(axis=-1) <= PLAINLY
        other = np.abs(behind - colour).max(axis=-1) > 3 * PLAINLY
        if (alike & other).mean() > MOSTLY:
            return True
    return False


def _changed(taken: Taken, main: Paintings, seen: Pixels, text: Text) -> tuple[bool, bool]:
    """Tell whether a text's place looks otherwise than at rest, and whether beside its ink too."""
    changed = beside = False
    for area in areas_of(text, taken.painter.zoom, main.coverage.shape):
        one, other = main.seen[area].astype(np.int16), seen[area].astype(np.int16)
        if not one.size:
            continue
        apart = np.abs(one - other).max(axis=-1)
        changed = changed or bool((apart > NOISE).any())
        beside = beside or bool(((apart > PLAINLY) & (main.coverage[area] == 0)).any())
    return changed, beside


def _add(taken: Taken, paintings: Paintings, text: Text, state: State) -> None:
    box = _bounds(text)
    if box is None:
        return
    if taken.full:
        taken.told["without_states"] += 1
        return
    found = copy.deepcopy(text)
    found["tile"] = add_tile(taken, paintings, box)
    found["appears"] = state.words
    found["state"] = state.name
    found["origin"] = {"rule": -1, "custom": -1, "inline": 0}
    if state.name == "visited":
        # No script is told the colour of visited links: it is read off the painting.
        found["look"]["painted"] = "the engine tells nobody the colour of visited links"
    taken.told["texts"].append(found)
