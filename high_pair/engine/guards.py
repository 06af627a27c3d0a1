"""What a page may and may not do while it is looked at."""

from __future__ import annotations

import stat
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QUrl
from PySide6.QtWebEngineCore import (
    QWebEnginePage,
    QWebEngineProfile,
    QWebEngineUrlRequestInfo,
    QWebEngineUrlRequestInterceptor,
)

# What a page holds itself, and what the engine shows in place of what it can't load.
WITHIN = frozenset({"data", "blob", "about", "chrome-error"})
FILE = "file"
# A page that leads on more often than this leads nowhere.
MOST_NAVIGATIONS = 40
# Blocked addresses that are named; the rest are only counted.
MOST_NAMED = 50
MOST_KNOWN = 10_000
# What speaks to other machines without asking `Requests`: taken from every page and frame
# before its own scripts run. The kernel forbids it too, see `no_network`, where a page is a file.
WITHOUT_ASKING = """
for (const name of [
  'RTCPeerConnection', 'webkitRTCPeerConnection', 'RTCIceTransport', 'RTCDataChannel',
  'WebTransport', 'TCPSocket', 'UDPSocket',
]) {
  delete globalThis[name];
}
"""


class Requests(QWebEngineUrlRequestInterceptor):
    """Lets through what a page may load, and counts the rest.

    A page that is a file has folders, of which it may load the files, and those
    in folders below; alone: a file besides, which shows it. A page from elsewhere
    has no folders, and no business with files here.
    """

    def __init__(self, folders: Sequence[str], alone: Path | None) -> None:
        super().__init__()
        self.local = bool(folders)
        self._folders = [Path(folder).resolve() for folder in folders]
        self._alone = alone
        self.blocked: dict[str, int] = {}
        # The files that it has loaded, which a copy must not replace.
        self.loaded: set[str] = set()

    def interceptRequest(self, info: QWebEngineUrlRequestInfo) -> None:
        """Block a request or let it pass."""
        url = info.requestUrl()
        if not self._may_load(url):
            info.block(True)
            name = url.toDisplayString()[:300]
            if name in self.blocked or len(self.blocked) < MOST_NAMED:
                self.blocked[name] = self.blocked.get(name, 0) + 1

    def _may_load(self, url: QUrl) -> bool:
        scheme = url.scheme().lower()
        if scheme in WITHIN:
            return True
        if scheme != FILE:
            return not self.local
        if url.host():
            return False
        try:
            # Where links lead counts, not where they stand.
            path = Path(url.toLocalFile()).resolve(strict=True)
            if path == self._alone:
                return True
            plain = stat.S_ISREG(path.stat().st_mode)
        except (OSError, ValueError):
            # What isn't there can't be loaded, and is no matter of where it lies.
            return any(_lies_in(Path(url.toLocalFile()), folder) for folder in self._folders)
        inside = plain and any(_lies_in(path, folder) for folder in self._folders)
        if inside and len(self.loaded) < MOST_KNOWN:
            self.loaded.add(str(path))
        return inside


def _lies_in(path: Path, folder: Path) -> bool:
    return ".." not in path.parts and path.is_relative_to(folder)


class GuardedPage(QWebEnginePage):
    """A page whose dialogs, windows and wanderings hold nobody up.

    frozen: it is being measured, and leads nowhere any more; wandered: it led on
    too often; refused: it would have led to where it mayn't.
    """

    def __init__(self, profile: QWebEngineProfile, local: bool) -> None:
        super().__init__(profile)
        self.local = local
        self.frozen = False
        self.navigations = 0
        self.wandered = False
        self.refused = False
        self.died = ""
        self.renderProcessTerminated.connect(self._renderer_died)

    def _renderer_died(self, status: object, _code: int) -> None:
        self.died = str(getattr(status, "name", status))

    def javaScriptAlert(self, _origin: QUrl | str, _text: str) -> None:
        """Show nothing."""

    def javaScriptConfirm(self, _origin: QUrl | str, _text: str) -> bool:
        """Agree to nothing."""
        return False

    def javaScriptPrompt(self, _origin: QUrl | str, _text: str, _default: str) -> tuple[bool, str]:
        """Answer nothing."""
        return False, ""

    def javaScriptConsoleMessage(self, *_told: object) -> None:
        """What a page tells its makers is none of ours."""

    def createWindow(self, _kind: QWebEnginePage.WebWindowType) -> None:  # type: ignore[override]
        """Open no other window."""

    def chooseFiles(self, *_asked: object) -> list[str]:
        """Choose no file."""
        return []

    def acceptNavigationRequest(
        self, url: QUrl | str, kind: QWebEnginePage.NavigationType, main: bool
    ) -> bool:
        """Follow where a page leads, for a while."""
        if not main:
            return True
        if self.local and QUrl(url).scheme().lower() not in (FILE, *WITHIN):
            self.refused = True
            return False
        self.navigations += 1
        self.wandered = self.wandered or self.navigations > MOST_NAVIGATIONS
        return not self.frozen and not self.wandered
