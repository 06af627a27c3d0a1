"""What automatic text looks at where a fill isn't one colour.

Writers take one mean colour: of a gradient's ends, of a hatch's line and ground, of a picture's
pixels. Their means differ a little, so the text is sure only where the mean is clearly dark or
clearly light, whichever way it is taken.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from high_pair.formats.automatic_text import TURNS_IN_ODF, luma_of
from high_pair.formats.odf.fills import OdfFill
from high_pair.formats.xml import Element
from high_pair.scene.paint import WHITE, Colour, colours_of, mixed

# By how much a mean's luma has to be away from where text turns white, of 255.
MARGIN = 20


def looked_at(
    fill: OdfFill, behind: Colour | None, mean_of: Callable[[Element], Colour | None]
) -> Colour | None:
    """Give the colour that automatic text on a fill looks at; None where that isn't sure.

    behind: what it looks at where there is no fill; mean_of: gives a picture's mean colour.
    """
    if not fill.paints:
        return behind
    if isinstance(fill.fill, Colour) and fill.fill.opacity >= 1:
        return fill.fill
    means = list(_means(fill, mean_of))
    if fill.opacity < 1 or any(each.opacity < 1 for each in _shades(fill)):
        if behind is None:
            return None
        means.append(behind)
    if not means:
        return None
    lumas = [luma_of(each) for each in means]
    dark = max(lumas) <= TURNS_IN_ODF - MARGIN
    light = min(lumas) > TURNS_IN_ODF + MARGIN
    return means[0].with_opacity(1.0) if dark or light else None


def _shades(fill: OdfFill) -> Sequence[Colour]:
    return colours_of(fill.fill) if fill.fill is not None else fill.shades


def _means(fill: OdfFill, mean_of: Callable[[Element], Colour | None]) -> Iterator[Colour]:
    """Give the mean of a fill in the ways that it may be taken."""
    if fill.picture is not None:
        mean = mean_of(fill.picture)
        yield from () if mean is None else (mean,)
        return
    shades = [each.with_opacity(1.0) for each in _shades(fill)]
    if not shades:
        return
    yield mixed(shades[0], shades[-1], 0.5)
    total = WHITE
    for count, shade in enumerate(shades, start=1):
        total = mixed(total, shade, 1 / count)
    yield total
