"""A file measured in another process, as rows of a store."""

from __future__ import annotations

import pickle
import time
from pathlib import Path
from typing import Any

from high_pair.errors import FileProblem
from high_pair.formats.reading import sha256_of
from high_pair.process.host import CallProblem, Host, budget_for
from high_pair.report.store import FileRows
from high_pair.review.in_processes import STEPS, Opening
from high_pair.wcag.asked import Asked


def measure_file(
    host: Host, opening: Opening, digest: str, asked: Asked, named: str = ""
) -> FileRows:
    """Measure a file in a process; what goes wrong is the file's error.

    digest: of the file, which is kept with its rows; named: the path by which its rows know it,
    where that is another.
    """
    path, start = opening.path, time.monotonic()
    named = named or str(path)

    def call(step: str, *arguments: object) -> Any:
        return host.call(STEPS + step, *arguments, budget=budget_for(path))

    try:
        count, _ = call("begin", opening)
        pages: list[bytes] = [call("page", opening, number, asked) for number in range(count)]
        kind, pairs, parts, listed, assumed = pickle.loads(call("rows", named, pages, asked))
    except (FileProblem, CallProblem) as problem:
        words = str(problem) if isinstance(problem, FileProblem) else f"it {problem}."
        return FileRows(named, digest, "", words, time.monotonic() - start)
    others = (part for part in parts if not isinstance(path, Path) or part != str(path.resolve()))
    with_digests = tuple((part, sha256_of(Path(part))) for part in others)
    took = time.monotonic() - start
    return FileRows(named, digest, kind, "", took, pairs, with_digests, listed, assumed)
