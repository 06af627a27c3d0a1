"""Small web pages for tests, shown by the real engine."""

from __future__ import annotations

import tempfile
import unittest
from collections.abc import Mapping
from pathlib import Path

from high_pair.formats.web.settings import WebSettings
from high_pair.formats.web.web_file import WebFile
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import measured
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject

QUICK = WebSettings(states=False)


def whole(body: str, style: str = "", head: str = "") -> str:
    """Give a page of a body and a style sheet; its text stands large and plain on white."""
    return (
        f"<!doctype html><html lang=en><head><meta charset=utf-8><title>Page</title>{head}<style>"
        "body{margin:20px;background:#fff;color:#000;font:20px/1.5 'Liberation Sans',Arial;"
        # So that no letter touches the side of the box that it stands in.
        "text-indent:10px}"
        f"{style}</style></head><body>{body}</body></html>"
    )


class PageFolder(unittest.TestCase):
    """A folder for pages, and one running engine for all tests of a class."""

    _temporary: tempfile.TemporaryDirectory[str]
    _kept: WebFile
    folder: Path

    @classmethod
    def setUpClass(cls) -> None:
        cls._temporary = tempfile.TemporaryDirectory()
        cls.folder = Path(cls._temporary.name)
        (cls.folder / "keep.html").write_text(whole("<p>kept"))
        # While one page is open the engine stays.
        cls._kept = WebFile(cls.folder / "keep.html", QUICK)

    @classmethod
    def tearDownClass(cls) -> None:
        cls._kept.close()
        cls._temporary.cleanup()

    def page(
        self,
        html: str,
        settings: WebSettings = QUICK,
        beside: Mapping[str, str | bytes] | None = None,
        name: str = "page.html",
    ) -> WebFile:
        """Open a page. beside: further files by their names."""
        for other, content in (beside or {}).items():
            data = content if isinstance(content, bytes) else content.encode()
            (self.folder / other).write_bytes(data)
        path = self.folder / name
        path.write_bytes(html if isinstance(html, bytes) else html.encode())
        file = WebFile(path, settings)
        self.addCleanup(file.close)
        return file

    def pairs(self, html: str, settings: WebSettings = QUICK, **more: object) -> list[Pair]:
        """Give the pairs of a page."""
        return pairs_of(self.page(html, settings, **more))


def pairs_of(file: WebFile, page: int = 0) -> list[Pair]:
    """Give a page's pairs."""
    return list(measured(file, page, Asked()).pairs)


def text_pairs(pairs: list[Pair], text: str) -> list[Pair]:
    """Give the pairs of a text that are about its own contrast."""
    return [pair for pair in pairs if pair.text == text and pair.subject is Subject.TEXT]


def luminance(code: str) -> float:
    """WCAG 2.2's relative luminance, from its own words."""
    total = 0.0
    for place, weight in ((1, 0.2126), (3, 0.7152), (5, 0.0722)):
        value = int(code[place : place + 2], 16) / 255
        total += weight * (value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4)
    return total


def ratio(one: str, other: str) -> float:
    """WCAG 2.2's contrast ratio, from its own words."""
    high, low = sorted((luminance(one), luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)
