"""Saving copies: where, under which name, as what, and what the saved copy measures."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFileDialog

from high_pair.app.demo import is_demo
from high_pair.formats.kinds import CSS
from high_pair.formats.location import WebAddress
from high_pair.measure.pairs import Pair
from high_pair.review.saving import SavedCopy
from high_pair.review.session import OpenFile

if TYPE_CHECKING:
    from high_pair.app.window import Window

ALL_FILES = "All files (*)"
# Letters of a text that a message names.
SHORT_TEXT = 30


def file_filter(words: str, suffixes: Sequence[str]) -> str:
    """Give a file dialog's filter."""
    return f"{words} ({' '.join('*' + suffix for suffix in suffixes)})"


def folder_for(file: OpenFile) -> Path:
    """Give where what is saved of a file belongs: beside it, of the demo in the user's home."""
    if is_demo(file.location) or isinstance(file.location, WebAddress):
        return Path.home()
    return file.location.parent


def suggested_copy(file: OpenFile) -> Path:
    """Give a name for a copy that doesn't exist yet."""
    folder = folder_for(file)
    suffix = file.base.facts.suffixes[0]
    for count in range(1, 1000):
        tail = "" if count == 1 else f" {count}"
        path = folder / f"{Path(file.name).stem} mended{tail}{suffix}"
        if not path.exists():
            return path
    return folder / file.name


def _left(pairs: Sequence[Pair]) -> str:
    """Say what still falls short, and why the first of it does."""
    if not pairs:
        return ""
    first = pairs[0]
    verb = "falls" if len(pairs) == 1 else "fall"
    why = first.fixed.rstrip(".") or "nothing was changed that brings it to a pass"
    return f" {len(pairs)} still {verb} short; “{first.text[:SHORT_TEXT]}”: {why}."


class Copies(QObject):
    """Asks where copies go, and tells what became of them."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window = window

    def ask(self) -> None:
        """Ask where to save a copy of the file whose page is shown."""
        file = self.window.current_file()
        if file is None:
            return
        usual, *others = file.base.facts.suffixes
        sheet = "A style sheet with the mends"
        filters = [file_filter(sheet if usual == CSS else "The same kind", [usual])]
        filters += [file_filter(sheet if each == CSS else "PNG", [each]) for each in others]
        name, chosen = QFileDialog.getSaveFileName(
            self.window,
            "Save a copy",
            str(suggested_copy(file)),
            ";;".join([*filters, ALL_FILES]),
        )
        if name:
            path = Path(name)
            suffix = next((each for each in others if f"*{each}" in chosen), usual)
            self.save(file, path if path.suffix else path.with_suffix(suffix))

    def save(self, file: OpenFile, target: Path) -> None:
        """Save a copy of a file and measure it."""
        self.window.status.setText(f"Saving {target.name} and measuring it…")
        self.window.controller.save_copy(file, target)

    def tell(self, copy: SavedCopy) -> None:
        """Tell what a saved copy measures."""
        self.window.refresh()
        outcome = copy.words if copy.changed else "nothing was changed in it"
        self.window.status.setText(f"Saved {copy.target.name}: {outcome}.{_left(copy.left)}")
