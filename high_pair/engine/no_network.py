"""Takes the network from a process for good: the kernel then refuses to make sockets for it.

Linux, seccomp(2): a filter that every thread and every child of the process gets,
and that none can take off. It needs no rights that a user doesn't have.
"""

from __future__ import annotations

import ctypes
import errno
import platform
import socket
import struct

# linux/prctl.h, linux/seccomp.h
NO_NEW_PRIVILEGES = 38
SET_MODE_FILTER = 1
ALL_THREADS = 1
ALLOW = 0x7FFF0000
REFUSE = 0x00050000 | errno.EACCES
# linux/audit.h, and the numbers of seccomp, socket and io_uring_setup in each machine's table.
CALLS = {"x86_64": (0xC000003E, 317, 41, 425), "aarch64": (0xC00000B7, 277, 198, 425)}
# Another table of calls on the same machine (x32): nothing here uses it.
OTHER_TABLE = 0x40000000
# linux/bpf_common.h: load a word, jump if equal, jump if at least, return.
LOAD, JUMP_EQUAL, JUMP_LEAST, RETURN = 0x20, 0x15, 0x35, 0x06
# Where linux/seccomp.h's seccomp_data has the call's number, the machine, and the first argument.
NUMBER, MACHINE, FIRST = 0, 4, 16
# What reaches other programs of this user and the kernel, and no other machine.
NEAR = (socket.AF_UNIX, socket.AF_NETLINK)


class _Program(ctypes.Structure):
    _fields_ = [("length", ctypes.c_ushort), ("filter", ctypes.c_void_p)]


def take_network_away() -> bool:
    """Refuse every new socket but local ones, for this process and its children.

    Connections that stand go on. False where the kernel or the machine isn't known to have it.
    """
    known = CALLS.get(platform.machine())
    if known is None:
        return False
    machine, seccomp, make_socket, make_ring = known
    steps = [
        (LOAD, 0, 0, MACHINE),
        (JUMP_EQUAL, 0, 7, machine),
        (LOAD, 0, 0, NUMBER),
        (JUMP_LEAST, 5, 0, OTHER_TABLE),
        # A ring could make sockets by itself.
        (JUMP_EQUAL, 4, 0, make_ring),
        (JUMP_EQUAL, 0, 4, make_socket),
        (LOAD, 0, 0, FIRST),
        (JUMP_EQUAL, 2, 0, NEAR[0]),
        (JUMP_EQUAL, 1, 0, NEAR[1]),
        (RETURN, 0, 0, REFUSE),
        (RETURN, 0, 0, ALLOW),
    ]
    code = b"".join(struct.pack("=HBBI", *step) for step in steps)
    kept = ctypes.create_string_buffer(code, len(code))
    program = _Program(len(steps), ctypes.cast(kept, ctypes.c_void_p))
    library = ctypes.CDLL(None, use_errno=True)
    if library.prctl(NO_NEW_PRIVILEGES, 1, 0, 0, 0) != 0:
        return False
    return bool(library.syscall(seccomp, SET_MODE_FILTER, ALL_THREADS, ctypes.byref(program)) == 0)
