"""What a process may use, and what it uses now (Linux)."""

from __future__ import annotations

import ctypes
import os
import resource
import signal
from collections.abc import Iterable, Iterator
from pathlib import Path

MEGABYTE = 1 << 20
# What any process of the program may hold in memory, and from where on one is ended: what it
# takes between two looks at it is less than the difference.
MOST_MEMORY = 1024 * MEGABYTE
ENDED_FROM = 850 * MEGABYTE
# What the engine's main process holds grows by the size of paintings, and not as a page likes:
# each row of the view is held five times over, and each painting of the page once more.
MOST_PAINTING = 1_200 * MEGABYTE
# linux/prctl.h
_DEATH_SIGNAL = 1
_PAGE = os.sysconf("SC_PAGE_SIZE")
_TICKS = os.sysconf("SC_CLK_TCK")


def die_with_parent() -> None:
    """Have this process killed as soon as its parent ends, however that ends: prctl(2).

    The kernel takes the parent's thread that started it for its parent.
    """
    ctypes.CDLL(None).prctl(_DEATH_SIGNAL, signal.SIGKILL, 0, 0, 0)


def limit_memory(most: int) -> None:
    """Have the kernel refuse this process more private memory than so many bytes: setrlimit(2).

    A process that it starts may take more: the engine has a limit of its own.
    """
    _, hard = resource.getrlimit(resource.RLIMIT_DATA)
    most = most if hard == resource.RLIM_INFINITY else min(most, hard)
    resource.setrlimit(resource.RLIMIT_DATA, (most, hard))


def memory_of(process: int) -> int:
    """Give the bytes that a process holds in memory, 0 when it is gone: proc(5), statm."""
    try:
        return int(Path(f"/proc/{process}/statm").read_bytes().split()[1]) * _PAGE
    except (OSError, IndexError, ValueError):
        return 0


def seconds_of(process: int) -> float:
    """Give the processor's seconds that a process has used, 0 when it is gone: proc(5), stat."""
    try:
        fields = Path(f"/proc/{process}/stat").read_bytes().rpartition(b")")[2].split()
        return (int(fields[11]) + int(fields[12])) / _TICKS
    except (OSError, IndexError, ValueError):
        return 0.0


def group_of(leader: int) -> Iterator[int]:
    """Go through the processes of a session: proc(5), stat."""
    for name in os.listdir("/proc"):  # noqa: PTH208 - a thousand paths cost more than their names
        if name.isdigit():
            try:
                fields = Path(f"/proc/{name}/stat").read_bytes().rpartition(b")")[2].split()
                if int(fields[3]) == leader:
                    yield int(name)
            except (OSError, IndexError, ValueError):
                continue


def largest(processes: Iterable[int]) -> tuple[int, int]:
    """Give the process that holds the most memory, and how many bytes; (0, 0) without any."""
    return max(((memory_of(each), each) for each in processes), default=(0, 0))[::-1]
