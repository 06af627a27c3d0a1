"""What the shapes of a part inherit from: its theme, and of a slide its layout and master."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.formats.drawing.colours import Palette
from high_pair.formats.drawing.theme import Theme
from high_pair.formats.parts import Part
from high_pair.formats.xml import Element


@dataclass(frozen=True)
class Setting:
    """A part with shapes, and all that they inherit from.

    presentation: whose default text style holds; without layout and master in
    documents and sheets.

    theme_member: the part whose colours hold here; empty where an override's do.
    """

    own: Part
    layout: Part | None
    master: Part | None
    theme: Theme
    palette: Palette
    presentation: Part
    table_styles: Element | None
    assumed: tuple[str, ...] = ()
    theme_member: str = ""
