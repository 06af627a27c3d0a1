"""Small decks for tests, written as the XML that matters."""

from __future__ import annotations

import io
import tempfile
import zipfile
from collections.abc import Mapping
from pathlib import Path

import numpy as np
from PIL import Image
from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.enum.dml import MSO_THEME_COLOR
from pptx.util import Pt

from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import measured
from high_pair.wcag.asked import Asked

NS = (
    'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" '
    'xmlns:p="http://schemas.openxmlformats.org/presentationml/2006/main" '
    'xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" '
    'xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"'
)
OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
PML = "application/vnd.openxmlformats-officedocument.presentationml"
EMU = 12_700

# Every slot has a colour that no other slot has.
THEME_COLOURS = {
    "dk1": "102030",
    "lt1": "FFFFFF",
    "dk2": "304050",
    "lt2": "E8E0D0",
    "accent1": "4472C4",
    "accent2": "ED7D31",
    "accent3": "A5A5A5",
    "accent4": "FFC000",
    "accent5": "5B9BD5",
    "accent6": "70AD47",
    "hlink": "0563C1",
    "folHlink": "954F72",
}
CLR_MAP = (
    'bg1="lt1" tx1="dk1" bg2="lt2" tx2="dk2" accent1="accent1" accent2="accent2" '
    'accent3="accent3" accent4="accent4" accent5="accent5" accent6="accent6" '
    'hlink="hlink" folHlink="folHlink"'
)
FORMAT_SCHEME = (
    "<a:fmtScheme><a:fillStyleLst>"
    '<a:solidFill><a:schemeClr val="phClr"/></a:solidFill>'
    '<a:solidFill><a:schemeClr val="phClr"><a:lumMod val="50000"/></a:schemeClr></a:solidFill>'
    '<a:gradFill><a:gsLst><a:gs pos="0"><a:schemeClr val="phClr"/></a:gs></a:gsLst></a:gradFill>'
    "</a:fillStyleLst><a:lnStyleLst>"
    + '<a:ln w="12700"><a:solidFill><a:schemeClr val="phClr"/></a:solidFill></a:ln>' * 3
    + "</a:lnStyleLst><a:effectStyleLst>"
    + "<a:effectStyle><a:effectLst/></a:effectStyle>" * 2
    + '<a:effectStyle><a:effectLst><a:outerShdw blurRad="50800" dist="38100">'
    + '<a:srgbClr val="000000"/></a:outerShdw></a:effectLst></a:effectStyle>'
    + "</a:effectStyleLst><a:bgFillStyleLst>"
    + '<a:solidFill><a:schemeClr val="phClr"/></a:solidFill>'
    + '<a:solidFill><a:schemeClr val="phClr"><a:shade val="50000"/></a:schemeClr></a:solidFill>'
    + "</a:bgFillStyleLst></a:fmtScheme>"
)


def xfrm(left: float, top: float, width: float, height: float, more: str = "") -> str:
    """Write a place in points."""
    return (
        f'<a:xfrm {more}><a:off x="{round(left * EMU)}" y="{round(top * EMU)}"/>'
        f'<a:ext cx="{round(width * EMU)}" cy="{round(height * EMU)}"/></a:xfrm>'
    )


def solid(colour: str, inner: str = "") -> str:
    """Write a solid fill: six digits, or a scheme colour's name."""
    kind = "srgbClr" if len(colour) == 6 and colour.upper() == colour else "schemeClr"
    return f'<a:solidFill><a:{kind} val="{colour}">{inner}</a:{kind}></a:solidFill>'


def run(text: str = "Word", properties: str = "", inner: str = "") -> str:
    """Write a run."""
    return f"<a:r><a:rPr {properties}>{inner}</a:rPr><a:t>{text}</a:t></a:r>"


def body(paragraphs: str, list_style: str = "", properties: str = "<a:bodyPr/>") -> str:
    """Write a text body; a paragraph's runs alone will do."""
    if not paragraphs.startswith("<a:p>"):
        paragraphs = f"<a:p>{paragraphs}</a:p>"
    return f"<p:txBody>{properties}<a:lstStyle>{list_style}</a:lstStyle>{paragraphs}</p:txBody>"


def shape(
    text: str = "",
    fill: str = "",
    place: str | None = None,
    placeholder: str = "",
    style: str = "",
    name: str = "Box",
    geometry: str = "rect",
    attributes: str = "",
    hidden: str = "",
) -> str:
    """Write a shape; `text` is a whole text body, `place` an xfrm ('' for none)."""
    if place is None:
        place = xfrm(60, 60, 400, 120)
    mark = f"<p:nvPr>{placeholder}</p:nvPr>"
    preset = f'<a:prstGeom prst="{geometry}"><a:avLst/></a:prstGeom>' if geometry else ""
    return (
        f'<p:sp {attributes}><p:nvSpPr><p:cNvPr id="7" name="{name}" {hidden}/><p:cNvSpPr/>{mark}'
        f"</p:nvSpPr><p:spPr>{place}{preset}{fill}</p:spPr>{style}{text}</p:sp>"
    )


def picture(relationship: str, place: str, blip: str = "", fill: str = "<a:stretch/>") -> str:
    """Write a picture."""
    return (
        '<p:pic><p:nvPicPr><p:cNvPr id="9" name="Picture"/><p:cNvPicPr/><p:nvPr/></p:nvPicPr>'
        f'<p:blipFill><a:blip r:embed="{relationship}">{blip}</a:blip>{fill}</p:blipFill>'
        f'<p:spPr>{place}<a:prstGeom prst="rect"/></p:spPr></p:pic>'
    )


def _tree(shapes: str, background: str = "") -> str:
    return (
        f'<p:cSld>{background}<p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/>'
        f"<p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>{shapes}</p:spTree></p:cSld>"
    )


def background(fill: str) -> str:
    """Write a background of its own."""
    return f"<p:bg><p:bgPr>{fill}<a:effectLst/></p:bgPr></p:bg>"


def _relationships(entries: Mapping[str, tuple[str, str]]) -> str:
    inner = "".join(
        f'<Relationship Id="{key}" Type="{OFFICE}/{kind}" Target="{target}"'
        + (' TargetMode="External"' if target.startswith("http") else "")
        + "/>"
        for key, (kind, target) in entries.items()
    )
    space = "http://schemas.openxmlformats.org/package/2006/relationships"
    return f'<Relationships xmlns="{space}">{inner}</Relationships>'


def theme_xml(colours: Mapping[str, str] = THEME_COLOURS, fonts: str = "Carlito") -> str:
    """Write a theme."""
    slots = "".join(
        f'<a:{name}><a:srgbClr val="{value}"/></a:{name}>' for name, value in colours.items()
    )
    return (
        f'<a:theme {NS} name="Test"><a:themeElements><a:clrScheme name="c">{slots}</a:clrScheme>'
        f'<a:fontScheme name="f"><a:majorFont><a:latin typeface="{fonts}"/></a:majorFont>'
        f'<a:minorFont><a:latin typeface="{fonts}"/></a:minorFont></a:fontScheme>'
        f"{FORMAT_SCHEME}</a:themeElements></a:theme>"
    )


def members(
    shapes: str = "",
    *,
    slide_background: str = "",
    slide_attributes: str = "",
    slide_tail: str = "",
    slide_rels: Mapping[str, tuple[str, str]] | None = None,
    layout: str = "",
    layout_attributes: str = "",
    layout_tail: str = "",
    layout_background: str = "",
    master: str = "",
    master_background: str = "",
    styles: str = "",
    clr_map: str = CLR_MAP,
    defaults: str = "",
    theme: str | None = None,
    table_styles: str = "",
    more: Mapping[str, bytes] | None = None,
    size: str = 'cx="9144000" cy="5143500"',
) -> dict[str, bytes]:
    """Give the members of a deck of one slide (720 × 405 points)."""
    default_background = background(solid("bg1"))
    parts = {
        "[Content_Types].xml": (
            '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
            '<Default Extension="rels" ContentType="application/xml"/>'
            '<Default Extension="xml" ContentType="application/xml"/>'
            '<Default Extension="png" ContentType="image/png"/>'
            f'<Override PartName="/ppt/presentation.xml" ContentType="{PML}.presentation.main+xml"/>'
            "</Types>"
        ),
        "_rels/.rels": _relationships({"rId1": ("officeDocument", "ppt/presentation.xml")}),
        "ppt/presentation.xml": (
            f'<p:presentation {NS}><p:sldIdLst><p:sldId id="256" r:id="rId2"/></p:sldIdLst>'
            f"<p:sldSz {size}/><p:defaultTextStyle>{defaults}</p:defaultTextStyle>"
            "</p:presentation>"
        ),
        "ppt/_rels/presentation.xml.rels": _relationships(
            {
                "rId2": ("slide", "slides/slide1.xml"),
                "rId3": ("tableStyles", "tableStyles.xml"),
            }
        ),
        "ppt/slides/slide1.xml": (
            f"<p:sld {NS} {slide_attributes}>{_tree(shapes, slide_background)}{slide_tail}</p:sld>"
        ),
        "ppt/slides/_rels/slide1.xml.rels": _relationships(
            {"rId1": ("slideLayout", "../slideLayouts/slideLayout1.xml"), **(slide_rels or {})}
        ),
        "ppt/slideLayouts/slideLayout1.xml": (
            f"<p:sldLayout {NS} {layout_attributes}>{_tree(layout, layout_background)}"
            f"{layout_tail}</p:sldLayout>"
        ),
        "ppt/slideLayouts/_rels/slideLayout1.xml.rels": _relationships(
            {"rId1": ("slideMaster", "../slideMasters/slideMaster1.xml")}
        ),
        "ppt/slideMasters/slideMaster1.xml": (
            f"<p:sldMaster {NS}>{_tree(master, master_background or default_background)}"
            f"<p:clrMap {clr_map}/><p:txStyles>{styles}</p:txStyles></p:sldMaster>"
        ),
        "ppt/slideMasters/_rels/slideMaster1.xml.rels": _relationships(
            {"rId1": ("theme", "../theme/theme1.xml")}
        ),
        "ppt/theme/theme1.xml": theme_xml() if theme is None else theme,
        "ppt/tableStyles.xml": (f'<a:tblStyleLst {NS} def="{{x}}">{table_styles}</a:tblStyleLst>'),
    }
    found = {name: text.encode() for name, text in parts.items()}
    found.update(more or {})
    return found


def pack(parts: Mapping[str, bytes]) -> bytes:
    """Pack members as a zip file, each with a date of its own."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as package:
        for count, (name, data) in enumerate(parts.items()):
            info = zipfile.ZipInfo(name, (2020, 1, 1 + count % 28, 10, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED if count % 3 else zipfile.ZIP_STORED
            package.writestr(info, data)
    return out.getvalue()


def png(pixels: np.ndarray) -> bytes:
    """Pack a picture as PNG."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return out.getvalue()


def flat_picture(colour: tuple[int, int, int], size: tuple[int, int] = (8, 8)) -> bytes:
    """Give a PNG of one colour."""
    return png(np.full((size[1], size[0], 3), colour, np.uint8))


LIGHT, ACCENT = MSO_THEME_COLOR.BACKGROUND_1, MSO_THEME_COLOR.ACCENT_1


def deck_on_an_accent(path: Path, slides: int = 1) -> Path:
    """Write slides by another library: the theme's light on an accent, small and large, and on its
    shade; and a text with a colour of its own."""
    deck = Presentation()
    for _ in range(slides):
        slide = deck.slides.add_slide(deck.slide_layouts[6])
        for number, (brightness, size) in enumerate(((0.0, 12), (0.0, 30), (-0.25, 12))):
            box = slide.shapes.add_textbox(Pt(40), Pt(40 + 120 * number), Pt(400), Pt(80))
            box.fill.solid()
            box.fill.fore_color.theme_color = ACCENT
            box.fill.fore_color.brightness = brightness
            words = box.text_frame.paragraphs[0].add_run()
            words.text, words.font.size = f"Boarding {number}", Pt(size)
            words.font.color.theme_color = LIGHT
        own = slide.shapes.add_textbox(Pt(40), Pt(420), Pt(400), Pt(40))
        own.text_frame.text = "In a colour of its own"
        own.text_frame.paragraphs[0].runs[0].font.color.rgb = RGBColor(0x33, 0x33, 0x33)
    deck.save(str(path))
    return path


class DeckFolder:
    """A folder for a test's files, which goes away with it."""

    def __init__(self) -> None:
        self._folder = tempfile.TemporaryDirectory()
        self.path = Path(self._folder.name)

    def write(self, data: bytes, name: str = "test.pptx") -> Path:
        """Write a file."""
        path = self.path / name
        path.write_bytes(data)
        return path

    def deck(self, shapes: str = "", name: str = "test.pptx", **options: object) -> Path:
        """Write a deck of one slide."""
        return self.write(pack(members(shapes, **options)), name)  # type: ignore[arg-type]

    def close(self) -> None:
        """Remove the folder."""
        self._folder.cleanup()


def pairs_of(path: Path, asked: Asked | None = None, page: int = 0) -> tuple[Pair, ...]:
    """Measure a page of a deck."""
    document = open_document(path)
    try:
        return measured(document, page, asked or Asked()).pairs
    finally:
        document.close()


def luminance(code: str) -> float:
    """WCAG 2.2's relative luminance of RRGGBB, written out independently of the product."""
    total = 0.0
    digits = code.removeprefix("#")
    for place, weight in ((0, 0.2126), (2, 0.7152), (4, 0.0722)):
        value = int(digits[place : place + 2], 16) / 255
        total += weight * (value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4)
    return total


def ratio_by_hand(one: str, other: str) -> float:
    """WCAG 2.2's contrast ratio, written out independently of the product."""
    lights = sorted((luminance(one), luminance(other)))
    return (lights[1] + 0.05) / (lights[0] + 0.05)


def mixed(above: str, opacity: float, below: str) -> str:
    """Composite RRGGBB over RRGGBB by arithmetic, rounding once."""
    parts = []
    for place in (0, 2, 4):
        a, b = int(above[place : place + 2], 16), int(below[place : place + 2], 16)
        parts.append(int(opacity * a + (1 - opacity) * b + 0.5))
    return "{:02X}{:02X}{:02X}".format(*parts)
