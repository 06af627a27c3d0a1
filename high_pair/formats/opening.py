"""Opening a file as the document it is."""

from __future__ import annotations

from pathlib import Path

from high_pair.formats.document import Document
from high_pair.formats.package import Package
from high_pair.formats.slides.deck import Deck

SUFFIXES = (".pptx", ".potx", ".ppsx", ".pptm", ".potm", ".ppsm")


def open_document(path: Path) -> Document:
    """Open a file; what it is is told from its contents. Raises UnreadableFile."""
    package = Package(path)
    try:
        return Deck(package)
    except BaseException:
        package.close()
        raise
