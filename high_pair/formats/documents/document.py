"""A word-processing document as a document: its pages as scenes, edits, and the saved copy."""

from __future__ import annotations

import copy
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path

from high_pair.edits.kinds import Edit
from high_pair.errors import UnreadableFile
from high_pair.formats.alternatives import chosen_children
from high_pair.formats.document import BareDocument, PageInfo, Shown
from high_pair.formats.documents.body import BodyReader, Package, Place, with_sign
from high_pair.formats.documents.colours import DocumentColours, read_mapping
from high_pair.formats.documents.colours import shades_in as word_shades_in
from high_pair.formats.documents.edits import apply
from high_pair.formats.documents.looks import Behind, LookReader
from high_pair.formats.documents.numbering import SCHEMES, Numbering
from high_pair.formats.documents.runs import PAGE_NUMBER
from high_pair.formats.documents.styles import StyleSheet, is_on
from high_pair.formats.drawing.colour_sets import Shade, shades_in, theme_set
from high_pair.formats.drawing.colours import Palette
from high_pair.formats.drawing.related import PackageParts
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.office_file import OfficeFile
from high_pair.formats.package import Package as Zip
from high_pair.formats.shown_at import pages_showing, pages_touched_by
from high_pair.formats.xml import (
    Element,
    child,
    digits,
    local_name,
    number,
    tag,
    whole,
)
from high_pair.raster.flow import FlowedPage, flow_pages, with_count
from high_pair.scene.addresses import Address, address_below, expand, member_of, span
from high_pair.scene.colour_set import ColourSet
from high_pair.scene.flow import Band, Block, Flow, Repeated, Section
from high_pair.scene.page import Scene
from high_pair.scene.paint import WHITE, Colour

KIND = "document"
TWENTIETHS = 20.0
# §17.6.13: a page where nothing says another, in points.
PLAIN_PAGE = (612.0, 792.0)
PLAIN_MARGINS = (72.0, 72.0, 72.0, 72.0)
SMALLEST, LARGEST = 72.0, 4032.0
WORDS = {"default": "", "first": " of the first page", "even": " of even pages"}
# The kinds of parts, besides the main one, that say in which shades the theme is used.
WITH_COLOURS = ("styles", "numbering", "header", "footer", "footnotes", "endnotes")


class TextDocument(BareDocument):
    """An open document; see `formats.document.Document`, whose methods it has."""

    kind = KIND
    # Its text flows: where one paragraph is changed, those after it may move.
    made_whole = True

    def __init__(self, package: Zip, main: str) -> None:
        """Read a package's main part. Raises UnreadableFile."""
        self.name = package.name
        self._file = OfficeFile(package)
        self._main_member = main
        self.pictures = self._file.pictures
        self._read()

    def _read(self, count: int | None = None) -> None:
        main = self._file.store.part(self._main_member)
        body = child(main.root, "w:body")
        if local_name(main.root) != "document" or body is None:
            raise UnreadableFile(self.name, "it is an office file, but no text document.")
        self._main = main
        settings = self._related("settings")
        theme = self._file.store.theme(main.target("theme"))
        if theme.missing:
            self._file.assume(
                "the theme is missing: a plain one is used, black on white with greys"
            )
        colours = DocumentColours(theme.scheme, read_mapping(settings))
        member = "" if theme.missing else main.target("theme")
        styles = main.target("styles")
        numbering = main.target("numbering")
        if not styles:
            self._file.assume("the styles are missing: plain text is used")
        tab = child(settings, "w:defaultTabStop")
        setting = Setting(
            main, None, None, theme, Palette(theme.scheme), main, None, theme_member=member
        )
        self._shared = Package(
            StyleSheet(self._related("styles"), styles),
            Numbering(self._related("numbering"), numbering),
            colours,
            LookReader(colours, theme, member),
            setting,
            PackageParts(self._file.package),
            max(1.0, whole(tab, tag("w:val"), 720) / TWENTIETHS),
            {
                "footnotes": _scheme(child(settings, "w:footnotePr"), "arabic"),
                "endnotes": _scheme(child(settings, "w:endnotePr"), "romanLc"),
            },
        )
        ends = child(settings, "w:endnotePr", "w:pos")
        self._notes_by_section = ends is not None and ends.get(tag("w:val")) == "sectEnd"
        self._even_odd = _is_set(settings, "w:evenAndOddHeaders")
        self._paper = self._paper_colour(settings)
        flowed = flow_pages(Flow(tuple(self._sections(body))))
        self._flowed = flowed if count is None else with_count(flowed, count)
        self._shown = pages_showing(self._flowed, "p")
        self.pages = tuple(_info(count, page) for count, page in enumerate(self._flowed, start=1))

    def _related(self, kind: str) -> Element | None:
        part = self._file.store.shared(self._main.target(kind))
        return part.root if part is not None else None

    def _paper_colour(self, settings: Element | None) -> Colour:
        """Give the page's colour, which shows only where the settings say so (§17.2.1)."""
        if not _is_set(settings, "w:displayBackgroundShape"):
            return WHITE
        background = child(self._main.root, "w:background")
        stated = self._shared.colours.read(background, "color") if background is not None else None
        return stated.colour if stated else WHITE

    def assumed(self) -> tuple[str, ...]:
        """Say what was assumed of parts that are missing."""
        return self._file.assumed

    # Sections

    def _sections(self, body: Element) -> Iterator[Section]:
        reader = BodyReader(self._main, self._shared, self._notes())
        for kind in ("footnotes", "endnotes"):
            part = self._file.store.shared(self._main.target(kind))
            if part is not None:
                reader.note_readers[kind] = BodyReader(part, self._shared)
        previous: Section | None = None
        headers: dict[str, str] = {}
        parts = list(_parts_of(body))
        for count, (elements, properties) in enumerate(parts, start=1):
            blocks = tuple(reader.blocks_among(elements, Place("Body", Behind(self._paper))))
            if self._notes_by_section or count == len(parts):
                blocks += tuple(reader.endnotes)
                reader.endnotes.clear()
            section = self._section(blocks, properties, headers, previous)
            previous = section
            yield section

    def _notes(self) -> dict[str, dict[str, Element]]:
        found: dict[str, dict[str, Element]] = {}
        for kind, name in (("footnotes", "w:footnote"), ("endnotes", "w:endnote")):
            part = self._file.store.shared(self._main.target(kind))
            if part is not None:
                found[kind] = {
                    each.get(tag("w:id"), ""): each for each in part.root.findall(tag(name))
                }
        return found

    def _section(
        self,
        blocks: tuple[Block, ...],
        properties: Element | None,
        headers: dict[str, str],
        previous: Section | None,
    ) -> Section:
        size = child(properties, "w:pgSz")
        width, height = (
            _side(size, name, plain) for name, plain in zip(("w", "h"), PLAIN_PAGE, strict=True)
        )
        margins = child(properties, "w:pgMar")
        left, top, right, bottom = (
            _margin(margins, name, plain)
            for name, plain in zip(("left", "top", "right", "bottom"), PLAIN_MARGINS, strict=True)
        )
        columns = child(properties, "w:cols")
        kind = child(properties, "w:type")
        begins = kind.get(tag("w:val"), "nextPage") if kind is not None else "nextPage"
        for reference in properties if properties is not None else ():
            name = local_name(reference)
            if name in ("headerReference", "footerReference"):
                key = f"{name[:6]} {reference.get(tag('w:type'), 'default')}"
                headers[key] = self._main.target_of(reference.get(tag("r:id"), ""))
        title = _is_set(properties, "w:titlePg")
        first = child(properties, "w:pgNumType")
        begin = first.get(tag("w:start")) if first is not None else None
        return Section(
            blocks,
            width,
            height,
            (left, abs(top), right, abs(bottom)),
            self._repeated("header", dict(headers), title),
            self._repeated("footer", dict(headers), title),
            _margin(margins, "header", 36.0),
            _margin(margins, "footer", 36.0),
            max(1, min(12, whole(columns, tag("w:num"), 1))),
            number(columns.get(tag("w:space"), "720")) / TWENTIETHS
            if columns is not None
            else 36.0,
            continues=begins == "continuous" and previous is not None,
            first=digits(begin),
            paper=self._paper,
        )

    def _repeated(self, kind: str, members: Mapping[str, str], title: bool) -> Repeated | None:
        """Give the header or footer of a section's pages (§17.10)."""
        read: dict[str, tuple[Block, ...]] = {}

        def band_for(page: int, first: bool) -> Band:
            use = "default"
            if title and first:
                use = "first"
            elif self._even_odd and page % 2 == 0:
                use = "even"
            if use not in read:
                read[use] = self._header(kind, use, members.get(f"{kind} {use}", ""))
            return Band(with_sign(read[use], PAGE_NUMBER, str(page)))

        return band_for if any(key.startswith(kind) for key in members) else None

    def _header(self, kind: str, use: str, member: str) -> tuple[Block, ...]:
        part = self._file.store.shared(member)
        if part is None:
            return ()
        words = f"{kind.capitalize()}{WORDS.get(use, '')}"
        reader = BodyReader(part, self._shared)
        return tuple(reader.blocks(part.root, Place(words, Behind(self._paper))))

    # The document's methods

    def scene(self, page: int) -> Scene:
        """Describe a page."""
        flowed = self._flowed[page]
        return Scene(flowed.width, flowed.height, flowed.items, flowed.paper)

    def edited(self, edits: Sequence[Edit]) -> TextDocument:
        """Give the document with these edits carried out on copies of its parts."""
        roots: dict[str, Element] = {}
        for edit in edits:
            member = member_of(edit.address)
            if member not in roots:
                roots[member] = self._file.to_change(member, edit.address)
            apply(edit, roots[member])
        document = copy.copy(self)
        document._file = self._file.with_edited(roots)
        document._read(len(self.pages))
        return document

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell which pages may look different."""
        return pages_touched_by(edits, self._shown, len(self.pages), "p")

    def plate_address(self, address: str) -> str | None:
        """Give where a text's own shading can be written."""
        runs = [each for each in expand(address) if Address.of(each).step("r")]
        return span([address_below(each, shd=1) for each in runs]) if runs else None

    def colours(self, page: int) -> tuple[tuple[int, int, int], ...]:
        """List the theme's colours."""
        scheme = self._shared.colours.scheme
        return tuple(dict.fromkeys(colour.levels for colour in scheme.values()))

    def colour_sets(self) -> tuple[ColourSet, ...]:
        """Give the theme's set, with the shades that are derived in the document and its styles."""
        store = self._file.store
        theme = store.shared(self._main.target("theme"))
        if theme is None:
            return ()
        related = [
            store.shared(each.target)
            for each in self._main.relationships.values()
            if each.kind in WITH_COLOURS and not each.external
        ]
        shades: dict[Shade, None] = {}
        for part in (self._main, *related):
            if part is not None:
                shades |= dict.fromkeys(word_shades_in(part.root, self._shared.colours))
                shades |= dict.fromkeys(shades_in(part.root, self._shared.setting.palette))
        return (theme_set(theme.member, theme.root, self.name, shades),)

    def save(self, target: Path) -> None:
        """Write a copy: the edited parts new, every other member byte for byte."""
        self._file.save(target)

    def close(self) -> None:
        """Let go of the file; edited versions share it."""
        self._file.close()


def _parts_of(body: Element) -> Iterator[tuple[list[Element], Element | None]]:
    """Give the elements of each section, with the section's properties (§17.6.17, §17.6.18)."""
    elements: list[Element] = []
    for element in _flattened(body):
        if local_name(element) == "sectPr":
            yield elements, element
            return
        elements.append(element)
        properties = child(element, "w:pPr", "w:sectPr")
        if properties is not None:
            yield elements, properties
            elements = []
    yield elements, None


def _flattened(holder: Element) -> Iterator[Element]:
    for element in chosen_children(holder):
        if local_name(element) in ("sdt", "sdtContent", "customXml"):
            content = child(element, "w:sdtContent") if local_name(element) == "sdt" else element
            if content is not None:
                yield from _flattened(content)
        else:
            yield element


def _scheme(properties: Element | None, plain: str) -> str:
    """Give how notes are numbered (§17.11.18)."""
    stated = child(properties, "w:numFmt")
    return SCHEMES.get(stated.get(tag("w:val"), "") if stated is not None else "", plain)


def _is_set(element: Element | None, name: str) -> bool:
    found = child(element, name)
    return found is not None and is_on(found)


def _side(element: Element | None, name: str, plain: float) -> float:
    stated = number(element.get(tag(f"w:{name}")) if element is not None else None)
    side = stated / TWENTIETHS
    return side if SMALLEST <= side <= LARGEST else plain


def _margin(element: Element | None, name: str, plain: float) -> float:
    stated = element.get(tag(f"w:{name}")) if element is not None else None
    value = number(stated, plain * TWENTIETHS) / TWENTIETHS
    return value if abs(value) <= LARGEST / 2 else plain


def _info(count: int, page: FlowedPage) -> PageInfo:
    return PageInfo(f"Page {count}", page.width, page.height, False, page.headings, Shown.PAPER)
