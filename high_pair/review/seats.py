"""The seats that come with the program, and a person's own, kept in one JSON file."""

from __future__ import annotations

import functools
import json
import math
from collections.abc import Sequence
from dataclasses import asdict, fields, replace
from pathlib import Path
from typing import IO, Any

from high_pair.colour.vision import Eyes
from high_pair.errors import UnreadableFile
from high_pair.formats.document import PageInfo
from high_pair.formats.reading import read_json
from high_pair.formats.writing import write_whole
from high_pair.measure.pairs import Pair
from high_pair.measure.seat_numbers import SeatNumbers, seat_numbers
from high_pair.scene.seat import Needs, Seat

FORMAT, VERSION = "high-pair-seats", 1
MOST_BYTES = 1024**2
MOST_SEATS = 200
LONGEST_NAME = 60
# On a desk, at the usual distance, under the light of an office.
DESK = Seat("desk", 0.6, lux=300.0)
BUILT_IN = (
    # A projection of 2 m with the hall's lights on.
    Seat("last row", 14.0, 2.0, peak=150.0, black=0.3, lux=13.0, reflectance=0.9),
    replace(DESK, name="small window of a call", picture=0.11),
    # A pixel of CSS is an inch's 160th part on phones.
    Seat("phone outdoors", 0.35, pixels_per_inch=160.0, peak=500.0, black=0.05, lux=10_000.0,
         reflectance=0.045),
    Seat("washed-out projector", 8.0, 2.0, peak=80.0, black=0.4, lux=100.0, reflectance=0.9),
    replace(DESK, name="red-weak eyes", eyes=Eyes.PROTAN),
    replace(DESK, name="green-weak eyes", eyes=Eyes.DEUTAN),
    replace(DESK, name="blue-weak eyes", eyes=Eyes.TRITAN),
    replace(DESK, name="low vision, moderate", distance=0.4, acuity=0.5, loss=0.5),
    replace(DESK, name="low vision, severe", distance=0.3, acuity=1.0, loss=1.0),
    # Paper's black throws back a twenty-fifth of what its white does.
    Seat("grey print", 0.4, peak=100.0, black=4.0, grey=True),
)  # fmt: skip
# What each number may be.
BOUNDS = {
    "distance": (0.01, 1000.0),
    "picture": (0.01, 100.0),
    "pixels_per_inch": (10.0, 2000.0),
    "peak": (1.0, 100_000.0),
    "black": (0.0, 1000.0),
    "lux": (0.0, 200_000.0),
    "reflectance": (0.0, 1.0),
    "acuity": (-0.5, 3.0),
    "loss": (-0.5, 2.2),
    "angle": (0.1, 600.0),
    "reserve": (1.0, 100.0),
    "calm": (0.0, 100.0),
}


def read_seats(path: Path) -> tuple[Seat, ...]:
    """Read seats from a file. Raises UnreadableFile."""
    data = read_json(path, MOST_BYTES)
    listed = data.get("seats") if isinstance(data, dict) else None
    if not isinstance(listed, list) or data.get("format") != FORMAT:
        raise UnreadableFile(path.name, f"it is no file of seats (“format”: “{FORMAT}”).")
    if len(listed) > MOST_SEATS:
        raise UnreadableFile(path.name, f"it has more than {MOST_SEATS} seats.")
    found = tuple(_seat(each, number, path.name) for number, each in enumerate(listed, start=1))
    names = [seat.name for seat in found]
    for name in names:
        if names.count(name) > 1:
            raise UnreadableFile(path.name, f"two of its seats are named “{name}”.")
    return found


def _seat(data: Any, number: int, file: str) -> Seat:
    if not isinstance(data, dict) or not isinstance(data.get("name"), str) or not data["name"]:
        raise UnreadableFile(file, f"its seat {number} has no name.")
    name = data["name"][:LONGEST_NAME]
    stated = data.get("needs", {})
    needs = replace(Needs(), **_numbers(stated, Needs, name, file)) if stated else Needs()
    given: dict[str, Any] = _numbers(data, Seat, name, file)
    if "distance" not in given:
        raise UnreadableFile(file, f"its seat “{name}” has no distance.")
    if "eyes" in data:
        if data["eyes"] not in list(Eyes):
            raise UnreadableFile(file, f"“eyes” of its seat “{name}” is none of {_kinds()}.")
        given["eyes"] = Eyes(data["eyes"])
    seat = Seat(name, **given, grey=data.get("grey") is True, needs=needs)
    if seat.black >= seat.peak:
        raise UnreadableFile(file, f"the black of its seat “{name}” isn't darker than its peak.")
    if seat.flare <= 0.0:
        # No screen is so black that nothing comes back from it.
        seat = replace(seat, black=seat.peak / 1e6)
    return seat


def _kinds() -> str:
    return ", ".join(Eyes)


def _numbers(data: Any, kind: type, name: str, file: str) -> dict[str, Any]:
    """Take over the numbers that a seat, or what it needs, states. Raises UnreadableFile."""
    if not isinstance(data, dict):
        raise UnreadableFile(file, f"what its seat “{name}” needs isn't stated as an object.")
    found: dict[str, Any] = {}
    for each in fields(kind):
        if each.name not in BOUNDS or data.get(each.name) is None:
            continue
        value, (least, most) = data[each.name], BOUNDS[each.name]
        sound = isinstance(value, int | float) and not isinstance(value, bool)
        if not sound or not math.isfinite(value) or not least <= value <= most:
            raise UnreadableFile(
                file,
                f"“{each.name}” of its seat “{name}” is no number from {least:g} to {most:g}.",
            )
        found[each.name] = float(value)
    return found


def as_json(seats: Sequence[Seat]) -> str:
    """Write seats as JSON, each with all its settings."""
    listed = [asdict(seat) for seat in seats]
    content = {"format": FORMAT, "version": VERSION, "seats": listed}
    return json.dumps(content, indent=2, ensure_ascii=False) + "\n"


def write_seats(seats: Sequence[Seat], target: Path) -> None:
    """Keep seats in a file. Raises UnwritableFile."""

    def put(out: IO[bytes]) -> None:
        out.write(as_json(seats).encode())

    write_whole(target, target, put)


def known_seats(own: Path) -> tuple[Seat, ...]:
    """List the seats there are: those that come with the program, changed or joined by a person's.

    own: the file of a person's seats, which needn't be there. Raises UnreadableFile.
    """
    theirs = read_seats(own) if own.is_file() else ()
    by_name = {seat.name: seat for seat in BUILT_IN} | {seat.name: seat for seat in theirs}
    return tuple(by_name.values())


@functools.lru_cache(maxsize=4096)
def seat_numbers_of(pair: Pair, seat: Seat, page: PageInfo) -> SeatNumbers | None:
    """Give what a text or a link of a page is like from a seat; None of anything else."""
    return seat_numbers(pair, seat, (page.width, page.height), page.seen_whole)


def as_table(seats: Sequence[Seat]) -> str:
    """Describe seats for a terminal, one a line."""
    width = max(len(seat.name) for seat in seats)
    return "".join(f"{seat.name:<{width}}  {words_of(seat)}\n" for seat in seats)


def words_of(seat: Seat) -> str:
    """Describe a seat: from where, on what, in which light, with which eyes."""
    if seat.picture is not None:
        what = f"a picture {seat.picture:g} m high"
    else:
        what = f"a screen of {seat.pixels_per_inch:g} pixels an inch"
    parts = [f"{seat.distance:g} m from {what}", f"washed to {seat.washed:.3g}:1"]
    if seat.eyes is not Eyes.NORMAL:
        parts.append(f"{seat.eyes} eyes")
    if seat.acuity or seat.loss:
        parts.append(f"acuity {seat.acuity:g} logMAR, contrast −{seat.loss:g} log")
    if seat.grey:
        parts.append("without colours")
    return ", ".join(parts)
