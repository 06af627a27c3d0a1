"""An ODF text document: its pages as scenes, edits, and the saved copy."""

from __future__ import annotations

import functools
from collections.abc import Iterator, Sequence
from dataclasses import replace

from high_pair.edits.kinds import Edit
from high_pair.errors import UnreadableFile
from high_pair.formats.automatic_text import automatic_in_odf
from high_pair.formats.document import PageInfo, Shown
from high_pair.formats.odf.automatic import looked_at
from high_pair.formats.odf.backgrounds import padding_of, surface_of
from high_pair.formats.odf.body import VARIED, Behind, BodyReader, Place
from high_pair.formats.odf.document import OdfDocument
from high_pair.formats.odf.file import CONTENT, OdfFile
from high_pair.formats.odf.fills import OdfFill, background_picture, fill_of
from high_pair.formats.odf.shapes import PageContext, ShapeReader
from high_pair.formats.odf.styles import attribute
from high_pair.formats.odf.units import colour, length
from high_pair.formats.shown_at import pages_showing, pages_touched_by
from high_pair.formats.xml import Element, child, children, local_name, tag
from high_pair.raster.flow import flow_pages, with_count
from high_pair.scene.addresses import Address, address_below, address_in, expand, span
from high_pair.scene.flow import Band, Flow, Repeated, Section, with_runs
from high_pair.scene.geometry import IDENTITY, Box
from high_pair.scene.page import Item, Obstacle, Scene
from high_pair.scene.paint import WHITE, Colour
from high_pair.scene.text import Run

KIND = "document"
PLAIN_PAGE = (595.3, 841.9)
PLAIN_MARGIN = 56.7
SMALLEST, LARGEST = 72.0, 4032.0
HEADER_FOOTER = "header-footer"
# The pages that may have a header or footer of their own, by what its name ends with.
USES = {"": "", "-left": " of left pages", "-first": " of the first page"}


class OdfText(OdfDocument):
    """An open ODF text document; see `formats.document.Document`, whose methods it has."""

    kind = KIND
    # Its text flows: where one paragraph is changed, those after it may move.
    made_whole = True

    def _take(self, file: OdfFile, before: int | None) -> None:
        super()._take(file, before)
        body = child(file.content, "office:body", "office:text")
        if body is None:
            raise UnreadableFile(self.name, "it holds no text, though it says that it is one.")
        flowed = flow_pages(Flow(tuple(self._sections(body))))
        self._flowed = flowed if before is None else with_count(flowed, before)
        self.pages = tuple(
            PageInfo(f"Page {count}", page.width, page.height, False, page.headings, Shown.PAPER)
            for count, page in enumerate(self._flowed, start=1)
        )
        self._shown = pages_showing(self._flowed, "para")

    def _context(self, scope: str, address_of: BodyReader | None) -> PageContext:
        file = self._file
        return PageContext(
            "",
            address_in(CONTENT if scope == "content" else file.styles_member, shapes=""),
            scope,
            WHITE,
            {},
            file.bare_is_tenths,
            file.picture_name,
            file.picture_size,
            file.picture_mean,
            file.object_root,
            file.skips_shapes_text,
            address_of.address_of if address_of is not None else None,
        )

    def _body_reader(self, root: Element, member: str, scope: str) -> BodyReader:
        made: list[BodyReader] = []
        reader = BodyReader(
            root,
            member,
            scope,
            self._file.styles,
            lambda _address: self._context(scope, made[0] if made else None),
        )
        made.append(reader)
        return reader

    # Sections

    def _sections(self, body: Element) -> Iterator[Section]:
        """Give the stretches of pages of one master; a paragraph's style may begin another."""
        reader = self._body_reader(self._file.content, CONTENT, "content")
        elements: list[Element] = []
        master = self._first_master(body, reader)
        for element in children(body):
            named = self._master_of(element, reader)
            if named and elements and named != master:
                yield self._section(reader, elements, master)
                elements = []
            if named:
                master = named
            elements.append(element)
        yield self._section(reader, elements, master)

    def _master_of(self, element: Element, reader: BodyReader) -> str:
        if local_name(element) not in ("p", "h"):
            return ""
        for style in reader.chain_of(element):
            name = style.get(tag("style:master-page-name"))
            if name:
                return name
        return ""

    def _first_master(self, body: Element, reader: BodyReader) -> str:
        for element in body.iter(tag("text:p"), tag("text:h")):
            return self._master_of(element, reader) or "Standard"
        return "Standard"

    def _section(self, reader: BodyReader, elements: Sequence[Element], name: str) -> Section:
        masters = self._file.styles.masters
        master = masters.get(name)
        if master is None:
            master = next(iter(masters.values()), None)
        layout_name = master.get(tag("style:page-layout-name"), "") if master is not None else ""
        layout = self._file.styles.layouts.get(layout_name)
        chain = (layout,) if layout is not None else ()

        def stated(name: str) -> str | None:
            return attribute(chain, "page-layout", name)

        sides = []
        for side, plain in zip(("width", "height"), PLAIN_PAGE, strict=True):
            value = length(stated(f"fo:page-{side}"), plain)
            sides.append(value if SMALLEST <= value <= LARGEST else plain)
        margins = [
            min(LARGEST / 4, max(0.0, length(stated(f"fo:margin-{side}") or stated("fo:margin"),
                                             PLAIN_MARGIN)))
            for side in ("left", "top", "right", "bottom")
        ]  # fmt: skip
        box = Box(0.0, 0.0, sides[0], sides[1])
        fill = fill_of(chain, self._file.styles, box, self._file.bare_is_tenths, "page-layout")
        paper, unpainted = _paper(chain, fill)
        if not fill.stated and (pictured := background_picture(layout, "page-layout")):
            fill, unpainted = pictured, ""
        seen = paper
        if fill.paints and paper is None:
            seen = looked_at(fill, WHITE, self._file.picture_mean)
        elif fill.picture is not None:
            seen = looked_at(fill, paper, self._file.picture_mean)
            bare = fill.repeat is not None and not fill.repeat.repeats
            # Beside the picture text looks at the paper: it is sure where both say the same.
            if seen and bare and automatic_in_odf(seen) != automatic_in_odf(paper or WHITE):
                seen = None
        behind = Behind(seen or WHITE, VARIED if seen is None or unpainted else "")
        blocks = tuple(reader.blocks_among(elements, Place("Body", behind), 0, None))
        ground: tuple[Item, ...] = ()
        if unpainted:
            ground = (Obstacle(box, IDENTITY, unpainted),)
        elif (paper is None or fill.picture is not None) and master is not None:
            shapes = ShapeReader(master, self._file.styles, self._context("master", None))
            ground = tuple(shapes.background(fill, box))
        return Section(
            blocks,
            sides[0],
            sides[1],
            (margins[0], margins[1], margins[2], margins[3]),
            self._repeated(master, layout, "header", behind),
            self._repeated(master, layout, "footer", behind),
            margins[1],
            margins[3],
            paper=paper or WHITE,
            ground=ground,
        )

    def _repeated(
        self, master: Element | None, layout: Element | None, kind: str, behind: Behind
    ) -> Repeated | None:
        """Give the headers or the footers of a master's pages (§16.12, §16.14, §17.2).

        Left pages and the first one may have some of their own.
        """
        style = child(layout, f"style:{kind}-style")
        chain = (style,) if style is not None else ()
        context = self._context("content" if self._file.package is None else "master", None)
        surface = surface_of(chain, HEADER_FOOTER, self._file.styles, context)
        place = Place(kind.capitalize(), behind.over(surface))
        flat = self._file.package is None
        scope = "content" if flat else "master"
        reader = self._body_reader(self._file.common, self._file.styles_member, scope)
        read = {
            use: tuple(reader.blocks(element, replace(place, words=f"{place.words}{words}")))
            for use, words in USES.items()
            if (element := _shown(master, f"{kind}{use}")) is not None
        }
        if not read:
            return None

        def stated(name: str) -> float:
            return length(attribute(chain, HEADER_FOOTER, name))

        side = "bottom" if kind == "header" else "top"
        bare = Band(
            (),
            surface,
            padding_of(chain, HEADER_FOOTER),
            max(stated("fo:min-height"), stated("svg:height")),
            max(0.0, stated(f"fo:margin-{side}")),
        )

        def band_for(page: int, first: bool) -> Band:
            uses = [*(["-first"] if first else []), *(["-left"] if page % 2 == 0 else []), ""]
            blocks = next((read[use] for use in uses if use in read), ())
            return replace(bare, blocks=with_runs(blocks, functools.partial(_numbered, page=page)))

        return band_for

    def scene(self, page: int) -> Scene:
        """Describe a page."""
        flowed = self._flowed[page]
        return Scene(flowed.width, flowed.height, flowed.items, flowed.paper)

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell which pages may look different."""
        return pages_touched_by(edits, self._shown, len(self.pages), "para")

    def plate_address(self, address: str) -> str | None:
        """Give where a text's own background can be written."""
        runs = [each for each in expand(address) if Address.of(each).step("r")]
        return span([address_below(each, shade="") for each in runs]) if runs else None


def _shown(master: Element | None, name: str) -> Element | None:
    """Give a header or a footer by its name, in the standard or an extension; None if hidden."""
    found = child(master, f"style:{name}")
    if found is None:
        found = child(master, f"loext:{name}")
    if found is None or found.get(tag("style:display"), "true") == "false":
        return None
    return found


def _paper(chain: Sequence[Element], fill: OdfFill) -> tuple[Colour | None, str]:
    """Give the colour of a page's paper, None where it isn't one, and why that isn't painted."""
    if not fill.stated:
        return colour(attribute(chain, "page-layout", "fo:background-color")) or WHITE, ""
    if isinstance(fill.fill, Colour) and fill.fill.opacity >= 1:
        return fill.fill, ""
    return (None, fill.trouble) if fill.paints else (WHITE, "")


def _numbered(run: Run, page: int) -> Run:
    """Put a page's number where its field stands."""
    return replace(run, text=str(page)) if run.field == "page-number" else run
