"""Effects of shapes and text: shadows as they are painted, and what isn't painted yet (§20.1.8)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from high_pair.formats.drawing.colours import Palette, colour_element, resolve
from high_pair.formats.drawing.fills import EMU_PER_POINT
from high_pair.formats.xml import Element, children, flag, local_name, number, share, whole
from high_pair.scene.geometry import Affine
from high_pair.scene.paint import Shadow

UNITS_OF_A_DEGREE = 60_000
# A blur radius reaches to two standard deviations, as in CSS Backgrounds 3 §6.1.1.
DEVIATIONS_OF_A_RADIUS = 2.0
# How far down a reflection may reach, for the place that then needs eyes.
REFLECTION_REACH = 400.0

_AROUND = {"outerShdw": "shadow", "prstShdw": "shadow", "glow": "glow", "reflection": "reflection"}
_ON = {"innerShdw": "inner shadow", "softEdge": "soft edge", "blur": "blur", "fillOverlay": "fill"}
# A soft edge fades over its radius; a little more is taken, since programs differ in how.
FADE = 1.25


@dataclass(frozen=True)
class CastShadow:
    """An outer shadow as written: its shadow for an upright shape, and whether it turns with it."""

    shadow: Shadow
    turns: bool

    def for_shape(self, orientation: Affine) -> Shadow:
        """Give the shadow on the page's axes for a shape that is turned or mirrored."""
        if not self.turns:
            return self.shadow
        across, down = self.shadow.across, self.shadow.down
        return Shadow(
            self.shadow.colour,
            orientation.a * across + orientation.c * down,
            orientation.b * across + orientation.d * down,
            self.shadow.blur,
        )


@dataclass(frozen=True)
class Effects:
    """What a shape's or a text's effects come to.

    shadow: is painted. What isn't painted yet: around: by how many points it
    may reach under and round the shape, zero for none; inside: over how many
    points from its edge the shape's own surface changes; words: for the reason.
    """

    shadow: CastShadow | None = None
    around: float = 0.0
    inside: float = 0.0
    words: str = ""


# By how much of its reach an effect changes a surface inwards; others change all of it.
_INSIDE = {"softEdge": FADE, "innerShdw": 1.0}


def _outer_shadow(effect: Element, palette: Palette) -> CastShadow | None:
    """Read an outer shadow (§20.1.8.45); None for one that is scaled or skewed."""
    stretched = any(abs(share(effect.get(name), 1.0) - 1.0) > 1e-6 for name in ("sx", "sy"))
    colour = resolve(colour_element(effect), palette)
    if stretched or whole(effect, "kx") or whole(effect, "ky") or colour is None:
        return None
    distance = max(0.0, whole(effect, "dist") / EMU_PER_POINT)
    angle = math.radians(number(effect.get("dir")) / UNITS_OF_A_DEGREE)
    radius = min(500.0, max(0.0, whole(effect, "blurRad") / EMU_PER_POINT))
    shadow = Shadow(
        colour,
        distance * math.cos(angle),
        distance * math.sin(angle),
        radius / DEVIATIONS_OF_A_RADIUS,
    )
    return CastShadow(shadow, flag(effect, "rotWithShape", default=True))


def read_effects(effect_list: Element | None, palette: Palette) -> Effects:
    """Read an effect list (§20.1.8.25) or container."""
    shadow: CastShadow | None = None
    around, inside, words = 0.0, 0.0, []
    for effect in children(effect_list):
        name = local_name(effect)
        if name == "outerShdw":
            shadow = _outer_shadow(effect, palette)
            if shadow is not None:
                continue
        if name in _AROUND:
            reach = sum(whole(effect, part) for part in ("blurRad", "dist", "rad")) / EMU_PER_POINT
            around = max(around, reach + (REFLECTION_REACH if name == "reflection" else 0.0))
            words.append(_AROUND[name])
        elif name in _ON:
            reach = sum(whole(effect, part) for part in ("blurRad", "dist", "rad")) / EMU_PER_POINT
            share_of_reach = _INSIDE.get(name)
            inside = max(inside, math.inf if share_of_reach is None else share_of_reach * reach)
            words.append(_ON[name])
    return Effects(shadow, around, inside, " and ".join(dict.fromkeys(words)))
