"""Settings that lie beside the files: `high-pair.toml`, or `[tool.high-pair]` in `pyproject.toml`.

They are put before what was typed, as if they had been typed too, so that there is one place in
which an option is read, and what was typed wins. A setting that would let a page load from other
folders isn't among them: such a file may come from a stranger.
"""

from __future__ import annotations

import argparse
import contextlib
import io
import os
import tomllib
from collections.abc import Callable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

from high_pair.cli.arguments import build_parser
from high_pair.errors import UnreadableFile

NAME, SHARED_NAME = "high-pair.toml", "pyproject.toml"
TABLE = ("tool", "high-pair")
MOST_BYTES = 1 << 20


def _word(option: str) -> Callable[[Any, Path], Iterator[str]]:
    def words(value: Any, _folder: Path) -> Iterator[str]:
        if not isinstance(value, str | int | float) or isinstance(value, bool):
            raise ValueError("is neither text nor a number")
        yield f"{option}={value}"

    return words


def _words(option: str) -> Callable[[Any, Path], Iterator[str]]:
    def words(value: Any, _folder: Path) -> Iterator[str]:
        for each in _texts(value):
            yield f"{option}={each}"

    return words


def _paths(option: str) -> Callable[[Any, Path], Iterator[str]]:
    """Paths are those beside the file that names them."""

    def words(value: Any, folder: Path) -> Iterator[str]:
        for each in _texts(value):
            yield f"{option}={folder / each}"

    return words


def _switch(option: str) -> Callable[[Any, Path], Iterator[str]]:
    def words(value: Any, _folder: Path) -> Iterator[str]:
        if not isinstance(value, bool):
            raise ValueError("is neither true nor false")
        if value:
            yield option

    return words


def _widths(value: Any, _folder: Path) -> Iterator[str]:
    if not isinstance(value, list):
        raise ValueError("is no list of numbers")
    yield f"--widths={','.join(str(each) for each in value)}"


def _texts(value: Any) -> list[str]:
    listed = [value] if isinstance(value, str) else value
    if not isinstance(listed, list) or not all(isinstance(each, str) for each in listed):
        raise ValueError("is neither text nor a list of texts")
    return listed


REVIEW, AUDIT = "review", "audit"
# Each setting: the commands that heed it, and how it is written for them.
SETTINGS: Mapping[str, tuple[tuple[str, ...], Callable[[Any, Path], Iterator[str]]]] = {
    "level": ((REVIEW, AUDIT), _word("--level")),
    "aim": ((REVIEW, AUDIT), _word("--aim")),
    "seats": ((REVIEW,), _words("--seat")),
    "strict": ((REVIEW,), _switch("--strict")),
    "exclude": ((AUDIT,), _words("--exclude")),
    "hidden": ((AUDIT,), _switch("--hidden")),
    "baseline": ((AUDIT,), _paths("--baseline")),
    "fail-on": ((AUDIT,), _word("--fail-on")),
    "decisions": ((REVIEW, AUDIT), _paths("--decisions")),
    "budget": ((REVIEW, AUDIT), _word("--budget")),
    "widths": ((REVIEW, AUDIT), _widths),
    "dark": ((REVIEW, AUDIT), _switch("--dark")),
    "zoom": ((REVIEW, AUDIT), _word("--zoom")),
    "limit": ((REVIEW, AUDIT), _word("--limit")),
}


def parse(words: Sequence[str]) -> argparse.Namespace:
    """Read the command line, with the settings that lie beside the files. Raises UnreadableFile."""
    parsed = build_parser().parse_args(words)
    if not hasattr(parsed, "no_config") or parsed.no_config:
        return parsed
    file = parsed.config or find(parsed.paths)
    if file is None:
        return parsed
    settings = read(file, required=parsed.config is not None)
    before = list(_as_words(settings, file, parsed.command))
    if not before:
        return parsed
    command, *rest = words
    _try(before, file, command)
    return build_parser().parse_args([command, *before, *rest])


def find(paths: Sequence[object]) -> Path | None:
    """Find the settings beside the first path, or in the nearest folder above it that has some."""
    first = Path(str(paths[0])) if paths and "://" not in str(paths[0]) else Path()
    start = first if first.is_dir() else first.parent
    if not start.exists():
        start = Path()
    for folder in (start.resolve(), *start.resolve().parents):
        for name in (NAME, SHARED_NAME):
            file = folder / name
            if file.is_file() and (name == NAME or read(file, required=False)):
                return file
    return None


def read(file: Path, required: bool) -> Mapping[str, Any]:
    """Read the settings in a file; none, where a pyproject.toml has no table of ours.

    required: the file was named, so that there must be some. Raises UnreadableFile.
    """
    try:
        if file.stat().st_size > MOST_BYTES:
            raise UnreadableFile(file.name, "it is too large for settings.")
        found: Any = tomllib.loads(file.read_text("utf-8"))
    except OSError as error:
        raise UnreadableFile(file.name, f"it can't be read ({error.strerror}).") from error
    except (ValueError, RecursionError) as error:
        if file.name == SHARED_NAME and not required:
            # Somebody else's file, of which ours would be a part.
            return {}
        raise UnreadableFile(file.name, f"it isn't sound TOML ({error}).") from error
    if file.name == SHARED_NAME:
        for name in TABLE:
            found = found.get(name, {}) if isinstance(found, dict) else {}
    if not isinstance(found, dict):
        raise UnreadableFile(file.name, f"[{'.'.join(TABLE)}] is no table.")
    return found


def _as_words(settings: Mapping[str, Any], file: Path, command: str) -> Iterator[str]:
    for name, value in settings.items():
        if name not in SETTINGS:
            known = ", ".join(SETTINGS)
            raise UnreadableFile(file.name, f"“{name}” is no setting. There are {known}.")
        commands, words = SETTINGS[name]
        try:
            listed = list(words(value, file.parent))
        except ValueError as error:
            raise UnreadableFile(file.name, f"its “{name}” {error}.") from error
        if command in commands:
            yield from listed


def _try(words: Sequence[str], file: Path, command: str) -> None:
    """See that settings are what options may be, so that the file is named where one isn't."""
    said = io.StringIO()
    store = ["--store=x"] if command == AUDIT else []
    try:
        with contextlib.redirect_stderr(said):
            build_parser().parse_args([command, *store, *words, os.curdir])
    except SystemExit as end:
        reason = said.getvalue().strip().rpartition("error: ")[2]
        raise UnreadableFile(file.name, f"{reason}.") from end
