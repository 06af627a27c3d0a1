"""Outlines of ODF shapes: custom shapes, paths and polygons (ODF 1.3 Part 3 §10.3, §10.6).

What a shape draws comes as parts, lowest first. A shape whose outline isn't
known has none, and becomes an obstacle.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from dataclasses import dataclass

from high_pair.formats.drawing.paths import Pen
from high_pair.formats.odf.formulas import Formulas
from high_pair.formats.odf.units import POINTS, length
from high_pair.formats.xml import Element, child, children, local_name, number, tag
from high_pair.scene.geometry import (
    QUARTER,
    Affine,
    Box,
    Outline,
    box_round,
    ellipse,
    flipped,
    mapped,
    moved,
    rectangle,
    rounded,
)

ELLIPSE_MARGIN = 0.146_446_6
# Names of custom shapes that are a box or the ellipse in it, for files without their geometry.
BOXES = frozenset({"rectangle", "ooxml-rect", "flowchart-process", "mso-spt202"})
ELLIPSES = frozenset({"ellipse", "ooxml-ellipse", "circle", "flowchart-connector"})
MOST_WORDS = 50_000
MOST_UNITS = 1e9
# How far from its end a connector's path may stop, in points.
CONNECTOR_SLACK = 2.0
HUNDREDTHS = POINTS["mm"] / 100
_UNITS_OF_A_DEGREE = 60_000


@dataclass(frozen=True)
class Drawn:
    """A part of a shape: its outline, and whether it is filled and has a line."""

    outline: Outline
    filled: bool = True
    lined: bool = True


@dataclass(frozen=True)
class ShapeOutline:
    """What a shape draws, and where its text may stand."""

    parts: tuple[Drawn, ...]
    text_box: Box


@dataclass(frozen=True)
class _View:
    """A coordinate system (svg:viewBox) and the box that it fills."""

    x: float
    y: float
    width: float
    height: float
    box: Box

    def pen(self) -> Pen:
        return Pen(self.box.width / self.width, self.box.height / self.height)

    def placed(self, outline: Outline) -> Outline:
        """Lead what the pen drew to the shape's box."""
        across, down = self.box.width / self.width, self.box.height / self.height
        return mapped(outline, moved(self.box.x - self.x * across, self.box.y - self.y * down))


def _view_of(element: Element, box: Box) -> _View | None:
    """Read svg:viewBox; sides of nothing stand for the shape's own in hundredths of millimetres, or
    for anything where that is nothing too, as of a line that lies level."""
    words = element.get(tag("svg:viewBox"), "").replace(",", " ").split()
    if len(words) != 4:
        return None
    x, y, width, height = (number(word) for word in words)
    width = width if width > 0 else box.width / HUNDREDTHS or 1.0
    height = height if height > 0 else box.height / HUNDREDTHS or 1.0
    return _View(x, y, width, height, box)


def has_letters_for_outline(shape: Element) -> bool:
    """Tell whether a custom shape's text is its outline (§19.235, draw:text-path)."""
    geometry = child(shape, "draw:enhanced-geometry")
    return geometry is not None and geometry.get(tag("draw:text-path")) == "true"


def outline_of(shape: Element, box: Box) -> ShapeOutline | None:
    """Give what a shape draws in its box; None when it isn't known."""
    name = local_name(shape)
    if name == "custom-shape":
        return _custom(child(shape, "draw:enhanced-geometry"), box)
    if name in ("rect", "caption"):
        radius = length(shape.get(tag("draw:corner-radius")))
        radius = min(radius, box.width / 2, box.height / 2)
        outline = rounded(box, radius, radius) if radius > 0 else rectangle(box)
        return ShapeOutline((Drawn(outline),), box)
    if name in ("ellipse", "circle"):
        return _ellipse(shape, box)
    if name in ("path", "polygon", "polyline"):
        view = _view_of(shape, box)
        if view is None:
            return None
        if name == "path":
            drawn = svg_path(shape.get(tag("svg:d"), ""), view.pen())
        else:
            drawn = _polygon(shape.get(tag("draw:points"), ""), view.pen(), name == "polygon")
        if drawn is None:
            return None
        return ShapeOutline((Drawn(view.placed(drawn), filled=_closes(drawn)),), box)
    return None


def connector_outline(
    shape: Element, start: tuple[float, float], end: tuple[float, float]
) -> Outline | None:
    """Give the line of a connector that states it as a path; None if it doesn't lead to its end.

    The path's place isn't stated: its first point is the connector's start, and
    its units are hundredths of millimetres.
    """
    drawn = svg_path(shape.get(tag("svg:d"), ""), Pen(HUNDREDTHS, HUNDREDTHS))
    if drawn is None or drawn[0].kind != "M":
        return None
    first, last = drawn[0].points, drawn[-1].points[-2:]
    placed = mapped(drawn, moved(start[0] - first[0], start[1] - first[1]))
    if not last or math.dist(placed[-1].points[-2:], end) > CONNECTOR_SLACK:
        return None
    return placed


def bounds_of(outline: Outline) -> Box:
    """Give the upright box round an outline's points, handles included."""
    return box_round(
        point for step in outline for point in zip(step.points[::2], step.points[1::2], strict=True)
    )


def marker_outline(marker: Element, width: float) -> Outline | None:
    """Give a line's head of a width in points: its tip is the origin, its line comes from the left.

    draw:marker (§16.40.5) draws it with the tip at the top.
    """
    words = [number(w) for w in marker.get(tag("svg:viewBox"), "").replace(",", " ").split()]
    if len(words) != 4 or words[2] <= 0 or words[3] <= 0:
        return None
    x, y, across, _ = words
    scale = width / across
    drawn = svg_path(marker.get(tag("svg:d"), ""), Pen(scale, scale))
    if drawn is None:
        return None
    upright = moved(-(x + across / 2) * scale, -y * scale)
    # A quarter turn brings the top to the right.
    return mapped(drawn, Affine(0.0, 1.0, -1.0, 0.0).after(upright))


def _closes(outline: Outline) -> bool:
    return any(step.kind == "Z" for step in outline)


def _ellipse(shape: Element, box: Box) -> ShapeOutline | None:
    across, down = box.width * ELLIPSE_MARGIN, box.height * ELLIPSE_MARGIN
    text_box = Box(box.x + across, box.y + down, box.width - 2 * across, box.height - 2 * down)
    kind = shape.get(tag("draw:kind"), "full")
    if kind == "full":
        return ShapeOutline((Drawn(ellipse(box)),), text_box)
    # §19.195: angles in degrees against the clock.
    start = number(shape.get(tag("draw:start-angle")))
    end = number(shape.get(tag("draw:end-angle")), 360.0)
    sweep = (end - start) % 360 or 360.0
    pen = Pen()
    x, y = box.width / 2, box.height / 2
    angle = math.radians(start)
    begin = x + x * math.cos(angle), y - y * math.sin(angle)
    if kind == "section":
        pen.move(x, y)
        pen.line(*begin)
    else:
        pen.move(*begin)
    seen = math.degrees(math.atan2(begin[1] - y, begin[0] - x))
    ended = math.radians(start + sweep)
    seen_end = math.degrees(math.atan2(-y * math.sin(ended), x * math.cos(ended)))
    turn = -((seen - seen_end) % 360 or 360.0)
    pen.arc(x, y, seen * _UNITS_OF_A_DEGREE, turn * _UNITS_OF_A_DEGREE)
    if kind != "arc":
        pen.close()
    outline = mapped(tuple(pen.steps), moved(box.x, box.y))
    return ShapeOutline((Drawn(outline, filled=kind != "arc"),), text_box)


def _polygon(points: str, pen: Pen, closed: bool) -> Outline | None:
    values = [number(word) for word in points.replace(",", " ").split()[:MOST_WORDS]]
    if len(values) < 4:
        return None
    for place in range(0, len(values) - 1, 2):
        (pen.line if place else pen.move)(values[place], values[place + 1])
    if closed:
        pen.close()
    return tuple(pen.steps)


# Paths of SVG

_SVG_WORD = re.compile(r"([a-zA-Z])|([-+]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][-+]?[0-9]+)?)")
_SVG_ARGUMENTS = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "Z": 0}


def _svg_commands(data: str) -> Iterator[tuple[str, list[float]]]:
    """Cut a path into commands with the parameters of one use each; raises ValueError."""
    commands: list[tuple[str, list[float]]] = []
    for count, match in enumerate(_SVG_WORD.finditer(data)):
        if count > MOST_WORDS:
            raise ValueError("the path is too long")
        letter, value = match.groups()
        if letter:
            commands.append((letter, []))
        elif commands:
            found = float(value)
            if not abs(found) < MOST_UNITS:
                raise ValueError("the path has a number past all sense")
            commands[-1][1].append(found)
    for letter, values in commands:
        count = _SVG_ARGUMENTS.get(letter.upper(), -1)
        if count == 0 and not values:
            yield letter, values
        elif count <= 0 or not values or len(values) % count:
            raise ValueError(f"the path's command {letter} makes no sense")
        # Further points of a move are lines.
        line = {"M": "L", "m": "l"}.get(letter, letter)
        for place in range(0, len(values), max(1, count)):
            yield (line if place else letter), values[place : place + count]


def svg_path(data: str, pen: Pen) -> Outline | None:
    """Read a path as SVG 1.1 §8.3 writes it; None for arcs and what makes no sense."""
    start = pen.at
    handle: tuple[float, float] | None = None
    try:
        for letter, values in _svg_commands(data):
            kind = letter.upper()
            if kind == "Z":
                pen.close()
                pen.go_on_from(*start)
                handle = None
                continue
            points = _svg_points(kind, values, pen.at, letter.islower())
            if kind in "ST":
                points = [*_mirrored(handle, pen.at), *points]
            if kind == "M":
                pen.move(*points)
                start = pen.at
            elif kind in "LHV":
                pen.line(*points)
            elif kind in "CS":
                pen.cubic(points)
            else:
                pen.quadratic(points)
            handle = (points[-4], points[-3]) if kind in "CSQT" else None
    except ValueError:
        return None
    return tuple(pen.steps) if pen.steps else None


def _svg_points(
    kind: str, values: list[float], at: tuple[float, float], relative: bool
) -> list[float]:
    """Give a command's parameters as points that don't depend on where the pen is."""
    if kind == "H":
        return [values[0] + (at[0] if relative else 0.0), at[1]]
    if kind == "V":
        return [at[0], values[0] + (at[1] if relative else 0.0)]
    return [value + (at[i % 2] if relative else 0.0) for i, value in enumerate(values)]


def _mirrored(handle: tuple[float, float] | None, at: tuple[float, float]) -> tuple[float, float]:
    """Give the handle on the other side of a point; the point itself without one."""
    return (2 * at[0] - handle[0], 2 * at[1] - handle[1]) if handle else at


# Custom shapes

_WORD = re.compile(
    r"\?[^\s,]+|\$[0-9]+|[-+]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][-+]?[0-9]+)?|[a-z]+|[A-Z]"
)
# §19.145: how many parameters each command of draw:enhanced-path takes at a time. G, an arc by
# radii and angles, is an extension that writers use for shapes taken over from other formats.
_ARGUMENTS = {
    "M": 2, "L": 2, "C": 6, "Z": 0, "N": 0, "F": 0, "S": 0, "T": 6, "U": 6,
    "A": 8, "B": 8, "W": 8, "V": 8, "X": 2, "Y": 2, "Q": 4, "G": 4,
}  # fmt: skip


def _custom(geometry: Element | None, box: Box) -> ShapeOutline | None:
    if geometry is None:
        return None
    if geometry.get(tag("draw:extrusion")) == "true":
        return None
    path = geometry.get(tag("draw:enhanced-path"))
    view = _view_of(geometry, box)
    if not path or view is None:
        kind = geometry.get(tag("draw:type"), "")
        if kind in BOXES:
            return ShapeOutline((Drawn(rectangle(box)),), box)
        if kind in ELLIPSES:
            return _ellipse(geometry, box)
        return None
    formulas = _formulas(geometry, view)
    parts = []
    for drawn in _enhanced_path(path, formulas, view):
        if drawn is None:
            return None
        parts.append(drawn)
    text_box = _text_area(geometry, formulas, view)
    across = geometry.get(tag("draw:mirror-horizontal")) == "true"
    down = geometry.get(tag("draw:mirror-vertical")) == "true"
    if across or down:
        mirror = flipped(across, down, box.centre)
        parts = [Drawn(mapped(p.outline, mirror), p.filled, p.lined) for p in parts]
        text_box = mirror.bounds(text_box)
    return ShapeOutline(tuple(parts), text_box) if parts else None


def _formulas(geometry: Element, view: _View) -> Formulas:
    equations = {
        each.get(tag("draw:name"), ""): each.get(tag("draw:formula"), "")
        for each in children(geometry)
        if local_name(each) == "equation"
    }
    modifiers = [number(w) for w in geometry.get(tag("draw:modifiers"), "").split()[:1000]]
    named = {
        "left": view.x,
        "top": view.y,
        "right": view.x + view.width,
        "bottom": view.y + view.height,
        "width": view.width,
        "height": view.height,
        "logwidth": view.box.width / HUNDREDTHS,
        "logheight": view.box.height / HUNDREDTHS,
        "xstretch": 0.0,
        "ystretch": 0.0,
        "hasstroke": 1.0,
        "hasfill": 1.0,
    }
    return Formulas(equations, modifiers, named)


def _text_area(geometry: Element, formulas: Formulas, view: _View) -> Box:
    """Give the first of a custom shape's text areas (§19.228, draw:text-areas)."""
    words = _WORD.findall(geometry.get(tag("draw:text-areas"), ""))[:4]
    if len(words) < 4:
        return view.box
    left, top, right, bottom = (formulas.value(word) for word in words)
    to_box = Affine(
        view.box.width / view.width,
        0.0,
        0.0,
        view.box.height / view.height,
        view.box.x - view.x * view.box.width / view.width,
        view.box.y - view.y * view.box.height / view.height,
    )
    found = to_box.bounds(Box(left, top, max(0.0, right - left), max(0.0, bottom - top)))
    return Box(found.x, found.y, max(1.0, found.width), max(1.0, found.height))


def _enhanced_path(path: str, formulas: Formulas, view: _View) -> Iterator[Drawn | None]:
    """Draw the parts of draw:enhanced-path; None for one with a command that isn't known."""
    words = _WORD.findall(path)[:MOST_WORDS]
    pen, filled, lined = view.pen(), True, True
    at = 0
    command = ""
    while at < len(words):
        word = words[at]
        if len(word) == 1 and word.isupper():
            command, at = word, at + 1
            if command not in _ARGUMENTS:
                yield None
                return
            if command == "Z":
                pen.close()
            elif command == "F":
                filled = False
            elif command == "S":
                lined = False
            elif command == "N":
                if pen.steps:
                    yield Drawn(view.placed(tuple(pen.steps)), filled, lined)
                pen, filled, lined = view.pen(), True, True
            repeat = 0
            continue
        count = _ARGUMENTS.get(command, 0)
        given = words[at : at + count]
        if count == 0 or len(given) < count or any(each in _ARGUMENTS for each in given):
            yield None
            return
        values = [formulas.value(each) for each in given]
        at += count
        _draw(pen, command, values, repeat)
        repeat += 1
    if pen.steps:
        yield Drawn(view.placed(tuple(pen.steps)), filled, lined)


def _draw(pen: Pen, command: str, values: list[float], repeat: int) -> None:
    """Carry out one command; repeat: how often it has been since its letter stood."""
    if command == "M":
        (pen.line if repeat else pen.move)(*values)
    elif command == "L":
        pen.line(*values)
    elif command == "C":
        pen.cubic(values)
    elif command == "Q":
        pen.quadratic(values)
    elif command in "XY":
        # A quarter of an ellipse that sets out along the axis; further ones by turns.
        _quadrant(pen, (command == "X") == (repeat % 2 == 0), values[0], values[1])
    elif command in "TU":
        _by_angles(pen, values, moves=command == "U")
    elif command == "G":
        width, height, start, sweep = values
        pen.arc(width, height, start * _UNITS_OF_A_DEGREE, sweep * _UNITS_OF_A_DEGREE)
    else:
        _by_points(pen, values, clockwise=command in "WV", moves=command in "BV")


def _quadrant(pen: Pen, along_x: bool, x: float, y: float) -> None:
    from_x, from_y = pen.at
    if along_x:
        one = from_x + QUARTER * (x - from_x), from_y
        two = x, y - QUARTER * (y - from_y)
    else:
        one = from_x, from_y + QUARTER * (y - from_y)
        two = x - QUARTER * (x - from_x), y
    pen.cubic((*one, *two, x, y))


def _by_angles(pen: Pen, values: list[float], moves: bool) -> None:
    """Draw an arc by its centre, radii, and angles in degrees clockwise on the screen."""
    x, y, width, height, start, end = values
    if width <= 0 or height <= 0:
        return
    angle = math.radians(start)
    reach = math.hypot(math.cos(angle) / width, math.sin(angle) / height)
    begin = x + math.cos(angle) / reach, y + math.sin(angle) / reach
    (pen.move if moves or not pen.steps else pen.line)(*begin)
    sweep = end - start
    if abs(sweep) < 360:
        sweep %= 360
    pen.arc(width, height, start * _UNITS_OF_A_DEGREE, sweep * _UNITS_OF_A_DEGREE)


def _by_points(pen: Pen, values: list[float], clockwise: bool, moves: bool) -> None:
    """Draw an arc of the ellipse in a box, between the rays to two points."""
    left, top, right, bottom, start_x, start_y, end_x, end_y = values
    width, height = abs(right - left) / 2, abs(bottom - top) / 2
    x, y = (left + right) / 2, (top + bottom) / 2
    if width <= 0 or height <= 0:
        return
    start = math.degrees(math.atan2(start_y - y, start_x - x))
    end = math.degrees(math.atan2(end_y - y, end_x - x))
    sweep = (end - start) % 360 or 360.0
    if not clockwise:
        sweep = sweep - 360.0 if sweep < 360.0 else -360.0
    _by_angles(pen, [x, y, width, height, start, start], moves)
    pen.arc(width, height, start * _UNITS_OF_A_DEGREE, sweep * _UNITS_OF_A_DEGREE)
