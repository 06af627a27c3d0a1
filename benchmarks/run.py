"""Print each speed target's ratio against its floor, measured in this run.

    python -m benchmarks.run [SLIDES]

The floor of a review is parsing the deck's XML and decoding its pictures, on
one core. Reviews run as the command line does them, in as many processes as
there are cores, and once more in one process.
"""

from __future__ import annotations

import io
import subprocess
import sys
import tempfile
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
from lxml import etree
from PIL import Image

from benchmarks.make_deck import make
from high_pair.colour.ratio import ratio_of_luminances
from high_pair.colour.srgb import LUMINANCE_TABLES, relative_luminance

ONE_PROCESS = """
import resource, sys, time
from pathlib import Path
from high_pair.formats import open_document
from high_pair.wcag.asked import Asked
from high_pair.review.measuring import review_pages
start = time.perf_counter()
document = open_document(Path(sys.argv[1]))
pages = sum(1 for _ in review_pages(document, Asked()))
seconds = time.perf_counter() - start
print(seconds, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""

FLOOR = """
import sys
from pathlib import Path
from benchmarks.run import floor_of
print(floor_of(Path(sys.argv[1])))
"""


def floor_of(path: Path) -> float:
    """Give the seconds that parsing all XML and decoding all pictures takes."""
    start = time.perf_counter()
    with zipfile.ZipFile(path) as package:
        for name in package.namelist():
            data = package.read(name)
            if name.endswith((".xml", ".rels")):
                etree.fromstring(data)
            elif name.endswith((".jpg", ".png")):
                Image.open(io.BytesIO(data)).convert("RGB").load()
    return time.perf_counter() - start


def floor_in_one_process(path: Path) -> float:
    """Give the floor as a fresh process has it, whose memory is as new as the review's."""
    done = subprocess.run(
        [sys.executable, "-c", FLOOR, str(path)], capture_output=True, text=True, check=True
    )
    return float(done.stdout)


def in_one_process(path: Path) -> tuple[float, float]:
    """Review a deck in a fresh process: its seconds (start-up left out) and its peak megabytes."""
    done = subprocess.run(
        [sys.executable, "-c", ONE_PROCESS, str(path)], capture_output=True, text=True, check=True
    )
    seconds, megabytes = done.stdout.split()
    return float(seconds), float(megabytes)


def by_command(path: Path) -> float:
    """Give the seconds of a whole `high-pair review`, start-up and all."""
    code = "import sys; from high_pair.cli import main; main(['review', sys.argv[1]])"
    start = time.perf_counter()
    subprocess.run([sys.executable, "-c", code, str(path)], stdout=subprocess.DEVNULL, check=False)
    return time.perf_counter() - start


def best(run: Callable[[], object], times: int = 7) -> float:
    """Give the least seconds of several runs."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        found.append(time.perf_counter() - start)
    return min(found)


def per_pixel() -> tuple[float, float]:
    """Time the ratio of every pixel of a picture, and its floor: three look-ups and an add."""
    picture = np.random.default_rng(1).integers(0, 256, (1080, 1920, 3), dtype=np.uint8)
    red, green, blue = LUMINANCE_TABLES
    floor = best(lambda: red[picture[..., 0]] + green[picture[..., 1]] + blue[picture[..., 2]])
    ours = best(lambda: ratio_of_luminances(relative_luminance(picture), 0.5))
    return ours, floor


def main(slides: int) -> None:
    """Run all measures."""
    ours, floor = per_pixel()
    print(f"per-pixel ratio: {ours / floor:.2f} x three look-ups and an add (target 1.5)")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "photographs.pptx"
        make(slides, path)
        # A machine's pace can change from minute to minute: the best of three rounds counts.
        rounds = [
            (floor_in_one_process(path), in_one_process(path), by_command(path)) for _ in range(3)
        ]
        floor = min(each[0] for each in rounds)
        seconds, megabytes = min(each[1] for each in rounds)
        command = min(each[2] for each in rounds)
        print(
            f"{slides} slides with {slides} photographs: {seconds / floor:.2f} x the floor in one "
            f"process ({seconds:.1f} s against {floor:.1f} s, {megabytes:.0f} MB), "
            f"{command / floor:.2f} x as a command, start-up and all (target 2)"
        )
        sizes = {}
        for count in (slides, 10 * slides):
            path = Path(folder) / f"{count}.pptx"
            make(count, path, one_picture=True)
            sizes[count] = in_one_process(path)
        (short, small), (long, large) = sizes[slides], sizes[10 * slides]
        print(
            f"{10 * slides} slides: {long / short:.2f} x the time of {slides} (target 10.5), "
            f"{large / small:.2f} x the memory (target 1.5: {small:.0f} and {large:.0f} MB)"
        )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 100)
