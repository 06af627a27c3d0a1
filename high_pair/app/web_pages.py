"""What the window does with web pages alone: addresses, how they are shown, their style sheets."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QDialog

from high_pair.app.web_dialog import WebDialog
from high_pair.formats.location import Location, location_of
from high_pair.formats.web.settings import WebSettings
from high_pair.review import tasks
from high_pair.simulated.site import SITE_PAGES, SiteServer

if TYPE_CHECKING:
    from high_pair.app.window import Window


class WebPages(QObject):
    """The window's doings with web pages."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window = window
        # Serves the demo's site while it is open.
        self._site: SiteServer | None = None

    def of_the_demo(self) -> list[Location]:
        """Give the demo site's pages by their addresses on this machine, where they are served."""
        if self._site is None:
            self._site = SiteServer()
        return [location_of(self._site.address + name) for name in SITE_PAGES]

    def ask_address(self) -> None:
        """Ask for a web address to open."""
        dialog = WebDialog(self.window, self.window.settings.web, True)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.window.settings.web = dialog.shown
            self.window.open_paths([dialog.location])

    def ask_shown(self) -> None:
        """Ask how the web page at hand is to be shown, and open it anew so."""
        file = self.window.current_file()
        shown = file.web if file is not None else None
        if shown is None:
            return
        local = isinstance(file.location, Path) if file is not None else False
        dialog = WebDialog(self.window, shown, False, local=local)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.show_anew(dialog.shown)

    def show_anew(self, shown: WebSettings) -> None:
        """Open the web page at hand in other widths or another scheme."""
        file = self.window.current_file()
        if file is not None and self.window.open_anew(file, shown):
            self.window.settings.web = shown

    def copy_sheet(self) -> None:
        """Put the mends of the web page at hand on the clipboard, as a style sheet."""
        file = self.window.current_file()
        if file is None:
            return
        document = file.document

        def done(sheet: str | None) -> None:
            if sheet:
                QGuiApplication.clipboard().setText(sheet)
                self.window.status.setText("Copied the mends as a style sheet")
            elif sheet is not None:
                self.window.status.setText("Nothing is mended on this page yet")

        self.window.controller.work(lambda: document.run(tasks.style_sheet), done)

    def close(self) -> None:
        """Serve the demo's site no longer."""
        if self._site is not None:
            self._site.close()
