"""Run the linters and all unittest suites; close with «N passed, N failed», and what was skipped.

Each linter counts as one check. Linters and test modules run side by side, one process
more than there are cores, those first that took longest the time before; a module's
output stays together. With names of test modules as arguments, only those are run.
"""

from __future__ import annotations

import json
import os
import queue
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent
# How long each took the last time, where the environment is.
TIMES = BIN.parent / "check-seconds.json"
SCRIPTS = "high_pair/engine/scripts"
LINTERS = {
    "ruff": [str(BIN / "ruff"), "check", "."],
    "ruff format": [str(BIN / "ruff"), "format", "--check", "."],
    "mypy": [str(BIN / "mypy")],
    "import-linter": [str(BIN / "lint-imports")],
    "oxlint": [str(BIN / "oxlint"), "-c", f"{SCRIPTS}/.oxlintrc.json", "--deny-warnings", SCRIPTS],
}
# Those that take long anywhere come first where nothing is known yet: they drive the engine.
LONG = ("tests.app.test_web_pages", "tests.app.test_window", "tests.formats.test_web_",
    "tests.formats.test_hostile_pages", "tests.review.test_endings", "tests.engine.")  # fmt: skip
USUAL, LIKELY = 10.0, 100.0
SLOWEST = 10


@dataclass(frozen=True)
class Outcome:
    """What came of a linter or a test module."""

    name: str
    passed: int
    failed: int
    skipped: int
    output: str
    seconds: float


ENVIRONMENT = {
    **os.environ,
    "QT_QPA_PLATFORM": "offscreen",
    # There is a process for each core as it is.
    "OPENBLAS_NUM_THREADS": "1",
    "OMP_NUM_THREADS": "1",
    "PYTHONPATH": str(ROOT),
    "PYTHONWARNINGS": "error::ResourceWarning",
}


class Runner:
    """Runs one linter or test module after the other. The modules' server starts with the first."""

    def __init__(self) -> None:
        self._server: subprocess.Popen[str] | None = None

    def run(self, name: str) -> Outcome:
        """Run a linter, or a test module in a process of its own."""
        return self._lint(name) if name in LINTERS else self._test(name)

    def _lint(self, name: str) -> Outcome:
        start = time.monotonic()
        done = subprocess.run(
            LINTERS[name], cwd=ROOT, env=ENVIRONMENT, text=True, capture_output=True, check=False
        )
        good, seconds = done.returncode == 0, time.monotonic() - start
        return Outcome(name, int(good), int(not good), 0, done.stdout + done.stderr, seconds)

    def _test(self, name: str) -> Outcome:
        if self._server is None or self._server.poll() is not None:
            self._server = subprocess.Popen(
                [sys.executable, "scripts/run_suite.py"],
                cwd=ROOT,
                env=ENVIRONMENT,
                text=True,
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
            )
        assert self._server.stdin is not None and self._server.stdout is not None
        self._server.stdin.write(f"{name}\n")
        self._server.stdin.flush()
        answer = self._server.stdout.readline()
        if not answer:
            return Outcome(name, 0, 1, 0, "the tests' server ended\n", 0.0)
        return Outcome(name, **json.loads(answer))

    def close(self) -> None:
        """End the server."""
        if self._server is not None and self._server.stdin is not None:
            self._server.stdin.close()
            self._server.wait()


def last_times() -> dict[str, float]:
    """Give the seconds that each took the last time; nothing where that isn't known."""
    try:
        found = json.loads(TIMES.read_text())
    except (OSError, ValueError):
        return {}
    return found if isinstance(found, dict) else {}


def expected(name: str, before: dict[str, float]) -> float:
    """Give the seconds that one will take, by the last time or by its name."""
    return before.get(name, LIKELY if name.startswith(LONG) else USUAL)


def main() -> int:
    """Run everything asked for and print the closing line."""
    wanted = sys.argv[1:]
    before = last_times()
    if not wanted:
        modules = (ROOT / "tests").rglob("test_*.py")
        names = [".".join(path.relative_to(ROOT).with_suffix("").parts) for path in modules]
        wanted = sorted([*LINTERS, *names], key=lambda name: (-expected(name, before), name))
    outcomes = []
    # One more than there are cores: pages are mostly waited for.
    runners: queue.SimpleQueue[Runner] = queue.SimpleQueue()
    count = (os.cpu_count() or 1) + 1
    every = [Runner() for _ in range(count)]
    for runner in every:
        runners.put(runner)

    def run(name: str) -> Outcome:
        runner = runners.get()
        try:
            return runner.run(name)
        finally:
            runners.put(runner)

    with ThreadPoolExecutor(max_workers=count) as pool:
        for found in pool.map(run, wanted):
            said = f"{found.passed} passed, {found.failed} failed"
            skipped = f", {found.skipped} skipped" if found.skipped else ""
            print(f"{found.name}: {said}{skipped} ({found.seconds:.1f} s)", flush=True)
            if found.failed:
                print(found.output)
            outcomes.append(found)
    for runner in every:
        runner.close()
    slowest = sorted(outcomes, key=lambda each: -each.seconds)[:SLOWEST]
    print("slowest: " + ", ".join(f"{each.name} {each.seconds:.0f} s" for each in slowest))
    TIMES.write_text(json.dumps(before | {each.name: each.seconds for each in outcomes}))
    passed, failed, skipped = (
        sum(getattr(each, word) for each in outcomes) for word in ("passed", "failed", "skipped")
    )
    print(f"{passed} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    raise SystemExit(main())
