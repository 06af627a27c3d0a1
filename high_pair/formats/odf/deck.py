"""An ODF deck as a document: its pages as scenes, edits, and the saved copy."""

from __future__ import annotations

import base64
import binascii
import copy
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import IO

from lxml import etree

from high_pair.errors import EditError, UnreadableFile
from high_pair.formats.document import PageInfo
from high_pair.formats.odf.edits import apply, masters_of, pages_of
from high_pair.formats.odf.fills import OdfFill, fill_of
from high_pair.formats.odf.overlays import overlay_address
from high_pair.formats.odf.shapes import (
    SHOWN_ON_PAGES,
    PageContext,
    ShapeReader,
)
from high_pair.formats.odf.styles import Styles, attribute
from high_pair.formats.odf.units import length
from high_pair.formats.package import Package
from high_pair.formats.picture_members import refuse_giant_pictures
from high_pair.formats.writing import write_whole
from high_pair.formats.xml import Element, child, local_name, number, parse, tag
from high_pair.raster.pictures import PictureProblem, Pictures
from high_pair.remedy.edits import Edit, LayOver
from high_pair.scene.addresses import member_of
from high_pair.scene.geometry import Box
from high_pair.scene.page import Scene
from high_pair.scene.paint import WHITE, Colour

KIND = "slides"
CONTENT, STYLES = "content.xml", "styles.xml"
MIME_TYPES = (
    "application/vnd.oasis.opendocument.presentation",
    "application/vnd.oasis.opendocument.presentation-template",
)
PLAIN_SIZE = (28 * 72 / 2.54, 21 * 72 / 2.54)
SMALLEST_POINTS, LARGEST_POINTS = 18.0, 4032.0
MOST_FLAT_BYTES = 256 * 1024**2
MOST_PAGES = 10_000


class OdfDeck:
    """An open ODF deck; see `formats.document.Document`, whose methods it has."""

    kind = KIND

    def __init__(self, name: str, package: Package | None, flat: Element | None) -> None:
        """Take a package, or the root of a flat file. Raises UnreadableFile."""
        self.name = name
        self._package = package
        self._roots: dict[str, Element] = {}
        self._changed: frozenset[str] = frozenset()
        if package is not None:
            self._roots[CONTENT] = parse(package.read(CONTENT), name, CONTENT)
            if STYLES in package.members:
                self._roots[STYLES] = parse(package.read(STYLES), name, STYLES)
        elif flat is not None:
            self._roots[CONTENT] = flat
        self._assumed: list[str] = []
        if package is not None and STYLES not in package.members:
            self._assumed.append("styles.xml is missing: plain pages and styles are used")
        self._read()
        self.pictures = Pictures(self._load_picture)
        if package is not None:
            refuse_giant_pictures(package)

    def _read(self) -> None:
        content = self._roots[CONTENT]
        self._styles = Styles(content, self._roots.get(STYLES))
        self._pages = pages_of(content)
        if len(self._pages) > MOST_PAGES:
            raise UnreadableFile(self.name, f"it has {len(self._pages):,} slides.")
        self._masters = {
            master.get(tag("style:name"), ""): (count, master)
            for count, master in enumerate(masters_of(self._roots.get(STYLES, content)), start=1)
        }
        version = content.get(tag("office:version"), "")
        self._bare_is_tenths = _writes_tenths(self._generator(), version)
        self.pages = tuple(
            self._page_info(count, page) for count, page in enumerate(self._pages, start=1)
        )

    def _generator(self) -> str:
        root = self._roots[CONTENT]
        if self._package is not None:
            if "meta.xml" not in self._package.members:
                return ""
            root = parse(self._package.read("meta.xml"), self.name, "meta.xml")
        found = next(root.iter(tag("meta:generator")), None)
        return (found.text or "") if found is not None else ""

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

    # Pictures

    def _picture_name(self, image: Element) -> str:
        """Name a picture: its member, or where in the file its bytes stand; empty without any."""
        reference = image.get(tag("xlink:href"), "").removeprefix("./")
        if reference and self._package is not None and reference in self._package.members:
            return reference
        if child(image, "office:binary-data") is not None:
            return f"inline:{_inline_images(self._roots[CONTENT]).index(image)}"
        return ""

    def _picture_size(self, name: str) -> tuple[float, float] | None:
        """Give a picture's own size in points; None when it can't be read."""
        try:
            size = self.pictures.size_in_points(name)
        except PictureProblem:
            return None
        return size if min(size) > 0 else None

    def _load_picture(self, name: str) -> bytes:
        try:
            if name.startswith("inline:"):
                return self._inline(name.removeprefix("inline:"))
            if self._package is None:
                raise PictureProblem("it is missing")
            return self._package.read(name)
        except UnreadableFile as error:
            raise PictureProblem("its data is damaged or missing") from error

    def _inline(self, number_of_image: str) -> bytes:
        image = _inline_images(self._roots[CONTENT])[int(number_of_image)]
        data = child(image, "office:binary-data")
        try:
            return base64.b64decode("".join((data.text or "").split()) if data is not None else "")
        except (binascii.Error, ValueError) as error:
            raise PictureProblem("its data is damaged") from error

    # Scenes

    def assumed(self) -> tuple[str, ...]:
        """Say what was assumed of parts that are missing."""
        return tuple(self._assumed)

    def scene(self, page: int) -> Scene:
        """Describe a slide."""
        element, info = self._pages[page], self.pages[page]
        box = Box(0.0, 0.0, info.width, info.height)
        background = self._background(element, box)
        plain = background.fill if isinstance(background.fill, Colour) else None
        if not background.paints:
            plain = WHITE
        fields = self._fields(element, page)
        context = self._context(info.name, f"{CONTENT}#page={page + 1}", "content", plain, fields)
        own_shapes = ShapeReader(element, self._styles, context)
        items = list(own_shapes.background(background, box))
        count, master = self._master_of(element)
        if master is not None and self._shows_objects(element):
            flat = self._package is None
            member, scope = (CONTENT, "content") if flat else (STYLES, "master")
            words = f"{info.name} › master"
            context = self._context(words, f"{member}#master={count}", scope, plain, fields)
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
            self._picture_name,
            self._picture_size,
            self._object_text,
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
        scope = "master" if self._package is not None else "content"
        chain = list(self._styles.chain("drawing-page", name, scope))
        master_name = master.get(tag("style:name"), "") if master is not None else ""
        # Writers also keep a master's background in a presentation style of its name.
        chain += self._styles.chain("presentation", f"{master_name}-background", scope)
        found = fill_of(chain, self._styles, box, self._bare_is_tenths, "drawing-page")
        if not found.stated:
            found = fill_of(chain, self._styles, box, self._bare_is_tenths)
        return found

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

    def _object_text(self, shape: Element) -> str:
        """Give the words of an embedded object, such as a chart."""
        reference = child(shape, "draw:object")
        folder = reference.get(tag("xlink:href"), "") if reference is not None else ""
        member = f"{folder.removeprefix('./').rstrip('/')}/{CONTENT}"
        if self._package is None or member not in self._package.members:
            return ""
        root = parse(self._package.read(member), self.name, member)
        paragraphs = root.iter(tag("text:p"))
        words = ["".join(str(t) for t in each.itertext()).strip() for each in paragraphs]
        return " · ".join(dict.fromkeys(word for word in words if word))

    # Edits

    def part_of(self, page: int, box: Box) -> Scene:
        """Describe a page for painting a part of it."""
        return self.scene(page)

    def address_at(self, page: int, x: float, y: float) -> str:
        """Each text has a place of its own."""
        return ""

    def edited(self, edits: Sequence[Edit]) -> OdfDeck:
        """Give the deck with these edits carried out on copies of its parts."""
        deck = copy.copy(self)
        deck._roots = dict(self._roots)
        changed: set[str] = set()
        for edit in edits:
            member = member_of(edit.address)
            if member not in deck._roots:
                raise EditError(f"{edit.address} isn't in {self.name}")
            common = STYLES if STYLES in deck._roots else CONTENT
            needed = {member, common} if isinstance(edit, LayOver) else {member}
            for name in needed - changed:
                deck._roots[name] = copy.deepcopy(self._roots[name])
            changed |= needed
            apply(edit, deck._roots[member], deck._roots[common])
        deck._changed = frozenset(changed)
        deck._read()
        return deck

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell which slides may look different after edits."""
        found: set[int] = set()
        for edit in edits:
            _, _, rest = edit.address.partition("#page=")
            number = rest.partition("/")[0]
            if not number.isdecimal():
                return frozenset(range(len(self._pages)))
            found.add(int(number) - 1)
        return frozenset(page for page in found if 0 <= page < len(self._pages))

    def new_box_address(self, page: int) -> None:
        """A deck states its text."""

    def box_at(self, address: str) -> None:
        """A deck states its text."""

    def overlay_address(self, address: str) -> str | None:
        """Give the address of an overlay below the text at an address."""
        return overlay_address(address)

    def plate_address(self, address: str) -> None:
        """A slide's plates are overlays."""

    def above(self, _address: str) -> None:
        """Overlays aren't laid into masters yet."""

    def colours(self, _page: int) -> tuple[tuple[int, int, int], ...]:
        """ODF files have no theme."""
        return ()

    def save(self, target: Path) -> None:
        """Write a copy: the edited parts new, every other member byte for byte."""
        if self._package is not None:
            replaced: Mapping[str, bytes] = {
                member: _serialise(self._roots[member]) for member in self._changed
            }
            self._package.write_copy(target, replaced)
            return
        data = _serialise(self._roots[CONTENT])
        write_whole(target, target, lambda out: _put(out, data))

    def close(self) -> None:
        """Let go of the file; edited versions share it."""
        if self._package is not None:
            self._package.close()


def _inline_images(root: Element) -> list[Element]:
    """List the pictures whose bytes stand in the XML itself; edits never change their order."""
    images = root.iter(tag("draw:image"), tag("draw:fill-image"))
    return [image for image in images if child(image, "office:binary-data") is not None]


def _is_no_prompt(shape: Element) -> bool:
    """Leave out the prompts of empty placeholders."""
    return shape.get(tag("presentation:placeholder")) != "true"


def _writes_tenths(generator: str, version: str) -> bool:
    """Tell whether a bare gradient angle means tenths of a degree.

    It does before ODF 1.3, and the office suites that descend from one another
    went on so; other writers of ODF 1.3 mean degrees.
    """
    return "Office" in generator or number(version, 1.2) < 1.3


def _serialise(root: Element) -> bytes:
    return etree.tostring(root.getroottree(), xml_declaration=True, encoding="UTF-8")


def _put(out: IO[bytes], data: bytes) -> None:
    out.write(data)


def is_odf(package: Package) -> bool:
    """Tell whether a package is an ODF file of any kind."""
    return "mimetype" in package.members and CONTENT in package.members


def open_package(package: Package) -> OdfDeck:
    """Open an ODF package. Raises UnreadableFile for other kinds, and for encrypted ones."""
    kind = package.read("mimetype").decode("ascii", "replace").strip()
    if kind not in MIME_TYPES:
        raise UnreadableFile(package.name, "it is an OpenDocument file, but no slide deck.")
    listing = "META-INF/manifest.xml"
    if listing in package.members:
        manifest = parse(package.read(listing), package.name, listing)
        if any(local_name(each) == "encryption-data" for each in manifest.iter()):
            raise UnreadableFile(package.name, "it is encrypted. Remove its password first.")
    return OdfDeck(package.name, package, None)


def open_flat(path: Path) -> OdfDeck:
    """Open a flat ODF file. Raises UnreadableFile."""
    try:
        if path.stat().st_size > MOST_FLAT_BYTES:
            raise UnreadableFile(path.name, "it is larger than is read.")
        data = path.read_bytes()
    except OSError as error:
        raise UnreadableFile(path.name, f"it can't be opened ({error.strerror}).") from error
    root = parse(data, path.name, path.name)
    if local_name(root) != "document" or root.get(tag("office:mimetype"), "") not in MIME_TYPES:
        raise UnreadableFile(path.name, "it is an XML file, but no flat OpenDocument deck.")
    return OdfDeck(path.name, None, root)
