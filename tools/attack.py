"""Small files that are made to take gigabytes or minutes, over all formats, and what comes of them.

    python -m tools.attack [WORD …]     those with these words in their names; all without any
    python -m tools.attack --write FOLDER [WORD …]

Each is reviewed as the command line does it. What it used of the processor and of
memory is printed; past SECONDS for a file that is small, or past a gigabyte in any
process, the exit status is 1. Whatever a file is, it is measured or refused with a
reason: a death that the kernel names, and a fault of ours, count as failures.
"""

from __future__ import annotations

import os
import sys
import tempfile
import threading
import time
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

from high_pair.errors import HighPairError
from high_pair.formats.web.settings import WebSettings
from high_pair.process.limits import MEGABYTE, group_of, memory_of, seconds_of
from high_pair.review import in_processes
from high_pair.wcag.asked import Asked
from tools.attacks.opendocument import decks_of_odf, flat_text, sheets_of_odf, texts_of_odf
from tools.attacks.packages import packages
from tools.attacks.pages import drawings, pages
from tools.attacks.pictures import pictures
from tools.attacks.sheets import sheets
from tools.attacks.slides import picture_deck, slides
from tools.attacks.texts import texts

# What a file may take of the processor, and as much again for each megabyte
# that it holds.
SECONDS, SECONDS_A_MEGABYTE = 5.0, 5.0
MOST = 1024
Made = Callable[[], bytes]


@dataclass(frozen=True)
class Case:
    """A file. name: says what is hostile in it; suffix: of its name."""

    name: str
    suffix: str
    make: Made


def cases() -> list[Case]:
    """List all files."""
    kinds = (
        (".pptx", "slides", slides), (".pptx", "package", packages), (".docx", "document", texts),
        (".xlsx", "workbook", sheets), (".odp", "open slides", decks_of_odf),
        (".odt", "open text", texts_of_odf), (".ods", "open sheet", sheets_of_odf),
        (".svg", "drawing", drawings), (".html", "page", pages),
    )  # fmt: skip
    found = [
        Case(f"{kind}: {name}", suffix, make)
        for suffix, kind, all_of in kinds
        for name, make in all_of()
    ]
    found += [Case(f"picture: {name}", suffix, make) for name, suffix, make in pictures()]
    found += [
        Case(
            f"slides with a picture: {name}",
            ".pptx",
            lambda make=make, suffix=suffix: picture_deck(make(), suffix=suffix[1:])(),
        )  # type: ignore[misc]
        for name, suffix, make in pictures()
    ]
    found.append(Case("flat text: twenty thousand pictures", ".fodt", lambda: flat_text(20_000)))
    return found


def file_name(case: Case) -> str:
    """Give a name for a case's file."""
    return "".join(c if c.isalnum() else "-" for c in case.name)[:90] + case.suffix


@dataclass(frozen=True)
class Outcome:
    """What came of a file, in a word. words: its error; seconds, megabytes: of any process."""

    word: str
    words: str
    seconds: float
    megabytes: int
    wall: float


class Watch(threading.Thread):
    """Notes what this program's processes use, every few milliseconds."""

    def __init__(self) -> None:
        super().__init__(daemon=True)
        self.over = threading.Event()
        self.memory: dict[int, int] = {}
        self.seconds: dict[int, float] = {}

    def run(self) -> None:
        """Look until it is over."""
        own = os.getsid(0)
        while not self.over.wait(0.01):
            ours = set(group_of(own)) | {
                each for host in list(self.memory) for each in group_of(host)
            }
            for each in ours | set(_children(ours)):
                self.memory[each] = max(self.memory.get(each, 0), memory_of(each))
                self.seconds[each] = max(self.seconds.get(each, 0.0), seconds_of(each))


def _children(parents: set[int]) -> Iterator[int]:
    for parent in parents:
        try:
            children = Path(f"/proc/{parent}/task/{parent}/children").read_text().split()
        except OSError:
            continue
        for child in children:
            yield int(child)
            yield from group_of(int(child))


def tried(path: Path) -> Outcome:
    """Review a file as the command line does."""
    watch = Watch()
    before = {each: seconds_of(each) for each in group_of(os.getsid(0))}
    watch.start()
    start = time.monotonic()
    opening = in_processes.Opening(path, WebSettings(states=False, limit=5.0))
    wanted = in_processes.ToReview(opening, Asked())
    try:
        file = in_processes.review(wanted, False, lambda _done, _total: None)
        word, words = ("refused", file.error) if file.error else ("measured", "")
    except HighPairError as error:
        word, words = "failed", str(error)
    wall = time.monotonic() - start
    watch.over.set()
    watch.join()
    if "inside High Pair" in words or "(SIG" in words:
        word = "failed"
    watch.memory.pop(os.getpid(), None)
    watch.seconds.pop(os.getpid(), None)
    used = [seconds - before.get(each, 0.0) for each, seconds in watch.seconds.items()]
    return Outcome(
        word, words, max(used, default=0.0), max(watch.memory.values(), default=0) // MEGABYTE, wall
    )


def _size(path: Path) -> int:
    """Give a file's bytes; of a package those that are unpacked."""
    if not zipfile.is_zipfile(path):
        return path.stat().st_size
    with zipfile.ZipFile(path) as package:
        return sum(info.file_size for info in package.infolist())


def main(words: list[str]) -> int:
    """Try those whose names hold a word; gives the exit status."""
    target = None
    if words[:1] == ["--write"]:
        target, words = Path(words[1]), words[2:]
        target.mkdir(parents=True, exist_ok=True)
    chosen = [case for case in cases() if not words or any(word in case.name for word in words)]
    tally: dict[str, int] = {}
    over = 0
    with tempfile.TemporaryDirectory() as folder:
        for case in chosen:
            path = (target or Path(folder)) / file_name(case)
            path.write_bytes(case.make())
            if target is not None:
                continue
            found = tried(path)
            size = _size(path) / MEGABYTE
            allowed = SECONDS + SECONDS_A_MEGABYTE * size
            web = case.suffix in (".html", ".svg")
            late = found.seconds > allowed and not web
            large = found.megabytes > MOST
            mark = " LATE" * late + " LARGE" * large + " FAILED" * (found.word == "failed")
            over += bool(mark)
            tally[found.word] = tally.get(found.word, 0) + 1
            why = f": {found.words}" if found.words else ""
            print(
                f"{case.name} ({size:.2f} MB): {found.word} in {found.wall:.1f} s, "
                f"{found.seconds:.1f} s of processor, {found.megabytes} MB{mark}{why}",
                flush=True,
            )
            path.unlink()
    print(
        f"{len(chosen)} files: "
        + ", ".join(f"{count} {word}" for word, count in sorted(tally.items()))
        + f", {over} over limits"
    )
    return 1 if over else 0


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1:]))
