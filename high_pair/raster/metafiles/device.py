"""The device that a metafile's commands draw on: its pens, brushes, coordinates and clips."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import skia

from high_pair.raster.fonts import face_for, typeface

Point = tuple[float, float]
Levels = tuple[int, int, int]
BLACK: Levels = (0, 0, 0)
WHITE: Levels = (255, 255, 255)
# [MS-WMF] 2.1.1.23: the kinds of a pen, of which the first are dashes in widths of the line.
DASHES = {1: (18.0, 6.0), 2: (3.0, 3.0), 3: (9.0, 6.0, 3.0, 6.0), 4: (9.0, 3.0, 3.0, 3.0, 3.0, 3.0)}
NO_PEN = 5
# [MS-WMF] 2.1.1.21 and [MS-EMF] 2.1.21: map modes that count lengths, as units an inch.
UNITS_AN_INCH = {2: 254.0, 3: 2540.0, 4: 100.0, 5: 1000.0, 6: 1440.0}
MM_TEXT = 1
# [MS-WMF] 2.1.1.2, 2.1.2.3: how text stands to its point.
ALIGN_RIGHT, ALIGN_CENTRE, ALIGN_BOTTOM, ALIGN_BASELINE, MOVES = 2, 6, 8, 24, 1
MOST_SAVED = 1_000
MOST_CLIPS = 200
# §2.1.1.31 of [MS-WMF]: a binary operation that paints what is drawn, and one that paints nothing.
COPY, NOTHING = 13, 11


class Unpainted(Exception):
    """A command that isn't painted, in words."""


@dataclass(frozen=True)
class Pen:
    """A line; width in the picture's units, 0 for a hairline."""

    colour: Levels = BLACK
    width: float = 0.0
    kind: int = 0
    round_ends: bool = True


@dataclass(frozen=True)
class Brush:
    """A fill; None for none; trouble: why it can't be painted."""

    colour: Levels | None = WHITE
    trouble: str = ""


@dataclass(frozen=True)
class Font:
    """A font; height in the picture's units; angle in degrees against the clock."""

    family: str = "Arial"
    height: float = 12.0
    weight: int = 400
    italic: bool = False
    angle: float = 0.0


@dataclass(frozen=True)
class State:
    """All that a command may change and a later one may bring back."""

    pen: Pen = Pen()
    brush: Brush = Brush()
    font: Font = Font()
    text: Levels = BLACK
    behind: Levels = WHITE
    opaque: bool = True
    align: int = 0
    winding: bool = False
    operation: int = COPY
    window: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0)
    viewport: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0)
    mode: int = MM_TEXT
    world: tuple[float, float, float, float, float, float] = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
    at: Point = (0.0, 0.0)
    clips: tuple[skia.Path, ...] = ()


@dataclass
class Device:
    """Paints on a canvas whose coordinates are the device's own, after `base`.

    dots: of the device an inch, for map modes that count lengths.
    """

    canvas: skia.Canvas
    base: skia.Matrix
    dots: float = 96.0
    state: State = field(default_factory=State)
    saved: list[State] = field(default_factory=list)
    path: skia.Path | None = None

    def set(self, **changes: object) -> None:
        """Change some of the state."""
        self.state = replace(self.state, **changes)  # type: ignore[arg-type]

    def save(self) -> None:
        """Keep the state for later."""
        if len(self.saved) < MOST_SAVED:
            self.saved.append(self.state)

    def restore(self, which: int) -> None:
        """Go back to a kept state: the last for -1, the first for 1 (§2.3.11.6 of [MS-EMF])."""
        place = len(self.saved) + which if which < 0 else which - 1
        if 0 <= place < len(self.saved):
            self.state = self.saved[place]
            del self.saved[place:]

    # Coordinates

    @property
    def matrix(self) -> skia.Matrix:
        """The map from a command's coordinates to the canvas."""
        state = self.state
        left, top, width, height = state.window
        x, y, across, down = state.viewport
        if state.mode == MM_TEXT:
            scale = (1.0, 1.0)
        elif state.mode in UNITS_AN_INCH:
            unit = self.dots / UNITS_AN_INCH[state.mode]
            scale = (unit, -unit)
        else:
            scale = (across / (width or 1.0), down / (height or 1.0))
        page = skia.Matrix.MakeAll(
            scale[0], 0, x - left * scale[0], 0, scale[1], y - top * scale[1], 0, 0, 1
        )
        a, b, c, d, e, f = state.world
        world = skia.Matrix.MakeAll(a, c, e, b, d, f, 0, 0, 1)
        return skia.Matrix.Concat(self.base, skia.Matrix.Concat(page, world))

    # Painting

    def _paint(self, path: skia.Path, paint: skia.Paint) -> None:
        if self.state.operation == NOTHING:
            return
        if self.state.operation != COPY:
            raise Unpainted("it mixes what it paints with what is below it")
        self.canvas.save()
        for clip in self.state.clips:
            self.canvas.clipPath(clip, True)
        self.canvas.drawPath(path, paint)
        self.canvas.restore()

    def fill(self, path: skia.Path) -> None:
        """Fill a path, in the commands' coordinates, with the brush."""
        brush = self.state.brush
        if brush.trouble:
            raise Unpainted(brush.trouble)
        if brush.colour is None:
            return
        self._paint(self._placed(path), skia.Paint(AntiAlias=True, Color=skia.Color(*brush.colour)))

    def stroke(self, path: skia.Path) -> None:
        """Draw a path's line with the pen."""
        pen = self.state.pen
        if pen.kind == NO_PEN:
            return
        matrix = self.matrix
        scale = math.sqrt(
            abs(matrix.getScaleX() * matrix.getScaleY() - matrix.getSkewX() * matrix.getSkewY())
        )
        width = max(1.0, pen.width * scale)
        paint = skia.Paint(
            AntiAlias=True,
            Color=skia.Color(*pen.colour),
            Style=skia.Paint.kStroke_Style,
            StrokeWidth=width,
            StrokeCap=skia.Paint.kRound_Cap if pen.round_ends else skia.Paint.kButt_Cap,
            StrokeJoin=skia.Paint.kRound_Join if pen.round_ends else skia.Paint.kMiter_Join,
        )
        if pen.kind in DASHES:
            unit = max(1.0, width / 3)
            paint.setPathEffect(
                skia.DashPathEffect.Make([each * unit for each in DASHES[pen.kind]], 0)
            )
        self._paint(self._placed(path), paint)

    def _placed(self, path: skia.Path) -> skia.Path:
        moved = skia.Path()
        path.transform(self.matrix, moved)
        kind = skia.PathFillType.kWinding if self.state.winding else skia.PathFillType.kEvenOdd
        moved.setFillType(kind)
        return moved

    def draw(self, path: skia.Path, filled: bool, lined: bool = True) -> None:
        """Paint a figure, or add it to the path that is being made."""
        if self.path is not None:
            if path is not self.path:
                self.path.addPath(path)
            return
        if filled:
            self.fill(path)
        if lined:
            self.stroke(path)

    # Paths

    def begin(self) -> None:
        """Begin a path that commands add to instead of painting."""
        self.path = skia.Path()

    def take(self) -> skia.Path:
        """End the path, and give it."""
        path, self.path = self.path or skia.Path(), None
        return path

    def clip(self, path: skia.Path, afresh: bool = False) -> None:
        """Let nothing be painted outside a path, in the commands' coordinates."""
        self.cut(self._placed(path), afresh)

    def cut(self, path: skia.Path, afresh: bool = False) -> None:
        """Likewise outside a path on the canvas. Raises Unpainted for very many."""
        before = () if afresh else self.state.clips
        if len(before) == MOST_CLIPS:
            raise Unpainted("it cuts what it paints very often")
        self.set(clips=(*before, path))

    # Figures

    def lines(self, points: Sequence[Point], closed: bool = False, to: bool = False) -> None:
        """Paint a line through points, or a polygon; to: it begins where the last one ended."""
        path = self._started(points, to)
        for point in points if to else points[1:]:
            path.lineTo(*point)
        if closed:
            path.close()
        self._end(points)
        self.draw(path, closed)

    def curves(self, points: Sequence[Point], to: bool = False) -> None:
        """Paint cubic curves: three points each, after the first unless `to`."""
        path = self._started(points, to)
        rest = points if to else points[1:]
        for place in range(0, len(rest) - 2, 3):
            (x1, y1), (x2, y2), (x3, y3) = rest[place : place + 3]
            path.cubicTo(x1, y1, x2, y2, x3, y3)
        self._end(points)
        self.draw(path, False)

    def _started(self, points: Sequence[Point], to: bool) -> skia.Path:
        if to and self.path is not None and not self.path.isEmpty():
            # A path goes on where it is.
            return self.path
        path = skia.Path()
        start = self.state.at if to or not points else points[0]
        path.moveTo(*start)
        return path

    def _end(self, points: Sequence[Point]) -> None:
        if points:
            self.set(at=points[-1])

    def polygons(self, parts: Sequence[Sequence[Point]], closed: bool = True) -> None:
        """Paint several polygons or lines as one figure."""
        path = skia.Path()
        for points in parts:
            if points:
                path.moveTo(*points[0])
                for point in points[1:]:
                    path.lineTo(*point)
                if closed:
                    path.close()
        self.draw(path, closed)

    def box(self, sides: Sequence[float], corner: Sequence[float] = (0.0, 0.0)) -> None:
        """Paint a rectangle from its left, top, right and bottom.

        corner: the width and the height of the ellipses at its corners.
        """
        path = skia.Path()
        if corner[0] and corner[1]:
            across, down = abs(corner[0]) / 2, abs(corner[1]) / 2
            path.addRRect(skia.RRect.MakeRectXY(_sorted(sides), across, down))
        else:
            path.addRect(_sorted(sides))
        self.draw(path, True)

    def ellipse(self, sides: Sequence[float]) -> None:
        """Paint an ellipse in a box."""
        path = skia.Path()
        path.addOval(_sorted(sides))
        self.draw(path, True)

    def arc(self, box: Sequence[float], start: Point, end: Point, kind: str) -> None:
        """Paint an arc against the clock from one ray to another: open, a chord, or a pie."""
        rect = _sorted(box)
        left, top, right, bottom = rect.left(), rect.top(), rect.right(), rect.bottom()
        x, y = (left + right) / 2, (top + bottom) / 2
        wide, high = max(right - left, 1e-6), max(bottom - top, 1e-6)
        first, last = (
            math.degrees(math.atan2((py - y) / high, (px - x) / wide)) for px, py in (start, end)
        )
        sweep = -((first - last) % 360 or 360.0)
        path = skia.Path()
        if kind == "pie":
            path.moveTo(x, y)
        path.arcTo(rect, first, sweep, kind != "pie")
        if kind in ("pie", "chord"):
            path.close()
        self.draw(path, kind in ("pie", "chord"))

    def picture(self, image: skia.Image, box: Sequence[float], opacity: float = 1.0) -> None:
        """Paint a picture in a box: left, top, width and height, which may be negative."""
        if self.state.operation == NOTHING:
            return
        left, top, width, height = box
        self.canvas.save()
        for clip in self.state.clips:
            self.canvas.clipPath(clip, True)
        self.canvas.concat(self.matrix)
        self.canvas.translate(left, top)
        self.canvas.scale(width / image.width(), height / image.height())
        paint = skia.Paint(AntiAlias=True, Alphaf=opacity)
        self.canvas.drawImage(image, 0, 0, skia.SamplingOptions(skia.FilterMode.kLinear), paint)
        self.canvas.restore()

    def words(self, text: str, at: Point, box: Sequence[float] | None, filled: bool) -> None:
        """Paint words at a point; filled: the box is painted behind them first."""
        state = self.state
        if filled and box is not None:
            self._ground(box)
        if not text.strip():
            return
        font, align = state.font, state.align
        size = abs(font.height) or 12.0
        face = typeface(face_for(font.family).family, font.weight, font.italic)
        drawn = skia.Font(face, size)
        width = drawn.measureText(text)
        metrics = drawn.getMetrics()
        x, y = state.at if align & MOVES else at
        across = {ALIGN_CENTRE: -width / 2, ALIGN_RIGHT: -width}.get(align & ALIGN_CENTRE, 0.0)
        down = -metrics.fAscent
        if align & ALIGN_BASELINE == ALIGN_BASELINE:
            down = 0.0
        elif align & ALIGN_BASELINE == ALIGN_BOTTOM:
            down = -metrics.fDescent
        if state.opaque and not filled and not font.angle:
            top = y + down + metrics.fAscent
            self._ground(
                (x + across, top, x + across + width, top + metrics.fDescent - metrics.fAscent)
            )
        self.canvas.save()
        for clip in state.clips:
            self.canvas.clipPath(clip, True)
        self.canvas.concat(self.matrix)
        self.canvas.translate(x, y)
        # Letters stand upright, whichever way the coordinates go.
        if self.matrix.getScaleY() < 0:
            self.canvas.scale(1, -1)
        self.canvas.rotate(-font.angle)
        paint = skia.Paint(AntiAlias=True, Color=skia.Color(*state.text))
        self.canvas.drawString(text, across, down, drawn, paint)
        self.canvas.restore()

    def _ground(self, box: Sequence[float]) -> None:
        brush, pen = self.state.brush, self.state.pen
        self.set(brush=Brush(self.state.behind), pen=replace(pen, kind=NO_PEN))
        self.box(box)
        self.set(brush=brush, pen=pen)


def _sorted(sides: Sequence[float]) -> skia.Rect:
    """Give a rectangle from its sides, whichever stand first."""
    left, top, right, bottom = sides
    return skia.Rect.MakeLTRB(
        min(left, right), min(top, bottom), max(left, right), max(top, bottom)
    )
