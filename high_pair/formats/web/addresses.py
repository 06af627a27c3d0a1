"""Addresses of pages that are files, and addresses within a page."""

from __future__ import annotations

import os
import re
from pathlib import Path
from urllib.parse import quote, unquote, urlsplit

from high_pair.formats.kinds import PAGES
from high_pair.formats.location import Location, WebAddress, suffix_of

MEMBER = "page"
_TEXT = re.compile(
    r"^page#(?P<target>.+?)"
    r"(?:/(?:text|value|picture|frame|border|focus)=\d+(?:-\d+)?|/icon=(?:1|fill|stroke))?$"
)


def is_page(location: Location) -> bool:
    """Tell whether something lies on the web, or is named as a page."""
    return isinstance(location, WebAddress) or suffix_of(location) in PAGES


def looks_like_page(start: bytes) -> bool:
    """Tell whether a file begins as an HTML page does."""
    text = start.lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    return text.startswith((b"<!doctype html", b"<html")) or b"<html" in text[:1024]


def file_address(path: Path) -> str:
    """Give a file's address for the engine."""
    return "file://" + quote(str(path.resolve()))


def in_words(address: str, page: Path) -> str:
    """Name a file by its path as seen from a page's folder, another address as it is."""
    parts = urlsplit(address)
    if parts.scheme != "file":
        return address
    return os.path.relpath(unquote(parts.path), page.resolve().parent)


def in_page(target: str) -> str:
    """Write a place within a page as an address."""
    return f"{MEMBER}#{target}"


def target_of(address: str) -> str | None:
    """Give the selector within an address, with its pseudo-element; None for another address."""
    match = _TEXT.match(address)
    return match.group("target") if match else None
