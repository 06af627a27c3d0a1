"""Pictures of looks for reports: as they are, and as a remedy would make them.

Made in a process of each file's own, like everything that reads strangers' bytes. A file that has
changed since it was measured has no pictures, lest they show something else.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor, as_completed
from dataclasses import dataclass, field
from pathlib import Path

from high_pair.edits.kinds import Edit
from high_pair.errors import FileProblem
from high_pair.formats.location import Location, location_of
from high_pair.formats.web.settings import WebSettings
from high_pair.process.host import CallProblem, Host, budget_for
from high_pair.report.findings import Located
from high_pair.report.pictured import Pictured
from high_pair.report.rows import Row
from high_pair.review.in_processes import TRYING, Opening, get_ready_for
from high_pair.wcag.asked import Asked

PICTURES = "high_pair.review.picture_steps:pictures_in"
GONE = "The file isn't there any more."


@dataclass(frozen=True)
class HowMeasured:
    """How files were measured, so that they are again: what was asked, web pages' settings, and
    what was decided to change, by their paths."""

    asked: Asked
    web: WebSettings
    edits: Mapping[str, tuple[Edit, ...]] = field(default_factory=dict)


def picture_looks(
    looks: Iterable[Located],
    how: HowMeasured,
    told: Callable[[int, int], None],
    stopped: Callable[[], bool] = lambda: False,
    jobs: int = 0,
) -> dict[str, Pictured]:
    """Give pictures of pairs by their keys. told: how many files are done, of all."""
    by_path: dict[str, list[Row]] = {}
    for each in looks:
        by_path.setdefault(each.path, []).append(each.row)
    if not by_path:
        return {}
    locations = {path: location_of(path) for path in by_path}
    get_ready_for(locations.values())
    found: dict[str, Pictured] = {}
    with ThreadPoolExecutor(jobs or os.cpu_count() or 1, "pictures") as pool:
        waiting = [
            pool.submit(_pictured, locations[path], rows, how, stopped)
            for path, rows in by_path.items()
        ]
        for done, future in enumerate(as_completed(waiting), start=1):
            found |= future.result()
            told(done, len(waiting))
    return found


def _pictured(
    location: Location, rows: Sequence[Row], how: HowMeasured, stopped: Callable[[], bool]
) -> dict[str, Pictured]:
    if isinstance(location, Path) and not location.is_file():
        return dict.fromkeys((row.key for row in rows), Pictured(missing=GONE))
    host = Host()
    opening = Opening(location, how.web, edits=how.edits.get(str(location), ()))
    try:
        answer = host.call(
            PICTURES, opening, tuple(rows), how.asked,
            budget=budget_for(location, TRYING), stopped=stopped,
        )  # fmt: skip
    except FileProblem as problem:
        return dict.fromkeys((row.key for row in rows), Pictured(missing=str(problem)))
    except CallProblem as problem:
        words = f"The file couldn't be shown again: it {problem}."
        return dict.fromkeys((row.key for row in rows), Pictured(missing=words))
    finally:
        host.close()
    pictures: dict[str, Pictured] = answer
    return pictures
