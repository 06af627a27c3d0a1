"""What the window shows while no file is open."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from high_pair.app.theme import font
from high_pair.formats.location import Location, name_of


class Welcome(QWidget):
    """An invitation to open something. Its signals say what the user asks for."""

    open_asked = Signal()
    demo_asked = Signal()
    recent_asked = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        around = QVBoxLayout(self)
        around.setContentsMargins(28, 28, 28, 28)
        frame = QFrame()
        frame.setObjectName("drop")
        around.addWidget(frame)
        column = QVBoxLayout(frame)
        column.setContentsMargins(32, 24, 32, 24)
        column.addStretch(2)
        title = QLabel(
            "Open slides, a document, a spreadsheet, a web page or a picture, or drop it here"
        )
        title.setFont(font(24, bold=True))
        title.setAlignment(Qt.AlignmentFlag.AlignCenter)
        title.setWordWrap(True)
        column.addWidget(title)
        words = QLabel(
            "High Pair measures every text against what is really painted behind it, "
            "shows what falls short of WCAG 2.2, and mends it in a copy."
        )
        words.setWordWrap(True)
        words.setProperty("quiet", True)
        words.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addWidget(words)
        column.addSpacing(14)
        row = QHBoxLayout()
        row.addStretch(1)
        self.open = QPushButton("Open…")
        self.open.setProperty("main", True)
        self.open.clicked.connect(self.open_asked)
        self.demo = QPushButton("Try the demo files")
        self.demo.clicked.connect(self.demo_asked)
        row.addWidget(self.open)
        row.addWidget(self.demo)
        row.addStretch(1)
        column.addLayout(row)
        column.addSpacing(18)
        self.recent = QVBoxLayout()
        column.addLayout(self.recent)
        column.addStretch(3)

    def show_recent(self, paths: Sequence[Location]) -> None:
        """List the files opened last."""
        while self.recent.count():
            item = self.recent.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        for path in paths[:5]:
            button = QPushButton(name_of(path))
            button.setProperty("flat", True)
            button.setToolTip(str(path))
            button.clicked.connect(lambda _=False, path=path: self.recent_asked.emit(path))
            self.recent.addWidget(button, 0, Qt.AlignmentFlag.AlignCenter)
