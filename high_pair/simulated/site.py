"""A small web server for the demo's site, on this machine alone.

    python -m high_pair.simulated.site [FOLDER]

Serves a folder on the loopback address, at a free port, until it is ended;
prints its address first.
"""

from __future__ import annotations

import functools
import sys
import threading
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

SITE = Path(__file__).resolve().parent.parent / "data" / "demo" / "site"
SITE_PAGES = ("index.html", "fares.html", "booking.html", "news.html")
LOOPBACK = "127.0.0.1"


class _Quiet(SimpleHTTPRequestHandler):
    """Serves files and says nothing about it."""

    def log_message(self, format: str, *args: object) -> None:
        """Say nothing."""


class SiteServer:
    """Serves a folder from a thread of its own. address: of its first page's folder."""

    def __init__(self, folder: Path = SITE) -> None:
        handler = functools.partial(_Quiet, directory=str(folder))
        self._server = ThreadingHTTPServer((LOOPBACK, 0), handler)
        self._server.daemon_threads = True
        self.address = f"http://{LOOPBACK}:{self._server.server_address[1]}/"
        self._thread = threading.Thread(target=self._server.serve_forever, daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Serve no longer."""
        self._server.shutdown()
        self._server.server_close()
        self._thread.join()


if __name__ == "__main__":
    served = SiteServer(Path(sys.argv[1]) if len(sys.argv) > 1 else SITE)
    sys.stdout.write(f"{served.address}\n")
    sys.stdout.flush()
    try:
        threading.Event().wait()
    except KeyboardInterrupt:
        served.close()
