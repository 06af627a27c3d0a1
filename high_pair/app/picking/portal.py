"""The desktop portal's colour picker, over D-Bus.

Source: XDG Desktop Portal, org.freedesktop.portal.Screenshot, PickColor.
"""

from __future__ import annotations

import itertools
import os

from jeepney import DBusAddress, DBusErrorResponse, MatchRule, MessageType, new_method_call
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import DBusConnection, Proxy, open_dbus_connection

from high_pair.errors import HighPairError
from high_pair.scene.paint import Colour

PORTAL = DBusAddress(
    "/org/freedesktop/portal/desktop",
    bus_name="org.freedesktop.portal.Desktop",
    interface="org.freedesktop.portal.Screenshot",
)
REQUESTS = "/org/freedesktop/portal/desktop/request"
# How long the desktop may take to answer, and the user to pick.
ANSWER_SECONDS, PICK_SECONDS = 10.0, 300.0
_tokens = itertools.count(1)


class NoPortal(HighPairError):
    """There is no portal that picks colours here."""


def has_bus() -> bool:
    """Tell whether there is a session bus to ask."""
    return bool(os.environ.get("DBUS_SESSION_BUS_ADDRESS"))


def pick_colour() -> Colour | None:
    """Let the user pick a colour anywhere on the screen; None when they pick none.

    Waits for them, so it is called on a thread of its own. Raises NoPortal.
    """
    try:
        with open_dbus_connection(bus="SESSION") as connection:
            return _pick(connection)
    except (OSError, KeyError, ValueError, DBusErrorResponse, TimeoutError) as error:
        raise NoPortal(
            f"The desktop can't pick a colour here ({error or type(error).__name__}). Take a "
            "screenshot with the desktop's own key, then paste it with Ctrl+V."
        ) from error


def _pick(connection: DBusConnection) -> Colour | None:
    token = f"high_pair_{os.getpid()}_{next(_tokens)}"
    sender = connection.unique_name.removeprefix(":").replace(".", "_")
    handle = f"{REQUESTS}/{sender}/{token}"
    rule = MatchRule(
        type="signal", interface="org.freedesktop.portal.Request", member="Response", path=handle
    )
    Proxy(message_bus, connection, timeout=ANSWER_SECONDS).AddMatch(rule)
    options = {"handle_token": ("s", token)}
    call = new_method_call(PORTAL, "PickColor", "sa{sv}", ("", options))
    # Listening begins before the call: the answer may come at once.
    with connection.filter(rule) as responses:
        reply = connection.send_and_get_reply(call, timeout=ANSWER_SECONDS)
        if reply.header.message_type is MessageType.error:
            raise DBusErrorResponse(reply)
        response = connection.recv_until_filtered(responses, timeout=PICK_SECONDS)
    code, results = response.body
    if code != 0:
        return None
    red, green, blue = (min(1.0, max(0.0, float(value))) for value in results["color"][1])
    # To the 8 bits that the screen shows.
    levels = (round(value * 255) / 255 for value in (red, green, blue))
    return Colour(*levels)
