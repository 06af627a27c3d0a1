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

_AROUND = {"outerShdw": "shadow", "prstShdw": "shadow", "glow": "glow"}
_ON = {"innerShdw": "inner shadow", "fillOverlay": "fill"}


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
class Reflection:
    """A mirrored copy, which fades away from its shape (§20.1.8.50).

    cast: how it is stretched and moved, its colour meaning nothing; shown: the share of the shape's
    height, from its foot, of which there is one.
    """

    cast: CastShadow
    shown: float


@dataclass(frozen=True)
class Effects:
    """What a shape's or a text's effects come to.

    shadow, inner_shadow: are painted, and so is the surface that fades towards its
    edge: soft, the radius in points, zero for none. Of these it is known what they may show, and
    not how strongly: around: by how many points a glow or a preset shadow may reach under and
    round the shape, zero for none; glow: the one colour that shows there, None where it isn't
    one; reflection; blur: by how many points the surface is blurred, zero for none. inside: the
    shape's own surface changes in a way that isn't painted; words: for the reason.
    """

    shadow: CastShadow | None = None
    inner_shadow: CastShadow | None = None
    reflection: Reflection | None = None
    around: float = 0.0
    glow: Colour | None = None
    blur: float = 0.0
    inside: bool = False
    soft: float = 0.0
    words: str = ""

    @property
    def only_glows(self) -> bool:
        """Whether nothing of it isn't painted on text but a glow."""
        return self.unpainted_on_text == "glow"

    @property
    def unpainted_on_text(self) -> str:
        """Name the effects that aren't painted on text, empty for none."""
        words = [self.words] if self.words else []
        if self.blur:
            words.append("blur")
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
    return _cast(effect, colour) if colour is not None else None


def _cast(effect: Element, colour: Colour) -> CastShadow:
    """Read how a shadow or a reflection is stretched, slanted, moved and blurred."""
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


def _reflection(effect: Element) -> Reflection:
    """Read a reflection, of whose shadow-like attributes the defaults are those of a shadow."""
    cast = _cast(effect, Colour(0.0, 0.0, 0.0))
    shown = 1.0
    if whole(effect, "fadeDir", QUARTER_TURN) == QUARTER_TURN and cast.align[1] == 1.0:
        shown = min(1.0, max(0.0, share(effect.get("endPos"), 1.0)))
    return Reflection(cast, shown)


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
        elif name == "reflection":
            found = replace(found, reflection=_reflection(effect))
        elif name == "blur":
            found = replace(found, blur=reach)
        elif name in _AROUND:
            glow = None if found.around else resolve(colour_element(effect), palette)
            found = replace(found, around=max(found.around, reach), glow=glow)
            words.append(_AROUND[name])
        elif name == "softEdge":
            found = replace(found, soft=max(found.soft, reach))
        elif name in _ON:
            found = replace(found, inside=True)
            words.append(_ON[name])
    return replace(found, words=" and ".join(dict.fromkeys(words)))
