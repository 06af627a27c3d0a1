"""Finding where text stands in a picture, by an optional library that brings its model along.

RapidOCR (Apache 2.0) finds lines and reads their words; nothing is fetched. Where it isn't
installed, boxes are drawn by hand.
"""

from __future__ import annotations

import functools
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from high_pair.colour.srgb import Bytes
from high_pair.errors import HighPairError

# Words read with less confidence than this are left to the person.
SURE = 0.85
# Room round a line, as a share of its height, of which the letters' separation has need.
ROOM = 0.15
# The library's own measure of a line's tilt is a quadrangle; one that leans more than this is
# none that a box could be drawn round.
MOST_LEAN = 0.35


class NoFinder(HighPairError):
    """The optional library isn't there."""


@dataclass(frozen=True)
class FoundLine:
    """A line of text.

    box: left, top, right, bottom in pixels, with some room round it; words: as
    read, empty where that isn't sure.
    """

    box: tuple[int, int, int, int]
    words: str


@functools.cache
def _engine() -> Any:
    try:
        from rapidocr import RapidOCR
    except ImportError as error:
        raise NoFinder(
            "Finding text in pictures needs an optional part, which is not installed. "
            'Install it with: pip install "high-pair[find-text]". '
            "Or draw a box round the text."
        ) from error
    return RapidOCR(params={"Global.log_level": "critical", "Global.text_score": 0.0})


def find_lines(pixels: Bytes) -> tuple[FoundLine, ...]:
    """Find the lines of text in a picture, from top to bottom.

    pixels: uint8 (h, w, 3). Raises NoFinder where the library isn't there.
    """
    engine = _engine()
    height, width = pixels.shape[:2]
    # The library takes blue, green, red.
    found = engine(np.ascontiguousarray(pixels[..., ::-1]), use_cls=False)
    if found.boxes is None:
        return ()
    scores = found.scores or (0.0,) * len(found.boxes)
    texts = found.txts or ("",) * len(found.boxes)
    lines = []
    for corners, text, score in zip(np.asarray(found.boxes), texts, scores, strict=True):
        if _lean(corners) > MOST_LEAN:
            continue
        left, top = corners.min(axis=0)
        right, bottom = corners.max(axis=0)
        room = ROOM * (bottom - top)
        box = (
            max(0, int(left - room)),
            max(0, int(top - room)),
            min(width, int(np.ceil(right + room))),
            min(height, int(np.ceil(bottom + room))),
        )
        lines.append(FoundLine(box, text.strip() if score >= SURE else ""))
    return _apart(sorted(lines, key=lambda line: (line.box[1], line.box[0])))


def _apart(lines: list[FoundLine]) -> tuple[FoundLine, ...]:
    """Part the boxes of lines that stand close below each other, so that no box cuts another line.

    lines: from top to bottom. Each gives way by its height: the library draws the
    boxes of large letters with more room.
    """
    boxes = [line.box for line in lines]
    for upper in range(len(boxes)):
        for lower in range(upper + 1, len(boxes)):
            (left, top, right, bottom), other = boxes[upper], boxes[lower]
            across = min(right, other[2]) - max(left, other[0])
            common = bottom - other[1]
            heights = bottom - top, other[3] - other[1]
            # Of boxes that share more than this one lies in the other, and none is below.
            if across <= 0 or not 0 < common < 0.5 * min(heights):
                continue
            border = other[1] + round(common * heights[1] / sum(heights))
            boxes[upper] = (left, top, right, border)
            boxes[lower] = (other[0], border, other[2], other[3])
    return tuple(replace(line, box=box) for line, box in zip(lines, boxes, strict=True))


def _lean(corners: np.ndarray) -> float:
    """Give how much a line's foot rises or falls over its length."""
    across, down = np.abs(corners[1] - corners[0])
    return float(down / max(float(across), 1e-6))
