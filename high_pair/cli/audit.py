"""`high-pair audit`: many files, kept in a store, with progress and a summary."""

from __future__ import annotations

import argparse
import functools
import json
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from high_pair.cli.arguments import asked, web
from high_pair.cli.console import put, say
from high_pair.report.terminal import plain
from high_pair.wcag.verdicts import Verdict

if TYPE_CHECKING:
    from high_pair.report.findings import Findings, Summary, Trend
    from high_pair.report.store import FileRows
    from high_pair.review.auditing import AuditWishes, Standing
    from high_pair.review.crew import Crew

# Without a terminal a line is said so often, in seconds.
SAY_EVERY = 10.0
FROM_INPUT = "-"
PATH_WIDTH = 70
# Files, and errors, that a summary names.
MOST_NAMED = 10
NEVER, NEW, ANY = "never", "new", "any"


def run_audit(arguments: argparse.Namespace) -> int:
    """Audit files, say what was found, and give the exit status."""
    from high_pair.report.findings import Findings
    from high_pair.report.store import Store
    from high_pair.review.auditing import AuditWishes, audit
    from high_pair.review.parallel import usable_processes

    baseline = _baseline(arguments.baseline)
    wishes = AuditWishes(
        tuple(_roots(arguments.paths)),
        asked(arguments),
        web(arguments),
        tuple(arguments.exclude),
        arguments.hidden,
        arguments.retry,
        arguments.jobs or usable_processes(),
        tuple(arguments.decisions),
    )
    store = Store(arguments.store)
    try:
        with _Showing() as showing:
            run = audit(wishes, store, showing, hired=_hired(arguments.cluster, wishes))
        findings = Findings(store, run)
        changed = _changed(findings, baseline)
        put((_as_json if arguments.format == "json" else _as_table)(findings, changed))
        return _status(findings.summary(), arguments.fail_on, changed, arguments.budget)
    finally:
        store.close()


def _hired(address: str | None, wishes: AuditWishes) -> Callable[[], Crew] | None:
    if address is None:
        return None
    from high_pair.review.cluster import ClusterCrew

    return functools.partial(ClusterCrew, address, wishes.asked, wishes.web, wishes.jobs)


def _roots(paths: Sequence[str]) -> Iterator[str]:
    for path in paths:
        if path == FROM_INPUT:
            yield from (line.rstrip("\n") for line in sys.stdin if line.strip())
        else:
            yield path


def _baseline(path: Path | None) -> Findings | None:
    from high_pair.report.sources import findings_in

    return None if path is None else findings_in(path)


def _changed(findings: Findings, baseline: Findings | None) -> Trend | None:
    """Hold a run against the baseline, else against the one before; None where there is none."""
    from high_pair.report.findings import trend

    before = baseline or findings.before()
    return None if before is None else trend(findings, before)


def _status(summary: Summary, fail_on: str, changed: Trend | None, budget: int) -> int:
    """0: no more than the budget of what counts falls short; 1: more does; 2: a file couldn't be
    read."""
    if summary.unread:
        return 2
    short = summary.number(Verdict.FALLS_SHORT)
    if fail_on == NEW and changed is not None:
        # Without an earlier run all is new.
        short = len(changed.new)
    return 1 if short > budget and fail_on != NEVER else 0


# The summary


def _as_table(findings: Findings, changed: Trend | None) -> str:
    # It loads what measures, which an audit's own process needs for nothing else.
    from high_pair.report.as_table import cut

    summary = findings.summary()
    words = {verdict: summary.number(verdict) for verdict in Verdict}
    pairs = ", ".join(f"{count:,} {verdict.words}" for verdict, count in words.items() if count)
    lines = [
        f"{summary.files:,} files"
        + (f", {summary.taken:,} as they were" if summary.taken else "")
        + (f", {summary.unread:,} can't be read" if summary.unread else "")
        + f": {pairs or 'no text'}"
    ]
    if changed is not None:
        lines.append(
            f"since then: {len(changed.new):,} new, {len(changed.gone):,} gone, "
            f"{len(changed.still):,} still there"
        )
    for criterion in summary.criteria:
        counts = {verdict: summary.number(verdict, criterion) for verdict in Verdict}
        said = ", ".join(f"{count:,} {verdict.words}" for verdict, count in counts.items() if count)
        lines.append(f"  {criterion:<7} {said}")
    if renew := findings.decisions_to_renew():
        lines += [f"set aside before, but looking otherwise now: {len(renew):,}"]
        lines += [
            f"  {cut(each.path, PATH_WIDTH)}: {plain(each.place)}" for each in renew[:MOST_NAMED]
        ]
    if worst := findings.worst(MOST_NAMED):
        lines += ["most that falls short:"]
        lines += [f"  {count:>7,}  {cut(path, PATH_WIDTH)}" for path, count in worst]
    if errors := findings.errors(MOST_NAMED):
        lines += ["can't be read:"]
        lines += [f"  {plain(error)}" for _, error in errors]
    return "\n".join(lines) + "\n"


def _as_json(findings: Findings, changed: Trend | None) -> str:
    summary = findings.summary()
    content: dict[str, Any] = {
        "format": "high-pair-audit",
        "version": 1,
        "run": findings.run,
        "files": summary.files,
        "unread": summary.unread,
        "as_they_were": summary.taken,
        "counts": [
            {"criterion": criterion, "verdict": verdict, "number": number}
            for (criterion, verdict), number in sorted(summary.counts.items())
        ],
        "worst": [
            {"path": path, "falls_short": count} for path, count in findings.worst(MOST_NAMED)
        ],
        "errors": [{"path": path, "error": error} for path, error in findings.errors(MOST_NAMED)],
        "new": None if changed is None else len(changed.new),
        "gone": None if changed is None else len(changed.gone),
        "still_there": None if changed is None else len(changed.still),
        "decisions_to_renew": [
            {"path": each.path, "where": each.place, "text": each.text}
            for each in findings.decisions_to_renew()
        ],
    }
    return json.dumps(content, indent=2, ensure_ascii=False) + "\n"


# Progress


class _Showing:
    """Shows how far an audit is: bars on a terminal, else a line from time to time."""

    def __init__(self) -> None:
        self._bars: Any = None
        self._task: Any = None
        self._said = time.monotonic()

    def __enter__(self) -> _Showing:
        if sys.stderr is not None and sys.stderr.isatty():
            from rich.console import Console
            from rich.progress import (
                BarColumn,
                MofNCompleteColumn,
                Progress,
                TextColumn,
                TimeRemainingColumn,
            )

            self._bars = Progress(
                BarColumn(),
                MofNCompleteColumn(),
                TextColumn("{task.fields[rate]}"),
                TimeRemainingColumn(),
                TextColumn("{task.description}", markup=False),
                console=Console(stderr=True),
                transient=True,
            )
            self._bars.start()
            self._task = self._bars.add_task("", total=None, rate="")
        return self

    def __exit__(self, *_: object) -> None:
        if self._bars is not None:
            self._bars.stop()

    def __call__(self, standing: Standing, found: FileRows | None) -> None:
        """Show it; a file that can't be read is said at once."""
        if found is not None and found.error:
            say(found.error)
        if self._bars is not None:
            speed = self._bars.tasks[0].speed
            self._bars.update(
                self._task,
                total=standing.total,
                completed=standing.done,
                rate=f"{speed:.1f} files/s" if speed else "",
                description=", ".join(plain(Path(each).name) for each in standing.at_hand),
            )
            return
        now = time.monotonic()
        if now - self._said >= SAY_EVERY:
            self._said = now
            say(f"{standing.done:,} of {standing.total:,} files, {standing.unread:,} can't be read")
