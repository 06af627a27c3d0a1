"""What each command does; gives the exit status."""

from __future__ import annotations

import argparse
import functools
import json
from collections.abc import Sequence
from pathlib import Path
from typing import IO, TYPE_CHECKING

from high_pair.cli.arguments import FORMS, asked, web
from high_pair.cli.console import Progress, put, say
from high_pair.cli.report import refuse_to_show, write_reviewed
from high_pair.errors import HighPairError, NotationError
from high_pair.formats.location import Location
from high_pair.formats.web.settings import DEFAULT as WEB
from high_pair.formats.writing import refuse_source, write_whole
from high_pair.wcag.criteria import Level, SizeClass, Subject, criterion_for

if TYPE_CHECKING:
    from high_pair.colour.notation import Read
    from high_pair.review.decisions import Aside
    from high_pair.review.in_processes import ReviewedFile
    from high_pair.scene.seat import Seat

DONE, SHORT, WRONG = 0, 1, 2
# Letters of a text that is named in a message.
LEFT_WIDTH = 40


def run_review(arguments: argparse.Namespace) -> int:
    """Review files and write the report."""
    from high_pair.review import in_processes

    output: Path | None = arguments.output
    refuse_to_show(arguments.format, output)
    if output is not None:
        refuse_source(output, (path for path in arguments.paths if isinstance(path, Path)))
    seats = _seats_named(arguments.seat) if arguments.seat else ()
    if arguments.strict and not seats:
        say("--strict is about seats: name one with --seat.")
        return WRONG
    asides = _asides(arguments.decisions)
    files = []
    in_processes.get_ready_for(arguments.paths)
    for path in arguments.paths:
        wanted = in_processes.ToReview(
            in_processes.Opening(path, web(arguments), arguments.find_text),
            asked(arguments),
            seats,
            arguments.strict,
            asides,
        )
        file = in_processes.review(wanted, arguments.remedies, Progress(path))
        if file.error:
            say(file.error)
        files.append(file)
    if arguments.format not in FORMS:
        write_reviewed(arguments, files)
        return _status(files, arguments.budget)
    text = in_processes.write_report(arguments.format, asked(arguments), files)
    if output is None:
        put(text, as_utf8=arguments.format != "table")
    else:
        # A source may have got this name meanwhile.
        refuse_source(output, (path for path in arguments.paths if isinstance(path, Path)))
        data = text.encode("utf-8", "backslashreplace")
        write_whole(output, output, functools.partial(_write, data))
    return _status(files, arguments.budget)


def _status(files: Sequence[ReviewedFile], budget: int) -> int:
    if any(file.error for file in files):
        return WRONG
    return SHORT if sum(file.falls_short for file in files) > budget else DONE


def _asides(sources: Sequence[Path]) -> tuple[Aside, ...]:
    """Read decisions files. Raises UnreadableFile."""
    if not sources:
        return ()
    from high_pair.review.decisions import read_decisions

    return tuple(aside for source in sources for aside in read_decisions(source))


def own_seats() -> Path:
    """Give the file of a person's own seats."""
    from platformdirs import user_data_path

    return user_data_path("high-pair") / "seats.json"


def _seats_named(names: Sequence[str]) -> tuple[Seat, ...]:
    """Give the seats of these names; a name may be a file of seats too. Raises HighPairError."""
    from high_pair.review.seats import known_seats, read_seats

    known = {seat.name: seat for seat in known_seats(own_seats())}
    found: dict[str, Seat] = {}
    for name in names:
        if name in known:
            found[name] = known[name]
        elif name.endswith(".json"):
            found |= {seat.name: seat for seat in read_seats(Path(name))}
        else:
            listed = ", ".join(f"“{each}”" for each in known)
            raise HighPairError(
                f"There is no seat “{name}”, but {listed}; or name a file of seats."
            )
    return tuple(found.values())


def run_seats(arguments: argparse.Namespace) -> int:
    """List the seats there are."""
    from high_pair.review.seats import as_json, as_table, known_seats

    seats = known_seats(own_seats())
    as_lines = arguments.format == "table"
    put(as_table(seats) if as_lines else as_json(seats), as_utf8=not as_lines)
    return DONE


def _write(data: bytes, out: IO[bytes]) -> None:
    out.write(data)


def run_measure(arguments: argparse.Namespace) -> int:
    """Measure two colours."""
    import numpy as np

    from high_pair.colour.compositing import over_bytes
    from high_pair.colour.notation import read
    from high_pair.colour.ratio import contrast_ratio, shown_ratio
    from high_pair.colour.srgb import hex_of

    try:
        foreground, background = read(arguments.foreground), read(arguments.background)
    except NotationError as error:
        say(str(error))
        return WRONG
    below = over_bytes(
        np.array(background.rgb, np.uint8), background.opacity, np.array([255] * 3, np.uint8)
    )
    above = over_bytes(np.array(foreground.rgb, np.uint8), foreground.opacity, below)
    ratio = float(contrast_ratio(above, below))
    checks = [
        (f"{words} {level.value}", criterion.number, criterion.required(size))
        for words, subject, size in (
            ("normal text", Subject.TEXT, SizeClass.NORMAL),
            ("large-scale text", Subject.TEXT, SizeClass.LARGE),
        )
        for level in Level
        for criterion in (criterion_for(subject, level),)
    ]
    graphic = criterion_for(Subject.GRAPHIC, Level.AA)
    checks.append(("graphics and controls", graphic.number, graphic.normal))
    notes = _notes("foreground", foreground) + _notes("background", background)
    if arguments.json:
        content = {
            "foreground": hex_of(above),
            "background": hex_of(below),
            "ratio": ratio,
            "passes": {words: ratio >= required for words, _, required in checks},
            "notes": notes,
        }
        put(json.dumps(content, indent=2, ensure_ascii=False) + "\n", as_utf8=True)
    else:
        lines = [f"{shown_ratio(ratio)}  {hex_of(above)} on {hex_of(below)}"]
        for words, number, required in checks:
            outcome = "passes" if ratio >= required else f"{required - ratio:.2f} short"
            lines.append(f"  {words:<22} {required:>3g}  {outcome:<11} ({number})")
        lines += [f"  note: {note}" for note in notes]
        put("".join(f"{line}\n" for line in lines))
    return DONE if ratio >= criterion_for(Subject.TEXT, Level.AA).normal else SHORT


def _notes(name: str, colour: Read) -> list[str]:
    notes = []
    if colour.naive:
        notes.append(f"{name}: device CMYK, converted naively; a print's colour needs its profile")
    if colour.mapped:
        notes.append(f"{name}: outside sRGB; its chroma was reduced to fit")
    if name == "background" and colour.opacity < 1:
        notes.append("background: see-through; composited on white")
    return notes


def run_remedy(arguments: argparse.Namespace) -> int:
    """Mend a file in a copy."""
    from high_pair.remedy.wishes import OVERLAYS, Preference, Wishes
    from high_pair.review import in_processes

    path, target = arguments.path, arguments.output
    if isinstance(path, Path):
        refuse_source(target, [path])
    wanted = in_processes.ToReview(in_processes.Opening(path, web(arguments)), asked(arguments))
    wishes = Wishes(
        Preference(arguments.prefer), frozenset(arguments.keep), OVERLAYS[arguments.overlays]
    )
    mended = in_processes.mend(wanted, target, wishes, Progress(path))
    for left in mended.left:
        say(f"left: {left.where}, “{left.text[:LEFT_WIDTH]}”: {left.reason}")
    if arguments.format == "json":
        content = {
            "format": "high-pair-remedy",
            "version": 1,
            "path": str(path),
            "copy": str(target),
            **mended.as_json,
        }
        put(json.dumps(content, indent=2, ensure_ascii=False) + "\n", as_utf8=True)
    else:
        lines = [f"{target}: {mended.words}"]
        if mended.short:
            verb = "falls" if mended.short == 1 else "fall"
            lines.append(f"  {mended.short} still {verb} short")
        put("".join(f"{line}\n" for line in lines))
    return SHORT if mended.short or mended.passing < mended.changed else DONE


def run_colours(arguments: argparse.Namespace) -> int:
    """Report a file's sets of colours, and mend them."""
    from high_pair.review import in_processes

    path, target = arguments.path, arguments.output
    if target is not None:
        if arguments.mend is None:
            say("-o writes a mended set: say --mend as well.")
            return WRONG
        refuse_source(target, [path])
    wishes = in_processes.SetWishes(
        arguments.format,
        arguments.mend,
        tuple(arguments.leave),
        tuple((text, backdrop) for text, backdrop in arguments.wanted),
        target,
    )
    wanted = in_processes.ToReview(in_processes.Opening(path, WEB), asked(arguments))
    text, short, words = in_processes.report_colours(wanted, wishes, Progress(path))
    if words:
        say(words)
    put(text, as_utf8=arguments.format == "json")
    return SHORT if short else DONE


def run_window(paths: Sequence[Location], demo: bool = False) -> int:
    """Open the window."""
    try:
        # Qt is loaded only when a window is asked for.
        from high_pair.app.start import start
    except ImportError as error:
        say(f"the window can't be opened ({error}). Install the program's libraries anew.")
        return WRONG
    return start(paths, demo)
