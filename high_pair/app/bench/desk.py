"""The Bench desk: two colours, a trio for links, or one against many; and the log beside them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QGuiApplication, QResizeEvent, QShowEvent
from PySide6.QtWidgets import (
    QBoxLayout,
    QButtonGroup,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.bench.colour_card import SHOWN, ColourCard
from high_pair.app.bench.link_sheet import LinkSheet
from high_pair.app.bench.log_panel import LogPanel, entry_in
from high_pair.app.bench.many_sheet import ManySheet
from high_pair.app.bench.outcome_ladder import OutcomeLadder
from high_pair.app.bench.sample_sheet import SampleSheet
from high_pair.app.bench.set_row import SetRow
from high_pair.app.bench.state import BenchState, Side
from high_pair.app.choice_box import ChoiceBox
from high_pair.app.picking.view import PickView
from high_pair.app.seats.strip import AUTHORED
from high_pair.app.theme import Theme
from high_pair.colour.notation import read, write
from high_pair.colour.ratio import shown_ratio
from high_pair.errors import HighPairError, NotationError
from high_pair.measure.by_hand import TARGETS
from high_pair.remedy.by_hand import Channel
from high_pair.review.log import LONGEST_TEXT, Entry, export
from high_pair.scene.paint import from_levels
from high_pair.scene.seat import Seat

SHEETS = ("Two colours", "Link trio", "One against many")
# Below this width (at 200% of a 1280 pixel screen) the desk takes its narrow form.
NARROW = 900
WORDS = "Last sailing from the quay 21:40, foot passengers only"


class DescribeDialog(QDialog):
    """Asks for an entry's name and note."""

    def __init__(self, parent: QWidget, entry: Entry) -> None:
        super().__init__(parent)
        self.setWindowTitle("Name and note")
        self.name = QLineEdit(entry.name)
        self.note = QLineEdit(entry.note)
        for field in (self.name, self.note):
            field.setMaxLength(LONGEST_TEXT)
            field.setMinimumWidth(300)
        form = QFormLayout(self)
        form.addRow("Name", self.name)
        form.addRow("Note", self.note)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)


class TwoColours(QWidget):
    """Two cards, the ladder, and the samples."""

    def __init__(self, state: BenchState, theme: Theme) -> None:
        super().__init__()
        self.state = state
        self.cards = {side: ColourCard(state, side, theme) for side in Side}
        self.ladder = OutcomeLadder(theme)
        self.sample = SampleSheet(theme)
        self.set_row = SetRow(theme)
        self.words = QLineEdit(WORDS)
        self.words.setAccessibleName("Words of the samples")
        self.words.setMaxLength(LONGEST_TEXT)
        self.words.textChanged.connect(self.refresh)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(10)
        for card in self.cards.values():
            column.addWidget(card)
        column.addWidget(self.set_row)
        column.addWidget(self.ladder)
        column.addWidget(self.sample, 1)
        row = QHBoxLayout()
        label = QLabel("Words of the samples")
        label.setBuddy(self.words)
        row.addWidget(label)
        row.addWidget(self.words, 1)
        self.seats = ChoiceBox(theme)
        self.seats.setAccessibleName("Samples seen from")
        self.seats.setToolTip("Show the samples as they are seen from a seat")
        self.seats.currentIndexChanged.connect(
            lambda at: self.sample.look_from(self.seats.itemData(at))
        )
        row.addSpacing(8)
        from_where = QLabel("Seen from")
        from_where.setBuddy(self.seats)
        row.addWidget(from_where)
        row.addWidget(self.seats)
        column.addLayout(row)
        self.show_seats(())

    def show_seats(self, seats: Sequence[Seat]) -> None:
        """Show the seats there are; the one that is looked from stays, if it is there."""
        now = self.seats.currentText()
        self.seats.clear()
        self.seats.addItem(AUTHORED, None)
        for seat in seats:
            self.seats.addItem(seat.name, seat)
        self.seats.setCurrentIndex(max(0, self.seats.findText(now)))

    def refresh(self) -> None:
        """Show the state."""
        for card in self.cards.values():
            card.refresh()
        pair = self.state.pair
        self.ladder.show_pair(pair, self.state.required)
        self.sample.show_pair(pair, self.words.text() or WORDS)


class BenchDesk(QWidget):
    """The desk. told: a message for the status line; pick_asked: a side to be picked."""

    told = Signal(str)
    sheet_changed = Signal()
    pick_asked = Signal(object)

    def __init__(self, theme: Theme, log_path: Path | None = None) -> None:
        super().__init__()
        self.state = BenchState(log_path)
        self.setAcceptDrops(True)
        self.two = TwoColours(self.state, theme)
        self.links = LinkSheet(self.state, theme)
        self.many = ManySheet(self.state, theme)
        self.log = LogPanel(theme)
        self.picking = PickView(theme)
        self.whole = QStackedWidget()
        self.sheets = QStackedWidget()
        self.buttons = {name: QPushButton(name) for name in SHEETS}
        self.group = QButtonGroup(self)
        self.asked = ChoiceBox(theme)
        self.swap_button = QPushButton("Swap")
        self.share_button = QPushButton("Share the change")
        self.keep_button = QPushButton("Keep")
        self.log_button = QPushButton("Log")
        self.narrow = False
        self._lay_out()
        self._connect()
        self.show_sheet(SHEETS[0])
        self._show_log()
        self._show_parts()

    def _lay_out(self) -> None:
        inside = QWidget()
        inside.setObjectName("benchInside")
        column = QVBoxLayout(inside)
        column.setContentsMargins(18, 12, 18, 12)
        column.setSpacing(10)
        column.addLayout(self._tools())
        for sheet in (self.two, self.links, self.many):
            self.sheets.addWidget(sheet)
        column.addWidget(self.sheets, 1)
        scroll = QScrollArea()
        scroll.setObjectName("bench")
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidget(inside)
        table = QWidget()
        row = QHBoxLayout(table)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(scroll, 1)
        row.addWidget(self.log)
        self.whole.addWidget(table)
        self.whole.addWidget(self.picking)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(self.whole)

    def _tools(self) -> QBoxLayout:
        self.tools = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self.tools.setSpacing(8)
        row = QHBoxLayout()
        row.setSpacing(6)
        for name, button in self.buttons.items():
            button.setCheckable(True)
            button.clicked.connect(lambda _checked=False, name=name: self.show_sheet(name))
            self.group.addButton(button)
            row.addWidget(button)
        self.log_button.setCheckable(True)
        self.log_button.clicked.connect(self._show_parts)
        row.addWidget(self.log_button)
        row.addStretch(1)
        self.tools.addLayout(row, 1)
        row = QHBoxLayout()
        row.setSpacing(6)
        label = QLabel("Asked for")
        label.setBuddy(self.asked)
        row.addWidget(label)
        for target in TARGETS:
            self.asked.addItem(f"{target.required:g} · {target.words}", target)
        self.asked.setAccessibleName("What is asked for")
        row.addWidget(self.asked)
        row.addSpacing(6)
        self.share_button.setToolTip("Change both by as much, to the nearest that pass (H)")
        self.swap_button.setToolTip("Let the two colours change places (X)")
        self.keep_button.setToolTip("Keep the pair in the log (Enter)")
        self.keep_button.setProperty("main", True)
        for button in (self.share_button, self.swap_button, self.keep_button):
            row.addWidget(button)
        row.addStretch(1)
        self.tools.addLayout(row)
        return self.tools

    def showEvent(self, event: QShowEvent) -> None:
        """Show what has changed meanwhile."""
        super().showEvent(event)
        self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Take the narrow form where there is little room."""
        narrow = event.size().width() < NARROW
        if narrow != self.narrow:
            self.narrow = narrow
            ways = QBoxLayout.Direction.TopToBottom, QBoxLayout.Direction.LeftToRight
            self.tools.setDirection(ways[0] if narrow else ways[1])
            for card in self.two.cards.values():
                card.set_narrow(narrow)
            self.links.set_narrow(narrow)
            self._show_parts()
        super().resizeEvent(event)

    def _show_parts(self) -> None:
        """Show the log beside the sheet, or on demand where there is no room for both."""
        self.log_button.setVisible(self.narrow)
        self.log.setVisible(not self.narrow or self.log_button.isChecked())

    def _connect(self) -> None:
        state = self.state
        state.changed.connect(self.refresh)
        state.log_changed.connect(self._show_log)
        self.asked.currentIndexChanged.connect(
            lambda index: state.ask(self.asked.itemData(index) or TARGETS[0])
        )
        for side, card in self.two.cards.items():
            card.copy_asked.connect(self.copy)
            card.nearest.clicked.connect(lambda _checked=False, side=side: self.nearest(side))
            card.pick_asked.connect(self.pick_asked)
        self.two.set_row.taken.connect(
            lambda side, levels: state.set_colour(side, from_levels(levels))
        )
        self.swap_button.clicked.connect(state.swap)
        self.share_button.clicked.connect(self.share)
        self.keep_button.clicked.connect(self.keep)
        self.log.take_back_asked.connect(self.take_back)
        self.log.forget_asked.connect(self.forget)
        self.log.describe_asked.connect(self.describe)
        self.log.export_asked.connect(self.ask_export)

    def remembered(self) -> dict[str, str]:
        """Give what is to be remembered for the next run."""
        pair = self.state.pair
        return {
            "foreground": write(pair.foreground.levels, "hex", pair.foreground.opacity),
            "backdrop": write(pair.backdrop.levels, "hex", pair.backdrop.opacity),
            "words": self.two.words.text(),
            "asked": self.state.target.words,
            "sheet": self.sheet,
        }

    def remember(self, words: Callable[[str], str]) -> None:
        """Take what was remembered; what makes no sense is passed over."""
        try:
            found = [read(words(side.value)) for side in Side]
            colours = [from_levels(each.rgb, each.opacity) for each in found]
            self.state.begin_with(*colours)
        except NotationError:
            pass
        self.two.words.setText(words("words") or WORDS)
        names = [target.words for target in TARGETS]
        if words("asked") in names:
            self.asked.setCurrentIndex(names.index(words("asked")))
        if words("sheet") in SHEETS:
            self.show_sheet(words("sheet"))

    # Doing

    @property
    def keeps(self) -> bool:
        """Whether the sheet that is shown has a pair to keep."""
        return self.sheet == SHEETS[0] and not self.is_picking

    @property
    def is_picking(self) -> bool:
        """Whether a colour is being picked."""
        return self.whole.currentWidget() is self.picking

    def show_picking(self, on: bool) -> None:
        """Show the picking view, or go back to the two colours."""
        if on:
            self.whole.setCurrentWidget(self.picking)
        else:
            self.picking.wanted = []
            self.whole.setCurrentIndex(0)
            self.show_sheet(SHEETS[0])
            self.two.cards[Side.FOREGROUND].sliders[Channel.LIGHTNESS].setFocus()
        self.sheet_changed.emit()

    @property
    def sheet(self) -> str:
        """The sheet that is shown."""
        return SHEETS[self.sheets.currentIndex()]

    def show_sheet(self, name: str) -> None:
        """Show another sheet."""
        self.sheets.setCurrentIndex(SHEETS.index(name))
        for place in range(self.sheets.count()):
            # A sheet that isn't shown asks for no room.
            there = place == self.sheets.currentIndex()
            policy = QSizePolicy.Policy.Expanding if there else QSizePolicy.Policy.Ignored
            sheet = self.sheets.widget(place)
            if sheet is not None:
                sheet.setSizePolicy(policy, policy)
        self.buttons[name].setChecked(True)
        two = name == SHEETS[0]
        for button in (self.share_button, self.swap_button, self.keep_button):
            button.setVisible(two)
        self.refresh()
        self.sheet_changed.emit()

    def refresh(self) -> None:
        """Show the state on the sheet at hand, or when the desk is shown next."""
        if not self.isVisible():
            return
        current = self.sheets.currentWidget()
        if isinstance(current, TwoColours | LinkSheet | ManySheet):
            current.refresh()

    def _show_log(self) -> None:
        self.log.show_log(self.state.now.log, self.state.required)

    def copy(self, words: str) -> None:
        """Put words on the clipboard."""
        QGuiApplication.clipboard().setText(words)
        self.told.emit(f"Copied {words}")

    def copy_notation(self, side: Side, number: int) -> None:
        """Copy one side's colour in the notation of a number from 1."""
        if self.sheet == SHEETS[0] and 1 <= number <= len(SHOWN):
            self.two.cards[side].copy_notation(SHOWN[number - 1])

    def nearest(self, side: Side) -> None:
        """Change one colour to the nearest that passes."""
        if self.sheet != SHEETS[0]:
            return
        if self.state.pair.ratio >= self.state.required:
            self.told.emit("It passes already.")
        elif not self.state.to_nearest_pass(side):
            self.told.emit(
                f"No {side} of this hue reaches {self.state.required:g}. Change the other "
                "colour, or share the change."
            )
        else:
            self.told.emit(f"The {side} changed: {shown_ratio(self.state.pair.ratio)}")

    def share(self) -> None:
        """Change both by as much."""
        if self.sheet != SHEETS[0]:
            return
        if self.state.pair.ratio >= self.state.required:
            self.told.emit("It passes already.")
        elif self.state.share_pass():
            self.told.emit(f"Both changed: {shown_ratio(self.state.pair.ratio)}")
        else:
            self.told.emit(f"Even black and white of these don't reach {self.state.required:g}.")

    def keep(self) -> None:
        """Keep the pair in the log."""
        if self.sheet == SHEETS[0]:
            self.state.keep()
            self.told.emit("Kept in the log; F2 gives it a name.")

    def take_back(self, row: int) -> None:
        """Bring an entry back to the two colours."""
        self.state.take_back(self.state.now.log.entries[row])
        self.show_sheet(SHEETS[0])

    def forget(self, rows: list[int]) -> None:
        """Delete entries; undo brings them back."""
        self.state.forget(rows)
        if rows:
            count = len(rows)
            self.told.emit(
                f"Deleted {count} from the log; Ctrl+Z brings "
                f"{'it' if count == 1 else 'them'} back."
            )

    def describe(self, row: int) -> None:
        """Ask for an entry's name and note."""
        dialog = DescribeDialog(self, self.state.now.log.entries[row])
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.state.describe(row, dialog.name.text(), dialog.note.text())

    def ask_export(self) -> None:
        """Ask where to write the log."""
        name, _ = QFileDialog.getSaveFileName(
            self,
            "Export the log",
            str(Path.home() / "measured pairs.csv"),
            "Table (*.csv);;JSON (*.json)",
        )
        if name:
            self.export_to(Path(name))

    def export_to(self, path: Path) -> None:
        """Write the log, or what is chosen of it when that is more than one entry."""
        rows = self.log.chosen_rows()
        entries = self.state.now.log.entries
        chosen = [entries[row] for row in rows] if len(rows) > 1 else list(entries)
        path = path if path.suffix else path.with_suffix(".csv")
        try:
            export(chosen, path)
        except HighPairError as error:
            self.state.failed.emit(str(error))
        else:
            self.told.emit(f"Wrote {len(chosen)} pairs to {path.name}")

    # Dropping

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Take entries of the log."""
        if entry_in(event.mimeData()) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Bring a dropped entry back to the two colours."""
        entry = entry_in(event.mimeData())
        if entry is None:
            return
        try:
            self.state.take_back(entry)
        except HighPairError as error:
            self.state.failed.emit(str(error))
            return
        event.acceptProposedAction()
        self.show_sheet(SHEETS[0])
