"""Where what is reviewed lies: a file's path, or a web address, kept letter by letter."""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import unquote, urlsplit

from high_pair.formats.writing import named

_WEB = re.compile(r"^(https?):/+(?=[^/])", re.IGNORECASE)


@dataclass(frozen=True)
class WebAddress:
    """An address of a page on the web, as it was given."""

    url: str

    def __str__(self) -> str:
        return self.url


Location = Path | WebAddress


def location_of(text: str) -> Location:
    """Give where something lies from what was typed, dropped or kept."""
    text = text.strip()
    match = _WEB.match(text)
    if match is None:
        return Path(text)
    return WebAddress(f"{match.group(1).lower()}://{text[match.end() :]}")


def name_of(location: Location) -> str:
    """Give the name by which the user knows a file or a page."""
    if isinstance(location, Path):
        return named(location)
    parts = urlsplit(location.url)
    last = unquote(parts.path.rstrip("/").rpartition("/")[2])
    return last or parts.netloc


def resolved(location: Location) -> Location:
    """Give the one location of what may be reached by several."""
    return location.resolve() if isinstance(location, Path) else location


def suffix_of(location: Location) -> str:
    """Give a file's suffix, in small letters; a page from the web has none that counts."""
    return location.suffix.lower() if isinstance(location, Path) else ""
