"""The review file (`.highpair`): what was opened and decided, to go on with another day.

JSON; `docs/review-file.md` describes it. Paths are relative to the file, and
each source has its digest, by which a changed one is noticed.
"""

from __future__ import annotations

import hashlib
import json
import os
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

from high_pair.colour.srgb import bytes_of, hex_of
from high_pair.errors import FileProblem, UnreadableFile
from high_pair.formats.writing import write_whole
from high_pair.measure.pairs import COVERAGE, Asked
from high_pair.remedy.edits import (
    Edit,
    LayOver,
    MarkText,
    RecolourOrigin,
    RecolourText,
    SetAside,
    TakeOff,
    TakeUp,
    UnmarkText,
)
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, OverlayKind
from high_pair.wcag.criteria import Level

SUFFIX = ".highpair"
SCHEMA = "high-pair-work"
VERSION = 1
MOST_BYTES = 64 * 1024**2
MOST_FILES, MOST_DECISIONS = 10_000, 200_000
LONGEST_TEXT = 4_000
CHUNK = 1 << 20


class ReviewFileProblem(FileProblem):
    """A review file can't be read."""


@dataclass(frozen=True)
class KeptFile:
    """A file under review: its path, and the digest of its content (empty when unknown)."""

    path: Path
    digest: str


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


def digest_of(path: Path) -> str:
    """Give the digest of a file's content, empty when it can't be read."""
    found = hashlib.sha256()
    try:
        with path.open("rb") as stream:
            while chunk := stream.read(CHUNK):
                found.update(chunk)
    except OSError:
        return ""
    return f"sha256:{found.hexdigest()}"


# Edits as JSON


def _overlay_out(overlay: Overlay) -> dict[str, Any]:
    box = overlay.box
    return {
        "kind": overlay.kind.value,
        "box": [box.x, box.y, box.width, box.height],
        "colour": hex_of(overlay.levels),
        "percent": overlay.percent,
        "rounding": overlay.rounding,
        "feather": overlay.feather,
        "towards": overlay.towards,
        "full": overlay.full,
        "none": overlay.none,
        "middle": overlay.middle,
    }


def edit_out(edit: Edit) -> dict[str, Any]:
    """Write an edit as JSON has it."""
    if isinstance(edit, RecolourText):
        own: dict[str, Any] = {"colour": hex_of(edit.levels), "opacity": edit.opacity}
        return {"edit": "recolour-text", "address": edit.address, **own}
    if isinstance(edit, LayOver):
        own = {"overlay": _overlay_out(edit.overlay), "serves": list(edit.serves)}
        return {"edit": "lay-over", "address": edit.address, **own}
    if isinstance(edit, RecolourOrigin):
        own = {"colour": hex_of(edit.levels), "serves": list(edit.serves)}
        return {"edit": "recolour-origin", "address": edit.address, **own}
    if isinstance(edit, TakeOff):
        return {"edit": "take-off", "address": edit.address}
    if isinstance(edit, MarkText):
        own = {"box": list(edit.box), "words": edit.words}
        own |= {"size": edit.size, "weight": edit.weight}
        return {"edit": "mark-text", "address": edit.address, **own}
    if isinstance(edit, UnmarkText):
        return {"edit": "unmark-text", "address": edit.address}
    if isinstance(edit, SetAside):
        own = {"subject": edit.subject, "reason": edit.reason, "note": edit.note}
        return {"edit": "set-aside", "address": edit.address, **own}
    return {"edit": "take-up", "address": edit.address, "subject": edit.subject}


def _text(entry: Mapping[str, Any], key: str) -> str:
    value = entry[key]
    if not isinstance(value, str) or len(value) > LONGEST_TEXT:
        raise ValueError(f"“{key}” is no text")
    return value


def _number(value: Any, low: float, high: float) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
        raise ValueError(f"{value!r} is out of range")
    return float(value)


def _box(value: Any) -> tuple[float, float, float, float]:
    if not isinstance(value, list) or len(value) != 4:
        raise ValueError("a box is no box")
    x, y, width, height = (_number(side, -1e5, 1e5) for side in value)
    return x, y, width, height


def _overlay_in(entry: Mapping[str, Any]) -> Overlay:
    return Overlay(
        OverlayKind(entry["kind"]),
        Box(*_box(entry["box"])),
        bytes_of(_text(entry, "colour")),
        int(_number(entry["percent"], 0, 100)),
        _number(entry["rounding"], 0, 1e5),
        _number(entry["feather"], 0, 1e5),
        _number(entry["towards"], 0, 360),
        _number(entry["full"], 0, 1),
        _number(entry["none"], 0, 1),
        _number(entry["middle"], 0, 1),
    )


def edit_in(entry: Mapping[str, Any]) -> Edit:
    """Read an edit. Raises ValueError, KeyError or TypeError for what is none."""
    kind, address = entry["edit"], _text(entry, "address")
    if kind == "recolour-text":
        opacity = _number(entry["opacity"], 0, 1)
        return RecolourText(address, bytes_of(_text(entry, "colour")), opacity)
    if kind == "recolour-origin":
        serves = tuple(each for each in entry["serves"] if isinstance(each, str))
        return RecolourOrigin(address, bytes_of(_text(entry, "colour")), serves)
    if kind == "lay-over":
        serves = tuple(each for each in entry["serves"] if isinstance(each, str))
        return LayOver(address, _overlay_in(entry["overlay"]), serves)
    if kind == "take-off":
        return TakeOff(address)
    if kind == "mark-text":
        size = None if entry["size"] is None else _number(entry["size"], 0, 1e4)
        weight = None if entry["weight"] is None else int(_number(entry["weight"], 1, 1000))
        return MarkText(address, _box(entry["box"]), _text(entry, "words"), size, weight)
    if kind == "unmark-text":
        return UnmarkText(address)
    if kind == "set-aside":
        own = (_text(entry, key) for key in ("subject", "reason", "note"))
        return SetAside(address, *own)
    if kind == "take-up":
        return TakeUp(address, _text(entry, "subject"))
    raise ValueError(f"“{kind}” is no edit that this version knows")


# The file


def contents_of(review: KeptReview, folder: Path) -> dict[str, Any]:
    """Write a review as JSON has it, its paths relative to a folder."""
    return {
        "format": SCHEMA,
        "version": VERSION,
        "settings": {"level": review.asked.level.value, "coverage": review.asked.coverage},
        "files": [
            {"path": _relative(file.path, folder), "digest": file.digest} for file in review.files
        ],
        "decisions": [
            {
                "file": decision.file,
                "words": decision.words,
                "edits": [edit_out(edit) for edit in decision.edits],
            }
            for decision in review.decisions
        ],
    }


def _relative(path: Path, folder: Path) -> str:
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
    coverage = _number(settings.get("coverage", COVERAGE), 0.01, 1.0)
    files = _listed(found["files"], MOST_FILES)
    decisions = _listed(found["decisions"], MOST_DECISIONS)
    kept = tuple(
        KeptDecision(
            _place(entry["file"], len(files)),
            _text(entry, "words"),
            tuple(edit_in(edit) for edit in _listed(entry["edits"], MOST_DECISIONS)),
        )
        for entry in decisions
    )
    return KeptReview(
        Asked(Level(settings["level"]), coverage),
        tuple(KeptFile(folder / _text(file, "path"), _text(file, "digest")) for file in files),
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
