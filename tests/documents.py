"""Word-processing documents for tests, written as compact XML."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from high_pair.measure.pairs import Pair
from tests.decks import DeckFolder, pack, pairs_of, theme_xml

MAIN = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
SPACES = (
    f'xmlns:w="{MAIN}" xmlns:r="{OFFICE}" '
    'xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" '
    'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" '
    'xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture" '
    'xmlns:wps="http://schemas.microsoft.com/office/word/2010/wordprocessingShape" '
    'xmlns:wpg="http://schemas.microsoft.com/office/word/2010/wordprocessingGroup" '
    'xmlns:w14="http://schemas.microsoft.com/office/word/2010/wordml" '
    'xmlns:v="urn:schemas-microsoft-com:vml" '
    'xmlns:m="http://schemas.openxmlformats.org/officeDocument/2006/math" '
    'xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"'
)
_TYPES = "application/vnd.openxmlformats-officedocument.wordprocessingml"
# The theme's colours of tests.decks by the names that documents have for them.
TEXT1, BACKGROUND1, TEXT2, BACKGROUND2 = "text1", "background1", "text2", "background2"


def rpr(inner: str) -> str:
    """Write run properties."""
    return f"<w:rPr>{inner}</w:rPr>" if inner else ""


def run(text: str = "Word", properties: str = "") -> str:
    """Write a run."""
    return f'<w:r>{rpr(properties)}<w:t xml:space="preserve">{text}</w:t></w:r>'


def paragraph(runs: str = "", properties: str = "") -> str:
    """Write a paragraph."""
    return f"<w:p><w:pPr>{properties}</w:pPr>{runs}</w:p>"


def text(words: str = "Word", properties: str = "", own: str = "") -> str:
    """Write a paragraph of one run."""
    return paragraph(run(words, properties), own)


def colour(code: str, more: str = "") -> str:
    """Write a text's colour."""
    return f'<w:color w:val="{code}" {more}/>'


def shade(fill: str, kind: str = "clear", pattern: str = "auto", more: str = "") -> str:
    """Write a shading."""
    return f'<w:shd w:val="{kind}" w:color="{pattern}" w:fill="{fill}" {more}/>'


def style(name: str, kind: str, inner: str, based: str = "", default: bool = False) -> str:
    """Write a style."""
    mark = 'w:default="1"' if default else ""
    parent = f'<w:basedOn w:val="{based}"/>' if based else ""
    return (
        f'<w:style w:type="{kind}" w:styleId="{name}" {mark}><w:name w:val="{name}"/>{parent}'
        f"{inner}</w:style>"
    )


def cell(content: str, properties: str = "") -> str:
    """Write a table's cell; `content` holds paragraphs."""
    return f"<w:tc><w:tcPr>{properties}</w:tcPr>{content}</w:tc>"


def table(*rows: str, properties: str = "", columns: int = 2) -> str:
    """Write a table; each row holds cells."""
    grid = '<w:gridCol w:w="2400"/>' * columns
    body = "".join(f"<w:tr>{row}</w:tr>" for row in rows)
    return f"<w:tbl><w:tblPr>{properties}</w:tblPr><w:tblGrid>{grid}</w:tblGrid>{body}</w:tbl>"


def anchored(
    graphic: str, place: str = "", more: str = "", size: tuple[int, int] = (200, 100)
) -> str:
    """Write a run with a drawing that floats; place: positionH and positionV."""
    across, down = (side * 12_700 for side in size)
    return (
        f'<w:r><w:drawing><wp:anchor {more}><wp:extent cx="{across}" cy="{down}"/>{place}'
        f'<wp:wrapNone/><wp:docPr id="1" name="Box"/>{graphic}</wp:anchor></w:drawing></w:r>'
    )


def shape(content: str, fill: str = "", style_xml: str = "", body: str = "<wps:bodyPr/>") -> str:
    """Write a text box as a graphic; `content` holds paragraphs."""
    return (
        '<a:graphic><a:graphicData uri="http://schemas.microsoft.com/office/word/2010/'
        'wordprocessingShape"><wps:wsp><wps:cNvSpPr/><wps:spPr><a:xfrm><a:off x="0" y="0"/>'
        '<a:ext cx="1" cy="1"/></a:xfrm><a:prstGeom prst="rect"/>'
        f"{fill}</wps:spPr>{style_xml}<wps:txbx><w:txbxContent>{content}</w:txbxContent>"
        f"</wps:txbx>{body}</wps:wsp></a:graphicData></a:graphic>"
    )


def picture(relationship: str) -> str:
    """Write a picture as a graphic."""
    return (
        '<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture">'
        '<pic:pic><pic:nvPicPr><pic:cNvPr id="0" name="p"/><pic:cNvPicPr/></pic:nvPicPr>'
        f'<pic:blipFill><a:blip r:embed="{relationship}"/><a:stretch/></pic:blipFill><pic:spPr>'
        '<a:xfrm><a:off x="0" y="0"/><a:ext cx="1" cy="1"/></a:xfrm><a:prstGeom prst="rect"/>'
        "</pic:spPr></pic:pic></a:graphicData></a:graphic>"
    )


def members(
    body: str = "",
    *,
    styles: str = "",
    defaults: str = "",
    numbering: str = "",
    settings: str = "",
    section: str = "",
    background: str = "",
    footnotes: str = "",
    relationships: Mapping[str, tuple[str, str]] | None = None,
    theme: str | None = None,
    more: Mapping[str, bytes] | None = None,
) -> dict[str, bytes]:
    """Give the members of a document; `section` is the inside of its sectPr."""
    own = {
        "rId1": ("styles", "styles.xml"),
        "rId2": ("numbering", "numbering.xml"),
        "rId3": ("settings", "settings.xml"),
        "rId4": ("theme", "theme/theme1.xml"),
        "rId5": ("footnotes", "footnotes.xml"),
        **(relationships or {}),
    }
    links = "".join(
        f'<Relationship Id="{key}" Type="{OFFICE}/{kind}" Target="{target}"/>'
        for key, (kind, target) in own.items()
    )
    package = "http://schemas.openxmlformats.org/package/2006"
    parts = {
        "[Content_Types].xml": (
            f'<Types xmlns="{package}/content-types">'
            '<Default Extension="rels" ContentType="application/xml"/>'
            '<Default Extension="xml" ContentType="application/xml"/>'
            '<Default Extension="png" ContentType="image/png"/>'
            f'<Override PartName="/word/document.xml" ContentType="{_TYPES}.document.main+xml"/>'
            "</Types>"
        ),
        "_rels/.rels": (
            f'<Relationships xmlns="{package}/relationships"><Relationship Id="rId1" '
            f'Type="{OFFICE}/officeDocument" Target="word/document.xml"/></Relationships>'
        ),
        "word/_rels/document.xml.rels": (
            f'<Relationships xmlns="{package}/relationships">{links}</Relationships>'
        ),
        "word/document.xml": (
            f"<w:document {SPACES}>{background}<w:body>{body}<w:sectPr>{section}</w:sectPr>"
            "</w:body></w:document>"
        ),
        "word/styles.xml": (
            f"<w:styles {SPACES}><w:docDefaults><w:rPrDefault><w:rPr>"
            f'<w:rFonts w:ascii="Carlito"/><w:sz w:val="22"/>{defaults}</w:rPr></w:rPrDefault>'
            f"</w:docDefaults>{styles}</w:styles>"
        ),
        "word/numbering.xml": f"<w:numbering {SPACES}>{numbering}</w:numbering>",
        "word/settings.xml": f"<w:settings {SPACES}>{settings}</w:settings>",
        "word/footnotes.xml": f"<w:footnotes {SPACES}>{footnotes}</w:footnotes>",
        "word/theme/theme1.xml": theme_xml() if theme is None else theme,
    }
    found = {name: content.encode() for name, content in parts.items()}
    found.update(more or {})
    return found


class DocumentFolder(DeckFolder):
    """A folder for a test's documents."""

    def document(self, body: str = "", name: str = "test.docx", **options: object) -> Path:
        """Write a document."""
        return self.write(pack(members(body, **options)), name)  # type: ignore[arg-type]


def document_pairs(path: Path) -> tuple[Pair, ...]:
    """Measure the first page of a document."""
    return pairs_of(path)
