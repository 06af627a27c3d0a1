"""The handles of an overlay: where they stand on the page, and what dragging one does."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from high_pair.scene.geometry import Box, turned
from high_pair.scene.overlay import Overlay, OverlayKind

SMALLEST = 8.0
# A ramp's ends stay so far apart, as shares of its way.
LEAST_GAP = 0.02
# How far from halfway a ramp's half strength can go, as shares of the way between its ends.
NEAREST_HALF, FARTHEST_HALF = 0.25, 0.75


@dataclass(frozen=True)
class Handle:
    """A handle: its name, and its place on the page in points."""

    name: str
    x: float
    y: float


def handles_of(overlay: Overlay) -> list[Handle]:
    """List an overlay's handles; a veil, a dim and what is bound to its text have none."""
    if overlay.kind in (OverlayKind.VEIL, OverlayKind.DIM) or overlay.bound:
        return []
    if overlay.kind is OverlayKind.RAMP:
        half = overlay.full + half_way(overlay) * (overlay.none - overlay.full)
        return [
            Handle(name, *_along(overlay, share))
            for name, share in (("full", overlay.full), ("middle", half), ("none", overlay.none))
        ]
    box, to_page = overlay.box, overlay.to_page
    return [
        Handle(
            f"{down}{across}",
            *to_page.apply(
                box.x + box.width * {"left": 0.0, "": 0.5, "right": 1.0}[across],
                box.y + box.height * {"top": 0.0, "": 0.5, "bottom": 1.0}[down],
            ),
        )
        for down in ("top", "", "bottom")
        for across in ("left", "", "right")
        if down or across
    ]


def half_way(ramp: Overlay) -> float:
    """Give where a ramp has half its strength, as a share of the way between its ends."""
    middle = ramp.middle
    if middle >= 0.5:
        return 1.0 - 0.25 / middle
    return 0.25 / (1.0 - middle)


def middle_for(half: float) -> float:
    """Give the strength halfway by which a ramp has half of it at a share of the way."""
    half = min(FARTHEST_HALF, max(NEAREST_HALF, half))
    return 0.25 / (1.0 - half) if half >= 0.5 else 1.0 - 0.25 / half


def _along(ramp: Overlay, share: float) -> tuple[float, float]:
    (left, top), (right, bottom) = ramp.axis
    return left + (right - left) * share, top + (bottom - top) * share


def nearest(overlay: Overlay, x: float, y: float, reach: float) -> str:
    """Give the name of the handle within reach of a point, empty for none."""
    found = [(math.hypot(h.x - x, h.y - y), h.name) for h in handles_of(overlay)]
    distance, name = min(found, default=(math.inf, ""))
    return name if distance <= reach else ""


def dragged(overlay: Overlay, name: str, x: float, y: float) -> Overlay:
    """Give an overlay with one of its handles moved to a point of the page."""
    if overlay.kind is OverlayKind.RAMP:
        share = overlay.share_of_way(x, y)
        if name == "full":
            return replace(overlay, full=min(share, overlay.none - LEAST_GAP))
        if name == "none":
            return replace(overlay, none=max(share, overlay.full + LEAST_GAP))
        way = (share - overlay.full) / max(overlay.none - overlay.full, 1e-9)
        return replace(overlay, middle=middle_for(way))
    box = overlay.box
    x, y = turned(-overlay.turn, box.centre).apply(x, y)
    left, top, right, bottom = box.x, box.y, box.right, box.bottom
    if "left" in name:
        left = min(x, right - SMALLEST)
    if "right" in name:
        right = max(x, left + SMALLEST)
    if "top" in name:
        top = min(y, bottom - SMALLEST)
    if "bottom" in name:
        bottom = max(y, top + SMALLEST)
    moved = Box(left, top, right - left, bottom - top)
    most = min(moved.width, moved.height) / 2
    return replace(
        overlay.reshaped(moved),
        feather=min(overlay.feather, most),
        rounding=min(overlay.rounding, most),
    )
