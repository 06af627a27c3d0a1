"""The Review desk: pages, page, what was found, and the pair at hand."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QImage, QResizeEvent
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.controller import Controller
from high_pair.app.fitting.fitter import Fitter
from high_pair.app.list_head import ListHead
from high_pair.app.look_list import LookList
from high_pair.app.page_painter import PagePainter
from high_pair.app.page_strip import PageRow, PageStrip
from high_pair.app.page_view import LEAST_FOR_PAGES, LEAST_FOR_SHEETS, Marked, PageView
from high_pair.app.pair_decisions import PairDecisions
from high_pair.app.pair_panel import CHOOSE_A_TEXT, PairPanel
from high_pair.app.rows import page_noun, pages_words, plural
from high_pair.app.seats.strip import SeatStrip
from high_pair.app.seats.viewing import Viewing
from high_pair.app.shifting.shifter import Shifter
from high_pair.app.text_search import TextSearch
from high_pair.app.theme import Theme
from high_pair.formats.document import Shown, shown_part
from high_pair.measure.pairs import Pair
from high_pair.remedy.remedies import AtOrigin, Laid, Moved, Proposals, Remedy
from high_pair.review import tasks
from high_pair.review.listing import Reach, Scope
from high_pair.review.seats import BUILT_IN
from high_pair.review.session import Look, OpenFile
from high_pair.scene.seat import Seat
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

DRAW_A_BOX = (
    "Drag a box round text on the picture, or press T, to measure it. Shift+T looks for the text."
)
REFRESH_MILLISECONDS = 120
# Below this width (at 200% of a 1280 pixel screen) the desk takes its narrow form.
NARROW = 900
PANEL_WIDTH, PANEL_NARROW = 356, 252


class ReviewDesk(QWidget):
    """The desk. pair_shown: another pair is at hand, or None; file_shown: another file is."""

    pair_shown = Signal(object)
    file_shown = Signal()
    zoom_changed = Signal(float, bool)

    def __init__(
        self, controller: Controller, theme: Theme, seats: Sequence[Seat] = BUILT_IN
    ) -> None:
        super().__init__()
        self.controller = controller
        self.file: OpenFile | None = None
        self.page = -1
        # Whether remedies are looked for, and the number of the one that is to be chosen then.
        self.looking, self._keyed = False, 0
        self.pair: Pair | None = None
        self.alike: tuple[Pair, ...] = ()
        self.shown_verdict = Verdict.FALLS_SHORT
        self.ticket = 0
        self.narrow = False
        self.strip = PageStrip(theme)
        self.view = PageView(theme)
        self.list = LookList(theme)
        self.panel = PairPanel(theme)
        self.seats = SeatStrip(seats)
        self.fitter = Fitter(controller, self.view, self.panel)
        self.shifter = Shifter(controller, self.view, self.panel)
        self.decisions = PairDecisions(self)
        self.search = TextSearch(self)
        self.painter = PagePainter(self)
        self.viewing = Viewing(self)
        self.head = ListHead()
        self._lay_out()
        self._connect()
        self._refresh_soon = QTimer(self)
        self._refresh_soon.setSingleShot(True)
        self._refresh_soon.setInterval(REFRESH_MILLISECONDS)
        self._refresh_soon.timeout.connect(self.refresh_list)

    def _lay_out(self) -> None:
        strip = QFrame()
        strip.setObjectName("strip")
        column = QVBoxLayout(strip)
        column.setContentsMargins(0, 4, 0, 4)
        column.addWidget(self.strip)
        sheet = QFrame()
        sheet.setObjectName("sheet")
        below = QVBoxLayout(sheet)
        below.setContentsMargins(0, 0, 0, 0)
        below.setSpacing(0)
        below.addWidget(self.head)
        below.addWidget(self.list, 1)
        sheet.setMinimumHeight(90)
        self.down = QSplitter(Qt.Orientation.Vertical)
        above = QWidget()
        over = QVBoxLayout(above)
        over.setContentsMargins(0, 0, 0, 0)
        over.setSpacing(0)
        over.addWidget(self.seats)
        over.addWidget(self.view, 1)
        self.down.addWidget(above)
        self.down.addWidget(sheet)
        self.down.setStretchFactor(0, 3)
        self.down.setStretchFactor(1, 1)
        self.across = QSplitter(Qt.Orientation.Horizontal)
        self.across.addWidget(self.down)
        self.across.addWidget(self.panel)
        self.across.setStretchFactor(0, 1)
        self.across.setStretchFactor(1, 0)
        for splitter in (self.down, self.across):
            splitter.setChildrenCollapsible(False)
            splitter.setHandleWidth(3)
        self.across.setSizes([790, PANEL_WIDTH])
        self.down.setSizes([490, 236])
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(strip)
        row.addWidget(self.across, 1)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Take less room for pages and filters in a small window, or at a large scale."""
        super().resizeEvent(event)
        narrow = self.width() < NARROW
        if narrow != self.narrow:
            self.narrow = narrow
            self.strip.set_narrow(narrow)
            self.panel.set_narrow(narrow)
            self.head.set_narrow(narrow)
            panel = PANEL_NARROW if narrow else PANEL_WIDTH
            self.across.setSizes([max(1, self.across.width() - panel), panel])

    def _connect(self) -> None:
        self.head.listing.changed.connect(self.refresh_list)
        self.head.verdict_asked.connect(self.show_verdict)
        self.head.advice_asked.connect(self.viewing.list_advice)
        self.strip.page_chosen.connect(self._page_chosen)
        self.view.clicked.connect(self._clicked)
        self.panel.reach_asked.connect(self._propose_at)
        self.view.image_wanted.connect(self.painter.paint_anew)
        self.view.zoom_changed.connect(self.zoom_changed)
        self.list.look_chosen.connect(self._look_chosen)
        self.panel.remedies.remedy_chosen.connect(self._remedy_chosen)
        self.panel.apply_asked.connect(self.apply)
        self.panel.apply_to_alike_asked.connect(self.apply_to_alike)
        self.panel.place_step_asked.connect(self.step_place)
        self.controller.pages_changed.connect(self._pages_changed)
        self.controller.page_measured.connect(self._page_measured)
        self.controller.document_changed.connect(self._document_changed)
        self.controller.saved.connect(lambda _copy: self._results_changed())

    # What the controller tells

    def _pages_changed(self) -> None:
        files = self.controller.session.files
        before = {(row.file, row.page): row for row in self.strip.pages.rows}
        rows: list[PageRow] = []
        for file in files.values():
            if len(files) > 1:
                rows.append(PageRow(file.key, -1, file.name))
            for page, info in enumerate(file.base.pages):
                small = shown_part(info)
                aspect = min(3.0, small.height / max(small.width, 1.0))
                row = PageRow(file.key, page, info.name, aspect, info.hidden, info.headings)
                old = before.get((file.key, page))
                if old is not None:
                    row.thumbnail = old.thumbnail
                if file.pages[page] is not None:
                    row.counts = self._count(file.key, page)
                rows.append(row)
        self.strip.pages.show_rows(rows)
        if self.file is not None and self.file.key not in files:
            self.file, self.page, self.pair = None, -1, None
        with_pages = [key for key, file in files.items() if file.base.pages]
        if self.file is None and with_pages:
            self.show_page(with_pages[0], 0)
        elif self.file is not None:
            self.strip.go_to(self.file.key, self.page)
        elif not files:
            self.panel.show_nothing(CHOOSE_A_TEXT)
        self.refresh_list()

    def _count(self, file: int, page: int) -> dict[Verdict, int]:
        counts = dict.fromkeys(Verdict, 0)
        for pair in self.controller.session.pairs_on(file, page):
            counts[pair.verdict] += 1
        return counts

    def _page_measured(self, file: int, page: int, thumbnail: QImage) -> None:
        place = self.strip.pages.place_of(file, page)
        if place >= 0:
            row = self.strip.pages.rows[place]
            row.thumbnail, row.counts = thumbnail, self._count(file, page)
            self.strip.pages.row_changed(place)
        if self.file is not None and (file, page) == (self.file.key, self.page):
            self._find_pair_again()
        if self.controller.measuring:
            if not self._refresh_soon.isActive():
                self._refresh_soon.start()
        else:
            self.refresh_list()

    def _results_changed(self) -> None:
        for place, row in enumerate(self.strip.pages.rows):
            if not row.is_heading and row.counts is not None:
                row.counts = self._count(row.file, row.page)
                self.strip.pages.row_changed(place)
        self._find_pair_again()
        self.refresh_list()

    def _document_changed(self, key: int) -> None:
        if self.file is not None and key == self.file.key:
            self.panel.remedies.choose_none()
            self.painter.paint_page()

    def _find_pair_again(self) -> None:
        """Show the pair at hand as it is measured now, after a change or another level."""
        if self.file is None:
            return
        pairs = self.controller.session.pairs_on(self.file.key, self.page)
        own = self.decisions.awaited
        awaited = next((pair for pair in pairs if own and pair.address == own), None)
        if awaited is not None:
            # The box just drawn comes to hand, whatever its verdict.
            self.decisions.awaited = ""
            self.shown_verdict = awaited.verdict
            self.show_pair(self.file.key, awaited)
            return
        if self.pair is None:
            return
        for pair in pairs:
            same = (pair.address, pair.subject) == (self.pair.address, self.pair.subject)
            if same and pair != self.pair:
                self.show_pair(self.file.key, pair)
                return

    def refresh_list(self) -> None:
        """Show the looks of the verdict chosen, and the counts of all."""
        session = self.controller.session
        advised = self.viewing.lists_advice
        scope = self.scope
        looks = (
            self.viewing.advised()
            if advised
            else session.looks(self.shown_verdict, scope, self.head.listing.order)
        )
        counts = session.counts(scope)
        key = self.file.key if self.file else None
        several = len(session.files) > 1
        names = {each: file.name for each, file in session.files.items()} if several else {}
        self.list.show_looks(looks, names, key, self.pair)
        places = sum(len(look.group.pairs) for look in looks)
        words = f"{plural(len(looks), 'look')}, {plural(places, 'place')}"
        self.head.show_listed(words, counts, self.shown_verdict, advised)
        if self.pair is not None and self.file is not None:
            self._show_place()

    @property
    def scope(self) -> Scope:
        """The pages whose pairs are listed."""
        return self.head.listing.scope(self.file.key if self.file else None, self.page)

    def show_verdict(self, verdict: Verdict) -> None:
        """List the looks of another verdict."""
        self.viewing.lists_advice = False
        self.shown_verdict = verdict
        self.refresh_list()

    # Going to pages and pairs

    def show_page(self, key: int, page: int) -> None:
        """Turn to a page."""
        file = self.controller.session.files[key]
        if self.file is file and self.page == page:
            return
        other_file = self.file is not file
        self.file, self.page = file, page
        info = file.base.pages[page]
        least = LEAST_FOR_PAGES if info.shown is Shown.LONG else LEAST_FOR_SHEETS
        self.view.show_page((info.width, info.height), info.shown is not Shown.WHOLE, least)
        takes_boxes = self.decisions.takes_boxes
        self.view.canvas.takes_boxes = takes_boxes
        self.view.mark(None)
        self.strip.go_to(key, page)
        if self.head.listing.reach is not Reach.EVERYTHING:
            self.refresh_list()
        if other_file:
            self.file_shown.emit()
        if other_file or (takes_boxes and self.pair is None):
            # A pair of the file before must not be shown, or mended, in this one.
            self.show_no_pair(DRAW_A_BOX if takes_boxes else CHOOSE_A_TEXT)
        else:
            self.painter.paint_page()
        self.painter.paint_before()

    def _page_chosen(self, key: int, page: int) -> None:
        self.show_page(key, page)
        worst = self._worst_on_page()
        if worst is not None:
            self.show_pair(key, worst)
        else:
            self.show_no_pair("Nothing on this page falls short.")

    def _worst_on_page(self) -> Pair | None:
        if self.file is None:
            return None
        order = (Verdict.FALLS_SHORT, Verdict.NEEDS_EYES)
        pairs = self.controller.session.pairs_on(self.file.key, self.page)
        found = [pair for pair in pairs if pair.verdict in order]
        return min(found, key=lambda p: (order.index(p.verdict), p.ratio or 0.0), default=None)

    def show_no_pair(self, words: str) -> None:
        """Show that no pair is at hand, and what to do."""
        self.pair, self.alike = None, ()
        self.looking = False
        self.ticket += 1
        self._end_by_hand()
        self.view.mark(None)
        self.panel.show_nothing(words)
        self.list.go_to(None, None)
        self.painter.paint_page()
        self.pair_shown.emit(None)

    def _clicked(self, x: float, y: float) -> None:
        """Go to the text at a point of the page: the smallest one there."""
        if self.file is None:
            return
        reach = 4.0
        hits = []
        for pair in self.controller.session.pairs_on(self.file.key, self.page):
            left, top, width, height = pair.bbox
            inside = left - reach <= x <= left + width + reach
            if width > 0 and inside and top - reach <= y <= top + height + reach:
                hits.append((width * height, pair.subject is Subject.LINK, pair))
        if hits:
            self._go_to(min(hits, key=lambda hit: hit[:2])[2])
        else:
            self._go_to_look_at(x, y)

    def _go_to(self, pair: Pair) -> None:
        if self.file is None:
            return
        if pair.verdict is not self.shown_verdict and pair.verdict in self.head.filters:
            self.shown_verdict = pair.verdict
            self.refresh_list()
        self.show_pair(self.file.key, pair)

    def _go_to_look_at(self, x: float, y: float) -> None:
        """Go to the look at a point, of a sheet's cells that look alike."""
        file, page = self.file, self.page
        if file is None or file.web is not None:
            return

        def done(address: str) -> None:
            if not address or (self.file, self.page) != (file, page):
                return
            pairs = self.controller.session.pairs_on(file.key, page)
            own = [pair for pair in pairs if pair.address == address]
            if own:
                self._go_to(min(own, key=lambda pair: pair.ratio or 0.0))

        document = file.document
        self.controller.work(lambda: document.run(tasks.address_at, page, x, y), done)

    def _look_chosen(self, look: Look) -> None:
        self.show_pair(look.file, look.group.weakest)

    def show_pair(self, key: int, pair: Pair) -> None:
        """Bring a pair to hand: turn to its page, mark it, and look for its remedies."""
        if self.file is None or (key, pair.page - 1) != (self.file.key, self.page):
            self.show_page(key, pair.page - 1)
        self.pair = pair
        self.looking = False
        self.ticket += 1
        self._end_by_hand()
        if pair.verdict is Verdict.FALLS_SHORT or pair != self.panel.pair:
            # A remedy chosen for the pair before must not be painted for this one.
            self.panel.show_waiting()
        self.list.go_to(key, pair)
        weakest = pair.numbers.weakest_box if pair.numbers and pair.numbers.varied else None
        self.view.mark(Marked(pair.bbox, weakest))
        self._show_place()
        self.panel.box.show_box(self.decisions.box)
        self.painter.paint_page()
        self.painter.paint_sample()
        if pair.verdict is Verdict.FALLS_SHORT or self.viewing.falls_short(pair):
            self._propose()
        else:
            self.decisions.show_applied()
        self.pair_shown.emit(pair)

    def _show_place(self) -> None:
        """Find the alike places and show the pair among them."""
        file, pair = self.file, self.pair
        if file is None or pair is None:
            return
        self.alike = (pair,)
        for look in self.controller.session.looks(pair.verdict):
            ids = [each.id for each in look.group.pairs]
            if look.file == file.key and pair.id in ids:
                self.alike = tuple(sorted(look.group.pairs, key=lambda p: p.id))
        place = 1 + next((i for i, p in enumerate(self.alike) if p.id == pair.id), 0)
        pages = sorted({each.page for each in self.alike})
        slides = pages_words(pages, page_noun(file.base.pages[pair.page - 1].name))
        chosen = self.panel.remedies.chosen
        if self.panel.pair != pair:
            self.panel.show_pair(pair, place, len(self.alike), slides)
        else:
            alike = f"{place} of {len(self.alike)} places, {slides}"
            self.panel.show_fact("Alike", alike if len(self.alike) > 1 else "")
        self.panel.enable_apply(chosen is not None)

    def step_place(self, by: int) -> None:
        """Go to the next or previous alike place."""
        if self.pair is None or self.file is None or len(self.alike) < 2:
            return
        place = next((i for i, p in enumerate(self.alike) if p.id == self.pair.id), 0)
        self.show_pair(self.file.key, self.alike[(place + by) % len(self.alike)])

    @property
    def page_size(self) -> tuple[float, float]:
        """The size of the page that is shown, in points."""
        return self.view.canvas.page_size

    # Remedies

    def propose_anew(self) -> None:
        """Look for remedies again, since they may take other colours now."""
        if self.pair is not None and (
            self.pair.verdict is Verdict.FALLS_SHORT or self.viewing.falls_short(self.pair)
        ):
            self.ticket += 1
            self.panel.show_waiting()
            self._propose()

    def _propose(self) -> None:
        file, pair, ticket = self.file, self.pair, self.ticket
        if file is None or pair is None:
            return
        # The pair at hand first: where no colour serves all, it is the one served.
        others = [each for each in self.alike if each.id != pair.id]

        def wanted() -> bool:
            return ticket == self.ticket

        def done(proposals: Proposals) -> None:
            if wanted():
                self._found(proposals, len(self.alike))

        self.looking, self._keyed = True, 0
        self.controller.propose(file, [pair, *others], done, wanted, self.viewing.seat)

    def _found(self, proposals: Proposals, alike: int) -> None:
        """Show remedies that were looked for, and choose the one that was asked for meanwhile."""
        self.looking = False
        self.panel.show_proposals(proposals, alike)
        self.painter.paint_remedies(proposals, self.ticket)
        if self._keyed:
            self.choose_remedy(self._keyed)

    def _propose_at(self, place: int) -> None:
        """Look for remedies here, or where the colour is decided (1 for the nearest place)."""
        file, pair = self.file, self.pair
        if file is None or pair is None:
            return
        self.ticket += 1
        self._end_by_hand()
        self.panel.show_waiting()
        self.painter.paint_page()
        if place == 0:
            self._propose()
            return
        ticket = self.ticket

        def wanted() -> bool:
            return ticket == self.ticket

        def done(proposals: Proposals) -> None:
            if wanted():
                self._found(proposals, 1)

        self.looking, self._keyed = True, 0
        self.controller.propose_at(file, self.panel.reaches[place - 1], done, wanted)

    def _remedy_chosen(self, remedy: Remedy | None) -> None:
        self.panel.enable_apply(remedy is not None)
        self.panel.one_strength.setVisible(isinstance(remedy, Laid) and len(self.alike) > 1)
        if isinstance(remedy, AtOrigin):
            self.panel.show_consequences(remedy)
        self.painter.paint_page()
        self.painter.paint_sample()
        file, pair, ticket = self.file, self.pair, self.ticket
        self._end_by_hand()
        if file is None or pair is None:
            return
        if isinstance(remedy, Laid):
            self.fitter.begin(file, remedy, pair, lambda: ticket == self.ticket)
        elif isinstance(remedy, Moved):
            self.shifter.begin(file, remedy, pair, lambda: ticket == self.ticket)

    def _end_by_hand(self) -> None:
        self.fitter.end()
        self.shifter.end()

    def snap(self) -> None:
        """Take back what was changed by hand: the least strength, or the nearest place."""
        self.panel.fitting.snap()
        self.shifter.snap()

    def choose_remedy(self, place: int) -> None:
        """Choose a remedy by its number from 1; 0 chooses none.

        While they are looked for the number is kept, and chosen when they are there.
        """
        if self.looking:
            self._keyed = place
            self.panel.show_waiting(place)
        elif place == 0:
            self.panel.remedies.choose_none()
        else:
            self.panel.remedies.choose(place - 1)

    def apply(self) -> None:
        """Apply the chosen remedy; when none is chosen, choose the first to be seen."""
        self.fitter.take_in()
        chosen = self.panel.remedies.chosen
        if chosen is None:
            self.choose_remedy(1)
        elif self.file is not None and self.pair is not None and self.panel.apply.isEnabled():
            self.controller.apply(self.file, chosen, self.pair)

    def apply_to_alike(self) -> None:
        """Apply the chosen remedy to all alike places."""
        self.fitter.take_in()
        chosen = self.panel.remedies.chosen
        if chosen is None:
            self.choose_remedy(1)
        elif self.file is not None and self.pair is not None and self.panel.apply.isEnabled():
            # The pair at hand first: its page is the remedy's own.
            others = [pair for pair in self.alike if pair.id != self.pair.id]
            one_strength = self.panel.one_strength.isChecked()
            self.controller.apply_to_alike(
                self.file, chosen, [self.pair, *others], one_strength, self.viewing.seat
            )
