"""Texts below something see-through, as a page's below the scrim of a dialogue.

How much of a text comes through shows where its element is filled with one
colour and with another: they differ by that. So the share of ink in each pixel
is known, and with it the letters' colour as it is seen.
"""

from __future__ import annotations

import json
from typing import Any

import numpy as np
from numpy.typing import NDArray

from high_pair.engine.frames import Pixels, colours_of
from high_pair.engine.paintings import (
    FULL,
    ONE,
    OTHER,
    OWN_COLOURS,
    SAMPLED,
    STEADY,
    VEILED,
    WITHOUT,
    Taken,
    areas_of,
    pixels_of,
)
from high_pair.engine.texts import boxes_of

ATTRIBUTE = "hp-veil"
# More than this comes through of what nothing lies over, and less than this shows nothing.
NEARLY_ALL, NEARLY_NONE = 0.97, 0.02
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
    by_layer: dict[int, list[dict[str, Any]]] = {}
    for text in texts:
        by_layer.setdefault(max(1, text.get("layer", 0)), []).append(text)
    for together in by_layer.values():
        elements = sorted({text["element"] for text in together})
        taken.page.ask(f"highPair.name('{ATTRIBUTE}', {json.dumps(elements)})")
        through = _through(taken)
        for text in together:
            _put_right(taken, text, through)
    taken.page.ask(f"highPair.name('{ATTRIBUTE}', [])")


def _is_weak(taken: Taken, text: dict[str, Any], weak: NDArray[np.bool_]) -> bool:
    """Tell whether a text that ought to be painted in full isn't."""
    if text["look"]["group"] or text["look"]["painted"]:
        return False
    found = 0
    for box in boxes_of(text):
        left, top, right, bottom = pixels_of(box, taken.painter.zoom / SAMPLED, weak.shape)
        found += int(weak[top:bottom, left:right].sum())
    return found >= VEILED


def _through(taken: Taken) -> NDArray[np.float32]:
    """Give how much comes through of a fill of the named elements, float32 (h, w), 0 to 1."""
    painted: list[Pixels] = []
    for levels in (ONE, OTHER):
        colour = "rgb({} {} {})".format(*levels)
        taken.painter.show(f"{STEADY}{WITHOUT}[{ATTRIBUTE}]{{background:{colour}!important}}")
        painted.append(colours_of(taken.painter.grab()))
    apart = np.abs(np.array(ONE, np.int16) - np.array(OTHER, np.int16))
    channel = int(apart.argmax())
    moved = painted[0][..., channel].astype(np.float32) - painted[1][..., channel]
    return np.asarray(np.abs(moved) / apart[channel], np.float32)


def _put_right(taken: Taken, text: dict[str, Any], through: NDArray[np.float32]) -> None:
    assert taken.main is not None
    coverage = taken.main.coverage
    opacity = max(float(text["look"]["opacity"]), 1 / FULL)
    shares = []
    areas = areas_of(text, taken.painter.zoom, coverage.shape)
    for area in areas:
        inked = (coverage[area] >= INKED) & (coverage[area] != OWN_COLOURS)
        shares.append(through[area][inked] / opacity)
    known = np.concatenate(shares) if shares else np.zeros(0)
    if not known.size:
        return
    veil = float(np.median(known))
    if not NEARLY_NONE < veil < NEARLY_ALL:
        return
    text["veil"] = veil
    for area in areas:
        ink, own = coverage[area], coverage[area] != OWN_COLOURS
        share = np.maximum(through[area] / opacity, NEARLY_NONE)
        ink[own] = np.minimum(np.rint(ink[own] / share[own]), FULL).astype(np.uint8)
