"""A deck as a document: its slides as scenes, edits, and the saved copy."""

from __future__ import annotations

import copy
from collections.abc import Sequence
from pathlib import Path

from high_pair.edits.kinds import Edit, LayOver, TakeOff
from high_pair.errors import UnreadableFile
from high_pair.formats.document import BareDocument, PageInfo
from high_pair.formats.drawing.colour_sets import Shade, shades_in, theme_set
from high_pair.formats.drawing.fills import EMU_PER_POINT
from high_pair.formats.drawing.related import PackageParts
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.shapes import ShapeReader
from high_pair.formats.drawing.surfaces import background_items, background_of
from high_pair.formats.office_file import OfficeFile
from high_pair.formats.package import READS, Package
from high_pair.formats.parts import Part
from high_pair.formats.relationships import content_type_of, main_part_of
from high_pair.formats.slides.edits import apply
from high_pair.formats.slides.overlays import above_address, overlay_address
from high_pair.formats.slides.parts import slide_parts
from high_pair.formats.xml import (
    Element,
    child,
    flag,
    local_name,
    tag,
    whole,
)
from high_pair.scene.addresses import Address, member_of
from high_pair.scene.colour_set import ColourSet
from high_pair.scene.geometry import Box
from high_pair.scene.page import Item, Scene
from high_pair.scene.text import Decider

KIND = "slides"
# A slide's size is that of the standard's default where none is stated (§19.2.1.39).
PLAIN_SIZE = (9_144_000, 6_858_000)
SMALLEST_EMU, LARGEST_EMU = 914_400 // 4, 51_206_400
MOST_SLIDES = 10_000


class Deck(BareDocument):
    """An open deck; see `formats.document.Document`, whose methods it has."""

    kind = KIND

    def __init__(self, package: Package) -> None:
        """Read a package's presentation part. Raises UnreadableFile."""
        self.name = package.name
        self._file = OfficeFile(package)
        self.pictures = self._file.pictures
        self._presentation = self._file.store.part(_main_part(package))
        if local_name(self._presentation.root) != "presentation":
            raise UnreadableFile(self.name, "it is an office file, but no slide deck.")
        self._members = self._slide_members()
        self.pages = self._pages()

    def _slide_members(self) -> tuple[str, ...]:
        listed = child(self._presentation.root, "p:sldIdLst")
        found = []
        found_once: set[str] = set()
        for entry in listed.findall(tag("p:sldId")) if listed is not None else ():
            member = self._presentation.target_of(entry.get(tag("r:id"), ""))
            if member in found_once:
                # ECMA-376 Part 1 §13.3.8: each slide is a part of its own.
                self._file.assume("a slide that the deck lists more than once counts once")
            elif member in self._file.package.members:
                found.append(member)
                found_once.add(member)
            else:
                self._file.assume("a slide that the deck lists isn't in the file: it is left out")
        if len(found) > MOST_SLIDES:
            raise UnreadableFile(self.name, f"it has {len(found):,} slides, more than are read.")
        return tuple(found)

    def _pages(self) -> tuple[PageInfo, ...]:
        size = child(self._presentation.root, "p:sldSz")
        sides = []
        for attribute, plain in zip(("cx", "cy"), PLAIN_SIZE, strict=True):
            stated = whole(size, attribute, plain)
            sides.append(stated if SMALLEST_EMU <= stated <= LARGEST_EMU else plain)
        width, height = (side / EMU_PER_POINT for side in sides)
        return tuple(
            PageInfo(f"Slide {count}", width, height, self._is_hidden(member))
            for count, member in enumerate(self._members, start=1)
        )

    def _is_hidden(self, member: str) -> bool:
        return not flag(self._file.store.part(member).root, "show", default=True)

    def assumed(self) -> tuple[str, ...]:
        """Say what was assumed of parts that are missing."""
        return self._file.assumed

    def scene(self, page: int) -> Scene:
        """Describe a slide."""
        member = self._members[page]
        parts = slide_parts(self._file.store, self._presentation, member)
        for sentence in parts.assumed:
            self._file.assume(sentence)
        info = self.pages[page]
        background, stated_in = background_of(parts)
        box = Box(0.0, 0.0, info.width, info.height)
        items: list[Item] = background_items(background, stated_in, box, member)
        related = PackageParts(self._file.package)
        # §19.2.1.26: where the numbers of slides begin.
        number = page + whole(self._presentation.root, "firstSlideNum", 1)
        for part, on in _painted_parts(parts):
            reader = ShapeReader(part, on, parts, info.name, number, background, related)
            items.extend(reader.items())
        return Scene(info.width, info.height, tuple(items), hidden=info.hidden)

    def edited(self, edits: Sequence[Edit]) -> Deck:
        """Give the deck with these edits carried out on copies of its parts."""
        roots: dict[str, Element] = {}
        # Overlays last: what else is addressed by its place isn't moved by them.
        for edit in sorted(edits, key=lambda edit: isinstance(edit, LayOver | TakeOff)):
            member = member_of(edit.address)
            if member not in roots:
                roots[member] = self._file.to_change(member, edit.address)
            apply(edit, roots[member])
        deck = copy.copy(self)
        deck._file = self._file.with_edited(roots)
        return deck

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell which slides show the parts that edits lie in."""
        members = {member_of(edit.address) for edit in edits}
        direct = {page for page, member in enumerate(self._members) if member in members}
        if members <= set(self._members):
            return frozenset(direct)
        # A layout or a master: every slide may show it.
        return frozenset(range(len(self._members)))

    def overlay_address(self, address: str) -> str | None:
        """Give the address of an overlay below the text at an address."""
        return overlay_address(address)

    def shape_address(self, address: str) -> str | None:
        """Give the address of the shape of a text that stands on a slide of its own."""
        found = Address.of(address)
        own = found.member in self._members and found.first.name == "sp"
        return str(Address(found.member, found.steps[:1])) if own else None

    def above(self, address: str) -> Decider | None:
        """Give where an overlay right above a picture goes."""
        own = above_address(address)
        part = self._file.store.shared(member_of(address)) if own is not None else None
        words = {"sldMaster": "master", "sldLayout": "layout"}
        where = words.get(local_name(part.root)) if part is not None else None
        return Decider(f"over the picture in the {where}", own) if own and where else None

    def colours(self, page: int) -> tuple[tuple[int, int, int], ...]:
        """List the theme's colours for a slide."""
        parts = slide_parts(self._file.store, self._presentation, self._members[page])
        return tuple(dict.fromkeys(colour.levels for colour in parts.palette.scheme.values()))

    def colour_sets(self) -> tuple[ColourSet, ...]:
        """List the themes that slides follow, with the shades that are derived there."""
        store = self._file.store
        shades: dict[str, dict[Shade, None]] = {}
        # Layouts and masters are shared by slides, and looked through once for each theme.
        seen: set[tuple[str, str]] = set()
        for member in self._members:
            parts = slide_parts(store, self._presentation, member)
            if not parts.theme_member:
                continue
            found = shades.setdefault(parts.theme_member, {})
            for part in (parts.own, parts.layout, parts.master):
                if part is not None and (parts.theme_member, part.member) not in seen:
                    seen.add((parts.theme_member, part.member))
                    found |= dict.fromkeys(shades_in(part.root, parts.palette))
        sets = []
        for member, found in shades.items():
            theme = store.shared(member)
            if theme is not None:
                sets.append(theme_set(theme.member, theme.root, self.name, found))
        return tuple(sets)

    def save(self, target: Path) -> None:
        """Write a copy: the edited parts new, every other member byte for byte."""
        self._file.save(target)

    def close(self) -> None:
        """Let go of the file; edited versions share it."""
        self._file.close()


def _painted_parts(parts: Setting) -> list[tuple[Part, str]]:
    """Give the parts whose shapes a slide shows, lowest first (§19.3.1.38, showMasterSp)."""
    found: list[tuple[Part, str]] = [(parts.own, "slide")]
    if parts.layout is not None and flag(parts.own.root, "showMasterSp", default=True):
        found.insert(0, (parts.layout, "layout"))
        if parts.master is not None and flag(parts.layout.root, "showMasterSp", default=True):
            found.insert(0, (parts.master, "master"))
    return found


def _main_part(package: Package) -> str:
    """Find the presentation part by the package's relationships."""
    main = main_part_of(package)
    if not main:
        raise UnreadableFile(
            package.name,
            f"it is a zip file without a deck, a document or a workbook in it. {READS}",
        )
    kind = content_type_of(package, main)
    if kind and not any(word in kind for word in ("presentation", "slideshow", "powerpoint")):
        raise UnreadableFile(package.name, "it is an office file, but no slide deck.")
    return main
