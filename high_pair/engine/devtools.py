"""The engine's own tools for developers, by which states are forced and schemes set.

The DevTools protocol. The engine offers it on a port alone, of which any user of
the machine could make use; so one connection is made before any page is loaded,
and then nobody listens there any more: see `connected`.
"""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from PySide6.QtCore import QUrl
from PySide6.QtWebSockets import QWebSocket

from high_pair.engine.waiting import wait_until

PATIENCE = 5.0
STARTING = 20.0
THIS_MACHINE = "127.0.0.1"


class Connection:
    """The one connection to the engine, over which all pages are spoken of."""

    def __init__(self, address: str) -> None:
        """Connect; address: of the engine as a whole, with its secret. Raises OSError."""
        self._socket = QWebSocket()
        self._answers: dict[int, dict[str, Any]] = {}
        self._asked = 0
        self._waited: set[int] = set()
        self._listening: dict[str, Tools] = {}
        self._socket.textMessageReceived.connect(self._heard)
        self._socket.open(QUrl(address))
        if not wait_until(self._socket.isValid, STARTING):
            raise ConnectionError("the engine doesn't answer")

    @property
    def port(self) -> int:
        """Its port at this end."""
        return int(self._socket.localPort())

    def _heard(self, text: str) -> None:
        message = json.loads(text)
        if "id" in message:
            if message["id"] in self._waited:
                self._answers[message["id"]] = message
            return
        tools = self._listening.get(message.get("sessionId", ""))
        if tools is not None:
            tools.heard(message.get("method", ""), message.get("params", {}))

    def listen(self, session: str, tools: Tools | None) -> None:
        """Say who hears what happens in a session; nobody any more where None."""
        if tools is None:
            self._listening.pop(session, None)
        else:
            self._listening[session] = tools

    def tell(self, session: str, method: str, parameters: dict[str, Any]) -> int:
        """Ask without waiting for the answer; gives the question's number."""
        self._asked += 1
        question = {"id": self._asked, "method": method, "params": parameters}
        if session:
            question["sessionId"] = session
        self._socket.sendTextMessage(json.dumps(question))
        return self._asked

    def ask(
        self, session: str, method: str, parameters: dict[str, Any], seconds: float
    ) -> dict[str, Any]:
        """Ask, and wait for the answer; an empty one when none comes."""
        if not self._socket.isValid():
            return {}
        # The answer may not come before somebody waits for it.
        number = self._asked + 1
        self._waited.add(number)
        self.tell(session, method, parameters)
        wait_until(lambda: number in self._answers or not self._socket.isValid(), seconds, every=1)
        self._waited.discard(number)
        result = self._answers.pop(number, {}).get("result", {})
        return result if isinstance(result, dict) else {}


class Tools:
    """Asks the engine about one page. page: the engine's name of it."""

    def __init__(self, connection: Connection, page: str) -> None:
        self._connection = connection
        self._loading: set[str] = set()
        self.last_activity = time.monotonic()
        self.status = 0
        told = connection.ask("", "Target.attachToTarget", {"targetId": page, "flatten": True}, 5)
        self._session = str(told.get("sessionId", "none"))
        connection.listen(self._session, self)

    @property
    def under_way(self) -> int:
        """How many requests of the page are loading."""
        return len(self._loading)

    def heard(self, method: str, told: dict[str, Any]) -> None:
        """Take note of what happens to the page."""
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
        return self._connection.ask(self._session, method, parameters, seconds)

    def tell(self, method: str, **parameters: Any) -> None:
        """Ask without waiting for the answer, which is of no interest."""
        self._connection.tell(self._session, method, parameters)

    def close(self) -> None:
        """Hang up."""
        self._connection.listen(self._session, None)
        self._connection.tell("", "Target.detachFromTarget", {"sessionId": self._session})


def free_port() -> int:
    """Give a port of this machine that nobody listens at."""
    with socket.socket() as chosen:
        chosen.bind((THIS_MACHINE, 0))
        return int(chosen.getsockname()[1])


def connected(port: int) -> Connection:
    """Connect to the engine, which listens at a port, and let nobody else do so, ever.

    Raises OSError: nobody answers, or somebody else was faster.
    """
    asking = _Asking(port)
    asking.start()
    wait_until(lambda: not asking.is_alive(), STARTING)
    if not asking.address:
        raise ConnectionError("the engine's own tools don't answer")
    connection = Connection(asking.address)
    for listener in _own_sockets(port):
        if listener.getsockopt(socket.SOL_SOCKET, socket.SO_ACCEPTCONN):
            listener.shutdown(socket.SHUT_RDWR)
    for accepted in _own_sockets(port):
        if _peer(accepted) not in (None, connection.port, asking.port):
            raise PermissionError("another program of this machine spoke to the engine")
    return connection


class _Asking(threading.Thread):
    """Asks the engine for its own address, while this process's loop lets it answer."""

    def __init__(self, port: int) -> None:
        super().__init__(daemon=True)
        self._to = port
        self.address = ""
        self.port = 0

    def run(self) -> None:
        """Ask until it answers."""
        end = time.monotonic() + STARTING
        while not self.address and time.monotonic() < end:
            line = http.client.HTTPConnection(THIS_MACHINE, self._to, timeout=STARTING)
            try:
                line.connect()
                self.port = line.sock.getsockname()[1]
                line.request("GET", "/json/version")
                told = json.loads(line.getresponse().read())
                self.address = str(told["webSocketDebuggerUrl"])
            except (OSError, ValueError, KeyError, http.client.HTTPException):
                time.sleep(0.02)
            finally:
                line.close()


def _own_sockets(port: int) -> Iterator[socket.socket]:
    """Go through the sockets of this process that are bound to a port: sockets(7), proc(5)."""
    for name in Path("/proc/self/fd").iterdir():
        with contextlib.suppress(OSError):
            if not str(name.readlink()).startswith("socket:"):
                continue
            with socket.socket(fileno=os.dup(int(name.name))) as found:
                if found.family == socket.AF_INET and found.getsockname()[1] == port:
                    yield found


def _peer(accepted: socket.socket) -> int | None:
    """Give the port at a connection's other end, None where it has none."""
    try:
        return int(accepted.getpeername()[1])
    except OSError:
        return None
