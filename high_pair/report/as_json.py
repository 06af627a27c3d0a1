"""The review format, version 1. Keys are only ever added."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, TextIO

from high_pair.report.contents import Report, ReportedFile, ReportedPage, ReportedRemedy
from high_pair.report.findings import Findings
from high_pair.report.rows import number, row_of
from high_pair.wcag.asked import Asked

if TYPE_CHECKING:
    from high_pair.measure.pairs import Pair
    from high_pair.measure.seat_numbers import SeatNumbers

FORMAT = "high-pair-review"
VERSION = 1


def pair_as_json(
    pair: Pair,
    remedies: Sequence[ReportedRemedy] = (),
    seats: Mapping[str, SeatNumbers] | None = None,
) -> dict[str, object]:
    """Give a pair's entry. seats: what it is like from each seat that was asked for."""
    return {
        **row_of(pair).as_json,
        "remedies": [
            {
                "kind": remedy.kind,
                "label": remedy.label,
                "ratio": number(remedy.ratio),
                "change": dict(remedy.change),
            }
            for remedy in remedies
        ],
        **({"seats": {name: _seat(each) for name, each in seats.items()}} if seats else {}),
    }


def _seat(numbers: SeatNumbers) -> dict[str, object]:
    return {
        "angle_arcmin": _known(numbers.angle),
        "ratio": _known(numbers.ratio),
        "reserve": _known(numbers.reserve),
        "reach_m": _known(numbers.reach),
        "unrest": _known(numbers.unrest),
        "vision": {str(eyes): number(ratio) for eyes, ratio in numbers.vision.items()},
        "verdict": str(numbers.reading),
        **(
            {"apart": {str(eyes): number(far) for eyes, far in numbers.apart.items()}}
            if numbers.apart
            else {}
        ),
    }


def _known(value: float) -> float | None:
    return number(value) if math.isfinite(value) else None


def file_as_json(file: ReportedFile) -> dict[str, object]:
    """Give a file's entry."""
    return {
        "path": file.path,
        "kind": file.kind or None,
        "error": file.error,
        "assumed": list(file.assumed),
        "pages": [_page(page) for page in file.pages],
        "pairs": [
            pair_as_json(pair, file.remedies.get(pair.id, ()), file.seats.get(pair.id))
            for pair in file.pairs
        ],
    }


def settings_as_json(asked: Asked) -> dict[str, object]:
    """Give what was asked; the aim is there where it is more than the standard's."""
    aim = {"aim": asked.aim.words} if asked.aim.words else {}
    return {"level": asked.level.value, "coverage": asked.coverage, **aim}


def write_findings(findings: Findings, out: TextIO) -> None:
    """Write what a store has of a run in the review format, file by file."""
    settings = dict(findings.settings)
    begin = {"format": FORMAT, "version": VERSION, "settings": settings}
    out.write(json.dumps(begin, indent=2, ensure_ascii=False).removesuffix("\n}"))
    out.write(',\n  "files": [')
    between = "\n"
    for file in findings.files():
        remedies, seats = findings.remedies_of(file.path), findings.seats_of(file.path)
        told = {
            "path": file.path,
            "kind": file.kind or None,
            "error": file.error or None,
            "assumed": list(file.assumed),
            "pages": [_page(page) for page in findings.pages_of(file.path)],
            "pairs": [
                {
                    **row.as_json,
                    "remedies": remedies.get(row.key, []),
                    **({"seats": seats[row.key]} if row.key in seats else {}),
                }
                for row in findings.pairs_of(file.path)
            ],
        }
        words = json.dumps(told, indent=2, ensure_ascii=False)
        # Line ends within texts are escaped; other breaks that Unicode knows stay as they are.
        out.write(between + "    " + words.replace("\n", "\n    "))
        between = ",\n"
    out.write(("\n  " if between != "\n" else "") + "]\n}\n")


def _page(page: ReportedPage) -> dict[str, object]:
    return {
        "page": page.page,
        "name": page.name,
        "width": number(page.width),
        "height": number(page.height),
        "hidden": page.hidden,
    }


def write_json(report: Report) -> str:
    """Write a report in the review format."""
    content = {
        "format": FORMAT,
        "version": VERSION,
        "settings": settings_as_json(report.asked),
        "files": [file_as_json(file) for file in report.files],
    }
    return json.dumps(content, indent=2, ensure_ascii=False) + "\n"
