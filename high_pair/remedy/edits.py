"""Edits: what is to be changed, at which address. Formats carry them out."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class RecolourText:
    """Give the text at an address another colour.

    address: of one run or a span of them, see `scene.addresses`; levels: 8-bit
    sRGB; opacity: 0 to 1.
    """

    address: str
    levels: tuple[int, int, int]
    opacity: float = 1.0


Edit = RecolourText
