"""What a report is made from, whatever that is: a store, a report in JSON, or a review file."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from contextlib import closing
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from high_pair.edits.kinds import SetAside
from high_pair.errors import HighPairError
from high_pair.formats.web.settings import DEFAULT as WEB
from high_pair.formats.web.settings import WebSettings
from high_pair.process.host import Host
from high_pair.report.as_json import settings_as_json
from high_pair.report.findings import Findings
from high_pair.report.rows import Row
from high_pair.report.sources import findings_in
from high_pair.report.store import FileRows, Store
from high_pair.review.file_rows import measure_file
from high_pair.review.history import Decision, History
from high_pair.review.illustrating import HowMeasured
from high_pair.review.in_processes import Opening, get_ready_for
from high_pair.review.review_file import SUFFIX, KeptReview, load_review
from high_pair.wcag.asked import COVERAGE, Asked
from high_pair.wcag.criteria import Level
from high_pair.wcag.verdicts import Verdict

Told = Callable[[int, int], None]


@dataclass(frozen=True)
class Reported:
    """What a report tells: a run, what it is held against, and how its files are measured again."""

    findings: Findings
    before: Findings | None
    how: HowMeasured

    def close(self) -> None:
        """Close its stores."""
        self.findings.store.close()
        if self.before is not None:
            self.before.store.close()


def reported(source: Path, baseline: Path | None, told: Told) -> Reported:
    """Read what a report is made from. Raises FileProblem.

    baseline: another source, whose run it is held against in place of the one before; told: how
    many files of a review are measured, of all.
    """
    if source.suffix.lower() == SUFFIX:
        found = of_review(load_review(source), told)
    else:
        findings = findings_in(source)
        found = Reported(findings, findings.before(), _how(findings.settings))
    return found if baseline is None else replace(found, before=findings_in(baseline))


def _how(settings: Mapping[str, Any]) -> HowMeasured:
    """Read a run's settings; what isn't there, or makes no sense, is as usual."""
    try:
        asked = Asked(Level(settings["level"]), float(settings.get("coverage", COVERAGE)))
        told = settings.get("web")
        lists = {name: tuple(told[name]) for name in ("widths", "folders")} if told else {}
        web = WebSettings(**{**told, **lists}) if told else WEB
    except (KeyError, TypeError, ValueError):
        asked, web = Asked(), WEB
    return HowMeasured(asked, web)


def of_review(kept: KeptReview, told: Told) -> Reported:
    """Measure the files of a review, as they are and with what was decided."""
    store = Store()
    settings = settings_as_json(kept.asked)
    decisions = tuple(Decision(each.file, each.words, each.edits) for each in kept.decisions)
    history = History(decisions)
    openings = [Opening(file.location, file.web or WEB) for file in kept.files]
    get_ready_for([opening.path for opening in openings])
    before = store.begin(settings)
    now_rows = []
    for number, opening in enumerate(openings):
        with closing(Host()) as host:
            first = measure_file(host, opening, "", kept.asked)
        store.keep(before, first)
        edits = history.edits_of(number)
        now = measured_with(opening, edits, first, kept.asked)
        aside = history.set_aside(number)
        now_rows.append(replace(now, pairs=tuple(_judged(row, aside) for row in now.pairs)))
        told(number + 1, len(openings))
    paths = [str(opening.path) for opening in openings]
    store.finish(before, paths)
    run = store.begin(settings)
    for rows in now_rows:
        store.keep(run, rows)
    store.finish(run, paths)
    web = next((file.web for file in kept.files if file.web is not None), WEB)
    by_path = {path: history.edits_of(number) for number, path in enumerate(paths)}
    return Reported(
        Findings(store, run), Findings(store, before), HowMeasured(kept.asked, web, by_path)
    )


def measured_with(
    opening: Opening, edits: tuple[Any, ...], first: FileRows, asked: Asked
) -> FileRows:
    """Measure a file with edits; where they can't be carried out any more it is as it is."""
    if not edits:
        return first
    try:
        with closing(Host()) as host:
            return measure_file(host, replace(opening, edits=edits), "", asked)
    except HighPairError:
        return first


def _judged(row: Row, aside: Mapping[tuple[str, str], SetAside]) -> Row:
    found = aside.get((row.address, row.subject))
    if found is None or row.verdict == Verdict.EXEMPT.value:
        return row
    return replace(row, verdict=Verdict.SET_ASIDE.value, reason=found.words)
