"""Make the demo deck: the passenger safety briefing of the made-up Ostrel Bay Ferries.

    python -m tools.make_demo [FOLDER]

The same seed gives the same deck, to the byte. It holds the troubles that
reviewers meet, each on a slide of its own.
"""

from __future__ import annotations

import copy
import io
import sys
import zipfile
from pathlib import Path

import numpy as np
from lxml import etree
from PIL import Image
from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.enum.dml import MSO_THEME_COLOR
from pptx.enum.shapes import MSO_SHAPE
from pptx.enum.text import MSO_ANCHOR
from pptx.oxml.ns import qn
from pptx.util import Pt

from tools import photographs

SEED = 20_260_401
NAME = "safety-briefing.pptx"
FOLDER = Path(__file__).resolve().parent.parent / "high_pair" / "data" / "demo"
WIDTH, HEIGHT = 960, 540  # points
FONT = "Carlito"
COLOURS = {
    "dk1": "13232E",
    "lt1": "FFFFFF",
    "dk2": "1E3D4F",
    "lt2": "F6F2E8",
    "accent1": "E0952B",
    "accent2": "2F7F8C",
    "accent3": "93A5AE",
    "accent4": "B5473C",
    "accent5": "5C7A3A",
    "accent6": "6B5B95",
    "hlink": "5B93C7",
    "folHlink": "8A6BA8",
}
DATE = (2026, 4, 1, 9, 0, 0)
LINK_EXTENSION = (
    '<a:extLst xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main">'
    '<a:ext uri="{A12FA001-AC4F-418D-AE19-62706E023703}">'
    '<ahyp:hlinkClr xmlns:ahyp="http://schemas.microsoft.com/office/drawing/2018/hyperlinkcolor"'
    ' val="tx"/></a:ext></a:extLst>'
)


def jpeg(pixels: np.ndarray, quality: int = 80) -> io.BytesIO:
    """Pack a picture as JPEG."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", quality=quality, optimize=True)
    out.seek(0)
    return out


class Briefing:
    """The deck under construction; lengths are in points."""

    def __init__(self) -> None:
        random = np.random.default_rng(SEED)
        self.photographs = {
            draw.__name__: jpeg(draw(random))
            for draw in (
                photographs.bright_sea,
                photographs.fog,
                photographs.quay,
                photographs.night_harbour,
                photographs.half_and_half,
            )
        }
        self.deck = Presentation()
        self._widen()
        self._dress()

    def _widen(self) -> None:
        """Make the template's 4:3 pages 16:9, placeholders and all."""
        across = WIDTH * 12_700 / self.deck.slide_width
        down = HEIGHT * 12_700 / self.deck.slide_height
        self.deck.slide_width, self.deck.slide_height = Pt(WIDTH), Pt(HEIGHT)
        master = self.deck.slide_master
        for part in (master, *master.slide_layouts):
            for shape in part.placeholders:
                if shape.element.spPr.find(qn("a:xfrm")) is not None:
                    shape.left, shape.width = int(shape.left * across), int(shape.width * across)
                    shape.top, shape.height = int(shape.top * down), int(shape.height * down)

    def _dress(self) -> None:
        """Give the theme its colours and fonts, the master its title style."""
        master = self.deck.slide_master
        relationship = next(r for r in master.part.rels.values() if r.reltype.endswith("/theme"))
        part = relationship.target_part
        theme = etree.fromstring(part.blob)
        theme.set("name", "Ostrel Bay")
        theme.find(f".//{qn('a:clrScheme')}").set("name", "Quay")
        for name, value in COLOURS.items():
            slot = theme.find(f".//{qn('a:clrScheme')}/{qn('a:' + name)}")
            slot.clear()
            etree.SubElement(slot, qn("a:srgbClr"), val=value)
        for font in ("majorFont", "minorFont"):
            theme.find(f".//{qn('a:' + font)}/{qn('a:latin')}").set("typeface", FONT)
        part._blob = etree.tostring(theme, xml_declaration=True, encoding="UTF-8", standalone=True)
        styles = master.element.find(qn("p:txStyles"))
        title = styles.find(f"{qn('p:titleStyle')}/{qn('a:lvl1pPr')}")
        title.set("algn", "l")
        run = title.find(qn("a:defRPr"))
        run.set("sz", "3600")
        run.set("b", "1")
        for level, size in enumerate((2200, 2000, 1800), start=1):
            style = styles.find(f"{qn('p:bodyStyle')}/{qn(f'a:lvl{level}pPr')}/{qn('a:defRPr')}")
            style.set("sz", str(size))

    # Building blocks

    def slide(self, layout: int, title: str = ""):
        """Add a slide; 1 has a title and a body, 5 a title, 6 nothing."""
        slide = self.deck.slides.add_slide(self.deck.slide_layouts[layout])
        if title:
            slide.shapes.title.text = title
        return slide

    def photograph(self, slide, name: str) -> None:
        """Lay a photograph over the whole slide, below everything else."""
        data = self.photographs[name]
        data.seek(0)
        picture = slide.shapes.add_picture(data, 0, 0, Pt(WIDTH), Pt(HEIGHT))
        picture.name = "Photograph"
        tree = slide.shapes._spTree
        tree.remove(picture._element)
        tree.insert(2, picture._element)

    def background(self, slide, theme_colour) -> None:
        """Fill the slide's background with a theme colour."""
        fill = slide.background.fill
        fill.solid()
        fill.fore_color.theme_color = theme_colour

    def text(self, slide, words, left, top, width, height, size=18, colour=None, bold=False):
        """Add a text box; words may be several paragraphs. Gives its runs."""
        box = slide.shapes.add_textbox(Pt(left), Pt(top), Pt(width), Pt(height))
        frame = box.text_frame
        frame.word_wrap = True
        runs = []
        for count, line in enumerate([words] if isinstance(words, str) else words):
            paragraph = frame.paragraphs[0] if count == 0 else frame.add_paragraph()
            run = paragraph.add_run()
            run.text = line
            run.font.size, run.font.bold = Pt(size), bold or None
            paint(run, colour)
            runs.append(run)
        return runs

    def panel(self, slide, left, top, width, height, colour, opacity, name="Panel"):
        """Add a see-through panel without outline or shadow."""
        shape = slide.shapes.add_shape(
            MSO_SHAPE.RECTANGLE, Pt(left), Pt(top), Pt(width), Pt(height)
        )
        shape.name = name
        shape.shadow.inherit = False
        shape.line.fill.background()
        shape.fill.solid()
        shape.fill.fore_color.rgb = RGBColor.from_string(colour)
        solid = shape.fill._xPr.find(qn("a:solidFill"))
        etree.SubElement(solid[0], qn("a:alpha"), val=str(int(opacity * 100_000)))
        return shape

    def body(self, slide, lines) -> None:
        """Fill the body placeholder; a line that starts with > goes one level in."""
        frame = slide.placeholders[1].text_frame
        for count, line in enumerate(lines):
            paragraph = frame.paragraphs[0] if count == 0 else frame.add_paragraph()
            paragraph.level = 1 if line.startswith(">") else 0
            paragraph.text = line.lstrip("> ")


def paint(run, colour) -> None:
    """Give a run a colour: a theme colour's name, or six hexadecimal digits."""
    if colour is None:
        return
    if isinstance(colour, str):
        run.font.color.rgb = RGBColor.from_string(colour)
    else:
        run.font.color.theme_color = colour


def shaded(runs) -> None:
    """Give runs a shade that is derived from the theme's grey."""
    for run in runs:
        run.font.color.theme_color = MSO_THEME_COLOR.ACCENT_3
        run.font.color.brightness = -0.25


def cover(briefing: Briefing) -> None:
    """White text on fog."""
    slide = briefing.slide(6)
    briefing.photograph(slide, "fog")
    briefing.text(slide, "Passenger safety briefing", 72, 190, 700, 60, 44, "FFFFFF", bold=True)
    briefing.text(slide, "Ostrel Bay Ferries · all crossings", 72, 252, 600, 36, 24, "F2F5F6")
    briefing.text(
        slide, "Please listen even if you travel with us often.", 72, 470, 600, 30, 16, "13232E"
    )


def muster(briefing: Briefing) -> None:
    """White text on a bright sky; the footer on dark water passes."""
    slide = briefing.slide(6)
    briefing.photograph(slide, "bright_sea")
    briefing.text(slide, "If you hear seven short blasts", 64, 60, 760, 60, 40, "FFFFFF", bold=True)
    briefing.text(
        slide,
        ["Go to the muster station on the nearest stair landing", "and wait there for the crew"],
        64,
        132,
        640,
        80,
        22,
        "FFFFFF",
    )
    briefing.text(slide, "Ostrel Bay Ferries · Passenger briefing", 64, 486, 500, 28, 14, "FFFFFF")


def deck_plan(briefing: Briefing) -> None:
    """Captions in a shade of the theme's grey, on its cream."""
    slide = briefing.slide(5, "Deck plan")
    briefing.background(slide, MSO_THEME_COLOR.BACKGROUND_2)
    decks = ("Upper deck", "Saloon deck", "Car deck")
    for count, (deck, caption) in enumerate(
        zip(
            decks,
            (
                "Open seats, life rafts on both sides",
                "Café, muster stations A and B",
                "Closed while we are under way",
            ),
            strict=True,
        )
    ):
        top = 140 + count * 118
        panel = briefing.panel(slide, 64, top, 620, 86, "DCE5E6", 1.0, f"{deck} plan")
        panel.text_frame.text = deck
        panel.text_frame.vertical_anchor = MSO_ANCHOR.MIDDLE
        paint(panel.text_frame.paragraphs[0].runs[0], MSO_THEME_COLOR.TEXT_1)
        shaded(briefing.text(slide, caption, 700, top + 26, 220, 50, 14))
    shaded(briefing.text(slide, "Deck plan, sheet 2 of 4", 64, 500, 300, 24, 12))


def night(briefing: Briefing) -> None:
    """Dark text on a night harbour."""
    slide = briefing.slide(6)
    briefing.photograph(slide, "night_harbour")
    briefing.text(slide, "After dark", 64, 56, 600, 56, 40, "2B3F66", bold=True)
    briefing.text(
        slide,
        [
            "Keep to the lit side of the deck.",
            "Hold the rail on the stairs.",
            "The crew carries torches; ask for one.",
        ],
        64,
        124,
        560,
        120,
        24,
        "3D5280",
    )


def lifejackets(briefing: Briefing) -> None:
    """A title in a theme accent that fails, and a grey just short of enough."""
    slide = briefing.slide(1, "Lifejackets: where they are")
    paint(slide.shapes.title.text_frame.paragraphs[0].runs[0], MSO_THEME_COLOR.ACCENT_1)
    briefing.body(
        slide,
        [
            "Under every seat on the saloon deck",
            "> Two more in the locker by the café",
            "In the red boxes on the upper deck",
            "> Each box holds forty",
            "Put yours on before you help others",
        ],
    )
    briefing.text(
        slide,
        "Children's jackets are in the blue locker by the ramp.",
        72,
        470,
        640,
        28,
        14,
        "777777",
    )


def panels(briefing: Briefing) -> None:
    """Text in see-through panels: one that helps too little, one that does its work."""
    slide = briefing.slide(6)
    briefing.photograph(slide, "quay")
    briefing.panel(slide, 48, 48, 520, 200, "FFFFFF", 0.35)
    briefing.text(slide, "Boarding on the quay", 64, 60, 480, 50, 32, "6E6254", bold=True)
    briefing.text(
        slide,
        ["Wait behind the yellow line.", "Foot passengers board first, by the gangway."],
        64,
        120,
        480,
        90,
        20,
        "6E6254",
    )
    briefing.panel(slide, 48, 380, 860, 120, "13232E", 0.82)
    briefing.text(
        slide,
        "Engines must be off until the ramp is down.",
        64,
        410,
        820,
        50,
        28,
        "FFFFFF",
        bold=True,
    )


def half_lost(briefing: Briefing) -> None:
    """A picture in two tones: half of each line washes out, whatever its colour."""
    slide = briefing.slide(6)
    briefing.photograph(slide, "half_and_half")
    briefing.text(
        slide, "Mind the gap between ship and shore", 150, 200, 700, 60, 40, "FFFFFF", bold=True
    )
    briefing.text(slide, "It widens and narrows with the swell", 250, 268, 520, 40, 26, "FFFFFF")


def table(briefing: Briefing) -> None:
    """A table with tinted rows, a heading too light, and grey figures."""
    slide = briefing.slide(5, "How many the rafts hold")
    rows = (
        ("Ship", "Rafts", "Places each", "Lifejackets"),
        ("Gannet of Ostrel", "8", "50", "460"),
        ("Sandpiper", "6", "50", "340"),
        ("Little Tern", "4", "25", "120"),
    )
    frame = slide.shapes.add_table(4, 4, Pt(72), Pt(160), Pt(816), Pt(200))
    for row, texts in enumerate(rows):
        for column, words in enumerate(texts):
            cell = frame.table.cell(row, column)
            cell.text = words
            cell.vertical_anchor = MSO_ANCHOR.MIDDLE
            run = cell.text_frame.paragraphs[0].runs[0]
            run.font.size = Pt(18 if row else 16)
            if row and column == 3:
                paint(run, "8A8F98")
    briefing.text(
        slide,
        "Figures are checked at the start of every season.",
        72,
        390,
        600,
        28,
        14,
        MSO_THEME_COLOR.ACCENT_3,
    )


def links(briefing: Briefing) -> None:
    """Links: the theme's colour on a tint, and one that only its colour tells from the text."""
    slide = briefing.slide(5, "Read more before you travel")
    briefing.background(slide, MSO_THEME_COLOR.BACKGROUND_2)
    (run,) = briefing.text(slide, "Safety on board, in five languages", 72, 150, 640, 32, 20)
    run.hyperlink.address = "https://ferries.invalid/safety"
    (run,) = briefing.text(slide, "Timetable and weather warnings", 72, 196, 640, 32, 20)
    run.hyperlink.address = "https://ferries.invalid/weather"
    (run,) = briefing.text(
        slide, "Ask for assistance at least a day ahead, by ", 72, 270, 760, 32, 18
    )
    paint(run, MSO_THEME_COLOR.TEXT_1)
    link = run._r.getparent()
    second = copy.deepcopy(run._r)
    link.append(second)
    last = copy.deepcopy(run._r)
    last.find(qn("a:t")).text = " or at any ticket window."
    link.append(last)
    second.find(qn("a:t")).text = "letter or telephone"
    box = slide.shapes[-1]
    middle = box.text_frame.paragraphs[0].runs[1]
    middle.hyperlink.address = "https://ferries.invalid/assistance"
    middle.font.underline = False
    paint(middle, "23566E")
    middle._r.find(qn("a:rPr")).find(qn("a:hlinkClick")).append(etree.fromstring(LINK_EXTENSION))


def thanks(briefing: Briefing) -> None:
    """A slide that passes throughout."""
    slide = briefing.slide(1, "Thank you for listening")
    briefing.background(slide, MSO_THEME_COLOR.TEXT_2)
    paint(slide.shapes.title.text_frame.paragraphs[0].runs[0], MSO_THEME_COLOR.BACKGROUND_1)
    briefing.body(
        slide, ["The crew wear orange jackets", "Questions? Ask any of us", "A pleasant crossing"]
    )
    for paragraph in slide.placeholders[1].text_frame.paragraphs:
        paint(paragraph.runs[0], MSO_THEME_COLOR.BACKGROUND_2)


def notes_for_crew(briefing: Briefing) -> None:
    """A hidden slide, which an audience never sees."""
    slide = briefing.slide(1, "For the crew: how long each part takes")
    briefing.body(slide, ["Blasts and muster: two minutes", "Lifejackets: three minutes"])
    for paragraph in slide.placeholders[1].text_frame.paragraphs:
        paint(paragraph.runs[0], MSO_THEME_COLOR.ACCENT_3)
    slide._element.set("show", "0")


def make(folder: Path) -> Path:
    """Make the deck in a folder; gives its path."""
    briefing = Briefing()
    for page in (
        cover,
        muster,
        deck_plan,
        night,
        lifejackets,
        panels,
        half_lost,
        table,
        links,
        thanks,
        notes_for_crew,
    ):
        page(briefing)
    properties = briefing.deck.core_properties
    properties.title, properties.author = "Passenger safety briefing", "Ostrel Bay Ferries"
    packed = io.BytesIO()
    briefing.deck.save(packed)
    target = folder / NAME
    folder.mkdir(parents=True, exist_ok=True)
    # The members anew, with one date, so that the same seed gives the same bytes.
    with zipfile.ZipFile(packed) as source, zipfile.ZipFile(target, "w") as out:
        for info in source.infolist():
            entry = zipfile.ZipInfo(info.filename, DATE)
            stored = info.filename.endswith((".jpg", ".jpeg", ".png"))
            entry.compress_type = zipfile.ZIP_STORED if stored else zipfile.ZIP_DEFLATED
            out.writestr(entry, source.read(info.filename))
    return target


if __name__ == "__main__":
    made = make(Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER)
    print(f"{made.name}: {made.stat().st_size / 1e6:.2f} MB")
