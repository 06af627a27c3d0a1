"""Changes to a picture's colours (ODF 1.3 Part 3 §20.105 and its neighbours)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from high_pair.formats.odf.styles import attribute
from high_pair.formats.odf.units import percent
from high_pair.formats.xml import Element
from high_pair.scene.effects import Effect, Greyscale, Luminance, TwoLevels, Way

# What a picture that is to lie pale behind text has besides its own brightness and contrast.
PALER, FLATTER = 0.5, -0.7


def picture_effects(chain: Sequence[Element]) -> tuple[Effect, ...]:
    """Give the changes that a chain of styles makes to a picture's colours, in order."""
    return tuple(_effects(chain))


def _effects(chain: Sequence[Element]) -> Iterator[Effect]:
    def share(name: str, plain: float = 0.0) -> float:
        return percent(attribute(chain, "graphic", f"draw:{name}"), plain)

    mode = attribute(chain, "graphic", "draw:color-mode") or "standard"
    if mode == "greyscale":
        yield Greyscale()
    elif mode == "mono":
        yield TwoLevels(0.5)
    brightness, contrast = share("luminance"), share("contrast")
    if mode == "watermark":
        brightness, contrast = brightness + PALER, contrast + FLATTER
    shift = (share("red"), share("green"), share("blue"))
    gamma = share("gamma", 1.0)
    if brightness or contrast or any(shift) or gamma != 1.0:
        yield Luminance(
            min(1.0, max(-1.0, brightness)),
            min(1.0, max(-1.0, contrast)),
            Way.OPENDOCUMENT,
            shift,
            gamma,
        )
