"""How links and controls look when pointed at, focused, pressed or visited, by forced states."""

from __future__ import annotations

import copy
import functools
import itertools
import json
import math
import time
from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import Executor
from dataclasses import replace
from typing import Any, Literal

import numpy as np

from high_pair.engine.covered import Shows, find_covered, hidden_in
from high_pair.engine.forcing import ATTRIBUTE, ROUND, STATES, State, force, release
from high_pair.engine.frames import COUNT, MOST_ELEMENTS, Pixels
from high_pair.engine.layers import meeting
from high_pair.engine.paintings import (
    Paintings,
    Part,
    Taken,
    add_tile,
    needs_both,
    paint_parts,
)
from high_pair.engine.protocol import Icon, Indicator, Room, Text
from high_pair.engine.texts import boxes_meet, boxes_of, inside, key_of, visible
from high_pair.engine.views import View

MOST_FORCED = 1000
MOST_INDICATORS = 300
WITHOUT_RINGS = f"[{ATTRIBUTE}]{{outline:none!important}}"
# Seconds in which other views than the first are looked at, and so long after the page was begun;
# what is left by then isn't.
SECONDS, LATEST = 30.0, 60.0
# Pixels of a very long page that are looked at in one view.
TALLEST_VIEW = 6_000
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


def take_states(
    taken: Taken, beside: Executor, covered: Mapping[int, Shows], scrolled: Sequence[View]
) -> None:
    """Paint each state, all links and controls of a view at the same time, and keep what differs.

    covered: links and controls that something lies over; scrolled: views to which boxes of the
    page are scrolled.
    """
    page, told = taken.page, taken.told
    large = not taken.painter.whole and page.ask(COUNT) > MOST_ELEMENTS
    if told["cut"] or large:
        told["unforced"] = True
        return
    stateful = page.ask(f"highPair.stateful({MOST_FORCED})")
    if not any(stateful[state.name] for state in STATES):
        return
    told["without_states"] = stateful.get("left", 0)
    page.tools.ask("DOM.enable")
    page.tools.ask("CSS.enable")
    if "root" not in page.tools.ask("DOM.getDocument", depth=0):
        told["unforced"] = True
        return
    until, left = math.inf, {at for view in scrolled for at in view.numbers or ()}
    if not taken.painter.whole:
        left |= {at for state in STATES for at in stateful[state.name]}
    for view in itertools.chain(_views_of_page(taken, stateful, covered), scrolled):
        if time.monotonic() > until:
            break
        left -= view.numbers or set()
        for state in STATES:
            numbers = [at for at in stateful[state.name] if _is_of(view, at)]
            if view.numbers is None and state.name != "focus":
                # What can't be seen can't be pointed at; the focus may bring it into view.
                numbers = [at for at in numbers if not hidden_in(covered, at)]
            if not numbers:
                continue
            view.bring()
            forced = force(page, state, numbers)
            by_rule = bool(stateful[f"{state.name} rules"])
            crowded = _take_state(taken, beside, view, numbers, state, by_rule, covered)
            release(page, forced)
            _take_apart(taken, beside, state, view, crowded)
        until = min(until, time.monotonic() + SECONDS, taken.began + LATEST)
    every = len({at for state in STATES for at in stateful[state.name]})
    most = every + stateful.get("left", 0)
    told["without_states"] = min(told["without_states"] + len(left), most)
    page.ask("highPair.scrollTo(0, false)")
    page.ask(f"highPair.name('{ATTRIBUTE}', [])")
    page.ask(f"highPair.name('{ROUND}', [])")
    page.tools.ask("CSS.disable")
    page.tools.ask("DOM.disable")


def _is_of(view: View, number: int) -> bool:
    return view.numbers is None or number in view.numbers


def _views_of_page(
    taken: Taken, stateful: Mapping[str, Any], covered: Mapping[int, Shows]
) -> Iterator[View]:
    """Give the views in which the page is looked at: one, or of a very long one several."""
    assert taken.main is not None
    painter, page = taken.painter, taken.page
    texts = {key_of(text): text for text in taken.told["texts"]}
    if painter.whole:
        yield View(painter, None, taken.main, texts)
        return
    every = {at for state in STATES for at in stateful[state.name]}
    numbers = sorted(at for at in every if not hidden_in(covered, at))
    left = dict(zip(numbers, page.ask(f"highPair.boxes({json.dumps(numbers)})"), strict=True))
    height, zoom = min(painter.view_rows, TALLEST_VIEW) / painter.zoom, painter.zoom
    while left:
        top = max(0.0, min(box[1] for box in left.values()) - ROOM)
        bring = functools.partial(page.ask, f"highPair.scrollTo({top}, {str(top > 0).lower()})")
        bring()
        scrolled = float(page.ask("highPair.scrolled()"))
        box = [0.0, top, float(taken.painter.extent.width), height]
        here = {at for at, each in left.items() if each[1] + each[3] <= top + height}
        # What is higher than any view is looked at nowhere.
        here = here or {min(left, key=lambda at: left[at][1])}
        left = {at: each for at, each in left.items() if at not in here}
        part = Part(box, bring, scrolled)
        rows = slice(int(top * zoom), int((top + height) * zoom))
        if rows.stop <= len(taken.main.backdrop):
            rest = taken.main.part(0, rows.start, taken.main.backdrop.shape[1], rows.stop)
        else:
            rest = next(paint_parts(painter, [part], needs_both(taken.told))) or taken.main
        yield View(painter, part, rest, texts, frozenset(here))


def _take_state(
    taken: Taken,
    beside: Executor,
    view: View,
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
        shown = numbers
        if view.part is None and covered:
            now_covered = find_covered(taken, view.backdrop())
            # Of what the focus brings into view, that it appears is the sign.
            shown = [
                at
                for at in numbers
                if not hidden_in(covered, at) and not hidden_in(now_covered, at)
            ]
        outlines = page.ask(f"highPair.outlines({json.dumps(shown[:MOST_INDICATORS])})")
    if not by_rule and all(each["style"] in ("auto", "none") for each in outlines):
        # The browser's own ring, which the standard leaves to it, and nothing else.
        taken.told["indicators"] += [{**each, "own": True} for each in outlines]
        return []
    paintings, changed = _painted(taken, beside, view, _candidates(taken, view, now))
    neighbours = _crowded(changed)
    for text in changed:
        if text["element"] not in neighbours:
            _add(taken, paintings, text, state)
    _add_icons(taken, view, paintings, state)
    if outlines:
        paintings = replace(paintings, seen=view.seen())
    for each in outlines:
        if taken.full:
            taken.told["without_states"] += 1
            continue
        box = each["box"]
        reach = max(ROOM, each["width"] + each["offset"] + 4)
        room = [box[0] - reach, box[1] - reach, box[2] + 2 * reach, box[3] + 2 * reach]
        tile = add_tile(taken, paintings, room)
        rest = None if view.part is None else add_tile(taken, view.rest, room)
        own = each["style"] == "auto"
        taken.told["indicators"].append({**each, "own": own, "tile": tile, "rest": rest})
    return [text for text in changed if text["element"] in neighbours]


def _candidates(taken: Taken, view: View, now: Sequence[Text]) -> list[tuple[Text | None, Text]]:
    """Give the texts that may look otherwise than at rest: as they were, None of those that weren't
    seen, and as they are now."""
    found: list[tuple[Text | None, Text]] = []
    for text in now:
        before = view.texts.get(key_of(text))
        # What lies outside the view in a scroller is looked at where that is scrolled to it.
        unseen = text["scroller"] and not visible(text)
        if unseen or text["exempt"] or not boxes_of(text) or not _holds(taken, view, text):
            continue
        if before is None or before["exempt"] in UNSEEN:
            found.append((None, text))
        elif not before["exempt"]:
            below = before.get("under") or before.get("veil")
            if not below or before["words"] != text["words"]:
                # Of what something lies over, it is that one's look that changes.
                found.append((before, text))
    return found


def _holds(taken: Taken, view: View, text: Text) -> bool:
    """Tell whether a text lies within what a view shows of the page."""
    if view.part is None:
        return True
    rows, columns = view.rest.coverage.shape[:2]
    left, top = (side / taken.painter.zoom for side in (view.rest.left, view.rest.top))
    right, bottom = left + columns / taken.painter.zoom, top + rows / taken.painter.zoom
    return all(inside([left, top, right, bottom], box) for box in boxes_of(text))


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
    state: State,
    view: View,
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
        view.bring()
        forced = force(taken.page, state, numbers)
        now = page.ask(f"highPair.collectWithin('{ATTRIBUTE}')")
        paintings = view.paintings(beside, WITHOUT_RINGS)
        for text in now:
            if key_of(text) in keys and _differs(taken, view, paintings.seen, text):
                text["hidden"] = _hidden(taken, paintings, text)
                _add(taken, paintings, text, state)
        release(taken.page, forced)
    for text in texts:
        if groups.get(holders[text["element"]], 0) >= MOST_GROUPS:
            taken.told["without_states"] += 1


def _differs(taken: Taken, view: View, seen: Pixels, text: Text) -> bool:
    """Tell whether a text looks otherwise than at rest. seen: the view as it is now."""
    before = view.texts.get(key_of(text))
    if before is None or before["exempt"] or boxes_of(before) != boxes_of(text):
        return True
    own = any(before["look"][name] != text["look"][name] for name in LOOK)
    return own or _changed(taken, view.rest, seen, text)[0]


def _add_icons(taken: Taken, view: View, paintings: Paintings, state: State) -> None:
    """Keep the icons of controls that look otherwise in a state than at rest."""
    icons: list[Icon] = taken.page.ask("highPair.icons()")
    for icon in icons:
        if not _is_of(view, icon["holder"]):
            continue
        x, y, width, height = icon["box"]
        room = [x - ROOM, y - ROOM, width + 2 * ROOM, height + 2 * ROOM]
        area = view.rest.area([x - 1, y - 1, width + 2, height + 2], taken.painter.zoom)
        one = view.rest.seen[area].astype(np.int16)
        other = paintings.seen[area].astype(np.int16)
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
    view: View,
    candidates: list[tuple[Text | None, Text]],
) -> tuple[Paintings, list[Text]]:
    """Paint a view in a state, and give the texts that look otherwise in it than at rest.

    candidates: texts at rest, None of those that weren't seen, and now; those that show
    somewhere else, or didn't show, are `revealed`. Only what the state changes is
    painted anew: mostly letters alone, whose shapes and backdrop are those at rest.
    """
    # Rings round what has the focus are looked at by themselves: of many at once one would lie over
    # another's text.
    seen, rest = view.seen(WITHOUT_RINGS), view.rest
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
        changed, around = _changed(taken, rest, seen, text)
        if moved or any(own) or changed:
            found.append(text)
            shapes = shapes or moved or own[-1] or own[-2]
            backdrops = backdrops or around
    if shapes:
        paintings = view.paintings(beside, WITHOUT_RINGS)
    else:
        backdrop = view.backdrop(WITHOUT_RINGS) if backdrops else rest.backdrop
        paintings = replace(rest, seen=seen, backdrop=backdrop)
    for text in found:
        text["hidden"] = _hidden(taken, paintings, text)
    return paintings, found


def _hidden(taken: Taken, paintings: Paintings, text: Text) -> bool:
    """Tell whether a text's ink doesn't show though its colour is another than what is behind it.

    So it is where what one control shows in a state, such as a note, lies over another.
    """
    colour = np.array(text["look"]["colour"][:3])
    for area in (paintings.area(box, taken.painter.zoom) for box in boxes_of(text)):
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


def _changed(taken: Taken, rest: Paintings, seen: Pixels, text: Text) -> tuple[bool, bool]:
    """Tell whether a text's place looks otherwise than at rest, and whether beside its ink too."""
    changed = beside = False
    for area in (rest.area(box, taken.painter.zoom) for box in boxes_of(text)):
        one, other = rest.seen[area].astype(np.int16), seen[area].astype(np.int16)
        if not one.size:
            continue
        apart = np.abs(one - other).max(axis=-1)
        changed = changed or bool((apart > NOISE).any())
        beside = beside or bool(((apart > PLAINLY) & (rest.coverage[area] == 0)).any())
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
