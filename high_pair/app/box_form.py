"""What a person knows of text in a picture: its words, size and weight."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QDoubleSpinBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
)

from high_pair.edits.kinds import MarkText
from high_pair.wcag.criteria import BOLD_FROM_WEIGHT

NAME_WIDTH = 80
PLAIN_WEIGHT = 400


class BoxForm(QFrame):
    """The form. changed: the box with what was set; removed: the box is to go."""

    changed = Signal(object)
    removed = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.box: MarkText | None = None
        self.words = QLineEdit()
        self.words.setPlaceholderText("What the text says")
        self.words.setAccessibleName("Words of the text in the box")
        self.size_box = QDoubleSpinBox()
        self.size_box.setRange(0.0, 999.0)
        self.size_box.setDecimals(1)
        self.size_box.setSuffix(" pt")
        self.size_box.setSpecialValueText("as read")
        self.size_box.setKeyboardTracking(False)
        self.size_box.setMinimumHeight(30)
        self.size_box.setAccessibleName("Size of the text in points")
        self.size_box.setToolTip("At 0 the size is read from the letters")
        self.bold = QCheckBox("Bold")
        self.bold.setToolTip("Counts once a size is set")
        self.remove = QPushButton("Remove the box")
        self.remove.setToolTip("Take this box away (Delete)")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        heading = QLabel("The box")
        heading.setProperty("heading", True)
        column.addWidget(heading)
        for name, fields in (("Words", [self.words]), ("Size", [self.size_box, self.bold])):
            row = QHBoxLayout()
            title = QLabel(name)
            title.setProperty("quiet", True)
            title.setFixedWidth(NAME_WIDTH)
            row.addWidget(title)
            for field in fields:
                row.addWidget(field)
            column.addLayout(row)
        row = QHBoxLayout()
        row.addWidget(self.remove)
        row.addStretch(1)
        column.addLayout(row)
        self.words.editingFinished.connect(self._tell)
        self.size_box.valueChanged.connect(lambda _value: self._tell())
        self.bold.toggled.connect(lambda _on: self._tell())
        self.remove.clicked.connect(lambda: self.removed.emit(self.box))
        self.hide()

    def show_box(self, box: MarkText | None) -> None:
        """Show a box; without one the form is hidden."""
        self.box = None
        if box is not None:
            self.words.setText(box.words)
            self.size_box.setValue(box.size or 0.0)
            self.bold.setChecked(box.weight is not None and box.weight >= BOLD_FROM_WEIGHT)
            self.bold.setEnabled(box.size is not None)
        self.box = box
        self.setVisible(box is not None)

    def _tell(self) -> None:
        if self.box is None:
            return
        size = self.size_box.value() or None
        weight = BOLD_FROM_WEIGHT if self.bold.isChecked() else PLAIN_WEIGHT
        box = replace(
            self.box,
            words=self.words.text().strip(),
            size=size,
            weight=weight if size else None,
        )
        if box != self.box:
            self.box = box
            self.bold.setEnabled(size is not None)
            self.changed.emit(box)
