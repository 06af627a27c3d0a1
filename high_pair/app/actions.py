"""Everything that can be done in the window, made once: for the menu, the keys and their list."""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QActionGroup, QKeySequence
from PySide6.QtWidgets import QMenu

from high_pair.app.bench.colour_card import SHOWN
from high_pair.app.bench.state import Side
from high_pair.app.picking.guide import BOTH
from high_pair.app.settings import SYSTEM

if TYPE_CHECKING:
    from high_pair.app.window import Window

REVIEW, BENCH, SETS, REPORT = "review", "bench", "sets", "report"
# Each desk, its words and its key.
DESKS = (
    (REVIEW, "Review", "Alt+R"),
    (BENCH, "Bench", "Alt+B"),
    (SETS, "Sets", "Alt+S"),
    (REPORT, "Report", "Alt+O"),
)
GO_TO = ("next", "previous", "next_place", "previous_place", "next_page", "previous_page")
LOOK = (
    "stripes",
    "wipe",
    "pick_page",
    "draw_box",
    "find_text",
    "seats",
    "fit",
    "actual",
    "zoom_in",
    "zoom_out",
)
# What can be done on one desk alone; all else can be done on all.
ON_BENCH = (
    "swap",
    "keep",
    "copy_foreground",
    "nearest_foreground",
    "nearest_backdrop",
    "share",
    "pick_foreground",
    "pick_backdrop",
    "paste",
    *(f"copy_{side}_{number}" for side in ("foreground", "backdrop") for number in range(1, 7)),
)
ON_REVIEW = (
    "copy",
    "copy_sheet",
    "shown",
    "apply",
    "apply_alike",
    "remove_box",
    "least",
    "aside",
    "level",
    "aim",
    "order",
    "scope",
    "go_on",
    *GO_TO,
    *LOOK,
    *(f"remedy_{number}" for number in range(1, 10)),
)
ON_SETS = (
    "set_apply",
    "set_keep",
    "set_leave",
    "set_want",
    "set_rename",
    "next_set_pair",
    "previous_set_pair",
    *(f"proposal_{number}" for number in range(1, 4)),
)
ON_REPORT = ("report_write", "report_compare", "report_audit", "report_review", "report_eyes")
ON_ONE_DESK = {REVIEW: ON_REVIEW, BENCH: ON_BENCH, SETS: ON_SETS, REPORT: ON_REPORT}
NEED_A_FILE = ("save", "save_review", "save_review_as", "close", *LOOK)
SURFACES = (("As the system", SYSTEM), ("Light surfaces", "light"), ("Dark surfaces", "dark"))


class Actions:
    """The window's actions by name."""

    def __init__(self, window: Window) -> None:
        self.window = window
        self.by_name: dict[str, QAction] = {}
        self._make()
        self.recent_menu = QMenu("Open again", window)
        self.single_keys = QAction("Single letters are keys", window)

    def __getitem__(self, name: str) -> QAction:
        """Give an action."""
        return self.by_name[name]

    def _add(
        self,
        name: str,
        words: str,
        run: Callable[[], object],
        *keys: QKeySequence.StandardKey | str,
        single: bool = False,
    ) -> None:
        """Make an action; single: its key is one letter or digit, which can be turned off."""
        action = QAction(words, self.window)
        action.triggered.connect(lambda _checked=False: run())
        action.setShortcuts([QKeySequence(key) for key in keys])
        action.setProperty("single", single)
        self.by_name[name] = action
        self.window.addAction(action)

    def _make(self) -> None:
        self._make_review()
        self._make_bench()
        self._make_sets()
        self._make_report()

    def _make_review(self) -> None:
        window, desk, controller = self.window, self.window.desk, self.window.controller
        view, add = desk.view, self._add
        standard = QKeySequence.StandardKey
        add("open", "Open…", window.ask_open, standard.Open)
        add("address", "Open a web address…", window.web_pages.ask_address, "Ctrl+L")
        add("shown", "How the page is shown…", window.web_pages.ask_shown, "Ctrl+Shift+L")
        add(
            "copy_sheet",
            "Copy the mends as a style sheet",
            window.web_pages.copy_sheet,
            "Ctrl+Alt+C",
        )
        add("demo", "Open the demo files", window.open_demo)
        add("save", "Save a copy…", window.copies.ask, "Ctrl+S")
        add("save_review", "Save the review", window.reviews.save, "Ctrl+Shift+S")
        add("save_review_as", "Save the review as…", window.reviews.ask_save)
        add("close", "Close this file", window.close_current, "Ctrl+W")
        add("quit", "Quit", window.close, "Ctrl+Q")
        add("undo", "Undo", window.undo, standard.Undo)
        add("redo", "Redo", window.redo, "Ctrl+Shift+Z")
        for name, words, key in DESKS:
            add(f"{name}_desk", words, functools.partial(window.show_desk, name), key)
        add("copy", "Copy the pair's colours", window.copy_colours, "Ctrl+Shift+C")
        add("next", "Next in the list", lambda: window.step(1), "N", single=True)
        add("previous", "Previous in the list", lambda: window.step(-1), "P", single=True)
        add("next_place", "Next alike place", lambda: desk.step_place(1), "Alt+Right")
        add("previous_place", "Previous alike place", lambda: desk.step_place(-1), "Alt+Left")
        add("next_page", "Next page", lambda: desk.strip.step(1), "PgDown")
        add("previous_page", "Previous page", lambda: desk.strip.step(-1), "PgUp")
        for number in range(1, 10):
            choose = functools.partial(desk.choose_remedy, number)
            words = f"Choose remedy {number}"
            add(f"remedy_{number}", words, choose, str(number), single=True)
        add("apply", "Apply the chosen remedy", desk.apply, "Return", "Enter")
        add("apply_alike", "Apply it to all alike", desk.apply_to_alike, "Shift+Return")
        add("level", "Change between AA and AAA", window.change_level, "L", single=True)
        add("order", "Change the list's order", desk.head.listing.next_order, "O", single=True)
        add(
            "scope",
            "List all, this file, or this page",
            desk.head.listing.next_reach,
            "Shift+P",
            single=True,
        )
        add("aim", "Aim higher than the standard asks…", window.bar_aim, "Shift+L", single=True)
        add("stripes", "Mark the pixels that fall short", window.change_stripes, "K", single=True)
        picking = window.guide.pick_from_page
        add("pick_page", "Pick colours from this page", picking, "I", single=True)
        add("aside", "Set aside, or judge again", desk.panel.aside.ask, "A", single=True)
        add("draw_box", "Draw a box round text", window.guide.draw_box, "T", single=True)
        add("find_text", "Find the text of this picture", desk.search.begin, "Shift+T", single=True)
        add(
            "remove_box",
            "Remove the box, or the overlay laid here",
            desk.decisions.remove,
            "Delete",
        )
        add("wipe", "Wipe between before and after", view.change_wipe, "W", single=True)
        add("least", "The least strength, or the nearest place", desk.snap, "M", single=True)
        add("seats", "Look at the page from a seat", desk.seats.open_menu, "Shift+S", single=True)
        add("fit", "Fit the page", view.fit, "Ctrl+0")
        add("zoom_in", "Zoom in", lambda: view.zoom_by(1), "Ctrl++", "Ctrl+=")
        add("zoom_out", "Zoom out", lambda: view.zoom_by(-1), "Ctrl+-")
        add("actual", "Show at 100%", lambda: view.zoom_to(1.0), "Ctrl+1")
        add("go_on", "Measure the pages not measured yet", controller.measure_due, "Ctrl+R")
        add("stop", "Stop measuring, or choose no remedy", window.stop_or_clear, "Escape")
        add("menu", "Open the menu", window.open_menu, "F10")
        add("keys", "Keys", window.show_keys, "F1")
        add("about", "About High Pair", window.show_about)

    def _make_bench(self) -> None:
        bench, add = self.window.bench, self._add
        add("swap", "Swap the two colours", bench.state.swap, "X", single=True)
        add("keep", "Keep the pair in the log", bench.keep, "Return", "Enter")
        copy = functools.partial(bench.copy_notation, Side.FOREGROUND, 1)
        add("copy_foreground", "Copy the foreground", copy, "C", single=True)
        for side, modifier in ((Side.FOREGROUND, ""), (Side.BACKDROP, "Alt+")):
            for number, notation in enumerate(SHOWN, start=1):
                copy = functools.partial(bench.copy_notation, side, number)
                words = f"Copy the {side} as {notation}"
                name, key = f"copy_{side}_{number}", f"{modifier}{number}"
                add(name, words, copy, key, single=not modifier)
        for side, key in ((Side.FOREGROUND, "F"), (Side.BACKDROP, "Shift+F")):
            nearest = functools.partial(bench.nearest, side)
            add(f"nearest_{side}", f"The nearest {side} that passes", nearest, key, single=True)
        guide = self.window.guide
        both, one = list(BOTH), [Side.BACKDROP]
        add("pick_foreground", "Pick both colours", lambda: guide.pick(both), "P", single=True)
        add("pick_backdrop", "Pick the backdrop", lambda: guide.pick(one), "Shift+P", single=True)
        add("paste", "Pick from the picture on the clipboard", guide.from_clipboard, "Ctrl+V")
        add("share", "Share the change to the nearest pass", bench.share, "H", single=True)

    def _make_sets(self) -> None:
        desk, add = self.window.sets, self._add
        add("set_apply", "Apply the set", desk.enter, "Return", "Enter")
        add("set_keep", "Keep the set as a new one", desk.keep, "Ctrl+K")
        add("set_leave", "Leave the colour as it is", desk.change_leave, "L", single=True)
        add("set_want", "Want the pair, or no more", desk.panel.pair.change_want, "W", single=True)
        add("set_rename", "Rename the kept set", desk.dialogs.ask_name, "F2")
        add("next_set_pair", "Next pair", lambda: desk.step(1), "N", single=True)
        add("previous_set_pair", "Previous pair", lambda: desk.step(-1), "P", single=True)
        for number in range(1, 4):
            choose = functools.partial(desk.choose_proposal, number)
            words = f"Look at way {number} to mend the set"
            add(f"proposal_{number}", words, choose, str(number), single=True)

    def _make_report(self) -> None:
        desk, add = self.window.report, self._add
        add("report_write", "Write the report out…", desk.ask_write, "W", single=True)
        add("report_audit", "Show an audit…", desk.ask_audit, "A", single=True)
        add("report_review", "Show this review", desk.source.show_review, "V", single=True)
        add("report_compare", "Compare with an audit…", desk.ask_compare, "C", single=True)
        add("report_eyes", "Go through what is left", desk.go_through, "G", single=True)

    def menu(self) -> QMenu:
        """Make the window's menu."""
        window = self.window
        menu = QMenu(window)
        self._list(menu, "open", "address")
        menu.addMenu(self.recent_menu)
        self._list(menu, "demo", "save", "save_review", "save_review_as", "close")
        menu.addSeparator()
        self._list(menu.addMenu("Desks"), "review_desk", "bench_desk", "sets_desk", "report_desk")
        self._list(menu, "undo", "redo", "copy", "copy_sheet")
        menu.addSeparator()
        self._list(menu.addMenu("Go to"), *GO_TO)
        bench = menu.addMenu("On the Bench")
        self._list(bench, "swap", "keep", "nearest_foreground", "nearest_backdrop", "share")
        self._list(bench, "copy_foreground", "pick_foreground", "pick_backdrop", "paste")
        sets = menu.addMenu("On the Sets desk")
        self._list(sets, "set_apply", "set_keep", "set_leave", "set_want", "set_rename")
        self._list(menu.addMenu("On the Report desk"), *ON_REPORT)
        look = menu.addMenu("Look")
        self._list(look, *LOOK, "shown")
        look.addSeparator()
        group = QActionGroup(window)
        for words, name in SURFACES:
            action = look.addAction(words)
            action.setCheckable(True)
            action.setChecked(window.settings.theme == name)
            action.triggered.connect(functools.partial(window.set_theme, name))
            group.addAction(action)
        self.single_keys.setCheckable(True)
        self.single_keys.setChecked(window.settings.single_keys)
        self.single_keys.toggled.connect(window.set_single_keys)
        menu.addAction(self.single_keys)
        menu.addSeparator()
        self._list(menu, "keys", "about", "quit")
        return menu

    def _list(self, menu: QMenu, *names: str) -> None:
        for name in names:
            menu.addAction(self[name])

    def let_single_keys(self, on: bool) -> None:
        """Let single letters and digits act, or not (WCAG 2.1.4)."""
        for action in self.by_name.values():
            if action.property("single"):
                action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
                action.setEnabled(on)

    def refresh(self, with_file: bool, with_pair: bool) -> None:
        """Enable what can be done, and say what undo and redo would do."""
        self._refresh_review(with_file, with_pair)
        window = self.window
        singles = window.settings.single_keys
        for desk, names in ON_ONE_DESK.items():
            for name in names:
                if desk != window.shown_desk:
                    self[name].setEnabled(False)
                elif desk != REVIEW:
                    self[name].setEnabled(singles or not self[name].property("single"))
        if window.shown_desk == REVIEW:
            return
        for name, can in zip(("undo", "redo"), window.ways(), strict=True):
            self[name].setText(name.capitalize())
            self[name].setEnabled(can)
        if window.shown_desk == BENCH:
            self["keep"].setEnabled(window.bench.keeps)
            if window.bench.is_picking:
                for name in ON_BENCH:
                    self[name].setEnabled(name == "paste")

    def _refresh_review(self, with_file: bool, with_pair: bool) -> None:
        history = self.window.controller.session.history
        singles = self.window.settings.single_keys
        for name in ON_REVIEW:
            self[name].setEnabled(singles or not self[name].property("single"))
        for name, decisions, first in (
            ("undo", history.taken, -1),
            ("redo", history.undone, 0),
        ):
            self[name].setEnabled(bool(decisions))
            about = f" {decisions[first].words}" if decisions else ""
            self[name].setText(name.capitalize() + about)
        for name in NEED_A_FILE:
            single = bool(self[name].property("single"))
            self[name].setEnabled(with_file and (not single or self.window.settings.single_keys))
        self["copy"].setEnabled(with_pair)
        file = self.window.current_file()
        web = file is not None and file.web is not None
        for name in ("shown", "copy_sheet"):
            self[name].setEnabled(web)
        for name in ("draw_box", "find_text"):
            takes_boxes = self.window.desk.decisions.takes_boxes
            self[name].setEnabled(self[name].isEnabled() and takes_boxes)
        self["remove_box"].setEnabled(self.window.desk.decisions.removes)
