"""The button by which a pair is set aside, with a reason, or judged again."""

from __future__ import annotations

import functools

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QInputDialog, QMenu, QToolButton

from high_pair.measure.pairs import Pair
from high_pair.wcag.verdicts import AsideReason, Verdict

ENTRIES = (
    ("A logotype", AsideReason.LOGOTYPE),
    ("Pure decoration", AsideReason.DECORATION),
    ("An inactive control", AsideReason.INACTIVE),
)
CAN_BE = (Verdict.FALLS_SHORT, Verdict.NEEDS_EYES)


class AsideButton(QToolButton):
    """The button. asked: reason, note, and whether for all alike; taken_up: judge it again."""

    asked = Signal(str, str, bool)
    taken_up = Signal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.alike = 1
        self.narrow = False
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setStyleSheet("QToolButton::menu-indicator { image: none; width: 0; }")
        self.reasons = QMenu(self)
        for words, reason in ENTRIES:
            action = self.reasons.addAction(words)
            action.triggered.connect(functools.partial(self._ask, reason))
        self.reasons.addAction("With a note of your own…").triggered.connect(self._ask_note)
        self.reasons.addSeparator()
        self.all_alike = self.reasons.addAction("")
        self.all_alike.setCheckable(True)
        self.clicked.connect(self._clicked)
        self.hide()

    def show_pair(self, pair: Pair | None, alike: int) -> None:
        """Offer what can be done with a pair."""
        self.alike = alike
        aside = pair is not None and pair.verdict is Verdict.SET_ASIDE
        self.setVisible(pair is not None and (aside or pair.verdict in CAN_BE))
        self.all_alike.setVisible(alike > 1)
        self.all_alike.setText(f"Also the {alike - 1} alike")
        self.setAccessibleName("Judge again" if aside else "Set aside, with a reason")
        self.setToolTip("Judge this pair again (A)" if aside else "Don't judge this pair (A)")
        self.setMenu(None if aside else self.reasons)  # type: ignore[arg-type]
        self._name()

    def set_narrow(self, narrow: bool) -> None:
        """Say it in fewer letters."""
        self.narrow = narrow
        self._name()

    def _name(self) -> None:
        again, aside = ("Judge", "Aside…") if self.narrow else ("Judge again", "Set aside…")
        self.setText(again if self.menu() is None else aside)

    def ask(self) -> None:
        """Open the reasons, or judge again."""
        if not self.isVisible():
            return
        if self.menu() is None:
            self._take_up()
        else:
            self.showMenu()

    def _clicked(self) -> None:
        if self.menu() is None:
            self._take_up()

    def _for_all(self) -> bool:
        return self.alike > 1 and self.all_alike.isChecked()

    def _take_up(self) -> None:
        self.taken_up.emit(self.alike > 1)

    def _ask(self, reason: AsideReason, _checked: bool = False) -> None:
        self.asked.emit(reason.value, "", self._for_all())

    def _ask_note(self) -> None:
        note, taken = QInputDialog.getText(self, "Set aside", "Why isn't this to be judged?")
        if taken and note.strip():
            self.asked.emit(AsideReason.OTHER.value, note.strip(), self._for_all())
