"""Asking for a web address, and for how web pages are shown while they are measured."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from high_pair.formats.location import Location, location_of
from high_pair.formats.web.settings import (
    LEAST_LIMIT,
    LEAST_ZOOM,
    MOST_LIMIT,
    MOST_ZOOM,
    WebSettings,
    parse_widths,
)

WIDE = 460
# Between folders in their field.
BETWEEN = "; "
NO_ADDRESS = "Type an address that begins with http:// or https://, such as http://localhost:8000/"


class WebDialog(QDialog):
    """The dialog. An address is asked for where `asks_address`; what is wrong stands in words.

    local: the page is a file, for which further folders can be allowed.
    """

    def __init__(
        self,
        parent: QWidget | None,
        shown: WebSettings,
        asks_address: bool,
        address: str = "",
        local: bool = False,
    ) -> None:
        super().__init__(parent)
        self.asks_address = asks_address
        self.setWindowTitle("Open a web address" if asks_address else "How the page is shown")
        self.setMinimumWidth(WIDE)
        column = QVBoxLayout(self)
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.ExpandingFieldsGrow)
        column.addLayout(form)
        self.address = QLineEdit(address)
        self.address.setPlaceholderText("http://")
        self.address.setAccessibleName("Web address")
        if asks_address:
            form.addRow("&Address", self.address)
        self.widths = QLineEdit(", ".join(str(width) for width in shown.widths))
        self.widths.setAccessibleName("Widths of the view in pixels")
        self.widths.setToolTip("Each width is a page of the review, such as 320, 768, 1280")
        form.addRow("&Widths in pixels", self.widths)
        self.zoom = QSpinBox()
        self.zoom.setRange(round(LEAST_ZOOM * 100), round(MOST_ZOOM * 100))
        self.zoom.setSuffix("%")
        self.zoom.setSingleStep(25)
        self.zoom.setValue(round(shown.zoom * 100))
        self.zoom.setAccessibleName("Zoom of the page")
        form.addRow("&Zoom", self.zoom)
        self.limit = QDoubleSpinBox()
        self.limit.setRange(LEAST_LIMIT, MOST_LIMIT)
        self.limit.setDecimals(0)
        self.limit.setSuffix(" s")
        self.limit.setValue(shown.limit)
        self.limit.setAccessibleName("Seconds after which the page is taken as it is")
        form.addRow("&Take it after", self.limit)
        self.folder = QLineEdit(BETWEEN.join(shown.folders))
        self.folder.setAccessibleName("A folder from which the page may load, besides its own")
        self.folder.setPlaceholderText("its own folder alone")
        self.folder.setToolTip(
            "A page that is a file loads what lies in its own folder. Name another one here that "
            "you trust it with, such as the folder of its style sheets; several with ; between."
        )
        self.choose = QPushButton("Choose…")
        self.choose.setAccessibleName("Choose a folder from which the page may load")
        self.choose.clicked.connect(self._choose_folder)
        if local:
            row = QHBoxLayout()
            row.addWidget(self.folder)
            row.addWidget(self.choose)
            form.addRow("May load &from", row)
            label = form.labelForField(row)
            if isinstance(label, QLabel):
                label.setBuddy(self.folder)
        self.dark = QCheckBox("The page is told that &dark colours are preferred")
        self.dark.setChecked(shown.dark)
        column.addWidget(self.dark)
        self.states = QCheckBox("Measure links and controls on &hover, focus and when pressed")
        self.states.setChecked(shown.states)
        column.addWidget(self.states)
        self.problem = QLabel()
        self.problem.setWordWrap(True)
        self.problem.setAccessibleName("What is wrong")
        column.addWidget(self.problem)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Open
            if asks_address
            else QDialogButtonBox.StandardButton.Apply
        )
        self.buttons.addButton(QDialogButtonBox.StandardButton.Cancel)
        for button in self.buttons.buttons():
            role = self.buttons.buttonRole(button)
            if role in (
                QDialogButtonBox.ButtonRole.AcceptRole,
                QDialogButtonBox.ButtonRole.ApplyRole,
            ):
                button.clicked.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        column.addWidget(self.buttons)
        (self.address if asks_address else self.widths).setFocus()

    @property
    def location(self) -> Location:
        """Where what was typed leads."""
        typed = self.address.text().strip()
        if typed and "://" not in typed and not Path(typed).exists():
            # People leave the beginning out.
            local = typed.startswith(("localhost", "127."))
            typed = f"{'http' if local else 'https'}://{typed}"
        return location_of(typed)

    @property
    def shown(self) -> WebSettings:
        """How pages are to be shown. Raises ValueError with words for the user."""
        return WebSettings(
            parse_widths(self.widths.text()),
            self.dark.isChecked(),
            self.zoom.value() / 100,
            self.limit.value(),
            self.states.isChecked(),
            self.folders,
        )

    def _choose_folder(self) -> None:
        """Add a folder that is chosen to those in the field."""
        chosen = QFileDialog.getExistingDirectory(self, "A folder from which the page may load")
        if chosen:
            self.folder.setText(BETWEEN.join(dict.fromkeys((*self.folders, chosen))))

    @property
    def folders(self) -> tuple[str, ...]:
        """The folders from which the page may load besides its own."""
        typed = (part.strip() for part in self.folder.text().split(BETWEEN.strip()))
        return tuple(str(Path(part).expanduser()) for part in typed if part)

    def accept(self) -> None:
        """Close when everything is in order; else say what isn't."""
        try:
            self.shown  # noqa: B018
        except ValueError as error:
            words = str(error)
            self.problem.setText(words[0].upper() + words[1:] + ".")
            self.widths.setFocus()
            return
        for folder in self.folders:
            if not Path(folder).is_dir():
                self.problem.setText(f"There is no folder {folder}.")
                self.folder.setFocus()
                return
        if self.asks_address and isinstance(self.location, Path):
            self.problem.setText(NO_ADDRESS)
            self.address.setFocus()
            return
        super().accept()
