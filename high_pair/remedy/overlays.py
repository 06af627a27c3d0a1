"""Proposing overlays: where they go, in which colour, and what they cost."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from PIL import Image

from high_pair.colour.oklab import oklab_of
from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import Bytes, from_bytes, relative_luminance
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.remedy.footings import Footing, covered, footings_on
from high_pair.remedy.remedies import Laid
from high_pair.remedy.strength import (
    FULL,
    Covered,
    Known,
    Levels,
    is_alike,
    least_percent,
    ratio_with,
)
from high_pair.scene.addresses import address_below, member_of
from high_pair.scene.geometry import IDENTITY, Box, box_round, box_round_boxes, turned
from high_pair.scene.overlay import Overlay, OverlayKind, pixel_centres
from high_pair.scene.page import Picture
from high_pair.scene.paint import from_levels
from high_pair.scene.painted import PaintedSurface
from high_pair.scene.text import Align, Anchor, TextBlock
from high_pair.wcag.criteria import Subject

BLACK, WHITE = (0, 0, 0), (255, 255, 255)
# Room that a plate leaves round the ink, in ems.
ROOM_ACROSS = 0.4
ROOM_DOWN = 0.3
# The radius of its corners, in ems.
ROUNDING = 0.2
# By so much of its width a text may be wider where its font is another one.
WIDER = 0.12
# What of that it grows to the left.
TO_THE_LEFT = {Align.LEFT: 0.0, Align.JUSTIFY: 0.0, Align.CENTRE: 0.5, Align.RIGHT: 1.0}
# One more line is so many ems high, and so much of it comes above the text, by where that stands.
LINE = 1.2
ABOVE_OF_A_LINE = {Anchor.TOP: 0.0, Anchor.MIDDLE: 0.5, Anchor.BOTTOM: 1.0}
# A soft plate fades over so many ems.
FEATHER = 0.9
# A plate is the fill of its text's own shape where that covers at most so many times as much,
MOST_OF_ROOM = 1.8
# and leaves at least so much room round the ink, in ems.
LEAST_ROOM = 0.1
# A transform whose parts differ less from a turn's is one.
INEXACT = 1e-3
# A ramp fades over at least this share of its way,
LEAST_FADE = 0.25
# and is gone before this share of it.
GONE = 0.97
# Text that takes up more of the way than this leaves a ramp no room to fade.
MOST_FULL = 0.7
MAIN_COLOURS = 12
SAMPLES = 6_000
# The mean of a ramp is taken over so many points a side.
MEAN_SIDE = 24
EDGE_POINTS = 48
PERCENT_OF_OKLAB = 100.0
# A hard edge of so many units weighs as one unit of change over the whole page.
EDGE_WEIGHT = 0.1
# Black and white weigh so much more than a colour that is the picture's or the file's own.
OUT_OF_HUE = 1.5
# A percent of the picture's own contrast that is lost weighs as so much change: a colour near the
# picture's changes little, and yet drowns it.
LOST_WEIGHT = 0.1
RIGHT, DOWN, LEFT, UP = 0.0, 90.0, 180.0, 270.0


@dataclass(frozen=True)
class Site:
    """Where an overlay for some pairs of a page may go.

    level: the place in the scene above which it lies; ink: the box of their
    footprints in points, turned about its middle by `turn` degrees, as their
    text is; em: the largest size of their text; ground: the picture (or else the
    page) behind them; main: its main colours, uint8 (n, 3); footings: of the
    pairs served, and of those above that pass now; picture: the one behind them;
    bare: the rectangle of their own shape, which can be given a fill, turned as
    the ink is.
    """

    page: MeasuredPage
    served: tuple[Pair, ...]
    level: int
    ink: Box
    em: float
    ground: Box
    main: Bytes
    footings: tuple[Footing, ...]
    picture: Picture | None = None
    surface: PaintedSurface | None = None
    turn: float = 0.0
    bare: Box | None = None

    @property
    def room(self) -> Overlay:
        """The plate that leaves some room round the ink, without colour and strength.

        Where the text's own shape is hardly larger it is that shape's fill, and so goes with it.
        """
        ink, em = self.ink, self.em
        across, down = ROOM_ACROSS * em, ROOM_DOWN * em
        box = Box(ink.x - across, ink.y - down, ink.width + 2 * across, ink.height + 2 * down)
        plate = Overlay(OverlayKind.PLATE, box, BLACK, 0, rounding=ROUNDING * em, turn=self.turn)
        if self.bare is None or self.bare.area > MOST_OF_ROOM * box.area:
            return plate
        # As both are before the turn, which each is given about its own middle.
        middle = turned(-self.turn, self.bare.centre).apply(*ink.centre)
        if not self.bare.holds(ink.grown(LEAST_ROOM * em).about(middle)):
            return plate
        return replace(plate, box=self.bare, rounding=0.0, bound=True)

    @property
    def soft_room(self) -> Overlay:
        """The soft plate whose core covers all of the ink, without colour and strength."""
        feather = FEATHER * self.em
        box = self.ink.grown(feather + 1.0)
        return Overlay(OverlayKind.SOFT_PLATE, box, BLACK, 0, feather=feather, turn=self.turn)


def site_for(
    page: MeasuredPage, served: Sequence[Pair], level: int | None = None, margin: bool = True
) -> Site | str:
    """Find where an overlay for pairs of one page may go, or say why there is no such place.

    level: the place in the scene above which it lies, that of the lowest of
    their texts when None; margin: they are to pass a little round their words as
    well, where what is behind them varies.
    """
    places = []
    for pair in served:
        place = page.places.get(pair.id)
        if place is None or pair.id not in page.footprints or pair.subject is not Subject.TEXT:
            return "An overlay can only lie behind text that is laid out on the page."
        if place.highlighted:
            return "A highlight lies between the text and an overlay."
        if any(footprint.above is not None for footprint in page.footprints[pair.id]):
            return "Something painted above the text hides an overlay."
        places.append(place)
    own = min(place.level for place in places)
    level = own if level is None else min(level, own)
    footings = footings_on(page, served, level, margin)
    if not all(footing.words for footing in footings if footing.served):
        return "The text has no ink on the page."
    turn = _turn_of(page, served)
    ink = _with_room(page, [footing for footing in footings if footing.served], turn)
    ground, picture, surface = _ground(page, level, turned(turn, ink.centre).bounds(ink))
    em = max(place.size for place in places)
    main = main_colours(_part(page, ground))
    bare = _bare(page, level, turn) if all(place.level == level for place in places) else None
    return Site(
        page, tuple(served), level, ink, em, ground, main, footings, picture, surface, turn, bare
    )


def _bare(page: MeasuredPage, level: int, turn: float) -> Box | None:
    """Give the rectangle that a text's own shape could fill, turned about its middle.

    None where it has none, or one that isn't turned and moved alone.
    """
    block = page.raster.scene.items[level]
    if not isinstance(block, TextBlock) or block.bare is None:
        return None
    way, only_turned = block.transform, turned(turn, (0.0, 0.0))
    parts = (way.a - only_turned.a, way.b - only_turned.b, way.c + way.b, way.d - way.a)
    if any(abs(part) > INEXACT for part in parts):
        return None
    return block.bare.about(way.apply(*block.bare.centre))


def _turn_of(page: MeasuredPage, served: Sequence[Pair]) -> float:
    """Give by how many degrees all of some texts are turned, clockwise; 0 where they differ."""
    turns = set()
    for pair in served:
        block = page.raster.scene.items[page.places[pair.id].level]
        way = block.transform if isinstance(block, TextBlock) else IDENTITY
        turns.add(round(math.degrees(math.atan2(way.b, way.a)), 1) % 360)
    return turns.pop() if len(turns) == 1 else 0.0


def _with_room(page: MeasuredPage, served: Sequence[Footing], turn: float) -> Box:
    """Give the box of some texts' ink, which is turned about its middle.

    It leaves room for letters of a font that isn't there, which may run wider, or into one more
    line.
    """
    room = []
    for footing in served:
        pair, ink = footing.pair, _ink_of(footing, turn)
        room.append(ink)
        if not pair.estimated:
            continue
        wider = WIDER * ink.width
        block = page.raster.scene.items[page.places[pair.id].level]
        sides = [0.0, 1.0]
        if isinstance(block, TextBlock) and not any(p.right_to_left for p in block.paragraphs):
            sides = [TO_THE_LEFT[paragraph.align] for paragraph in block.paragraphs]
        left, right = max(sides) * wider, (1.0 - min(sides)) * wider
        box = Box(ink.x - left, ink.y, ink.width + left + right, ink.height)
        if isinstance(block, TextBlock) and block.wraps and ink.width + wider > block.box.width:
            line = LINE * pair.size
            above = line * ABOVE_OF_A_LINE[block.anchor]
            box = Box(box.x, ink.y - above, box.width, ink.height + line)
        room.append(box)
    unturned = box_round_boxes(room)
    return unturned.about(turned(turn, (0.0, 0.0)).apply(*unturned.centre))


def _ink_of(footing: Footing, turn: float) -> Box:
    """Give the box of a text's ink on a page that is turned back about its corner."""
    if not turn:
        return footing.box
    back = turned(-turn, (0.0, 0.0))
    x, y, _ = footing.points
    across, down = back.a * x + back.c * y, back.b * x + back.d * y
    return box_round(
        ((float(across.min()), float(down.min())), (float(across.max()), float(down.max())))
    )


def _ground(
    page: MeasuredPage, level: int, ink: Box
) -> tuple[Box, Picture | None, PaintedSurface | None]:
    """Give the topmost picture behind the ink and its box, as far as it lies on the page."""
    scene = page.raster.scene
    whole = Box(0.0, 0.0, scene.width, scene.height)
    for item in reversed(scene.items[:level]):
        if isinstance(item, Picture) and item.silhouette is None:
            bounds = item.transform.bounds(item.box)
            if bounds.overlaps(ink):
                return within(bounds, whole), item, None
        elif isinstance(item, PaintedSurface) and item.picture and item.box.overlaps(ink):
            return within(item.box, whole), None, item
    return whole, None, None


def texts_below(page: MeasuredPage, site: Site, kinds: Sequence[OverlayKind]) -> list[Pair]:
    """List the texts that overlays of some kinds would be painted over, the lowest first.

    They stand above the picture, as those served do, but below them.
    """
    behind = OverlayKind.PLATE in kinds or OverlayKind.SOFT_PLATE in kinds
    plates = box_round_boxes((site.soft_room.bounds, site.room.bounds))
    region = plates if behind else site.ground
    lowest = -1
    for count, item in enumerate(page.raster.scene.items[: site.level]):
        if item is site.picture:
            lowest = count
    found = [
        pair
        for pair in page.pairs
        if pair.id in page.footprints
        and (place := page.places.get(pair.id)) is not None
        and lowest < place.level < site.level
        and region.overlaps(Box(*pair.bbox))
    ]
    return sorted(found, key=lambda pair: page.places[pair.id].level)


def within(box: Box, limits: Box) -> Box:
    """Give the part of a box that lies within another."""
    left, top = max(box.x, limits.x), max(box.y, limits.y)
    right, bottom = min(box.right, limits.right), min(box.bottom, limits.bottom)
    return Box(left, top, max(0.0, right - left), max(0.0, bottom - top))


def _part(page: MeasuredPage, box: Box) -> Bytes:
    """Give the backdrop's pixels in a box, thinned out to about SAMPLES, uint8 (n, 3)."""
    scale = page.raster.scale
    rows = slice(max(0, int(box.y * scale)), max(1, int(box.bottom * scale)))
    columns = slice(max(0, int(box.x * scale)), max(1, int(box.right * scale)))
    part = page.raster.backdrop[rows, columns]
    step = max(1, round((part.shape[0] * part.shape[1] / SAMPLES) ** 0.5))
    return np.ascontiguousarray(part[::step, ::step].reshape(-1, 3))


def main_colours(pixels: Bytes) -> Bytes:
    """Give the main colours of pixels, uint8 (n, 3), by median cut, uint8 (m, 3)."""
    if not len(pixels):
        return np.zeros((0, 3), np.uint8)
    picture = Image.fromarray(pixels[None]).quantize(MAIN_COLOURS, Image.Quantize.MEDIANCUT)
    palette = np.array(picture.getpalette() or [], np.uint8).reshape(-1, 3)
    return np.asarray(palette[np.unique(np.asarray(picture))])


def colours_for(site: Site, further: Sequence[Levels] = ()) -> list[Levels]:
    """List the colours that are tried: black, white, the picture's darkest and lightest, others.

    Of the others those that the text can be read on.
    """
    found = [BLACK, WHITE]
    if len(site.main):
        luminances = relative_luminance(site.main)
        for place in (int(np.argmin(luminances)), int(np.argmax(luminances))):
            red, green, blue = (int(level) for level in site.main[place])
            found.append((red, green, blue))
    readable = [
        levels
        for levels in further
        if all(
            contrast_ratio(np.array(pair.text_colour.levels, np.uint8), np.array(levels, np.uint8))
            >= pair.goal
            for pair in site.served
        )
    ]
    return list(dict.fromkeys((*found, *readable)))


# The overlays' places


def shapes_for(site: Site) -> list[Overlay]:
    """Give an overlay of every kind for a site, without a colour and without strength."""
    ground = site.ground
    found = [site.room, site.soft_room]
    painted = site.page.raster.scene.painting is not None
    if painted:
        found = [replace(each, bound=True) for each in found]
    if not painted or (site.surface is not None and site.surface.layered):
        found.append(Overlay(OverlayKind.VEIL, ground, BLACK, 0))
        ramp = ramp_for(site)
        if ramp is not None:
            found.append(ramp)
    if site.surface is not None and not site.surface.layered:
        found.append(Overlay(OverlayKind.DIM, site.surface.box, BLACK, 0))
    picture = site.picture
    # A picture of the layout or the master isn't changed for one page's sake.
    own = picture is not None and member_of(picture.address) == member_of(site.served[0].address)
    if picture is not None and own and picture.opacity >= 1:
        found.append(Overlay(OverlayKind.DIM, picture.transform.bounds(picture.box), BLACK, 0))
    return found


def ramp_ways(ground: Box) -> dict[str, float]:
    """Give the ways on which a ramp over a picture may fade: from each side and each corner."""
    slant = math.degrees(math.atan2(ground.height, max(ground.width, 1e-6)))
    return {
        "from the top": DOWN,
        "from below": UP,
        "from the left": RIGHT,
        "from the right": LEFT,
        "from the top left": slant,
        "from the top right": 180.0 - slant,
        "from below left": 360.0 - slant,
        "from below right": 180.0 + slant,
    }


def ramp_for(site: Site) -> Overlay | None:
    """Give the ramp that takes least of the picture; None where the text leaves no room to fade."""
    ramps = [ramp_towards(site, towards) for towards in ramp_ways(site.ground).values()]
    fading = [ramp for ramp in ramps if ramp.full <= MOST_FULL]
    return min(fading, key=lambda ramp: _mean_share(ramp, site.ground), default=None)


def _mean_share(overlay: Overlay, ground: Box) -> float:
    """Give the mean strength of an overlay over a box."""
    along = (np.arange(MEAN_SIDE) + 0.5) / MEAN_SIDE
    x = ground.x + along[None, :] * ground.width
    y = ground.y + along[:, None] * ground.height
    return float(overlay.shares_at(x, y).mean())


def ramp_towards(site: Site, towards: float) -> Overlay:
    """Give the ramp that fades in a direction, at full strength as far as the text reaches."""
    room, box = site.room, site.room.box
    ramp = Overlay(OverlayKind.RAMP, site.ground, BLACK, 0, towards=towards)
    corners = [(x, y) for x in (box.x, box.right) for y in (box.y, box.bottom)]
    full = max(ramp.share_of_way(*room.to_page.apply(*corner)) for corner in corners)
    none = max(full, min(GONE, full + max(LEAST_FADE, (1 - full) * 0.8)))
    return replace(ramp, full=full, none=none)


# What lies over an overlay


def covered_by(site: Site, overlay: Overlay, coverage: float) -> list[Covered]:
    """Give the pairs that an overlay lies under, those served first."""
    return [covered(footing, overlay, coverage) for footing in footings_under(site, overlay)]


def footings_under(site: Site, overlay: Overlay) -> list[Footing]:
    """List those served, and the others that an overlay's box reaches."""
    return [
        footing
        for footing in site.footings
        if footing.served or overlay.bounds.overlaps(Box(*footing.pair.bbox))
    ]


# The proposals


def propose_overlays(
    site: Site,
    address: str,
    coverage: float,
    kinds: Sequence[OverlayKind] = tuple(OverlayKind),
    further: Sequence[Levels] = (),
    only: Sequence[Levels] = (),
) -> list[Laid]:
    """Propose the best overlay of every kind that brings all served pairs to a pass.

    address: where an overlay for them goes; further: colours to try besides;
    only: the colours to try in place of all others.
    """
    found = []
    colours = only or colours_for(site, further)
    # Where an overlay is whole under a text its shape makes no difference to what passes there.
    wholes: dict[str, Covered] = {}
    known: Known = {}
    for shape in shapes_for(site):
        if shape.kind not in kinds:
            continue
        pairs = covered_by(site, shape, coverage)
        ids = [footing.pair.id for footing in footings_under(site, shape)]
        pairs = [
            wholes.setdefault(name, pair) if is_alike(pair) else pair
            for name, pair in zip(ids, pairs, strict=True)
        ]
        found_for: list[tuple[float, Overlay]] = []
        plain = site.surface is not None and shape.kind is OverlayKind.DIM
        # Another program's picture is made paler by it, which it does over these two alone.
        for levels in (BLACK, WHITE) if plain else colours:
            percent = least_percent(levels, pairs, known)
            if percent:
                overlay = replace(shape, levels=levels, percent=percent)
                change = _likely_change(site, overlay)
                # The picture's and the file's own hues come before plain black and white.
                strange = OUT_OF_HUE if levels in (BLACK, WHITE) else 1.0
                found_for.append((change * strange, overlay))
        if found_for:
            best = min(found_for, key=lambda each: each[0])[1]
            found.append(costed(site, _where(site, shape, address), best, pairs))
    return found


def _likely_change(site: Site, overlay: Overlay) -> float:
    """Give about how much an overlay changes and takes of what it covers, by the main colours."""
    behind = from_bytes(site.main if len(site.main) else np.full((1, 3), 128, np.uint8))
    seen = behind + overlay.percent / FULL * (np.array(overlay.levels) / 255 - behind)
    changed = float(np.linalg.norm(oklab_of(seen) - oklab_of(behind), axis=-1).mean())
    return changed * PERCENT_OF_OKLAB + overlay.percent * LOST_WEIGHT


def _where(site: Site, overlay: Overlay, address: str) -> str:
    """Give an overlay's address: a dim is the picture's own."""
    below = site.picture or site.surface
    if overlay.kind is OverlayKind.DIM and below is not None:
        return address_below(below.address, dim=1)
    return address


def visible_change(laid: Laid) -> float:
    """Give by what overlays are put in order: what changes, what is lost, and hard edges."""
    lost = laid.covered * (1 - laid.kept) * FULL
    return laid.difference + lost * LOST_WEIGHT + laid.edge * EDGE_WEIGHT


def with_other_text(site: Site, address: str, coverage: float) -> Laid | None:
    """Propose a plate with another colour for the text, where none serves the one it has."""
    plate = shapes_for(site)[0]
    pairs = covered_by(site, plate, coverage)
    best = []
    for text, levels in ((BLACK, WHITE), (WHITE, BLACK)):
        changed = [replace(p, text=from_levels(text)) if p.served else p for p in pairs]
        percent = least_percent(levels, changed)
        if percent:
            overlay = replace(plate, levels=levels, percent=percent)
            best.append(replace(costed(site, address, overlay, changed), text=text))
    return min(best, key=lambda each: each.difference, default=None)


def costed(site: Site, address: str, overlay: Overlay, pairs: Sequence[Covered]) -> Laid:
    """Measure an overlay's ratio and what it costs."""
    served = [pair for pair in pairs if pair.served]
    ratio = min(ratio_with(pair, overlay.levels, overlay.percent) for pair in served)
    raster = site.page.raster
    height, width = raster.backdrop.shape[:2]
    step = max(1, round((height * width / SAMPLES) ** 0.5))
    x, y = pixel_centres((slice(0, height), slice(0, width)), raster.scale)
    x, y = x[:, ::step], y[::step]
    opacity = overlay.shares_at(x, y) * overlay.percent / FULL
    pixels = from_bytes(raster.backdrop[::step, ::step])
    seen = pixels + opacity[..., None] * (np.array(overlay.levels) / 255 - pixels)
    changed = np.linalg.norm(oklab_of(seen) - oklab_of(pixels), axis=-1)
    ground = site.ground
    on_ground = (x >= ground.x) & (x <= ground.right) & (y >= ground.y) & (y <= ground.bottom)
    over = on_ground & (opacity > 0)
    covered = float(over.sum() / max(1, on_ground.sum()))
    kept = float(1 - opacity[over].mean()) if over.any() else 1.0
    difference = float(changed.mean()) * PERCENT_OF_OKLAB
    serves = tuple(pair.address for pair in site.served)
    edge = _edge(site, overlay)
    return Laid(address, overlay, ratio, covered, kept, edge, difference, serves)


def _edge(site: Site, overlay: Overlay) -> float:
    """Give the largest step at an edge of a plate that falls within the picture."""
    if overlay.kind is not OverlayKind.PLATE:
        return 0.0
    raster, box, ground = site.page.raster, overlay.box, site.ground
    along = (np.arange(EDGE_POINTS) + 0.5) / EDGE_POINTS
    xs, ys = box.x + along * box.width, box.y + along * box.height
    sides = (
        (xs, np.full_like(xs, box.y)),
        (xs, np.full_like(xs, box.bottom)),
        (np.full_like(ys, box.x), ys),
        (np.full_like(ys, box.right), ys),
    )
    way = overlay.to_page
    across = np.concatenate([side[0] for side in sides])
    down = np.concatenate([side[1] for side in sides])
    x, y = way.a * across + way.c * down + way.e, way.b * across + way.d * down + way.f
    inside = (x > ground.x) & (x < ground.right) & (y > ground.y) & (y < ground.bottom)
    if not inside.any():
        return 0.0
    height, width = raster.backdrop.shape[:2]
    rows = np.clip((y[inside] * raster.scale).astype(int), 0, height - 1)
    columns = np.clip((x[inside] * raster.scale).astype(int), 0, width - 1)
    pixels = from_bytes(raster.backdrop[rows, columns])
    seen = pixels + overlay.percent / FULL * (np.array(overlay.levels) / 255 - pixels)
    steps = np.linalg.norm(oklab_of(seen) - oklab_of(pixels), axis=-1)
    return float(steps.max()) * PERCENT_OF_OKLAB
