"""A web page as a document: each width a page, painted by the browser engine."""

from __future__ import annotations

import copy
import functools
import math
import threading
import uuid
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import IO

import numpy as np

from high_pair.edits.kinds import Edit
from high_pair.engine.protocol import Changes, RuleChange, Surface, Text, Told, Wanted
from high_pair.errors import UnreadableFile, UnwritableFile
from high_pair.formats.document import BareDocument, PageInfo, Shown
from high_pair.formats.kinds import CSS, DRAWING, PAGES
from high_pair.formats.location import Location, name_of
from high_pair.formats.web import drawing
from high_pair.formats.web.addresses import file_address, in_page, in_words, place_of
from high_pair.formats.web.colour_sets import sets_of
from high_pair.formats.web.css_source import find
from high_pair.formats.web.engine_process import (
    FILES,
    WEB,
    Engine,
    EngineProblem,
    shared_engine,
)
from high_pair.formats.web.items import Taken, address_of, scene_of, taken_from
from high_pair.formats.web.mends import Context, Mends, mends_for
from high_pair.formats.web.origins import Origins, Place
from high_pair.formats.web.saving import write_copy
from high_pair.formats.web.settings import DEFAULT, HEIGHT, NARROWEST, WebSettings
from high_pair.formats.web.source_files import SourceFiles
from high_pair.formats.web.trees import Trees
from high_pair.formats.writing import refuse_source, write_whole
from high_pair.raster.pictures import PictureProblem, Pictures
from high_pair.scene.addresses import address_below, expand
from high_pair.scene.colour_set import ColourSet
from high_pair.scene.page import Scene
from high_pair.scene.painted import Painting

KIND = "web-page"
MOST_BYTES = 64 * 1024**2
# Paintings that all pages of a process keep, in bytes; the page at hand is always kept.
KEPT_BYTES = 150 * 1024**2
HINT = "Check the address or the file, or open a saved copy of the page."


NO_PAINTING = Painting(
    np.zeros((1, 1, 3), np.uint8), np.zeros((1, 1, 3), np.uint8), np.zeros((1, 1), np.uint8), 1.0, 1
)


# By the visit, the page's number, and what is changed on it.
Key = tuple[str, int, str]


class _Shots:
    """What was taken of pages, the last ones by their size."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._kept: OrderedDict[Key, tuple[Taken, Scene]] = OrderedDict()

    def get(self, key: Key) -> tuple[Taken, Scene] | None:
        with self._lock:
            found = self._kept.get(key)
            if found is not None:
                self._kept.move_to_end(key)
            return found

    def put(self, key: Key, taken: Taken, scene: Scene) -> None:
        with self._lock:
            self._kept[key] = (taken, scene)

    def make_room(self) -> None:
        """Let go of those that were used first, before another one is taken."""
        with self._lock:
            while self._kept and self._size() > KEPT_BYTES:
                self._kept.popitem(last=False)

    def forget(self, visit: str) -> None:
        """Let go of a visit's."""
        with self._lock:
            for key in [key for key in self._kept if key[0] == visit]:
                del self._kept[key]

    def _size(self) -> int:
        return sum(
            taken.painting.seen.nbytes * 2 + taken.painting.coverage.nbytes
            for taken, _ in self._kept.values()
        )


@functools.lru_cache(maxsize=1)
def _shots() -> _Shots:
    """Give the one shelf of this process: several large pages may be open in it."""
    return _Shots()


class WebFile(BareDocument):
    """An open web page, or a drawing; see `formats.document.Document`, whose methods it has.

    sheet: a style sheet over the page's own, as when mends that were saved as
    one are measured.
    """

    kind = KIND
    # The width and height of a drawing that is shown alone, None of a page.
    drawing_size: tuple[float, float] | None = None

    def __init__(
        self, location: Location, settings: WebSettings = DEFAULT, sheet: str = ""
    ) -> None:
        """Load a page in all widths. Raises UnreadableFile."""
        self.name = name_of(location)
        self.location = location
        self.settings = settings
        self.sheet = sheet
        path = location if isinstance(location, Path) else None
        self.path = path
        self.address = file_address(path) if path is not None else str(location)
        self._mends: Mends | None = None
        # What the engine told of each page as it is in the file, without its paintings.
        self._first: dict[int, Taken] = {}
        self._quick = False
        self._scripts = True
        self._notes: list[str] = []
        self.pictures = Pictures(_no_picture)
        if path is not None:
            self._check_file(path)
            if path.suffix.lower() == DRAWING:
                self.kind = drawing.KIND
                self.drawing_size = drawing.size_of(path)
                width = max(NARROWEST, math.ceil(self.drawing_size[0]))
                self.settings = settings = WebSettings(
                    (width,), limit=settings.limit, states=False, folders=settings.folders
                )
        self._sources = SourceFiles(path)
        self._visit = uuid.uuid4().hex
        self._engine: Engine = shared_engine(FILES if self.local else WEB)
        self._engine.begin()
        self._open = True
        try:
            first = [self._taken(number) for number in range(len(settings.widths))]
        except BaseException:
            self.close()
            raise
        for taken in first:
            self._note(taken.told)
        self.title = first[0].told["title"]
        self.pages = tuple(
            self._page(width, taken) for width, taken in zip(settings.widths, first, strict=True)
        )

    @property
    def local(self) -> bool:
        """Whether it is a file."""
        return self.path is not None

    def _check_file(self, path: Path) -> None:
        try:
            if path.stat().st_size > MOST_BYTES:
                raise UnreadableFile(self.name, "it is larger than is read.")
            with path.open("rb") as stream:
                stream.read(1)
        except OSError as error:
            raise UnreadableFile(self.name, f"it can't be opened ({error.strerror}).") from error

    def _page(self, width: int, taken: Taken) -> PageInfo:
        scene = self._shot(self.settings.widths.index(width))[1]
        if self.drawing_size is not None:
            return PageInfo("Picture", scene.width, scene.height, False)
        look = ", dark" if self.settings.dark else ""
        headings = tuple((level, words) for level, words in taken.told["headings"])
        return PageInfo(
            f"Page {width} wide{look}", scene.width, scene.height, False, headings, Shown.LONG
        )

    # Taking

    def _wanted(self, number: int) -> Wanted:
        settings = self.settings
        return Wanted(
            self._visit,
            self.address,
            settings.widths[number],
            HEIGHT,
            settings.dark,
            settings.zoom,
            settings.limit,
            self._scripts,
            self._folders(),
            self.drawing_size,
        )

    def _folders(self) -> tuple[str, ...]:
        """List the folders from which the page may load: its own, and those that were allowed."""
        if self.path is None:
            return ()
        return (str(self.path.resolve().parent), *self.settings.folders)

    def _changes(self) -> Changes:
        mends = self._mends
        rules: list[RuleChange] = [
            {
                "tree": change.place.tree,
                "sheet": change.place.sheet,
                "path": list(change.place.path),
                "property": change.place.named,
                "value": change.value,
            }
            for change in (mends.changes if mends else ())
        ]
        sheets = mends.sheets if mends else {}
        return {"sheets": {**sheets, "": self.sheet + sheets.get("", "")}, "rules": rules}

    def _shot(self, number: int) -> tuple[Taken, Scene]:
        changes = self._changes()
        key = (self._visit, number, f"{self._quick} {changes!r}")
        found = _shots().get(key)
        if found is None:
            _shots().make_room()
            told = self._told(number, changes)
            trees = Trees(told["trees"], self._sources)
            origins = Origins(told, self._line_of)
            taken = taken_from(told, origins, trees, self.drawing_size is not None)
            found = (taken, scene_of(taken))
            if self._mends is None and not self._quick:
                self._first.setdefault(number, replace(taken, painting=NO_PAINTING))
            _shots().put(key, *found)
        return found

    def told(self, page: int) -> Told:
        """Give all that the engine told of a page, but its paintings."""
        return self._taken(page).told

    def frame_seconds(self, page: int) -> float:
        """Give the seconds in which the engine alone paints a page once."""
        return self._engine.frame_seconds(self._wanted(page))

    def _taken(self, number: int) -> Taken:
        return self._shot(number)[0]

    def _told(self, number: int, changes: Changes) -> Told:
        try:
            states = self.settings.states and not self._quick
            return self._engine.take(self._wanted(number), changes, states)
        except EngineProblem as problem:
            if problem.hung and self._scripts:
                # What its scripts would have made of it is lost, and that is said.
                self._scripts = False
                self._notes.append(f"{problem}; so it is measured without its scripts")
                return self._told(number, changes)
            raise UnreadableFile(self.name, f"{problem}. {HINT}") from problem

    def _line_of(self, place: Place) -> tuple[str, int]:
        """Give the name of a declaration's file, or nothing, and its line there, or 0."""
        text = self._sources.sheet(place)
        if text is None:
            return place.href.rpartition("/")[2].partition("?")[0], 0
        found = find(text.text, place.selector, place.nth, place.named)
        return text.name, text.line + found.line - 1 if found else 0

    def _note(self, told: Told) -> None:
        self._notes += told["notes"]
        self._note_blocked(told["blocked"])
        if told["cut"]:
            self._notes.append("it has more text than is measured; what came first is")
        height = round(told["height"] * told["zoom"])
        if told["rows"] < height - 1:
            self._notes.append(
                f"it is {height} pixels high: the first {told['rows']} are shown, and what is "
                "below them is measured without being shown"
            )
        left = told.get("without_states", 0)
        if left > 0:
            self._notes.append(
                f"{left} of its links and controls, mostly the last ones, weren't looked at on "
                "hover, on focus and the like"
            )
        away = told.get("scrolled_away", 0)
        if away > 0:
            self._notes.append(
                f"{away} of its links and controls {'lies' if away == 1 else 'lie'} where no "
                "scrolling brought them into view: their words are measured, and no borders, icons "
                "or states"
            )
        if told.get("unforced"):
            self._notes.append("how links look when pointed at or focused couldn't be seen")

    def _note_blocked(self, blocked: dict[str, int]) -> None:
        files = {name: count for name, count in blocked.items() if name.startswith("file:")}
        outside = {name: count for name, count in blocked.items() if name not in files}
        if outside:
            self._notes.append(
                f"the page is a file, so {_things(outside)} that it would have fetched from "
                f"outside {_were(outside)} left out, such as {next(iter(outside))}"
            )
        if files and self.path is not None:
            first = in_words(next(iter(files)), self.path)
            self._notes.append(
                f"{_things(files)} that {'lies' if sum(files.values()) == 1 else 'lie'} outside "
                f"the page's folder {_were(files)} left out, such as {first}; if it should be "
                "seen with them, allow the folder in which they are (--folder on the command line; "
                "in the window: how the page is shown)"
            )

    def assumed(self) -> tuple[str, ...]:
        """Say what was assumed or left out."""
        return tuple(dict.fromkeys(self._notes))

    # The document

    def scene(self, page: int) -> Scene:
        """Describe a page. Raises UnreadableFile when the engine can't show it."""
        return self._shot(page)[1]

    def edited(self, edits: Sequence[Edit]) -> WebFile:
        """Give the page with mends, which the engine tries when it is asked for."""
        found = copy.copy(self)
        found._mends = mends_for(edits, self._context()) if edits else None
        return found

    def for_trial(self) -> WebFile:
        """Give the page without what only shows in states of its controls."""
        found = copy.copy(self)
        found._quick = True
        return found

    def _context(self) -> Context:
        texts: dict[str, Text] = {}
        surfaces: dict[str, Surface] = {}
        places: dict[str, Place] = {}
        for number, taken in sorted(self._first.items(), reverse=True):
            texts.update({in_page(address_of(told)): told for told in taken.told["texts"]})
            if number == 0:
                surfaces = {str(at): each for at, each in enumerate(taken.told["surfaces"])}
            places.update(taken.origins.all_places())
        first = self._first[0]
        return Context(
            texts, surfaces, places, self.settings.zoom,
            first.origins.decisive, first.trees.reaches,
        )  # fmt: skip

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """A style sheet may change all widths."""
        return frozenset(range(len(self.pages))) if edits else frozenset()

    def overlay_address(self, address: str) -> str | None:
        """Give the address of a layer behind a text: its own background, or that of its picture."""
        first = expand(address)[0]
        place = place_of(first)
        reached = place is not None and self._first[0].trees.reaches(place.tree)
        if place is None or not reached or "::" in place.selector:
            return None
        return address_below(first, laid=1)

    def colours(self, page: int) -> tuple[tuple[int, int, int], ...]:
        """List the page's own colours: those of its fills, the commonest first."""
        counts: dict[tuple[int, int, int], int] = {}
        for surface in self._first[page].told["surfaces"]:
            red, green, blue, opacity = surface["fill"]
            if opacity == 1:
                levels = (round(red), round(green), round(blue))
                counts[levels] = counts.get(levels, 0) + 1
        return tuple(sorted(counts, key=lambda levels: -counts[levels])[:6])

    def colour_sets(self) -> tuple[ColourSet, ...]:
        """List the custom properties and the colours that the page's rules declare."""
        changes = self._mends.changes if self._mends is not None else ()
        changed = {change.place.address: change.value for change in changes}
        first = self._first[0]
        declared = [each for each in first.origins.declared if first.trees.reaches(each.prefix)]
        return sets_of(declared, changed, self.name)

    @property
    def shown_as(self) -> WebSettings | None:
        """How it is shown, which a person may change; None of a drawing."""
        return self.settings if self.drawing_size is None else None

    @property
    def copy_suffixes(self) -> tuple[str, ...]:
        """The suffixes of what can be saved of it, the usual one first."""
        if self.path is None:
            return (CSS,)
        own = self.path.suffix
        return (own,) if self.drawing_size is not None else (own or PAGES[0], CSS)

    @property
    def made_of(self) -> tuple[str, ...]:
        """The files that it was shown with."""
        found = {each for taken in self._first.values() for each in taken.told["loaded"]}
        return tuple(sorted(each for each in found if Path(each).is_file()))

    def mends_as_sheet(self) -> str | None:
        """Give its mends as a style sheet; None of a drawing."""
        return self.style_sheet() if self.drawing_size is None else None

    def opened_as_saved(self, target: Path) -> WebFile:
        """Open what it was saved as: a copy, or a style sheet over the page itself."""
        if target.suffix.lower() == CSS:
            return WebFile(self.location, self.settings, target.read_text("utf-8"))
        # What the page may load its copy may, wherever that lies.
        own = (str(self.path.resolve().parent),) if self.path is not None else ()
        return WebFile(target, replace(self.settings, folders=(*own, *self.settings.folders)))

    def style_sheet(self) -> str:
        """Give the mends as one small style sheet, with a comment for each."""
        return self._mends.whole_sheet if self._mends else ""

    def save(self, target: Path) -> None:
        """Write the page with its mends, or the mends alone as a style sheet.

        Raises UnwritableFile, also where the target is a sheet or a picture of the page.
        """
        taken = self._first.values()
        refuse_source(target, (Path(each) for told in taken for each in told.told["loaded"]))
        if target.suffix.lower() == CSS and self.drawing_size is None:
            data = self.style_sheet().encode()
            write_whole(target, target, lambda out: _put(out, data))
            return
        path = self.path
        if path is None:
            raise UnwritableFile(
                target.name,
                "a page from the web can't be saved as a copy. Save its mends as a style sheet "
                "(.css) and add that to the site.",
            )
        if self.drawing_size is not None:
            write_whole(target, path, lambda out: _put(out, path.read_bytes()))
            return
        trees = self._first[0].trees
        loaded = {Path(each).resolve() for each in self.made_of}
        write_copy(path, target, self._mends or Mends((), ()), self._sources, trees, loaded)

    def close(self) -> None:
        """Let go of the engine."""
        if self._open:
            self._open = False
            _shots().forget(self._visit)
            self._engine.leave(self._visit)


def _things(blocked: dict[str, int]) -> str:
    count = sum(blocked.values())
    return "1 thing" if count == 1 else f"{count} things"


def _were(blocked: dict[str, int]) -> str:
    return "was" if sum(blocked.values()) == 1 else "were"


def _put(out: IO[bytes], data: bytes) -> None:
    out.write(data)


def _no_picture(name: str) -> bytes:
    raise PictureProblem(f"{name}: a page's pictures are painted by the engine")
