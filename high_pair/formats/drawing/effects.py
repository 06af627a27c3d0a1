"""Effects of shapes and text: shadows as they are painted, and what isn't painted yet (§20.1.8)."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from high_pair.formats.drawing.colours import Palette, colour_element, resolve
from high_pair.formats.drawing.fills import ALIGNMENTS, EMU_PER_POINT
from high_pair.formats.xml import Element, children, flag, local_name, number, share, whole
from high_pair.scene.geometry import Affine, Box, moved
from high_pair.scene.paint import Colour, Shadow

UNITS_OF_A_DEGREE = 60_000
QUARTER_TURN = 90 * UNITS_OF_A_DEGREE
# A blur radius reaches to two standard deviations, as in CSS Backgrounds 3 §6.1.1.
DEVIATIONS_OF_A_RADIUS = 2.0
# How far down a reflection may reach, for the place that then needs eyes.
REFLECTION_REACH = 400.0

_AROUND = {"outerShdw": "shadow", "prstShdw": "shadow", "glow": "glow", "reflection": "reflection"}
_ON = {"innerShdw": "inner shadow", "blur": "blur", "fillOverlay": "fill"}


@dataclass(frozen=True)
class CastShadow:
    """A shadow as written, for an upright shape.

    turns: it turns with its shape; stretch: the scales across and down and the
    slants, as tangents, by which it is stretched about the place in the shape's
    box that `align` gives in shares (§20.1.8.45).
    """

    shadow: Shadow
    turns: bool
    stretch: tuple[float, float, float, float] = (1.0, 1.0, 0.0, 0.0)
    align: tuple[float, float] = (0.5, 1.0)

    @property
    def is_stretched(self) -> bool:
        """Whether it has another form than its shape."""
        return self.stretch != (1.0, 1.0, 0.0, 0.0)

    def for_text(self, orientation: Affine) -> Shadow:
        """Give the shadow on the page's axes for text that is turned or mirrored."""
        if not self.turns:
            return self.shadow
        across, down = self.shadow.across, self.shadow.down
        return replace(
            self.shadow,
            across=orientation.a * across + orientation.c * down,
            down=orientation.b * across + orientation.d * down,
        )

    def transform_for(self, box: Box, transform: Affine) -> Affine:
        """Give the map that leads a shape's outline, in its box, to its shadow on the page."""
        own = box if self.turns else transform.bounds(box)
        x, y = own.x + self.align[0] * own.width, own.y + self.align[1] * own.height
        across, down, slant_across, slant_down = self.stretch
        stretched = moved(x, y).after(Affine(across, slant_down, slant_across, down))
        cast = moved(self.shadow.across, self.shadow.down).after(stretched).after(moved(-x, -y))
        return transform.after(cast) if self.turns else cast.after(transform)


@dataclass(frozen=True)
class Effects:
    """What a shape's or a text's effects come to.

    shadow, inner_shadow: are painted, and so is the surface that fades towards its
    edge: soft, the radius in points, zero for none. What isn't painted: around: by
    how many points it may reach under and round the shape, zero for none; glow: the
    one colour that shows there in some strength, None where it isn't one; below:
    from the shape's lower edge, by how many points and by how many of its heights;
    inside: the shape's own surface changes; words: for the reason.
    """

    shadow: CastShadow | None = None
    inner_shadow: CastShadow | None = None
    below: tuple[float, float] | None = None
    around: float = 0.0
    glow: Colour | None = None
    inside: bool = False
    soft: float = 0.0
    words: str = ""

    @property
    def unpainted_on_text(self) -> str:
        """Name the effects that aren't painted on text, empty for none."""
        words = [self.words] if self.words else []
        if self.soft:
            words.append("soft edge")
        if self.inner_shadow is not None:
            words.append("inner shadow")
        if self.shadow is not None and self.shadow.is_stretched:
            words.append("stretched shadow")
        return " and ".join(words)


STEEPEST = 85.0


def _shadow(effect: Element, palette: Palette) -> CastShadow | None:
    """Read an outer or an inner shadow (§20.1.8.45, §20.1.8.40)."""
    colour = resolve(colour_element(effect), palette)
    if colour is None:
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
    scales = [share(effect.get(name), 1.0) for name in ("sx", "sy")]
    slants = [number(effect.get(name)) / UNITS_OF_A_DEGREE for name in ("kx", "ky")]
    across, down = (math.tan(math.radians(max(-STEEPEST, min(STEEPEST, s)))) for s in slants)
    return CastShadow(
        shadow,
        flag(effect, "rotWithShape", default=True),
        (scales[0], scales[1], across, down),
        ALIGNMENTS.get(effect.get("algn", "b"), (0.5, 1.0)),
    )


def _reflection(effect: Element) -> tuple[float, float] | None:
    """Give how far below a shape its reflection may reach; None if it may be elsewhere."""
    downwards = whole(effect, "dir") == QUARTER_TURN or not whole(effect, "dist")
    if not downwards or share(effect.get("sy"), 1.0) >= 0 or flag(effect, "rotWithShape", True):
        return None
    points = (whole(effect, "dist") + whole(effect, "blurRad")) / EMU_PER_POINT
    heights = abs(share(effect.get("sy"), 1.0)) * min(1.0, share(effect.get("endPos"), 1.0))
    return points, heights


def read_effects(effect_list: Element | None, palette: Palette) -> Effects:
    """Read an effect list (§20.1.8.25) or container."""
    found = Effects()
    words: list[str] = []
    for effect in children(effect_list):
        name = local_name(effect)
        reach = sum(whole(effect, part) for part in ("blurRad", "dist", "rad")) / EMU_PER_POINT
        shadow = _shadow(effect, palette) if name in ("outerShdw", "innerShdw") else None
        if shadow is not None and name == "outerShdw":
            found = replace(found, shadow=shadow)
        elif shadow is not None:
            found = replace(found, inner_shadow=shadow)
        elif name == "reflection" and (below := _reflection(effect)) is not None:
            found = replace(found, below=below)
            words.append("reflection")
        elif name in _AROUND:
            reach += REFLECTION_REACH if name == "reflection" else 0.0
            alone = not found.around and name != "reflection"
            glow = resolve(colour_element(effect), palette) if alone else None
            found = replace(found, around=max(found.around, reach), glow=glow)
            words.append(_AROUND[name])
        elif name == "softEdge":
            found = replace(found, soft=max(found.soft, reach))
        elif name in _ON:
            found = replace(found, inside=True)
            words.append(_ON[name])
    return replace(found, words=" and ".join(dict.fromkeys(words)))
