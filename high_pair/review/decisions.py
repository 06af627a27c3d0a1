"""Decisions that last: pairs that were set aside, known again in later reviews and audits.

They come from a decisions file, an open format (`docs/audits.md`), or from a review file. A pair
is known again by its file, its place, its words and its look. Where the look is another by now,
the decision is to be renewed, and doesn't count until it is.
"""

from __future__ import annotations

import json
import os
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any

from high_pair.errors import UnreadableFile
from high_pair.formats.reading import read_json
from high_pair.formats.writing import write_whole
from high_pair.report.findings import Findings
from high_pair.report.rows import Row, key_of, numbered, row_of
from high_pair.report.store import Decision, Store
from high_pair.review.history import Decision as Taken
from high_pair.review.history import History
from high_pair.review.review_file import SUFFIX, KeptReview, load_review
from high_pair.wcag.verdicts import Verdict

if TYPE_CHECKING:
    from high_pair.measure.pairs import Pair

FORMAT, VERSION = "high-pair-decisions", 1
MOST_BYTES = 256 * 1024**2
OPEN = (Verdict.FALLS_SHORT.value, Verdict.NEEDS_EYES.value)


@dataclass(frozen=True)
class Aside:
    """A pair that a person set aside.

    path: of its file, absolute; number: which of those that agree in all else, from 1; made: when,
    as ISO 8601 has it, or empty.
    """

    path: str
    place: str
    subject: str
    text: str
    appears: str
    number: int
    foreground: str | None
    background: str | None
    reason: str
    made: str

    @property
    def what(self) -> tuple[str, ...]:
        """What tells it from other pairs of its file."""
        return (self.place, self.subject, self.text, self.appears, str(self.number))


def absolute(path: str, folder: Path | None = None) -> str:
    """Give a path as decisions are compared by it; a web address as it is."""
    if "://" in path:
        return path
    return str(((folder or Path()) / path).resolve())


# Decisions files


def read_decisions(path: Path) -> tuple[Aside, ...]:
    """Read a decisions file. Raises UnreadableFile."""
    found = read_json(path, MOST_BYTES)
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise UnreadableFile(
            path.name, "it holds no decisions. “high-pair decisions” writes such a file."
        )
    if found.get("version") != VERSION:
        raise UnreadableFile(path.name, "a newer High Pair wrote it.")
    try:
        return tuple(_aside_in(each, path.parent) for each in found["decisions"])
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise UnreadableFile(path.name, f"something in it makes no sense ({error}).") from error


def _aside_in(told: Mapping[str, Any], folder: Path) -> Aside:
    def words(name: str) -> str:
        if not isinstance(told[name], str):
            raise ValueError(f"“{name}” isn't text")
        return str(told[name])

    if told["verdict"] != Verdict.SET_ASIDE.value:
        raise ValueError(f"the verdict “{told['verdict']}” can't be decided")
    return Aside(
        absolute(words("path"), folder),
        words("place"),
        words("subject"),
        words("text"),
        words("appears"),
        int(told["number"]),
        None if told["foreground"] is None else words("foreground"),
        None if told["background"] is None else words("background"),
        words("reason"),
        words("made"),
    )


def write_decisions(asides: Sequence[Aside], target: Path) -> None:
    """Write a decisions file, with paths relative to it. Raises UnwritableFile."""
    folder = target.resolve().parent
    content = {
        "format": FORMAT,
        "version": VERSION,
        "decisions": [
            {
                "path": _relative(each.path, folder),
                "place": each.place,
                "subject": each.subject,
                "text": each.text,
                "appears": each.appears,
                "number": each.number,
                "foreground": each.foreground,
                "background": each.background,
                "verdict": Verdict.SET_ASIDE.value,
                "reason": each.reason,
                "made": each.made,
            }
            for each in asides
        ],
    }
    data = (json.dumps(content, indent=1, ensure_ascii=False) + "\n").encode(
        "utf-8", "backslashreplace"
    )

    def write(out: IO[bytes]) -> None:
        out.write(data)

    write_whole(target, target, write)


def _relative(path: str, folder: Path) -> str:
    return path if "://" in path else Path(os.path.relpath(path, folder)).as_posix()


def decided_in(findings: Findings) -> tuple[Aside, ...]:
    """List what is set aside in a run, as a decisions file has it."""
    made = {each.key: each.made for each in findings.store.decisions()}
    now = datetime.now(UTC).isoformat(timespec="seconds")
    found = []
    for file in findings.files():
        if not file.number(Verdict.SET_ASIDE):
            continue
        rows = list(findings.pairs_of(file.path))
        for row, what in zip(rows, numbered(rows), strict=True):
            if row.verdict == Verdict.SET_ASIDE.value:
                when = made.get(row.key) or now
                found.append(
                    Aside(
                        absolute(file.path), row.place, row.subject, row.text, row.appears,
                        int(what[-1]), row.foreground, row.background, row.reason, when,
                    )
                )  # fmt: skip
    return tuple(found)


# Heeding them


def read_any(path: Path) -> tuple[Aside, ...] | KeptReview:
    """Read a decisions file, or a review file. Raises FileProblem."""
    return load_review(path) if path.suffix.lower() == SUFFIX else read_decisions(path)


def take_in(store: Store, run: int, sources: Iterable[Path]) -> None:
    """Take decisions into a store, in place of those that came from the same files before.

    run: in whose files the pairs are that they are about. Raises FileProblem.
    """
    findings = Findings(store, run)
    paths: dict[str, str] = {}
    for source in sources:
        if not paths:
            paths = {absolute(path): path for path in findings.paths()}
        found = read_any(source)
        decisions = (
            _of_review(found, findings, paths)
            if isinstance(found, KeptReview)
            else [_decision(each, paths[each.path]) for each in found if each.path in paths]
        )
        store.decide_from(str(source.resolve()), decisions)


def _decision(aside: Aside, path: str) -> Decision:
    return Decision(
        key_of(path, aside.what), aside.reason, aside.made, aside.foreground, aside.background,
        path, aside.place, aside.text,
    )  # fmt: skip


def _of_review(
    kept: KeptReview, findings: Findings, paths: Mapping[str, str]
) -> Iterator[Decision]:
    """Give what a review file sets aside, where its files are still as they were."""
    history = History(tuple(Taken(each.file, each.words, each.edits) for each in kept.decisions))
    digests = findings.digests()
    for number, file in enumerate(kept.files):
        path = paths.get(absolute(str(file.location)))
        aside = history.set_aside(number)
        unchanged = path is not None and file.digest in ("", f"sha256:{digests.get(path)}")
        if path is None or not aside or not unchanged:
            continue
        for row in findings.pairs_of(path):
            edit = aside.get((row.address, row.subject))
            if edit is not None:
                yield Decision(
                    row.key, edit.words, "", row.foreground, row.background, path, row.place,
                    row.text,
                )  # fmt: skip


def with_decisions(pairs: Sequence[Pair], path: str, asides: Iterable[Aside]) -> tuple[Pair, ...]:
    """Set aside those of a file's pairs that were decided so and look as they did then."""
    here = absolute(path)
    known = {each.what: each for each in asides if each.path == here}
    if not known:
        return tuple(pairs)
    rows = [row_of(pair) for pair in pairs]
    return tuple(
        _decided(pair, row, known.get(what))
        for pair, row, what in zip(pairs, rows, numbered(rows), strict=True)
    )


def _decided(pair: Pair, row: Row, aside: Aside | None) -> Pair:
    if aside is None or row.verdict not in OPEN:
        return pair
    if (aside.foreground, aside.background) != (row.foreground, row.background):
        return pair
    return replace(pair, verdict=Verdict.SET_ASIDE, reason=aside.reason)
