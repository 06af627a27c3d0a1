"""The fills and lines of a chart's marks: stated, or the automatic ones (§21.2.2.227)."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.formats.charts.data import Group, Series, value_of
from high_pair.formats.drawing.colours import Palette
from high_pair.formats.drawing.fills import NOTHING, Fill, fill_element, read_fill
from high_pair.formats.drawing.lines import Line, read_line
from high_pair.formats.xml import Element, child, tag
from high_pair.scene.geometry import Affine, Box
from high_pair.scene.paint import Colour, Stroke
from high_pair.scene.paint import Fill as SceneFill

ACCENTS = 6
USUAL_STYLE = "2"
AUTOMATIC_LINE = 28_575
UNKNOWN = "a mark of a chart has a colour that the file doesn't state"
INVERTED = "a mark of a chart is painted otherwise below nothing, which isn't worked out"
PICTURE = "a mark of a chart filled with a picture isn't painted yet"


@dataclass(frozen=True)
class MarkLook:
    """How a mark is painted: its fill and its line, or why they aren't known."""

    fill: SceneFill | None
    stroke: Stroke | None
    trouble: str = ""


def _point_of(series: Series, point: int | None) -> Element | None:
    if point is None:
        return None
    points = series.element.findall(tag("c:dPt"))
    return next((each for each in points if value_of(each, "c:idx") == str(point)), None)


def _holders(series: Series, point: int | None) -> list[Element]:
    """List the shape properties that may state a mark's look, nearest first."""
    holders = (_point_of(series, point), series.element)
    found = (child(each, "c:spPr") for each in holders)
    return [each for each in found if each is not None]


def _automatic(group: Group, series: Series, point: int | None, palette: Palette) -> Colour | None:
    """Give the next accent; past six, programs vary them in ways that the file doesn't say.

    So it is in the usual style of charts alone (§21.2.2.203); what the others'
    colours are the standard doesn't say.
    """
    style = next(group.element.getroottree().iter(tag("c:style")), None)
    if style is not None and style.get("val", USUAL_STYLE) != USUAL_STYLE:
        return None
    place = point if group.by_point and point is not None else series.order
    return palette.lookup(f"accent{place + 1}") if 0 <= place < ACCENTS else None


def fill_of_mark(group: Group, series: Series, point: int | None, palette: Palette) -> Fill:
    """Give a surface's fill: the point's own, its series', or the automatic one."""
    for holder in _holders(series, point):
        element = fill_element(holder)
        if element is not None:
            return read_fill(element, palette)
    automatic = _automatic(group, series, point, palette)
    return Fill(colour=automatic) if automatic is not None else Fill(trouble=UNKNOWN)


def _line_of(series: Series, point: int | None, palette: Palette) -> Line | None:
    elements = (child(holder, "a:ln") for holder in _holders(series, point))
    sources = [(element, palette) for element in elements if element is not None]
    return read_line(sources) if sources else None


def _inverts(series: Series, point: int | None) -> bool:
    value = series.values[point] if point is not None and point < len(series.values) else None
    switch = child(series.element, "c:invertIfNegative")
    on = switch is not None and switch.get("val", "1") in ("1", "true")
    return on and value is not None and value < 0


def look_of_surface(
    group: Group,
    series: Series,
    point: int | None,
    palette: Palette,
    box: Box,
    transform: Affine,
) -> MarkLook:
    """Give how a bar, a slice or an area is painted."""
    fill = fill_of_mark(group, series, point, palette)
    if _inverts(series, point):
        return MarkLook(None, None, INVERTED)
    if fill.picture is not None:
        return MarkLook(None, None, PICTURE)
    painted = fill.for_shape(box, transform, plain=group.kind == "barChart")
    if isinstance(painted, str):
        return MarkLook(None, None, painted)
    line = _line_of(series, point, palette)
    stroke = line.stroke(box, transform) if line is not None else None
    return MarkLook(painted, stroke if isinstance(stroke, Stroke) else None)


def look_of_line(
    group: Group, series: Series, palette: Palette, box: Box, transform: Affine
) -> MarkLook:
    """Give how the line through a series' points is painted."""
    stated = next((child(each, "a:ln") for each in _holders(series, None)), None)
    if stated is not None and fill_element(stated) is not None:
        line = read_line([(stated, palette)])
        stroke = line.stroke(box, transform) if line is not None else None
        if isinstance(stroke, str):
            return MarkLook(None, None, stroke)
        return MarkLook(None, stroke)
    if group.kind == "scatterChart" and value_of(group.element, "c:scatterStyle") == "marker":
        return MarkLook(None, None)
    colour = _automatic(group, series, None, palette)
    if colour is None:
        return MarkLook(None, None, UNKNOWN)
    return MarkLook(None, Stroke(colour, AUTOMATIC_LINE / 12_700, join="round"))


def solid_colour(fill: Fill) -> Colour | None:
    """Give the one opaque colour of a fill, if it is one."""
    colour = fill.colour if not fill.trouble and fill.gradient is None else None
    return colour if colour is not None and colour.opacity >= 1 else None


def own_fill(holder: Element | None, palette: Palette) -> Fill:
    """Give the fill of a part's own box, nothing where it has none."""
    element = fill_element(child(holder, "c:spPr"))
    return read_fill(element, palette) if element is not None else NOTHING
