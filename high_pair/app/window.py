"""The window: its desks, the files, and what is done with them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QEvent, QMimeData, QObject, QSize, Qt
from PySide6.QtGui import (
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QKeyEvent,
    QResizeEvent,
)
from PySide6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QFileDialog,
    QMainWindow,
    QMessageBox,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from high_pair import __version__
from high_pair.app.actions import BENCH, REPORT, REVIEW, SETS, Actions
from high_pair.app.bars import Bar, Foot
from high_pair.app.bench.desk import BenchDesk
from high_pair.app.bench.state import BenchState, Side
from high_pair.app.controller import Controller
from high_pair.app.copies import ALL_FILES, Copies, file_filter
from high_pair.app.demo import DEMO, DEMOS, is_demo
from high_pair.app.keeping import ReviewKeeper
from high_pair.app.keys import KeysDialog
from high_pair.app.picking.guide import PickGuide
from high_pair.app.report.desk import ReportDesk
from high_pair.app.report.way import WayToPairs
from high_pair.app.review_desk import ReviewDesk
from high_pair.app.review_dialogs import REVIEWS, ReviewDialogs
from high_pair.app.rows import page_noun, plural
from high_pair.app.seats.own import OwnSeats
from high_pair.app.sets.desk import SetsDesk
from high_pair.app.sets.offer import SetOffer
from high_pair.app.sets.state import SetsState
from high_pair.app.settings import SYSTEM, Settings
from high_pair.app.theme import Theme, apply, theme_for
from high_pair.app.under_way import UnderWay
from high_pair.app.web_pages import WebPages
from high_pair.app.welcome import Welcome
from high_pair.errors import HighPairError
from high_pair.formats.kinds import (
    DECKS,
    DOCUMENTS,
    DRAWING,
    PAGES,
    PICTURES,
    SUFFIXES,
    WORKBOOKS,
)
from high_pair.formats.location import Location, location_of, name_of
from high_pair.formats.sets.files import SUFFIXES as SET_FILES
from high_pair.formats.web.settings import WebSettings
from high_pair.measure.pairs import Pair
from high_pair.review.review_file import SUFFIX
from high_pair.review.seats import BUILT_IN, known_seats
from high_pair.review.session import OpenFile
from high_pair.scene.seat import Seat
from high_pair.wcag.asked import Aim, Asked
from high_pair.wcag.criteria import Level
from high_pair.wcag.verdicts import Verdict

_NOBODY = Path()
# Audits' stores, which the Report desk shows.
STORES = (".sqlite", ".db")
SIZE = QSize(1280, 800)
SMALLEST = QSize(620, 380)
ROOM_FOR_NAME = 800


def dropped_paths(data: QMimeData) -> list[Location]:
    """Give the files and web addresses that are dropped."""
    found: list[Location] = []
    for url in data.urls():
        if url.isLocalFile():
            found.append(Path(url.toLocalFile()))
        elif url.scheme() in ("http", "https"):
            found.append(location_of(url.toString()))
    return found


def seats_there(own: Path) -> tuple[Sequence[Seat], str]:
    """Give the seats there are, and what is wrong with a person's own, empty for nothing."""
    try:
        return known_seats(own), ""
    except HighPairError as error:
        return BUILT_IN, str(error)


class Window(QMainWindow):
    """The main window."""

    def __init__(self, settings: Settings) -> None:
        super().__init__()
        self.settings = settings
        self.theme = theme_for(settings.theme)
        self.setWindowTitle("High Pair")
        self.setMinimumSize(SMALLEST)
        self.resize(SIZE)
        self.setAcceptDrops(True)
        self.controller = Controller(self, self.devicePixelRatioF())
        self.controller.session.asked = Asked(Level(settings.level), aim=settings.aim)
        seats, self._seats_trouble = seats_there(settings.seats_file)
        self.desk = ReviewDesk(self.controller, self.theme, seats)
        self.own_seats = OwnSeats(self.desk.seats, settings.seats_file, self.theme, self)
        self.welcome = Welcome()
        self.bench = BenchDesk(self.theme, settings.log_path)
        self.sets = SetsDesk(self.controller, SetsState(settings.sets_folder), self.theme)
        self.sets.in_use = settings.set_in_use
        self.report = ReportDesk(self.controller, self.theme)
        self.shown_desk = REVIEW
        # The file that is shown as soon as it is open; None for whichever is.
        self._awaited: Location | None = None
        self.stack = QStackedWidget()
        self.stack.addWidget(self.welcome)
        self.stack.addWidget(self.desk)
        self.stack.addWidget(self.bench)
        self.stack.addWidget(self.sets)
        self.stack.addWidget(self.report)
        self._problems: list[str] = []
        self._problem_box: QMessageBox | None = None
        self.foot = Foot()
        self.status = self.foot.status
        self.guide = PickGuide(self)
        self.keeper = ReviewKeeper(self.controller, settings.autosave_folder)
        self.reviews = ReviewDialogs(self)
        self.copies = Copies(self)
        self.web_pages = WebPages(self)
        self.commands = Actions(self)
        self.bar = Bar(self.commands.menu(), self.controller.session.asked)
        self._lay_out()
        self._connect()
        self._restore()
        self._progressed(0, 0)
        self.refresh()
        self.welcome.open.setFocus()
        if self._seats_trouble:
            self.show_problem(self._seats_trouble)

    # Building

    def _lay_out(self) -> None:
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.bar)
        column.addWidget(self.stack, 1)
        column.addWidget(self.foot)
        self.setCentralWidget(whole)

    def _connect(self) -> None:
        controller = self.controller
        controller.pages_changed.connect(self.refresh)
        controller.opened.connect(self._opened)
        controller.failed.connect(self.show_problem)
        source = self.report.source
        self.under_way = UnderWay(controller, self.keeper, self.desk.search, self.sets, source)
        self.under_way.changed.connect(self._busy_changed)
        self.desk.search.told.connect(self.status.setText)
        controller.progressed.connect(self._progressed)
        controller.painted.connect(self.foot.show_progress)
        controller.page_measured.connect(lambda *_: self._refresh_status())
        controller.document_changed.connect(lambda _key: self.refresh())
        controller.saved.connect(self.copies.tell)
        self.keeper.told.connect(self.status.setText)
        self.keeper.asked_found.connect(self.ask)
        self.keeper.changed.connect(self.refresh)
        self.desk.panel.fitting.pick_asked.connect(self.guide.pick_for_overlay)
        self.desk.zoom_changed.connect(self._zoom_changed)
        self.desk.pair_shown.connect(lambda _pair: self._refresh_actions())
        self.desk.file_shown.connect(self._refresh_title)
        self.desk.file_shown.connect(lambda: self.sets.show_file(self.desk.file))
        self.bar.desk_asked.connect(self.show_desk)
        self.bar.level_asked.connect(self.ask_level)
        self.bar.aim.aim_asked.connect(self.ask_aim)
        self.bar.open_asked.connect(self.ask_open)
        self.bar.save_asked.connect(self.copies.ask)
        self.foot.stop_asked.connect(self.stop_or_clear)
        self.bench.told.connect(self.status.setText)
        self.bench.sheet_changed.connect(self.refresh)
        self.bench.state.failed.connect(self.show_problem)
        self.bench.state.ways_changed.connect(self._refresh_actions)
        self._connect_sets()
        self._connect_report()
        self.own_seats.failed.connect(self.show_problem)
        seats = self.desk.seats
        seats.listed.connect(lambda: self.bench.two.show_seats(seats.seats))
        self.bench.two.show_seats(seats.seats)
        self.own_seats.told.connect(self.status.setText)
        self.welcome.open_asked.connect(self.ask_open)
        self.welcome.demo_asked.connect(self.open_demo)
        self.welcome.recent_asked.connect(lambda path: self.open_paths([path]))
        application = QApplication.instance()
        if application is not None:
            application.installEventFilter(self)
        QGuiApplication.styleHints().colorSchemeChanged.connect(lambda _: self._system_theme())

    def _connect_sets(self) -> None:
        sets = self.sets
        sets.told.connect(self.status.setText)
        sets.changed.connect(self._refresh_status)
        sets.changed.connect(self._refresh_hints)
        sets.place_asked.connect(self._show_place)
        sets.used.connect(lambda file: setattr(self.settings, "set_in_use", file))
        for source in (sets.state, sets.files, sets.settler):
            source.failed.connect(self.show_problem)
        sets.state.ways_changed.connect(self._refresh_actions)
        self.offer = SetOffer(self)
        self.controller.pages_changed.connect(lambda: sets.show_file(self.desk.file))

    def _connect_report(self) -> None:
        report = self.report
        report.told.connect(self.status.setText)
        report.changed.connect(self._refresh_status)
        report.changed.connect(self._refresh_hints)
        report.changed.connect(self._refresh_title)
        report.source.failed.connect(self.show_problem)
        self.way = WayToPairs(self)
        report.pairs_asked.connect(self.way.go)

    # Remembering

    def _restore(self) -> None:
        geometry = self.settings.state("window")
        if geometry is not None:
            self.restoreGeometry(geometry)
        # At twice the scale a small screen has less room than the usual size takes.
        self.resize(self.size().boundedTo(self.screen().availableSize()))
        for name, splitter in self._splitters.items():
            state = self.settings.state(name)
            if state is not None:
                splitter.restoreState(state)
        self.bench.remember(self.settings.words)
        self.set_single_keys(self.settings.single_keys)
        self.desk.head.listing.choose(self.settings.list_order)

    @property
    def _splitters(self) -> dict[str, QSplitter]:
        return {
            "across": self.desk.across,
            "down": self.desk.down,
            "sets": self.sets.down,
            "report": self.report.across,
        }

    def _remember(self) -> None:
        self.settings.keep_state("window", self.saveGeometry())
        for name, splitter in self._splitters.items():
            self.settings.keep_state(name, splitter.saveState())
        self.settings.list_order = self.desk.head.listing.order
        for name, words in self.bench.remembered().items():
            self.settings.keep_words(name, words)
        self.settings.flush()

    # Looks of the window

    def set_theme(self, name: str, _checked: bool = True) -> None:
        """Dress the window anew."""
        self.settings.theme = name
        self._dress(theme_for(name))

    def _system_theme(self) -> None:
        if self.settings.theme == SYSTEM:
            self._dress(theme_for(SYSTEM))

    def _dress(self, theme: Theme) -> None:
        self.theme = theme
        application = QApplication.instance()
        if isinstance(application, QApplication):
            apply(application, theme)
        for widget in self.findChildren(QWidget):
            holders: list[QObject] = [widget]
            if isinstance(widget, QAbstractItemView):
                holders.append(widget.itemDelegate())
            for holder in holders:
                if hasattr(holder, "theme"):
                    holder.theme = theme
            widget.update()
        self.desk.view.dress(theme)

    def set_single_keys(self, on: bool) -> None:
        """Let single letters and digits act, or not (WCAG 2.1.4)."""
        self.settings.single_keys = on
        self.commands.let_single_keys(on)
        self._refresh_actions()
        self._refresh_hints()

    # Files

    def current_file(self) -> OpenFile | None:
        """Give the file of the page that is shown."""
        return self.desk.file

    def open_paths(self, paths: Sequence[Location]) -> None:
        """Open files for review; on the Bench, pictures to pick from; on the Sets desk, sets."""
        files = [path for path in paths if isinstance(path, Path)]
        pictures = [
            path for path in files if self.shown_desk == BENCH and path.suffix.lower() in PICTURES
        ]
        reviews = [path for path in files if path.suffix.lower() == SUFFIX]
        settles = self.shown_desk == SETS
        sets = [path for path in files if settles and path.suffix.lower() in SET_FILES]
        stores = [path for path in files if path.suffix.lower() in STORES]
        taken = (*pictures, *reviews, *sets, *stores)
        others = [path for path in paths if path not in taken]
        for review in reviews:
            self._awaited = None
            self.keeper.open(review)
        if stores:
            self.show_desk(REPORT)
            self.report.source.show_file(stores[0])
        if sets:
            self.sets.dialogs.bring_in(sets)
        if pictures:
            self.guide.open_picture(pictures[0])
        if len(pictures) > 1:
            self.show_problem(
                f"Colours are picked from one picture at a time: {pictures[0].name} is shown. "
                "Open the others after it."
            )
        if others:
            self._awaited = others[0]
            self.controller.open(others, self.settings.web)

    def open_anew(self, file: OpenFile, web: WebSettings) -> bool:
        """Open a web page as it is to be shown now; tells whether that was wanted.

        What was decided about it is left, after asking.
        """
        if file in self.controller.unsaved() and not self._may_lose([file]):
            return False
        self.controller.close_file(file.key)
        self._awaited = file.location
        self.controller.open([file.location], web)
        return True

    def open_demo(self) -> None:
        """Open the demo files, and the demo's site by its address on this machine."""
        self._awaited = DEMO
        self.controller.open([*DEMOS, *self.web_pages.of_the_demo()], self.settings.web)

    def ask_open(self) -> None:
        """Ask for files to open."""
        recent = [path for path in self.settings.recent if isinstance(path, Path)]
        folder = str(recent[0].parent) if recent else ""
        filters = (
            file_filter("All that High Pair reads", (*SUFFIXES, SUFFIX)),
            file_filter("Slides", DECKS),
            file_filter("Documents", DOCUMENTS),
            file_filter("Spreadsheets", WORKBOOKS),
            file_filter("Web pages", PAGES),
            file_filter("Pictures", (*PICTURES, DRAWING)),
            REVIEWS,
            ALL_FILES,
        )
        names, _ = QFileDialog.getOpenFileNames(self, "Open", folder, ";;".join(filters))
        if names:
            self.open_paths([Path(name) for name in names])

    def _opened(self, key: int) -> None:
        file = self.controller.session.files.get(key)
        if file is None:
            return
        if not is_demo(file.location):
            self.settings.note_recent(file.location)
        if not file.base.pages:
            self.controller.close_file(key)
            self.show_problem(f"{file.name}: it has no pages, so there is nothing to measure.")
            return
        waited_for = self._awaited
        awaited = waited_for is None or self.controller.session.file_at(waited_for) is file
        if self.desk.file is not file and (awaited or self.desk.file is None):
            self.desk.show_page(key, 0)
        if awaited:
            # Of several files the first is shown; the others come while it is looked at.
            self._awaited = _NOBODY
            self.show_desk(REVIEW)

    def close_current(self) -> None:
        """Close the file whose page is shown, after asking about unsaved changes."""
        file = self.current_file()
        if file is None:
            return
        if file in self.controller.unsaved() and not self._may_lose([file]):
            return
        self.controller.close_file(file.key)
        self.refresh()

    # Doing

    def show_desk(self, name: str) -> None:
        """Show a desk."""
        self.shown_desk = name
        self.refresh()
        if name == REVIEW:
            self.offer.propose_from_it()
        if self.shown_desk == BENCH:
            self.bench.state.tell_trouble()
            self.bench.two.cards[Side.FOREGROUND].field.setFocus()
        elif name == SETS:
            self.sets.line.setFocus()
        elif name == REPORT:
            self.report.show_now()
            self.report.origins.setFocus()
        elif self.controller.session.files:
            self.desk.list.setFocus()
        else:
            self.welcome.open.setFocus()

    def undo(self) -> None:
        """Undo what was done last on the desk that is shown."""
        state = self._desk_state
        if state is not None and state.can_undo:
            state.undo()
        elif state is not self.bench.state:
            self.controller.undo()

    def redo(self) -> None:
        """Do again what was undone last on the desk that is shown."""
        state = self._desk_state
        if state is not None and state.can_redo:
            state.redo()
        elif state is not self.bench.state:
            self.controller.redo()

    @property
    def _desk_state(self) -> BenchState | SetsState | None:
        """What the desk that is shown goes back in by itself; None for the review."""
        if self.shown_desk == BENCH:
            return self.bench.state
        return self.sets.state if self.shown_desk == SETS else None

    def ways(self) -> tuple[bool, bool]:
        """Tell whether there is a way back, and forth, on the desk that is shown."""
        state = self._desk_state
        here = (False, False) if state is None else (state.can_undo, state.can_redo)
        if state is self.bench.state:
            return here
        history = self.controller.session.history
        return here[0] or bool(history.taken), here[1] or bool(history.undone)

    def step(self, by: int) -> None:
        """Go to the next or previous look in the list."""
        if not self.desk.list.step(by):
            if self.desk.list.looks.rows:
                self.status.setText("That was the last." if by > 0 else "That was the first.")
            else:
                self.status.setText("Nothing in this list.")

    def ask_level(self, level: Level) -> None:
        """Ask for a level."""
        self.ask(replace(self.controller.session.asked, level=level))

    def ask_aim(self, aim: Aim) -> None:
        """Have remedies reach more than the standard asks, or what it asks."""
        self.ask(replace(self.controller.session.asked, aim=aim))

    def ask(self, asked: Asked) -> None:
        """Ask for a level and an aim."""
        self.settings.level, self.settings.aim = asked.level.value, asked.aim
        self.bar.level_buttons[asked.level].setChecked(True)
        self.bar.aim.show_aim(asked.aim)
        self.controller.ask(asked)

    def bar_aim(self) -> None:
        """Open the menu of aims."""
        self.bar.aim.open_menu()

    def change_level(self) -> None:
        """Ask for the other level."""
        now = self.controller.session.asked.level
        self.ask_level(Level.AAA if now is Level.AA else Level.AA)

    def change_stripes(self) -> None:
        """Mark the pixels that fall short, or take the marks away."""
        self.desk.painter.show_stripes(not self.desk.painter.striped)
        words = (
            "Striped pixels fall short; K takes the stripes away."
            if self.desk.painter.striped
            else ""
        )
        self.status.setText(words)
        if not self.desk.painter.striped:
            self._refresh_status()

    def _show_place(self, pair: Pair) -> None:
        """Show a text on the Review desk."""
        if self.desk.file is not None:
            self.show_desk(REVIEW)
            self.desk.show_pair(self.desk.file.key, pair)

    def copy_colours(self) -> None:
        """Put the colours of the pair at hand on the clipboard."""
        pair = self.desk.pair
        if pair is not None and pair.numbers is not None:
            words = f"{pair.numbers.foreground} on {pair.numbers.background}"
            QGuiApplication.clipboard().setText(words)
            self.status.setText(f"Copied {words}")

    def stop_or_clear(self) -> None:
        """Stop measuring; when nothing is being measured, choose no remedy."""
        if self.shown_desk == BENCH and self.bench.is_picking:
            self.guide.leave()
        elif stopped := self.under_way.stop():
            self.status.setText(stopped)
        elif self.controller.measuring:
            self.controller.stop_measuring()
            self.refresh()
            left = len(self.controller.session.due())
            self.status.setText(f"Stopped; {left} pages are not measured. Ctrl+R goes on.")
        elif self.shown_desk == SETS:
            self.sets.clear()
        else:
            self.desk.choose_remedy(0)

    def open_menu(self) -> None:
        """Open the menu."""
        self.bar.menu_button.showMenu()

    def show_keys(self) -> None:
        """Show the keys."""
        KeysDialog(self, self.commands.by_name).exec()

    def show_about(self) -> None:
        """Show what this program is."""
        QMessageBox.about(
            self,
            "About High Pair",
            f"<b>High Pair {__version__}</b><p>Measures text against what is really painted "
            "behind it, by WCAG 2.2, and mends what falls short.</p>"
            "<p>MIT licence. Fonts: SIL Open Font License and Apache License.</p>",
        )

    # Telling

    def show_problem(self, message: str) -> None:
        """Tell a problem in a dialog that leaves the window usable; several share one."""
        self._problems.append(message)
        if self._problem_box is None:
            box = QMessageBox(self)
            box.setWindowTitle("High Pair")
            box.setWindowModality(Qt.WindowModality.NonModal)
            box.setTextFormat(Qt.TextFormat.PlainText)
            box.finished.connect(self._problem_closed)
            self._problem_box = box
        self._problem_box.setText("\n\n".join(self._problems[-6:]))
        self._problem_box.show()
        # Over the panel, not over the page that is being judged.
        corner = self.mapToGlobal(self.rect().bottomRight())
        size = self._problem_box.frameGeometry().size()
        self._problem_box.move(corner.x() - size.width() - 16, corner.y() - size.height() - 44)
        self.refresh()

    def _problem_closed(self) -> None:
        self._problem_box = None
        self._problems = []

    def _busy_changed(self) -> None:
        self.foot.show_busy(bool(self.under_way.words), self.controller.measuring)
        self._refresh_status()

    def _progressed(self, done: int, total: int) -> None:
        self.foot.show_progress(done, total)
        self._refresh_status()

    def _refresh_status(self) -> None:
        session = self.controller.session
        if self.under_way.words:
            self.status.setText(self.under_way.words)
            return
        if self.shown_desk == BENCH and not self.controller.measuring:
            words = "Which colour comes first makes no difference to the ratio."
            self.status.setText(words if self.bench.keeps else "")
            return
        statuses = {SETS: self.sets.status, REPORT: self.report.status}
        if self.shown_desk in statuses and not self.controller.measuring:
            self.status.setText(statuses[self.shown_desk])
            return
        if not session.files:
            self.status.setText("")
            return
        counts = session.counts()
        due = len(session.due())
        if self.controller.measuring and due:
            self.status.setText(f"Measuring: {due} pages to go")
            return
        short = counts[Verdict.FALLS_SHORT]
        words = f"{plural(sum(counts.values()), 'pair')} measured, {short} fall short"
        changed = sum(len(session.history.changed_addresses(key)) for key in session.files)
        if changed:
            words += f" · {plural(changed, 'text')} changed"
        boxes = sum(session.history.boxes_of(key) for key in session.files)
        if boxes:
            words += f" · {plural(boxes, 'box', 'boxes')}"
        self.status.setText(words)

    def refresh(self) -> None:
        """Show everything as it is now."""
        session = self.controller.session
        review = self.desk if session.files else self.welcome
        desks: dict[str, QWidget] = {
            REVIEW: review, BENCH: self.bench, SETS: self.sets, REPORT: self.report
        }  # fmt: skip
        self.stack.setCurrentWidget(desks[self.shown_desk])
        self.bar.show_desk(self.shown_desk)
        self._refresh_hints()
        self._refresh_title()
        if self.current_file() is None:
            self.welcome.show_recent(self.settings.recent)
        self._refresh_recent()
        self._refresh_actions()
        self._refresh_status()

    def _refresh_title(self) -> None:
        """Name the file of the page that is shown, or what the Report desk is about."""
        file = self.current_file()
        if self.shown_desk == REPORT and self.report.source.overview is not None:
            self.bar.file_label.setText(self.report.source.title)
            self.bar.file_label.setToolTip(str(self.report.source.path or ""))
            self.setWindowTitle(f"{self.report.source.title} – High Pair")
        elif file is not None:
            star = " · changed" if file in self.controller.session.unsaved() else ""
            count = len(file.base.pages)
            noun = page_noun(file.base.pages[0].name) if count else "page"
            self.bar.file_label.setText(f"{file.name} · {plural(count, noun)}{star}")
            assumed = file.base.assumed()
            place = str(file.location)
            self.bar.file_label.setToolTip("\n".join([place, *assumed]))
            self.setWindowTitle(f"{file.name} – High Pair")
        else:
            self.bar.file_label.setText("")
            self.setWindowTitle("High Pair")

    def _refresh_hints(self) -> None:
        picking = self.shown_desk == BENCH and self.bench.is_picking
        there = bool(self.controller.session.files)
        if self.shown_desk == BENCH:
            there = self.bench.keeps or picking
        elif self.shown_desk == SETS:
            there = self.sets.state.key is not None
        elif self.shown_desk == REPORT:
            there = self.report.source.overview is not None
        shown = there and self.settings.single_keys
        self.foot.show_hints(self.shown_desk, picking, shown, self.desk.decisions.takes_boxes)

    def _refresh_recent(self) -> None:
        self.commands.recent_menu.clear()
        for path in self.settings.recent:
            action = self.commands.recent_menu.addAction(name_of(path))
            action.setToolTip(str(path))
            action.triggered.connect(lambda _=False, path=path: self.open_paths([path]))
        self.commands.recent_menu.setEnabled(not self.commands.recent_menu.isEmpty())

    def _refresh_actions(self) -> None:
        there = self.current_file() is not None
        self.commands.refresh(there, self.desk.pair is not None)
        self._refresh_hints()
        self.bar.save_button.setEnabled(there)

    def _zoom_changed(self, zoom: float, fits: bool) -> None:
        self.foot.zoom_label.setText(f"{'Fit ' if fits else ''}{zoom * 100:.0f}%")

    # Events

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Show the page as it was while B is held, as authored while V is."""
        held = {
            Qt.Key.Key_B: self.desk.view.hold_before,
            Qt.Key.Key_V: self.desk.view.hold_authored,
        }
        if isinstance(event, QKeyEvent) and event.key() in held and self.isActiveWindow():
            hold = held[Qt.Key(event.key())]
            plain = event.modifiers() == Qt.KeyboardModifier.NoModifier
            acts = plain and self.settings.single_keys and self.shown_desk == REVIEW
            if event.type() == QEvent.Type.KeyPress and acts:
                if not event.isAutoRepeat():
                    hold(True)
                return True
            if event.type() == QEvent.Type.KeyRelease and not event.isAutoRepeat():
                hold(False)
        return super().eventFilter(watched, event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Leave the program's name and the aim out where the bar is short of room."""
        roomy = event.size().width() >= ROOM_FOR_NAME
        self.bar.set_narrow(not roomy)
        super().resizeEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Take files."""
        if dropped_paths(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Open the files dropped."""
        paths = dropped_paths(event.mimeData())
        if not paths:
            return
        event.acceptProposedAction()
        self.open_paths(paths)

    def _may_lose(self, files: list[OpenFile]) -> bool:
        names = ", ".join(file.name for file in files)
        answer = QMessageBox.question(
            self,
            "Unsaved changes",
            f"What was decided on {names} is in no copy and no review file yet. "
            "Leave without saving it?",
            QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel,
            QMessageBox.StandardButton.Cancel,
        )
        return answer == QMessageBox.StandardButton.Discard

    def closeEvent(self, event: QCloseEvent) -> None:
        """Ask about unsaved changes, remember the window, and stop the worker."""
        unsaved = self.controller.unsaved()
        if unsaved and not self._may_lose(unsaved):
            event.ignore()
            return
        self._remember()
        self.sets.leave()
        self.keeper.forget()
        application = QApplication.instance()
        if application is not None:
            application.removeEventFilter(self)
        self.controller.stop()
        self.report.source.close()
        self.web_pages.close()
        event.accept()
