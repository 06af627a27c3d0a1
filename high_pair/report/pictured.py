"""Pictures of looks, as reports show them."""

from __future__ import annotations

import base64
from dataclasses import dataclass


@dataclass(frozen=True)
class Picture:
    """A PNG, and its size in pixels as it is shown."""

    data: bytes
    width: int
    height: int

    @property
    def address(self) -> str:
        """Give it as an address that holds all of it (RFC 2397)."""
        return "data:image/png;base64," + base64.b64encode(self.data).decode()


@dataclass(frozen=True)
class Pictured:
    """A look as it is, and as a remedy would make it.

    after: None where nothing was found; remedy: in words, with its ratio; missing: why there is
    no picture.
    """

    before: Picture | None = None
    after: Picture | None = None
    remedy: str = ""
    ratio: float = 0.0
    missing: str = ""
