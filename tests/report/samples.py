"""Rows and runs for tests of reports."""

from __future__ import annotations

from dataclasses import replace

from high_pair.report.findings import Findings
from high_pair.report.rows import Row
from high_pair.report.store import FileRows, Store

SHORT = Row(
    key="k", pair_id="p1-0001", page=1, place="Slide 1 › Title 2", address="slide1.xml#sp=2",
    subject="text", text="Muster stations", size_pt=12.0, bold=False, size_class="normal",
    foreground="#777777", background="#FFFFFF", backdrop="solid", ratio=4.4782, ratio_lowest=4.4782,
    ratio_median=4.4782, ratio_highest=4.4782, share_below=1.0, criterion="1.4.3", required=4.5,
    verdict="falls_short", reason="", bbox=(10.0, 20.0, 30.0, 12.0), cells=(), origin="theme tx1",
    layout="exact", appears="", sheet=None, line=None,
)  # fmt: skip


def a_row(key: str = "k", verdict: str = "falls_short", **more: object) -> Row:
    """Give a pair; what passes has its ratio."""
    ratio = {"passes": 21.0, "needs_eyes": None}.get(verdict, SHORT.ratio)
    return replace(SHORT, key=key, verdict=verdict, **{"ratio": ratio, **more})


def a_run(store: Store, **files: tuple[Row, ...] | str) -> Findings:
    """Keep a run of files: of each its rows, or why it couldn't be read; names have no suffix."""
    run = store.begin({"level": "AA", "coverage": 0.95})
    for name, found in files.items():
        error, rows = (found, ()) if isinstance(found, str) else ("", found)
        store.keep(run, FileRows(f"{name}.pptx", "d", "" if error else "slides", error, 0.1, rows))
    store.finish(run, [f"{name}.pptx" for name in files])
    return Findings(store, run)
