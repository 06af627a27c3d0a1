"""The window's bar, with its desks and the file at hand, and its foot, with the status."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMenu,
    QProgressBar,
    QPushButton,
    QToolButton,
    QWidget,
)

from high_pair.app.actions import BENCH, DESKS, REPORT, REVIEW, SETS
from high_pair.app.aim_button import AimButton
from high_pair.app.elided_label import ElidedLabel
from high_pair.app.picking.view import key_words
from high_pair.app.theme import font
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Level

HINTS = {
    REVIEW: "B held: before    K pixels    N next    1–9 choose    Enter apply",
    BENCH: "X swaps    F nearest pass    H shared    C copies    Enter keeps",
    SETS: "← → lightness    L leave as it is    W want    1–3 look    Enter apply",
    REPORT: "Enter to its pairs    W writes out    C compares    G goes through what is left",
}
BOX_HINTS = (
    "Drag, or T: a box round text    Shift+T finds it    Delete removes    N next    I picks"
)


class Bar(QFrame):
    """The bar. Its signals are what the user asks for with it."""

    desk_asked = Signal(str)
    level_asked = Signal(object)
    open_asked = Signal()
    save_asked = Signal()

    def __init__(self, menu: QMenu, asked: Asked) -> None:
        super().__init__()
        self.setObjectName("bar")
        self.setFixedHeight(46)
        self.menu_button = QToolButton()
        self.name_label = QLabel("High Pair")
        self.desk_buttons: dict[str, QPushButton] = {}
        self.file_label = ElidedLabel()
        self.level_group = QButtonGroup(self)
        self.level_buttons: dict[Level, QPushButton] = {}
        self.aim = AimButton(asked.aim)
        self.levels = self._levels(asked.level)
        self.open_button = QPushButton("Open…")
        self.save_button = QPushButton("Save a copy…")
        self._lay_out(menu)
        self.open_button.clicked.connect(self.open_asked)
        self.save_button.clicked.connect(self.save_asked)

    def _lay_out(self, menu: QMenu) -> None:
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 0, 14, 0)
        row.setSpacing(8)
        self.menu_button.setText("Menu")
        self.menu_button.setAccessibleName("Menu")
        self.menu_button.setToolTip("Everything that can be done (F10)")
        self.menu_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.menu_button.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.menu_button.setStyleSheet("QToolButton::menu-indicator { image: none; width: 0; }")
        self.menu_button.setMenu(menu)
        row.addWidget(self.menu_button)
        self.name_label.setFont(font(15, bold=True))
        self.name_label.setContentsMargins(4, 0, 8, 0)
        row.addWidget(self.name_label)
        for desk, words, key in DESKS:
            button = QPushButton(words)
            button.setProperty("desk", True)
            button.setCheckable(True)
            button.setToolTip(f"The {words} desk ({key})")
            button.clicked.connect(lambda _checked=False, desk=desk: self.desk_asked.emit(desk))
            self.desk_buttons[desk] = button
            row.addWidget(button)
        self.file_label.setProperty("quiet", True)
        row.addWidget(self.file_label, 1)
        row.addSpacing(6)
        row.addWidget(self.levels)
        row.addSpacing(4)
        row.addWidget(self.open_button)
        row.addWidget(self.save_button)

    def _levels(self, now: Level) -> QWidget:
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(3)
        for level in Level:
            button = QPushButton(level.value)
            button.setCheckable(True)
            button.setAccessibleName(f"Ask for level {level.value}")
            button.setToolTip(f"Ask for level {level.value} (L changes it)")
            button.setChecked(level is now)
            button.clicked.connect(lambda _checked=False, level=level: self.level_asked.emit(level))
            self.level_group.addButton(button)
            self.level_buttons[level] = button
            row.addWidget(button)
        row.addWidget(self.aim)
        return holder

    def set_narrow(self, narrow: bool) -> None:
        """Take less room: without the program's name and the aim, and with shorter words."""
        self.name_label.setVisible(not narrow)
        self.aim.setVisible(not narrow)
        self.save_button.setText("Save…" if narrow else "Save a copy…")
        layout = self.layout()
        assert layout is not None
        layout.setSpacing(3 if narrow else 8)
        tight = [self.open_button, self.save_button, *self.desk_buttons.values()]
        for button in (*tight, *self.level_buttons.values()):
            button.setProperty("tight", narrow)
            button.style().unpolish(button)
            button.style().polish(button)

    def show_desk(self, desk: str) -> None:
        """Mark a desk as the one that is shown; the level is the review's."""
        for name, button in self.desk_buttons.items():
            button.setChecked(name == desk)
        self.levels.setVisible(desk != BENCH)


class Foot(QFrame):
    """The foot. stop_asked: measuring is to stop."""

    stop_asked = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("foot")
        self.setFixedHeight(28)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(14)
        self.status = ElidedLabel(Qt.AlignmentFlag.AlignLeft)
        self.status.setAccessibleName("Status")
        row.addWidget(self.status, 1)
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setFixedWidth(140)
        self.progress.setAccessibleName("Pages measured")
        self.stop_button = QPushButton("Stop")
        self.stop_button.setProperty("flat", True)
        self.stop_button.setFixedHeight(24)
        self.stop_button.setToolTip("Stop what is under way (Escape)")
        self.stop_button.clicked.connect(self.stop_asked)
        row.addWidget(self.progress)
        row.addWidget(self.stop_button)
        self.hints = QLabel(HINTS[REVIEW])
        self.hints.setProperty("quiet", True)
        row.addWidget(self.hints)
        self.zoom_label = QLabel()
        self.zoom_label.setProperty("quiet", True)
        row.addWidget(self.zoom_label)

    def show_progress(self, done: int, total: int) -> None:
        """Show how many pages are measured, while some aren't."""
        for widget in (self.progress, self.stop_button):
            widget.setVisible(done < total)
        self.progress.setMaximum(max(1, total))
        self.progress.setValue(done)

    def show_busy(self, busy: bool, measuring: bool) -> None:
        """Show that something is under way that can be stopped, until pages are measured."""
        if busy:
            # Nobody knows how long it takes.
            self.progress.setMaximum(0)
        elif not measuring:
            self.progress.setMaximum(1)
        for widget in (self.progress, self.stop_button):
            widget.setVisible(busy or measuring)

    def show_hints(self, desk: str, picking: bool, there: bool, boxes: bool = False) -> None:
        """Show what keys do on a desk, if there is anything for them to do.

        boxes: whether they can be drawn on the page.
        """
        hints = BOX_HINTS if boxes and desk == REVIEW else HINTS[desk]
        self.hints.setText(key_words() if picking else hints)
        self.hints.setVisible(there)
        self.zoom_label.setVisible(desk == REVIEW)
