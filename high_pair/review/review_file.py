"""The review file (`.highpair`): what was opened and decided, to go on with another day.

JSON; `docs/review-file.md` describes it. Paths are relative to the file, and
each source has its digest, by which a changed one is noticed.
"""

from __future__ import annotations

import json
import os
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import IO, Any

from high_pair.edits.as_json import edit_in, edit_out, number, text
from high_pair.edits.kinds import Edit
from high_pair.errors import FileProblem, UnreadableFile
from high_pair.formats.location import Location, WebAddress, location_of
from high_pair.formats.reading import sha256_of
from high_pair.formats.web.settings import (
    LEAST_LIMIT,
    LEAST_ZOOM,
    MOST_LIMIT,
    MOST_ZOOM,
    WebSettings,
    parse_widths,
)
from high_pair.formats.writing import write_whole
from high_pair.report.as_json import settings_as_json
from high_pair.wcag.asked import COVERAGE, NO_AIM, Asked, read_aim
from high_pair.wcag.criteria import Level

SUFFIX = ".highpair"
SCHEMA = "high-pair-work"
VERSION = 1
MOST_BYTES = 64 * 1024**2
MOST_FILES, MOST_DECISIONS = 10_000, 200_000


class ReviewFileProblem(FileProblem):
    """A review file can't be read."""


@dataclass(frozen=True)
class KeptFile:
    """A file under review: its path, and the digest of its content (empty when unknown).

    web: how a web page is shown, None of another file.
    """

    location: Location
    digest: str
    web: WebSettings | None = None


@dataclass(frozen=True)
class KeptDecision:
    """A decision: the place of its file in the list, its words, and its edits."""

    file: int
    words: str
    edits: tuple[Edit, ...]


@dataclass(frozen=True)
class KeptReview:
    """All that a review file holds."""

    asked: Asked
    files: tuple[KeptFile, ...]
    decisions: tuple[KeptDecision, ...]


def digest_of(location: Location) -> str:
    """Give the digest of a file's content, empty when it can't be read."""
    if isinstance(location, WebAddress):
        return ""
    digest = sha256_of(location)
    return f"sha256:{digest}" if digest else ""


# The file


def contents_of(review: KeptReview, folder: Path) -> dict[str, Any]:
    """Write a review as JSON has it, its paths relative to a folder."""
    return {
        "format": SCHEMA,
        "version": VERSION,
        "settings": settings_as_json(review.asked),
        "files": [_file_out(file, folder) for file in review.files],
        "decisions": [
            {
                "file": decision.file,
                "words": decision.words,
                "edits": [edit_out(edit) for edit in decision.edits],
            }
            for decision in review.decisions
        ],
    }


def _file_out(file: KeptFile, folder: Path) -> dict[str, Any]:
    told: dict[str, Any] = {"path": _relative(file.location, folder), "digest": file.digest}
    if file.web is not None:
        told["web"] = {**asdict(file.web), "widths": list(file.web.widths)}
        # A review file may come from a stranger: it opens no folder to a page.
        del told["web"]["folders"]
    return told


def _file_in(told: Mapping[str, Any], folder: Path) -> KeptFile:
    location = location_of(text(told, "path"))
    kept = folder / location if isinstance(location, Path) else location
    return KeptFile(kept, text(told, "digest"), _web_in(told.get("web")))


def _web_in(told: Any) -> WebSettings | None:
    if told is None:
        return None
    widths = parse_widths(", ".join(str(width) for width in told["widths"]))
    if not isinstance(told["dark"], bool) or not isinstance(told["states"], bool):
        raise ValueError("how a web page is shown isn't told")
    zoom = number(told["zoom"], LEAST_ZOOM, MOST_ZOOM)
    limit = number(told["limit"], LEAST_LIMIT, MOST_LIMIT)
    return WebSettings(widths, told["dark"], zoom, limit, told["states"])


def _relative(path: Location, folder: Path) -> str:
    if isinstance(path, WebAddress):
        return path.url
    try:
        return Path(os.path.relpath(path.resolve(), folder.resolve())).as_posix()
    except ValueError:
        return path.resolve().as_posix()


def save_review(review: KeptReview, target: Path) -> None:
    """Write a review file, whole or not at all. Raises UnwritableFile."""
    words = json.dumps(contents_of(review, target.parent), indent=1, ensure_ascii=False) + "\n"

    def write(out: IO[bytes]) -> None:
        out.write(words.encode())

    write_whole(target, target, write)


def load_review(path: Path) -> KeptReview:
    """Read a review file. Raises ReviewFileProblem for what is none."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise ReviewFileProblem(path.name, "it is larger than any review file.")
        found = json.loads(path.read_bytes())
    except OSError as error:
        raise UnreadableFile(path.name, f"it can't be opened ({error.strerror}).") from error
    except (ValueError, RecursionError) as error:
        raise ReviewFileProblem(path.name, "it is no review file: its JSON is broken.") from error
    if not isinstance(found, dict) or found.get("format") != SCHEMA:
        raise ReviewFileProblem(path.name, "it is no review file of High Pair.")
    if found.get("version") != VERSION:
        raise ReviewFileProblem(
            path.name, "it was written by a newer High Pair. Open it with that version."
        )
    try:
        return _review_in(found, path.parent)
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise ReviewFileProblem(
            path.name, f"something in it makes no sense ({error}). Ask for the file again."
        ) from error


def _review_in(found: Mapping[str, Any], folder: Path) -> KeptReview:
    settings = found["settings"]
    coverage = number(settings.get("coverage", COVERAGE), 0.01, 1.0)
    aim = read_aim(text(settings, "aim")) if "aim" in settings else NO_AIM
    files = _listed(found["files"], MOST_FILES)
    decisions = _listed(found["decisions"], MOST_DECISIONS)
    kept = tuple(
        KeptDecision(
            _place(entry["file"], len(files)),
            text(entry, "words"),
            tuple(edit_in(edit) for edit in _listed(entry["edits"], MOST_DECISIONS)),
        )
        for entry in decisions
    )
    return KeptReview(
        Asked(Level(settings["level"]), coverage, aim),
        tuple(_file_in(file, folder) for file in files),
        kept,
    )


def _listed(value: Any, most: int) -> Sequence[Any]:
    if not isinstance(value, list) or len(value) > most:
        raise ValueError("a list is missing, or too long")
    return value


def _place(value: Any, count: int) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or not 0 <= value < count:
        raise ValueError("a decision is about no file of the list")
    return value
