"""Sets of colours as a report: JSON, and a table for the terminal.

Source: docs/review-format.md, «Colours».
"""

from __future__ import annotations

import itertools
import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from high_pair.colour.ratio import shown_ratio
from high_pair.colour.srgb import from_bytes, hex_of
from high_pair.colour.vision import Eyes, closest
from high_pair.remedy.sets import MendedSet, Move, ratio_of
from high_pair.report.terminal import plain
from high_pair.scene.colour_set import ColourSet, SetColour, SetPair, State
from high_pair.wcag.criteria import Level, SizeClass, Subject, criterion_for
from high_pair.wcag.verdicts import Verdict, verdict_of

FORMAT, VERSION = "high-pair-colours", 1
# Of larger sets those pairs that nobody uses or wants aren't listed.
MOST_POSSIBLE = 60


@dataclass(frozen=True)
class Effect:
    """What a mended set does on the pages that have it."""

    mends: int
    breaks: int
    falls_short_before: int
    falls_short_after: int


@dataclass(frozen=True)
class ReportedSet:
    """A set, and what came of mending it. move: what was moved; effect: None without pages."""

    colours: ColourSet
    mended: MendedSet | None = None
    move: Move = Move.BOTH
    effect: Effect | None = None


def usual_ratio(level: Level) -> float:
    """Give the ratio that is asked of text of usual size."""
    return criterion_for(Subject.TEXT, level).required(SizeClass.NORMAL)


def falls_short(reported: ReportedSet) -> bool:
    """Tell whether any pair that is in use or wanted falls short, in the end."""
    colours = reported.mended.colours if reported.mended is not None else reported.colours
    return any(ratio_of(colours, pair) < pair.required for pair in colours.pairs)


def write_colours_json(sets: Sequence[ReportedSet], level: Level) -> str:
    """Write sets as JSON."""
    content = {
        "format": FORMAT,
        "version": VERSION,
        "level": level.value,
        "sets": [_set(each, level) for each in sets],
    }
    return json.dumps(content, indent=2, ensure_ascii=False) + "\n"


def _set(reported: ReportedSet, level: Level) -> dict[str, Any]:
    colours = reported.colours
    content: dict[str, Any] = {
        "name": colours.name,
        "source": colours.source,
        "kind": colours.kind,
        "colours": [_colour(each, colours) for each in colours.colours],
        "pairs": _pairs(colours, level),
        "apart": _apart(colours),
    }
    mended = reported.mended
    if mended is not None:
        content["mended"] = {
            "kind": str(reported.move),
            "changes": [
                {
                    "name": change.name,
                    "from": hex_of(change.before),
                    "to": hex_of(change.after),
                    "delta_e": round(change.delta_e, 2),
                }
                for change in mended.changes
            ],
            "delta_e_total": round(mended.total, 2),
            "given_up": [_pair(mended.colours, pair) for pair in mended.given_up],
            "pairs": [_pair(mended.colours, pair) for pair in mended.colours.pairs],
            "apart": _apart(mended.colours),
            **({"on_pages": asdict(reported.effect)} if reported.effect is not None else {}),
        }
    return content


def _colour(colour: SetColour, colours: ColourSet) -> dict[str, Any]:
    return {
        "name": colour.name,
        "hex": hex_of(colour.levels),
        "from": {"name": colour.parent, "change": colour.change} if colour.parent else None,
        "leave": colour.leave,
        "text_places": sum(each.places for each in colours.pairs if each.text == colour.name),
        "backdrop_places": sum(
            each.places for each in colours.pairs if each.backdrop == colour.name
        ),
    }


def _pairs(colours: ColourSet, level: Level) -> list[dict[str, Any]]:
    found = [_pair(colours, pair) for pair in colours.pairs]
    if len(colours.colours) > MOST_POSSIBLE:
        return found
    met = {frozenset((pair.text, pair.backdrop)) for pair in colours.pairs}
    for one, other in itertools.combinations(colours.colours, 2):
        if frozenset((one.name, other.name)) not in met:
            pair = SetPair(one.name, other.name, State.POSSIBLE, usual_ratio(level))
            found.append(_pair(colours, pair))
    return found


def _pair(colours: ColourSet, pair: SetPair) -> dict[str, Any]:
    ratio = ratio_of(colours, pair)
    return {
        "text": pair.text,
        "backdrop": pair.backdrop,
        "state": str(pair.state),
        "places": pair.places,
        "required": pair.required,
        "ratio": ratio,
        "verdict": str(verdict_of(ratio, pair.required)),
    }


def _apart(colours: ColourSet) -> dict[str, Any]:
    """Give for each kind of eyes the two colours that it tells apart least."""
    if len(colours.colours) < 2:
        return {}
    levels = from_bytes(np.array([each.levels for each in colours.colours], np.uint8))
    found = {}
    for eyes in Eyes:
        one, other, distance = closest(eyes, [tuple(each) for each in levels])
        names = [colours.colours[place].name for place in (one, other)]
        found[str(eyes)] = [names, round(distance, 2)]
    return found


def write_colours_table(sets: Sequence[ReportedSet], _level: Level) -> str:
    """Write sets for a terminal: their colours, and the pairs in use and wanted, weakest first."""
    blocks = []
    for reported in sets:
        colours = reported.colours
        lines = [f"{colours.name} ({colours.kind} of {colours.source})"]
        width = max((len(plain(each.name)) for each in colours.colours), default=0)
        for each in colours.colours:
            start = f" from {each.parent}" if each.parent else ""
            lines.append(f"  {plain(each.name):<{width}}  {hex_of(each.levels)}{plain(start)}")
        pairs = sorted(colours.pairs, key=lambda pair: ratio_of(colours, pair) / pair.required)
        lines += ["", *(_line(colours, pair) for pair in pairs)] if pairs else []
        if reported.mended is not None:
            lines += ["", *_mended(reported, reported.mended)]
        blocks.append("\n".join(lines) + "\n")
    return "\n".join(blocks)


def _line(colours: ColourSet, pair: SetPair) -> str:
    ratio = ratio_of(colours, pair)
    words = "passes" if verdict_of(ratio, pair.required) is Verdict.PASSES else "falls short"
    places = f", {pair.places} place{'s' if pair.places != 1 else ''}" if pair.places else ""
    return (
        f"  {words:<11} {shown_ratio(ratio):>5} of {pair.required:g}  "
        f"{plain(pair.text)} on {plain(pair.backdrop)}{places}"
    )


def _mended(reported: ReportedSet, mended: MendedSet) -> list[str]:
    lines = [f"  mended by moving {reported.move}, ΔE2000 {mended.total:.1f} in all:"]
    if not mended.changes:
        lines = ["  nothing had to move"] if not mended.given_up else ["  nothing could be moved"]
    lines += [
        f"    {plain(change.name)} {hex_of(change.before)} → {hex_of(change.after)}, "
        f"ΔE2000 {change.delta_e:.1f}"
        for change in mended.changes
    ]
    lines += [
        f"    given up: {plain(pair.text)} on {plain(pair.backdrop)}" for pair in mended.given_up
    ]
    if reported.effect is not None:
        effect = reported.effect
        lines.append(
            f"    on the pages: mends {effect.mends}, breaks {effect.breaks}; "
            f"{effect.falls_short_before} fell short before, {effect.falls_short_after} after"
        )
    return lines
