"""Texts below something see-through, as a page's below the scrim of a dialogue.

How much of a text comes through shows where its element is filled with one
colour and with another: they differ by that. So the share of ink in each pixel
is known, and with it the letters' colour as it is seen.
"""

from __future__ import annotations

import json
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from high_pair.engine.frames import Pixels
from high_pair.engine.paintings import (
    FULL,
    ONE,
    OTHER,
    OWN_COLOURS,
    SAMPLED,
    STEADY,
    VEILED,
    WITHOUT,
    Area,
    Taken,
    areas_of,
    pixels_of,
)
from high_pair.engine.protocol import Text
from high_pair.engine.texts import boxes_of

ATTRIBUTE = "hp-veil"
# Shares of a text's ink that come through: from this one on nothing lies over it,
NEARLY_ALL = 0.97
# and up to this one nothing of it shows.
NEARLY_NONE = 0.02
# Least ink that tells how much comes through, of FULL.
INKED = 8


def find_veils(taken: Taken) -> None:
    """Say of texts how much of them comes through what lies over them: `veil`, 0 to 1.

    Where that is less than all, the share of ink is put right.
    """
    assert taken.main is not None
    weak = taken.main.weak
    texts = [text for text in taken.told["texts"] if not text["exempt"] and text["words"]]
    if weak is None or not any(_is_weak(taken, text, weak) for text in texts):
        return
    by_layer: dict[int, list[Text]] = {}
    for text in texts:
        by_layer.setdefault(max(1, text.get("layer", 0)), []).append(text)
    for together in by_layer.values():
        elements = sorted({text["element"] for text in together})
        taken.page.ask(f"highPair.name('{ATTRIBUTE}', {json.dumps(elements)})")
        through = _through(taken)
        for text in together:
            _put_right(taken, text, through)
    taken.page.ask(f"highPair.name('{ATTRIBUTE}', [])")


def _is_weak(taken: Taken, text: Text, weak: NDArray[np.bool_]) -> bool:
    """Tell whether a text that ought to be painted in full isn't."""
    if text["look"]["faded"] or text["look"]["painted"]:
        return False
    found = 0
    for box in boxes_of(text):
        left, top, right, bottom = pixels_of(box, taken.painter.zoom / SAMPLED, weak.shape)
        found += int(weak[top:bottom, left:right].sum())
    return found >= VEILED


def _through(taken: Taken) -> Through:
    """Give how much comes through of a fill of the named elements."""
    apart = np.abs(np.array(ONE, np.int16) - np.array(OTHER, np.int16))
    channel = int(apart.argmax())
    painted: list[Pixels] = []
    for levels in (ONE, OTHER):
        colour = "rgb({} {} {})".format(*levels)
        taken.painter.show(f"{STEADY}{WITHOUT}[{ATTRIBUTE}]{{background:{colour}!important}}")
        words = taken.painter.grab()
        # An engine's pixel is its levels from blue on in memory.
        painted.append(words.view(np.uint8).reshape(*words.shape, 4)[..., 2 - channel].copy())
    return Through(painted[0], painted[1], int(apart[channel]))


@dataclass(frozen=True)
class Through:
    """A level of each pixel in two paintings, uint8 (h, w) each. most: how far it may move."""

    one: Pixels
    other: Pixels
    most: int

    def share(self, area: Area) -> NDArray[np.float32]:
        """Give how much comes through in a part, float32 (h, w), 0 to 1."""
        moved = self.one[area].astype(np.float32) - self.other[area]
        return np.asarray(np.abs(moved) / self.most, np.float32)


def _put_right(taken: Taken, text: Text, through: Through) -> None:
    assert taken.main is not None
    coverage = taken.main.coverage
    opacity = max(float(text["look"]["opacity"]), 1 / FULL)
    shares = []
    areas = areas_of(text, taken.painter.zoom, coverage.shape)
    for area in areas:
        inked = (coverage[area] >= INKED) & (coverage[area] != OWN_COLOURS)
        shares.append(through.share(area)[inked] / opacity)
    known = np.concatenate(shares) if shares else np.zeros(0)
    if not known.size:
        return
    veil = float(np.median(known))
    if not NEARLY_NONE < veil < NEARLY_ALL:
        return
    text["veil"] = veil
    for area in areas:
        ink, own = coverage[area], coverage[area] != OWN_COLOURS
        share = np.maximum(through.share(area) / opacity, NEARLY_NONE)
        ink[own] = np.minimum(np.rint(ink[own] / share[own]), FULL).astype(np.uint8)
