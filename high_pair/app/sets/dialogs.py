"""The questions of the Sets desk: names, colours to add, files, and which colour goes where."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QSize
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QGridLayout,
    QInputDialog,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.choice_box import ChoiceBox
from high_pair.app.colour_field import Swatch
from high_pair.app.copies import ALL_FILES, file_filter
from high_pair.app.images import swatch_icon
from high_pair.app.rows import plural
from high_pair.app.sets.state import Key
from high_pair.app.sets.words import shown_name
from high_pair.app.theme import Theme
from high_pair.colour.srgb import hex_of
from high_pair.errors import HighPairError, NotationError
from high_pair.formats.sets.files import (
    MOST_COLOURS,
    PALETTE,
    SHEET,
    SUFFIXES,
    TOKENS,
    read_set,
    with_own_names,
    write_set,
)
from high_pair.formats.sets.typed import read_typed
from high_pair.review.kept_sets import KIND, LONGEST_NAME
from high_pair.review.set_matching import matched
from high_pair.scene.colour_set import ColourSet, Levels, SetColour
from high_pair.scene.paint import from_levels

if TYPE_CHECKING:
    from high_pair.app.sets.desk import SetsDesk

FILE_KINDS = {TOKENS: "Design tokens", SHEET: "Style sheet", PALETTE: "Palette"}
EXAMPLE = "quay blue: #1B4F72\nsand: oklch(92% 0.03 90)\n#FFFFFF"
TOO_MANY = f"A set has {MOST_COLOURS} colours at most."


class ColoursDialog(QDialog):
    """Asks for colours, one a line, and for a name where they are to be a set of their own."""

    def __init__(self, parent: QWidget, title: str, named: bool) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.name = QLineEdit("New set")
        self.name.setMaxLength(LONGEST_NAME)
        self.text = QPlainTextEdit()
        self.text.setPlaceholderText(EXAMPLE)
        self.text.setAccessibleName("Colours, one a line")
        self.text.setTabChangesFocus(True)
        self.text.setMinimumSize(380, 180)
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.colours: list[SetColour] = []
        column = QVBoxLayout(self)
        if named:
            label = QLabel("Name of the set")
            label.setBuddy(self.name)
            column.addWidget(label)
            column.addWidget(self.name)
        label = QLabel("Colours, one a line, in any notation; a name may stand before each")
        label.setBuddy(self.text)
        column.addWidget(label)
        column.addWidget(self.text)
        column.addWidget(self.said)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        column.addWidget(self.buttons)
        self.text.textChanged.connect(self._read)
        self._read()

    def _read(self) -> None:
        self.colours = []
        try:
            typed = read_typed(self.text.toPlainText())
        except NotationError as error:
            self.said.setText(f"{error}.")
        else:
            self.said.setText(plural(len(typed), "colour") if typed else "")
            if len(typed) > MOST_COLOURS:
                self.said.setText(TOO_MANY)
            else:
                self.colours = [
                    SetColour(
                        (each.name or hex_of(each.colour.rgb))[:LONGEST_NAME], each.colour.rgb
                    )
                    for each in typed
                ]
        ok = self.buttons.button(QDialogButtonBox.StandardButton.Ok)
        ok.setEnabled(bool(self.colours))


class MatchDialog(QDialog):
    """Asks which colour of a kept set takes the place of which of the file's set."""

    def __init__(
        self, parent: QWidget, source: ColourSet, targets: list[ColourSet], theme: Theme
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Put “{source.name}” on the file’s set")
        self.source, self.targets = source, targets
        self.theme = theme
        self.target = ChoiceBox(theme)
        for each in targets:
            self.target.addItem(each.name)
        self.target.setVisible(len(targets) > 1)
        self.choices: dict[str, ChoiceBox] = {}
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setMinimumSize(420, 330)
        column = QVBoxLayout(self)
        column.addWidget(QLabel("Each of the file’s colours becomes the one beside it:"))
        column.addWidget(self.target)
        column.addWidget(self.area, 1)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.target.currentIndexChanged.connect(self._list)
        self._list()

    def _list(self) -> None:
        target = self.targets[max(0, self.target.currentIndex())]
        found = matched(self.source, target)
        inside = QWidget()
        grid = QGridLayout(inside)
        self.choices = {}
        own = [each for each in target.colours if not each.parent]
        for row, each in enumerate(own):
            swatch = Swatch(self.theme, QSize(30, 24))
            swatch.show_colour(from_levels(each.levels))
            name = shown_name(each.name, target)
            choice = ChoiceBox(self.theme)
            choice.setAccessibleName(f"Colour for {name}")
            choice.addItem("as it is", None)
            for other in self.source.colours:
                choice.addItem(swatch_icon(other.levels), other.name, other.levels)
                if found.get(each.name) == other.name:
                    choice.setCurrentIndex(choice.count() - 1)
            label = QLabel(name)
            label.setBuddy(choice)
            self.choices[each.name] = choice
            for column, widget in enumerate((swatch, label, choice)):
                grid.addWidget(widget, row, column)
        grid.setColumnStretch(2, 1)
        grid.setRowStretch(len(own), 1)
        self.area.setWidget(inside)

    @property
    def levels(self) -> dict[str, Levels]:
        """The colours that are to change, and what they become."""
        return {
            name: tuple(choice.currentData())
            for name, choice in self.choices.items()
            if choice.currentData() is not None
        }


class SetDialogs(QObject):
    """Asks, and does what was answered."""

    def __init__(self, desk: SetsDesk, theme: Theme) -> None:
        super().__init__(desk)
        self.desk, self.state = desk, desk.state
        self.theme = theme
        asked = {
            "new": self.ask_new,
            "bring": self.ask_file,
            "copy": self.copy,
            "write": self.ask_target,
            "rename": self.ask_name,
            "delete": self.delete,
            "put": self.ask_match,
        }
        for name, ask in asked.items():
            desk.buttons[name].clicked.connect(lambda _=False, ask=ask: ask())
        desk.panel.colour.rename_asked.connect(self.ask_colour_name)
        desk.panel.colour.remove_asked.connect(self.remove_colour)
        desk.panel.add_asked.connect(self.ask_colours)

    def ask_new(self) -> None:
        """Ask for the colours of a new set."""
        dialog = ColoursDialog(self.desk, "A new set", named=True)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self._keep(dialog.name.text(), dialog.colours)

    def ask_colours(self) -> None:
        """Ask for further colours of the kept set that is shown."""
        dialog = ColoursDialog(self.desk, "Add colours", named=False)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.add(dialog.colours)

    def add(self, colours: list[SetColour]) -> None:
        """Add colours to the kept set that is shown, each with a name of its own."""
        known = self.state.colours
        if known is None:
            return
        together = with_own_names([*known.colours, *colours])
        if len(together) > MOST_COLOURS:
            self.state.failed.emit(TOO_MANY)
            return
        self.state.add(together[len(known.colours) :])

    def _keep(self, name: str, colours: list[SetColour]) -> None:
        self.state.keep(ColourSet(name.strip() or "Set", KIND, "", with_own_names(colours)))

    def ask_file(self) -> None:
        """Ask for files of sets to keep."""
        filters = [file_filter("Sets of colours", SUFFIXES), ALL_FILES]
        names, _ = QFileDialog.getOpenFileNames(self.desk, "Bring in sets", "", ";;".join(filters))
        self.bring_in([Path(name) for name in names])

    def bring_in(self, paths: list[Path]) -> None:
        """Keep the sets of files."""
        for path in paths:
            try:
                self.state.keep(read_set(path))
            except HighPairError as error:
                self.state.failed.emit(str(error))

    def copy(self) -> None:
        """Keep a copy of the set that is shown."""
        colours = self.state.colours
        if colours is not None:
            self.state.keep(colours)

    def ask_target(self) -> None:
        """Ask where to write the set that is shown."""
        colours = self.state.looked_at
        if colours is None:
            return
        filters = [file_filter(words, (suffix,)) for suffix, words in FILE_KINDS.items()]
        name, chosen = QFileDialog.getSaveFileName(
            self.desk, "Write the set", f"{colours.name}{SUFFIXES[0]}", ";;".join(filters)
        )
        if name:
            path = Path(name)
            suffix = SUFFIXES[filters.index(chosen)] if chosen in filters else TOKENS
            self.write(colours, path if path.suffix else path.with_suffix(suffix))

    def write(self, colours: ColourSet, target: Path) -> None:
        """Write a set as a file."""
        try:
            write_set(colours, target)
        except HighPairError as error:
            self.state.failed.emit(str(error))
        else:
            self.desk.told.emit(f"Wrote {target.name}.")

    def ask_name(self) -> None:
        """Ask for another name of the kept set that is shown."""
        colours = self.state.colours
        if colours is None or not self.state.shows_kept:
            return
        name, done = QInputDialog.getText(
            self.desk, "Rename the set", "Name", QLineEdit.EchoMode.Normal, colours.name
        )
        if done and name.strip():
            self.state.rename(name)

    def delete(self) -> None:
        """Delete the kept set that is shown."""
        name = self.state.delete()
        if name:
            self.desk.told.emit(f"Deleted “{name}”; Ctrl+Z brings it back.")

    def ask_match(self) -> None:
        """Ask which colours of the kept set go to which of the file's."""
        source, targets = self.state.colours, list(self.state.file_sets)
        if source is None or not self.state.shows_kept or not targets:
            return
        dialog = MatchDialog(self.desk, source, targets, self.theme)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.put(max(0, dialog.target.currentIndex()), dialog.levels)

    def put(self, place: int, levels: dict[str, Levels]) -> None:
        """Give colours to one of the file's sets, which is shown then, and tried, not applied."""
        self.state.show(Key(self.state.file, place))
        self.state.take_levels(levels)
        self.desk.told.emit("Tried on the pages; Enter applies it to the file.")

    def ask_colour_name(self) -> None:
        """Ask for another name of the chosen colour."""
        name = self.state.chosen
        other, done = QInputDialog.getText(
            self.desk, "Rename the colour", "Name", QLineEdit.EchoMode.Normal, name
        )
        if done and other.strip() != name and not self.state.rename_colour(name, other):
            self.desk.told.emit("Another colour of the set has that name, or it is none.")

    def remove_colour(self) -> None:
        """Take the chosen colour out of the kept set."""
        name = self.state.chosen
        self.state.remove_colour(name)
        self.desk.told.emit(f"Removed “{name}”; Ctrl+Z brings it back.")
