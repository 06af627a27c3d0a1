"""The button beside the levels: what remedies are to reach, beyond what the standard asks."""

from __future__ import annotations

import functools

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QInputDialog, QMenu, QMessageBox, QPushButton

from high_pair.wcag.asked import NO_AIM, Aim, read_aim

OFFERED = (NO_AIM, Aim(1.1), Aim(1.2), Aim(1.5))


class AimButton(QPushButton):
    """The button, with a menu of aims. aim_asked: an aim is wished."""

    aim_asked = Signal(object)

    def __init__(self, aim: Aim) -> None:
        super().__init__()
        self.choices = QMenu(self)
        for each in OFFERED:
            words = f"{each.words} of what is asked" if each.words else "What the standard asks"
            ask = functools.partial(self._ask, each)
            self.choices.addAction(words).triggered.connect(ask)
        self.choices.addSeparator()
        self.choices.addAction("Another factor or ratio…").triggered.connect(self.ask_other)
        self.setMenu(self.choices)
        self.show_aim(aim)

    def show_aim(self, aim: Aim) -> None:
        """Show what is aimed at."""
        self.aim = aim
        self.setText(f"Aim {aim.words}" if aim.words else "Aim")
        now = f"{aim.words} of what is asked" if aim.factor > 1 else aim.words
        reach = now or "what the standard asks"
        self.setAccessibleName(f"Aim of remedies: {reach}")
        self.setToolTip(
            f"Remedies and sets are to reach {reach}. Verdicts stay the standard’s. (Shift+L)"
        )

    def _ask(self, aim: Aim, _checked: bool = False) -> None:
        self.aim_asked.emit(aim)

    def ask_other(self) -> None:
        """Ask for an aim in words."""
        words, given = QInputDialog.getText(
            self, "Aim", "A factor (1.2x, 120%) or a ratio (6:1):", text=self.aim.words
        )
        if given:
            self.take(words)

    def take(self, words: str) -> None:
        """Aim at what is written; nothing is the standard's."""
        if not words.strip():
            self.aim_asked.emit(NO_AIM)
            return
        try:
            self.aim_asked.emit(read_aim(words))
        except ValueError as error:
            QMessageBox.warning(self, "Aim", f"“{words}” is no aim. Give {error}.")

    def open_menu(self) -> None:
        """Open the menu of aims."""
        self.choices.popup(self.mapToGlobal(self.rect().bottomLeft()))
