"""A workbook as a document: its sheets as pages, edits, and the saved copy."""

from __future__ import annotations

import copy
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from high_pair.edits.kinds import Edit
from high_pair.errors import UnreadableFile
from high_pair.formats.document import SHOWN_HEIGHT, SHOWN_WIDTH, BareDocument, PageInfo, Shown
from high_pair.formats.drawing.colour_sets import theme_set
from high_pair.formats.drawing.colours import Palette
from high_pair.formats.drawing.related import PackageParts
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.office_file import OfficeFile
from high_pair.formats.package import Package
from high_pair.formats.parts import Part
from high_pair.formats.sheets.cells import CellReader, Cells, SharedText, Written, shared_text
from high_pair.formats.sheets.colours import SheetColours, read_palette, shades_in
from high_pair.formats.sheets.comments import comment_texts
from high_pair.formats.sheets.drawings import (
    NO_GRID,
    DrawingReader,
    anchor_box,
    as_slide_part,
    as_slide_root,
    drawn_extent,
    is_text,
)
from high_pair.formats.sheets.edits import Restyled, apply
from high_pair.formats.sheets.looks import Place
from high_pair.formats.sheets.painting import cell_items
from high_pair.formats.sheets.printed import printed_texts
from high_pair.formats.sheets.sheet import Sheet
from high_pair.formats.sheets.source import WorkbookSource
from high_pair.formats.sheets.styles import StyleTable
from high_pair.formats.sheets.tables import SheetTable, read_table
from high_pair.formats.xml import (
    NAMESPACES,
    Element,
    child,
    children,
    flag,
    local_name,
    tag,
)
from high_pair.scene.addresses import expand, member_of
from high_pair.scene.colour_set import ColourSet
from high_pair.scene.geometry import Box
from high_pair.scene.page import Item, Scene

KIND = "spreadsheet"
MOST_SHEETS = 2_000
# Cells next to a drawing are painted under it.
ROUND = 24.0

# A sheet's part of so many bytes isn't held as elements: a million cells would take a gigabyte.
LARGE_SHEET = 16 * 1024**2


class Workbook(BareDocument):
    """An open workbook; see `formats.document.Document`, whose methods it has."""

    kind = KIND

    def __init__(self, package: Package, main: str) -> None:
        """Read a package's main part. Raises UnreadableFile."""
        self.name = package.name
        self._file = OfficeFile(package)
        self._main_member = main
        self._restyled = Restyled()
        self.pictures = self._file.pictures
        # What the file itself holds, which edits of other parts leave as it is.
        self._parts: dict[str, Part] = {}
        self._cells: dict[str, Cells] = {}
        # All cells of sheets that are too large to be held as elements.
        self._written: dict[str, Written] = {}
        self._strings: list[SharedText] = []
        self._read()

    def _read(self) -> None:
        main = self._file.store.part(self._main_member)
        if local_name(main.root) != "workbook":
            raise UnreadableFile(self.name, "it is an office file, but no workbook.")
        self._main = main
        theme_member = main.target("theme")
        self._theme = self._file.store.theme(theme_member)
        if self._theme.missing:
            theme_member = ""
            self._file.assume(
                "the theme is missing: a plain one is used, black on white with greys"
            )
        styles_member = main.target("styles")
        styles = self._file.store.shared(styles_member)
        root = styles.root if styles is not None else None
        if root is None:
            self._file.assume("the styles are missing: plain cells are used")
        colours = SheetColours(self._theme.scheme, read_palette(root))
        self._styles = StyleTable(root, colours, self._theme)
        if not self._strings:
            strings = self._file.store.shared(main.target("sharedStrings"))
            entries = strings.root.findall(tag("x:si")) if strings is not None else ()
            self._strings = [shared_text(element) for element in entries]
        self._place = Place("", styles_member, theme_member, main.target("sharedStrings"))
        properties = child(main.root, "x:workbookPr")
        self._from_1904 = flag(properties, "date1904")
        self._sheets: dict[int, Sheet | None] = {}
        self._listed = self._list_sheets()
        self.pages = tuple(self._info(count) for count in range(len(self._listed)))

    def _list_sheets(self) -> list[tuple[str, str, bool]]:
        """List the sheets: name, member, whether hidden."""
        found = []
        for entry in children(child(self._main.root, "x:sheets")):
            member = self._main.target_of(entry.get(tag("r:id"), ""))
            if member in self._file.package.members:
                hidden = entry.get("state", "visible") != "visible"
                found.append((entry.get("name", ""), member, hidden))
            else:
                self._file.assume(
                    "a sheet that the workbook lists isn't in the file: it is left out"
                )
        if len(found) > MOST_SHEETS:
            raise UnreadableFile(self.name, f"it has {len(found):,} sheets, more than are read.")
        return found

    def _info(self, count: int) -> PageInfo:
        _, _, hidden = self._listed[count]
        sheet = self._sheet(count)
        title = self._words(count)
        if sheet is None:
            size = self._chart_size(count)
            return PageInfo(title, size.width, size.height, hidden)
        grid = sheet.grid
        width, height = max(1.0, grid.width), max(1.0, grid.height)
        for item in self._drawings(count):
            extent = drawn_extent(item)
            width, height = max(width, extent.right + ROUND), max(height, extent.bottom + ROUND)
        return PageInfo(title, width, height, hidden, shown=Shown.SHEET)

    def _words(self, count: int) -> str:
        return f"Sheet {count + 1}, {self._listed[count][0]}"

    def _chart_size(self, count: int) -> Box:
        """Give how large the chart of a sheet is that is one."""
        drawing = self._drawing_part(self._drawing_member(count))
        ends = [
            (box.right, box.bottom)
            for anchor in (drawing.root if drawing is not None else ())
            if local_name(anchor) == "absoluteAnchor"
            for box in (anchor_box(anchor, NO_GRID),)
        ]
        width = max((right for right, _ in ends), default=0.0)
        height = max((bottom for _, bottom in ends), default=0.0)
        # One that states no size is as large as the window.
        return Box(0.0, 0.0, width or SHOWN_WIDTH, height or SHOWN_HEIGHT)

    def _sheet(self, count: int) -> Sheet | None:
        """Give a sheet; None for a chart that is one."""
        if count not in self._sheets:
            _, member, _ = self._listed[count]
            part = self._part(member)
            if local_name(part.root) != "worksheet":
                self._sheets[count] = None
            else:
                place = replace(self._place, sheet=member)
                own = {new: old for (m, new), old in self._restyled.back.items() if m == member}
                source = WorkbookSource(
                    part.root,
                    place,
                    self._styles,
                    self._strings,
                    self._from_1904,
                    own,
                    self._cells.get(member),
                    self._written.get(member),
                )
                self._cells[member] = source.cells
                self._sheets[count] = Sheet(
                    source,
                    self._words(count),
                    place,
                    self._tables(part),
                    self._value_at,
                )
        return self._sheets[count]

    def _part(self, member: str) -> Part:
        """Give a sheet's part, parsed once: it may be large."""
        if member not in self._parts:
            self._parts[member] = self._read_part(member)
        return self._parts[member]

    def _read_part(self, member: str) -> Part:
        store = self._file.store
        size = self._file.package.size_of(member)
        if member in self._file.edited or size < LARGE_SHEET:
            self._written.pop(member, None)
            return store.part(member)
        # As elements its cells take ten times their room; of most only values count.
        reader = CellReader(self._strings)
        part = store.part_by(member, "x:row", reader.row)
        self._cells.setdefault(member, reader.cells())
        self._written[member] = reader.written()
        return part

    def _tables(self, part: Part) -> tuple[SheetTable, ...]:
        found = []
        for relationship in part.relationships.values():
            if relationship.kind == "table" and relationship.target in self._file.package.members:
                table = read_table(
                    self._file.store.part(relationship.target).root,
                    self._styles,
                    self._place.styles,
                )
                if table is not None:
                    found.append(table)
        return tuple(found)

    def _value_at(self, sheet: str | None, row: int, column: int) -> float | str | None:
        for count, (name, _, _) in enumerate(self._listed):
            if sheet is not None and name.lower() == sheet.lower():
                found = self._sheet(count)
                return found.value_at(None, row, column) if found is not None else None
        return None

    def assumed(self) -> tuple[str, ...]:
        """Say what was assumed of parts that are missing."""
        return self._file.assumed

    # Scenes

    def _drawing_member(self, count: int) -> str:
        part = self._part(self._listed[count][1])
        reference = child(part.root, "x:drawing")
        return part.target_of(reference.get(tag("r:id"), "")) if reference is not None else ""

    def _drawings(self, count: int) -> list[Item]:
        """Give a sheet's pictures, boxes and charts."""
        drawing = self._drawing_part(self._drawing_member(count))
        if drawing is None:
            return []
        setting = Setting(
            drawing,
            None,
            None,
            self._theme,
            Palette(self._theme.scheme),
            drawing,
            None,
            theme_member=self._place.theme,
        )
        related = PackageParts(self._file.package)
        sheet = self._sheet(count)
        if sheet is None:
            # Nothing but the chart, all over the page.
            size = self._chart_size(count)
            whole = Box(0.0, 0.0, size.width, size.height)
            reader = DrawingReader(drawing, setting, related, self._words(count), NO_GRID, whole)
            return list(reader.items())
        return list(DrawingReader(drawing, setting, related, sheet.words, sheet.grid).items())

    def _drawing_part(self, member: str) -> Part | None:
        """Give a drawing with its shapes under the names that slides have for them."""
        if member not in self._file.package.members:
            return None
        edited = self._file.edited.get(member)
        if edited is not None:
            return replace(self._file.store.part(member), root=copy.deepcopy(edited))
        return as_slide_part(self._file.store.part(member))

    def scene(self, page: int) -> Scene:
        """Describe a sheet for measuring: what it states, and its drawings with the cells below."""
        info, sheet = self.pages[page], self._sheet(page)
        root = self._part(self._listed[page][1]).root
        items: list[Item] = list(printed_texts(root, self._words(page), self._styles))
        drawings = self._drawings(page)
        if sheet is None:
            return Scene(info.width, info.height, (*items, *drawings), hidden=info.hidden)
        items = [*sheet.stated(), *items, *self._comments(page, sheet)]
        width, height = info.width, info.height
        if drawings:
            boxes = [drawn_extent(item) for item in drawings]
            width = min(width, max(box.right for box in boxes) + ROUND)
            height = min(height, max(box.bottom for box in boxes) + ROUND)
            left, top = min(box.x for box in boxes), min(box.y for box in boxes)
            part = Box(left, top, width - left, height - top)
            below = cell_items(sheet, sheet.grid.area_in(part))
            items += [item for item in below if not is_text(item)]
            items += drawings
        return Scene(max(1.0, width), max(1.0, height), tuple(items), hidden=info.hidden)

    def part_of(self, page: int, box: Box) -> Scene:
        """Describe what a part of a sheet shows, for painting."""
        info, sheet = self.pages[page], self._sheet(page)
        items: list[Item] = []
        if sheet is not None:
            items += cell_items(sheet, sheet.grid.area_in(box))
        items += self._drawings(page)
        return Scene(info.width, info.height, tuple(items), hidden=info.hidden)

    def address_at(self, page: int, x: float, y: float) -> str:
        """Give the address of the look that the cell at a point has."""
        sheet = self._sheet(page)
        return sheet.address_at(x, y) if sheet is not None else ""

    def _comments(self, page: int, sheet: Sheet) -> list[Item]:
        part = self._part(self._listed[page][1])
        member = part.target("comments")
        if member not in self._file.package.members:
            return []
        comments = self._file.store.part(member)
        drawn = part.target("vmlDrawing")
        root = self._file.store.part(drawn).root if drawn in self._file.package.members else None
        return list(comment_texts(comments, root, self._styles, sheet))

    # Edits

    def edited(self, edits: Sequence[Edit]) -> Workbook:
        """Give the workbook with these edits carried out on copies of its parts."""
        roots: dict[str, Element] = {}

        def root_of(member: str) -> Element:
            if member not in roots:
                root = self._file.to_change(member, member)
                drawn = local_name(root) == "wsDr"
                roots[member] = as_slide_root(root) if drawn else root
            return roots[member]

        restyled = Restyled()
        for edit in edits:
            apply(edit, root_of, self._place.styles, restyled)
        workbook = copy.copy(self)
        workbook._restyled = restyled
        workbook._file = self._file.with_edited(roots)
        changed = {*roots, *self._file.edited}
        strings = self._place.strings
        # A large sheet's cells name entries of the list of words, and are read anew with it.
        anew = changed | (set(self._written) if strings in changed else set())
        workbook._parts = {key: part for key, part in self._parts.items() if key not in anew}
        workbook._written = {key: each for key, each in self._written.items() if key not in anew}
        workbook._cells = {
            member: restyled.cells(member, cells)
            for member, cells in self._cells.items()
            if member not in self._file.edited and strings not in changed
        }
        workbook._strings = [] if strings in changed else self._strings
        workbook._read()
        return workbook

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell which sheets may look different after edits."""
        members = {member_of(each) for edit in edits for each in expand(edit.address)}
        own = {count for count, (_, member, _) in enumerate(self._listed) if member in members}
        if members <= {member for _, member, _ in self._listed}:
            return frozenset(own)
        return frozenset(range(len(self._listed)))

    def colours(self, page: int) -> tuple[tuple[int, int, int], ...]:
        """List the theme's colours."""
        scheme = self._theme.scheme
        return tuple(dict.fromkeys(colour.levels for colour in scheme.values()))

    def colour_sets(self) -> tuple[ColourSet, ...]:
        """Give the theme's set, with the tints of it that the styles of cells have."""
        theme = self._file.store.shared(self._place.theme)
        styles = self._file.store.shared(self._place.styles)
        if theme is None:
            return ()
        shades = dict.fromkeys(shades_in(styles.root)) if styles is not None else {}
        return (theme_set(theme.member, theme.root, self.name, shades),)

    def save(self, target: Path) -> None:
        """Write a copy: the edited parts new, every other member byte for byte."""
        replaced = dict(self._file.replaced_members())
        for member, root in self._file.edited.items():
            if local_name(root) == "wsDr":
                own, slides = NAMESPACES["xdr"].encode(), NAMESPACES["p"].encode()
                replaced[member] = replaced[member].replace(slides + b'"', own + b'"')
        self._file.package.write_copy(target, replaced)

    def close(self) -> None:
        """Let go of the file; edited versions share it."""
        self._file.close()
