"""One page in the engine: loaded, waited for, asked by scripts of our own."""

from __future__ import annotations

import contextlib
import functools
import json
import os
import signal
import time
from pathlib import Path
from typing import TYPE_CHECKING, Any
from xml.sax.saxutils import escape

from PySide6.QtCore import QMarginsF, QUrl
from PySide6.QtGui import QPageLayout, QPageSize
from PySide6.QtWebEngineCore import (
    QWebEngineLoadingInfo,
    QWebEngineProfile,
    QWebEngineScript,
    QWebEngineSettings,
)
from PySide6.QtWebEngineWidgets import QWebEngineView

from high_pair.engine.devtools import Connection, Tools
from high_pair.engine.guards import WITHOUT_ASKING, GuardedPage, Requests
from high_pair.engine.protocol import Wanted
from high_pair.engine.waiting import answer_of, pause, wait_until

if TYPE_CHECKING:
    from high_pair.engine.frames import Painter

SCRIPTS = Path(__file__).resolve().parent / "scripts"
# A world that the page's own scripts can't reach or patch, and that goes on without them.
OURS = QWebEngineScript.ScriptWorldId.ApplicationWorld.value
THEIRS = QWebEngineScript.ScriptWorldId.MainWorld.value
# For so long nothing may have been loaded or changed before a page is taken.
QUIET = 0.5
# And so long of one on which nothing runs.
QUIET_WITHOUT_SCRIPTS = 0.05
# Changes alone, as by a clock that ticks, hold a page no longer than this;
# nor does anything, once its limit is used up.
MOST_RESTLESS = 3.0
# After a load that ended early what it was becomes known within so many seconds: of a failure
# word always comes, of what became a file to keep mostly at once.
DOUBT = 0.4
MOST_DOUBT = 5.0
# Where the engine shows its own words for a page that can't be loaded.
ENGINES_OWN = "chrome-error:"
# Where a view is until a page begins.
BEFORE_ANY = "about:blank"
# net::ERR_ABORTED
ABORTED = -3
FAULT = "high-pair-fault: "
# Running text is where it was sent within so many seconds.
ARRIVING = 0.1
# Seconds in which a script of ours has to answer, by the page's own limit: later it stands behind
# one of the page's that has no end, or the page is so large that it had better end.
LEAST_ANSWER = 4.0
# Printing a long report takes so many seconds at most; its paper's margins in millimetres, where
# its own sheet says none.
MOST_PRINTING = 80.0
PRINT_MARGIN = 14.0
MOST_ANSWER = 25.0


class PageProblem(Exception):
    """A page can't be shown; the message says why, for its reader. hung: its scripts are why."""

    def __init__(self, words: str, hung: bool = False) -> None:
        super().__init__(words)
        self.hung = hung


def script(name: str) -> str:
    """Give one of our scripts."""
    return (SCRIPTS / f"{name}.js").read_text(encoding="utf-8")


class BrowserPage:
    """A page that is shown.

    notes: what its reader is to be told of it; load_seconds: how long it took until quiet.
    """

    def __init__(self, wanted: Wanted, connection: Connection, folder: Path) -> None:
        self.wanted = wanted
        self.notes: list[str] = []
        self.load_seconds = 0.0
        # Made when the page is first painted: see `frames.Painter`.
        self.painter: Painter | None = None
        # Without a name a profile keeps nothing on disk.
        self._profile = QWebEngineProfile()
        self._profile.setHttpCacheType(QWebEngineProfile.HttpCacheType.MemoryHttpCache)
        self._profile.setPersistentCookiesPolicy(
            QWebEngineProfile.PersistentCookiesPolicy.NoPersistentCookies
        )
        self._profile.downloadRequested.connect(self._refuse_download)
        self._shown_by = folder.resolve() / f"{wanted.visit}.html"
        alone = self._shown_by if wanted.drawing is not None else None
        self.requests = Requests(wanted.folders, alone)
        self._profile.setUrlRequestInterceptor(self.requests)
        self.page = GuardedPage(self._profile, self.requests.local)
        self._settle(self.page.settings())
        self.view = QWebEngineView()
        self.view.setPage(self.page)
        self.view.resize(wanted.width, wanted.height)
        self.page.setZoomFactor(wanted.zoom)
        self.view.show()
        self._loaded: bool | None = None
        self._error = ""
        self._failed = False
        # Why a load ended early has been told.
        self._told = False
        self._download = ""
        # Of the pictures that were looked into, by address, whether they move: see `moving`.
        self.known_to_move: dict[str, bool] = {}
        # Its limit is used up: it has no second one.
        self._late = False
        self.page.loadFinished.connect(self._load_finished)
        self.page.loadingChanged.connect(self._loading_changed)
        self.tools = Tools(connection, self.page.devToolsId())

    def _settle(self, settings: QWebEngineSettings) -> None:
        attribute = QWebEngineSettings.WebAttribute
        for name in (
            attribute.JavascriptCanOpenWindows,
            attribute.PluginsEnabled,
            attribute.PdfViewerEnabled,
            attribute.FullScreenSupportEnabled,
            attribute.ScreenCaptureEnabled,
            attribute.WebGLEnabled,
            attribute.DnsPrefetchEnabled,
            attribute.HyperlinkAuditingEnabled,
            attribute.ShowScrollBars,
        ):
            settings.setAttribute(name, False)
        settings.setAttribute(attribute.WebRTCPublicInterfacesOnly, True)
        # What a file would fetch from outside is stopped, and counted, by `guards.Requests`.
        settings.setAttribute(attribute.LocalContentCanAccessRemoteUrls, True)
        settings.setAttribute(attribute.PlaybackRequiresUserGesture, True)
        settings.setAttribute(attribute.JavascriptEnabled, self.wanted.scripts)

    def _refuse_download(self, download: Any) -> None:
        self._download = str(download.mimeType())
        download.cancel()

    def _load_finished(self, done: bool) -> None:
        self._loaded = done

    def _loading_changed(self, info: QWebEngineLoadingInfo) -> None:
        if info.status() is QWebEngineLoadingInfo.LoadStatus.LoadFailedStatus:
            # A load that another one ends is no failure of the page's.
            # And with an error of its own a server sends a page all the same.
            self._told = True
            domain = info.errorDomain()
            http = domain is QWebEngineLoadingInfo.ErrorDomain.HttpStatusCodeDomain
            self._failed = info.errorCode() != ABORTED and not http
            self._error = info.errorString()

    # Loading

    def load(self) -> None:
        """Load the page and wait until it is quiet. Raises PageProblem."""
        end = time.monotonic() + self.wanted.limit
        self.tools.ask("Network.enable")
        self.tools.ask("Page.enable")
        self.tools.ask("Page.addScriptToEvaluateOnNewDocument", source=WITHOUT_ASKING)
        features = [
            {"name": "prefers-color-scheme", "value": "dark" if self.wanted.dark else "light"}
        ]
        self.tools.ask("Emulation.setEmulatedMedia", features=features)
        self.page.load(QUrl(self._to_load()))
        self._wait(lambda: self._loaded is not None or bool(self._download), end)
        if self._loaded is False and not self._failed:
            # It failed, became a file to keep, or leads on: which of them shows soon.
            wait_until(lambda: self._told or bool(self._download), MOST_DOUBT)
            if not self._failed:
                wait_until(lambda: bool(self._download), DOUBT)
        if self._download:
            raise PageProblem(f"it isn't a web page but a file to keep ({self._download})")
        if self.page.wandered:
            raise PageProblem("it leads on from page to page without end")
        if self._loaded is False and self._failed:
            raise PageProblem(f"it can't be loaded ({self._error or 'no answer'})")
        if self._loaded is None:
            if self.ask("location.href") == BEFORE_ANY:
                raise PageProblem(f"it can't be loaded (no answer after {self.wanted.limit:g} s)")
            self._take_late(f"it was still loading after {self.wanted.limit:g} s")
        if self.tools.status >= 400:
            self.notes.append(f"the server answered with an error ({self.tools.status})")
        self.settle(end)
        self.page.frozen = True
        if self.page.isLoading():
            # It led on just before it was to lead nowhere any more, and arrives yet.
            self._wait(lambda: not self.page.isLoading(), time.monotonic() + MOST_RESTLESS)
            self.settle(end)
        self._check_there()

    def _check_there(self) -> None:
        """Refuse the engine's own words in place of the page, and a page with nothing in it."""
        address, anything = self.ask("[location.href, document.documentElement !== null]")
        if address.startswith(ENGINES_OWN):
            raise PageProblem(f"it can't be loaded ({self._error or 'no answer'})")
        if not anything:
            raise PageProblem("its own scripts have taken away all that was in it")

    def _to_load(self) -> str:
        """Give the address to load; a drawing is shown within a page of ours."""
        if self.wanted.drawing is None:
            return self.wanted.address
        width, height = self.wanted.drawing
        self._shown_by.write_text(
            "<!doctype html><meta charset=utf-8><style>html,body{margin:0;background:#fff}"
            f"iframe{{display:block;border:0;width:{width:g}px;height:{height:g}px}}</style>"
            f'<iframe src="{escape(self.wanted.address, {chr(34): "&quot;"})}"></iframe>',
            encoding="utf-8",
        )
        return self._shown_by.as_uri()

    def _wait(self, condition: Any, end: float) -> None:
        wait_until(lambda: bool(self.page.died) or condition(), max(0.1, end - time.monotonic()))
        self._check_alive()

    def _check_alive(self) -> None:
        if self.page.died:
            raise PageProblem("the engine gave up on it (it needs too much memory, or is broken)")

    def settle(self, end: float | None = None, quiet: float = QUIET) -> None:
        """Wait until nothing has been loaded or changed for a while."""
        start = time.monotonic()
        if self._late:
            end = start + MOST_RESTLESS
        elif end is None:
            end = start + self.wanted.limit
        self.run(script("watch"))
        while True:
            pause(0.03)
            # It may have led on to another page meanwhile, which isn't watched yet.
            state = self.ask("globalThis.highPair ? highPair.state() : null")
            now = time.monotonic()
            if not isinstance(state, dict):
                self.run(script("watch"))
                state = {"ready": False, "fonts": False, "still": 0, "active": True}
            enough = quiet if state["active"] else min(quiet, QUIET_WITHOUT_SCRIPTS)
            under_way = self.tools.under_way or self.page.isLoading()
            idle = not under_way and now - self.tools.last_activity >= enough
            still = state["still"] >= enough or now - start > MOST_RESTLESS
            if state["ready"] and state["fonts"] and idle and still and now - start >= enough:
                return
            if now > end:
                if not self._late:
                    self._take_late(f"it hadn't come to rest after {self.wanted.limit:g} s")
                return

    def _take_late(self, why: str) -> None:
        """Stop what is still being loaded, and say that the page is taken as it is now."""
        self._late = True
        self.notes.append(f"{why} and was taken as it was then")
        self.tools.ask("Page.stopLoading")

    # Asking

    def run(self, code: str, world: int = OURS) -> str:
        """Run a script; gives its value where that is a string. Raises PageProblem."""
        # The value of a script is that of its last statement, within `try` as well.
        guarded = f"try {{\n{code}\n}} catch (fault) {{ '{FAULT}' + fault.stack }}"
        patience = min(MOST_ANSWER, max(LEAST_ANSWER, self.wanted.limit))
        answers = answer_of(
            functools.partial(self.page.runJavaScript, guarded, world),
            lambda: bool(self.page.died),
            patience,
        )
        self._check_alive()
        if not answers:
            raise PageProblem(
                "it doesn't answer: a script of its own is without end, or it has very many parts",
                hung=True,
            )
        answer = answers[0] if isinstance(answers[0], str) else ""
        if answer.startswith(FAULT):
            raise PageProblem(f"it can't be asked about its text ({answer[len(FAULT) : 300]})")
        return answer

    def ask(self, expression: str) -> Any:
        """Ask for the value of an expression, as JSON has it; None where it has none."""
        # Qt passes on strings and numbers, and nothing else, of a script's values.
        answer = self.run(f"JSON.stringify({expression})")
        return json.loads(answer) if answer else None

    def hold_still(self) -> None:
        """Stop the page's own scripts for good, and bring animations to their end."""
        stopped = self.wanted.scripts and not self.ask("highPair.hasCanvas()")
        if stopped:
            # Without leave to run, nothing of the page's world is called any more: no timer, no
            # observer and no handler, in frames too. What we ask runs in a world of its own.
            scripts = QWebEngineSettings.WebAttribute.JavascriptEnabled
            self.page.settings().setAttribute(scripts, False)
        else:
            # Without that leave a canvas would show what it has for those without scripts.
            self.run(script("halt"), THEIRS)
        if self.ask(f"highPair.holdStill({json.dumps(stopped)})"):
            pause(ARRIVING)

    def print_to(self, target: Path) -> None:
        """Print the page to a PDF, on paper of the size and margins that its sheets ask for.

        Raises PageProblem.
        """
        done: list[bool] = []
        self.page.pdfPrintingFinished.connect(lambda _path, well: done.append(well))
        margins = QMarginsF(*[PRINT_MARGIN] * 4)
        paper = QPageSize(QPageSize.PageSizeId.A4)
        layout = QPageLayout(
            paper, QPageLayout.Orientation.Portrait, margins, QPageLayout.Unit.Millimeter
        )
        self.page.printToPdf(str(target), layout)
        self._wait(lambda: bool(done), time.monotonic() + MOST_PRINTING)
        if not done or not done[0]:
            raise PageProblem("it can't be printed")

    def close(self, hung: bool = False) -> None:
        """Let go of the page and what it holds. hung: it wouldn't go by itself."""
        self.tools.close()
        if hung and self.page.renderProcessPid() > 0:
            with contextlib.suppress(OSError):
                os.kill(self.page.renderProcessPid(), signal.SIGKILL)
        self.view.close()
        self.view.setPage(None)  # type: ignore[arg-type]
        self.page.deleteLater()
        self.view.deleteLater()
        pause(0.01)
        self._profile.deleteLater()
        pause(0.01)
