"""The review format, version 1. Keys are only ever added."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping, Sequence

from high_pair.measure.pairs import Pair
from high_pair.measure.seat_numbers import SeatNumbers
from high_pair.report.contents import Report, ReportedFile, ReportedRemedy
from high_pair.wcag.asked import Asked

FORMAT = "high-pair-review"
VERSION = 1
DECIMALS = 6


def _number(value: float) -> float:
    """Round to six decimals, which keeps the ratio on its own side of a threshold when read."""
    return round(value, DECIMALS)


def _ratio(value: float, required: float) -> float:
    """Write a ratio so that it compares with `required` as the unrounded one does."""
    rounded = _number(value)
    return value if (rounded < required) != (value < required) else rounded


def pair_as_json(
    pair: Pair,
    remedies: Sequence[ReportedRemedy] = (),
    seats: Mapping[str, SeatNumbers] | None = None,
) -> dict[str, object]:
    """Give a pair's entry. seats: what it is like from each seat that was asked for."""
    numbers = pair.numbers
    return {
        "id": pair.id,
        "page": pair.page,
        "where": pair.where,
        "address": pair.address,
        "subject": pair.subject.value,
        "text": pair.text,
        "size_pt": _number(pair.size),
        "bold": pair.bold,
        "size_class": pair.size_class.value,
        "foreground": numbers.foreground if numbers else None,
        "background": numbers.background if numbers else None,
        "backdrop": ("varied" if numbers.varied else "solid") if numbers else None,
        "ratio": _ratio(numbers.ratio, pair.required) if numbers else None,
        "ratio_lowest": _number(numbers.lowest) if numbers else None,
        "ratio_median": _number(numbers.median) if numbers else None,
        "ratio_highest": _number(numbers.highest) if numbers else None,
        "share_below": _number(numbers.share_below) if numbers else None,
        "criterion": pair.criterion,
        "required": pair.required,
        "verdict": pair.verdict.value,
        "reason": pair.reason,
        "bbox": [_number(value) for value in pair.bbox],
        "colour_origin": pair.origin,
        "layout": "estimated" if pair.estimated else "exact",
        "remedies": [
            {
                "kind": remedy.kind,
                "label": remedy.label,
                "ratio": _number(remedy.ratio),
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
        "vision": {str(eyes): _number(ratio) for eyes, ratio in numbers.vision.items()},
        "verdict": str(numbers.reading),
        **(
            {"apart": {str(eyes): _number(far) for eyes, far in numbers.apart.items()}}
            if numbers.apart
            else {}
        ),
    }


def _known(value: float) -> float | None:
    return _number(value) if math.isfinite(value) else None


def file_as_json(file: ReportedFile) -> dict[str, object]:
    """Give a file's entry."""
    return {
        "path": file.path,
        "kind": file.kind or None,
        "error": file.error,
        "assumed": list(file.assumed),
        "pages": [
            {
                "page": page.page,
                "name": page.name,
                "width": _number(page.width),
                "height": _number(page.height),
                "hidden": page.hidden,
            }
            for page in file.pages
        ],
        "pairs": [
            pair_as_json(pair, file.remedies.get(pair.id, ()), file.seats.get(pair.id))
            for pair in file.pairs
        ],
    }


def settings_as_json(asked: Asked) -> dict[str, object]:
    """Give what was asked; the aim is there where it is more than the standard's."""
    aim = {"aim": asked.aim.words} if asked.aim.words else {}
    return {"level": asked.level.value, "coverage": asked.coverage, **aim}


def write_json(report: Report) -> str:
    """Write a report in the review format."""
    content = {
        "format": FORMAT,
        "version": VERSION,
        "settings": settings_as_json(report.asked),
        "files": [file_as_json(file) for file in report.files],
    }
    return json.dumps(content, indent=2, ensure_ascii=False) + "\n"
