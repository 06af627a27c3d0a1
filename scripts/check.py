"""Run the linters and all unittest suites; close with «N passed, N failed».

Each linter counts as one check. The suites run in one process more than there
are cores, one module at a time in each, so that a module's output stays
together. With names of test modules as arguments, only those tests are run.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent

LINTERS = {
    "ruff": [str(BIN / "ruff"), "check", "."],
    "ruff format": [str(BIN / "ruff"), "format", "--check", "."],
    "mypy": [str(BIN / "mypy")],
    "import-linter": [str(BIN / "lint-imports")],
}
SECONDS_PER_MODULE = 900


def run(command: list[str]) -> tuple[int, str, float]:
    """Run a command; give its exit status, what it printed, and its seconds."""
    start = time.monotonic()
    environment = {
        **os.environ,
        "QT_QPA_PLATFORM": "offscreen",
        # There is a process for each core as it is.
        "OPENBLAS_NUM_THREADS": "1",
        "OMP_NUM_THREADS": "1",
        "PYTHONPATH": str(ROOT),
        "PYTHONWARNINGS": "error::ResourceWarning",
    }
    try:
        done = subprocess.run(
            command,
            cwd=ROOT,
            env=environment,
            text=True,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            stdin=subprocess.DEVNULL,
            timeout=SECONDS_PER_MODULE,
        )
    except subprocess.TimeoutExpired:
        return 1, f"no end after {SECONDS_PER_MODULE} s\n", time.monotonic() - start
    return done.returncode, done.stdout, time.monotonic() - start


def run_module(module: str) -> tuple[str, int, int, str, float]:
    """Run one test module in a process of its own: name, passed, failed, output, seconds."""
    status, output, seconds = run([sys.executable, "scripts/run_suite.py", module])
    passed = failed = 0
    for line in output.splitlines():
        if line.startswith("suite-result "):
            passed, failed = (int(word) for word in line.split()[1:3])
    if status != 0 and failed == 0:
        failed = 1
    return module, passed, failed, output, seconds


def main() -> int:
    """Run everything asked for and print the closing line."""
    passed = failed = 0
    wanted = sys.argv[1:]
    if not wanted:
        for name, command in LINTERS.items():
            status, output, seconds = run(command)
            print(f"{name}: {'passed' if status == 0 else 'FAILED'} ({seconds:.1f} s)", flush=True)
            if status:
                print(output)
            passed, failed = passed + (status == 0), failed + (status != 0)
    modules = wanted or sorted(
        ".".join(path.relative_to(ROOT).with_suffix("").parts)
        for path in (ROOT / "tests").rglob("test_*.py")
    )
    # One more than there are cores: pages are mostly waited for.
    with ThreadPoolExecutor(max_workers=(os.cpu_count() or 1) + 1) as pool:
        for module, good, bad, output, seconds in pool.map(run_module, modules):
            print(f"{module}: {good} passed, {bad} failed ({seconds:.1f} s)", flush=True)
            if bad:
                print(output)
            passed, failed = passed + good, failed + bad
    print(f"{passed} passed, {failed} failed")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    raise SystemExit(main())
