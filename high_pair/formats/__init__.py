"""The file formats: each read into scenes, and written back with edits.

`open_document` opens a file as whatever it is. It is found here only when asked
for, so that what needs a format's settings alone doesn't load all of them.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from high_pair.formats.opening import open_document

__all__ = ["open_document"]


def __getattr__(name: str) -> Any:
    if name != "open_document":
        raise AttributeError(name)
    from high_pair.formats import opening

    return opening.open_document
