"""Damage files in many seeded ways, and see that each is read or refused, soon and with a reason.

    python -m tools.damage [COUNT] [FILE …]

For each damaged file a process of its own has ten seconds. A crash, a hang,
an error outside High Pair's own family, or a ratio over a picture that was
lost, is printed with the seed that made it; the exit status is then 1.
"""

from __future__ import annotations

import io
import multiprocessing
import random
import re
import sys
import tempfile
import traceback
import zipfile
from collections.abc import Callable
from pathlib import Path

from high_pair.errors import HighPairError
from high_pair.formats import open_document
from high_pair.review.measuring import review_page
from high_pair.wcag.asked import Asked

SECONDS = 10
DEMO = Path(__file__).resolve().parent.parent / "high_pair" / "data" / "demo"
ODD = ("-1", "0", "", "NaN", "1e309", "99999999999999999999", "-2147483649", "100%", "x", "½")
Members = dict[str, bytes]


def flip_bytes(members: Members, rng: random.Random) -> None:
    """Change a few bytes of one member."""
    name = rng.choice(sorted(members))
    data = bytearray(members[name])
    for _ in range(rng.randint(1, 12)):
        if data:
            data[rng.randrange(len(data))] = rng.randrange(256)
    members[name] = bytes(data)


def drop_member(members: Members, rng: random.Random) -> None:
    """Leave one or two members out."""
    for _ in range(rng.randint(1, 2)):
        members.pop(rng.choice(sorted(members)), None)


def cut_short(members: Members, rng: random.Random) -> None:
    """Cut a member's end off."""
    name = rng.choice(sorted(members))
    members[name] = members[name][: rng.randrange(len(members[name]) + 1)]


def lose_references(members: Members, rng: random.Random) -> None:
    """Point relationships to nowhere, or to the wrong part."""
    names = [name for name in sorted(members) if name.endswith(".rels")]
    name = rng.choice(names or sorted(members))
    targets = ["nowhere.xml", "../../../x", "slide1.xml", "../theme/theme1.xml", "", "/"]
    members[name] = re.sub(
        rb'((?:Target|style-name|href)=)"[^"]*"',
        lambda match: (
            match.group(1) + f'"{rng.choice(targets)}"'.encode()
            if rng.random() < 0.5
            else match.group()
        ),
        members[name],
    )


def odd_numbers(members: Members, rng: random.Random) -> None:
    """Put odd values in place of numbers."""
    names = [n for n in sorted(members) if n.endswith(".xml")]
    name = rng.choice(names)
    members[name] = re.sub(
        rb'="-?[\d.]+(?:cm|pt|%)?"',
        lambda match: f'="{rng.choice(ODD)}"'.encode() if rng.random() < 0.15 else match.group(),
        members[name],
    )


def move_elements(members: Members, rng: random.Random) -> None:
    """Repeat, drop or swap pieces between tags."""
    pages = (
        "ppt/slides/slide", "content.xml", "styles.xml", "word/document", "word/styles",
        "word/header", "xl/worksheets/sheet", "xl/styles", "xl/drawings/drawing",
    )  # fmt: skip
    name = rng.choice([n for n in sorted(members) if n.startswith(pages)])
    pieces = re.split(rb"(?=<)", members[name])
    for _ in range(rng.randint(1, 6)):
        one, other = rng.randrange(len(pieces)), rng.randrange(len(pieces))
        kind = rng.randrange(3)
        if kind == 0:
            pieces[one], pieces[other] = pieces[other], pieces[one]
        elif kind == 1:
            pieces.insert(one, pieces[other])
        elif len(pieces) > 5:
            del pieces[one]
    members[name] = b"".join(pieces)


WAYS: tuple[Callable[[Members, random.Random], None], ...] = (
    flip_bytes,
    drop_member,
    cut_short,
    lose_references,
    odd_numbers,
    odd_numbers,
    move_elements,
)


def damaged(deck: bytes, seed: int) -> bytes:
    """Give a deck damaged in the way that a seed says."""
    rng = random.Random(seed)
    if rng.random() < 0.1:
        data = bytearray(deck)
        for _ in range(rng.randint(1, 20)):
            data[rng.randrange(len(data))] = rng.randrange(256)
        return bytes(data)
    with zipfile.ZipFile(io.BytesIO(deck)) as package:
        members = {name: package.read(name) for name in package.namelist()}
    rng.choice(WAYS)(members, rng)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as package:
        for name, data in members.items():
            package.writestr(name, data)
    return out.getvalue()


def try_out(path: str, answers: multiprocessing.SimpleQueue) -> None:  # type: ignore[type-arg]
    """Open and measure a deck; the answer says how it went."""
    try:
        document = open_document(Path(path))
        pairs = 0
        for page in range(len(document.pages)):
            pairs += len(review_page(document, page, Asked()).pairs)
        answers.put(("read", f"{pairs} pairs"))
    except HighPairError as error:
        answers.put(("refused", str(error)))
    except BaseException:
        answers.put(("crashed", traceback.format_exc()))


def main(count: int, decks: list[Path]) -> int:
    """Try so many damaged decks; gives the exit status. Raises HighPairError for a bad source."""
    for deck in decks:
        # Damage to a deck that isn't read when whole would show nothing.
        open_document(deck).close()
    context = multiprocessing.get_context("fork")
    tally: dict[str, int] = {}
    with tempfile.TemporaryDirectory() as folder:
        sources = [(deck.read_bytes(), deck.suffix) for deck in decks]
        for seed in range(count):
            data, suffix = sources[seed % len(sources)]
            path = Path(folder) / f"damaged-{seed}{suffix}"
            path.write_bytes(damaged(data, seed))
            answers = context.SimpleQueue()
            process = context.Process(target=try_out, args=(str(path), answers))
            process.start()
            process.join(SECONDS)
            if process.is_alive():
                process.kill()
                process.join()
                outcome, words = "hung", f"no answer in {SECONDS} s"
            elif answers.empty():
                outcome, words = "died", f"exit status {process.exitcode}"
            else:
                outcome, words = answers.get()
            if outcome == "refused" and not words.startswith(path.name):
                outcome, words = "unnamed", words
            tally[outcome] = tally.get(outcome, 0) + 1
            if outcome not in ("read", "refused"):
                print(f"seed {seed}: {outcome}: {words}", flush=True)
            path.unlink()
    print(", ".join(f"{number} {outcome}" for outcome, number in sorted(tally.items())))
    return 0 if set(tally) <= {"read", "refused"} else 1


if __name__ == "__main__":
    chosen = [Path(word) for word in sys.argv[2:]] or sorted(DEMO.glob("*.pptx"))
    raise SystemExit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 500, chosen))
