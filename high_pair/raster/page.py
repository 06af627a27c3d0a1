"""The rasters of a page: what `measure` needs, and what the window shows.

Text is a number in every pixel here: all words are painted in one pass, each
in a colour that holds its number, on a float raster cleared to transparent.
Divided by its coverage, each pixel tells its word exactly, antialiased edges
too; a third channel holds a check sum, so that pixels where two words mix
are known and left out.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import skia
from numpy.typing import NDArray
from PIL import Image

from high_pair.colour.srgb import Bytes
from high_pair.raster.layout import PlacedParagraph, Word, is_estimated, lay_out, words_of
from high_pair.raster.painted import number_painted
from high_pair.raster.painting import (
    is_in_backdrop,
    paint_all,
    paint_backdrop_item,
    paint_figure,
    paint_of,
    paint_picture,
    rect_of,
    with_obstacles_for_lost_pictures,
)
from high_pair.raster.pictures import Pictures
from high_pair.raster.shading import matrix_of
from high_pair.scene.geometry import Affine, Box, scaled
from high_pair.scene.page import Figure, Obstacle, Picture, Scene, StatedText, extent
from high_pair.scene.paint import BLACK, is_opaque
from high_pair.scene.painted import PaintedText, Painting
from high_pair.scene.text import Run, TextBlock

DOTS_PER_INCH = 96.0
POINTS_PER_INCH = 72.0
# The least share of a pixel that a glyph must cover to be its ink.
INK = 0.125
MOST_SIDE = 4096
LEAST_SIDE = 1


@dataclass(frozen=True)
class Over:
    """What is painted above a block's text, over the pixels of `area`.

    area: rows and columns; below: float32 (h, w, 3), what the text itself
    lies on, 0 to 1; colour: (h, w, 3), what is above, opacity multiplied in;
    opacity: (h, w).
    """

    area: tuple[slice, slice]
    below: NDArray[np.float32]
    colour: NDArray[np.float32]
    opacity: NDArray[np.float32]


@dataclass(frozen=True)
class LabelledBlock:
    """A text block whose words have numbers on the raster.

    first: the number of its first word; words: in order; level: its place in
    the scene's items; estimated: see the report's `layout`.
    """

    block: TextBlock
    first: int
    words: tuple[Word, ...]
    level: int
    estimated: bool


@dataclass(frozen=True)
class PageRaster:
    """A page's backdrop and its words as pixels.

    scale: pixels a point; backdrop: uint8 (h, w, 3), everything but text;
    numbers: int32 (h, w), the word that each pixel belongs to, 0 for none;
    painted: for each text that another program has painted its place in the
    scene's items and the number of its first word.
    """

    scene: Scene
    scale: float
    backdrop: Bytes
    numbers: NDArray[np.int32]
    blocks: tuple[LabelledBlock, ...]
    painted: tuple[tuple[int, int], ...] = ()

    @property
    def word_count(self) -> int:
        """How many words have a number."""
        painted = 0
        if self.painted:
            level, first = self.painted[-1]
            last = self.scene.items[level]
            painted = first - 1 + (len(last.words) if isinstance(last, PaintedText) else 0)
        return painted + sum(len(block.words) for block in self.blocks)


@dataclass(frozen=True)
class _Layer:
    """Pixels, float32 (h, w, 4) with opacity multiplied in, and the surface that paints on them."""

    pixels: NDArray[np.float32]
    surface: skia.Surface

    @classmethod
    def of(cls, width: int, height: int) -> _Layer:
        """Give one on which nothing is painted yet."""
        pixels = np.zeros((height, width, 4), np.float32)
        info = skia.ImageInfo.Make(width, height, skia.kRGBA_F32_ColorType, skia.kPremul_AlphaType)
        return cls(pixels, skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]))

    @property
    def canvas(self) -> skia.Canvas:
        """What paints on it."""
        return self.surface.getCanvas()


def _byte_surface(width: int, height: int) -> skia.Surface:
    # The order of channels in which Skia draws fastest; `_byte_pixels` reads red first.
    info = skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    return skia.Surface.MakeRaster(info)


def _byte_pixels(surface: skia.Surface) -> Bytes:
    """Give an 8-bit surface's pixels, (h, w, 4)."""
    width, height = surface.width(), surface.height()
    found = np.empty((height, width, 4), np.uint8)
    info = skia.ImageInfo.Make(width, height, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
    surface.readPixels(info, found, width * 4, 0, 0)
    return found


def scale_for(scene: Scene) -> float:
    """Give the pixels a point at which a page is measured: 96 dpi unless the page is huge."""
    side = max(scene.width, scene.height, 1.0)
    return min(DOTS_PER_INCH / POINTS_PER_INCH, MOST_SIDE / side)


def size_in_pixels(scene: Scene, scale: float) -> tuple[int, int]:
    """Give a page's width and height in whole pixels."""
    return (
        max(LEAST_SIDE, round(scene.width * scale)),
        max(LEAST_SIDE, round(scene.height * scale)),
    )


def _view(scene: Scene, scale: float) -> Affine:
    """Map points to pixels so that the page fills whole pixels."""
    width, height = size_in_pixels(scene, scale)
    return scaled(width / max(scene.width, 1e-6), height / max(scene.height, 1e-6))


def _levels(pixels: NDArray[np.float32]) -> Bytes:
    """Round channels of 0 to 1 to 8 bits, halves upwards, which Skia doesn't; in place."""
    pixels *= np.float32(255.0)
    pixels += np.float32(0.5)
    np.clip(pixels, 0.0, 255.0, out=pixels)
    return pixels.astype(np.uint8)


@lru_cache(maxsize=4096)
def _word_paint(number: int) -> skia.Paint:
    check = (number * 37 + 101) & 255
    paint = skia.Paint(AntiAlias=True)
    paint.setColor4f(
        skia.Color4f((number & 255) / 255, (number >> 8 & 255) / 255, check / 255, 1.0)
    )
    return paint


def _block_area(
    placed: Sequence[PlacedParagraph], block: TextBlock, view: Affine, size: tuple[int, int]
) -> tuple[slice, slice] | None:
    """Give the part of the raster that a block's laid out text can reach; None off the page."""
    if not placed:
        return None
    largest = max(run.size for paragraph in block.paragraphs for run in paragraph.runs)
    left = min(part.x for part in placed)
    top = min(part.y for part in placed)
    # The widest a line can be is the layout's own width, wherever its words stand in it.
    right = max(part.x + part.width for part in placed)
    right = max(right, block.box.right)
    bottom = max(part.y + part.height for part in placed)
    box = Box(left, top, right - left, bottom - top).grown(largest)
    bounds = view.after(block.transform).bounds(box)
    width, height = size
    columns = slice(max(0, math.floor(bounds.x)), min(width, math.ceil(bounds.right)))
    rows = slice(max(0, math.floor(bounds.y)), min(height, math.ceil(bounds.bottom)))
    if columns.start >= columns.stop or rows.start >= rows.stop:
        return None
    return rows, columns


def _number_block(
    numbers: NDArray[np.int32], labelled: LabelledBlock, view: Affine, size: tuple[int, int]
) -> None:
    """Write a block's words into the page's numbers, over what is there."""
    blank = paint_of(BLACK.with_opacity(0.0))
    first = labelled.first

    def paint_for(number: int | None, _run: Run) -> skia.Paint:
        return blank if number is None else _word_paint(first + number)

    placed = lay_out(labelled.block, paint_for)
    area = _block_area(placed, labelled.block, view, size)
    if area is None:
        return
    rows, columns = area
    layer = _Layer.of(columns.stop - columns.start, rows.stop - rows.start)
    canvas, pixels = layer.canvas, layer.pixels
    canvas.translate(-columns.start, -rows.start)
    canvas.concat(matrix_of(view.after(labelled.block.transform)))
    for part in placed:
        part.paint(canvas)
    # Counting along one axis is many times faster than along two.
    places = np.flatnonzero(pixels[..., 3] >= INK)
    # So is working channel by channel.
    *colour, opacity = np.ascontiguousarray(pixels.reshape(-1, 4)[places].T)
    sound = np.ones(len(places), bool)
    whole = []
    for channel in colour:
        level = channel / opacity * np.float32(255.0)
        rounded = np.rint(level)
        sound &= np.abs(level - rounded) < 0.05
        whole.append(rounded.astype(np.int32))
    number = whole[0] + (whole[1] << 8)
    sound &= (number * 37 + 101) & 255 == whole[2]
    down, across = np.divmod(places[sound].astype(np.int32), np.int32(pixels.shape[1]))
    numbers[area][down, across] = number[sound]


def _number_words(scene: Scene, scale: float, blocks: Sequence[LabelledBlock]) -> NDArray[np.int32]:
    width, height = size_in_pixels(scene, scale)
    numbers = np.zeros((height, width), np.int32)
    view = _view(scene, scale)
    for labelled in blocks:
        _number_block(numbers, labelled, view, (width, height))
    return numbers


def _composites(scene: Scene) -> bool:
    """Tell whether see-through paints are laid over others, where 8 bits would round each time."""
    for item in scene.items:
        if isinstance(item, Figure):
            if item.blur or (item.fill is not None and not is_opaque(item.fill)):
                return True
            if item.stroke is not None and not is_opaque(item.stroke.fill):
                return True
        elif isinstance(item, Picture) and (item.opacity < 1 or item.silhouette):
            return True
    return False


def _backdrop(scene: Scene, scale: float, pictures: Pictures) -> Bytes:
    """Paint everything but text; see-through paints without rounding between them."""
    width, height = size_in_pixels(scene, scale)
    if not any(is_in_backdrop(item) for item in scene.items):
        # One colour takes no room, however large the page.
        return np.broadcast_to(np.array(scene.paper.levels, np.uint8), (height, width, 3))
    layer = _Layer.of(width, height) if _composites(scene) else None
    surface = layer.surface if layer else _byte_surface(width, height)
    canvas = surface.getCanvas()
    canvas.clear(skia.Color4f(*scene.paper.rgb, 1.0))
    canvas.concat(matrix_of(_view(scene, scale)))
    for item in scene.items:
        paint_backdrop_item(canvas, item, pictures)
    return (_levels(layer.pixels) if layer else _byte_pixels(surface))[..., :3]


def rasterise(scene: Scene, pictures: Pictures) -> PageRaster:
    """Paint a page for measuring.

    Pictures that can't be decoded become obstacles of the scene that the
    result holds. Text blocks past 65,535 words of a page get no numbers and
    so no ink; `measure` says of them that they need eyes.
    """
    if scene.painting is not None:
        return _painted_raster(scene, scene.painting)
    scene = with_obstacles_for_lost_pictures(scene, pictures)
    scale = scale_for(scene)
    blocks: list[LabelledBlock] = []
    next_number = 1
    for level, item in enumerate(scene.items):
        if isinstance(item, TextBlock):
            words = words_of(item)
            if words and next_number + len(words) < 65_536:
                blocks.append(LabelledBlock(item, next_number, words, level, is_estimated(item)))
                next_number += len(words)
    if not blocks and any(isinstance(item, StatedText) for item in scene.items):
        # Nothing hangs on pixels, and a sheet has very many.
        nothing = np.zeros((1, 1), np.int32)
        return PageRaster(scene, 1.0, np.full((1, 1, 3), 255, np.uint8), nothing, ())
    backdrop = _backdrop(scene, scale, pictures)
    return PageRaster(scene, scale, backdrop, _number_words(scene, scale, blocks), tuple(blocks))


def set_otherwise(
    raster: PageRaster, labelled: LabelledBlock, block: TextBlock
) -> tuple[PageRaster, LabelledBlock]:
    """Give a page on which one of its blocks is set otherwise, and no other has numbers.

    block: of the same words.
    """
    other = replace(labelled, block=block, words=words_of(block))
    numbers = _number_words(raster.scene, raster.scale, [other])
    return replace(raster, numbers=numbers, blocks=(other,)), other


def _painted_raster(scene: Scene, painting: Painting) -> PageRaster:
    """Number the words of a page that another program has painted."""
    levels = [level for level, item in enumerate(scene.items) if isinstance(item, PaintedText)]
    texts = [item for item in scene.items if isinstance(item, PaintedText)]
    numbers, firsts = number_painted(painting, texts)
    painted = tuple(zip(levels, firsts, strict=True))
    return PageRaster(scene, painting.scale, painting.backdrop, numbers, (), painted)


def _region_layer(
    scene: Scene, scale: float, area: tuple[slice, slice]
) -> tuple[_Layer, skia.Canvas]:
    """Give a layer for a part of the page, its canvas in points of the page."""
    rows, columns = area
    layer = _Layer.of(columns.stop - columns.start, rows.stop - rows.start)
    canvas = layer.canvas
    canvas.translate(-columns.start, -rows.start)
    canvas.concat(matrix_of(_view(scene, scale)))
    return layer, canvas


def area_in_points(raster: PageRaster, area: tuple[slice, slice]) -> Box:
    """Give a part of the raster as a box on the page, in points."""
    rows, columns = area
    return Box(
        columns.start / raster.scale,
        rows.start / raster.scale,
        (columns.stop - columns.start) / raster.scale,
        (rows.stop - rows.start) / raster.scale,
    )


def paint_above(
    raster: PageRaster, level: int, area: tuple[slice, slice], pictures: Pictures
) -> Over | None:
    """Paint what lies above a text in a part of the page; None when nothing does.

    level: the text's place in the scene's items.
    """
    box = area_in_points(raster, area)
    above = [
        item
        for item in raster.scene.items[level + 1 :]
        if isinstance(item, Figure | Picture) and extent(item).overlaps(box)
    ]
    if not above:
        return None
    layer, canvas = _region_layer(raster.scene, raster.scale, area)
    for item in above:
        paint_backdrop_item(canvas, item, pictures)
    over = layer.pixels
    if not over[..., 3].any():
        return None
    layer, canvas = _region_layer(raster.scene, raster.scale, area)
    canvas.clear(skia.Color4f(*raster.scene.paper.rgb, 1.0))
    for lower in raster.scene.items[: level + 1]:
        if isinstance(lower, TextBlock) or (
            isinstance(lower, Figure | Picture) and extent(lower).overlaps(box)
        ):
            paint_backdrop_item(canvas, lower, pictures)
    return Over(area, layer.pixels[..., :3], over[..., :3], over[..., 3])


@dataclass(frozen=True)
class Lost:
    """Where in a part of the page something shows at a text that can't be painted.

    mask: (h, w); reasons: joined; ends: uint8 (h, w, 3) each, between which what is behind the
    text lies, from one to the next; none where that isn't known.
    """

    area: tuple[slice, slice]
    mask: NDArray[np.bool_]
    reasons: str
    ends: tuple[Bytes, ...] = ()


def lost_pixels(
    raster: PageRaster,
    level: int,
    area: tuple[slice, slice],
    pictures: Pictures,
    above_only: bool = False,
) -> Lost | None:
    """Tell where in a part of the page something that can't be painted shows at a text.

    An obstacle below the text shows unless something opaque lies between; one
    above the text always does, but for that of its own letters, and with `above_only`
    only those count.
    """
    box = area_in_points(raster, area)
    rows, columns = area
    lost = np.zeros((rows.stop - rows.start, columns.stop - columns.start), bool)
    reasons: dict[str, None] = {}
    found: list[tuple[int, Obstacle, NDArray[np.bool_]]] = []
    items = raster.scene.items
    for place, item in enumerate(items):
        if not isinstance(item, Obstacle) or not extent(item).overlaps(box):
            continue
        if (above_only and place < level) or (item.letters and place == level + 1):
            continue
        layer, canvas = _region_layer(raster.scene, raster.scale, area)
        canvas.save()
        canvas.concat(matrix_of(item.transform))
        canvas.drawRect(rect_of(item.box), skia.Paint(Color4f=skia.Color4f(1, 1, 1, 1)))
        canvas.restore()
        for cover in items[place + 1 : level]:
            # What lies between hides the obstacle as far as it is opaque.
            if isinstance(cover, Figure) and extent(cover).overlaps(box):
                paint_figure(canvas, cover, only=BLACK)
            elif isinstance(cover, Picture) and extent(cover).overlaps(box):
                paint_picture(canvas, cover, pictures, only=BLACK)
        visible = layer.pixels[..., 0] > 1 / 512
        if visible.any():
            reasons[item.reason] = None
            found.append((place, item, visible))
        lost |= visible
    if not found:
        return None
    ends: tuple[Bytes, ...] = ()
    if all(place < level for place, _, _ in found):
        ways = _ways(found)
        ends = tuple(_behind_with(raster, level, area, pictures, way) for way in ways)
    return Lost(area, lost, "; ".join(reasons), ends)


def _ways(
    found: Sequence[tuple[int, Obstacle, NDArray[np.bool_]]],
) -> list[dict[int, Sequence[Figure | Picture]]]:
    """Give what may be in the places of obstacles: nothing at first, and more and more of them.

    Each pixel lies in one of them alone, or nothing is given: nobody knows what two come to.
    """
    first: dict[tuple[tuple[Figure | Picture, ...], ...], int] = {}
    masks: dict[int, NDArray[np.bool_]] = {}
    for place, obstacle, mask in found:
        # Several may be parts of one, such as the edges of a box: the first speaks for all.
        own = first.setdefault(obstacle.shows, place)
        masks[own] = masks[own] | mask if own in masks else mask
    together = sum(mask.astype(np.int32) for mask in masks.values())
    if () in first or np.max(together) > 1:
        return []
    ways: list[dict[int, Sequence[Figure | Picture]]] = [{}]
    for shows, place in first.items():
        ways += [{**ways[-1], place: way} for way in shows]
    return ways


def _behind_with(
    raster: PageRaster,
    level: int,
    area: tuple[slice, slice],
    pictures: Pictures,
    shows: Mapping[int, Sequence[Figure | Picture]],
) -> Bytes:
    """Paint what is behind a text in a part of the page without any guess, and with something in
    the places of some obstacles."""
    box = area_in_points(raster, area)
    layer, canvas = _region_layer(raster.scene, raster.scale, area)
    canvas.clear(skia.Color4f(*raster.scene.paper.rgb, 1.0))
    for place, item in enumerate(raster.scene.items[:level]):
        for each in shows.get(place, (item,)):
            if isinstance(each, Figure | Picture) and not each.guess and extent(each).overlaps(box):
                paint_backdrop_item(canvas, each, pictures)
    return _levels(layer.pixels)[..., :3]


def _painted(scene: Scene, pictures: Pictures, size: tuple[int, int], view: Affine) -> Bytes:
    """Paint a scene through a map from points to pixels; gives uint8 (h, w, 3)."""
    if scene.painting is not None:
        return _resampled(scene.painting, size, view)
    scene = with_obstacles_for_lost_pictures(scene, pictures)
    surface = _byte_surface(*size)
    canvas = surface.getCanvas()
    canvas.clear(skia.Color4f(*scene.paper.rgb, 1.0))
    canvas.concat(matrix_of(view))
    paint_all(canvas, scene.items, pictures)
    return np.ascontiguousarray(_byte_pixels(surface)[..., :3])


def _resampled(painting: Painting, size: tuple[int, int], view: Affine) -> Bytes:
    """Give a part of a painting in another size; what lies beyond the page is grey."""
    width, height = size
    # From the pixels wanted to those of the painting.
    across, down = painting.scale / view.a, painting.scale / view.d
    left, top = -view.e * across, -view.f * down
    page = Image.fromarray(painting.seen[: painting.rows])
    box = (left, top, left + width * across, top + height * down)
    whole = Image.new("RGB", (width, height), (128, 128, 128))
    inner = (max(0.0, box[0]), max(0.0, box[1]), min(page.width, box[2]), min(page.height, box[3]))
    if inner[2] - inner[0] < 1 or inner[3] - inner[1] < 1:
        return np.asarray(whole)
    place = [round((inner[0] - left) / across), round((inner[1] - top) / down)]
    shown = (
        max(1, round((inner[2] - inner[0]) / across)),
        max(1, round((inner[3] - inner[1]) / down)),
    )
    exact = abs(across - 1) < 1e-6 and abs(down - 1) < 1e-6
    how = Image.Resampling.BOX if across > 1 else Image.Resampling.BICUBIC
    if exact:
        how = Image.Resampling.NEAREST
    whole.paste(page.resize(shown, how, box=inner), (place[0], place[1]))
    return np.asarray(whole)


def paint_page(scene: Scene, pictures: Pictures, width: int) -> Bytes:
    """Paint a page as an audience sees it, `width` pixels wide; gives uint8 (h, w, 3)."""
    height = max(1, round(width * scene.height / max(scene.width, 1e-6)))
    across, down = width / max(scene.width, 1e-6), height / max(scene.height, 1e-6)
    return _painted(scene, pictures, (width, height), scaled(across, down))


def paint_exactly(scene: Scene, pictures: Pictures, part: Box, width: int, height: int) -> Bytes:
    """Paint a part of a page so that it fills a size in pixels; gives uint8 (height, width, 3)."""
    across, down = width / max(part.width, 1e-6), height / max(part.height, 1e-6)
    view = Affine(a=across, d=down, e=-part.x * across, f=-part.y * down)
    return _painted(scene, pictures, (width, height), view)


def paint_part(scene: Scene, pictures: Pictures, part: Box, width: int, height: int) -> Bytes:
    """Paint a part of a page (in points) to a size in pixels; gives uint8 (height, width, 3).

    The part keeps its proportions: what is missing in one direction is added
    at both its sides.
    """
    scale = min(width / max(part.width, 1e-6), height / max(part.height, 1e-6))
    x, y = part.centre
    view = Affine(a=scale, d=scale, e=width / 2 - x * scale, f=height / 2 - y * scale)
    return _painted(scene, pictures, (width, height), view)
