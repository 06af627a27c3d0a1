"""What runs in a process of ours: it hears what is to be done, does it, and tells."""

from __future__ import annotations

import contextlib
import importlib
import multiprocessing
import os
import pickle
import signal
import sys
import threading
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any

from high_pair.errors import HighPairError
from high_pair.process.limits import MOST_MEMORY, die_with_parent, limit_memory

DONE, FAILED, TOLD, ALIVE = "done", "failed", "told", "alive"
# A call that asks so often whether it is to stop says now and then that it gets on.
SIGN_SECONDS = 0.5
TOO_MUCH = "It may be made to do harm, or is too large to be measured"


class CallProblem(HighPairError):
    """A call on a file came to nothing; the message says why, after the word «it»."""


class ProcessEnded(CallProblem):
    """The process was ended, or is of no more use."""


class Call:
    """A call under way, as the function that it runs sees it.

    kept: what functions leave for later calls of the same process; number: of the
    calls of this process, from 1; on_stop: what
    else is done, on another thread, when it is to stop.
    """

    def __init__(self, line: Connection, kept: dict[str, Any], number: int) -> None:
        self._line = line
        self.number = number
        self._sign = time.monotonic()
        self.kept = kept
        self._stopped = threading.Event()
        self.on_stop: Callable[[], None] = lambda: None

    def tell(self, *words: Any) -> None:
        """Tell whoever waits how far it is."""
        self._line.send_bytes(pickle.dumps((TOLD, words), pickle.HIGHEST_PROTOCOL))

    def stopped(self) -> bool:
        """Tell whether nobody waits for it any more.

        To ask is a sign of life: the call gets the time anew that it may take without one.
        """
        now = time.monotonic()
        if now - self._sign > SIGN_SECONDS:
            self._sign = now
            self._line.send_bytes(pickle.dumps((ALIVE, None), pickle.HIGHEST_PROTOCOL))
        return self._stopped.is_set()

    def stop(self) -> None:
        """Say that nobody waits for it any more."""
        self._stopped.set()
        self.on_stop()


def _quiet() -> None:
    """Let nothing that libraries print get among what the program tells."""
    nowhere = os.open(os.devnull, os.O_RDWR)
    for stream in (0, 1, 2):
        os.dup2(nowhere, stream)
    os.close(nowhere)
    sys.stdout = sys.stderr = open(os.devnull, "w", encoding="utf-8")  # noqa: PTH123, SIM115


def _hold_alone(*lines: int) -> None:
    """Close all that was inherited but some lines and the standard streams.

    Among it is what keeps the server of processes alive, which is to end with the program.
    """
    parent = multiprocessing.parent_process()
    kept = {0, 1, 2, *lines, *([parent.sentinel] if parent is not None else ())}
    for name in os.listdir("/proc/self/fd"):  # noqa: PTH208 - it is closed as it is read
        if int(name) not in kept:
            with contextlib.suppress(OSError):
                os.close(int(name))


def serve(line: Connection, control: Connection) -> None:
    """Run the process until nobody asks any more."""
    die_with_parent()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    _hold_alone(line.fileno(), control.fileno())
    _quiet()
    limit_memory(MOST_MEMORY)
    kept: dict[str, Any] = {}
    current: list[Call] = []

    def listen() -> None:
        with contextlib.suppress(EOFError, OSError):
            while True:
                number = int(control.recv_bytes())
                for call in list(current):
                    if call.number == number:
                        call.stop()

    threading.Thread(target=listen, daemon=True, name="control").start()
    calls = 0
    with contextlib.suppress(EOFError, OSError):
        while True:
            function, arguments = pickle.loads(line.recv_bytes())
            calls += 1
            call = Call(line, kept, calls)
            current.append(call)
            answer = _answered(function, call, arguments)
            current.clear()
            line.send_bytes(answer)
    os._exit(0)


def _answered(function: Callable[..., Any] | str, call: Call, arguments: tuple[Any, ...]) -> bytes:
    try:
        if isinstance(function, str):
            module, _, name = function.partition(":")
            result = getattr(importlib.import_module(module), name)(call, *arguments)
        else:
            result = function(call, *arguments)
        return pickle.dumps((DONE, result), pickle.HIGHEST_PROTOCOL)
    except HighPairError as error:
        return _failed(error)
    except MemoryError:
        return _failed(ProcessEnded(f"needs more memory than it may use. {TOO_MUCH}"))
    except OSError as error:
        return _failed(CallProblem(f"can't be read or written ({error.strerror or error})"))
    except Exception as error:
        # A fault of ours: whoever asked is told, and the next call is answered too.
        return _failed(
            CallProblem(
                f"made something go wrong inside High Pair ({type(error).__name__}: {error}). "
                "It is unharmed; please report this"
            )
        )


def _failed(error: HighPairError) -> bytes:
    try:
        data = pickle.dumps((FAILED, error), pickle.HIGHEST_PROTOCOL)
        pickle.loads(data)
    except Exception:
        data = pickle.dumps((FAILED, HighPairError(str(error))), pickle.HIGHEST_PROTOCOL)
    return data
