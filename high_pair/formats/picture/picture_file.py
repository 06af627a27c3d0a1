"""A picture as a document: each frame a page, its text in boxes drawn by a person."""

from __future__ import annotations

import copy
import functools
from collections.abc import Sequence
from pathlib import Path
from typing import IO

import numpy as np

from high_pair.colour.srgb import Bytes
from high_pair.edits.kinds import Edit, MarkText, Repaint, UnmarkText
from high_pair.errors import EditError, UnreadableFile
from high_pair.formats.document import BareDocument, PageInfo
from high_pair.formats.picture.repainting import (
    can_be_repainted,
    corners_of,
    suffixes_of,
    written,
)
from high_pair.formats.writing import write_whole
from high_pair.raster.pictures import (
    FrameFile,
    GiantPicture,
    PictureProblem,
    Pictures,
    decode,
    frames_of,
)
from high_pair.scene.addresses import Address, Step
from high_pair.scene.geometry import IDENTITY, Box
from high_pair.scene.page import Picture, PictureText, Scene

KIND = "picture"
MOST_BYTES = 512 * 1024**2
MOST_PAGES = 1_000
# CSS Values 3, §6.2: a pixel is 1/96 inch, so three quarters of a point.
POINTS_A_PIXEL = 0.75
PLAIN_DOTS = (0.0, 72.0, 96.0)
OPAQUE = 255
NO_BOXES = "no box is drawn round its text yet, so nothing is known of it"


def _address(page: int, *steps: Step) -> str:
    """Write the address of a page, counted from 0, or of what is on it."""
    return str(Address("picture", (Step("page", str(page + 1)), *steps)))


def _place(address: str) -> tuple[int, int]:
    """Give an address's page, from 0, and its box's number. Raises EditError."""
    found = Address.of(address)
    page, box = found.step("page"), found.step("box")
    if page is None or box is None or page.number is None or box.number is None:
        raise EditError(f"{address} is no address of a box in a picture")
    return page.number - 1, box.number


class PictureFile(BareDocument):
    """An open picture; see `formats.document.Document`, whose methods it has."""

    kind = KIND

    def __init__(self, path: Path) -> None:
        """Read a picture's file. Raises UnreadableFile."""
        self.name = path.name
        self._path = path
        self._marks: tuple[MarkText, ...] = ()
        self._removed: frozenset[str] = frozenset()
        self._repaints: tuple[Repaint, ...] = ()
        self._as_written = b""
        try:
            if path.stat().st_size > MOST_BYTES:
                raise UnreadableFile(self.name, "it is larger than is read.")
            self._data = path.read_bytes()
            self._frames = frames_of(self._data)
        except OSError as error:
            raise UnreadableFile(self.name, f"it can't be opened ({error.strerror}).") from error
        except PictureProblem as error:
            raise self._refused(error) from error
        self._count = 1 if self._frames.moving else self._frames.count
        if self._count > MOST_PAGES:
            raise UnreadableFile(self.name, f"it has {self._count:,} pages, more than are read.")
        self.pictures = Pictures(self._load)
        self.pages = tuple(self._page(number) for number in range(self._count))

    def _refused(self, problem: PictureProblem) -> UnreadableFile:
        what = "with fewer pixels" if isinstance(problem, GiantPicture) else "as PNG or JPEG"
        words = f"it can't be read as a picture: {problem}. Save it anew {what}."
        return UnreadableFile(self.name, words)

    def first_page(self) -> Bytes:
        """Give the first page's pixels, uint8 (h, w, 4). Raises UnreadableFile."""
        try:
            return decode(self._load("0"))
        except PictureProblem as error:
            raise self._refused(error) from error

    def _load(self, name: str) -> bytes:
        number = int(name)
        if self._repaints:
            return self._as_written
        if number == 0 and not self._frames.turned:
            return self._data
        return self._frame_file.alone(number)

    @functools.cached_property
    def _frame_file(self) -> FrameFile:
        return FrameFile(self._data)

    def _page(self, number: int) -> PageInfo:
        try:
            width, height = self._frames.size if number == 0 else self._frame_file.size(number)
        except PictureProblem as error:
            raise UnreadableFile(
                self.name, f"page {number + 1} can't be read: {error}. Save it anew."
            ) from error
        name = "Picture" if self._count == 1 else f"Picture {number + 1}"
        return PageInfo(name, width * POINTS_A_PIXEL, height * POINTS_A_PIXEL, False)

    def assumed(self) -> tuple[str, ...]:
        """Say what isn't known of a picture."""
        found = ["a pixel of a picture is taken as 1/96 inch, by which the text's size is counted"]
        if round(self._frames.dots) not in PLAIN_DOTS:
            found[0] += f"; the file states {self._frames.dots:.0f} pixels an inch"
        if self._frames.moving and self._frames.count > 1:
            found.append("of a moving picture the first frame is measured")
        return tuple(found)

    def scene(self, page: int) -> Scene:
        """Describe a page: the picture, and the boxes of its text."""
        info = self.pages[page]
        whole = Box(0.0, 0.0, info.width, info.height)
        texts = tuple(
            PictureText(
                Box(*mark.box),
                f"{info.name} › box {_place(mark.address)[1]}",
                mark.address,
                mark.words,
                mark.size,
                mark.weight,
            )
            for mark in self._marks
            if _place(mark.address)[0] == page
        )
        if not texts:
            unread = PictureText(whole, info.name, _address(page), unread=NO_BOXES)
            texts = (unread,)
        picture = Picture(str(page), whole, IDENTITY)
        return Scene(info.width, info.height, (picture, *texts))

    def edited(self, edits: Sequence[Edit]) -> PictureFile:
        """Give the picture with these boxes."""
        marks: dict[str, MarkText] = {}
        removed: set[str] = set()
        repaints: list[Repaint] = []
        for edit in edits:
            page, _ = _place(edit.address)
            if not 0 <= page < len(self.pages):
                raise EditError(f"{edit.address} isn't in {self.name}")
            if isinstance(edit, MarkText):
                marks[edit.address] = edit
                removed.discard(edit.address)
            elif isinstance(edit, UnmarkText):
                marks.pop(edit.address, None)
                removed.add(edit.address)
            elif isinstance(edit, Repaint) and self.can_be_repainted:
                repaints.append(edit)
            else:
                raise EditError(f"{self.name}: the colours of a picture's text can't be changed")
        found = copy.copy(self)
        found._marks = tuple(marks.values())
        found._removed = frozenset(removed)
        found._repaints = tuple(repaints)
        if found._repaints != self._repaints:
            if repaints:
                # What is shown and measured is what a copy of the usual kind has, losses included.
                suffix = suffixes_of(self._data, self._path.suffix)[0]
                found._as_written = written(self._data, repaints, self.name, suffix)
            found.pictures = Pictures(found._load)
        return found

    @functools.cached_property
    def can_be_repainted(self) -> bool:
        """Whether its pixels can be changed, and all else of it kept."""
        return self._count == 1 and can_be_repainted(self._data)

    def pixels(self, page: int, box: Box) -> Bytes | None:
        """Give the pixels of a part of a page, uint8 (h, w, 3); None where they aren't changed."""
        if not self.can_be_repainted:
            return None
        left, top, width, height = corners_of((box.x, box.y, box.width, box.height))
        part = self.pictures.decoded(str(page)).crop((left, top, left + width, top + height))
        if part.mode == "RGBA" and np.asarray(part)[..., 3].min(initial=OPAQUE) < OPAQUE:
            return None
        return np.asarray(part.convert("RGB"))

    @property
    def copy_suffixes(self) -> tuple[str, ...]:
        """The suffixes of what can be saved of it, the usual one first."""
        own = self._path.suffix
        if not self.can_be_repainted:
            return (own,)
        return tuple(dict.fromkeys((own, *suffixes_of(self._data, own))))

    def opened_as_saved(self, target: Path) -> PictureFile:
        """Open a copy, with the boxes that are drawn on the picture."""
        return PictureFile(target).edited(self._marks)

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell on which pages the boxes of edits stand."""
        pages = (Address.of(edit.address).first.number for edit in edits)
        return frozenset(page - 1 for page in pages if page is not None)

    def new_box_address(self, page: int) -> str:
        """Give the address of a box that isn't there yet, nor has been."""
        known = [_place(mark.address) for mark in self._marks]
        known += [_place(address) for address in self._removed]
        numbers = [number for on, number in known if on == page]
        return _address(page, Step("box", str(max(numbers, default=0) + 1)))

    def box_at(self, address: str) -> MarkText | None:
        """Give the box at an address."""
        return next((mark for mark in self._marks if mark.address == address), None)

    def save(self, target: Path) -> None:
        """Write a copy: byte for byte where boxes alone were drawn, which change nothing in it."""
        data = self._data
        if self._repaints:
            data = written(data, self._repaints, target.name, target.suffix)

        def write(out: IO[bytes]) -> None:
            out.write(data)

        write_whole(target, self._path, write)

    def close(self) -> None:
        """Nothing is held open."""
