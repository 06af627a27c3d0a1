"""Opening a file as the document it is."""

from __future__ import annotations

import stat
import zipfile
from dataclasses import replace
from pathlib import Path

from high_pair.errors import UnreadableFile
from high_pair.formats.document import Document
from high_pair.formats.documents.document import TextDocument
from high_pair.formats.location import Location, WebAddress
from high_pair.formats.odf.deck import MIME_TYPES as DECK_TYPES
from high_pair.formats.odf.deck import OdfDeck
from high_pair.formats.odf.file import OdfFile, is_odf, kind_of, read_flat
from high_pair.formats.odf.spreadsheet import MIME_TYPES as SHEET_TYPES
from high_pair.formats.odf.spreadsheet import OdfSpreadsheet
from high_pair.formats.odf.text_document import MIME_TYPES as TEXT_TYPES
from high_pair.formats.odf.text_document import OdfText
from high_pair.formats.package import READS, Package
from high_pair.formats.picture import picture_file
from high_pair.formats.picture.picture_file import PictureFile, is_picture
from high_pair.formats.relationships import content_type_of, main_part_of
from high_pair.formats.sheets.workbook import Workbook
from high_pair.formats.slides.deck import Deck
from high_pair.formats.web import drawing
from high_pair.formats.web.addresses import CSS, PAGES, looks_like_page
from high_pair.formats.web.settings import DEFAULT, WebSettings
from high_pair.formats.web.web_file import WebFile
from high_pair.formats.writing import named

DECKS = (
    ".pptx", ".potx", ".ppsx", ".pptm", ".potm", ".ppsm", ".odp", ".otp", ".fodp",
)  # fmt: skip
DOCUMENTS = (".docx", ".docm", ".dotx", ".dotm", ".odt", ".ott", ".fodt")
PICTURES = picture_file.SUFFIXES
DRAWINGS = (drawing.SUFFIX,)
WORKBOOKS = (".xlsx", ".xlsm", ".xltx", ".xltm", ".ods", ".ots", ".fods")
SUFFIXES = (*DECKS, *DOCUMENTS, *WORKBOOKS, *PAGES, *PICTURES, *DRAWINGS)
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


def _open_odf(kind: str, file: OdfFile) -> Document:
    if kind in DECK_TYPES:
        return OdfDeck(file)
    if kind in TEXT_TYPES:
        return OdfText(file)
    if kind in SHEET_TYPES:
        return OdfSpreadsheet(file)
    raise UnreadableFile(file.name, f"it is an OpenDocument file of another kind. {READS}")


def open_saved(target: Path, document: Document) -> Document:
    """Open what a document was saved as, in order to measure it. Raises UnreadableFile."""
    if isinstance(document, WebFile):
        if target.suffix.lower() == CSS:
            sheet = target.read_text("utf-8")
            return WebFile(document.location, document.settings, sheet)
        # What the page may load its copy may, wherever that lies.
        own = (str(document.path.resolve().parent),) if document.path is not None else ()
        folders = (*own, *document.settings.folders)
        return WebFile(target, replace(document.settings, folders=folders))
    return open_document(target)


def shown_as(document: Document) -> WebSettings | None:
    """Tell how a web page is shown; None of another document."""
    page = isinstance(document, WebFile) and document.drawing_size is None
    return document.settings if page and isinstance(document, WebFile) else None


def copy_suffixes(document: Document, path: Location) -> tuple[str, ...]:
    """List the suffixes of what can be saved of a document, the usual one first."""
    suffix = path.suffix if isinstance(path, Path) else ""
    if isinstance(document, WebFile) and document.drawing_size is None:
        return (suffix or PAGES[0], CSS) if document.local else (CSS,)
    return (suffix,)


def mends_as_sheet(document: Document) -> str | None:
    """Give the mends of a web page as a style sheet; None of another document."""
    if not isinstance(document, WebFile) or document.drawing_size is not None:
        return None
    return document.style_sheet()


def open_document(path: Location, web: WebSettings = DEFAULT) -> Document:
    """Open a file or a web address; what a file is is told from its contents.

    web: how a web page is shown. Raises UnreadableFile.
    """
    if isinstance(path, WebAddress):
        return WebFile(path, web)
    _check_file(path)
    start = _start_of(path)
    drawn = path.suffix.lower() == drawing.SUFFIX
    if (
        drawn
        or looks_like_page(start)
        or (path.suffix.lower() in PAGES and not start.startswith(b"PK"))
    ):
        return WebFile(path, web)
    if _starts_like_xml(start):
        kind, root = read_flat(path)
        return _open_odf(kind, OdfFile(path.name, None, root))
    named_so = path.suffix.lower() in PICTURES and path.is_file() and not zipfile.is_zipfile(path)
    if named_so or is_picture(path):
        return PictureFile(path)
    package = Package(path)
    try:
        if is_odf(package):
            kind = kind_of(package)
            return _open_odf(kind, OdfFile(package.name, package, None))
        main = main_part_of(package)
        if main.startswith("word/") or _is_kind(package, main, "wordprocessingml", "ms-word"):
            return TextDocument(package, main)
        if main.startswith("xl/") or _is_kind(package, main, "spreadsheetml", "ms-excel"):
            return Workbook(package, main)
        return Deck(package)
    except BaseException:
        package.close()
        raise
