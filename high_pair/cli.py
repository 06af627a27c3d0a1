"""The command line: review, measure and remedy files, or open the window.

Exit status: 0 nothing falls short, 1 at least one pair does, 2 a file could
not be read or the call was wrong. Standard output holds the report alone;
messages and progress go to standard error.
"""

from __future__ import annotations

import argparse
import json
import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np
import shtab

from high_pair import __version__
from high_pair.colour.compositing import over_bytes
from high_pair.colour.notation import Read, read
from high_pair.colour.ratio import contrast_ratio, shown_ratio
from high_pair.colour.srgb import hex_of
from high_pair.errors import HighPairError, NotationError
from high_pair.formats.web.settings import DEFAULT as WEB
from high_pair.formats.web.settings import (
    LEAST_LIMIT,
    LEAST_ZOOM,
    MOST_LIMIT,
    MOST_ZOOM,
    WebSettings,
    parse_widths,
)
from high_pair.measure.pairs import COVERAGE, Asked
from high_pair.measure.text_finder import NoFinder
from high_pair.report.as_json import write_json
from high_pair.report.as_table import write_table
from high_pair.report.contents import Report, ReportedFile
from high_pair.review.reporting import mend_file, review_or_error
from high_pair.wcag.criteria import Level, SizeClass, Subject, criterion_for
from high_pair.wcag.verdicts import Verdict

DONE, SHORT, WRONG = 0, 1, 2
WRITERS = {"table": write_table, "json": write_json}
COMMANDS = ("review", "measure", "remedy", "demo", "window")
PROGRESS_AFTER_SECONDS = 1.0

EXAMPLES = """\
examples:
  high-pair review briefing.pptx              what falls short, as a table
  high-pair review *.pptx --format json -o report.json
                                              the same for scripts
  high-pair measure "#777" white              the ratio of two colours
  high-pair measure "rgb(20 40 60 / 50%)" "#E7F0EE"
                                              a see-through colour is composited first
  high-pair remedy briefing.pptx -o better.pptx
                                              recolour what falls short, in a copy
  high-pair review times.html --widths 320,1280
                                              a web page, narrow and wide
  high-pair review http://localhost:8000/     likewise one that is served
  high-pair review poster.png --find-text     a picture, whose text is looked for
  high-pair briefing.pptx                     open the window
  high-pair demo                              open the window with the demo files

exit status:
  0  nothing falls short
  1  at least one pair falls short
  2  a file could not be read, or the call was wrong

shell completion:
  high-pair --print-completion bash > ~/.local/share/bash-completion/completions/high-pair
"""


def build_parser() -> argparse.ArgumentParser:
    """Make the parser of all commands."""
    parser = argparse.ArgumentParser(
        prog="high-pair",
        description="Measure the contrast of text in slides, documents, spreadsheets and web pages "
        "against WCAG 2.2, "
        "as it is really painted, and mend what falls short.",
        epilog=EXAMPLES,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    parser.add_argument("--version", action="version", version=f"high-pair {__version__}")
    shtab.add_argument_to(parser, ["--print-completion"])
    commands = parser.add_subparsers(dest="command", metavar="COMMAND", title="commands")

    review = commands.add_parser(
        "review",
        help="measure every text in files and report what falls short",
        description="Measure every text in files and report what falls short.",
    )
    _add_paths(review, "+")
    _add_level(review)
    review.add_argument(
        "--format", choices=sorted(WRITERS), default="table", help="the report's form (table)"
    )
    _add_output(review, "write the report to this file instead of standard output", False)
    review.add_argument(
        "--remedies", action="store_true", help="add to each pair the changes that make it pass"
    )
    review.add_argument(
        "--find-text",
        action="store_true",
        help="look for text in pictures, if the optional part for it is installed",
    )
    _add_web(review)

    measure = commands.add_parser(
        "measure",
        help="give the contrast ratio of two colours",
        description="Give the contrast ratio of two colours, in any notation of CSS or as CMYK. "
        "A see-through foreground is composited on the background.",
    )
    measure.add_argument("foreground", metavar="FOREGROUND", help="like #1B4F72 or navy")
    measure.add_argument(
        "background", metavar="BACKGROUND", help="like white or oklch(90%% 0.02 90)"
    )
    measure.add_argument("--json", action="store_true", help="print an object instead of words")

    remedy = commands.add_parser(
        "remedy",
        help="mend what falls short, in a copy, and measure the copy",
        description="Mend what falls short, in a copy: another colour for the text, else an "
        "overlay behind it. The copy is measured. "
        "The file itself stays as it is.",
    )
    _add_paths(remedy, None)
    _add_output(remedy, "the copy to write; of a web page also a style sheet (.css)", True)
    _add_level(remedy)
    _add_web(remedy)

    window = commands.add_parser("window", help="open the window, with files if any are given")
    _add_paths(window, "*")
    commands.add_parser("demo", help="open the window with the demo files")
    return parser


def _add_paths(parser: argparse.ArgumentParser, count: str | None) -> None:
    name = "path" if count is None else "paths"
    action = parser.add_argument(
        name,
        metavar="PATH",
        type=Path,
        nargs=count,
        help="a file: .pptx, .docx, .xlsx, .odp, .odt, .ods, their kin, a picture, or a web page "
        "(.html or an http address)",
    )
    action.complete = shtab.FILE  # type: ignore[attr-defined]


def _add_web(parser: argparse.ArgumentParser) -> None:
    group = parser.add_argument_group("web pages")
    group.add_argument(
        "--widths",
        type=_widths,
        default=WEB.widths,
        metavar="W,W,…",
        help="widths of the view in pixels, each a page of the report (1280)",
    )
    group.add_argument("--dark", action="store_true", help="tell the page that dark is preferred")
    group.add_argument(
        "--zoom",
        type=_within(LEAST_ZOOM, MOST_ZOOM),
        default=WEB.zoom,
        metavar="FACTOR",
        help="zoom of the page (1)",
    )
    group.add_argument(
        "--limit",
        type=_within(LEAST_LIMIT, MOST_LIMIT),
        default=WEB.limit,
        metavar="SECONDS",
        help=f"after so long a page is taken as it is ({WEB.limit:g})",
    )
    folder = group.add_argument(
        "--folder",
        action="append",
        default=[],
        metavar="FOLDER",
        help="a folder from which a page that is a file may load, besides its own; may be repeated",
    )
    folder.complete = shtab.DIRECTORY  # type: ignore[attr-defined]
    group.add_argument(
        "--no-states",
        action="store_true",
        help="leave out how links and controls look on hover, on focus, pressed and visited",
    )


def _widths(text: str) -> tuple[int, ...]:
    try:
        return parse_widths(text)
    except ValueError as error:
        raise argparse.ArgumentTypeError(str(error)) from error


def _within(least: float, most: float) -> Callable[[str], float]:
    """Give what reads a number between two."""

    def read_number(text: str) -> float:
        try:
            value = float(text)
        except ValueError:
            value = least - 1
        if not least <= value <= most:
            raise argparse.ArgumentTypeError(f"“{text}” is no number from {least:g} to {most:g}")
        return value

    return read_number


def _web(arguments: argparse.Namespace) -> WebSettings:
    return WebSettings(
        arguments.widths,
        arguments.dark,
        arguments.zoom,
        arguments.limit,
        not arguments.no_states,
        tuple(arguments.folder),
    )


def _add_output(parser: argparse.ArgumentParser, words: str, required: bool) -> None:
    action = parser.add_argument(
        "-o", "--output", metavar="OUT", type=Path, required=required, help=words
    )
    action.complete = shtab.FILE  # type: ignore[attr-defined]


def _add_level(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--level",
        choices=[level.value for level in Level],
        default=Level.AA.value,
        help="the conformance level to ask for (AA)",
    )


def _say(message: str) -> None:
    print(f"high-pair: {message}", file=sys.stderr)


class _Progress:
    """Shows the pages done on a terminal's standard error, once a file takes over a second."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.start = time.monotonic()
        self.shown = False

    def __call__(self, done: int, total: int) -> None:
        late = time.monotonic() - self.start > PROGRESS_AFTER_SECONDS
        if late and sys.stderr.isatty():
            print(f"\r{self.path.name}: page {done} of {total}", end="", file=sys.stderr)
            self.shown = True
        if done == total and self.shown:
            print("\r\x1b[K", end="", file=sys.stderr)


def run_review(arguments: argparse.Namespace) -> int:
    """Review files and write the report."""
    asked = Asked(Level(arguments.level), COVERAGE)
    files: list[ReportedFile] = []
    for path in arguments.paths:
        try:
            file = review_or_error(
                path,
                asked,
                arguments.remedies,
                _Progress(path),
                _web(arguments),
                arguments.find_text,
            )
        except NoFinder as error:
            _say(str(error))
            return WRONG
        if file.error is not None:
            _say(file.error)
        files.append(file)
    text = WRITERS[arguments.format](Report(asked.level, asked.coverage, tuple(files)))
    if arguments.output is None:
        sys.stdout.write(text)
    else:
        try:
            arguments.output.write_text(text, encoding="utf-8")
        except OSError as error:
            _say(f"{arguments.output}: the report can't be written ({error.strerror}).")
            return WRONG
    if any(file.error is not None for file in files):
        return WRONG
    short = any(p.verdict is Verdict.FALLS_SHORT for file in files for p in file.pairs)
    return SHORT if short else DONE


def run_measure(arguments: argparse.Namespace) -> int:
    """Measure two colours."""
    try:
        foreground, background = read(arguments.foreground), read(arguments.background)
    except NotationError as error:
        _say(str(error))
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
        print(json.dumps(content, indent=2, ensure_ascii=False))
    else:
        print(f"{shown_ratio(ratio)}  {hex_of(above)} on {hex_of(below)}")
        for words, number, required in checks:
            outcome = "passes" if ratio >= required else f"{required - ratio:.2f} short"
            print(f"  {words:<22} {required:>3g}  {outcome:<11} ({number})")
        for note in notes:
            print(f"  note: {note}")
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
    asked = Asked(Level(arguments.level), COVERAGE)
    path: Path = arguments.path
    try:
        mended = mend_file(path, arguments.output, asked, _Progress(path), _web(arguments))
    except HighPairError as error:
        _say(str(error))
        return WRONG
    print(f"{mended.copy.target}: {mended.copy.words}")
    for pair, reason in mended.left:
        print(f"  left: {pair.where}, “{pair.text[:40]}”: {reason}")
    if mended.short:
        print(f"  {mended.short} still {'falls' if mended.short == 1 else 'fall'} short")
    return SHORT if mended.short else DONE


def run_window(paths: Sequence[Path], demo: bool = False) -> int:
    """Open the window."""
    try:
        # Qt is loaded only when a window is asked for.
        from high_pair.app.start import start
    except ImportError as error:
        _say(f"the window can't be opened ({error}). Install the program's libraries anew.")
        return WRONG
    return start(paths, demo)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line; gives the exit status."""
    words = list(sys.argv[1:] if arguments is None else arguments)
    if not words or (words[0] not in COMMANDS and not words[0].startswith("-")):
        # Files alone open the window.
        words.insert(0, "window")
    parsed = build_parser().parse_args(words)
    if parsed.command == "review":
        return run_review(parsed)
    if parsed.command == "measure":
        return run_measure(parsed)
    if parsed.command == "remedy":
        return run_remedy(parsed)
    return run_window(getattr(parsed, "paths", ()), parsed.command == "demo")
