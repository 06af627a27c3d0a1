"""Boxes for the text of a picture's pages, as the optional finder sees it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from high_pair.edits.kinds import Edit, MarkText
from high_pair.errors import Cancelled
from high_pair.formats.document import Document
from high_pair.measure.text_finder import find_lines
from high_pair.raster.page import rasterise
from high_pair.scene.geometry import Box
from high_pair.scene.page import PictureText

# A line whose box is covered so far by one drawn before is known already.
KNOWN = 0.5


def boxes_found(
    document: Document,
    trial: Callable[[Sequence[Edit]], Document],
    pages: Sequence[int],
    stopped: Callable[[], bool] = lambda: False,
) -> list[Edit]:
    """Give the edits that draw a box round each line of text found on pages of a picture.

    trial: gives the document with further edits. What a person has drawn stays.
    Raises NoFinder, and Cancelled as soon as `stopped` says so.
    """
    edits: list[Edit] = []
    for page in pages:
        if document.new_box_address(page) is None:
            continue
        if stopped():
            raise Cancelled("Looking for text was stopped.")
        scene = document.scene(page)
        drawn = [
            item.box for item in scene.items if isinstance(item, PictureText) and not item.unread
        ]
        raster = rasterise(scene, document.pictures)
        for line in find_lines(np.ascontiguousarray(raster.backdrop)):
            left, top, right, bottom = (side / raster.scale for side in line.box)
            box = Box(left, top, right - left, bottom - top)
            if any(_share_covered(box, other) >= KNOWN for other in drawn):
                continue
            address = trial(edits).new_box_address(page)
            assert address is not None
            edits.append(MarkText(address, (box.x, box.y, box.width, box.height), line.words))
    return edits


def _share_covered(box: Box, other: Box) -> float:
    """Give the share of a box that another one covers."""
    across = min(box.right, other.right) - max(box.x, other.x)
    down = min(box.bottom, other.bottom) - max(box.y, other.y)
    area = max(box.width * box.height, 1e-9)
    return max(0.0, across) * max(0.0, down) / area
