"""A person's own seats: made, changed, removed, brought in and written out."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QDialog, QFileDialog, QMessageBox, QWidget

from high_pair.app.copies import ALL_FILES, file_filter
from high_pair.app.seats.dialog import SeatDialog
from high_pair.app.seats.strip import SeatStrip
from high_pair.app.theme import Theme
from high_pair.errors import HighPairError, UnwritableFile
from high_pair.review.seats import BUILT_IN, known_seats, read_seats, write_seats
from high_pair.scene.seat import Seat

JSON = (".json",)


class OwnSeats(QObject):
    """Keeps them in a file. failed: a message for the user; told: words for the status."""

    failed = Signal(str)
    told = Signal(str)

    def __init__(self, strip: SeatStrip, file: Path, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self._strip, self.file, self.theme, self._parent = strip, file, theme, parent
        # A person's seats before each change, the last one last.
        self._before: list[tuple[Seat, ...]] = []
        asked = {
            "Make or change a seat…": self.ask,
            "Undo the last change of your own seats": self.undo,
            "Remove this seat of your own…": self.ask_removal,
            "Bring in seats…": self.ask_file,
            "Write your own seats…": self.ask_target,
        }
        strip.add_actions(asked)

    def own(self) -> tuple[Seat, ...]:
        """List a person's own seats. Raises UnreadableFile."""
        return read_seats(self.file) if self.file.is_file() else ()

    def ask(self) -> None:
        """Ask for a seat, beginning with the one that is looked from."""
        before = self._strip.seat
        dialog = SeatDialog(self._parent, before or BUILT_IN[0], self.theme)
        dialog.changed.connect(self._strip.try_out)
        # At the right, where it leaves the page to be seen.
        corner = self._parent.mapToGlobal(self._parent.rect().topRight())
        dialog.move(corner.x() - dialog.width() - 8, corner.y() + 54)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self._strip.show_seat(before)
            self.keep([dialog.seat])
        else:
            self._strip.take(before)

    def keep(self, seats: list[Seat]) -> None:
        """Keep seats, in place of those of the same names, and look from the first."""
        try:
            by_name = {seat.name: seat for seat in self.own()} | {each.name: each for each in seats}
            self._write(list(by_name.values()))
        except HighPairError as error:
            self.failed.emit(str(error))
            return
        self._show(seats[0].name if seats else "")

    def ask_removal(self) -> None:
        """Ask whether the seat that is looked from is to be removed."""
        seat = self._strip.seat
        if seat is None:
            self.told.emit("Choose a seat first.")
            return
        question = f"Remove your seat “{seat.name}”? One that comes with the program is as it was."
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self._parent, "Seats", question, buttons.Yes | buttons.Cancel, buttons.Cancel
        )
        if answer == buttons.Yes:
            self.remove(seat.name)

    def remove(self, name: str) -> None:
        """Remove one of a person's own seats."""
        try:
            own = self.own()
            if name not in [seat.name for seat in own]:
                self.told.emit(f"“{name}” comes with the program, and stays.")
                return
            self._write([seat for seat in own if seat.name != name])
        except HighPairError as error:
            self.failed.emit(str(error))
            return
        self._show(name)

    def undo(self) -> None:
        """Have a person's own seats as they were before the last change."""
        if not self._before:
            self.told.emit("None of your own seats was changed since the window opened.")
            return
        try:
            self._write(list(self._before[-1]))
        except HighPairError as error:
            self.failed.emit(str(error))
            return
        # What the undoing itself put aside goes as well.
        del self._before[-2:]
        self._show(self._strip.seat.name if self._strip.seat is not None else "")
        self.told.emit("Your own seats are as they were before.")

    def _write(self, seats: list[Seat]) -> None:
        before = self.own()
        try:
            self.file.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise UnwritableFile(
                self.file.name, f"its folder can't be made ({error.strerror})."
            ) from error
        write_seats(seats, self.file)
        self._before.append(before)

    def _show(self, name: str) -> None:
        seats = known_seats(self.file)
        self._strip.show_seats(seats)
        self._strip.take(next((seat for seat in seats if seat.name == name), None))

    def ask_file(self) -> None:
        """Ask for a file of seats to bring in."""
        filters = ";;".join((file_filter("Seats", JSON), ALL_FILES))
        name, _ = QFileDialog.getOpenFileName(self._parent, "Bring in seats", "", filters)
        if name:
            self.bring_in(Path(name))

    def bring_in(self, path: Path) -> None:
        """Keep the seats of a file."""
        try:
            seats = list(read_seats(path))
        except HighPairError as error:
            self.failed.emit(str(error))
            return
        if seats:
            self.keep(seats)

    def ask_target(self) -> None:
        """Ask where to write a person's own seats."""
        name, _ = QFileDialog.getSaveFileName(
            self._parent, "Write your own seats", "seats.json", file_filter("Seats", JSON)
        )
        if name:
            self.write(Path(name))

    def write(self, target: Path) -> None:
        """Write a person's own seats to a file."""
        try:
            write_seats(self.own(), target)
        except HighPairError as error:
            self.failed.emit(str(error))
        else:
            self.told.emit(f"Wrote {target.name}.")
