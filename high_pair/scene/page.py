"""What stands on a page, in the order in which it is painted."""

from __future__ import annotations

from dataclasses import dataclass, replace

from high_pair.scene.effects import Effect
from high_pair.scene.geometry import Affine, Box, Outline, moved
from high_pair.scene.paint import WHITE, Colour, Fill, Stroke
from high_pair.scene.painted import PaintedGraphic, PaintedSurface, PaintedText, Painting
from high_pair.scene.text import Run, TextBlock


@dataclass(frozen=True)
class Figure:
    """A filled or stroked outline.

    box: the outline's extent before `transform`, which leads to the page; blur:
    the standard deviation in points by which its edge is softened, as a shadow's is;
    clip: the outline outside which nothing of it shows; holes: parts of the
    outline that lie within others are left out; address: where its fill can be
    changed, empty where it can't; guess: below an obstacle that says what may show
    there, it may show in any strength, or not at all.
    """

    outline: Outline
    box: Box
    transform: Affine
    fill: Fill | None = None
    stroke: Stroke | None = None
    blur: float = 0.0
    clip: Outline | None = None
    holes: bool = False
    address: str = ""
    guess: bool = False


@dataclass(frozen=True)
class Tile:
    """A picture repeated at its own size over a box.

    offset: points by which all copies are shifted; scale: of the picture's own
    size at its own resolution; align: shares of the box and of a copy at which
    the two meet, as (0, 0) for the top left corners, (0.5, 1) for the middles
    of the bottoms; mirror: every other copy is mirrored, across and down.
    """

    offset: tuple[float, float]
    scale: tuple[float, float]
    align: tuple[float, float]
    mirror: tuple[bool, bool] = (False, False)


@dataclass(frozen=True)
class Picture:
    """A raster picture in a box.

    name: by which the document gives its bytes; crop: shares of the picture
    left out at the left, top, right and bottom (negative: room added); clip:
    the outline outside which nothing of it shows, the box when None; tile: how
    it is repeated over the clip, in place of being stretched to the box;
    effects: changes to its colours, in order; silhouette: the colour of all its
    pixels, as in a shadow, each at its own opacity; blur, guess: as a figure's;
    address: where its opacity can be changed, empty where it can't.
    """

    name: str
    box: Box
    transform: Affine
    crop: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    opacity: float = 1.0
    clip: Outline | None = None
    tile: Tile | None = None
    effects: tuple[Effect, ...] = ()
    silhouette: Colour | None = None
    blur: float = 0.0
    address: str = ""
    guess: bool = False


@dataclass(frozen=True)
class Obstacle:
    """A place where something is painted that High Pair can't paint; text there needs eyes.

    shows: what may be painted there: at each place something between nothing and the first of
    these, or between the first and the second, and so on. Text whose verdict is the same for all of
    that has one. Empty where nobody knows. letters: it stands for those of the text right below
    it, which they are no obstacle to.
    """

    box: Box
    transform: Affine
    reason: str
    shows: tuple[tuple[Figure | Picture, ...], ...] = ()
    letters: bool = False


@dataclass(frozen=True)
class PictureText:
    """Text that is part of a picture, in a box that a person drew round it.

    box: on the page, in points; where: its place, in words; words: what it
    says, as the person typed it; size: in points, as the person set it, None to
    estimate it from the letters; weight: likewise; unread: why it can't be
    read, if so.
    """

    box: Box
    where: str
    address: str
    words: str = ""
    size: float | None = None
    weight: int | None = None
    unread: str = ""


@dataclass(frozen=True)
class StatedBackdrop:
    """What is behind a text in some cells: where they are in words, and the first one's box.

    beside: what parts of the text stand on as well; or_else: what may be behind some of it in
    their place, such as a bar that reaches so far or not, None where nothing may, and why nobody
    knows; cells: all their ranges; text: the first one's, where it isn't the look's.
    """

    fill: Fill
    where: str
    box: Box
    or_else: Fill | None = None
    why: str = ""
    cells: tuple[str, ...] = ()
    text: str = ""
    beside: tuple[Fill, ...] = ()


@dataclass(frozen=True)
class StatedText:
    """Text in a sheet's cells that look alike, whose colours and backdrops are stated.

    run: its look, with the first cell's words; behind: of all its cells; fill_address:
    where what is behind it can be changed; appears: when the cells look so, empty
    where they do now; exempt: why the standard asks nothing of it.
    """

    run: Run
    behind: tuple[StatedBackdrop, ...]
    where: str
    fill_address: str = ""
    appears: str = ""
    exempt: str = ""


Painted = PaintedText | PaintedSurface | PaintedGraphic
Item = Figure | Picture | Obstacle | TextBlock | PictureText | StatedText | Painted


def shifted(item: Item, x: float, y: float) -> Item:
    """Give an item moved by so many points; what is only stated stands nowhere."""
    return placed(item, moved(x, y))


def placed(item: Item, transform: Affine) -> Item:
    """Give an item that stands where a map leads; what is only stated stands nowhere."""
    if isinstance(item, PictureText | StatedText | Painted):
        return item
    own = transform.after(item.transform)
    if not isinstance(item, Obstacle):
        return replace(item, transform=own)
    shows = tuple(
        tuple(replace(each, transform=transform.after(each.transform)) for each in way)
        for way in item.shows
    )
    return replace(item, transform=own, shows=shows)


@dataclass(frozen=True)
class Scene:
    """One page.

    paper: what shows where nothing is painted; items: lowest first; painting:
    of a page that another program has painted, whose items only tell what is there.
    """

    width: float
    height: float
    items: tuple[Item, ...]
    paper: Colour = WHITE
    hidden: bool = False
    painting: Painting | None = None


def extent(item: Figure | Picture | Obstacle) -> Box:
    """Give the upright box on the page that an item's paint can't leave."""
    room = 0.0
    if isinstance(item, Figure):
        # Past three standard deviations a blur is less than one level of 255.
        room = (item.stroke.width if item.stroke else 0.0) + 3 * item.blur
    elif isinstance(item, Picture):
        room = 3 * item.blur
    return item.transform.bounds(item.box.grown(room))
