"""`high-pair audit`: many files, kept in a store, with progress and a summary."""

from __future__ import annotations

import argparse
import json
import sys
import time
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any

from high_pair.cli.arguments import asked, web
from high_pair.cli.console import put, say
from high_pair.formats.writing import refuse_source, write_whole
from high_pair.report.terminal import plain
from high_pair.wcag.verdicts import Verdict

if TYPE_CHECKING:
    from high_pair.report.store import FileRows, Store, Summary
    from high_pair.review.auditing import Standing

# Without a terminal a line is said so often, in seconds.
SAY_EVERY = 10.0
FROM_INPUT = "-"
PATH_WIDTH = 70
NEVER, NEW, ANY = "never", "new", "any"


def run_audit(arguments: argparse.Namespace) -> int:
    """Audit files, say what was found, and give the exit status."""
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
    )
    store = Store(arguments.store)
    try:
        with _Showing() as showing:
            run = audit(wishes, store, showing)
        summary = store.summary(run)
        new = store.falling_keys(run) - baseline if baseline is not None else None
        put(_as_json(summary, new) if arguments.format == "json" else _as_table(summary, new))
        return _status(summary, store, arguments.fail_on, new)
    finally:
        store.close()


def run_report(arguments: argparse.Namespace) -> int:
    """Write what an audit or a review found in another form."""
    from high_pair.report.as_csv import write_csv
    from high_pair.report.rows import rows_of

    output: Path | None = arguments.output
    if output is not None:
        refuse_source(output, [arguments.source])
    text = write_csv(rows_of(arguments.source))
    if output is None:
        put(text, as_utf8=True)
    else:
        data = text.encode("utf-8", "backslashreplace")

        def write(out: IO[bytes]) -> None:
            out.write(data)

        write_whole(output, output, write)
    return 0


def _roots(paths: Sequence[str]) -> Iterator[str]:
    for path in paths:
        if path == FROM_INPUT:
            yield from (line.rstrip("\n") for line in sys.stdin if line.strip())
        else:
            yield path


def _baseline(path: Path | None) -> set[str] | None:
    """Give the keys of what fell short in a store's last run that ended."""
    from high_pair.report.store import Store

    if path is None:
        return None
    store = Store(path, reads_only=True)
    try:
        run = store.last_finished()
        return store.falling_keys(run) if run is not None else set()
    finally:
        store.close()


def _status(summary: Summary, store: Store, fail_on: str, new: set[str] | None) -> int:
    """0: nothing that counts falls short; 1: something does; 2: a file couldn't be read."""
    if summary.unread:
        return 2
    short = summary.number(Verdict.FALLS_SHORT)
    if fail_on == NEW:
        count = summary.new if new is None else len(new)
        # Without an earlier run all is new.
        short = short if count is None else count
    return 1 if short and fail_on != NEVER else 0


# The summary


def _as_table(summary: Summary, new: set[str] | None) -> str:
    # It loads what measures, which an audit's own process needs for nothing else.
    from high_pair.report.as_table import cut

    words = {verdict: summary.number(verdict) for verdict in Verdict}
    pairs = ", ".join(f"{count:,} {verdict.words}" for verdict, count in words.items() if count)
    lines = [
        f"{summary.files:,} files"
        + (f", {summary.taken:,} as they were" if summary.taken else "")
        + (f", {summary.unread:,} can't be read" if summary.unread else "")
        + f": {pairs or 'no text'}"
    ]
    if new is not None:
        lines.append(f"{len(new):,} fall short that the baseline hadn't")
    elif summary.new is not None:
        lines.append(f"since the run before: {summary.new:,} new, {summary.gone:,} gone")
    criteria = sorted({criterion for criterion, _ in summary.counts})
    for criterion in criteria:
        said = ", ".join(
            f"{summary.counts[(criterion, verdict.value)]:,} {verdict.words}"
            for verdict in Verdict
            if (criterion, verdict.value) in summary.counts
        )
        lines.append(f"  {criterion:<7} {said}")
    if summary.worst:
        lines += ["most that falls short:"]
        lines += [f"  {count:>7,}  {cut(path, PATH_WIDTH)}" for path, count in summary.worst]
    if summary.errors:
        lines += ["can't be read:"]
        lines += [f"  {plain(error)}" for _, error in summary.errors]
    return "\n".join(lines) + "\n"


def _as_json(summary: Summary, new: set[str] | None) -> str:
    content: dict[str, Any] = {
        "format": "high-pair-audit",
        "version": 1,
        "run": summary.run,
        "files": summary.files,
        "unread": summary.unread,
        "as_they_were": summary.taken,
        "counts": [
            {"criterion": criterion, "verdict": verdict, "number": number}
            for (criterion, verdict), number in sorted(summary.counts.items())
        ],
        "worst": [{"path": path, "falls_short": count} for path, count in summary.worst],
        "errors": [{"path": path, "error": error} for path, error in summary.errors],
        "new": summary.new if new is None else len(new),
        "gone": summary.gone,
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
