"""What a page may and may not do while it is looked at."""

from __future__ import annotations

from PySide6.QtCore import QUrl
from PySide6.QtWebEngineCore import (
    QWebEnginePage,
    QWebEngineProfile,
    QWebEngineUrlRequestInfo,
    QWebEngineUrlRequestInterceptor,
)

# What names no other machine, and so may be loaded by a page that is a file.
OWN = frozenset({"file", "data", "blob", "about", "qrc", "chrome-error"})
# A page that leads on more often than this leads nowhere.
MOST_NAVIGATIONS = 40
# Blocked addresses that are named; the rest are only counted.
MOST_NAMED = 50


class Requests(QWebEngineUrlRequestInterceptor):
    """Lets through what a page may load, and counts the rest.

    local: the page is a file, and nothing from outside is fetched; devtools: the
    port on this machine that no page may speak to.
    """

    def __init__(self, devtools: int) -> None:
        super().__init__()
        self.local = True
        self.devtools = devtools
        self.blocked: dict[str, int] = {}

    def interceptRequest(self, info: QWebEngineUrlRequestInfo) -> None:
        """Block a request or let it pass."""
        url = info.requestUrl()
        scheme = url.scheme().lower()
        inside = scheme in OWN
        refused = (self.local and not inside) or url.port() == self.devtools
        # A page from elsewhere has no business with files here.
        refused = refused or (not self.local and scheme == "file")
        if refused:
            info.block(True)
            name = url.toDisplayString()[:300]
            if name in self.blocked or len(self.blocked) < MOST_NAMED:
                self.blocked[name] = self.blocked.get(name, 0) + 1


class GuardedPage(QWebEnginePage):
    """A page whose dialogs, windows and wanderings hold nobody up.

    frozen: it is being measured, and leads nowhere any more; wandered: it led on
    too often.
    """

    def __init__(self, profile: QWebEngineProfile, local: bool) -> None:
        super().__init__(profile)
        self.local = local
        self.frozen = False
        self.navigations = 0
        self.wandered = False
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
        if self.local and QUrl(url).scheme().lower() not in OWN:
            return False
        self.navigations += 1
        self.wandered = self.wandered or self.navigations > MOST_NAVIGATIONS
        return not self.frozen and not self.wandered
