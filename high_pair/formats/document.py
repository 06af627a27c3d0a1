"""What a document of any format gives to the layers above."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum
from pathlib import Path
from typing import Protocol, runtime_checkable

from high_pair.colour.srgb import Bytes
from high_pair.edits.kinds import Edit, MarkText
from high_pair.formats.web.settings import WebSettings
from high_pair.raster.pictures import Pictures
from high_pair.scene.colour_set import ColourSet
from high_pair.scene.geometry import Box
from high_pair.scene.page import Scene
from high_pair.scene.text import Decider


class Shown(Enum):
    """How a page is looked at: all at once, or at its width, from top to bottom.

    LONG: it goes on for many screens; SHEET: it may be of any size in both directions,
    and a part of it is looked at.
    """

    WHOLE = "whole"
    PAPER = "paper"
    LONG = "long"
    SHEET = "sheet"


@dataclass(frozen=True)
class PageInfo:
    """A page's name and its size in points.

    headings: level (from 1) and words of the headings that begin on it; shown: how it is looked at.
    """

    name: str
    width: float
    height: float
    hidden: bool
    headings: tuple[tuple[int, str], ...] = ()
    shown: Shown = Shown.WHOLE

    @property
    def seen_whole(self) -> bool:
        """Whether it is looked at all at once, and not a part of it at its width."""
        return self.shown in (Shown.WHOLE, Shown.PAPER)


# The part of a sheet of any size that stands for it where it is shown small, in points.
SHOWN_WIDTH, SHOWN_HEIGHT = 900.0, 640.0


def shown_part(info: PageInfo) -> Box:
    """Give the part of a page that its small picture shows: the whole, or a sheet's first part."""
    if info.shown is not Shown.SHEET:
        return Box(0.0, 0.0, info.width, info.height)
    return Box(0.0, 0.0, min(info.width, SHOWN_WIDTH), min(info.height, SHOWN_HEIGHT))


class Document(Protocol):
    """An open document. Pages count from 0 here."""

    @property
    def name(self) -> str:
        """The file's name, without its folder."""

    @property
    def kind(self) -> str:
        """The review format's word for the family."""

    @property
    def pages(self) -> tuple[PageInfo, ...]:
        """The pages in reading order."""

    @property
    def pictures(self) -> Pictures:
        """The decoded pictures, shared by all pages and by edited versions."""

    def scene(self, page: int) -> Scene:
        """Describe a page. Raises UnreadableFile when its part is damaged."""

    def part_of(self, page: int, box: Box) -> Scene:
        """Describe a page for painting a part of it: what stands elsewhere may be left out."""

    def address_at(self, page: int, x: float, y: float) -> str:
        """Give the address of the text at a point of a page, where a text has many places.

        Empty where pairs' own boxes tell.
        """

    def assumed(self) -> tuple[str, ...]:
        """Say what was assumed of parts that are missing, in sentences."""

    def edited(self, edits: Sequence[Edit]) -> Document:
        """Give the document as it would be with these edits, and no others, carried out.

        Raises EditError when an address isn't there.
        """

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell which pages may look different after edits."""

    def new_box_address(self, page: int) -> str | None:
        """Give an address for one more box round text that is part of a page's picture.

        None where the file states its text, and nobody needs to draw boxes.
        """

    def box_at(self, address: str) -> MarkText | None:
        """Give the box at an address, None where none was drawn."""

    def overlay_address(self, address: str) -> str | None:
        """Give the address of an overlay just below the text at an address.

        None where none can be laid there.
        """

    def shape_address(self, address: str) -> str | None:
        """Give the address of the shape that a text stands in, if it can be moved on its page.

        None where it can't.
        """

    def plate_address(self, address: str) -> str | None:
        """Give where a text can have a fill of its own right behind its words.

        None where the format has none.
        """

    def above(self, address: str) -> Decider | None:
        """Give where an overlay right above a picture goes, that many pages have from elsewhere.

        None where none can be laid there.
        """

    def colours(self, page: int) -> tuple[tuple[int, int, int], ...]:
        """List the file's own colours for a page, such as the theme's; 8-bit."""

    def colour_sets(self) -> tuple[ColourSet, ...]:
        """List the sets of colours that the file decides in one place, such as its themes.

        Each colour has the address of an edit that changes it; pairs aren't known yet.
        """

    def save(self, target: Path) -> None:
        """Write the document with its edits. Raises UnwritableFile."""

    def close(self) -> None:
        """Let go of the file."""


class BareDocument:
    """What a document says that has nothing of what only some formats have.

    Each format has in its own words what it does have; see `Document`.
    """

    def scene(self, page: int) -> Scene:
        """Describe a page."""
        raise NotImplementedError

    def part_of(self, page: int, _box: Box) -> Scene:
        """Describe the whole page: leaving something out would save no time."""
        return self.scene(page)

    def address_at(self, _page: int, _x: float, _y: float) -> str:
        """Each text has a place of its own."""
        return ""

    def assumed(self) -> tuple[str, ...]:
        """Nothing is assumed."""
        return ()

    def new_box_address(self, _page: int) -> str | None:
        """The file states its text."""
        return None

    def box_at(self, _address: str) -> MarkText | None:
        """No boxes are drawn in it."""
        return None

    def overlay_address(self, _address: str) -> str | None:
        """Nothing can be laid below its text."""
        return None

    def shape_address(self, _address: str) -> str | None:
        """Its texts stand where they are."""
        return None

    def plate_address(self, _address: str) -> str | None:
        """Its text has no fill of its own."""
        return None

    def above(self, _address: str) -> Decider | None:
        """No page has its pictures from elsewhere."""
        return None

    def colours(self, _page: int) -> tuple[tuple[int, int, int], ...]:
        """It has no theme."""
        return ()

    def colour_sets(self) -> tuple[ColourSet, ...]:
        """It decides no colours together."""
        return ()


@runtime_checkable
class MadeWhole(Protocol):
    """A document of which every edit makes all pages anew, which takes long where they are many."""

    made_whole: bool


def made_whole(document: Document) -> bool:
    """Tell whether an edit makes all pages of a document anew."""
    return isinstance(document, MadeWhole) and document.made_whole


@runtime_checkable
class SavedOtherwise(Protocol):
    """A document that is saved in several forms, or needs more than its copy to be measured."""

    @property
    def copy_suffixes(self) -> tuple[str, ...]:
        """The suffixes of what can be saved of it, the usual one first."""

    def opened_as_saved(self, target: Path) -> Document:
        """Open what it was saved as."""


@runtime_checkable
class ShownByEngine(Protocol):
    """A document that a browser engine shows, in a way that a person chooses."""

    @property
    def shown_as(self) -> WebSettings | None:
        """How it is shown; None where there is nothing to choose."""

    def mends_as_sheet(self) -> str | None:
        """Give its mends as a style sheet; None where it has none."""


@runtime_checkable
class OfPixels(Protocol):
    """A document whose pages are pictures, of which parts can be repainted."""

    def pixels(self, page: int, box: Box) -> Bytes | None:
        """Give the pixels of a part of a page, uint8 (h, w, 3); None where they aren't changed."""


@runtime_checkable
class OfParts(Protocol):
    """A document that is made of other files beside its own."""

    @property
    def made_of(self) -> tuple[str, ...]:
        """The paths of the files that it was shown with."""


def made_of(document: Document) -> tuple[str, ...]:
    """List the files that a document was shown with beside its own."""
    return document.made_of if isinstance(document, OfParts) else ()


@runtime_checkable
class TriedElsewhere(Protocol):
    """A document that another program paints, which takes its time."""

    def for_trial(self) -> Document:
        """Give it without what only shows in states of controls, such as being pointed at."""


def for_trial(document: Document) -> Document:
    """Give a document for trying a change, with nothing measured that the change doesn't need."""
    return document.for_trial() if isinstance(document, TriedElsewhere) else document
