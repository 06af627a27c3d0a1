"""Painting a page, and parts of it as they look at other times.

Three paintings tell all: the page as seen, without its text, and with all text
in one odd colour, by which is known how much of each pixel is ink. Where text
is blended or stands in a see-through group, a fourth in another odd colour
tells that whatever is behind the text and whatever lies over it.
"""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Executor, Future
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from high_pair.engine.frames import Painter, Pixels, Words, bands, colours_of
from high_pair.engine.page import BrowserPage
from high_pair.engine.protocol import Text, Tile, Told
from high_pair.engine.texts import boxes_of

Places = NDArray[np.intp]
Area = tuple[slice, slice]
STEADY = (
    "*,*::before,*::after{transition:none!important;caret-color:transparent!important;"
    "scroll-behavior:auto!important}"
    "::-webkit-scrollbar{display:none}"
    # Where scripts may not run, the engine offers controls of its own for every film.
    "video:not([controls])::-webkit-media-controls{display:none!important}"
    ".hp-later [hp-bar]{visibility:hidden!important}"
)
EVERY = (
    "*,*::before,*::after,*::placeholder,*::first-line,*::first-letter,*::marker,"
    "*::file-selector-button"
)
CLEAR = "text-decoration-color:transparent!important;text-emphasis-color:transparent!important;"
# Shadows in the letters' own colour.
GLOW = "[hp-glow],[hp-glow]::before,[hp-glow]::after{text-shadow:none!important}"
WITHOUT = (
    f"{EVERY}{{-webkit-text-fill-color:transparent!important;"
    f"-webkit-text-stroke-color:transparent!important;{CLEAR}}}"
    "svg text,svg text *{fill:transparent!important;stroke:transparent!important}"
    f"[hp-clip]{{background:none!important}}{GLOW}"
)
# Ink in one odd colour tells how much of a pixel it is where it isn't blended.
UNBLENDED = "[hp-blend]{mix-blend-mode:normal!important}"
BARELESS = "[hp-bar],[hp-bar] *{opacity:0!important}"
# Two colours that hardly any page has, far from one another and from most others.
ONE, OTHER = (3, 250, 131), (251, 4, 129)
# Nearer to that colour than this, in every channel, ink can't be told from its backdrop.
TOO_NEAR = 48
# Levels of 255 by which paint has to change a pixel to be no rounding.
PLAINLY = 24
# And a shadow, to be no mere breath.
SHADOW = 48
# One pixel of so many is looked at, in both directions.
SAMPLED = 3
# So many found there are more than chance.
VEILED = 6
# What paintings of parts may hold together.
MOST_TILE_PIXELS = 24_000_000
# And so many pixels of parts are held while they are painted.
MOST_AT_A_TIME = 6_000_000
# A pixel that is ink through and through.
FULL = 250
# A pixel of a letter that has colours of its own.
OWN_COLOURS = 255


def inked(levels: tuple[int, int, int]) -> str:
    """Give the sheet that makes all text one colour."""
    colour = f"rgb({levels[0]} {levels[1]} {levels[2]})"
    return (
        f"{EVERY}{{-webkit-text-fill-color:{colour}!important;"
        f"-webkit-text-stroke-color:{colour}!important;{CLEAR}}}"
        f"svg text,svg text *{{fill:{colour}!important}}{GLOW}{UNBLENDED}"
    )


@dataclass(frozen=True)
class Paintings:
    """A page, or a part of it, as seen and without text, and how much of each pixel is ink.

    weak: see `weakly_painted`, None where that isn't known; left, top: where on the page they
    begin, in pixels.
    """

    seen: Pixels
    backdrop: Pixels
    coverage: Pixels
    weak: NDArray[np.bool_] | None = None
    left: int = 0
    top: int = 0

    def part(self, left: int, top: int, right: int, bottom: int) -> Paintings:
        """Give a part of them, by pixels of theirs."""
        area = (slice(top, bottom), slice(left, right))
        found = Paintings(self.seen[area], self.backdrop[area], self.coverage[area])
        return replace(found, left=self.left + left, top=self.top + top)

    def copied(self) -> Paintings:
        """Give them apart from what they are a part of, which can then be let go of."""
        apart = {name: getattr(self, name).copy() for name in ("seen", "backdrop", "coverage")}
        return replace(self, **apart)

    def area(self, box: list[float], zoom: float) -> Area:
        """Give where in them a box of the page lies, in CSS pixels."""
        across, down = self.left / zoom, self.top / zoom
        moved = [box[0] - across, box[1] - down, box[2], box[3]]
        left, top, right, bottom = pixels_of(moved, zoom, self.coverage.shape)
        return slice(top, bottom), slice(left, right)


@dataclass
class Taken:
    """What is told of a page.

    tiles: paintings of parts as they look at other times; layers: see `layers.find_layers`;
    shadows: where texts' own shadows are painted, 1 or 0, None where no text has one; began: when,
    in the seconds of time.monotonic.
    """

    page: BrowserPage
    painter: Painter
    told: Told
    main: Paintings | None = None
    layers: Pixels | None = None
    shadows: Pixels | None = None
    tiles: list[tuple[Tile, Paintings]] = field(default_factory=list)
    tile_pixels: int = 0
    began: float = field(default_factory=time.monotonic)

    @property
    def full(self) -> bool:
        """Whether no further parts are kept, for the room that they take."""
        page = self.main.coverage.size if self.main is not None else 0
        return self.tile_pixels >= MOST_TILE_PIXELS - page // 3


@dataclass(frozen=True)
class Changed:
    """What a painting has otherwise than another: places in the flat painting, pixels there."""

    places: NDArray[np.int32]
    words: Words

    @classmethod
    def between(cls, painting: Words, base: Words) -> Changed:
        """Compare a painting with another one, the base."""
        places = np.flatnonzero(painting != base).astype(np.int32)
        return cls(places, painting.reshape(-1)[places])

    def on(self, base: Words, band: slice) -> Words:
        """Give some rows of the painting, made anew from the base."""
        width = base.shape[1]
        first, last = np.searchsorted(self.places, (band.start * width, band.stop * width))
        found = base[band].copy()
        found.reshape(-1)[self.places[first:last] - band.start * width] = self.words[first:last]
        return found


def paint(
    painter: Painter, beside: Executor, exactly: bool = True, more: str = ""
) -> Future[Paintings]:
    """Paint the page as it is now.

    beside: a thread on which one painting is made ready while the engine is at the
    next; exactly: text is blended, filtered or within a see-through group, so that
    what is ink shows only between two paintings of it, as it does below something
    see-through; more: a sheet besides.
    """
    painter.show(STEADY + more)
    seen_whole = painter.grab()
    painter.show(STEADY + WITHOUT + more)
    backdrop = painter.grab()
    # What is the same in all of them, nearly everything, is held once.
    seen = Changed.between(seen_whole, backdrop)
    seen_sampled = seen_whole[::SAMPLED, ::SAMPLED].copy()
    del seen_whole
    near = beside.submit(has_near, backdrop)
    painter.show(STEADY + inked(ONE) + more)
    one_whole = painter.grab()
    sampled = (each[::SAMPLED, ::SAMPLED] for each in (backdrop, one_whole))
    weak = weakly_painted(seen_sampled, *sampled)
    one = Changed.between(one_whole, backdrop)
    del one_whole
    other: Words | None = None
    if exactly or near.result() or weak.sum() >= VEILED:
        painter.show(STEADY + inked(OTHER) + more)
        other = painter.grab()

    def whole() -> Paintings:
        found = Paintings(
            np.empty((*backdrop.shape, 3), np.uint8),
            np.empty((*backdrop.shape, 3), np.uint8),
            np.empty(backdrop.shape, np.uint8),
            weak,
        )
        for band in bands(len(backdrop)):
            behind = backdrop[band]
            now, ink = seen.on(backdrop, band), one.on(backdrop, band)
            found.seen[band], found.backdrop[band] = colours_of(now), colours_of(behind)
            if other is not None:
                found.coverage[band] = coverage_between(now, behind, ink, other[band])
            else:
                found.coverage[band] = coverage_on(now, behind, ink)
        return found

    return beside.submit(whole)


def on_backdrop(seen: Words, backdrop: Words, one: Words) -> Paintings:
    """Give what three paintings tell of plain text."""
    return Paintings(colours_of(seen), colours_of(backdrop), coverage_on(seen, backdrop, one))


def between(seen: Words, backdrop: Words, one: Words, other: Words) -> Paintings:
    """Give what four paintings tell of any text."""
    coverage = coverage_between(seen, backdrop, one, other)
    return Paintings(colours_of(seen), colours_of(backdrop), coverage)


@dataclass(frozen=True)
class Part:
    """A part of the page, at a box of it in CSS pixels; bring: what brings it into view; scrolled:
    how far the page then is."""

    box: list[float]
    bring: Callable[[], None] | None = None
    scrolled: float = 0.0


def paint_parts(
    painter: Painter,
    parts: Sequence[Part],
    exactly: bool,
    more: str = "",
    seconds: float = math.inf,
    enough: Callable[[], bool] = lambda: False,
) -> Iterator[Paintings | None]:
    """Paint parts of the page one after the other, None for those that no time is left for.

    A sheet for the whole page costs a painting of all of it, and going from part
    to part of one part alone: so it is sheet by sheet, for as many as are held at a time.
    enough: tells whether there is no room for more.
    """
    end = time.monotonic() + seconds
    batch: list[Part] = []
    pixels = 0.0
    for part in parts:
        size = part.box[2] * part.box[3] * painter.zoom**2
        if batch and pixels + size > MOST_AT_A_TIME:
            yield from _painted(painter, batch, exactly, more, end if not enough() else 0.0)
            batch, pixels = [], 0.0
        batch.append(part)
        pixels += size
    if batch:
        yield from _painted(painter, batch, exactly, more, end if not enough() else 0.0)


def _painted(
    painter: Painter, parts: Sequence[Part], exactly: bool, more: str, end: float
) -> Iterator[Paintings | None]:
    if time.monotonic() > end:
        yield from [None] * len(parts)
        return
    painted: list[list[Words]] = [[] for _ in parts]

    def go_round(sheet: str) -> None:
        painter.show(STEADY + sheet + more)
        for part, own in zip(parts, painted, strict=True):
            late = sheet == "" and time.monotonic() > end
            if late or (sheet != "" and not own):
                continue
            if part.bring is not None:
                part.bring()
                painter.show_again()
            own.append(painter.grab_part(part.box, part.scrolled))

    for sheet in ("", WITHOUT, inked(ONE)):
        go_round(sheet)
    both = exactly or any(
        own
        and (
            has_near(own[1])
            or weakly_painted(*(each[::SAMPLED, ::SAMPLED] for each in own)).sum() >= VEILED
        )
        for own in painted
    )
    if both:
        go_round(inked(OTHER))
    tell = between if both else on_backdrop
    for part, own in zip(parts, painted, strict=True):
        left, top = (max(0, int(side * painter.zoom)) for side in part.box[:2])
        yield replace(tell(*own), left=left, top=top) if own else None


def paint_seen(painter: Painter, more: str = "") -> Pixels:
    """Paint the page as it is now, with its text, uint8 (h, w, 3). more: a sheet besides."""
    painter.show(STEADY + more)
    return painter.grab_colours()


def paint_backdrop(painter: Painter, more: str = "") -> Pixels:
    """Paint the page as it is now, without its text, uint8 (h, w, 3). more: a sheet besides."""
    painter.show(STEADY + WITHOUT + more)
    return painter.grab_colours()


def find_shadows(taken: Taken) -> Pixels | None:
    """Give where texts' own shadows plainly show, uint8 (h, w), 1 or 0; None where none has one."""
    assert taken.main is not None
    if not any(text["look"]["shadow"] and not text["exempt"] for text in taken.told["texts"]):
        return None
    bare = paint_backdrop(taken.painter, f"{EVERY}{{text-shadow:none!important}}")
    low, high = np.minimum(bare, taken.main.backdrop), np.maximum(bare, taken.main.backdrop)
    return np.asarray(((high - low) >= SHADOW).any(axis=-1), np.uint8)


def coverage_on(seen: Words, backdrop: Words, one: Words) -> Pixels:
    """Tell how much of each pixel is ink, uint8 (h, w), from text in ONE on its backdrop."""
    places = np.flatnonzero(one != backdrop)
    behind, ink = backdrop.reshape(-1)[places], one.reshape(-1)[places]
    widest = np.ones(len(places), np.uint8)
    moved = np.zeros(len(places), np.uint8)
    # Whichever channel leaves most room tells most exactly.
    for shift, level in zip((16, 8, 0), ONE, strict=True):
        low, high = (behind >> shift).astype(np.uint8), (ink >> shift).astype(np.uint8)
        reach = np.maximum(low, np.uint8(level)) - np.minimum(low, np.uint8(level))
        better = reach > widest
        np.copyto(widest, reach, where=better)
        np.copyto(moved, np.maximum(low, high) - np.minimum(low, high), where=better)
    share = np.minimum(moved.astype(np.float32) / widest, 1) * FULL
    found = np.zeros(backdrop.shape, np.uint8)
    found.reshape(-1)[places] = np.rint(share).astype(np.uint8)
    _mark_pictographs(found, seen, backdrop, one, places)
    return found


def has_near(backdrop: Words) -> bool:
    """Tell whether some backdrop is near ONE, so that ink can hardly be told from it."""
    near = np.ones(backdrop[::2, ::2].shape, bool)
    for shift, level in zip((16, 8, 0), ONE, strict=True):
        value = (backdrop[::2, ::2] >> shift).astype(np.uint8)
        near &= (value >= max(0, level - TOO_NEAR)) & (value <= min(255, level + TOO_NEAR))
        if not near.any():
            return False
    return True


def weakly_painted(seen: Words, backdrop: Words, one: Words) -> NDArray[np.bool_]:
    """Tell where text in ONE is painted weaker, as below something see-through.

    Of each painting every SAMPLED-th pixel is given, and bool of their shape comes.
    Where text is weaker, the channels don't agree on how much of a pixel is ink.
    Letters with colours of their own, which are the same in any painting with text,
    are left aside.
    """
    places = np.flatnonzero((one != backdrop) & (one != seen))
    behind = colours_of(backdrop.reshape(-1)[places]).astype(np.float32)
    ink = colours_of(one.reshape(-1)[places]).astype(np.float32)
    full = np.array(ONE, np.float32) - behind
    # The share that all channels agree on best, by least squares.
    share = ((ink - behind) * full).sum(axis=1) / np.maximum((full**2).sum(axis=1), 1)
    apart = np.abs(ink - behind - share[:, None] * full).max(axis=1, initial=0)
    found = np.zeros(one.shape, bool)
    found.reshape(-1)[places] = apart > PLAINLY
    return found


def coverage_between(seen: Words, backdrop: Words, one: Words, other: Words) -> Pixels:
    """Tell how much of each pixel is ink, uint8 (h, w), from text in ONE and in OTHER.

    They differ by that alone, whatever is behind the text and whatever lies over it.
    """
    places = np.flatnonzero(one != other)
    apart = int(np.abs(np.array(ONE, np.int16) - np.array(OTHER, np.int16)).max())
    moved = np.abs(
        colours_of(one.reshape(-1)[places]).astype(np.int16)
        - colours_of(other.reshape(-1)[places]).astype(np.int16)
    )
    share = np.clip(moved.max(axis=1) / apart, 0, 1) * FULL
    found = np.zeros(backdrop.shape, np.uint8)
    found.reshape(-1)[places] = np.rint(share).astype(np.uint8)
    _mark_pictographs(found, seen, backdrop, one, np.flatnonzero(one != backdrop))
    return found


def _mark_pictographs(
    coverage: Pixels, seen: Words, backdrop: Words, one: Words, places: Places
) -> None:
    """Mark what is painted with all text and yet in no colour of the text's.

    places: in the flat paintings, where the one with all text differs from the backdrop.
    """
    places = places[seen.reshape(-1)[places] == one.reshape(-1)[places]]
    # Where next to nothing is ink, the two come to the same level by rounding.
    apart = colours_of(one.reshape(-1)[places]).astype(np.int16)
    apart -= colours_of(backdrop.reshape(-1)[places])
    places = places[np.abs(apart).max(axis=1, initial=0) >= PLAINLY]
    coverage.reshape(-1)[places] = OWN_COLOURS


def needs_both(told: Told) -> bool:
    """Tell whether some text is blended, filtered or stands in something see-through."""
    looks = [text["look"] for text in told["texts"] if not text["exempt"]]
    return any(look["faded"] or look["painted"] for look in looks)


def collected(page: BrowserPage) -> Told:
    """Ask the page for its texts, as they are without a painting's sheet over them."""
    page.ask("highPair.mendNow()")
    found: Told = page.ask("highPair.collect()")
    return found


def pixels_of(box: list[float], zoom: float, shape: tuple[int, ...]) -> tuple[int, int, int, int]:
    """Give left, top, right and bottom of a box in CSS pixels on a painting of a shape."""
    height, width = shape[:2]
    left, top = max(0, int(box[0] * zoom)), max(0, int(box[1] * zoom))
    right = min(width, int(np.ceil((box[0] + box[2]) * zoom)))
    bottom = min(height, int(np.ceil((box[1] + box[3]) * zoom)))
    return left, top, max(left, right), max(top, bottom)


def areas_of(text: Text, zoom: float, shape: tuple[int, ...]) -> list[Area]:
    """Give the parts of a painting of a shape in which a text's words lie."""
    corners = (pixels_of(box, zoom, shape) for box in boxes_of(text))
    return [(slice(top, bottom), slice(left, right)) for left, top, right, bottom in corners]


def keep_tile(taken: Taken, paintings: Paintings) -> int:
    """Keep paintings of a part of the page; gives their number."""
    # Where it comes to lie below the page is known when all are painted.
    place: Tile = {
        "x": paintings.left,
        "y": paintings.top,
        "left": 0,
        "top": 0,
        "rows": 0,
        "columns": 0,
    }
    taken.tiles.append((place, paintings))
    taken.tile_pixels += paintings.coverage.size
    return len(taken.tiles) - 1


def add_tile(taken: Taken, paintings: Paintings, box: list[float]) -> int | None:
    """Keep a part of paintings, at a box of the page in CSS pixels; gives its number."""
    rows, columns = paintings.area(box, taken.painter.zoom)
    if rows.stop <= rows.start or columns.stop <= columns.start:
        return None
    part = paintings.part(columns.start, rows.start, columns.stop, rows.stop)
    return keep_tile(taken, part.copied())
