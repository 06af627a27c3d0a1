"""A stand-in for the desktop portal's colour picker (org.freedesktop.portal.Screenshot).

    python -m high_pair.simulated.portal COLOUR […]

Serves the session bus, or the bus whose address the environment names, until
it is ended. Each PickColor is answered with the next of the colours, over and
over; the word `cancel` answers as a user does who picks nothing.
"""

from __future__ import annotations

import itertools
import sys
from collections.abc import Iterator, Sequence

from jeepney import DBusAddress, HeaderFields, Message, MessageType, new_method_return, new_signal
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import DBusConnection, Proxy, open_dbus_connection

from high_pair.colour.notation import read
from high_pair.colour.srgb import from_bytes

NAME = "org.freedesktop.portal.Desktop"
REQUESTS = "/org/freedesktop/portal/desktop/request"
CANCEL = "cancel"
# The portal's answers: done, or ended by the user.
DONE, CANCELLED = 0, 1


def _answer(connection: DBusConnection, call: Message, colours: Iterator[str]) -> None:
    """Answer one call of PickColor: with a handle at once, with the colour in a signal."""
    sender = str(call.header.fields[HeaderFields.sender])
    options = call.body[1]
    token = options.get("handle_token", ("s", "none"))[1]
    handle = f"{REQUESTS}/{sender.removeprefix(':').replace('.', '_')}/{token}"
    connection.send(new_method_return(call, "o", (handle,)))
    word = next(colours)
    if word == CANCEL:
        code, results = CANCELLED, {}
    else:
        channels = tuple(float(value) for value in from_bytes(read(word).rgb))
        code, results = DONE, {"color": ("(ddd)", channels)}
    emitter = DBusAddress(handle, bus_name=sender, interface="org.freedesktop.portal.Request")
    connection.send(new_signal(emitter, "Response", "ua{sv}", (code, results)))


def serve(words: Sequence[str]) -> None:
    """Answer for ever. Raises NotationError for a word that is no colour."""
    for word in words:
        if word != CANCEL:
            read(word)
    colours = itertools.cycle(words or ("#1B4F72",))
    with open_dbus_connection() as connection:
        Proxy(message_bus, connection).RequestName(NAME)
        sys.stdout.write("ready\n")
        sys.stdout.flush()
        while True:
            call = connection.receive()
            if call.header.message_type is not MessageType.method_call:
                continue
            if call.header.fields.get(HeaderFields.member) == "PickColor":
                _answer(connection, call, colours)


if __name__ == "__main__":
    serve(sys.argv[1:])
