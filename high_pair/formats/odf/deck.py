"""An ODF deck as a document: its pages as scenes, edits, and the saved copy."""

from __future__ import annotations

from high_pair.errors import UnreadableFile
from high_pair.formats.document import PageInfo
from high_pair.formats.odf.automatic import looked_at
from high_pair.formats.odf.document import OdfDocument
from high_pair.formats.odf.edits import masters_of, pages_of
from high_pair.formats.odf.file import CONTENT, STYLES, OdfFile
from high_pair.formats.odf.fills import OdfFill, fill_of
from high_pair.formats.odf.overlays import above_address, overlay_address
from high_pair.formats.odf.shapes import (
    SHOWN_ON_PAGES,
    PageContext,
    ShapeReader,
)
from high_pair.formats.odf.styles import attribute
from high_pair.formats.odf.units import length
from high_pair.formats.xml import Element, child, tag
from high_pair.scene.addresses import Address, address_in
from high_pair.scene.geometry import Box
from high_pair.scene.page import Scene
from high_pair.scene.paint import WHITE, Colour
from high_pair.scene.text import Decider

KIND = "slides"
PLAIN_SIZE = (28 * 72 / 2.54, 21 * 72 / 2.54)
SMALLEST_POINTS, LARGEST_POINTS = 18.0, 4032.0
MOST_PAGES = 10_000


class OdfDeck(OdfDocument):
    """An open ODF deck; see `formats.document.Document`, whose methods it has."""

    kind = KIND
    page_step = "page"

    def _take(self, file: OdfFile, before: int | None) -> None:
        super()._take(file, before)
        self._styles = file.styles
        self._pages = pages_of(file.content)
        if len(self._pages) > MOST_PAGES:
            raise UnreadableFile(self.name, f"it has {len(self._pages):,} slides.")
        self._masters = {
            master.get(tag("style:name"), ""): (count, master)
            for count, master in enumerate(masters_of(file.common), start=1)
        }
        self._bare_is_tenths = file.bare_is_tenths
        self.pages = tuple(
            self._page_info(count, page) for count, page in enumerate(self._pages, start=1)
        )

    def _page_info(self, count: int, page: Element) -> PageInfo:
        _, master = self._master_of(page)
        name = master.get(tag("style:page-layout-name"), "") if master is not None else ""
        layout = self._styles.layouts.get(name)
        properties = child(layout, "style:page-layout-properties")
        sides = []
        for attribute_name, plain in zip(
            ("fo:page-width", "fo:page-height"), PLAIN_SIZE, strict=True
        ):
            stated = properties.get(tag(attribute_name)) if properties is not None else None
            side = length(stated, plain)
            sides.append(side if SMALLEST_POINTS <= side <= LARGEST_POINTS else plain)
        hidden = self._page_property(page, "presentation:visibility") == "hidden"
        return PageInfo(f"Slide {count}", sides[0], sides[1], hidden)

    def _master_of(self, page: Element) -> tuple[int, Element | None]:
        return self._masters.get(page.get(tag("draw:master-page-name"), ""), (0, None))

    def _page_chain(self, page: Element) -> tuple[Element, ...]:
        name = page.get(tag("draw:style-name"))
        return self._styles.chain("drawing-page", name, "content")

    def _page_property(self, page: Element, name: str) -> str | None:
        return attribute(self._page_chain(page), "drawing-page", name)

    # Scenes

    def scene(self, page: int) -> Scene:
        """Describe a slide."""
        element, info = self._pages[page], self.pages[page]
        box = Box(0.0, 0.0, info.width, info.height)
        background = self._background(element, box)
        plain = looked_at(background, WHITE, self._file.picture_mean)
        fields = self._fields(element, page)
        address = address_in(CONTENT, page=page + 1)
        context = self._context(info.name, address, "content", plain, fields)
        own_shapes = ShapeReader(element, self._styles, context)
        items = list(own_shapes.background(background, box))
        count, master = self._master_of(element)
        if master is not None and self._shows_objects(element):
            flat = self._file.package is None
            member, scope = (CONTENT, "content") if flat else (STYLES, "master")
            words = f"{info.name} › master"
            context = self._context(words, address_in(member, master=count), scope, plain, fields)
            masters_shapes = ShapeReader(master, self._styles, context)
            items += masters_shapes.items(lambda shape: self._master_shows(shape, element))
        items += own_shapes.items(_is_no_prompt)
        return Scene(info.width, info.height, tuple(items), hidden=info.hidden)

    def _context(
        self,
        words: str,
        address: str,
        scope: str,
        background: Colour | None,
        fields: dict[str, str],
    ) -> PageContext:
        return PageContext(
            words,
            address,
            scope,
            background,
            fields,
            self._bare_is_tenths,
            self._file.picture_name,
            self._file.picture_size,
            self._file.picture_mean,
            self._file.object_root,
            self._file.skips_shapes_text,
        )

    def _shows_objects(self, page: Element) -> bool:
        return self._page_property(page, "presentation:background-objects-visible") != "false"

    def _master_shows(self, shape: Element, page: Element) -> bool:
        """Tell whether a master's shape shows: no prompts, and footers where the page says so."""
        kind = shape.get(tag("presentation:class"))
        if kind is None:
            return True
        switch = SHOWN_ON_PAGES.get(kind)
        return switch is not None and self._page_property(page, switch) == "true"

    def _background(self, page: Element, box: Box) -> OdfFill:
        if self._page_property(page, "presentation:background-visible") == "false":
            return OdfFill()
        own = fill_of(
            self._page_chain(page), self._styles, box, self._bare_is_tenths, "drawing-page"
        )
        if own.stated:
            return own
        _, master = self._master_of(page)
        name = master.get(tag("draw:style-name")) if master is not None else None
        scope = "master" if self._file.package is not None else "content"
        chain = list(self._styles.chain("drawing-page", name, scope))
        master_name = master.get(tag("style:name"), "") if master is not None else ""
        # Writers also keep a master's background in a presentation style of its name.
        chain += self._styles.chain("presentation", f"{master_name}-background", scope)
        found = fill_of(chain, self._styles, box, self._bare_is_tenths, "drawing-page")
        if not found.stated:
            found = fill_of(chain, self._styles, box, self._bare_is_tenths)
        return found if found.stated else OdfFill()

    def _fields(self, page: Element, place: int) -> dict[str, str]:
        """Give what the page's fields say, by their local names (§10.9.3)."""
        fields = {"page-number": str(place + 1)}
        body = page.getparent()
        for kind in ("footer", "header", "date-time"):
            wanted = page.get(tag(f"presentation:use-{kind}-name"))
            name = tag(f"presentation:{kind}-decl")
            for declared in body.findall(name) if body is not None else ():
                if declared.get(tag("presentation:name")) == wanted:
                    fields[kind] = (declared.text or "").strip()
        return fields

    def overlay_address(self, address: str) -> str | None:
        """Give the address of an overlay below the text at an address."""
        return overlay_address(address)

    def shape_address(self, address: str) -> str | None:
        """Give the address of the shape of a text that stands on a page of its own."""
        found = Address.of(address)
        names = tuple(step.name for step in found.steps[:2])
        return str(Address(found.member, found.steps[:2])) if names == ("page", "shape") else None

    def above(self, address: str) -> Decider | None:
        """Give where an overlay right above a master's picture goes."""
        own = above_address(address)
        return Decider("over the picture in the master", own) if own else None


def _is_no_prompt(shape: Element) -> bool:
    """Leave out the prompts of empty placeholders."""
    return shape.get(tag("presentation:placeholder")) != "true"
