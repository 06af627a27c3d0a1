"""The engine's process: it hears what is wanted, and tells what it finds."""

from __future__ import annotations

import os
import shutil
import sys
import time
from collections import OrderedDict
from collections.abc import Mapping
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from PySide6.QtCore import QtMsgType, qInstallMessageHandler
from PySide6.QtWebEngineCore import QWebEngineProfile
from PySide6.QtWidgets import QApplication

from high_pair.engine.devtools import THIS_MACHINE, Connection, connected, free_port
from high_pair.engine.no_network import take_network_away
from high_pair.engine.page import BrowserPage, PageProblem
from high_pair.engine.protocol import Wanted
from high_pair.engine.snapshot import taken
from high_pair.engine.wire import Line, Silence
from high_pair.process.limits import (
    MEGABYTE,
    MOST_PAINTING,
    die_with_parent,
    limit_memory,
    memory_of,
)

FONTS = Path(__file__).resolve().parent.parent / "data" / "fonts"
# Pages that stay loaded, so that changes can be tried in them.
MOST_OPEN = 3
# And only so many as leave room for one to be painted.
CROWDED = 350 * MEGABYTE
# Memory that the engine sets aside and never uses: the kernel counts it too.
SET_ASIDE = 512 * MEGABYTE
NOT_WANTED = (
    "Translate", "OptimizationHints", "MediaRouter", "WebRtcHideLocalIpsWithMdns",
    "DirectSockets", "WebTransport", "SpeculationRules", "Prerender2", "FetchLaterAPI",
)  # fmt: skip
FLAGS = (
    "--disable-gpu",
    "--hide-scrollbars",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-quic",
    "--disable-domain-reliability",
    f"--disable-features={','.join(NOT_WANTED)}",
    "--force-webrtc-ip-handling-policy=disable_non_proxied_udp",
    "--webrtc-ip-handling-policy=disable_non_proxied_udp",
    "--force-color-profile=srgb",
    "--disable-lcd-text",
    "--no-pings",
    "--mute-audio",
    # A page's scripts have less memory than the machine.
    "--js-flags=--max-old-space-size=512",
    "--num-raster-threads=4",
    # Frames of a page that is a file are files, and its own.
    "--allow-file-access-from-files",
)


def _fonts(folder: Path) -> Path:
    """Write the settings by which the engine finds the fonts of the system and of the program."""
    path = folder / "fonts.conf"
    usual = os.environ.get("FONTCONFIG_FILE", "/etc/fonts/fonts.conf")
    path.write_text(
        '<?xml version="1.0"?><fontconfig>'
        f'<include ignore_missing="yes">{escape(usual)}</include>'
        f"<dir>{escape(str(FONTS))}</dir></fontconfig>",
        encoding="utf-8",
    )
    return path


def set_up(folder: Path, local: bool) -> int:
    """Set the engine's environment before Qt starts; gives the port of its developer tools.

    local: it shows files alone, and reaches nobody at all.
    """
    port = free_port()
    flags = list(FLAGS)
    if local:
        # Pages can ask for a connection and for nothing over it: no host has an address.
        flags.append('--host-resolver-rules="MAP * ~NOTFOUND"')
    if os.geteuid() == 0:
        # The engine refuses to start as root within its sandbox.
        flags.append("--no-sandbox")
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    os.environ["QTWEBENGINE_CHROMIUM_FLAGS"] = " ".join(flags)
    os.environ["QTWEBENGINE_REMOTE_DEBUGGING"] = f"{THIS_MACHINE}:{port}"
    os.environ["FONTCONFIG_FILE"] = str(_fonts(folder))
    for name in ("QT_SCALE_FACTOR", "QT_SCREEN_SCALE_FACTORS", "QT_FONT_DPI"):
        # A pixel of the page is a pixel of the painting, however the desktop is scaled.
        os.environ.pop(name, None)
    return port


class Server:
    """Keeps pages open and answers about them."""

    def __init__(self, line: Line, folder: Path, connection: Connection) -> None:
        self.line = line
        self.folder = folder
        self.connection = connection
        self._open: OrderedDict[Wanted, BrowserPage] = OrderedDict()

    def _page(self, wanted: Wanted) -> BrowserPage:
        page = self._open.get(wanted)
        if page is not None and not page.page.died:
            self._open.move_to_end(wanted)
            self._make_room(1)
            return page
        self._close(wanted)
        self._make_room(0)
        page = BrowserPage(wanted, self.connection, self.folder)
        self._open[wanted] = page
        start = time.monotonic()
        page.load()
        page.load_seconds = time.monotonic() - start
        return page

    def _make_room(self, kept: int) -> None:
        """Close pages, those that weren't used for longest first; kept: how many stay anyway."""
        while len(self._open) > kept and (
            len(self._open) >= MOST_OPEN + kept or memory_of(os.getpid()) > CROWDED
        ):
            self._close(next(iter(self._open)))

    def _close(self, wanted: Wanted, hung: bool = False) -> None:
        page = self._open.pop(wanted, None)
        if page is not None:
            page.close(hung)

    def answer(self, asked: dict[str, Any]) -> Mapping[str, Any]:
        """Do what is asked."""
        if asked["do"] == "close":
            for open_now in [each for each in self._open if each.visit == asked["visit"]]:
                self._close(open_now)
            return {}
        wanted = Wanted.heard(asked["page"])
        try:
            page = self._page(wanted)
            if asked["do"] == "frame" and page.painter is not None:
                return {"frame": page.painter.time_frame()}
            if asked["do"] == "print":
                page.print_to(self.folder / asked["file"])
                return {}
            return taken(page, asked["changes"], bool(asked["states"]), self.folder)
        except PageProblem as problem:
            self._close(wanted, hung=True)
            return {"problem": str(problem), "hung": problem.hung}

    def serve(self) -> None:
        """Answer until nobody asks any more."""
        while True:
            try:
                asked = self.line.hear()
                self.line.say(self.answer(asked))
            except Silence:
                break
        for wanted in list(self._open):
            self._close(wanted)


def _quiet(_kind: QtMsgType, _context: object, _message: str) -> None:
    """What Qt has to say of the machine's graphics is none of the reader's business."""


def main() -> None:
    """Run the process: `python -m high_pair.engine FOLDER files|web`."""
    folder = Path(sys.argv[1])
    die_with_parent()
    limit_memory(MOST_PAINTING + SET_ASIDE)
    local = sys.argv[2:] != ["web"]
    port = set_up(folder, local)
    # What the engine itself prints must not get into what is told.
    told = os.dup(1)
    os.dup2(2, 1)
    qInstallMessageHandler(_quiet)
    application = QApplication(["high-pair-engine"])
    # The engine and its tools start with the first profile.
    start = QWebEngineProfile()
    connection = connected(port)
    if local:
        take_network_away()
    Server(Line(0, told), folder, connection).serve()
    start.deleteLater()
    application.quit()
    # Whoever asked may be gone without having tidied up.
    shutil.rmtree(folder, ignore_errors=True)
    # The engine's own helpers end with its process; waiting for each takes long.
    os._exit(0)
