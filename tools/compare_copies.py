"""Mended copies as another program paints them: does every mended text hold there, too?

    python -m tools.compare_copies FILE|FOLDER … [--pictures FOLDER]

Each file is mended. An office suite, if one is installed, prints the file and its
copy, and each print is painted four times: as it is, without its text, with all text
black, and with all text white; the last two differ by the ink. Every mended text is
measured there, from those pixels alone. What doesn't hold is named, and so are words
that moved, and how much changed where no mended text stands. A page of the web is
opened anew in the engine, which paints it without and with its text.

A text holds where it reaches HELD_EVEN of what is asked on an even backdrop, and
HELD_VARIED on a varied one: another program sets letters a little elsewhere.
Needs the command `soffice`, and the packages of the extra «compare».
"""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from high_pair.colour.ratio import contrast_ratio
from high_pair.errors import HighPairError
from high_pair.formats import open_document
from high_pair.formats.kinds import SUFFIXES
from high_pair.formats.web.addresses import is_page
from high_pair.measure.pairs import Pair
from high_pair.review.matching import MeasuredAnew
from high_pair.review.measuring import PageReview, review_pages
from high_pair.review.reporting import mend_document
from high_pair.wcag.asked import COVERAGE, Asked
from high_pair.wcag.criteria import Level, Subject
from high_pair.wcag.verdicts import Verdict

HELD_EVEN, HELD_VARIED = 0.93, 0.85
FONTS = Path(__file__).resolve().parent.parent / "high_pair" / "data" / "fonts"
DOTS_PER_INCH = 144
# A pixel is a letter's where so much of it is ink; letters' cores have at least this.
INKED, CORE = 0.06, 0.6
# Backdrops whose luminances differ by less are even.
EVEN = 0.004
# By so much of itself a ratio may be another in the print, and yet the same text's.
SAME_RATIO = 0.15
# Points that a word may stand elsewhere.
MOVED = 1.5
# Levels of 255 by which a pixel is another.
CHANGED = 6
TEXT_SHOWN = ("Tj", "TJ", "'", '"')
FILL_COLOUR = ("g", "rg", "k", "sc", "scn")
Pixels = NDArray[np.float64]


@dataclass(frozen=True)
class Word:
    """A word of a print. page: from 0; box: left, top, right, bottom in points."""

    text: str
    page: int
    box: tuple[float, float, float, float]


@dataclass(frozen=True)
class Painted:
    """A print's pages, (h, w, 3) each, 0 to 255: as it is, without text, and its ink, (h, w)."""

    seen: list[Pixels]
    behind: list[Pixels]
    ink: list[Pixels]
    words: list[Word]


@dataclass(frozen=True)
class Held:
    """How a mended text does in the print. before, after: its ratios, None where it isn't found."""

    pair: Pair
    before: float | None
    after: float | None
    varied: bool

    @property
    def needed(self) -> float:
        """What it is to reach."""
        return self.pair.required * (HELD_VARIED if self.varied else HELD_EVEN)

    @property
    def holds(self) -> bool:
        """Whether it does."""
        return self.after is not None and self.after >= self.needed


# Printing


def printed(path: Path, folder: Path) -> Path:
    """Have an office suite print a file; gives the PDF."""
    home = folder / "home"
    (home / "share").mkdir(parents=True, exist_ok=True)
    fonts = home / "share" / "fonts"
    if not fonts.exists():
        fonts.symlink_to(FONTS)
    out = folder / path.stem
    subprocess.run(
        ["soffice", f"-env:UserInstallation={(home / 'profile').as_uri()}", "--headless",
         "--convert-to", "pdf", "--outdir", str(out), str(path)],
        check=True, capture_output=True, timeout=300,
        env={**os.environ, "XDG_DATA_HOME": str(home / "share"), "HOME": str(home)},
    )  # fmt: skip
    return out / f"{path.stem}.pdf"


def repainted(source: Path, target: Path, grey: int | None) -> None:
    """Write a PDF with all text in a grey (0 or 1), or without text where it is None."""
    import pikepdf

    with pikepdf.open(source) as pdf:
        done: set[tuple[int, int]] = set()

        def rewrite(holder: Any) -> None:
            resources = holder.get("/Resources")
            for _, form in (resources.get("/XObject") or {}).items() if resources else ():
                if form.get("/Subtype") == "/Form" and form.objgen not in done:
                    done.add(form.objgen)
                    form.write(_rewritten(pikepdf, form, grey))
                    rewrite(form)

        for page in pdf.pages:
            page.Contents = pdf.make_stream(_rewritten(pikepdf, page, grey))
            rewrite(page.obj)
        pdf.save(target)


def _rewritten(pikepdf: Any, holder: Any, grey: int | None) -> bytes:
    make, operator = pikepdf.ContentStreamInstruction, pikepdf.Operator
    out: list[Any] = []
    colour: list[Any] = []
    stack: list[list[Any]] = []
    for each in pikepdf.parse_content_stream(holder):
        name = str(each.operator)
        if name == "q":
            stack.append(list(colour))
        elif name == "Q" and stack:
            colour = stack.pop()
        elif name == "cs":
            colour = [each]
        elif name in FILL_COLOUR:
            colour = [
                *[c for c in colour if str(c.operator) == "cs" and name in ("sc", "scn")],
                each,
            ]
        if name in TEXT_SHOWN:
            mode = 3 if grey is None else 0
            out.append(make([mode], operator("Tr")))
            if grey is not None:
                out.append(make([grey], operator("g")))
        out.append(each)
        if name in TEXT_SHOWN and grey is not None:
            out += colour
    return bytes(pikepdf.unparse_content_stream(out))


def rendered(pdf: Path) -> list[Pixels]:
    """Paint a PDF's pages, (h, w, 3), 0 to 255."""
    import pypdfium2

    with pypdfium2.PdfDocument(pdf) as document:
        return [
            np.asarray(page.render(scale=DOTS_PER_INCH / 72).to_pil().convert("RGB"), np.float64)
            for page in document
        ]


def words_of(pdf: Path) -> list[Word]:
    """List the words of a PDF in its order, with their boxes."""
    import pypdfium2

    found: list[Word] = []
    with pypdfium2.PdfDocument(pdf) as document:
        for number, page in enumerate(document):
            text = page.get_textpage()
            height = page.get_height()
            letters: list[str] = []
            boxes: list[tuple[float, float, float, float]] = []
            for place in range(text.count_chars() + 1):
                letter = text.get_text_range(place, 1) if place < text.count_chars() else " "
                if letter.strip():
                    left, bottom, right, top = text.get_charbox(place)
                    letters.append(letter)
                    boxes.append((left, height - top, right, height - bottom))
                elif letters:
                    sides = list(zip(*boxes, strict=True))
                    box = (min(sides[0]), min(sides[1]), max(sides[2]), max(sides[3]))
                    found.append(Word("".join(letters), number, box))
                    letters, boxes = [], []
    return found


def painted(path: Path, folder: Path) -> Painted:
    """Print a file and paint the print in all four ways."""
    folder.mkdir(parents=True, exist_ok=True)
    pdf = printed(path, folder)
    pages = {}
    for name, grey in (("without", None), ("black", 0), ("white", 1)):
        target = folder / f"{path.stem}-{name}.pdf"
        repainted(pdf, target, grey)
        pages[name] = rendered(target)
    ink = [
        np.clip((white - black).mean(axis=-1) / 255, 0, 1)
        for white, black in zip(pages["white"], pages["black"], strict=True)
    ]
    return Painted(rendered(pdf), pages["without"], ink, words_of(pdf))


# Measuring in the print


def _key(text: str) -> str:
    return re.sub(r"\W+", "", text).casefold()


def places_of(painted: Painted, pair: Pair) -> list[list[int]]:
    """List where a text's words stand in a print, by the words' numbers."""
    wanted = [key for token in pair.text.split() if (key := _key(token))]
    keys = [_key(word.text) for word in painted.words]
    return [
        list(range(start, start + len(wanted)))
        for start in range(len(keys) - len(wanted) + 1)
        if wanted and keys[start : start + len(wanted)] == wanted
    ]


def found_in(painted: Painted, pair: Pair, used: set[int], size: tuple[float, float]) -> list[int]:
    """Find a text's words in a print.

    Where the same words stand several times, those of the ratio that was measured here, and of
    those the nearest to where they stand on their page.
    """
    x, y = pair.bbox[0] / size[0], pair.bbox[1] / size[1]
    scale = DOTS_PER_INCH / 72

    def strange(places: list[int]) -> tuple[bool, float]:
        word = painted.words[places[0]]
        height, width = painted.ink[word.page].shape
        away = abs(word.box[0] * scale / width - x) + abs(word.box[1] * scale / height - y)
        found = measured_there(painted, [painted.words[place] for place in places])
        other = found is None or abs(found[0] - (pair.ratio or 0.0)) > SAME_RATIO * found[0]
        return other, away + 3.0 * abs(word.page - (pair.page - 1))

    free = [places for places in places_of(painted, pair) if places[0] not in used]
    best = free[0] if len(free) == 1 else min(free, key=strange, default=[])
    used.update(best[:1])
    return best


def measured_there(painted: Painted, words: Sequence[Word]) -> tuple[float, bool] | None:
    """Give the weakest word's ratio in the print, and whether its backdrop varies."""
    found: list[tuple[float, bool]] = []
    for word in words:
        scale = DOTS_PER_INCH / 72
        left, top, right, bottom = (side * scale for side in word.box)
        rows = slice(max(0, int(top) - 1), int(np.ceil(bottom)) + 1)
        columns = slice(max(0, int(left) - 1), int(np.ceil(right)) + 1)
        ink = painted.ink[word.page][rows, columns]
        seen = painted.seen[word.page][rows, columns]
        behind = painted.behind[word.page][rows, columns]
        inked = ink > INKED
        if not inked.any():
            continue
        core = ink >= min(CORE, 0.8 * float(ink.max()))
        share = ink[core][:, None]
        letters = seen[core] - behind[core] * (1 - share)
        text = np.clip((letters * share).sum(axis=0) / (share * share).sum(), 0, 255)
        grown = inked.copy()
        grown[1:] |= inked[:-1]
        grown[:-1] |= inked[1:]
        grown[:, 1:] |= inked[:, :-1]
        grown[:, :-1] |= inked[:, 1:]
        below = np.round(behind[grown]).astype(np.uint8)
        ratios = np.sort(contrast_ratio(np.round(text).astype(np.uint8), below))
        place = int((1 - COVERAGE) * (len(ratios) - 1))
        found.append((float(ratios[place]), float(below.std(axis=0).max()) > EVEN * 255))
    return min(found, default=None)


def compared(
    before: Painted,
    after: Painted,
    mended: Sequence[tuple[Pair, Pair]],
    sizes: Sequence[tuple[float, float]],
) -> list[Held]:
    """Measure mended texts in both prints. mended: each as it was, and as it is in the copy."""
    same = [word.text for word in before.words] == [word.text for word in after.words]
    used: tuple[set[int], set[int]] = (set(), set())
    found = []
    for old, new in mended:
        size = sizes[new.page - 1]
        there = found_in(before, old, used[0], size)
        again = there if same else found_in(after, new, used[1], size)
        was = measured_there(before, [before.words[place] for place in there])
        now = measured_there(after, [after.words[place] for place in again])
        found.append(
            Held(new, was[0] if was else None, now[0] if now else None, bool(now and now[1]))
        )
    return found


def moved_words(before: Painted, after: Painted) -> list[str]:
    """Name the words that stand elsewhere in the copy's print, or are missing."""
    if [word.text for word in before.words] != [word.text for word in after.words]:
        return ["words differ"]
    return [
        one.text
        for one, other in zip(before.words, after.words, strict=True)
        if one.page != other.page
        or max(abs(a - b) for a, b in zip(one.box[:2], other.box[:2], strict=True)) > MOVED
    ]


def changed_share(before: Painted, after: Painted) -> float:
    """Give the share of pixels that are others in the copy, text left out."""
    shares = [
        float((np.abs(one - other).max(axis=-1) > CHANGED).mean())
        for one, other in zip(before.behind, after.behind, strict=False)
        if one.shape == other.shape
    ]
    return float(np.mean(shares)) if shares else 1.0


# Mending


def mended_pairs(
    before: Sequence[PageReview], after: Sequence[PageReview]
) -> list[tuple[Pair, Pair]]:
    """List the texts that fell short and pass in the copy, as it measures: old and new."""
    now = MeasuredAnew(pair for page in after for pair in page.pairs)
    found = []
    for pair in (pair for page in before for pair in page.pairs):
        if pair.verdict is Verdict.FALLS_SHORT and pair.subject is Subject.TEXT:
            again = now.again(pair)
            if again and again[0].text == pair.text and again[0].verdict is Verdict.PASSES:
                found.append((pair, again[0]))
    return found


@dataclass(frozen=True)
class Outcome:
    """What came of a file. trouble: why it wasn't mended or printed."""

    path: Path
    held: list[Held]
    left: int
    moved: list[str]
    changed: float
    trouble: str = ""


def tried(path: Path, folder: Path, pictures: Path | None) -> Outcome:
    """Mend a file, and measure its copy in the print."""
    asked = Asked(Level.AA, COVERAGE)
    target = folder / f"{path.stem}-mended{path.suffix}"
    try:
        with closing(open_document(path)) as document:
            pages = list(review_pages(document, asked))
            outcome = mend_document(document, path, pages, target, asked)
        with closing(open_document(target)) as copy:
            pairs = mended_pairs(pages, list(review_pages(copy, asked)))
            sizes = [(page.width, page.height) for page in copy.pages]
    except HighPairError as error:
        return Outcome(path, [], 0, [], 0.0, str(error))
    if is_page(path):
        held = [
            Held(new, old.ratio, new.ratio, bool(new.numbers and new.numbers.varied))
            for old, new in pairs
        ]
        return Outcome(path, held, len(outcome.left), [], 0.0)
    try:
        before, after = painted(path, folder / "before"), painted(target, folder / "after")
    except (subprocess.SubprocessError, OSError) as error:
        return Outcome(path, [], len(outcome.left), [], 0.0, f"isn't printed ({error})")
    if pictures is not None:
        for name, prints in (("before", before), ("after", after)):
            for number, page in enumerate(prints.seen, start=1):
                out = pictures / f"{path.stem}{path.suffix.replace('.', '-')}-{number}-{name}.png"
                Image.fromarray(page.astype(np.uint8)).save(out)
    return Outcome(
        path,
        compared(before, after, pairs, sizes),
        len(outcome.left),
        moved_words(before, after),
        changed_share(before, after),
    )


def files_in(paths: Sequence[str]) -> Iterator[Path]:
    """List files, and those in folders that can be read."""
    for path in map(Path, paths):
        if path.is_dir():
            yield from sorted(each for each in path.rglob("*") if each.suffix in SUFFIXES)
        else:
            yield path


def main(words: list[str]) -> int:
    """Try files; the exit status is 1 where a mended text doesn't hold."""
    pictures = None
    if "--pictures" in words:
        at = words.index("--pictures")
        pictures = Path(words[at + 1])
        pictures.mkdir(parents=True, exist_ok=True)
        del words[at : at + 2]
    if not shutil.which("soffice"):
        print("Install an office suite first, whose command is soffice.", file=sys.stderr)
        return 2
    total = holding = worse = lost = 0
    troubles = []
    for path in files_in(words):
        with tempfile.TemporaryDirectory() as folder:
            found = tried(path, Path(folder), pictures)
        if found.trouble:
            troubles.append(f"{path.name}: {found.trouble}")
            print(troubles[-1], flush=True)
            continue
        seen = [each for each in found.held if each.after is not None]
        lost += len(found.held) - len(seen)
        total += len(seen)
        holding += sum(each.holds for each in seen)
        weaker = [e for e in seen if e.before is not None and (e.after or 0) < e.before - 0.05]
        worse += len(weaker)
        print(
            f"{path.name}: {len(seen)} mended, {sum(e.holds for e in seen)} hold, "
            f"{found.left} left, {len(found.moved)} words moved, "
            f"{found.changed:.1%} of the pixels behind changed",
            flush=True,
        )
        for each in seen:
            if not each.holds or each in weaker:
                was = f"{each.before:.2f}" if each.before is not None else "?"
                print(
                    f"    p{each.pair.page} “{each.pair.text[:40]}” {each.after:.2f} of "
                    f"{each.pair.required:g} (before {was}, here {each.pair.ratio:.2f}) "
                    f"{'varied' if each.varied else 'even'} {each.pair.address}"
                )
    share = holding / total if total else 1.0
    print(
        f"{total} mended texts, {holding} hold ({share:.1%}), {worse} worse than before, "
        f"{lost} not found in the print, {len(troubles)} files in trouble"
    )
    return 0 if holding == total and not worse and not troubles else 1


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1:]))
