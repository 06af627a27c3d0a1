"""Painting a scene's items on a Skia canvas, lowest first."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Iterable
from dataclasses import replace

import skia

from high_pair.raster.layout import UNITS, lay_out, words_of
from high_pair.raster.pictures import PictureProblem, Pictures
from high_pair.raster.shading import fill_paint, matrix_of, tile_origin
from high_pair.scene.geometry import Affine, Box, Outline, rectangle
from high_pair.scene.page import Figure, Item, Obstacle, Picture, Scene, Tile
from high_pair.scene.paint import BLACK, Colour, Fill, Shadow, Stroke
from high_pair.scene.text import Run, TextBlock

# Pictures come at less than twice their size on the canvas, where this passes no pixel over.
SAMPLING = skia.SamplingOptions(skia.FilterMode.kLinear)


def with_obstacles_for_lost_pictures(scene: Scene, pictures: Pictures) -> Scene:
    """Put an obstacle, with the reason, in the place of each picture that can't be decoded."""
    items: list[Item] = []
    for item in scene.items:
        if isinstance(item, Picture):
            try:
                pictures.decoded(item.name)
            except PictureProblem as problem:
                reason = f"the picture {item.name.rsplit('/', 1)[-1]} can't be decoded: {problem}"
                items.append(Obstacle(item.box, item.transform, reason))
                continue
        items.append(item)
    return replace(scene, items=tuple(items))


def rect_of(box: Box) -> skia.Rect:
    """Give a box as Skia's rectangle."""
    return skia.Rect.MakeLTRB(box.x, box.y, box.right, box.bottom)


def path_of(outline: Outline) -> skia.Path:
    """Give an outline as Skia's path."""
    path = skia.PathBuilder() if hasattr(skia, "PathBuilder") else skia.Path()
    for step in outline:
        if step.kind == "M":
            path.moveTo(*step.points)
        elif step.kind == "L":
            path.lineTo(*step.points)
        elif step.kind == "C":
            path.cubicTo(*step.points)
        else:
            path.close()
    return path.detach() if hasattr(path, "detach") else path


def paint_of(colour: Colour) -> skia.Paint:
    """Give an antialiased fill of a colour."""
    paint = skia.Paint(AntiAlias=True)
    paint.setColor4f(skia.Color4f(*colour.rgb, colour.opacity))
    return paint


def _silhouette(paint: skia.Paint, only: Colour | None) -> skia.Paint:
    """Keep a paint's opacities and give it one colour, if one is wanted."""
    if only is not None:
        tint = skia.Color4f(*only.rgb, 1.0).toColor()
        paint.setColorFilter(skia.ColorFilters.Blend(tint, skia.BlendMode.kSrcIn))
    return paint


def _blurred(paint: skia.Paint, blur: float) -> skia.Paint:
    """Soften a paint's edge by a standard deviation in the canvas's units."""
    if blur > 0:
        paint.setMaskFilter(skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, blur))
    return paint


_CAPS = {
    "flat": skia.Paint.kButt_Cap,
    "square": skia.Paint.kSquare_Cap,
    "round": skia.Paint.kRound_Cap,
}
_JOINS = {
    "round": skia.Paint.kRound_Join,
    "bevel": skia.Paint.kBevel_Join,
    "miter": skia.Paint.kMiter_Join,
}


def _stroke_paint(stroke: Stroke, transform: Affine, scale: float) -> skia.Paint:
    paint = fill_paint(stroke.fill, transform, scale)
    paint.setStyle(skia.Paint.kStroke_Style)
    paint.setStrokeWidth(stroke.width)
    paint.setStrokeCap(_CAPS[stroke.cap])
    paint.setStrokeJoin(_JOINS[stroke.join])
    if stroke.dashes and stroke.width > 0:
        lengths = [max(0.01, part) * stroke.width for part in stroke.dashes]
        paint.setPathEffect(skia.DashPathEffect.Make(lengths, 0.0))
    return paint


def _scale_of(canvas: skia.Canvas) -> float:
    """Give the canvas's pixels a unit."""
    matrix = canvas.getTotalMatrix()
    return math.hypot(matrix.getScaleX(), matrix.getSkewY())


def paint_figure(canvas: skia.Canvas, figure: Figure, only: Colour | None = None) -> None:
    """Paint a figure; with `only`, in that colour at the figure's own opacities."""
    path = path_of(figure.outline)
    canvas.save()
    canvas.concat(matrix_of(figure.transform))
    if figure.holes:
        path.setFillType(skia.PathFillType.kEvenOdd)
    if figure.clip is not None:
        canvas.clipPath(path_of(figure.clip), True)
    if figure.fill:
        paint = _blurred(fill_paint(figure.fill, figure.transform, _scale_of(canvas)), figure.blur)
        canvas.drawPath(path, _silhouette(paint, only))
    if figure.stroke:
        paint = _stroke_paint(figure.stroke, figure.transform, _scale_of(canvas))
        canvas.drawPath(path, _silhouette(_blurred(paint, figure.blur), only))
    canvas.restore()


def paint_picture(
    canvas: skia.Canvas, picture: Picture, pictures: Pictures, only: Colour | None = None
) -> None:
    """Paint a picture stretched to its box, cropped; with `only`, its silhouette in that colour."""
    left, top, right, bottom = picture.crop
    across, down = 1.0 - left - right, 1.0 - top - bottom
    box = picture.box
    if across <= 0 or down <= 0 or box.width <= 0 or box.height <= 0:
        return
    count = canvas.save()
    canvas.concat(matrix_of(picture.transform))
    if picture.blur > 0:
        softened = skia.Paint()
        softened.setImageFilter(skia.ImageFilters.Blur(picture.blur, picture.blur))
        canvas.saveLayer(rect_of(box.grown(3 * picture.blur)), softened)
    only = only or picture.silhouette
    if picture.tile is not None:
        _paint_tiled(canvas, picture, picture.tile, pictures, only)
        canvas.restoreToCount(count)
        return
    # The whole picture's place, of which the box shows a part; a negative crop
    # leaves room in the box, where nothing is painted.
    whole = Box(
        box.x - left * box.width / across,
        box.y - top * box.height / down,
        box.width / across,
        box.height / down,
    )
    scale = _scale_of(canvas)
    image = pictures.get(picture.name, whole.width * scale, whole.height * scale, picture.effects)
    paint = _picture_paint(picture)
    canvas.clipRect(rect_of(box), True)
    if picture.clip:
        canvas.clipPath(path_of(picture.clip), True)
    canvas.drawImageRect(
        image,
        skia.Rect.MakeWH(image.width(), image.height()),
        rect_of(whole),
        SAMPLING,
        _silhouette(paint, only),
        skia.Canvas.kFast_SrcRectConstraint,
    )
    canvas.restoreToCount(count)


def _picture_paint(picture: Picture) -> skia.Paint:
    paint = skia.Paint(AntiAlias=True)
    silhouette = picture.silhouette.opacity if picture.silhouette else 1.0
    paint.setAlphaf(picture.opacity * silhouette)
    return paint


def _paint_tiled(
    canvas: skia.Canvas, picture: Picture, tile: Tile, pictures: Pictures, only: Colour | None
) -> None:
    """Paint copies of a picture side by side over its box (§20.1.8.58)."""
    image = pictures.get(picture.name, effects=picture.effects)
    natural = pictures.size_in_points(picture.name)
    size = natural[0] * tile.scale[0], natural[1] * tile.scale[1]
    if min(size) <= 0:
        return
    corner = tile_origin(picture.box, size, tile.align, tile.offset)
    local = skia.Matrix.Translate(*corner)
    local.preScale(size[0] / image.width(), size[1] / image.height())
    modes = [skia.TileMode.kMirror if each else skia.TileMode.kRepeat for each in tile.mirror]
    # Copies much smaller than the picture are averaged, or pixels would be passed over.
    sampling = skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear)
    paint = _picture_paint(picture)
    paint.setShader(image.makeShader(modes[0], modes[1], sampling, local))
    path = path_of(picture.clip or rectangle(picture.box))
    canvas.drawPath(path, _silhouette(paint, only))


def paint_backdrop_item(canvas: skia.Canvas, item: Item, pictures: Pictures) -> None:
    """Paint an item, of text its shadow alone; of an obstacle nothing is known to paint."""
    if isinstance(item, Figure):
        paint_figure(canvas, item)
    elif isinstance(item, Picture):
        paint_picture(canvas, item, pictures)
    elif isinstance(item, TextBlock):
        paint_text_shadows(canvas, item)


def is_in_backdrop(item: Item) -> bool:
    """Tell whether `paint_backdrop_item` paints anything of an item."""
    return isinstance(item, Figure | Picture) or (
        isinstance(item, TextBlock) and bool(_shadows_of(item))
    )


def _shadows_of(block: TextBlock) -> dict[Shadow, None]:
    return {
        run.shadow: None
        for paragraph in block.paragraphs
        for run in (*paragraph.runs, *((paragraph.bullet,) if paragraph.bullet else ()))
        if run.shadow is not None and not run.invisible
    }


def paint_text_shadows(canvas: skia.Canvas, block: TextBlock) -> None:
    """Paint the shadows of a block's text, which belong to what is behind it."""
    for shadow in _shadows_of(block):

        def paint_for(_number: int | None, run: Run, shadow: Shadow = shadow) -> skia.Paint:
            opacity = run.colour.opacity if run.shadow == shadow else 0.0
            colour = shadow.colour.with_opacity(shadow.colour.opacity * opacity)
            # Glyphs are painted in the layout's own units.
            return _blurred(paint_of(colour), shadow.blur * UNITS)

        canvas.save()
        canvas.translate(shadow.across, shadow.down)
        canvas.concat(matrix_of(block.transform))
        for placed in lay_out(block, paint_for):
            placed.paint(canvas)
        canvas.restore()


def paint_text(canvas: skia.Canvas, block: TextBlock) -> None:
    """Paint a text block in its own colours, underlines and all."""

    nothing = paint_of(BLACK.with_opacity(0.0))

    def paint_for(_number: int | None, run: Run) -> skia.Paint:
        plain = not (run.invisible or run.hollow or run.fill is not None)
        return paint_of(run.colour) if plain else nothing

    def mark_for(_number: int | None, run: Run) -> skia.Paint:
        return paint_of(run.highlight) if run.highlight is not None else nothing

    canvas.save()
    canvas.concat(matrix_of(block.transform))
    runs = [run for paragraph in block.paragraphs for run in paragraph.runs]
    if any(run.highlight is not None for run in runs):
        for placed in lay_out(block, mark_for, marked=True):
            placed.paint(canvas)
    for placed in lay_out(block, paint_for, decorated=True):
        placed.paint(canvas)
    for fill in {run.fill: None for run in runs if run.fill is not None}:
        _paint_filled(canvas, block, fill, functools.partial(_has_fill, fill=fill), None)
    for outline in {run.outline: None for run in runs if run.outline is not None}:
        chosen = functools.partial(_has_outline, outline=outline)
        _paint_filled(canvas, block, outline.fill, chosen, outline)
    canvas.restore()


def _has_fill(run: Run, fill: Fill) -> bool:
    return run.fill == fill


def _has_outline(run: Run, outline: Stroke) -> bool:
    return run.outline == outline


def _paint_filled(
    canvas: skia.Canvas,
    block: TextBlock,
    fill: Fill,
    chosen: Callable[[Run], bool],
    outline: Stroke | None,
) -> None:
    """Paint the glyphs of chosen runs, or the lines round them, with a fill over their block."""

    def paint_for(_number: int | None, run: Run) -> skia.Paint:
        paint = paint_of(BLACK if chosen(run) else BLACK.with_opacity(0.0))
        if outline is not None:
            # Glyphs are painted in the layout's own units.
            paint.setStyle(skia.Paint.kStroke_Style)
            paint.setStrokeWidth(outline.width * UNITS)
        return paint

    canvas.saveLayer()
    for placed in lay_out(block, paint_for, decorated=outline is None):
        placed.paint(canvas)
    paint = fill_paint(fill, block.transform, _scale_of(canvas))
    paint.setBlendMode(skia.BlendMode.kSrcIn)
    canvas.drawPaint(paint)
    canvas.restore()


def paint_obstacle_mark(canvas: skia.Canvas, obstacle: Obstacle) -> None:
    """Mark a place that can't be painted with crossed grey lines, for the page as shown."""
    canvas.save()
    canvas.concat(matrix_of(obstacle.transform))
    line = paint_of(Colour(0.5, 0.5, 0.5, 0.8))
    line.setStyle(skia.Paint.kStroke_Style)
    line.setStrokeWidth(0.75)
    rect = rect_of(obstacle.box)
    canvas.drawRect(rect, line)
    canvas.drawLine(rect.left(), rect.top(), rect.right(), rect.bottom(), line)
    canvas.drawLine(rect.left(), rect.bottom(), rect.right(), rect.top(), line)
    canvas.restore()


def paint_all(canvas: skia.Canvas, items: Iterable[Item], pictures: Pictures) -> None:
    """Paint items and text as an audience sees them, with marks where something is missing."""
    for item in items:
        if isinstance(item, TextBlock):
            if words_of(item):
                paint_text_shadows(canvas, item)
                paint_text(canvas, item)
        elif isinstance(item, Obstacle):
            # Of what is known but for its strength or its place, something stands there already.
            if not item.shows:
                paint_obstacle_mark(canvas, item)
        else:
            paint_backdrop_item(canvas, item, pictures)
