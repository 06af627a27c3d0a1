"""Where documents are open: in a process of their own, which this module is loaded into.

A task is a function of a `Work` and further arguments. It is called here, with
the document as it is with the edits that whoever asks has in force.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from high_pair.colour.compositing import on_white
from high_pair.colour.srgb import Bytes
from high_pair.edits.kinds import Edit, MarkText
from high_pair.errors import UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.document import Document, PageInfo, for_trial, made_whole
from high_pair.formats.location import Location, WebAddress, name_of
from high_pair.formats.opening import copy_suffixes, shown_as
from high_pair.formats.picture.picture_file import PictureFile
from high_pair.formats.web.engine_process import interrupt_engines
from high_pair.formats.web.settings import WebSettings
from high_pair.process.serving import Call
from high_pair.review.measuring import PageBench

# Documents with edits in them that are kept beside each as it is on disk: as few as there can
# be, since of a long one each takes much room. One is being tried, one has what was decided.
MOST_TRIED, MOST_DECIDED = 1, 2
CHANGED = "it has changed on disk since it was opened. Open it again."


@dataclass(frozen=True)
class Source:
    """What is opened. version: of the file on disk, see `version_of`, None when it is first opened.

    key: by which it is known here; web: how a web page is shown.
    """

    key: int
    location: Location
    web: WebSettings
    version: tuple[int, int] | None = None


@dataclass(frozen=True)
class Wanted:
    """A document as it is wanted: with which edits. trial: without what only shows in states."""

    source: Source
    edits: tuple[Edit, ...] = ()
    trial: bool = False


@dataclass(frozen=True)
class Boxes:
    """The boxes round text in a picture, by address, and the next one's address for each page."""

    drawn: dict[str, MarkText] = field(default_factory=dict)
    new: tuple[str | None, ...] = ()


@dataclass(frozen=True)
class Facts:
    """What is known of an open document without asking it again.

    assumed: in sentences; web: how a page is shown, None of another document;
    suffixes: of what can be saved of it; made_whole: every edit makes all its pages anew.
    """

    name: str
    kind: str
    pages: tuple[PageInfo, ...]
    version: tuple[int, int]
    assumed: tuple[str, ...]
    web: WebSettings | None
    suffixes: tuple[str, ...]
    made_whole: bool
    boxes: Boxes


def version_of(location: Location) -> tuple[int, int]:
    """Give a file's size and time of change, by which its versions are told apart."""
    if isinstance(location, WebAddress):
        # A page from the web has no version that could be told beforehand.
        return (0, 0)
    try:
        status = location.stat()
    except OSError as error:
        raise UnreadableFile(
            location.name, "there is no such file. Check its name, or open it again."
        ) from error
    return status.st_size, status.st_mtime_ns


@dataclass
class _Opened:
    """A document and what was made of it. inode: which file its name led to."""

    base: Document
    version: tuple[int, int]
    inode: int
    decided: OrderedDict[tuple[Edit, ...], Document] = field(default_factory=OrderedDict)
    tried: OrderedDict[tuple[Edit, ...], Document] = field(default_factory=OrderedDict)

    def document(self, edits: tuple[Edit, ...], trial: bool) -> Document:
        """Give it with edits. Raises EditError."""
        if not edits and not trial:
            return self.base
        kept, most = (self.tried, MOST_TRIED) if trial else (self.decided, MOST_DECIDED)
        found = kept.get(edits)
        if found is None:
            while len(kept) >= most:
                kept.popitem(last=False)
            found = self.base.edited(edits) if edits else self.base
            found = kept[edits] = for_trial(found) if trial else found
        kept.move_to_end(edits)
        return found


@dataclass(frozen=True)
class Work:
    """What a task works with.

    document: as it is wanted, with edits; base: as it is on disk; trial: gives it
    with further ones; call: whoever waits for it.
    """

    document: Document
    base: Document
    edits: tuple[Edit, ...]
    trial: Callable[[Sequence[Edit]], Document]
    bench: PageBench
    call: Call


Task = Callable[..., Any]


def carry_out(call: Call, wanted: Wanted, task: Task, arguments: tuple[Any, ...]) -> Any:
    """Run task(work, *arguments) on a document, which is opened if it isn't open here.

    Raises UnreadableFile, EditError, and what the task does.
    """
    call.on_stop = interrupt_engines
    opened = _opened(call, wanted.source)
    document = opened.document(wanted.edits, wanted.trial)

    def trial(edits: Sequence[Edit]) -> Document:
        return opened.base.edited((*wanted.edits, *edits))

    return task(Work(document, opened.base, wanted.edits, trial, _bench(call), call), *arguments)


def _opened(call: Call, source: Source) -> _Opened:
    shelf: dict[int, _Opened] = call.kept.setdefault("documents", {})
    found = shelf.get(source.key)
    if found is None:
        version = version_of(source.location)
        if source.version is not None and version != source.version:
            raise UnreadableFile(name_of(source.location), CHANGED)
        document = open_document(source.location, source.web)
        if version_of(source.location) != version:
            document.close()
            raise UnreadableFile(document.name, "it changed while it was opened. Try again.")
        found = shelf[source.key] = _Opened(document, version, _inode_of(source.location))
    elif _inode_of(source.location) == found.inode and version_of(source.location) != found.version:
        # Written over where it lies: what is still to be read of it is another file's. One that
        # is gone, or has another in its place, is held open and stays what it was.
        let_go(call, source.key)
        raise UnreadableFile(name_of(source.location), CHANGED)
    return found


def _inode_of(location: Location) -> int:
    if isinstance(location, WebAddress):
        return 0
    try:
        return location.stat().st_ino
    except OSError:
        return 0


def _bench(call: Call) -> PageBench:
    bench: PageBench = call.kept.setdefault("bench", PageBench())
    return bench


def picture_pixels(_call: Call, path: Path) -> Bytes:
    """Read a picture's file, uint8 (h, w, 3), in sRGB, as it is shown. Raises UnreadableFile."""
    return on_white(PictureFile(path).first_page())


def let_go(call: Call, key: int) -> None:
    """Close a document."""
    found = call.kept.get("documents", {}).pop(key, None)
    call.kept["bench"] = PageBench()
    if found is not None:
        found.base.close()


def facts(work: Work, location: Location) -> Facts:
    """A task: tell what is known of a document."""
    document = work.document
    return Facts(
        document.name,
        document.kind,
        document.pages,
        version_of(location),
        document.assumed(),
        shown_as(document),
        copy_suffixes(document, location),
        made_whole(document),
        list_boxes(work),
    )


def list_boxes(work: Work) -> Boxes:
    """A task: list the boxes of a picture, and see that its edits can be carried out."""
    document = work.document
    new = tuple(document.new_box_address(page) for page in range(len(document.pages)))
    known = {edit.address: document.box_at(edit.address) for edit in work.edits}
    return Boxes({address: box for address, box in known.items() if box is not None}, new)
