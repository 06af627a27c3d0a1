"""Builds OpenDocument decks for tests."""

import io
import unittest
import zipfile

from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.raster.page import rasterise
from tests.decks import DeckFolder, pairs_of, ratio_by_hand

PREFIXES = [
    "office",
    "style",
    "text",
    "table",
    "draw",
    "presentation",
    "fo:xsl-fo-compatible",
    "svg:svg-compatible",
    "meta",
]
SPACES = " ".join(
    f'xmlns:{p.split(":")[0]}="urn:oasis:names:tc:opendocument:xmlns:'
    f'{ {"draw": "drawing"}.get(p, p.split(":")[-1]) }:1.0"'
    for p in PREFIXES
) + (
    ' xmlns:xlink="http://www.w3.org/1999/xlink"'
    ' xmlns:loext="urn:org:documentfoundation:names:experimental:office:xmlns:loext:1.0"'
)
MIME = "application/vnd.oasis.opendocument.presentation"
CM = 72 / 2.54


def style(name: str, family: str, inner: str, parent: str = "") -> str:
    parent = f'style:parent-style-name="{parent}"' if parent else ""
    return (
        f'<style:style style:name="{name}" style:family="{family}" {parent}>{inner}</style:style>'
    )


def graphic(attributes: str) -> str:
    return f"<style:graphic-properties {attributes}/>"


def text(attributes: str) -> str:
    return f"<style:text-properties {attributes}/>"


def frame(paragraphs: str, more: str = "", place: str = "") -> str:
    place = place or 'svg:x="2cm" svg:y="2cm" svg:width="12cm" svg:height="4cm"'
    return f'<draw:frame draw:name="Box" {place} {more}><draw:text-box>{paragraphs}</draw:text-box></draw:frame>'


def parts(
    body: str,
    automatic: str = "",
    common: str = "",
    master: str = "",
    master_automatic: str = "",
    page: str = "",
    declarations: str = "",
    page_style: str = "",
    usual: str = 'draw:fill="none"',
) -> tuple[str, str]:
    """Write what stands in styles.xml and in content.xml, without their roots.

    usual: the graphic properties that all shapes have.
    """
    default = (
        f'<style:default-style style:family="graphic">{graphic(usual)}'
        '<style:text-properties style:font-name="Carlito" fo:font-size="20pt" '
        'style:use-window-font-color="true"/></style:default-style>'
    )
    styles = (
        f"<office:styles>{default}{common}</office:styles><office:automatic-styles>"
        '<style:page-layout style:name="L"><style:page-layout-properties fo:page-width="24cm" '
        'fo:page-height="13.5cm"/></style:page-layout>'
        f"{style('Mdp', 'drawing-page', f'<style:drawing-page-properties {page_style}/>')}"
        f"{master_automatic}</office:automatic-styles><office:master-styles>"
        '<style:master-page style:name="Plain" style:page-layout-name="L" draw:style-name="Mdp">'
        f"{master}</style:master-page></office:master-styles>"
    )
    content = (
        f"<office:automatic-styles>{automatic}</office:automatic-styles><office:body>"
        f'<office:presentation>{declarations}<draw:page draw:name="p1" '
        f'draw:master-page-name="Plain" {page}>{body}</draw:page></office:presentation></office:body>'
    )
    return styles, content


def pack(
    styles: str, content: str, more: dict[str, bytes] | None = None, mime: str = MIME
) -> bytes:
    members = {
        "mimetype": mime.encode(),
        "content.xml": f'<office:document-content {SPACES} office:version="1.2">{content}</office:document-content>'.encode(),
        "styles.xml": f"<office:document-styles {SPACES}>{styles}</office:document-styles>".encode(),
        **(more or {}),
    }
    # Office programs open no package without one.
    listed = "".join(
        f'<m:file-entry m:full-path="{name}" m:media-type="{"text/xml" if "." in name else mime}"/>'
        for name in ("/", *members)
        if name != "mimetype"
    )
    manifest = (
        '<m:manifest xmlns:m="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" '
        f'm:version="1.2">{listed}</m:manifest>'
    )
    members.setdefault("META-INF/manifest.xml", manifest.encode())
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as package:
        for name, data in members.items():
            package.writestr(zipfile.ZipInfo(name, (2024, 5, 6, 7, 8, 10)), data)
    return out.getvalue()


def by(generator: str) -> dict[str, bytes]:
    """Give the part that says which program wrote a file; none without one."""
    meta = (
        f"<office:document-meta {SPACES}><office:meta><meta:generator>{generator}"
        "</meta:generator></office:meta></office:document-meta>"
    )
    return {"meta.xml": meta.encode()} if generator else {}


class OdfTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def write(self, body: str, more: dict[str, bytes] | None = None, **options: str):
        return self.folder.write(pack(*parts(body, **options), more=more), "deck.odp")

    def pairs(self, body: str, **options: str) -> tuple[Pair, ...]:
        return pairs_of(self.write(body, **options))

    def only(self, body: str, **options: str) -> Pair:
        (pair,) = self.pairs(body, **options)
        return pair

    def assert_colours(self, pair: Pair, foreground: str, background: str) -> None:
        assert pair.numbers is not None, pair.reason
        self.assertEqual(pair.numbers.foreground, f"#{foreground}")
        self.assertEqual(pair.numbers.background, f"#{background}")
        self.assertAlmostEqual(
            pair.numbers.ratio, ratio_by_hand(foreground, background), delta=0.01
        )

    def pixels(self, body: str, **options):
        document = open_document(self.write(body, **options))
        self.addCleanup(document.close)
        raster = rasterise(document.scene(0), document.pictures)
        return raster.backdrop.astype(int), raster.scale
