"""Addresses of web pages among paths of files, and addresses within a page.

A review names what it opens by paths. A web address as a path has lost one of
its slashes, which is put back here.
"""

from __future__ import annotations

import os
import re
from pathlib import Path
from urllib.parse import quote, unquote, urlsplit

from high_pair.formats.writing import named

PAGES = (".html", ".htm", ".xhtml", ".xht", ".shtml")
CSS = ".css"
MEMBER = "page"
_ADDRESS = re.compile(r"^(https?):/+(?=[^/])", re.IGNORECASE)
_TEXT = re.compile(
    r"^page#(?P<target>.+?)"
    r"(?:/(?:text|value|picture|frame|border|focus)=\d+(?:-\d+)?|/icon=(?:1|fill|stroke))?$"
)


def web_address(path: Path) -> str | None:
    """Give the web address that a path stands for, None where it is a file's."""
    text = str(path)
    match = _ADDRESS.match(text)
    return f"{match.group(1).lower()}://{text[match.end() :]}" if match else None


def as_path(text: str) -> Path:
    """Give the path that stands for what was typed: a file's or a web address."""
    return Path(text.strip())


def is_page(path: Path) -> bool:
    """Tell whether a path is named as a web page."""
    return web_address(path) is not None or path.suffix.lower() in PAGES


def looks_like_page(start: bytes) -> bool:
    """Tell whether a file begins as an HTML page does."""
    text = start.lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    return text.startswith((b"<!doctype html", b"<html")) or b"<html" in text[:1024]


def name_of(path: Path) -> str:
    """Give the name by which the user knows a page."""
    address = web_address(path)
    if address is None:
        return named(path)
    parts = urlsplit(address)
    last = unquote(parts.path.rstrip("/").rpartition("/")[2])
    return last or parts.netloc


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
