"""A report as one HTML file: nothing from outside, no script, readable in print.

It has to pass the standard that it reports on, at AAA: its own words stand in dark colours on
light ones, and what falls short is shown in pictures, not in its own text.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, TextIO

from high_pair import __version__
from high_pair.colour.ratio import shown_ratio
from high_pair.report.findings import Findings, Located, LookFound, Tick, Trend, trend
from high_pair.report.ladder import RUNGS, place_on_ladder
from high_pair.report.pictured import Pictured
from high_pair.wcag.criteria import ALL, by_number
from high_pair.wcag.verdicts import Verdict

if TYPE_CHECKING:
    from jinja2 import Template

# Looks that are shown each for itself; the rest is counted, and stands in CSV and JSON.
MOST_LOOKS = 300
MOST_FILES, MOST_ERRORS, MOST_GONE = 2000, 500, 300
LADDER_WIDTH, LADDER_HEIGHT = 960.0, 44.0


@dataclass(frozen=True)
class Bar:
    """A stroke of the ladder: its place and height in its own units; short: it falls short."""

    x: float
    height: float
    short: bool


@dataclass(frozen=True)
class Told:
    """What is told besides the findings. title: of the report; pictures: of looks, by the key of
    their weakest pair; before: what the run is held against."""

    title: str
    before: Findings | None
    pictures: Mapping[str, Pictured]


def bars_of(ticks: list[Tick], columns: int = 480) -> list[Bar]:
    """Draw ticks as strokes, the higher, the more places they stand for."""
    places: dict[tuple[int, bool], int] = {}
    for tick in ticks:
        short = tick.share < 1.0
        column = round(place_on_ladder(tick.share) * columns)
        places[(column, short)] = places.get((column, short), 0) + tick.places
    most = max(places.values(), default=1)
    return [
        Bar(
            column / columns * LADDER_WIDTH,
            LADDER_HEIGHT * (0.2 + 0.8 * math.log1p(count) / math.log1p(most)),
            short,
        )
        for (column, short), count in sorted(
            places.items(), key=lambda at: (at[0][0], not at[0][1])
        )
    ]


def write_html(findings: Findings, told: Told, out: TextIO, most: int = MOST_LOOKS) -> None:
    """Write a run. most: how many looks are shown each for itself."""
    looks, count = findings.looks(most)
    files = findings.files()
    errors = findings.errors()
    changed: Trend | None = trend(findings, told.before) if told.before else None
    for part in _template().generate(
        told=told,
        program=f"High Pair {__version__}",
        settings=findings.settings,
        finished=findings.finished.replace("T", " ").replace("+00:00", " UTC"),
        summary=findings.summary(),
        criteria=ALL,
        by_number=by_number,
        verdicts=Verdict,
        looks=looks,
        look_count=count,
        files=files[:MOST_FILES],
        file_count=len(files),
        errors=errors[:MOST_ERRORS],
        error_count=len(errors),
        origins=findings.origins(most),
        eyes=findings.by_reason(Verdict.NEEDS_EYES),
        aside=findings.by_reason(Verdict.SET_ASIDE),
        exempt=findings.by_reason(Verdict.EXEMPT),
        renew=findings.decisions_to_renew(),
        seats=findings.seats(),
        ladder=bars_of(findings.ladder()),
        ladder_before=bars_of(told.before.ladder()) if told.before else None,
        short_before=(told.before.summary().number(Verdict.FALLS_SHORT) if told.before else None),
        rungs=[(place_on_ladder(share) * LADDER_WIDTH, words) for share, words in RUNGS],
        width=LADDER_WIDTH,
        height=LADDER_HEIGHT,
        changed=changed,
        gone=_gone(findings, told.before, changed),
        remedies=functools.cache(findings.remedies_of),
        is_new=lambda look: _is_new(look, changed),
        ratio=shown_ratio,
    ):
        out.write(part)


def _gone(
    findings: Findings, before: Findings | None, changed: Trend | None
) -> list[tuple[Located, Located | None]]:
    """List what fell short before and doesn't any more: as it was, and as it is, if it is there."""
    if before is None or changed is None:
        return []
    found = []
    for key in sorted(changed.gone)[:MOST_GONE]:
        was = before.pair(key)
        if was is not None:
            found.append((was, findings.pair(key)))
    return sorted(found, key=lambda each: (each[0].path, each[0].row.page, each[0].row.place))


def _is_new(look: LookFound, changed: Trend | None) -> bool:
    return changed is not None and look.weakest.key in changed.new


@functools.cache
def _template() -> Template:
    # It takes as long to load as the rest of a report's program.
    from jinja2 import Environment, PackageLoader, StrictUndefined

    environment = Environment(
        loader=PackageLoader("high_pair.report"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.filters["grouped"] = "{:,}".format
    return environment.get_template("report.html")
