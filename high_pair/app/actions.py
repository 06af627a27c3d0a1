"""Everything that can be done in the window, made once: for the menu, the keys and their list."""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QActionGroup, QKeySequence
from PySide6.QtWidgets import QMenu

from high_pair.app.settings import SYSTEM

if TYPE_CHECKING:
    from high_pair.app.window import Window

GO_TO = ("next", "previous", "next_place", "previous_place", "next_page", "previous_page")
LOOK = ("stripes", "fit", "actual", "zoom_in", "zoom_out")
NEED_A_FILE = ("save", "close", *LOOK)
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
        window, desk, controller = self.window, self.window.desk, self.window.controller
        view, add = desk.view, self._add
        standard = QKeySequence.StandardKey
        add("open", "Open…", window.ask_open, standard.Open)
        add("demo", "Open the demo deck", window.open_demo)
        add("save", "Save a copy…", window.ask_save, "Ctrl+S")
        add("close", "Close this file", window.close_current, "Ctrl+W")
        add("quit", "Quit", window.close, "Ctrl+Q")
        add("undo", "Undo", controller.undo, standard.Undo)
        add("redo", "Redo", controller.redo, "Ctrl+Shift+Z")
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
        add("stripes", "Mark the pixels that fall short", window.change_stripes, "K", single=True)
        add("fit", "Fit the page", view.fit, "Ctrl+0")
        add("zoom_in", "Zoom in", lambda: view.zoom_by(1), "Ctrl++", "Ctrl+=")
        add("zoom_out", "Zoom out", lambda: view.zoom_by(-1), "Ctrl+-")
        add("actual", "Show at 100%", lambda: view.zoom_to(1.0), "Ctrl+1")
        add("go_on", "Measure the pages not measured yet", controller.measure_due, "Ctrl+R")
        add("stop", "Stop measuring, or choose no remedy", window.stop_or_clear, "Escape")
        add("menu", "Open the menu", window.open_menu, "F10")
        add("keys", "Keys", window.show_keys, "F1")
        add("about", "About High Pair", window.show_about)

    def menu(self) -> QMenu:
        """Make the window's menu."""
        window = self.window
        menu = QMenu(window)
        menu.addAction(self["open"])
        menu.addMenu(self.recent_menu)
        self._list(menu, "demo", "save", "close")
        menu.addSeparator()
        self._list(menu, "undo", "redo", "copy")
        menu.addSeparator()
        self._list(menu.addMenu("Go to"), *GO_TO)
        look = menu.addMenu("Look")
        self._list(look, *LOOK)
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
        history = self.window.controller.session.history
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
