"""The texts of a local page and of its style sheets, as they are written."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from urllib.parse import unquote, urlsplit

from high_pair.formats.reading import is_plain
from high_pair.formats.web.html_source import PageSource
from high_pair.formats.web.origins import Place

MOST_BYTES = 64 * 1024**2


@dataclass(frozen=True)
class SheetText:
    """The text of a style sheet in a file. path: None for one within the page itself.

    line: at which of the file's lines it begins; start: likewise its place in the page's text.
    """

    name: str
    path: Path | None
    text: str
    line: int = 1
    start: int = 0


class SourceFiles:
    """Reads a local page and its sheets as written. page: None for one from the web."""

    def __init__(self, page: Path | None) -> None:
        self.page = page
        self._source: PageSource | None = None
        self._sheets: dict[str, SheetText | None] = {}

    @property
    def source(self) -> PageSource | None:
        """The page's own text."""
        if self._source is None and self.page is not None:
            try:
                self._source = PageSource(self.page.read_bytes())
            except (OSError, UnicodeError):
                return None
        return self._source

    def sheet(self, place: Place) -> SheetText | None:
        """Give the text of the sheet that holds a declaration, None where it is no file here."""
        if self.page is None or place.prefix:
            return None
        if place.href:
            if place.href not in self._sheets:
                self._sheets[place.href] = _read(place.href)
            return self._sheets[place.href]
        source = self.source
        element = source.style(place.style) if source is not None else None
        if source is None or element is None:
            return None
        line = source.text.count("\n", 0, element.start) + 1
        text = source.text[element.start : element.stop]
        return SheetText(self.page.name, None, text, line, element.start)


def _read(href: str) -> SheetText | None:
    path = local_path(href)
    data = read_whole(path) if path is not None else None
    if path is None or data is None:
        return None
    return SheetText(path.name, path, data.decode("utf-8", "surrogateescape"))


def read_whole(path: Path) -> bytes | None:
    """Read a file that a page names; None where there is none, or one too large or without end."""
    try:
        if not is_plain(path) or path.stat().st_size > MOST_BYTES:
            return None
        return path.read_bytes()
    except OSError:
        return None


def local_path(address: str) -> Path | None:
    """Give the path of a file by its address; None for another."""
    parts = urlsplit(address)
    return Path(unquote(parts.path)) if parts.scheme == "file" else None
