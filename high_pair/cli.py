"""The command line: review, measure and remedy files, or open the window.

Exit status: 0 nothing falls short, 1 at least one pair does, 2 a file could
not be read or the call was wrong. Standard output holds the report alone;
messages and progress go to standard error.
"""

from __future__ import annotations

import argparse
import contextlib
import functools
import json
import os
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any, NoReturn

from high_pair import __version__
from high_pair.errors import HighPairError, NotationError
from high_pair.formats.location import Location, location_of, name_of
from high_pair.formats.web.settings import DEFAULT as WEB
from high_pair.formats.web.settings import (
    LEAST_LIMIT,
    LEAST_ZOOM,
    MOST_LIMIT,
    MOST_ZOOM,
    WebSettings,
    parse_widths,
)
from high_pair.formats.writing import refuse_source, write_whole
from high_pair.report.terminal import plain
from high_pair.wcag.criteria import Level, SizeClass, Subject, criterion_for

if TYPE_CHECKING:
    from high_pair.colour.notation import Read

DONE, SHORT, WRONG = 0, 1, 2
# As shells have it: 128 and the number of SIGINT.
INTERRUPTED = 130
FORMS = ("json", "table")
SHELLS = ("bash", "zsh", "tcsh", "fish", "powershell")
# Letters of a text that is named in a message.
LEFT_WIDTH = 40
COMMANDS = ("review", "measure", "remedy", "colours", "demo", "window")
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
                                              mend what falls short, in a copy
  high-pair remedy briefing.pptx -o better.pptx --prefer overlay --keep "#16242D"
                                              choose what is changed, and what isn't
  high-pair colours briefing.pptx             the colours of its theme, and which of them meet
  high-pair colours tokens.json --wanted text sand --mend -o better.json
                                              settle a set of colours
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
  130  stopped by Ctrl+C

shell completion:
  high-pair --print-completion bash > ~/.local/share/bash-completion/completions/high-pair
"""


class _PrintCompletion(argparse.Action):
    """Prints a shell's completion script; what makes it is loaded for nothing else."""

    def __call__(
        self, parser: argparse.ArgumentParser, _names: Any, shell: Any, _: Any = None
    ) -> None:
        import shtab

        for each in _actions_of(parser):
            kind = getattr(each, "completes", "")
            if kind:
                each.complete = getattr(shtab, kind)  # type: ignore[attr-defined]
        _put(shtab.complete(parser, shell) + "\n")
        parser.exit()


def _actions_of(parser: argparse.ArgumentParser) -> Iterator[argparse.Action]:
    for action in parser._actions:
        yield action
        if isinstance(action, argparse._SubParsersAction):
            for each in action.choices.values():
                yield from _actions_of(each)


def _complete(action: argparse.Action, kind: str) -> None:
    """Say what an argument is completed with: FILE or DIRECTORY."""
    action.completes = kind  # type: ignore[attr-defined]


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
    parser.add_argument(
        "--print-completion",
        action=_PrintCompletion,
        choices=SHELLS,
        help="print a script that completes this command in a shell",
    )
    commands = parser.add_subparsers(dest="command", metavar="COMMAND", title="commands")

    review = commands.add_parser(
        "review",
        help="measure every text in files and report what falls short",
        description="Measure every text in files and report what falls short.",
    )
    _add_paths(review, "+")
    _add_level(review)
    review.add_argument(
        "--format", choices=FORMS, default="table", help="the report's form (table)"
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
        description="Mend what falls short, in a copy, by what is least visible: another shade "
        "for the text, another fill or an overlay behind it, a colour of the file's own. The "
        "copy is measured. The file itself stays as it is.",
    )
    _add_paths(remedy, None)
    _add_output(remedy, "the copy to write; of a web page also a style sheet (.css)", True)
    _add_level(remedy)
    _add_wishes(remedy)
    remedy.add_argument("--format", choices=FORMS, default="table", help="of the outcome (table)")
    _add_web(remedy)

    colours = commands.add_parser(
        "colours",
        help="report the colours of a theme or a set file, and settle them all at once",
        description="Report the colours that a file decides together: the theme of slides, "
        "documents and workbooks, or a set file (design tokens as .json, custom properties in "
        ".css, palettes as .gpl). Which of them meet is told by the pages. With --mend they are "
        "moved in lightness, the least in all, until every pair has its ratio.",
    )
    _complete(colours.add_argument("path", metavar="SOURCE", type=Path, help="the file"), "FILE")
    _add_level(colours)
    colours.add_argument("--format", choices=FORMS, default="table", help="of the report (table)")
    colours.add_argument(
        "--mend",
        choices=("texts", "backdrops", "both"),
        nargs="?",
        const="both",
        help="settle the set, by moving texts, backdrops or both (both)",
    )
    colours.add_argument(
        "--leave",
        nargs="+",
        default=[],
        metavar="NAME",
        help="colours that stay as they are",
    )
    colours.add_argument(
        "--wanted",
        nargs=2,
        action="append",
        default=[],
        metavar=("TEXT", "BACKDROP"),
        help="a pair that has to pass, though no page has it; may be repeated",
    )
    _add_output(colours, "with --mend: the copy, or the set file, to write", False)

    window = commands.add_parser("window", help="open the window, with files if any are given")
    _add_paths(window, "*")
    commands.add_parser("demo", help="open the window with the demo files")
    return parser


def _add_paths(parser: argparse.ArgumentParser, count: str | None) -> None:
    name = "path" if count is None else "paths"
    action = parser.add_argument(
        name,
        metavar="PATH",
        type=location_of,
        nargs=count,
        help="a file: .pptx, .docx, .xlsx, .odp, .odt, .ods, their kin, a picture, or a web page "
        "(.html or an http address)",
    )
    _complete(action, "FILE")


def _add_wishes(parser: argparse.ArgumentParser) -> None:
    group = parser.add_argument_group("what is changed")
    group.add_argument(
        "--prefer",
        choices=("text", "backdrop", "overlay"),
        default="least",
        help="what is changed first, where it serves (what is least visible)",
    )
    group.add_argument(
        "--keep",
        nargs="+",
        type=_colour,
        default=[],
        metavar="COLOUR",
        help="colours of texts that are never recoloured",
    )
    kinds = group.add_mutually_exclusive_group()
    for name, words in (
        ("plates", "lay plates behind texts, and no other overlays"),
        ("veils", "lay veils and ramps over pictures, and no other overlays"),
        ("no-overlays", "lay nothing behind texts"),
    ):
        kinds.add_argument(
            f"--{name}",
            dest="overlays",
            action="store_const",
            const=name,
            default="all",
            help=words,
        )


def _colour(text: str) -> tuple[int, int, int]:
    from high_pair.colour.notation import read

    try:
        red, green, blue = read(text).rgb
    except NotationError as error:
        raise argparse.ArgumentTypeError(str(error)) from error
    return red, green, blue


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
    _complete(folder, "DIRECTORY")
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
    _complete(action, "FILE")


def _add_level(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--level",
        choices=[level.value for level in Level],
        default=Level.AA.value,
        help="the conformance level to ask for (AA)",
    )


def _say(message: str) -> None:
    # Standard error may be closed or full, and then there is nobody to tell.
    with contextlib.suppress(OSError, ValueError, AttributeError):
        sys.stderr.write(f"high-pair: {plain(message)}\n")
        sys.stderr.flush()


def _put(text: str, as_utf8: bool = False) -> None:
    """Write to standard output; what its encoding hasn't is written as its number.

    as_utf8: whatever the encoding is, as JSON asks. Raises OSError.
    """
    if sys.stdout is None:
        raise OSError("it is closed")
    raw = getattr(sys.stdout, "buffer", None)
    if raw is None:
        sys.stdout.write(text)
        return
    encoding = "utf-8" if as_utf8 else sys.stdout.encoding
    sys.stdout.flush()
    raw.write(text.encode(encoding, "backslashreplace"))
    raw.flush()


class _Progress:
    """Shows the pages done on a terminal's standard error, once a file takes over a second."""

    def __init__(self, location: Location) -> None:
        self.location = location
        self.start = time.monotonic()
        self.shown = False

    def __call__(self, done: int, total: int) -> None:
        late = time.monotonic() - self.start > PROGRESS_AFTER_SECONDS
        if sys.stderr is None or not sys.stderr.isatty():
            return
        if late:
            sys.stderr.write(f"\r{plain(name_of(self.location))}: page {done} of {total}")
            sys.stderr.flush()
            self.shown = True
        if done == total and self.shown:
            sys.stderr.write("\r\x1b[K")
            sys.stderr.flush()


def run_review(arguments: argparse.Namespace) -> int:
    """Review files and write the report."""
    from high_pair.review import in_processes

    output: Path | None = arguments.output
    if output is not None:
        refuse_source(output, (path for path in arguments.paths if isinstance(path, Path)))
    files = []
    in_processes.get_ready_for(arguments.paths)
    for path in arguments.paths:
        wanted = in_processes.ToReview(path, _web(arguments), arguments.level, arguments.find_text)
        file = in_processes.review(wanted, arguments.remedies, _Progress(path))
        if file.error:
            _say(file.error)
        files.append(file)
    text = in_processes.write_report(arguments.format, arguments.level, files)
    if output is None:
        _put(text, as_utf8=arguments.format == "json")
    else:
        # A source may have got this name meanwhile.
        refuse_source(output, (path for path in arguments.paths if isinstance(path, Path)))
        data = text.encode("utf-8", "backslashreplace")
        write_whole(output, output, functools.partial(_write, data))
    if any(file.error for file in files):
        return WRONG
    return SHORT if any(file.falls_short for file in files) else DONE


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
        _put(json.dumps(content, indent=2, ensure_ascii=False) + "\n", as_utf8=True)
    else:
        lines = [f"{shown_ratio(ratio)}  {hex_of(above)} on {hex_of(below)}"]
        for words, number, required in checks:
            outcome = "passes" if ratio >= required else f"{required - ratio:.2f} short"
            lines.append(f"  {words:<22} {required:>3g}  {outcome:<11} ({number})")
        lines += [f"  note: {note}" for note in notes]
        _put("".join(f"{line}\n" for line in lines))
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
    wanted = in_processes.ToReview(path, _web(arguments), arguments.level)
    wishes = Wishes(
        Preference(arguments.prefer), frozenset(arguments.keep), OVERLAYS[arguments.overlays]
    )
    mended = in_processes.mend(wanted, target, wishes, _Progress(path))
    for left in mended.left:
        _say(f"left: {left.where}, “{left.text[:LEFT_WIDTH]}”: {left.reason}")
    if arguments.format == "json":
        content = {
            "format": "high-pair-remedy",
            "version": 1,
            "path": str(path),
            "copy": str(target),
            **mended.as_json,
        }
        _put(json.dumps(content, indent=2, ensure_ascii=False) + "\n", as_utf8=True)
    else:
        lines = [f"{target}: {mended.words}"]
        if mended.short:
            verb = "falls" if mended.short == 1 else "fall"
            lines.append(f"  {mended.short} still {verb} short")
        _put("".join(f"{line}\n" for line in lines))
    return SHORT if mended.short or mended.passing < mended.changed else DONE


def run_colours(arguments: argparse.Namespace) -> int:
    """Report a file's sets of colours, and mend them."""
    from high_pair.review import in_processes

    path, target = arguments.path, arguments.output
    if target is not None:
        if arguments.mend is None:
            _say("-o writes a mended set: say --mend as well.")
            return WRONG
        refuse_source(target, [path])
    wishes = in_processes.SetWishes(
        arguments.format,
        arguments.mend,
        tuple(arguments.leave),
        tuple((text, backdrop) for text, backdrop in arguments.wanted),
        target,
    )
    wanted = in_processes.ToReview(path, WEB, arguments.level)
    text, short, words = in_processes.report_colours(wanted, wishes, _Progress(path))
    if words:
        _say(words)
    _put(text, as_utf8=arguments.format == "json")
    return SHORT if short else DONE


def run_window(paths: Sequence[Location], demo: bool = False) -> int:
    """Open the window."""
    try:
        # Qt is loaded only when a window is asked for.
        from high_pair.app.start import start
    except ImportError as error:
        _say(f"the window can't be opened ({error}). Install the program's libraries anew.")
        return WRONG
    return start(paths, demo)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line; gives the exit status. However it ends, no traceback is shown."""
    words = list(sys.argv[1:] if arguments is None else arguments)
    if not words or (words[0] not in COMMANDS and not words[0].startswith("-")):
        # Files alone open the window.
        words.insert(0, "window")
    try:
        return _run(words)
    except KeyboardInterrupt:
        _say("Stopped.")
        return INTERRUPTED
    except HighPairError as error:
        _say(str(error))
    except BrokenPipeError:
        # Whoever read has gone, and knows why.
        _forget_output()
    except OSError as error:
        _say(f"The output can't be written ({error.strerror or error}).")
        _forget_output()
    except Exception as error:
        _say(
            f"Something went wrong inside High Pair ({type(error).__name__}: {error}). "
            "Your files are unharmed; please report this."
        )
    return WRONG


def _run(words: Sequence[str]) -> int:
    parsed = build_parser().parse_args(words)
    if parsed.command == "review":
        return run_review(parsed)
    if parsed.command == "measure":
        return run_measure(parsed)
    if parsed.command == "colours":
        return run_colours(parsed)
    if parsed.command == "remedy":
        return run_remedy(parsed)
    return run_window(getattr(parsed, "paths", ()), parsed.command == "demo")


def _forget_output() -> None:
    """Keep Python from writing at its end what couldn't be written before."""
    with contextlib.suppress(OSError, ValueError, AttributeError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
        os.close(nowhere)


def program() -> NoReturn:
    """Run the program as a whole: as `main`, and end."""
    status = main()
    try:
        if sys.stdout is not None:
            sys.stdout.flush()
    except (OSError, ValueError):
        _forget_output()
    sys.exit(status)
