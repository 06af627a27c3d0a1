"""OpenDocument text and spreadsheets for tests, written as compact XML."""

from __future__ import annotations

import unittest
from pathlib import Path

from high_pair.measure.pairs import Pair
from tests.decks import DeckFolder, pairs_of, ratio_by_hand
from tests.odf_decks import pack, style

TEXT = "application/vnd.oasis.opendocument.text"
SHEET = "application/vnd.oasis.opendocument.spreadsheet"


def text(attributes: str) -> str:
    return f"<style:text-properties {attributes}/>"


def paragraph(attributes: str) -> str:
    return f"<style:paragraph-properties {attributes}/>"


def cells(attributes: str) -> str:
    return f"<style:table-cell-properties {attributes}/>"


def p(words: str = "Word", name: str = "") -> str:
    mark = f'text:style-name="{name}"' if name else ""
    return f"<text:p {mark}>{words}</text:p>"


def span(words: str, name: str) -> str:
    return f'<text:span text:style-name="{name}">{words}</text:span>'


def cell(words: str = "Word", name: str = "", more: str = "") -> str:
    mark = f'table:style-name="{name}"' if name else ""
    kind = "" if "value-type" in more else 'office:value-type="string"'
    return f"<table:table-cell {mark} {kind} {more}>{p(words)}</table:table-cell>"


def number(value: float, name: str = "", more: str = "") -> str:
    return cell(f"{value:g}", name, f'office:value-type="float" office:value="{value:g}" {more}')


def row(*content: str, more: str = "") -> str:
    return f"<table:table-row {more}>{''.join(content)}</table:table-row>"


def table(*rows: str, columns: str = "", name: str = "Fares", tail: str = "") -> str:
    columns = columns or '<table:table-column table:number-columns-repeated="3"/>'
    return f'<table:table table:name="{name}">{columns}{"".join(rows)}{tail}</table:table>'


class OdfFileTest(unittest.TestCase):
    """Writes files in a folder of its own and measures them."""

    kind = TEXT

    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def write(
        self,
        body: str,
        automatic: str = "",
        common: str = "",
        master: str = "",
        layout: str = "",
        standing: str = "",
        page: str = "",
        more: dict[str, bytes] | None = None,
    ) -> Path:
        """Write a file of the test's kind.

        layout, page: of the page's properties; standing: the styles of its header and its footer.
        """
        default = "".join(
            f'<style:default-style style:family="{family}"><style:text-properties '
            'style:font-name="Carlito" fo:font-size="12pt" style:use-window-font-color="true"/>'
            "</style:default-style>"
            for family in ("paragraph", "table-cell", "graphic")
        )
        styles = (
            f"<office:styles>{default}{common}</office:styles><office:automatic-styles>"
            '<style:page-layout style:name="L"><style:page-layout-properties fo:page-width="15cm" '
            f'fo:page-height="20cm" fo:margin="2cm" {layout}>{page}</style:page-layout-properties>'
            f"{standing}</style:page-layout>"
            "</office:automatic-styles><office:master-styles>"
            f'<style:master-page style:name="Standard" style:page-layout-name="L">{master}'
            "</style:master-page></office:master-styles>"
        )
        element = "text" if self.kind == TEXT else "spreadsheet"
        content = (
            f"<office:automatic-styles>{automatic}</office:automatic-styles><office:body>"
            f"<office:{element}>{body}</office:{element}></office:body>"
        )
        name = "test.odt" if self.kind == TEXT else "test.ods"
        return self.folder.write(pack(styles, content, more, self.kind), name)

    def pairs(self, body: str, **options: object) -> tuple[Pair, ...]:
        return pairs_of(self.write(body, **options))  # type: ignore[arg-type]

    def only(self, body: str, **options: object) -> Pair:
        (pair,) = self.pairs(body, **options)
        return pair

    def assert_colours(self, pair: Pair, foreground: str, background: str) -> None:
        assert pair.numbers is not None, (pair.verdict, pair.reason)
        self.assertEqual(pair.numbers.foreground, f"#{foreground}")
        self.assertEqual(pair.numbers.background, f"#{background}")
        self.assertAlmostEqual(pair.ratio or 0, ratio_by_hand(foreground, background), delta=0.01)


__all__ = ["OdfFileTest", "style"]
