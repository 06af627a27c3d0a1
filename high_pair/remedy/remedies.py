"""What a remedy is: a proposal that passes, measured, with its cost."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Recolour:
    """Another colour for the text.

    direction: darker, lighter, black or white; ratio: the governing ratio that
    the weakest of the pairs served has with it; difference: ΔE00 from the
    colour as it is; made_opaque: a see-through text becomes opaque.
    """

    levels: tuple[int, int, int]
    opacity: float
    direction: str
    ratio: float
    difference: float
    made_opaque: bool = False

    kind = "recolour"

    @property
    def label(self) -> str:
        """The proposal in a few words."""
        red, green, blue = self.levels
        return f"Recolour text to #{red:02X}{green:02X}{blue:02X}"

    @property
    def detail(self) -> str:
        """What the change is like."""
        keeps = {"darker": "darker, hue kept", "lighter": "lighter, hue kept"}
        parts = [keeps.get(self.direction, f"plain {self.direction}")]
        if self.made_opaque:
            parts.append("made opaque")
        parts.append(f"ΔE {self.difference:.1f}")
        return " · ".join(parts)


@dataclass(frozen=True)
class Proposals:
    """The remedies for a pair or for alike pairs, the least visible change first.

    none: when there are none, why, in a sentence for the user.
    """

    remedies: tuple[Recolour, ...]
    none: str = ""
