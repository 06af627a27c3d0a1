"""The Sets desk: the family of colours on one line, its pairs, and what mends them."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QResizeEvent, QShowEvent
from PySide6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.choice_box import ChoiceBox
from high_pair.app.controller import Controller
from high_pair.app.elided_label import ElidedLabel
from high_pair.app.rows import page_noun, plural
from high_pair.app.sets.apart import closest_of
from high_pair.app.sets.dialogs import SetDialogs
from high_pair.app.sets.file_sets import FileSets
from high_pair.app.sets.line_view import LineView
from high_pair.app.sets.pair_list import pair_row
from high_pair.app.sets.pairs_part import PairsPart
from high_pair.app.sets.proposal_list import TITLES
from high_pair.app.sets.set_list import SetRow
from high_pair.app.sets.set_strip import SetStrip
from high_pair.app.sets.settler import Proposal, Settler, is_short
from high_pair.app.sets.side_panel import SidePanel
from high_pair.app.sets.state import Applied, SetsState
from high_pair.app.sets.words import shown_name
from high_pair.app.theme import Theme, font
from high_pair.edits.kinds import Edit
from high_pair.measure.pairs import Pair
from high_pair.remedy.wishes import Family
from high_pair.report.colours import usual_ratio
from high_pair.review.colour_sets import edits_between
from high_pair.review.session import OpenFile
from high_pair.review.set_drafts import standing
from high_pair.scene.colour_set import ColourSet, SetPair, State

# While a colour is moved the list and the panel follow as often.
SOON_MILLISECONDS = 60
NARROW = 900
PANEL_WIDTH, PANEL_NARROW = 348, 258
NO_SET = (
    "No set here yet. Slides, documents, workbooks and web pages bring theirs: open one. "
    "Or bring in a set’s file, or type the colours of a new set."
)


class SetsDesk(QWidget):
    """The desk. told: a message for the status line; place_asked: a text of the file at hand is
    to be shown on the Review desk; changed: what can be done is another; used: another kept set
    is in use, by its file."""

    told = Signal(str)
    place_asked = Signal(object)
    changed = Signal()
    used = Signal(str)

    def __init__(self, controller: Controller, state: SetsState, theme: Theme) -> None:
        super().__init__()
        self.controller = controller
        self.state = state
        self.files = FileSets(controller)
        self.settler = Settler(state, controller)
        self.file: OpenFile | None = None
        # The kept set that is offered wherever a colour is chosen, by its file.
        self.in_use = ""
        self.narrow = False
        self.strip = SetStrip(theme)
        self.sets, self.buttons = self.strip.sets, self.strip.buttons
        self.set_choice = ChoiceBox(theme)
        self.line = LineView(state, theme)
        self.part = PairsPart(theme)
        self.pairs, self.filters, self.nothing = (
            self.part.pairs,
            self.part.filters,
            self.part.nothing,
        )
        self.panel = SidePanel(state, self.line, theme)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SOON_MILLISECONDS)
        self._soon.timeout.connect(self.refresh)
        self._lay_out()
        self.dialogs = SetDialogs(self, theme)
        self._connect()

    # Building

    def _lay_out(self) -> None:
        self.down = QSplitter(Qt.Orientation.Vertical)
        self.down.addWidget(self._line_part())
        self.down.addWidget(self.part)
        self.down.setStretchFactor(0, 3)
        self.down.setStretchFactor(1, 2)
        self.down.setChildrenCollapsible(False)
        self.down.setHandleWidth(3)
        self.down.setSizes([470, 250])
        self.panel.setFixedWidth(PANEL_WIDTH)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.strip)
        row.addWidget(self.down, 1)
        row.addWidget(self.panel)

    def _line_part(self) -> QWidget:
        part = QFrame()
        part.setObjectName("sheet")
        column = QVBoxLayout(part)
        column.setContentsMargins(0, 8, 0, 0)
        column.setSpacing(2)
        row = QHBoxLayout()
        row.setContentsMargins(16, 0, 14, 0)
        self.title = QLabel("How far apart they are")
        self.title.setFont(font(15, bold=True))
        row.addWidget(self.title)
        self.set_choice.setAccessibleName("The set that is shown")
        self.set_choice.hide()
        row.addWidget(self.set_choice, 1)
        self.hint = ElidedLabel(Qt.AlignmentFlag.AlignLeft)
        self.hint.setText("a ratio is a distance: as wide as the rule, or wider, passes")
        self.hint.setProperty("quiet", True)
        row.addSpacing(8)
        row.addWidget(self.hint, 1)
        column.addLayout(row)
        self.empty = QLabel(NO_SET)
        self.empty.setWordWrap(True)
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.empty.setContentsMargins(40, 20, 40, 20)
        column.addWidget(self.line, 1)
        column.addWidget(self.empty, 1)
        return part

    def _connect(self) -> None:
        state = self.state
        state.changed.connect(self._state_changed)
        state.listed.connect(self._show_sets)
        state.listed.connect(lambda: self.part.suit(state.colours, state.shows_kept))
        self.part.state_asked.connect(self.show_state)
        self.files.changed.connect(self._files_changed)
        self.settler.changed.connect(self.refresh)
        self.sets.set_chosen.connect(state.show)
        self.set_choice.activated.connect(lambda at: state.show(self.set_choice.itemData(at)))
        self.pairs.pair_chosen.connect(state.choose_pair)
        self.panel.proposals.proposal_chosen.connect(self._proposal_chosen)
        self.panel.pair.place_asked.connect(self.place_asked)
        self.panel.apply_asked.connect(self.apply)
        self.panel.keep_asked.connect(self.keep)
        self.buttons["use"].clicked.connect(self.use)
        state.taken_back.connect(self._take_back)
        state.taken_again.connect(self._take_again)
        self.controller.page_measured.connect(lambda *_: self._look())
        self.controller.document_changed.connect(lambda _: self._look())

    def _state_changed(self) -> None:
        """Show what has changed; while a colour is moved the line alone follows in the frame."""
        if not self.state.is_moving:
            self._soon.stop()
            self.refresh()
        elif not self._soon.isActive():
            self._soon.start()

    def showEvent(self, event: QShowEvent) -> None:
        """Show what has changed meanwhile."""
        super().showEvent(event)
        self.state.tell_trouble()
        self._look()
        self.settler.wake(True)
        self._show_sets()
        self.refresh()

    def hideEvent(self, event: QHideEvent) -> None:
        """Leave the settling until the desk is shown again."""
        super().hideEvent(event)
        self.settler.wake(False)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Take the narrow form where there is little room."""
        super().resizeEvent(event)
        narrow = self.width() < NARROW
        if narrow != self.narrow:
            self.narrow = narrow
            self.strip.setVisible(not narrow)
            self.title.setVisible(not narrow)
            self.hint.setVisible(not narrow)
            self.set_choice.setVisible(narrow)
            self.panel.setFixedWidth(PANEL_NARROW if narrow else PANEL_WIDTH)
            self.panel.set_narrow(narrow)
            self.refresh()

    # The file at hand

    def show_file(self, file: OpenFile | None) -> None:
        """Show the sets of the file at hand."""
        self.file = file
        self._look()

    def _look(self) -> None:
        if self.isVisible():
            self.files.look(self.file)

    def _files_changed(self) -> None:
        file = self.files.file
        key = file.key if file is not None else 0
        state = self.state
        if (key, self.files.sets, self.files.uses) != (state.file, state.file_sets, state.uses):
            state.show_file(key, self.files.sets, self.files.uses)
        self.refresh()

    # Showing

    def _show_sets(self) -> None:
        rows: list[SetRow] = []
        keys = self.state.all_keys()
        of_file = [key for key in keys if not key.kept]
        if of_file:
            rows.append(SetRow("In this file"))
        for key in keys:
            if key.kept and not any(row.name == "Kept" and row.key is None for row in rows):
                rows.append(SetRow("Kept"))
            colours = self.state.colours_of(key)
            moved = not key.kept and self.state.is_moved_from_base(key)
            name = colours.name if key.kept else f"{colours.kind.capitalize()} “{colours.name}”"
            used = bool(key.kept) and key.kept == self.in_use
            rows.append(SetRow(name, key, colours, used, moved))
        self.sets.show_sets(rows, self.state.key)
        self.set_choice.clear()
        for row in rows:
            if row.key is not None:
                self.set_choice.addItem(row.name, row.key)
                if row.key == self.state.key:
                    self.set_choice.setCurrentIndex(self.set_choice.count() - 1)

    @property
    def required(self) -> float:
        """The ratio that is asked of text of usual size."""
        return usual_ratio(self.controller.session.asked.level)

    def refresh(self) -> None:
        """Show the state."""
        if not self.isVisible():
            return
        colours = self.state.looked_at
        self.line.usual_ratio = self.required
        self.line.setVisible(colours is not None)
        self.empty.setVisible(colours is None)
        self.part.show_set(colours, self.required, self.state.pair, self.narrow)
        self.nothing.setText(self._nothing_words(colours))
        self._refresh_panel(colours)
        self._refresh_buttons()
        self.changed.emit()

    def _nothing_words(self, colours: ColourSet | None) -> str:
        if colours is None:
            return ""
        if self.part.shown is State.WANTED:
            return (
                "No pair is wanted yet: choose one under Possible, and press W to ask that it "
                "passes, though no page has it."
            )
        if self.part.shown is State.POSSIBLE:
            return "Of a set of so many colours the possible pairs aren’t listed."
        if self.state.shows_kept:
            return "A kept set stands on no page. What must pass in it is under Wanted."
        if not self.files.is_met:
            return (
                self.files.under_way or "Once all pages are measured, the pairs in use show here."
            )
        return "On no page does text of one of these colours stand on another of them."

    def _uses(self) -> dict[tuple[str, str], Sequence[Pair]]:
        key = self.state.key
        if key is None or key.kept:
            return {}
        return {
            (text, backdrop): pairs
            for (place, text, backdrop), pairs in self.state.uses.items()
            if place == key.place
        }

    @property
    def noun(self) -> str:
        """What a page of the file at hand is called."""
        pages = self.file.base.pages if self.file is not None else ()
        return page_noun(pages[0].name) if pages else "page"

    def _refresh_panel(self, colours: ColourSet | None) -> None:
        panel = self.panel
        found = colours.colour(self.state.chosen) if colours is not None else None
        pair = self.state.pair
        panel.colour.setVisible(found is not None)
        panel.pair.setVisible(pair is not None and colours is not None)
        nothing = found is None and pair is None
        for widget in (panel.overview, panel.apart):
            widget.setVisible(nothing and colours is not None)
        panel.add_button.setVisible(nothing and self.state.shows_kept)
        if colours is not None and found is not None:
            panel.colour.show_colour(found, colours, self._uses(), self.noun)
        elif colours is not None and pair is not None:
            known = next((p for p in colours.pairs if (p.text, p.backdrop) == pair), None)
            shown = known or SetPair(*pair, State.POSSIBLE, self.required)
            ratio = standing(colours, [shown]).ratios[0]
            row = pair_row(shown, ratio, colours)
            panel.pair.show_pair(row, self._uses().get(pair, ()))
        elif colours is not None:
            count = plural(len(colours.colours), "colour")
            panel.overview.setText(
                f"<b>{_plain(colours.name)}</b>: {count}. Choose one on the line, or a pair in "
                "the list. The two that each kind of eyes tells apart least:"
            )
            panel.apart.show_closest(closest_of(colours), colours, named=True)
        self._refresh_mending()

    def _refresh_mending(self) -> None:
        panel, state, settler = self.panel, self.state, self.settler
        panel.proposals.show_proposals(settler.proposals, state.colours, state.proposal)
        now = state.colours
        panel.mending.setVisible(now is not None)
        panel.said.setText("" if now is None else self._mending_words(now))
        panel.said.setVisible(bool(panel.said.text()))
        edits = self.edits()
        self.files.try_on_pages(edits)
        effect = self.files.effect if edits else None
        for widget in (panel.on_pages, panel.effect):
            widget.setVisible(effect is not None)
        panel.tried.show_pages(self.files.shown_pages() if effect else [], self.noun)
        if effect is not None:
            panel.effect.show_effect(effect)

    def _mending_words(self, colours: ColourSet) -> str:
        if self.settler.waits:
            move = self.settler.under_way
            return f"Looking: {TITLES[move].lower()}…" if move else "Looking…"
        if self.files.under_way and not self.state.shows_kept:
            return f"{self.files.under_way}…"
        if not colours.pairs:
            return "" if self.state.shows_kept or not self.files.is_met else "Nothing to mend."
        if not is_short(colours):
            return "All pairs in use and wanted pass."
        if not self.settler.proposals:
            return (
                "No colour can be moved so that more pairs pass. Let another one move, or want "
                "fewer pairs."
            )
        return ""

    def edits(self) -> list[Edit]:
        """Give the edits that bring the set as it is looked at into its file."""
        key, looked_at = self.state.key, self.state.looked_at
        if key is None or key.kept or looked_at is None:
            return []
        return edits_between(self.state.base(key), looked_at)

    def _refresh_buttons(self) -> None:
        state = self.state
        kept = state.shows_kept
        there = state.key is not None
        self.strip.allow(kept, there, bool(state.file_sets))
        key = state.key
        self.buttons["use"].setChecked(key is not None and kept and key.kept == self.in_use)
        panel = self.panel
        panel.name_apply(kept)
        can = state.proposal is not None if kept else self.files.effect is not None
        panel.apply_button.setEnabled(can)
        tip = "" if can or kept else "Move a colour or choose a way to mend, first"
        panel.apply_button.setToolTip(tip or "(Enter)")
        panel.keep_button.setEnabled(there)

    # Doing

    def show_state(self, state: State) -> None:
        """List the pairs of another state."""
        self.part.shown = state
        self.refresh()

    def _proposal_chosen(self, proposal: Proposal | None) -> None:
        self.state.look_at(None if proposal is None else proposal.mended)

    def choose_proposal(self, number: int) -> None:
        """Choose a way to mend by its number from 1; 0 for none."""
        if number:
            self.panel.proposals.choose(number - 1)
        else:
            self.state.look_at(None)

    def clear(self) -> None:
        """Look at the set as it is, then choose nothing."""
        if self.state.proposal is not None:
            self.state.look_at(None)
        else:
            self.state.choose("")

    def apply(self) -> None:
        """Apply what is looked at: to the file, or to the kept set."""
        state = self.state
        if not self.panel.apply_button.isEnabled():
            return
        key, looked_at = state.key, state.looked_at
        if key is None or looked_at is None:
            return
        if key.kept:
            state.take_levels(
                {
                    change.name: change.after
                    for change in (state.proposal.changes if state.proposal else ())
                }
            )
            self.told.emit(f"“{looked_at.name}” is changed; Ctrl+Z takes it back.")
        elif self.file is not None:
            edits = self.edits()
            state.begin_applying(edits)
            self.controller.decide(self.file, f"the set “{looked_at.name}”", edits)
            self.told.emit(
                f"{plural(len(edits), 'colour')} of “{looked_at.name}” changed in "
                f"{self.file.name}; Ctrl+Z takes it back."
            )

    def _take_back(self, applied: Applied) -> None:
        """Undo in the file what was applied to it, unless something else was decided since."""
        taken = self.controller.session.history.taken
        if taken and (taken[-1].file, taken[-1].edits) == (applied.file, applied.edits):
            self.controller.undo()
        else:
            self.told.emit("The file keeps the set: something else was decided since.")

    def _take_again(self, applied: Applied) -> None:
        undone = self.controller.session.history.undone
        if undone and (undone[0].file, undone[0].edits) == (applied.file, applied.edits):
            self.controller.redo()

    def enter(self) -> None:
        """Apply what is looked at; in the list of places, show that place."""
        focus = QApplication.focusWidget()
        if focus is self.panel.pair.places:
            self.panel.pair.go_to_place()
        elif focus is self.panel.colour.field:
            self.line.setFocus()
        elif isinstance(focus, QPushButton):
            focus.click()
        else:
            self.apply()

    def use(self, on: bool) -> None:
        """Offer the kept set that is shown wherever a colour is chosen, or none any more."""
        key = self.state.key
        self.in_use = key.kept if on and key is not None else ""
        self._show_sets()
        self._refresh_buttons()
        self.used.emit(self.in_use)

    def family(self) -> Family:
        """Give what remedies take their colours from, and the colours that are left as they are."""
        used = self.colours_in_use()
        sets = [self.state.colours_of(key) for key in self.state.all_keys() if not key.kept]
        kept = [each for colours in [*sets, *([used] if used else [])] for each in colours.colours]
        return Family(
            tuple(each.levels for each in used.colours) if used is not None else (),
            frozenset(each.levels for each in kept if each.leave),
        )

    def colours_in_use(self) -> ColourSet | None:
        """Give the kept set that is offered wherever a colour is chosen."""
        return next((each for each in self.state.kept_sets() if each.source == self.in_use), None)

    def keep(self) -> None:
        """Keep what is looked at as a new set."""
        looked_at = self.state.looked_at
        if looked_at is not None:
            key = self.state.keep(looked_at)
            self.told.emit(f"Kept as “{self.state.base(key).name}”; F2 renames it.")

    def change_leave(self) -> None:
        """Leave the chosen colour as it is, or let it move."""
        colours, name = self.state.colours, self.state.chosen
        found = colours.colour(name) if colours is not None else None
        if found is None or colours is None or found.parent:
            self.told.emit("Choose a colour on the line first.")
            return
        self.state.set_leave(name, not found.leave)
        words = "may move again" if found.leave else "stays as it is"
        self.told.emit(f"{shown_name(name, colours)} {words}.")

    def step(self, by: int) -> None:
        """Go to the next or previous pair of the list."""
        if not self.pairs.step(by):
            self.told.emit("That was the last." if by > 0 else "That was the first.")

    def leave(self) -> None:
        """Store what is kept, and wait for nothing any more: the window closes."""
        self.settler.wake(False)
        self.files.leave()
        self.state.store()

    @property
    def busy(self) -> bool:
        """Whether anything asked for is still to come."""
        return self._soon.isActive() or self.settler.waits or bool(self.files.under_way)

    @property
    def under_way(self) -> str:
        """What is under way, in words; empty where nothing is."""
        if not self.isVisible():
            return ""
        if self.settler.under_way is not None:
            return f"Settling the set: {TITLES[self.settler.under_way].lower()}…"
        return self.files.under_way

    def stop(self) -> str:
        """Stop what is under way; gives words for what was stopped."""
        if self.isVisible() and self.settler.under_way is not None:
            self.settler.stop()
            return "Stopped settling; what was found so far is there."
        return self.files.stop() if self.isVisible() else ""

    @property
    def status(self) -> str:
        """What is to be said of the set that is shown."""
        colours = self.state.looked_at
        if colours is None:
            return ""
        ratios = standing(colours, colours.pairs).ratios
        short = sum(r < p.required for r, p in zip(ratios, colours.pairs, strict=True))
        count = plural(len(colours.pairs), "pair")
        return f"{count} in use or wanted, {short} fall short"


def _plain(words: str) -> str:
    return words.replace("&", "&amp;").replace("<", "&lt;")
