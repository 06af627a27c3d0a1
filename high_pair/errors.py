"""The one family of errors that High Pair raises on purpose.

Every message says what happened, to which file, and what to do about it, and
is shown to the user as it stands.
"""

from __future__ import annotations


class HighPairError(Exception):
    """Anything that stops High Pair's work and that its user should be told."""


class NotationError(HighPairError, ValueError):
    """A colour was written in no notation that High Pair reads."""


class FileProblem(HighPairError):
    """A file can't be used; the message starts with its name.

    Parameters: `name`, the file's name as the user knows it; `what`, what
    happened and what to do, without the name.
    """

    def __init__(self, name: str, what: str) -> None:
        super().__init__(f"{name}: {what}")
        self.name = name
        self.what = what

    def __reduce__(self) -> tuple[type[FileProblem], tuple[str, str]]:
        # It travels between processes.
        return type(self), (self.name, self.what)


class UnreadableFile(FileProblem):
    """The file is damaged, encrypted, hostile, or of a kind that isn't read."""


class UnwritableFile(FileProblem):
    """The copy could not be written; the source is as it was."""


class EditError(HighPairError):
    """An edit names an address that the document doesn't have."""


class Cancelled(HighPairError):
    """The user asked for the work to stop."""
