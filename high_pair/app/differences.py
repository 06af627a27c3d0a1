"""Where two reviewers decided differently: both are shown, and one is chosen for each text."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import (
    QButtonGroup,
    QDialog,
    QDialogButtonBox,
    QFrame,
    QLabel,
    QRadioButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.rows import plural
from high_pair.formats.location import name_of
from high_pair.review.merging import Difference, Merged

if TYPE_CHECKING:
    from high_pair.app.window import Window

HERE = "This review"
# Where the words of a button begin.
INDENT = 26


class DifferencesDialog(QDialog):
    """The dialog. What was decided here stays where nothing else is chosen."""

    def __init__(self, merged: Merged, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Two reviewers differ")
        self.resize(560, 420)
        self.merged = merged
        # For each difference the buttons of here and of the other review.
        self.choices: list[tuple[QRadioButton, QRadioButton]] = []
        inside = QWidget()
        inside.setObjectName("panelInside")
        rows = QVBoxLayout(inside)
        rows.setSpacing(14)
        for difference in merged.differences:
            rows.addWidget(self._row(difference, name))
        rows.addStretch(1)
        area = QScrollArea()
        area.setWidget(inside)
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        count = plural(len(merged.differences), "text or group", "texts or groups")
        words = QLabel(f"You and “{name}” decided differently about {count}. Which one counts?")
        words.setWordWrap(True)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.button(QDialogButtonBox.StandardButton.Ok).setText("Take these")
        buttons.button(QDialogButtonBox.StandardButton.Cancel).setText("Keep mine")
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(words)
        column.addWidget(area, 1)
        column.addWidget(buttons)

    def _row(self, difference: Difference, name: str) -> QWidget:
        row = QWidget()
        column = QVBoxLayout(row)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        heading = QLabel(name_of(self.merged.review.files[difference.file].location))
        heading.setProperty("heading", True)
        column.addWidget(heading)
        group = QButtonGroup(row)
        ours, theirs = QRadioButton(HERE), QRadioButton(name)
        ours.setChecked(True)
        for button, decisions in ((ours, difference.first), (theirs, difference.second)):
            group.addButton(button)
            column.addWidget(button)
            # A button's own words don't wrap.
            words = QLabel("; ".join(decision.words for decision in decisions))
            words.setWordWrap(True)
            words.setIndent(INDENT)
            button.setAccessibleName(f"{button.text()}: {words.text()}")
            column.addWidget(words)
        self.choices.append((ours, theirs))
        return row

    @property
    def chosen(self) -> list[Difference]:
        """Where the other reviewer's decision counts."""
        every = zip(self.merged.differences, self.choices, strict=True)
        return [difference for difference, (_, theirs) in every if theirs.isChecked()]


def ask_about(window: Window, merged: Merged, name: str) -> None:
    """Show where two reviews differ, and take what is chosen of the other one."""
    dialog = DifferencesDialog(merged, name, window)
    if dialog.exec() == QDialog.DialogCode.Accepted and dialog.chosen:
        window.keeper.take_second(merged, dialog.chosen)
