"""Where a shape of the tree stands on the page: transforms through groups (§20.1.7.5, .6)."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.formats.drawing.fills import EMU_PER_POINT, Fill
from high_pair.formats.xml import Element, child, flag, whole
from high_pair.scene.geometry import IDENTITY, Affine, Box, flipped, moved, scaled, turned

# A coordinate past this many EMU (about 27 km) is nonsense; it is taken for 0.
MOST_EMU = 1 << 40
UNITS_OF_A_DEGREE = 60_000


@dataclass(frozen=True)
class Position:
    """An xfrm as written: offset and extent in EMU, turn in degrees, mirrored or not."""

    x: float
    y: float
    width: float
    height: float
    turn: float = 0.0
    flip_h: bool = False
    flip_v: bool = False

    @property
    def centre(self) -> tuple[float, float]:
        """The middle point in EMU."""
        return self.x + self.width / 2, self.y + self.height / 2


def _emu(element: Element | None, name: str) -> float:
    value = whole(element, name)
    return float(value) if abs(value) < MOST_EMU else 0.0


def position_of(transform: Element | None) -> Position | None:
    """Read an a:xfrm or p:xfrm; None when there is none, or it states no place."""
    offset, extent = child(transform, "a:off"), child(transform, "a:ext")
    if transform is None or offset is None or extent is None:
        return None
    return Position(
        _emu(offset, "x"),
        _emu(offset, "y"),
        max(0.0, _emu(extent, "cx")),
        max(0.0, _emu(extent, "cy")),
        whole(transform, "rot") / UNITS_OF_A_DEGREE,
        flag(transform, "flipH"),
        flag(transform, "flipV"),
    )


@dataclass(frozen=True)
class Placed:
    """A shape's place on the page: its box unturned, and how to get from there to the page.

    upright: the same for its text, which is turned with the shape but never mirrored.
    """

    box: Box
    transform: Affine
    upright: Affine


@dataclass(frozen=True)
class Surround:
    """The coordinates that a group gives its children.

    transform: from the children's EMU to points on the page; scale_x, scale_y:
    points an EMU; orientation: the turns and mirrorings without scale or
    shift; fill: what a:grpFill means here.
    """

    transform: Affine
    scale_x: float
    scale_y: float
    orientation: Affine = IDENTITY
    fill: Fill | None = None

    def place(self, position: Position) -> Placed:
        """Place a shape."""
        x, y = self.transform.apply(*position.centre)
        width, height = position.width * self.scale_x, position.height * self.scale_y
        box = Box(x - width / 2, y - height / 2, width, height)
        linear = self.orientation.after(_orientation(position))
        mirrored = linear.a * linear.d - linear.b * linear.c < 0
        # §20.1.7.6: mirroring from side to side leaves text alone; from top to
        # bottom turns it by half a turn. Undoing a mirroring sidewards does both.
        upright = linear.after(scaled(-1, 1)) if mirrored else linear
        return Placed(box, _about(linear, (x, y)), _about(upright, (x, y)))

    def inside(self, transform: Element | None, fill: Fill | None) -> Surround:
        """Give the surround of a group's children, from the group's a:xfrm."""
        position = position_of(transform)
        if position is None:
            return Surround(self.transform, self.scale_x, self.scale_y, self.orientation, fill)
        child_offset, child_extent = child(transform, "a:chOff"), child(transform, "a:chExt")
        child_x = _emu(child_offset, "x") if child_offset is not None else position.x
        child_y = _emu(child_offset, "y") if child_offset is not None else position.y
        across = position.width / (_emu(child_extent, "cx") or position.width or 1.0)
        down = position.height / (_emu(child_extent, "cy") or position.height or 1.0)
        fit = (
            moved(position.x, position.y)
            .after(scaled(across, down))
            .after(moved(-child_x, -child_y))
        )
        # The group's own turn happens in its parent's units, where a scale that
        # differs across and down can't be told from a skew; groups don't do that.
        turn = turned(position.turn, position.centre).after(
            flipped(position.flip_h, position.flip_v, position.centre)
        )
        return Surround(
            self.transform.after(turn).after(fit),
            self.scale_x * across,
            self.scale_y * down,
            self.orientation.after(_orientation(position)),
            fill,
        )


def _orientation(position: Position) -> Affine:
    return turned(position.turn, (0.0, 0.0)).after(
        flipped(position.flip_h, position.flip_v, (0.0, 0.0))
    )


def _about(linear: Affine, centre: tuple[float, float]) -> Affine:
    return moved(*centre).after(linear).after(moved(-centre[0], -centre[1]))


def page_surround() -> Surround:
    """Give the surround of the shapes that stand in no group."""
    scale = 1 / EMU_PER_POINT
    return Surround(scaled(scale, scale), scale, scale)
