"""How long the command takes to begin, against what the same Python takes to load NumPy.

    python -m benchmarks.start

Prints each command's time as a multiple of that, the median of several in turn, and which
readers and parts of SciPy a review of one small deck loads.
"""

from __future__ import annotations

import statistics
import subprocess
import sys
import time
from pathlib import Path

DECK = Path(__file__).resolve().parent.parent / "high_pair/data/demo/safety-briefing.pptx"
TIMES = 7
PROGRAM = "import sys; from high_pair.cli import program; sys.argv[1:] = {}; program()"
COMMANDS = {
    "measure": ["measure", "#777", "white"],
    "--version": ["--version"],
    "--help": ["--help"],
}
# What a process in which a deck is reviewed has loaded.
LOADED = """
import sys
from pathlib import Path
from high_pair.formats import open_document
from high_pair.wcag.asked import Asked
from high_pair.review import steps
from high_pair.review.measuring import review_page
review_page(open_document(Path({!r})), 0, Asked())
names = sorted(sys.modules)
readers = [n for n in names if n.startswith("high_pair.formats.") and n.count(".") > 2]
print("families:", *sorted({{n.split(".")[2] for n in readers}}))
print("SciPy:", *sorted({{".".join(n.split(".")[:2]) for n in names if n.startswith("scipy.")
                          and not n.split(".")[1].startswith("_")}}))
"""


def seconds(code: str) -> float:
    """Give the time of a new Python that runs some code."""
    start = time.monotonic()
    # Two colours that fall short end it with 1.
    subprocess.run([sys.executable, "-c", code], stdout=subprocess.DEVNULL, check=False)
    return time.monotonic() - start


def main() -> None:
    """Print the figures."""
    found: dict[str, list[float]] = {}
    for _ in range(TIMES):
        found.setdefault("numpy", []).append(seconds("import numpy"))
        for name, words in COMMANDS.items():
            found.setdefault(name, []).append(seconds(PROGRAM.format(words)))
    floor = statistics.median(found["numpy"])
    print(f"loading NumPy: {floor:.3f} s")
    for name in COMMANDS:
        print(f"{name}: {statistics.median(found[name]) / floor:.2f} x")
    subprocess.run([sys.executable, "-c", LOADED.format(str(DECK))], check=True)


if __name__ == "__main__":
    main()
