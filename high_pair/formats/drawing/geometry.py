"""Outlines of shapes: the preset geometries that are painted (§20.1.9.18, §20.1.10.56).

A preset's adjust values are thousandths of a percent, of the shorter side
unless a formula says otherwise; the formulas are those of the standard's
presetShapeDefinitions.xml. A shape that isn't here becomes an obstacle.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from high_pair.formats.drawing.guides import TURN, standard_guides, value_of, work_out
from high_pair.formats.drawing.paths import Pen
from high_pair.formats.xml import Element, child, children, flag, local_name, number, tag
from high_pair.scene.geometry import Box, Outline, Step, ellipse, line, polygon, rectangle, rounded

# The inscribed rectangle of an ellipse leaves out this share at each side: 1/2 - 1/√8.
ELLIPSE_MARGIN = 0.146_446_6
# A rounded rectangle's text keeps clear of its corners: radius × (1 - 1/√2).
CORNER_MARGIN = 0.292_893_2

Adjust = Mapping[str, float]


def adjusts_of(preset: Element | None) -> dict[str, float]:
    """Read a preset's adjust values as shares of 1 (`val 16667` gives 0.16667)."""
    found: dict[str, float] = {}
    for guide in children(child(preset, "a:avLst")):
        words = guide.get("fmla", "").split()
        if len(words) == 2 and words[0] == "val":
            found[guide.get("name", "")] = number(words[1]) / 100_000
    return found


def _pin(low: float, value: float, high: float) -> float:
    return max(low, min(value, high))


def _rounded_rectangle(box: Box, adjust: Adjust) -> Outline:
    radius = min(box.width, box.height) * _pin(0, adjust.get("adj", 0.16667), 0.5)
    return rounded(box, radius, radius)


def _line(box: Box, _adjust: Adjust) -> Outline:
    return line((box.x, box.y), (box.right, box.bottom))


# Those with which others are compared; the rest is in presets.txt.
PRESETS: dict[str, Callable[[Box, Adjust], Outline]] = {
    "rect": lambda box, _adjust: rectangle(box),
    "flowChartProcess": lambda box, _adjust: rectangle(box),
    "actionButtonBlank": lambda box, _adjust: rectangle(box),
    "ellipse": lambda box, _adjust: ellipse(box),
    "flowChartConnector": lambda box, _adjust: ellipse(box),
    "roundRect": _rounded_rectangle,
    "flowChartAlternateProcess": _rounded_rectangle,
    "line": _line,
    "straightConnector1": _line,
}
# Outlines that are lines alone: whatever their fill says, they have none.
OPEN = frozenset(
    {
        "line",
        "straightConnector1",
        *(f"bentConnector{n}" for n in range(2, 6)),
        *(f"curvedConnector{n}" for n in range(2, 6)),
        "lineInv",
    }
)


STARS = {f"star{points}": points for points in (8, 10, 12, 16, 24, 32)}
# §20.1.10.56: how far in a star's inner points lie when it states nothing, and the
# stretch that makes a ten-pointed one touch its box.
_STAR_ADJUSTS = {8: 0.375, 10: 0.42533, 12: 0.375, 16: 0.375, 24: 0.375, 32: 0.375}
_STAR_STRETCH = {10: 1.05146}


def _star(points: int, box: Box, adjust: Adjust) -> Outline:
    """Give a star of many points: outer ones on the box's ellipse, inner ones half-way between."""
    inner = _pin(0, adjust.get("adj", _STAR_ADJUSTS[points]), 0.5) * 2
    stretch = adjust.get("hf", _STAR_STRETCH.get(points, 1.0))
    x, y = box.centre
    corners = []
    for step in range(2 * points):
        # Ten points have one at the top and none at the sides; the others have both.
        angle = math.pi * step / points - math.pi / 2
        reach = 1.0 if step % 2 == 0 else inner
        corners.append(
            (
                x + box.width / 2 * stretch * reach * math.cos(angle),
                y + box.height / 2 * reach * math.sin(angle),
            )
        )
    return polygon(*corners)


@dataclass(frozen=True)
class Gear:
    """A gear wheel: its first tooth's angle in degrees, how high and how slanting its teeth are as
    shares of the shorter side, and how slanting at the most; corner: of which tooth, and at which
    side of it, the right and the upper and lower edge of its text are."""

    teeth: int
    first: float
    height: float
    slant: float
    most: float
    corner: tuple[int, int]
    lower: tuple[int, int]


GEARS = {
    "gear6": Gear(6, 330, 0.15, 0.03526, 0.05358, (0, -1), (1, 1)),
    "gear9": Gear(9, 310, 0.1, 0.01763, 0.02679, (0, 1), (2, 1)),
}


def _gear(name: str, gear: Gear, box: Box, adjust: Adjust) -> Geometry:
    """Give a gear wheel: teeth on an ellipse, narrower at their outer ends."""
    shorter = min(box.width, box.height)
    height = shorter * _pin(0, adjust.get("adj1", gear.height), 0.2)
    slant = shorter * _pin(0, adjust.get("adj2", gear.slant), gear.most)
    across, down = box.width / 2 - height, box.height / 2 - height
    half = math.atan2((height + slant) / 2, min(across, down))
    x, y = box.centre
    turn = 2 * math.pi / gear.teeth

    def side_of(tooth: int, side: int) -> tuple[float, float]:
        """Give where on the ellipse a tooth begins (-1) or ends (1)."""
        angle = math.radians(gear.first) + tooth * turn + side * half
        return x + across * math.cos(angle), y + down * math.sin(angle)

    pen = Pen(1.0, 1.0)
    for tooth in range(gear.teeth):
        begin, end = side_of(tooth, -1), side_of(tooth, 1)
        wide = max(math.dist(begin, end), 1e-9)
        along = (end[0] - begin[0]) / wide, (end[1] - begin[1]) / wide
        # From the ellipse outwards.
        out = along[1] * height, -along[0] * height
        if tooth == 0:
            pen.move(*begin)
        pen.line(begin[0] + along[0] * slant + out[0], begin[1] + along[1] * slant + out[1])
        pen.line(end[0] - along[0] * slant + out[0], end[1] - along[1] * slant + out[1])
        pen.line(*end)
        start, stop = (
            math.atan2(place[1] - y, place[0] - x) for place in (end, side_of(tooth + 1, -1))
        )
        turned = (stop - start) % (2 * math.pi)
        pen.arc(across, down, start / (2 * math.pi) * TURN, turned / (2 * math.pi) * TURN)
    pen.close()
    right, top = side_of(*gear.corner)
    bottom = side_of(*gear.lower)[1]
    text = Box(2 * x - right, top, max(1.0, 2 * right - 2 * x), max(1.0, bottom - top))
    return Geometry(name, tuple(pen.steps), text)


@dataclass(frozen=True)
class Face:
    """A part of a shape that is filled for itself.

    shades: of what the fill is made there, in any strength: darker, lighter, or nothing else.
    """

    outline: Outline
    shades: tuple[str, ...] = ()


@dataclass(frozen=True)
class Geometry:
    """A shape's outline: what is filled, what is lined, and where its text stands.

    filled: None when the outline isn't known; lined: None when it is the same; faces: the parts
    that are filled one after the other, none where the outline is all one.
    """

    name: str
    filled: Outline | None
    text_box: Box
    lined: Outline | None = None
    faces: tuple[Face, ...] = ()


def outline_of(preset: str, box: Box, adjust: Adjust) -> Outline | None:
    """Give a preset's outline in a box; None for one that isn't painted yet."""
    return preset_geometry(preset, box, adjust).filled


def preset_geometry(preset: str, box: Box, adjust: Adjust) -> Geometry:
    """Give a preset's geometry in a box (its paths and its `rect`)."""
    make = PRESETS.get(preset)
    if make is not None:
        return Geometry(preset, make(box, adjust), _text_box_of(preset, box, adjust))
    if preset in STARS:
        return Geometry(preset, _star(STARS[preset], box, adjust), box)
    if preset in GEARS:
        return _gear(preset, GEARS[preset], box, adjust)
    defined = definitions().get(preset)
    return drawn(preset, defined, box, adjust) if defined else Geometry(preset, None, box)


def _text_box_of(preset: str, box: Box, adjust: Adjust) -> Box:
    if preset in ("ellipse", "flowChartConnector"):
        across, down = box.width * ELLIPSE_MARGIN, box.height * ELLIPSE_MARGIN
        return Box(box.x + across, box.y + down, box.width - 2 * across, box.height - 2 * down)
    if preset in ("roundRect", "flowChartAlternateProcess"):
        radius = min(box.width, box.height) * _pin(0, adjust.get("adj", 0.16667), 0.5)
        return box.grown(-radius * CORNER_MARGIN)
    return box


def read_geometry(properties: Element | None, box: Box) -> Geometry | None:
    """Read a shape's geometry from its properties; None when it states none."""
    preset = child(properties, "a:prstGeom")
    if preset is not None:
        return preset_geometry(preset.get("prst", "rect"), box, adjusts_of(preset))
    custom = child(properties, "a:custGeom")
    if custom is None:
        return None
    return read_custom(custom, box)


# More lines and curves than this aren't painted: a map of a coast has a tenth of them.
MOST_LINES = 30_000


def read_custom(element: Element, box: Box) -> Geometry:
    """Read a custom geometry (§20.1.9.8): guides, paths and text rectangle.

    Of more lines than MOST_LINES the outline counts as unknown.
    """
    if sum(len(path) for path in children(child(element, "a:pathLst"))) > MOST_LINES:
        return Geometry("custom, of too many lines", None, box)
    formulas = [
        (guide.get("name", ""), guide.get("fmla", ""))
        for listing in ("a:avLst", "a:gdLst")
        for guide in children(child(element, listing))
    ]
    # Custom guides count in the units of the paths, which the shape's extent in EMU gives.
    unit = 12_700.0
    guides = work_out(formulas, standard_guides(box.width * unit, box.height * unit))
    parts: list[Part] = []
    for path in children(child(element, "a:pathLst")):
        wide, high = number(path.get("w")), number(path.get("h"))
        scale_x = box.width / wide if wide > 0 else 1 / unit
        scale_y = box.height / high if high > 0 else 1 / unit
        steps = _moved(_custom_path(path, guides, scale_x, scale_y), box)
        fill = path.get("fill", "norm")
        shades = (SHADES[fill],) if fill in SHADES else ()
        parts.append(Part(steps, fill != "none", flag(path, "stroke", default=True), shades))
    text_box = box
    rectangle_element = child(element, "a:rect")
    if rectangle_element is not None:
        sides = [value_of(rectangle_element.get(side, "0"), guides) / unit for side in "ltrb"]
        if sides[2] > sides[0] and sides[3] > sides[1]:
            text_box = Box(
                box.x + sides[0], box.y + sides[1], sides[2] - sides[0], sides[3] - sides[1]
            )
    return _put_together("custom", parts, text_box)


DARKER, LIGHTER = "darker", "lighter"
# §20.1.10.37 (ST_PathFillMode): by how much the standard leaves open.
SHADES = {"darken": DARKER, "darkenLess": DARKER, "lighten": LIGHTER, "lightenLess": LIGHTER}


@dataclass(frozen=True)
class Part:
    """A path of a geometry: whether it is filled and lined, and how its fill is changed."""

    steps: list[Step]
    filled: bool = True
    lined: bool = True
    shades: tuple[str, ...] = ()


def _put_together(name: str, parts: Sequence[Part], text_box: Box) -> Geometry:
    filled = tuple(step for part in parts if part.filled for step in part.steps)
    lined = tuple(step for part in parts if part.lined for step in part.steps)
    faces = tuple(Face(tuple(part.steps), part.shades) for part in parts if part.filled)
    if len(faces) < 2 and not any(face.shades for face in faces):
        faces = ()
    return Geometry(name, filled, text_box, None if filled == lined else lined, faces)


def _custom_path(
    path: Element, guides: dict[str, float], scale_x: float, scale_y: float
) -> list[Step]:
    pen = Pen(scale_x, scale_y)
    for command in children(path):
        name = local_name(command)
        points = [
            value_of(point.get(axis, "0"), guides)
            for point in command.iter(tag("a:pt"))
            for axis in ("x", "y")
        ]
        if name == "moveTo" and len(points) >= 2:
            pen.move(*points[:2])
        elif name == "lnTo" and len(points) >= 2:
            pen.line(*points[:2])
        elif name == "cubicBezTo" and len(points) >= 6:
            pen.cubic(points)
        elif name == "quadBezTo" and len(points) >= 4:
            pen.quadratic(points)
        elif name == "arcTo":
            radii_and_angles = (
                value_of(command.get(key, "0"), guides) for key in ("wR", "hR", "stAng", "swAng")
            )
            pen.arc(*radii_and_angles)
        elif name == "close":
            pen.close()
    return pen.steps


def _moved(steps: list[Step], box: Box) -> list[Step]:
    """Move steps from the origin to a box's corner."""
    return [
        Step(s.kind, tuple(v + (box.x if i % 2 == 0 else box.y) for i, v in enumerate(s.points)))
        for s in steps
    ]


@dataclass(frozen=True)
class Definition:
    """A preset as presets.txt writes it; paths: each with the words before it."""

    adjusts: tuple[tuple[str, float], ...]
    guides: tuple[tuple[str, str], ...]
    paths: tuple[tuple[frozenset[str], tuple[str, ...]], ...]
    text: tuple[str, ...]
    unit: tuple[float, float] | None


@functools.cache
def definitions() -> dict[str, Definition]:
    """Read presets.txt."""
    found: dict[str, Definition] = {}
    text = (Path(__file__).parent / "presets.txt").read_text(encoding="utf-8")
    for block in text.split("\nshape ")[1:]:
        lines: dict[str, str] = {}
        paths = []
        for line_of_it in block.splitlines()[1:]:
            key, _, rest = line_of_it.partition(" ")
            if key == "path":
                words = rest.split()
                start = words.index("M")
                paths.append((frozenset(words[:start]), tuple(words[start:])))
            elif key:
                lines[key] = rest
        adjusts = tuple(
            (name, float(value))
            for name, _, value in (entry.partition("=") for entry in lines.get("adj", "").split())
        )
        guides = tuple(
            (name.strip(), formula.strip())
            for name, _, formula in (
                entry.partition("=") for entry in lines.get("guide", "").split(";") if entry.strip()
            )
        )
        unit = [float(word) for word in lines.get("unit", "").split()]
        found[block.splitlines()[0].strip()] = Definition(
            adjusts,
            guides,
            tuple(paths),
            tuple(lines.get("text", "").split()),
            (unit[0], unit[1]) if unit else None,
        )
    return found


_ARGUMENTS = {"M": 2, "L": 2, "C": 6, "Q": 4, "A": 4, "Z": 0}


def drawn(name: str, definition: Definition, box: Box, adjust: Adjust) -> Geometry:
    """Draw a preset in a box."""
    guides = standard_guides(box.width, box.height)
    guides.update(definition.adjusts)
    guides.update({name: value * 100_000 for name, value in adjust.items()})
    guides = work_out(definition.guides, guides)
    unit = definition.unit
    scale = (box.width / unit[0], box.height / unit[1]) if unit else (1.0, 1.0)
    parts = []
    for flags, words in definition.paths:
        steps = _moved(_drawn_path(words, guides, scale), box)
        shades = tuple(dict.fromkeys(shade for word, shade in SHADES.items() if word in flags))
        parts.append(Part(steps, "none" not in flags, "noline" not in flags, shades))
    text_box = box
    if definition.text:
        left, top, right, bottom = (value_of(word, guides) for word in definition.text)
        text_box = Box(box.x + left, box.y + top, max(1.0, right - left), max(1.0, bottom - top))
    return _put_together(name, parts, text_box)


def _drawn_path(
    path: Sequence[str], guides: dict[str, float], scale: tuple[float, float]
) -> list[Step]:
    pen = Pen(*scale)
    words = list(path)
    while words:
        command = words.pop(0)
        values = [value_of(word, guides) for word in words[: _ARGUMENTS[command]]]
        del words[: _ARGUMENTS[command]]
        if command == "M":
            pen.move(*values)
        elif command == "L":
            pen.line(*values)
        elif command == "C":
            pen.cubic(values)
        elif command == "Q":
            pen.quadratic(values)
        elif command == "A":
            pen.arc(*values)
        else:
            pen.close()
    return pen.steps
