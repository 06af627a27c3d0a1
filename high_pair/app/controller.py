"""What connects the review with the window: jobs for the worker, results as signals."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import Future
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from high_pair.app.images import image_of, stripes_of
from high_pair.app.opener import Opener
from high_pair.app.page_strip import THUMBNAIL_WIDTH
from high_pair.app.seats.look import Apart, Look
from high_pair.app.stepping import Stepper
from high_pair.app.worker import Urgency, Worker
from high_pair.edits.kinds import Edit, LayOver, MarkText, SetAside, TakeOff, TakeUp, UnmarkText
from high_pair.errors import Cancelled, HighPairError
from high_pair.formats.location import Location
from high_pair.formats.web.settings import DEFAULT, WebSettings
from high_pair.measure.pairs import Pair
from high_pair.remedy.overlays import within
from high_pair.remedy.remedies import AtOrigin, ForSeat, Laid, Moved, Proposals, Recolour, Remedy
from high_pair.remedy.wishes import NO_FAMILY
from high_pair.review import tasks
from high_pair.review.fitting import Fitting
from high_pair.review.held import HeldDocument, Processes
from high_pair.review.measuring import PageReview
from high_pair.review.mending import edits_for
from high_pair.review.parallel import LONG_DOCUMENT, PagePool
from high_pair.review.saving import SavedCopy
from high_pair.review.session import Due, OpenFile, Session
from high_pair.review.shifting import Shifting
from high_pair.scene.geometry import Box
from high_pair.scene.seat import Seat
from high_pair.scene.text import Decider
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict


@dataclass(frozen=True)
class _Measured:
    review: PageReview
    thumbnail: QImage


@dataclass(frozen=True)
class Painted:
    """A painted page; seen: as it is seen from a seat, and apart: what that was made of."""

    image: QImage
    seen: QImage | None = None
    apart: Apart | None = None


# Points of the page in one unit of the window, at the closest and from the farthest.
CLOSEST, FARTHEST = 0.5, 1.3


def overlay_box(remedy: Remedy, page: tuple[float, float]) -> Box | None:
    """Give the part of the page that shows a remedy's overlay and some of what is round it."""
    if isinstance(remedy, Moved):
        # What it leaves shows as much as where it comes.
        return Box(0.0, 0.0, *page)
    if isinstance(remedy, ForSeat):
        return overlay_box(remedy.other, page) if remedy.other is not None else None
    overlay = remedy.overlay if isinstance(remedy, Laid | AtOrigin) else None
    if overlay is None:
        return None
    box = overlay.bounds
    room = 0.25 * min(box.width, box.height)
    return within(box.grown(room), Box(0.0, 0.0, *page))


def crop_box(pair: Pair, size: tuple[int, int]) -> Box:
    """Give the part of the page that shows a pair's text in a picture of a size.

    The whole text is shown where it fits at a legible scale, else its start.
    """
    x, y, width, height = pair.bbox
    across, down = size
    pad = min(10.0, pair.size * 0.4)
    scale = max((width + 2 * pad) / across, (height + 2 * pad) / down)
    # Small text is never shown larger than it needs, nor large text too small to judge.
    scale = min(max(scale, CLOSEST), max(CLOSEST, min(FARTHEST, pair.size / 12)))
    wide, tall = across * scale, down * scale
    left = x - pad if width + 2 * pad > wide else x + width / 2 - wide / 2
    top = y - pad if height + 2 * pad > tall else y + height / 2 - tall / 2
    return Box(left, top, wide, tall)


class Controller(QObject):
    """The review under way, for the window.

    pages_changed: files were opened or closed; page_measured: a file's page
    has its result (and thumbnail); progressed: pages done, and of how many;
    failed: a message for the user; settled: everything asked for is done;
    painted: pages tried for a remedy, and of how many.
    """

    pages_changed = Signal()
    page_measured = Signal(int, int, QImage)
    progressed = Signal(int, int)
    failed = Signal(str)
    opened = Signal(int)
    document_changed = Signal(int)
    saved = Signal(object)
    settled = Signal()
    painted = Signal(int, int)
    _pooled = Signal(object, int, object)

    def __init__(self, parent: QObject | None = None, device_ratio: float = 1.0) -> None:
        super().__init__(parent)
        self.session: Session[HeldDocument] = Session()
        # The set in use, from which remedies take their colours.
        self.family = NO_FAMILY
        self.processes = Processes()
        self.worker = Worker(self)
        self.worker.idle.connect(self.settled)
        self.device_ratio = device_ratio
        self.pool = PagePool()
        self._pooled.connect(self._take_pooled)
        self._pending: set[Future[tasks.PageResult]] = set()
        self._batch = 0
        self._total = 0
        self._done = 0
        self.opener = Opener(self)
        self.stepper = Stepper(self)
        self.stepper.carried_out.connect(self._after_change)

    # Opening and measuring

    def open(self, paths: Sequence[Location], web: WebSettings = DEFAULT) -> None:
        """Open files; web: how web pages are shown."""
        self.opener.open(paths, web)

    def take_in(self, opened: Sequence[tuple[Location, HeldDocument]]) -> None:
        """Take open documents into the review, and measure them."""
        files = [self.session.add(path, found, found.facts.web) for path, found in opened]
        self.pages_changed.emit()
        self.opened.emit(files[-1].key)
        self.measure_due()

    def close_file(self, key: int) -> None:
        """Take a file out of the review."""
        self.session.remove(key)
        # The processes that measured its pages hold it as well.
        self.pool.rest()
        self.pages_changed.emit()

    def unsaved(self) -> list[OpenFile]:
        """List the files with decisions that are kept nowhere, one just being taken included."""
        deciding = self.session.files.get(self.stepper.file or 0)
        unsaved = self.session.unsaved()
        return unsaved if deciding is None or deciding in unsaved else [*unsaved, deciding]

    def ask(self, asked: Asked) -> None:
        """Ask for another level or aim; all pages are measured again."""
        self.session.ask(replace(asked, coverage=self.session.asked.coverage))
        self.pages_changed.emit()
        self.measure_due()

    def measure_due(self, first: tuple[int, int] | None = None) -> None:
        """Measure all pages that are due; `first`: a file's page to begin with."""
        self._drop_pending()
        self._batch += 1
        batch = self._batch
        due = self.session.due()
        self._total, self._done = len(due), 0
        self.progressed.emit(0, self._total)
        in_pool = len(due) >= LONG_DOCUMENT
        for each in due:
            if first == (each.file, each.page):
                self._measure(each, batch, Urgency.AT_HAND)
            elif in_pool:
                self._measure_in_pool(each, batch)
            else:
                self._measure(each, batch, Urgency.WHEN_IDLE)

    @property
    def busy(self) -> bool:
        """Whether anything asked for is still to come."""
        return self.worker.busy or bool(self._pending) or self.opener.has_ready

    def _drop_pending(self) -> None:
        for future in list(self._pending):
            # One that is under way can't be stopped; its result will be out of date.
            if future.cancel():
                self._pending.discard(future)

    def _measure_in_pool(self, due: Due[HeldDocument], batch: int) -> None:
        width = round(THUMBNAIL_WIDTH * self.device_ratio)
        future = self.pool.submit(due.document.run_in, tasks.measure, due.page, due.asked, width)
        self._pending.add(future)

        def hand_over(done: Future[tasks.PageResult]) -> None:
            if not done.cancelled():
                self._pooled.emit(due, batch, done)

        future.add_done_callback(hand_over)

    def _take_pooled(
        self, due: Due[HeldDocument], batch: int, future: Future[tasks.PageResult]
    ) -> None:
        self._pending.discard(future)
        error = future.exception()
        if isinstance(error, HighPairError):
            self._take_failure(due, batch, error)
        elif error is not None:
            raise error
        else:
            found = future.result()
            self._take_measured(due, batch, found.review, image_of(found.thumbnail))
        if not self.busy:
            self.settled.emit()

    def stop_measuring(self) -> None:
        """Leave the pages not measured yet as they are."""
        self._drop_pending()
        self._batch += 1
        self._total = self._done = 0
        self.progressed.emit(0, 0)

    @property
    def measuring(self) -> bool:
        """Whether pages are still being measured."""
        return self._done < self._total

    def _measure(self, due: Due[HeldDocument], batch: int, urgency: Urgency) -> None:
        def run() -> _Measured:
            width = round(THUMBNAIL_WIDTH * self.device_ratio)
            found = due.document.run(tasks.measure, due.page, due.asked, width)
            return _Measured(found.review, image_of(found.thumbnail))

        def done(result: _Measured) -> None:
            self._take_measured(due, batch, result.review, result.thumbnail)

        def failed(error: HighPairError) -> None:
            self._take_failure(due, batch, error)

        def wanted() -> bool:
            return batch == self._batch and self.session.is_current(due)

        self.worker.do(run, done, failed, urgency, wanted)

    def _take_measured(
        self, due: Due[HeldDocument], batch: int, review: PageReview, thumbnail: QImage
    ) -> None:
        taken = self.session.take(due, review)
        self._count(batch)
        if taken:
            self.page_measured.emit(due.file, due.page, thumbnail)

    def _take_failure(self, due: Due[HeldDocument], batch: int, error: HighPairError) -> None:
        if self.session.is_current(due):
            self.session.take(due, PageReview(due.page, ()))
            self._tell(error)
        self._count(batch)

    def _count(self, batch: int) -> None:
        if batch == self._batch:
            self._done += 1
            self.progressed.emit(self._done, self._total)

    # Painting

    def work(self, run: Callable[[], Any], done: Callable[[Any], None]) -> None:
        """Do something that is waited for; done gets what it gives."""
        self.worker.do(run, done, self._tell, Urgency.AT_HAND)

    def _tell(self, error: HighPairError) -> None:
        """Tell what went wrong, unless it is that nobody wants it any more."""
        if not isinstance(error, Cancelled):
            self.failed.emit(str(error))

    def paint_page(
        self,
        document: HeldDocument,
        page: int,
        part: Box,
        size: tuple[int, int],
        done: Callable[[Any], None],
        wanted: Callable[[], bool],
        measured: str = "",
        look: Look | None = None,
    ) -> None:
        """Paint a part of a page (in points) to a size in device pixels; done gets the `Painted`.

        measured: the address of a text that is shown as it was measured, in its state or where
        it is scrolled to; look: from where.
        """

        def run() -> Painted:
            pixels = document.run(tasks.paint, page, part, size, measured)
            if look is None:
                return Painted(image_of(pixels))
            apart = Apart.of(pixels, look.seat)
            return Painted(image_of(pixels), image_of(look.seen(apart)), apart)

        self.worker.do(
            run,
            done,
            lambda _error: None,
            Urgency.AT_HAND,
            wanted,
        )

    def look_again(
        self,
        apart: Apart,
        look: Look,
        done: Callable[[QImage, Apart], None],
        wanted: Callable[[], bool],
    ) -> None:
        """Look at a painted page from another seat; done gets how it is seen, and the page as it
        is taken apart for that seat."""

        def run() -> tuple[QImage, Apart]:
            anew = apart.for_seat(look.seat)
            return image_of(look.seen(anew)), anew

        nothing = lambda _error: None  # noqa: E731
        self.worker.do(run, lambda found: done(*found), nothing, Urgency.AT_HAND, wanted)

    def paint_crop(
        self,
        document: HeldDocument,
        pair: Pair,
        size: tuple[int, int],
        done: Callable[[Any], None],
        wanted: Callable[[], bool],
        part: Box | None = None,
    ) -> None:
        """Paint a pair's text as it looks, for a picture of a size in window units.

        part: of the page that is shown, the text's own when None.
        """
        ratio = self.device_ratio
        width, height = (max(1, round(side * ratio)) for side in size)
        box = part or crop_box(pair, size)

        def run() -> QImage:
            return image_of(document.run(tasks.paint_pair, pair, box, width, height), ratio)

        self.worker.do(run, done, lambda _error: None, Urgency.SOON, wanted)

    def find_shortfall(
        self,
        document: HeldDocument,
        page: int,
        done: Callable[[Any], None],
        wanted: Callable[[], bool],
    ) -> None:
        """Find the pixels of a page that fall short; done gets them as stripes."""
        asked = self.session.asked

        def run() -> QImage:
            return stripes_of(document.run(tasks.find_shortfall, page, asked))

        self.worker.do(run, done, lambda _error: None, Urgency.SOON, wanted)

    # Remedies

    def propose(
        self,
        file: OpenFile,
        pairs: Sequence[Pair],
        done: Callable[[Any], None],
        wanted: Callable[[], bool],
        seat: Seat | None = None,
    ) -> None:
        """Look for remedies that serve alike pairs together, else for the first alone.

        seat: from which the page is looked at.
        """
        document, asked, family = file.document, self.session.asked, self.family

        def run() -> Proposals:
            found: Proposals = document.run(
                tasks.propose, tuple(pairs), asked, family, seat, stopped=lambda: not wanted()
            )
            return found

        def failed(error: HighPairError) -> None:
            done(Proposals((), str(error)))

        self.worker.do(run, done, failed, Urgency.AT_HAND, wanted)

    def propose_at(
        self,
        file: OpenFile,
        decider: Decider,
        done: Callable[[Any], None],
        wanted: Callable[[], bool],
    ) -> None:
        """Look for colours where one is decided for many texts; progress is told as pages."""
        document, asked = file.document, self.session.asked

        def run() -> Proposals:
            found: Proposals = document.run(
                tasks.propose_at,
                decider,
                asked,
                stopped=lambda: not wanted(),
                told=self.painted.emit,
            )
            return found

        def failed(error: HighPairError) -> None:
            self.painted.emit(0, 0)
            done(Proposals((), str(error)))

        self.worker.do(run, done, failed, Urgency.AT_HAND, wanted)

    def fit(
        self,
        file: OpenFile,
        laid: Laid,
        pair: Pair,
        width: int,
        done: Callable[[Any], None],
        wanted: Callable[[], bool],
    ) -> None:
        """Prepare the fitting of an overlay by hand; done gets it."""
        asked, document, tints = self.session.asked, file.document, self.family.colours
        # One that lies there already is fitted as if it didn't.
        others = tuple(edit for edit in document.edits if edit.address != laid.address)

        def run() -> Fitting:
            found: Fitting = document.run(tasks.fit, laid, pair, others, asked, width, tints)
            return found

        self.worker.do(
            run,
            done,
            self._tell,
            Urgency.AT_HAND,
            wanted,
        )

    def shift(
        self,
        file: OpenFile,
        moved: Moved,
        pair: Pair,
        width: int,
        done: Callable[[Any], None],
        wanted: Callable[[], bool],
    ) -> None:
        """Prepare moving a text by hand; done gets the `Shifting`."""
        asked, document = self.session.asked, file.document

        def run() -> Shifting:
            found: Shifting = document.run(tasks.shift, moved, pair, asked, width)
            return found

        self.worker.do(run, done, self._tell, Urgency.AT_HAND, wanted)

    def applied_overlay(self, file: OpenFile, pair: Pair) -> Laid | None:
        """Give the overlay that was laid for a pair, as a remedy; None where none was."""
        for edit in self.session.history.edits_of(file.key):
            if isinstance(edit, LayOver) and pair.address in edit.serves:
                ratio = pair.ratio or 0.0
                own = (edit.address, edit.overlay, ratio, 0.0, 0.0, 0.0, 0.0, edit.serves)
                return Laid(*own, before=True)
        return None

    def take_off(self, file: OpenFile, laid: Laid, pair: Pair) -> None:
        """Take an overlay away again."""
        words = f"taking the {laid.kind} off “{_short(pair.text)}”"
        self.decide(file, words, [TakeOff(laid.address)])

    def with_remedy(self, file: OpenFile, remedy: Remedy, pairs: Sequence[Pair]) -> HeldDocument:
        """Give the document as it would be with a remedy for these pairs."""
        edits = (*self.session.history.edits_of(file.key), *edits_for(remedy, pairs))
        in_state = any(pair.appears for pair in pairs)
        base: HeldDocument = file.base
        return base.with_edits(edits, trial=not in_state)

    def apply(self, file: OpenFile, remedy: Remedy, pair: Pair) -> None:
        """Apply a remedy to one pair."""
        if isinstance(remedy, AtOrigin):
            words = f"recolouring {remedy.words}"
        else:
            doing = f"the {remedy.kind} behind"
            if isinstance(remedy, Recolour | Moved):
                doing = "recolouring" if isinstance(remedy, Recolour) else "moving"
            words = f"{doing} “{_short(pair.text)}”"
        self.decide(file, words, edits_for(remedy, [pair]))

    def apply_to_alike(
        self,
        file: OpenFile,
        remedy: Remedy,
        pairs: Sequence[Pair],
        one_strength: bool = False,
        seat: Seat | None = None,
    ) -> None:
        """Apply to all alike: this colour where it passes in all, else the nearest for each.

        An overlay goes to every page with alike places, solved for what is
        there, or with one strength for all.
        """
        document, asked = file.document, self.session.asked
        edition = tuple(file.editions)

        def run() -> Sequence[Edit]:
            found: Sequence[Edit] = document.run(
                tasks.apply_to_alike, remedy, tuple(pairs), one_strength, asked, seat
            )
            return found

        def done(edits: Sequence[Edit]) -> None:
            if tuple(file.editions) == edition and edits:
                changed = {address for edit in edits for address in edit.texts}
                left = [pair for pair in pairs if pair.address not in changed]
                count = f"{len(pairs) - len(left)} alike texts"
                doing = "recolouring" if isinstance(remedy, Recolour) else f"{remedy.kind} for"
                self.decide(file, f"{doing} {count}", edits)
                if left:
                    self.failed.emit(
                        f"{len(left)} of {len(pairs)} alike texts stay as they are: there it finds "
                        "no room, or isn’t enough. They are still in the list."
                    )

        self.worker.do(run, done, self._tell)

    def set_aside(self, file: OpenFile, pairs: Sequence[Pair], reason: str, note: str = "") -> None:
        """Set pairs aside, with the person's reason."""
        edits = [SetAside(pair.address, pair.subject.value, reason, note) for pair in pairs]
        self.decide(file, f"setting “{_short(pairs[0].text)}” aside", edits)

    def take_up(self, file: OpenFile, pairs: Sequence[Pair]) -> None:
        """Judge pairs again that were set aside."""
        edits = [TakeUp(pair.address, pair.subject.value) for pair in pairs]
        self.decide(file, f"judging “{_short(pairs[0].text)}” again", edits)

    def mark(self, file: OpenFile, box: MarkText) -> None:
        """Draw a box round text in a picture, or change what is known of it."""
        known = file.document.box_at(box.address) is not None
        words = "describing a box" if known else "drawing a box"
        self.decide(file, words, [box])

    def mark_all(self, file: OpenFile, boxes: Sequence[Edit]) -> None:
        """Draw boxes round all text that was found in a picture."""
        self.decide(file, f"drawing {len(boxes)} boxes", boxes)

    def unmark(self, file: OpenFile, box: MarkText) -> None:
        """Take a box away."""
        self.decide(file, "removing a box", [UnmarkText(box.address)])

    def decide(self, file: OpenFile, words: str, edits: Sequence[Edit]) -> None:
        """Take a decision about a file, with words for the menu."""
        self.stepper.do(lambda: self.session.deciding(file.key, words, edits))

    def _after_change(self, key: int, touched: frozenset[int]) -> None:
        self.document_changed.emit(key)
        self.measure_due((key, min(touched)) if touched else None)

    def undo(self) -> None:
        """Undo the last decision."""
        self.stepper.do(self.session.undoing)

    def redo(self) -> None:
        """Take the decision undone last again."""
        self.stepper.do(self.session.redoing)

    # Saving

    def save_copy(self, file: OpenFile, target: Path) -> None:
        """Save a copy, measure it, and show what was measured."""
        history, document, asked = self.session.history, file.document, self.session.asked
        edits = history.edits_of(file.key)
        changed = self.session.changed_pairs(file.key)
        editions = tuple(file.editions)

        def done(copy: SavedCopy) -> None:
            file.edits_saved = edits
            if tuple(file.editions) == editions and self.session.asked == asked:
                for review in copy.pages:
                    file.pages[review.page] = self.session.with_set_aside(file.key, review)
            pages = [review for review in file.pages if review is not None]
            left = [p for page in pages for p in page.pairs if p.verdict is Verdict.FALLS_SHORT]
            self.saved.emit(replace(copy, left=tuple(left)))

        self.worker.do(
            lambda: document.run(tasks.save, target, file.location, changed, asked),
            done,
            self._tell,
        )

    def stop(self) -> None:
        """End the worker and close all files."""
        self._batch += 1
        self._drop_pending()
        self.pool.close()
        # Whatever the worker waits for ends with the processes.
        self.processes.close_all()
        self.worker.stop()


def _short(text: str, most: int = 24) -> str:
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"
