"""Films and moving pictures: where they show on a page, and which texts they are behind.

A painting is one moment of them. What stands over one can't be measured, and
what moves between two paintings must not be taken for ink.
"""

from __future__ import annotations

import base64
import io
import json
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Any
from urllib.parse import unquote_to_bytes

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from high_pair.engine.page import BrowserPage
from high_pair.engine.paintings import ONE, OTHER, STEADY, WITHOUT, Taken, pixels_of
from high_pair.engine.protocol import Text
from high_pair.engine.texts import boxes_meet, boxes_of

Box = list[float]
# The kinds of pictures that can hold several; APNG goes by the name of PNG.
MOVABLE = ("image/gif", "image/webp", "image/png", "image/apng", "image/avif", "image/svg+xml")
# What makes a drawing move: SMIL, and animations of its own style sheet.
_DRAWING, _IN_DRAWING = re.compile(rb"\s*<"), re.compile(rb"<(?:\w+:)?(?:animate|set\b)|@keyframes")
# A picture larger than this isn't looked into, and counts as one that moves.
MOST_BYTES = 24 * 1024**2
MOST_PICTURES = 400
ATTRIBUTE = "hp-moves"
# A footprint reaches beyond the ink by so much of the letters' size, and a pixel at least.
REACH = 1 / 12


def moves(data: bytes) -> bool:
    """Tell whether a picture file shows several pictures one after another, or a drawing moves."""
    if len(data) > MOST_BYTES:
        return True
    if _DRAWING.match(data):
        return bool(_IN_DRAWING.search(data))
    try:
        with Image.open(io.BytesIO(data)) as picture:
            return bool(getattr(picture, "is_animated", False))
    except Exception:
        # Whatever a broken file raises: the engine, too, shows one picture of it at the most.
        return False


def _data_of(address: str) -> bytes:
    """Give what a data address holds (RFC 2397)."""
    head, _, data = address.partition(",")
    raw = unquote_to_bytes(data)
    if not head.lower().endswith(";base64"):
        return raw
    try:
        return base64.b64decode(raw)
    except ValueError:
        return b""


def _loaded(tree: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """Go through the pictures that a page and its frames have loaded: frame and address."""
    frame = tree["frame"]["id"]
    for resource in tree.get("resources", []):
        if resource.get("mimeType", "").lower() in MOVABLE and not resource.get("failed"):
            yield frame, resource["url"]
    for child in tree.get("childFrames", []):
        yield from _loaded(child)


def _moving_addresses(page: BrowserPage) -> list[str]:
    """List the addresses of pictures on the page that move."""
    found = [
        address
        for address in page.ask("highPair.dataPictures()")
        if address[5:].lower().startswith(MOVABLE) and moves(_data_of(address))
    ]
    tree = page.tools.ask("Page.getResourceTree").get("frameTree")
    for frame, address in islice(_loaded(tree) if tree else (), MOST_PICTURES):
        # A page is taken anew for each remedy that is tried, with the same pictures.
        if address not in page.known_to_move:
            told = page.tools.ask("Page.getResourceContent", frameId=frame, url=address)
            content = told.get("content", "")
            data = base64.b64decode(content) if told.get("base64Encoded") else content.encode()
            page.known_to_move[address] = moves(data)
        if page.known_to_move[address]:
            found.append(address)
    return found


@dataclass(frozen=True)
class Moving:
    """Something on a page that moves. box: in CSS pixels; film: held still, else it goes on."""

    box: Box
    film: bool


def find_moving(page: BrowserPage) -> list[Moving]:
    """List what moves on a page, and name it by an attribute."""
    told = page.ask(f"highPair.nameMoving('{ATTRIBUTE}', {json.dumps(_moving_addresses(page))})")
    return [Moving(box, film) for film, box in told]


def mark_moving(taken: Taken, moving: Sequence[Moving]) -> None:
    """Say which texts something that moves is behind, and leave no ink where it shows."""
    assert taken.main is not None
    coverage = taken.main.coverage
    zoom = taken.painter.zoom
    rooms = {
        at: [_room(text, box) for box in boxes_of(text)]
        for at, text in enumerate(taken.told["texts"])
    }
    if not any(
        boxes_meet(one.box, room) for one in moving for near in rooms.values() for room in near
    ):
        for each in moving:
            left, top, right, bottom = pixels_of(each.box, zoom, coverage.shape)
            coverage[top:bottom, left:right] = 0
        return
    shows = _shows(taken)
    for at, near in rooms.items():
        for room in near:
            left, top, right, bottom = pixels_of(room, zoom, shows.shape)
            if shows[top:bottom, left:right].any():
                taken.told["texts"][at]["moving"] = True
    if not all(each.film for each in moving):
        coverage[shows[: len(coverage)]] = 0


def _room(text: Text, box: Box) -> Box:
    reach = max(1.0, REACH * float(text["look"]["size"]))
    return [box[0] - reach, box[1] - reach, box[2] + 2 * reach, box[3] + 2 * reach]


def _shows(taken: Taken) -> NDArray[np.bool_]:
    """Give the pixels in which something that moves shows, bool (h, w).

    There the page differs when that is one colour, and when it is another.
    """
    painted = []
    for levels in (ONE, OTHER):
        taken.painter.show(STEADY + WITHOUT + _instead(levels))
        painted.append(taken.painter.grab_colours())
    return np.asarray((painted[0] != painted[1]).any(axis=-1))


def _instead(levels: tuple[int, int, int]) -> str:
    colour = "rgb({} {} {})".format(*levels)
    plain = (
        f"background:{colour}!important;border-image:none!important;"
        # What it shows is moved out of its box, in which then the background is seen.
        "object-fit:none!important;object-position:-99999px -99999px!important"
    )
    own = f"[{ATTRIBUTE}~=own]{{{plain}}}"
    return own + "".join(
        f"[{ATTRIBUTE}~={side}]::{side}{{{plain}}}" for side in ("before", "after")
    )
