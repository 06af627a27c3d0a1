"""What the processes of tests are asked to do."""

from __future__ import annotations

import ctypes
import os
import subprocess
import sys
import time

from high_pair.errors import EditError, UnreadableFile
from high_pair.process.serving import Call


def double(_call: Call, number: int) -> int:
    return 2 * number


def own_process(_call: Call) -> int:
    return os.getpid()


def remember(call: Call, word: str) -> str:
    return str(call.kept.setdefault("word", word))


def loop(_call: Call) -> None:
    while True:
        pass


def tell_and_loop(call: Call, times: int) -> int:
    for count in range(times):
        call.tell(count, times)
        end = time.process_time() + 0.3
        while time.process_time() < end:
            pass
    return times


def ask_and_loop(call: Call, seconds: float) -> bool:
    end = time.process_time() + seconds
    while time.process_time() < end:
        call.stopped()
    return True


def eat(_call: Call, megabytes: int) -> int:
    held = []
    for _ in range(megabytes):
        held.append(bytearray(os.urandom(1024)) * 1024)
    return len(held)


def eat_at_once(_call: Call, megabytes: int) -> int:
    return len(bytearray(megabytes << 20))


def limit_of_a_child(_call: Call, megabytes: int) -> str:
    """Start a process that gives itself another limit of memory."""
    program = (
        "import resource as r; h = r.getrlimit(r.RLIMIT_DATA)[1]; "
        f"r.setrlimit(r.RLIMIT_DATA, ({megabytes << 20}, h)); "
        f"print(len(bytearray({(megabytes - 200) << 20})))"
    )
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True)
    return done.stdout + done.stderr


def crash(_call: Call) -> None:
    ctypes.string_at(0)


def leave(_call: Call) -> None:
    os._exit(3)


def refuse(_call: Call, kind: str) -> None:
    if kind == "file":
        raise UnreadableFile("bad.pptx", "it is damaged.")
    if kind == "edit":
        raise EditError("nowhere")
    if kind == "system":
        raise OSError(5, "Input/output error")
    raise RuntimeError("a fault of ours")


def wait_until_stopped(call: Call) -> str:
    while not call.stopped():
        time.sleep(0.005)
    return "stopped"


def sleep(_call: Call, seconds: float) -> None:
    time.sleep(seconds)


def print_much(_call: Call) -> None:
    print("from Python")
    print("from Python", file=sys.stderr)
    os.write(1, b"from a library")
    os.write(2, b"from a library")
