"""Asks what is written out of a report: in which forms, under which name, where."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.report.source import DECISIONS, WriteOut

# Each form: what its file ends with, and what it is for.
FORMS = {
    "html": (".html", "Web page, with pictures, for people"),
    "pdf": (".pdf", "PDF of the same, to print or to send"),
    "csv": (".csv", "CSV, a row for each pair, for spreadsheets"),
    "json": (".json", "JSON, all that was measured, for scripts"),
    "sarif": (".sarif", "SARIF, for code hosts and editors"),
    "earl": (".jsonld", "EARL (JSON-LD), for other tools of accessibility"),
    DECISIONS: (".decisions.json", "What was set aside, for later reviews and audits"),
}
USUAL = ("html", "csv")


class WriteDialog(QDialog):
    """The dialog."""

    def __init__(self, title: str, folder: Path, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Write the report out")
        self.setMinimumWidth(480)
        self.title = QLineEdit(title)
        self.name = QLineEdit(_file_name(title))
        self.folder = QLineEdit(str(folder))
        self.boxes = {form: QCheckBox(words) for form, (_, words) in FORMS.items()}
        self.pictures = QCheckBox("With pictures of what falls short, as it is and mended")
        self.pictures.setChecked(True)
        self.there = QLabel()
        self.there.setWordWrap(True)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Save | QDialogButtonBox.StandardButton.Cancel
        )
        self.write = self.buttons.button(QDialogButtonBox.StandardButton.Save)
        self.write.setText("Write out")
        self._lay_out()
        for form in USUAL:
            self.boxes[form].setChecked(True)
        for box in self.boxes.values():
            box.toggled.connect(self._refresh)
        for line in (self.name, self.folder):
            line.textChanged.connect(self._refresh)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        self._refresh()

    def _lay_out(self) -> None:
        browse = QPushButton("Choose…")
        browse.clicked.connect(self._choose)
        place = QHBoxLayout()
        place.addWidget(self.folder, 1)
        place.addWidget(browse)
        form = QFormLayout()
        form.addRow("&Title", self.title)
        form.addRow("&Name", self.name)
        named = QLabel("&Folder")
        named.setBuddy(self.folder)
        form.addRow(named, place)
        column = QVBoxLayout(self)
        column.setSpacing(10)
        column.addLayout(form)
        for box in self.boxes.values():
            column.addWidget(box)
        column.addSpacing(4)
        column.addWidget(self.pictures)
        column.addWidget(self.there)
        column.addWidget(self.buttons)

    @property
    def wanted(self) -> WriteOut:
        """What is to be written."""
        folder, name = Path(self.folder.text()), self.name.text().strip()
        targets = {
            form: folder / f"{name}{suffix}"
            for form, (suffix, _) in FORMS.items()
            if self.boxes[form].isChecked()
        }
        return WriteOut(targets, self.title.text().strip() or name, self.pictures.isChecked())

    def _choose(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, "Folder", self.folder.text())
        if folder:
            self.folder.setText(folder)

    def _refresh(self) -> None:
        named = bool(self.name.text().strip()) and "/" not in self.name.text()
        targets = self.wanted.targets
        folder = Path(self.folder.text()).is_dir()
        self.write.setEnabled(named and folder and bool(targets))
        self.pictures.setEnabled(any(form in targets for form in ("html", "pdf")))
        there = [path.name for path in targets.values() if named and folder and path.exists()]
        words = f"Already there, and will be replaced: {', '.join(there)}." if there else ""
        self.there.setText(words if folder else "There is no such folder. Choose another.")
        self.there.setVisible(bool(self.there.text()))


def _file_name(title: str) -> str:
    """Give a title as a file's name."""
    kept = "".join(each if each.isalnum() or each in " -_." else " " for each in Path(title).stem)
    return " ".join(f"{kept} contrast".split())
