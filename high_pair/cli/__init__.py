"""The command line: review, measure and remedy files, settle colours, or open the window.

Exit status: 0 nothing falls short, 1 at least one pair does, 2 a file could
not be read or the call was wrong. Standard output holds the report alone;
messages and progress go to standard error.
"""

from __future__ import annotations

import sys
from collections.abc import Sequence
from typing import NoReturn

from high_pair.cli.arguments import COMMANDS
from high_pair.cli.audit import run_audit
from high_pair.cli.commands import (
    WRONG,
    run_colours,
    run_measure,
    run_remedy,
    run_review,
    run_seats,
    run_window,
)
from high_pair.cli.configuration import parse
from high_pair.cli.console import forget_output, say
from high_pair.cli.merge import run_merge
from high_pair.cli.report import run_decisions, run_report
from high_pair.errors import HighPairError

# As shells have it: 128 and the number of SIGINT.
INTERRUPTED = 130
# What each command does; any other opens the window.
RUN = {
    "review": run_review,
    "audit": run_audit,
    "report": run_report,
    "decisions": run_decisions,
    "merge": run_merge,
    "measure": run_measure,
    "remedy": run_remedy,
    "colours": run_colours,
    "seats": run_seats,
}


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command line; gives the exit status. However it ends, no traceback is shown."""
    words = list(sys.argv[1:] if arguments is None else arguments)
    if not words or (words[0] not in COMMANDS and not words[0].startswith("-")):
        # Files alone open the window.
        words.insert(0, "window")
    try:
        return _run(words)
    except KeyboardInterrupt:
        say("Stopped.")
        return INTERRUPTED
    except HighPairError as error:
        say(str(error))
    except BrokenPipeError:
        # Whoever read has gone, and knows why.
        forget_output()
    except OSError as error:
        say(f"The output can't be written ({error.strerror or error}).")
        forget_output()
    except Exception as error:
        say(
            f"Something went wrong inside High Pair ({type(error).__name__}: {error}). "
            "Your files are unharmed; please report this."
        )
    return WRONG


def _run(words: Sequence[str]) -> int:
    parsed = parse(words)
    if parsed.command in RUN:
        return RUN[parsed.command](parsed)
    return run_window(getattr(parsed, "paths", ()), parsed.command == "demo")


def program() -> NoReturn:
    """Run the program as a whole: as `main`, and end."""
    status = main()
    try:
        if sys.stdout is not None:
            sys.stdout.flush()
    except (OSError, ValueError):
        forget_output()
    sys.exit(status)
