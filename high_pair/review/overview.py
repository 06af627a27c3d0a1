"""What the Report desk shows of a run, added up: now, and before. Knows no interface."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from high_pair.measure.pairs import Pair
from high_pair.report.contents import ReportedPage
from high_pair.report.findings import Findings, ReasonFound, Summary, Tick, trend
from high_pair.report.rows import Row, rows_of
from high_pair.report.store import Decision, FileRows, Store
from high_pair.wcag.verdicts import Verdict

# Files that are listed, those with the most that falls short first.
MOST_FILES = 2000
# Runs that the trend shows, the last ones.
MOST_RUNS = 6


@dataclass(frozen=True)
class CriterionCounts:
    """A criterion's number, and how many pairs it has of each verdict."""

    number: str
    counts: Mapping[Verdict, int]


@dataclass(frozen=True)
class OriginCounts:
    """Where colours are decided: how many pairs fall short by it now, and did before.

    look: the weakest pair there, now or else before.
    """

    origin: str
    now: int
    before: int
    files: int
    look: Row


@dataclass(frozen=True)
class FileCounts:
    """A file: what falls short in it now and did before, and all its pairs on the ladder.

    error: why it couldn't be read, or empty.
    """

    path: str
    error: str
    short: int
    before: int
    eyes: int
    ladder: tuple[Tick, ...]


@dataclass(frozen=True)
class TrendCounts:
    """What falls short, held against an earlier run."""

    since: str
    new: int
    gone: int
    still: int


@dataclass(frozen=True)
class Overview:
    """All of a run. before: whether there is something to hold it against.

    runs: when runs ended, and what fell short in each, this one last; files_left: how many files
    aren't listed.
    """

    summary: Summary
    before: bool
    short_before: int
    ladder: tuple[Tick, ...]
    ladder_before: tuple[Tick, ...]
    criteria: tuple[CriterionCounts, ...]
    origins: tuple[OriginCounts, ...]
    files: tuple[FileCounts, ...]
    files_left: int
    trend: TrendCounts | None
    runs: tuple[tuple[str, int], ...]
    aside: tuple[ReasonFound, ...]
    eyes: tuple[ReasonFound, ...]
    renew: tuple[Decision, ...]
    finished: str

    @property
    def work_left(self) -> int:
        """How much is left for a person: what needs eyes, and decisions to renew."""
        return self.summary.number(Verdict.NEEDS_EYES) + len(self.renew)


def overview_of(now: Findings, before: Findings | None, is_one_review: bool = False) -> Overview:
    """Add up a run, and the one that it is held against.

    is_one_review: both are of one review, as it was first measured and with what was decided, so
    that there is no trend.
    """
    summary = now.summary()
    files = _files(now, before)
    changed = None
    if before is not None and not is_one_review:
        found = trend(now, before)
        changed = TrendCounts(before.finished, len(found.new), len(found.gone), len(found.still))
    return Overview(
        summary,
        before is not None,
        before.summary().number(Verdict.FALLS_SHORT) if before else 0,
        tuple(now.ladder()),
        tuple(before.ladder()) if before else (),
        tuple(
            CriterionCounts(
                number, {verdict: summary.number(verdict, number) for verdict in Verdict}
            )
            for number in summary.criteria
        ),
        tuple(_origins(now, before)),
        tuple(files[:MOST_FILES]),
        max(0, len(files) - MOST_FILES),
        changed,
        () if is_one_review else tuple(now.earlier()[-MOST_RUNS:]),
        tuple(now.by_reason(Verdict.SET_ASIDE)),
        tuple(now.by_reason(Verdict.NEEDS_EYES)),
        tuple(now.decisions_to_renew()),
        now.finished,
    )


def _origins(now: Findings, before: Findings | None) -> list[OriginCounts]:
    here = {each.origin: each for each in now.origins()}
    there = {each.origin: each for each in before.origins()} if before else {}
    found = []
    for origin in dict.fromkeys((*here, *there)):
        current, earlier = here.get(origin), there.get(origin)
        shown = current or earlier
        assert shown is not None
        found.append(
            OriginCounts(
                origin,
                current.places if current else 0,
                earlier.places if earlier else 0,
                max(current.files if current else 0, earlier.files if earlier else 0),
                shown.look.row,
            )
        )
    return sorted(found, key=lambda each: (-max(each.now, each.before), -each.now, each.origin))


def _files(now: Findings, before: Findings | None) -> list[FileCounts]:
    earlier = {file.path: file for file in before.files()} if before else {}
    ladders = now.ladders()
    found = []
    for file in now.files():
        then = earlier.get(file.path)
        found.append(
            FileCounts(
                file.path,
                file.error,
                file.number(Verdict.FALLS_SHORT),
                then.number(Verdict.FALLS_SHORT) if then else 0,
                file.number(Verdict.NEEDS_EYES),
                tuple(ladders.get(file.path, ())),
            )
        )
    return sorted(
        found, key=lambda each: (not each.error, -each.short, -each.before, -each.eyes, each.path)
    )


# A review as it is in the window


@dataclass(frozen=True)
class ReviewedFile:
    """A file under review: its pairs as they were first measured, and as they are now."""

    path: str
    kind: str
    pages: tuple[ReportedPage, ...]
    first: tuple[Pair, ...]
    now: tuple[Pair, ...]
    assumed: tuple[str, ...] = ()


def findings_of_review(
    files: Sequence[ReviewedFile], settings: Mapping[str, object]
) -> tuple[Findings, Findings]:
    """Give a review as two runs of a store in memory: with what was decided, and as it was."""
    store = Store()
    runs = []
    for which in ("first", "now"):
        run = store.begin(settings)
        for file in files:
            rows = rows_of(getattr(file, which), file.path)
            store.keep(
                run,
                FileRows(
                    file.path, "", file.kind, "", 0.0, rows, pages=file.pages, assumed=file.assumed
                ),
            )
        store.finish(run, [file.path for file in files])
        runs.append(Findings(store, run))
    return runs[1], runs[0]
