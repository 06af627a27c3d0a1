"""Measure the solvers of overlays and frames of fitting one by hand.

python -m benchmarks.overlay

Each figure stands beside what a bare copy of the page's image to the window costs.
"""

from __future__ import annotations

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QApplication

from benchmarks.shown import shown_window
from high_pair.app.fitting.handles import dragged, handles_of
from high_pair.app.window import DEMO, Window
from high_pair.formats import open_document
from high_pair.remedy.overlays import propose_overlays, site_for
from high_pair.review.measuring import PageBench
from high_pair.review.mending import proposals_for
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict

FRAMES = 80
PHOTOGRAPHS = (1, 5, 6)
SOLVER_TARGET, FRAME_TARGET = 100.0, 16.0


def _said(name: str, found: list[float], target: float, copy: float) -> None:
    found = sorted(found)
    middle, late = found[len(found) // 2], found[int(len(found) * 0.95)]
    sys.stdout.write(
        f"{name}: {middle:.1f} ms ({middle / copy:.1f} copies of the page), "
        f"95% under {late:.1f} ms (target {target:g})\n"
    )


def _timed(run: Callable[[], object], times: int) -> list[float]:
    found = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        found.append((time.perf_counter() - start) * 1000)
    return found


def _settle(application: QApplication, window: Window) -> None:
    quiet = 0
    while quiet < 5:
        application.processEvents()
        time.sleep(0.02)
        quiet = 0 if window.controller.busy else quiet + 1


def main() -> None:
    """Print the times of the solvers on photographs, and of frames of every kind of overlay."""
    with tempfile.TemporaryDirectory() as folder:
        application, window = shown_window(Path(folder))
        window.open_paths([DEMO])
        _settle(application, window)
        canvas, desk = window.desk.view.canvas, window.desk
        copy = sorted(_timed(canvas.repaint, FRAMES))[FRAMES // 2]
        _solvers(copy)
        file = next(iter(window.controller.session.files.values()))
        pair = next(
            pair
            for pair in window.controller.session.pairs_on(file.key, 1)
            if pair.verdict is Verdict.FALLS_SHORT
        )
        desk.show_pair(file.key, pair)
        _settle(application, window)
        for row, card in enumerate(list(desk.panel.remedies.cards.rows)):
            if card.remedy.kind == "recolour":
                continue
            desk.choose_remedy(row + 1)
            _settle(application, window)
            _frames(window, application, card.remedy.kind, copy)
        window.controller.session.history = type(window.controller.session.history)()
        window.controller.stop()
        window.close()


def _solvers(copy: float) -> None:
    document = open_document(DEMO)
    bench, asked = PageBench(), Asked()
    found = []
    for number in PHOTOGRAPHS:
        page = bench.get(document, number, asked)
        for pair in page.pairs:
            if pair.verdict is not Verdict.FALLS_SHORT:
                continue

            def solve(pair=pair, page=page) -> None:  # type: ignore[no-untyped-def]
                proposals_for([pair], document, bench, asked)
                site = site_for(page, [pair])
                if not isinstance(site, str):
                    propose_overlays(site, "", asked.coverage)

            found += _timed(solve, 3)
    document.close()
    _said("all remedies for a pair over a photograph", found, SOLVER_TARGET, copy)


def _frames(window: Window, application: QApplication, kind: str, copy: float) -> None:
    form, canvas = window.desk.panel.fitting, window.desk.view.canvas

    def strength(frame: int) -> None:
        form.strength.setValue(20 + frame)
        application.processEvents()

    count = iter(range(FRAMES))
    _said(f"{kind}, strength", _timed(lambda: strength(next(count)), FRAMES), FRAME_TARGET, copy)
    if form.overlay is None:
        return
    for handle in handles_of(form.overlay)[:3]:
        steps = iter(range(FRAMES))

        def drag(name: str = handle.name, x: float = handle.x, y: float = handle.y) -> None:
            step = next(steps)  # noqa: B023
            if canvas.live is not None:
                moved = dragged(canvas.live.overlay, name, x - step / 2, y + step / 3)
                canvas.live.overlay = moved
                canvas.fitted.emit(moved)
                canvas.update()
            application.processEvents()

        _said(f"{kind}, {handle.name}", _timed(drag, FRAMES), FRAME_TARGET, copy)


if __name__ == "__main__":
    main()
