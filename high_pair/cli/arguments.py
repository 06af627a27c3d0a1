"""What the command line takes: its commands, their arguments and their words."""

from __future__ import annotations

import argparse
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from high_pair import __version__
from high_pair.cli.console import put
from high_pair.errors import NotationError
from high_pair.formats.location import location_of
from high_pair.formats.web.settings import DEFAULT as WEB
from high_pair.formats.web.settings import (
    LEAST_LIMIT,
    LEAST_ZOOM,
    MOST_LIMIT,
    MOST_ZOOM,
    WebSettings,
    parse_widths,
)
from high_pair.wcag.asked import NO_AIM, Aim, Asked, read_aim
from high_pair.wcag.criteria import Level

FORMS = ("json", "table")
REPORTS = ("csv", "html", "json", "sarif", "earl", "pdf")
MOST_JOBS = 256
SHELLS = ("bash", "zsh", "tcsh", "fish", "powershell")
COMMANDS = (
    "review", "audit", "report", "decisions", "merge", "measure", "remedy", "colours", "seats",
    "demo", "window",
)  # fmt: skip

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
  high-pair review briefing.pptx --seat "last row"
                                              what can be read from the hall's last row
  high-pair review times.html --widths 320,1280
                                              a web page, narrow and wide
  high-pair review http://localhost:8000/     likewise one that is served
  high-pair review poster.png --find-text     a picture, whose text is looked for
  high-pair audit share/ --store audit.sqlite
                                              all files of a folder, kept and compared
  high-pair report audit.sqlite -o audit.html what was found, for people
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
        put(shtab.complete(parser, shell) + "\n")
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
        "--format",
        choices=("table", *REPORTS),
        default="table",
        help="the report's form (table)",
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
    review.add_argument(
        "--seat",
        action="append",
        default=[],
        metavar="NAME",
        help="say besides how texts read from a seat (“high-pair seats” lists them), or from "
        "those of a file; may be repeated",
    )
    review.add_argument(
        "--strict", action="store_true", help="what doesn't read from a seat falls short, too"
    )
    _add_kept(review, "decisions files: what was set aside stays so; may be repeated")
    _add_web(review)

    report = commands.add_parser(
        "report",
        help="write what an audit or a review found in another form",
        description="Write the last run of a store of audits, a review file or a report in JSON in "
        "another form: as a web page or a PDF for people, with pictures; as CSV, a row for each "
        "pair, safe to open in a spreadsheet; as JSON; as SARIF for code hosts and editors; as "
        "EARL (JSON-LD) for other tools of accessibility.",
    )
    _complete(report.add_argument("source", metavar="STORE|REVIEW|JSON", type=Path), "FILE")
    report.add_argument(
        "--format", choices=REPORTS, help="the report's form (by the name of OUT, else csv)"
    )
    _add_output(report, "write it to this file instead of standard output", False)
    _complete(
        report.add_argument(
            "--baseline",
            type=Path,
            metavar="FILE",
            help="what it is held against: another store, or a report in JSON (the run before)",
        ),
        "FILE",
    )
    report.add_argument("--title", help="its title (the source's name)")
    report.add_argument(
        "--no-pictures", action="store_true", help="leave out pictures of what falls short"
    )

    decisions = commands.add_parser(
        "decisions",
        help="write what was set aside as a file that later reviews and audits heed",
        description="Write what was set aside in a review file, or in a store of audits, as a "
        "decisions file. It can lie beside the files that it is about, and be named in "
        "high-pair.toml; reviews and audits then set the same aside, while it looks the same.",
    )
    _complete(decisions.add_argument("source", metavar="STORE|REVIEW|JSON", type=Path), "FILE")
    _add_output(decisions, "the decisions file to write", True)

    merge = commands.add_parser(
        "merge",
        help="put two reviewers’ reviews of the same files together",
        description="Put two review files of the same files together. What both decided is there "
        "once, what one of them did is added; where they decided differently about a text, both "
        "are shown, and one of them counts. The exit status is 1 where they differ.",
    )
    for name in ("first", "second"):
        _complete(merge.add_argument(name, metavar=name.upper(), type=Path), "FILE")
    _add_output(merge, "the review file to write", True)
    merge.add_argument(
        "--prefer",
        choices=("first", "second"),
        default="first",
        help="whose decision counts where they differ (first)",
    )
    merge.add_argument("--format", choices=FORMS, default="table", help="of the outcome (table)")

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

    audit = commands.add_parser(
        "audit",
        help="measure many files and keep what was found in a store",
        description="Measure all files of folders, and keep what was found in a store (SQLite). "
        "What hasn't changed since is taken over from there, and what was stopped goes on.",
    )
    _complete(
        audit.add_argument(
            "paths",
            nargs="+",
            metavar="PATH",
            help="files, folders and patterns; - reads them from standard input, one a line",
        ),
        "FILE",
    )
    _complete(
        audit.add_argument(
            "--store", type=Path, required=True, metavar="FILE", help="the store, made if need be"
        ),
        "FILE",
    )
    _add_level(audit)
    audit.add_argument(
        "--exclude",
        action="append",
        default=[],
        metavar="PATTERN",
        help="leave out files and folders of such names or paths; may be repeated",
    )
    audit.add_argument("--hidden", action="store_true", help="hidden files and folders count too")
    audit.add_argument(
        "--retry", action="store_true", help="measure again what couldn't be read before"
    )
    audit.add_argument(
        "--jobs",
        type=_count_from(1, MOST_JOBS),
        metavar="N",
        help="files that are measured at a time (by processor)",
    )
    audit.add_argument(
        "--cluster",
        metavar="ADDRESS",
        help="have the files measured by the workers of a cluster, such as tcp://host:8786",
    )
    audit.add_argument(
        "--baseline",
        type=Path,
        metavar="FILE",
        help="another store: what fell short in its last run is known",
    )
    audit.add_argument(
        "--fail-on",
        choices=("any", "new", "never"),
        default="any",
        help="what makes the exit status 1: anything that falls short, what the baseline or the "
        "run before hadn't, or nothing (any)",
    )
    audit.add_argument("--format", choices=FORMS, default="table", help="of the summary (table)")
    _add_kept(
        audit,
        "decisions files and review files: what was set aside in them stays so, in later audits "
        "too; may be repeated",
    )
    _add_web(audit)

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
        "documents and workbooks, what a web page's rules or OpenDocument's styles state, the main "
        "colours of a picture, or a set file (design tokens as .json, custom properties in .css, "
        "palettes as .gpl). Which of them meet is told by the pages. With --mend they are "
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

    seats = commands.add_parser(
        "seats",
        help="list the seats from which a page can be looked at",
        description="List the seats from which a page can be looked at: those that come with the "
        "program, and your own.",
    )
    seats.add_argument("--format", choices=FORMS, default="table", help="of the list (table)")

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


def _add_kept(parser: argparse.ArgumentParser, words: str) -> None:
    _complete(
        parser.add_argument(
            "--decisions", action="append", type=Path, default=[], metavar="FILE", help=words
        ),
        "FILE",
    )
    parser.add_argument(
        "--budget",
        type=_count_from(0),
        default=0,
        metavar="N",
        help="so many pairs may fall short, and the exit status is 0 all the same (0)",
    )
    add_configuration(parser)


def add_configuration(parser: argparse.ArgumentParser) -> None:
    """Let a command be told where its settings lie."""
    group = parser.add_mutually_exclusive_group()
    _complete(
        group.add_argument(
            "--config",
            type=Path,
            metavar="FILE",
            help="settings in place of the high-pair.toml, or of the [tool.high-pair] in a "
            "pyproject.toml, that lies beside the files or above them",
        ),
        "FILE",
    )
    group.add_argument("--no-config", action="store_true", help="heed no such file")


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
    parser.add_argument(
        "--aim",
        type=_aim,
        default=NO_AIM,
        metavar="FACTOR|RATIO",
        help="what remedies are to reach, where that is more than the standard asks: a factor "
        "(1.2x, ×1.2, 120%%) or a ratio (6:1); verdicts stay the standard's",
    )


def _count_from(least: int, most: int = 10**9) -> Callable[[str], int]:
    """Give what reads a whole number between two."""

    def read_count(text: str) -> int:
        if not text.isascii() or not text.isdecimal() or not least <= int(text) <= most:
            raise argparse.ArgumentTypeError(f"“{text}” is no number from {least} to {most:,}")
        return int(text)

    return read_count


def _aim(text: str) -> Aim:
    try:
        return read_aim(text)
    except ValueError as error:
        raise argparse.ArgumentTypeError(f"“{text}” is no aim: say {error}") from error


def asked(arguments: argparse.Namespace) -> Asked:
    """Give what is asked of every pair, as parsed."""
    return Asked(Level(arguments.level), aim=arguments.aim)


def web(arguments: argparse.Namespace) -> WebSettings:
    """Give how web pages are to be shown, as parsed."""
    return WebSettings(
        arguments.widths,
        arguments.dark,
        arguments.zoom,
        arguments.limit,
        not arguments.no_states,
        tuple(arguments.folder),
    )
