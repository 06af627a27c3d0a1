"""The engine's own tools for developers, by which states are forced and schemes set.

The DevTools protocol over a socket on this machine; see `--remote-debugging-port`.
"""

from __future__ import annotations

import json
import time
from typing import Any

from PySide6.QtCore import QUrl
from PySide6.QtWebSockets import QWebSocket

from high_pair.engine.waiting import wait_until

PATIENCE = 5.0


class Tools:
    """Asks the engine about one page. under_way: how many requests of the page are loading."""

    def __init__(self, port: int, page: str) -> None:
        self._socket = QWebSocket()
        self._answers: dict[int, dict[str, Any]] = {}
        self._asked = 0
        self._waited: set[int] = set()
        self._loading: set[str] = set()
        self.last_activity = time.monotonic()
        self.status = 0
        self._socket.textMessageReceived.connect(self._heard)
        self._socket.open(QUrl(f"ws://127.0.0.1:{port}/devtools/page/{page}"))
        wait_until(self._socket.isValid, PATIENCE)

    @property
    def under_way(self) -> int:
        """How many requests of the page are loading."""
        return len(self._loading)

    def _heard(self, text: str) -> None:
        message = json.loads(text)
        if "id" in message:
            if message["id"] in self._waited:
                self._answers[message["id"]] = message
            return
        method, told = message.get("method"), message.get("params", {})
        if method == "Network.requestWillBeSent":
            if not str(told.get("request", {}).get("url", "")).startswith("data:"):
                self._loading.add(told["requestId"])
                self.last_activity = time.monotonic()
        elif method in ("Network.loadingFinished", "Network.loadingFailed"):
            self._loading.discard(told["requestId"])
            self.last_activity = time.monotonic()
        elif method == "Network.responseReceived" and told.get("type") == "Document":
            self.status = self.status or int(told["response"].get("status", 0))

    def ask(self, method: str, seconds: float = PATIENCE, **parameters: Any) -> dict[str, Any]:
        """Ask, and wait for the answer; an empty one when none comes."""
        if not self._socket.isValid():
            return {}
        self._asked += 1
        number = self._asked
        self._waited.add(number)
        question = {"id": number, "method": method, "params": parameters}
        self._socket.sendTextMessage(json.dumps(question))
        wait_until(lambda: number in self._answers or not self._socket.isValid(), seconds, every=1)
        self._waited.discard(number)
        answer: dict[str, Any] = self._answers.pop(number, {})
        result = answer.get("result", {})
        return result if isinstance(result, dict) else {}

    def tell(self, method: str, **parameters: Any) -> None:
        """Ask without waiting for the answer, which is of no interest."""
        self._asked += 1
        question = {"id": self._asked, "method": method, "params": parameters}
        self._socket.sendTextMessage(json.dumps(question))

    def close(self) -> None:
        """Hang up."""
        self._socket.abort()
        self._socket.deleteLater()
