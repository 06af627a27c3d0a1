"""Opening a file as the document it is."""

from __future__ import annotations

import importlib
import stat
import zipfile
from pathlib import Path
from typing import Any

from high_pair.errors import UnreadableFile
from high_pair.formats import kinds
from high_pair.formats.document import Document, SavedOtherwise, ShownByEngine
from high_pair.formats.location import Location, WebAddress
from high_pair.formats.package import READS, Package
from high_pair.formats.picture_starts import is_picture
from high_pair.formats.relationships import content_type_of, main_part_of
from high_pair.formats.web.addresses import looks_like_page
from high_pair.formats.web.settings import DEFAULT, WebSettings
from high_pair.formats.writing import named

START = 1024


def _start_of(path: Path) -> bytes:
    try:
        with path.open("rb") as stream:
            return stream.read(START)
    except OSError:
        return b""


def _check_file(path: Path) -> None:
    """See that something is a plain file: a pipe may never say anything. Raises UnreadableFile."""
    try:
        mode = path.stat().st_mode
    except FileNotFoundError as error:
        raise UnreadableFile(named(path), "there is no such file. Check its name.") from error
    except (OSError, ValueError) as error:
        why = getattr(error, "strerror", None) or error
        raise UnreadableFile(named(path), f"it can't be opened ({why}).") from error
    if stat.S_ISDIR(mode):
        raise UnreadableFile(named(path), "it is a folder. Choose a file.")
    if not stat.S_ISREG(mode):
        raise UnreadableFile(
            named(path),
            "it is a pipe or a device. Save what comes from it as a file, and open that.",
        )


def _starts_like_xml(start: bytes) -> bool:
    return start.lstrip(b"\xef\xbb\xbf \t\r\n").startswith((b"<?xml", b"<office:document"))


def _is_kind(package: Package, member: str, *words: str) -> bool:
    kind = content_type_of(package, member) if member else ""
    return any(word in kind for word in words)


def _read_by(reader: str, *arguments: Any) -> Document:
    """Read a document by its reader, «module:class», which is loaded when it is first needed."""
    module, _, name = reader.partition(":")
    document: Document = getattr(importlib.import_module(module), name)(*arguments)
    return document


def open_saved(target: Path, document: Document) -> Document:
    """Open what a document was saved as, in order to measure it. Raises UnreadableFile."""
    if isinstance(document, SavedOtherwise):
        return document.opened_as_saved(target)
    return open_document(target)


def shown_as(document: Document) -> WebSettings | None:
    """Tell how a web page is shown; None of another document."""
    return document.shown_as if isinstance(document, ShownByEngine) else None


def copy_suffixes(document: Document, location: Location) -> tuple[str, ...]:
    """List the suffixes of what can be saved of a document, the usual one first."""
    if isinstance(document, SavedOtherwise):
        return document.copy_suffixes
    return (location.suffix,) if isinstance(location, Path) else ()


def mends_as_sheet(document: Document) -> str | None:
    """Give the mends of a web page as a style sheet; None of another document."""
    return document.mends_as_sheet() if isinstance(document, ShownByEngine) else None


def open_document(location: Location, web: WebSettings = DEFAULT) -> Document:
    """Open a file or a web address; what a file is is told from its contents.

    web: how a web page is shown. Raises UnreadableFile.
    """
    if isinstance(location, WebAddress):
        return _read_by(kinds.PAGE, location, web)
    path, suffix = location, location.suffix.lower()
    _check_file(path)
    start = _start_of(path)
    named_as_page = suffix in kinds.PAGES and not start.startswith(b"PK")
    if suffix == kinds.DRAWING or looks_like_page(start) or named_as_page:
        return _read_by(kinds.PAGE, path, web)
    if _starts_like_xml(start):
        return _open_odf(path, None)
    named_as_picture = suffix in kinds.PICTURES and not zipfile.is_zipfile(path)
    if named_as_picture or is_picture(path):
        return _read_by(kinds.PICTURE, path)
    package = Package(path)
    try:
        if "mimetype" in package.members:
            from high_pair.formats.odf.file import is_odf

            if is_odf(package):
                return _open_odf(path, package)
        main = main_part_of(package)
        if main.startswith("word/") or _is_kind(package, main, "wordprocessingml", "ms-word"):
            return _read_by(kinds.DOCUMENT, package, main)
        if main.startswith("xl/") or _is_kind(package, main, "spreadsheetml", "ms-excel"):
            return _read_by(kinds.WORKBOOK, package, main)
        return _read_by(kinds.DECK, package)
    except BaseException:
        package.close()
        raise


def _open_odf(path: Path, package: Package | None) -> Document:
    """Open an OpenDocument package, or a flat file."""
    from high_pair.formats.odf.file import OdfFile, kind_of, read_flat

    if package is None:
        kind, root = read_flat(path)
        file = OdfFile(path.name, None, root)
    else:
        kind = kind_of(package)
        file = OdfFile(package.name, package, None)
    reader = kinds.of_odf(kind)
    if reader is None:
        raise UnreadableFile(file.name, f"it is an OpenDocument file of another kind. {READS}")
    return _read_by(reader, file)
