"""Addresses of pages that are files, and addresses within a page."""

from __future__ import annotations

import os
import re
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import quote, unquote, urlsplit

from high_pair.formats.kinds import PAGES
from high_pair.formats.location import Location, WebAddress, suffix_of

MEMBER = "page"
# The element, what of it, and whether it is about what lies behind that.
_PLACE = re.compile(
    r"(.+?)(/(?:text|value|picture|frame|border|focus)=\d+(?:-\d+)?|/icon=(?:1|(fill|stroke)))?"
    r"(?:/(?:laid|dim)=1)*",
    re.DOTALL,
)


@dataclass(frozen=True)
class PagePlace:
    """A place within a page, taken apart.

    selector: of its element, which may have slashes of its own; part: the step from there,
    such as `/text=1`; icon: the property that an icon is drawn by, empty where none is known.
    """

    selector: str
    part: str = ""
    icon: str = ""

    @classmethod
    def of(cls, target: str) -> PagePlace:
        """Take apart what follows a page's name in an address."""
        match = _PLACE.fullmatch(target)
        return cls(*(group or "" for group in match.groups())) if match else cls(target)

    @property
    def is_graphic(self) -> bool:
        """Whether it is a control's border, its sign of focus, or an icon drawn by a property."""
        return bool(self.icon) or self.part.startswith(("/border", "/focus"))

    @property
    def tree(self) -> str:
        """The prefix of the shadow tree or frame that its element is in; empty for the page's."""
        return self.selector[: len(self.selector) - len(self.own)]

    @property
    def own(self) -> str:
        """Its selector as a sheet in its tree says it."""
        return self.selector.rpartition("//")[2]

    def in_state(self, state: str) -> str:
        """Write it as it is in a state, such as hover: the state goes to the element."""
        element, double, name = self.selector.partition("::")
        return f"{element}:{state}{double}{name}{self.part}"


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


def place_of(address: str) -> PagePlace | None:
    """Take an address of a page apart; None for another address."""
    member, _, target = address.partition("#")
    return PagePlace.of(target) if member == MEMBER and target else None
