"""A pair as the store and every report have it, and the key by which it is known again."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import TYPE_CHECKING, Any

from high_pair.wcag.criteria import SizeClass, Subject, by_number
from high_pair.wcag.verdicts import Verdict

if TYPE_CHECKING:
    # An audit's own process measures nothing, and loads nothing that does.
    from high_pair.measure.pairs import Pair

DECIMALS = 6
# What the review format calls otherwise.
_IN_JSON = {"pair_id": "id", "place": "where", "origin": "colour_origin"}


@dataclass(frozen=True)
class Row:
    """A pair; numbers and colours are None where nothing was measured.

    key: the same for the same text at the same place of the same path, empty where that isn't
    known yet; the rest is as in the review format, which calls `pair_id` id, `place` where, and
    `origin` colour_origin.
    """

    key: str
    pair_id: str
    page: int
    place: str
    address: str
    subject: str
    text: str
    size_pt: float
    bold: bool
    size_class: str
    foreground: str | None
    background: str | None
    backdrop: str | None
    ratio: float | None
    ratio_lowest: float | None
    ratio_median: float | None
    ratio_highest: float | None
    share_below: float | None
    criterion: str
    required: float
    verdict: str
    reason: str
    bbox: tuple[float, float, float, float]
    origin: str
    layout: str
    appears: str
    sheet: str | None
    line: int | None
    cells: tuple[str, ...]

    @property
    def as_json(self) -> dict[str, Any]:
        """Give it as the review format has it."""
        found = {_IN_JSON.get(name, name): getattr(self, name) for name in NAMES[1:]}
        return {**found, "bbox": list(self.bbox), "cells": list(self.cells)}


NAMES = tuple(field.name for field in fields(Row))


def row_of(pair: Pair) -> Row:
    """Give a pair's row, without its key."""
    numbers = pair.numbers
    left, top, width, height = pair.bbox
    stands = next((decider for decider in pair.deciders if decider.line), None)
    return Row(
        key="",
        pair_id=pair.id,
        page=pair.page,
        place=pair.where,
        address=pair.address,
        subject=pair.subject.value,
        text=pair.text,
        size_pt=number(pair.size),
        bold=pair.bold,
        size_class=pair.size_class.value,
        foreground=numbers.foreground if numbers else None,
        background=numbers.background if numbers else None,
        backdrop=("varied" if numbers.varied else "solid") if numbers else None,
        ratio=_ratio(numbers.ratio, pair.required) if numbers else None,
        ratio_lowest=number(numbers.lowest) if numbers else None,
        ratio_median=number(numbers.median) if numbers else None,
        ratio_highest=number(numbers.highest) if numbers else None,
        share_below=number(numbers.share_below) if numbers else None,
        criterion=pair.criterion,
        required=pair.required,
        verdict=pair.verdict.value,
        reason=pair.reason,
        bbox=(number(left), number(top), number(width), number(height)),
        origin=pair.origin,
        layout="estimated" if pair.estimated else "exact",
        appears=pair.appears,
        sheet=stands.sheet if stands else None,
        line=stands.line if stands else None,
        cells=pair.cells,
    )


def rows_of(pairs: Iterable[Pair], path: str) -> tuple[Row, ...]:
    """Give the rows of a file's pairs, with their keys."""
    return _with_keys([row_of(pair) for pair in pairs], path)


def rows_in(pairs: Iterable[Mapping[str, Any]], path: str) -> tuple[Row, ...]:
    """Give the rows of a file's pairs as a report in JSON has them, with their keys.

    Raises KeyError, TypeError or ValueError where one is unsound.
    """
    return _with_keys([_row_in(pair) for pair in pairs], path)


def _with_keys(rows: Sequence[Row], path: str) -> tuple[Row, ...]:
    keys = (key_of(path, what) for what in numbered(rows))
    return tuple(replace(row, key=key) for row, key in zip(rows, keys, strict=True))


def numbered(rows: Iterable[Row]) -> Iterator[tuple[str, ...]]:
    """Give what tells each of a file's pairs from others: its place in words, its subject, its
    words, when it appears, and which it is, from 1, of those that agree in all of that."""
    seen: dict[tuple[str, ...], int] = {}
    for row in rows:
        what = (row.place, row.subject, row.text, row.appears)
        seen[what] = seen.get(what, 0) + 1
        yield (*what, str(seen[what]))


def key_of(path: str, what: tuple[str, ...]) -> str:
    """Give the key of a pair of a file: the same for the same text at the same place."""
    data = "\x1f".join((path, *what)).encode("utf-8", "surrogatepass")
    return hashlib.blake2b(data, digest_size=16).hexdigest()


def _row_in(pair: Mapping[str, Any]) -> Row:
    told = {name: pair.get(_IN_JSON.get(name, name)) for name in NAMES[1:]}
    return checked(
        {**told, "key": "", "appears": told["appears"] or "", "cells": told["cells"] or ()}
    )


def checked(told: Mapping[str, Any]) -> Row:
    """Give a row of values that a stranger may have told, each as what it has to be.

    Raises KeyError, TypeError or ValueError where one is unsound.
    """

    def number_or_none(name: str) -> float | None:
        return None if told[name] is None else float(told[name])

    def words(name: str) -> str:
        if not isinstance(told[name], str):
            raise TypeError(f"“{name}” isn't text")
        return str(told[name])

    left, top, width, height = (float(each) for each in _list(told["bbox"]))
    return Row(
        key=words("key"),
        pair_id=words("pair_id"),
        page=int(told["page"]),
        place=words("place"),
        address=words("address"),
        subject=Subject(words("subject")).value,
        text=words("text"),
        size_pt=float(told["size_pt"]),
        bold=bool(told["bold"]),
        size_class=SizeClass(words("size_class")).value,
        foreground=_colour(told["foreground"]),
        background=_colour(told["background"]),
        backdrop=None if told["backdrop"] is None else words("backdrop"),
        ratio=number_or_none("ratio"),
        ratio_lowest=number_or_none("ratio_lowest"),
        ratio_median=number_or_none("ratio_median"),
        ratio_highest=number_or_none("ratio_highest"),
        share_below=number_or_none("share_below"),
        criterion=by_number(words("criterion")).number,
        required=float(told["required"]),
        verdict=Verdict(words("verdict")).value,
        reason=words("reason"),
        bbox=(left, top, width, height),
        origin=words("origin"),
        layout=words("layout"),
        appears=words("appears"),
        sheet=None if told["sheet"] is None else words("sheet"),
        line=None if told["line"] is None else int(told["line"]),
        cells=tuple(str(each) for each in _list(told["cells"])),
    )


def _list(told: Any) -> Sequence[Any]:
    """Give a list that is told as such, or as the store keeps it, in JSON."""
    found = json.loads(told) if isinstance(told, str) else told
    if not isinstance(found, list | tuple):
        raise TypeError(f"“{found}” is no list")
    return found


def _colour(value: Any) -> str | None:
    """Read a colour as reports write it; what else stands there is taken into no page."""
    if value is None:
        return None
    if not isinstance(value, str) or len(value) != 7 or not value.startswith("#"):
        raise ValueError("a colour isn't written #RRGGBB")
    int(value[1:], 16)
    return value


def number(value: float) -> float:
    """Round to six decimals, which keeps the ratio on its own side of a threshold when read."""
    return round(value, DECIMALS)


def _ratio(value: float, required: float) -> float:
    """Write a ratio so that it compares with `required` as the unrounded one does."""
    rounded = number(value)
    return value if (rounded < required) != (value < required) else rounded
