"""The records of enhanced metafiles ([MS-EMF] 2.3)."""

from __future__ import annotations

import struct
from collections.abc import Callable
from dataclasses import dataclass

import skia

from high_pair.raster.metafiles.bitmaps import bitmap, see_through
from high_pair.raster.metafiles.device import (
    BLACK,
    COPY,
    NO_PEN,
    WHITE,
    Brush,
    Device,
    Pen,
    Point,
    State,
    Unpainted,
)
from high_pair.raster.metafiles.records import (
    COPIES,
    HATCHED,
    MIXED,
    MOST_POINTS,
    MOST_RECORDS,
    Records,
)

SIGNATURE = b" EMF"
# What an EMF+ record begins with, and the flag that says that all is there twice.
PLUS, HEADER_PLUS, DUAL = b"EMF+", 0x4001, 1
# §2.1.31: the stock objects.
STOCK = 0x80000000
_STOCK: dict[int, object] = {
    0: Brush(WHITE), 1: Brush((192, 192, 192)), 2: Brush((128, 128, 128)), 3: Brush((64, 64, 64)),
    4: Brush(BLACK), 5: Brush(None), 6: Pen(WHITE), 7: Pen(BLACK), 8: Pen(kind=NO_PEN),
}  # fmt: skip
# Records that change nothing of what is painted here: palettes, hints, comments of other kinds.
SILENT = frozenset({
    13, 16, 21, 23, 48, 49, 50, 51, 52, 58, 65, 98, 99, 100, 101, 109, 111, 112, 113, 119, 121, 122,
})  # fmt: skip


@dataclass(frozen=True)
class Header:
    """What an EMF's header says: its frame on the device in that one's units, and dots an inch."""

    left: float
    top: float
    width: float
    height: float
    dots: float

    @property
    def points(self) -> tuple[float, float]:
        """Its own size."""
        return self.width / self.dots * 72, self.height / self.dots * 72


def header_of(data: bytes) -> Header:
    """Read the header (§2.3.4.2). Raises Unpainted, struct.error."""
    left, top, right, bottom = struct.unpack_from("<4i", data, 24)
    device = struct.unpack_from("<2i", data, 72)
    millimetres = struct.unpack_from("<2i", data, 80)
    if min(*device, *millimetres) <= 0 or right <= left or bottom <= top:
        raise Unpainted("its size isn't stated")
    across, down = (size / (100 * length) for size, length in zip(device, millimetres, strict=True))
    dots = device[0] / millimetres[0] * 25.4
    return Header(left * across, top * down, (right - left) * across, (bottom - top) * down, dots)


class _Reader(Records):
    """Reads the records of an EMF."""

    # What records hold

    def ints(self, place: int, count: int = 1) -> tuple[int, ...]:
        return struct.unpack_from(f"<{count}i", self.data, place)

    def whole(self, place: int) -> int:
        return int(struct.unpack_from("<I", self.data, place)[0])

    def floats(self, place: int, count: int) -> tuple[float, ...]:
        return struct.unpack_from(f"<{count}f", self.data, place)

    def listed(self, place: int, count: int, short: bool) -> list[Point]:
        return self.counted(
            struct.unpack_from(f"<{2 * count}{'h' if short else 'i'}", self.data, place)
        )

    # Figures

    def line(self, at: int, short: bool, closed: bool = False, to: bool = False) -> None:
        self.device.lines(self.listed(at + 28, self.whole(at + 24), short), closed, to)

    def curve(self, at: int, short: bool, to: bool = False) -> None:
        self.device.curves(self.listed(at + 28, self.whole(at + 24), short), to)

    def several(self, at: int, short: bool, closed: bool) -> None:
        count = min(self.whole(at + 24), MOST_POINTS)
        sizes = [max(0, each) for each in self.ints(at + 32, count)]
        points = self.listed(at + 32 + 4 * count, sum(sizes), short)
        self.device.polygons(self.apart(sizes, points), closed)

    def arc(self, at: int, kind: str) -> None:
        values = self.ints(at + 8, 8)
        self.device.arc(values[:4], (values[4], values[5]), (values[6], values[7]), kind)

    # State

    def select(self, at: int) -> None:
        handle = self.whole(at + 8)
        chosen = _STOCK.get(handle & 0xFF) if handle & STOCK else self.objects.get(handle)
        self.take(chosen)

    def make_pen(self, at: int) -> None:
        kind, width = self.whole(at + 12), self.ints(at + 16)[0]
        self.objects[self.whole(at + 8)] = Pen(self.colour(at + 24), abs(width), kind & 15)

    def make_long_pen(self, at: int) -> None:
        kind, width, brush = self.whole(at + 28), self.whole(at + 32), self.whole(at + 36)
        if brush not in (0, 1) and kind & 15 != NO_PEN:
            raise Unpainted(HATCHED)
        geometric = kind & 0xF0000
        pen = Pen(
            self.colour(at + 40),
            float(width) if geometric else 0.0,
            NO_PEN if brush == 1 else kind & 15,
            not kind & 0xF00 and bool(geometric),
        )
        self.objects[self.whole(at + 8)] = pen

    def make_brush(self, at: int) -> None:
        self.objects[self.whole(at + 8)] = self.brush_of(self.whole(at + 12), at + 16)

    def make_pattern(self, at: int) -> None:
        self.objects[self.whole(at + 8)] = Brush(WHITE, HATCHED)

    def make_font(self, at: int) -> None:
        name = self.data[at + 40 : at + 104].decode("utf-16-le", "replace").partition("\0")[0]
        font = self.font_of(self.ints(at + 12, 5), self.data[at + 32], name)
        self.objects[self.whole(at + 8)] = font

    def modify_world(self, at: int) -> None:
        how = self.whole(at + 32)
        own = self.floats(at + 8, 6)
        if how == 1:
            self.device.set(world=State().world)
            return
        now = self.device.state.world
        first, second = (own, now) if how == 2 else (now, own)
        self.device.set(world=own if how == 4 else _after(second, first))

    def scale_extent(self, at: int, name: str) -> None:
        left, top, width, height = getattr(self.device.state, name)
        up, under, up_down, under_down = self.ints(at + 8, 4)
        if under and under_down:
            changed = (left, top, width * up / under, height * up_down / under_down)
            self.device.set(**{name: changed})

    def place(self, at: int, name: str, extent: bool) -> None:
        left, top, width, height = getattr(self.device.state, name)
        first, second = self.ints(at + 8, 2)
        changed = (left, top, first, second) if extent else (first, second, width, height)
        self.device.set(**{name: changed})

    # Clips and paths

    def clip_box(self, at: int) -> None:
        left, top, right, bottom = self.ints(at + 8, 4)
        path = skia.Path()
        path.addRect(skia.Rect.MakeLTRB(left, top, right, bottom))
        self.device.clip(path)

    def clip_region(self, at: int) -> None:
        size, how = self.whole(at + 8), self.whole(at + 12)
        if how == 5 and size == 0:
            self.device.set(clips=())
            return
        if how not in (1, 5) or size < 32:
            raise Unpainted("it cuts what it paints in an unusual way")
        path = skia.Path()
        sides = self.counted(self.ints(at + 48, 4 * min(self.whole(at + 24), MOST_POINTS)))
        for (left, top), (right, bottom) in zip(sides[::2], sides[1::2], strict=True):
            path.addRect(skia.Rect.MakeLTRB(left, top, right, bottom))
        # Regions are in the device's own coordinates.
        moved = skia.Path()
        path.transform(self.device.base, moved)
        self.device.cut(moved, afresh=how == 5)

    def clip_path(self, at: int) -> None:
        how = self.whole(at + 8)
        if how not in (1, 5):
            raise Unpainted("it cuts what it paints in an unusual way")
        self.device.clip(self.device.take(), afresh=how == 5)

    def path_painted(self, filled: bool, lined: bool) -> None:
        path = self.device.take()
        if filled:
            self.device.fill(path)
        if lined:
            self.device.stroke(path)

    def close(self) -> None:
        if self.device.path is not None:
            self.device.path.close()

    # Text and pictures

    def text(self, at: int) -> None:
        x, y = self.ints(at + 36, 2)
        count, start, options = self.whole(at + 44), self.whole(at + 48), self.whole(at + 52)
        box = self.ints(at + 56, 4)
        words = self.data[at + start : at + start + 2 * min(count, 10_000)].decode(
            "utf-16-le", "replace"
        )
        if options & 0x10:
            raise Unpainted("it has text stated by the numbers of letters in a font")
        self.device.words(words, (x, y), box, bool(options & 2))

    def blit(self, at: int, stretched: bool) -> None:
        left, top, width, height = self.ints(at + 24, 4)
        operation, source = self.whole(at + 40), self.whole(at + 84)
        if source == 0:
            self.ground((left, top, left + width, top + height), operation)
            return
        if operation != COPIES:
            raise Unpainted(MIXED)
        image = bitmap(*self._parts(at, 84))
        self._drawn(image, at, (left, top, width, height), 100 if stretched else None)

    def _drawn(self, image: skia.Image, at: int, box: tuple[int, ...], extent: int | None) -> None:
        x, y = self.ints(at + 44, 2)
        size = self.ints(at + extent, 2) if extent is not None else box[2:]
        part = skia.IRect.MakeXYWH(max(0, x), max(0, y), abs(size[0]), abs(size[1]))
        whole = skia.IRect.MakeWH(image.width(), image.height())
        if part.intersect(whole) and part != whole:
            image = image.makeSubset(part)
        self.device.picture(image, box)

    def _parts(self, at: int, place: int) -> tuple[bytes, bytes]:
        info, info_size, bits, bits_size = (self.whole(at + place + 4 * n) for n in range(4))
        return (
            self.data[at + info : at + info + info_size],
            self.data[at + bits : at + bits + bits_size],
        )

    def stretch(self, at: int) -> None:
        left, top = self.ints(at + 24, 2)
        x, y, across, down = self.ints(at + 32, 4)
        if self.whole(at + 68) != COPIES:
            raise Unpainted(MIXED)
        image = bitmap(*self._parts(at, 48))
        width, height = self.ints(at + 72, 2)
        if (x, y, across, down) != (0, 0, image.width(), image.height()):
            part = skia.IRect.MakeXYWH(x, y, across, down)
            if not part.intersect(skia.IRect.MakeWH(image.width(), image.height())):
                return
            image = image.makeSubset(part)
        self.device.picture(image, (left, top, width, height))

    def blend(self, at: int) -> None:
        box = self.ints(at + 24, 4)
        how = self.data[at + 40 : at + 44]
        info, bits = self._parts(at, 84)
        image = see_through(info, bits) if how[3] & 1 else bitmap(info, bits)
        before = self.device.state.operation
        self.device.set(operation=COPY)
        self.device.picture(image, box, how[2] / 255)
        self.device.set(operation=before)

    def refuse(self, at: int, plain: int, why: str) -> None:
        """See that a setting has the value in which all is painted."""
        if self.whole(at + 8) != plain:
            raise Unpainted(why)

    def move(self, at: int) -> None:
        x, y = self.ints(at + 8, 2)
        if self.device.path is not None:
            self.device.lines([(x, y)])
        self.device.set(at=(float(x), float(y)))

    def line_to(self, at: int) -> None:
        x, y = self.ints(at + 8, 2)
        self.device.lines([(float(x), float(y))], to=True)

    def small_text(self, at: int) -> None:
        x, y, count, options = self.ints(at + 8, 4)
        start = at + (36 if options & 0x100 else 52)
        size = count if options & 0x200 else 2 * count
        kind = "latin-1" if options & 0x200 else "utf-16-le"
        words = self.data[start : start + min(size, 20_000)].decode(kind, "replace")
        self.device.words(words, (x, y), None, False)

    def comment(self, at: int) -> None:
        """Pass over a comment, unless it holds the picture in a language of its own."""
        if self.data[at + 12 : at + 16] != PLUS:
            return
        kind, flags = struct.unpack_from("<HH", self.data, at + 16)
        if kind == HEADER_PLUS and not flags & DUAL:
            raise Unpainted("it is drawn by commands of a newer kind (EMF+)")


def _after(second: tuple[float, ...], first: tuple[float, ...]) -> tuple[float, ...]:
    """Give the map that does `first` and then `second`; each (m11, m12, m21, m22, dx, dy)."""
    a, b, c, d, e, f = first
    m, n, o, p, q, r = second
    return (
        a * m + b * o,
        a * n + b * p,
        c * m + d * o,
        c * n + d * p,
        e * m + f * o + q,
        e * n + f * p + r,
    )


def _commands(r: _Reader) -> dict[int, Callable[[int], object]]:
    d = r.device
    return {
        2: lambda at: r.curve(at, False), 85: lambda at: r.curve(at, True),
        3: lambda at: r.line(at, False, True), 86: lambda at: r.line(at, True, True),
        4: lambda at: r.line(at, False), 87: lambda at: r.line(at, True),
        5: lambda at: r.curve(at, False, True), 88: lambda at: r.curve(at, True, True),
        6: lambda at: r.line(at, False, to=True), 89: lambda at: r.line(at, True, to=True),
        7: lambda at: r.several(at, False, False), 90: lambda at: r.several(at, True, False),
        8: lambda at: r.several(at, False, True), 91: lambda at: r.several(at, True, True),
        9: lambda at: r.place(at, "window", True), 10: lambda at: r.place(at, "window", False),
        11: lambda at: r.place(at, "viewport", True), 12: lambda at: r.place(at, "viewport", False),
        17: lambda at: d.set(mode=r.whole(at + 8)),
        18: lambda at: d.set(opaque=r.whole(at + 8) == 2),
        19: lambda at: d.set(winding=r.whole(at + 8) == 2),
        20: lambda at: d.set(operation=r.whole(at + 8)),
        22: lambda at: d.set(align=r.whole(at + 8)),
        24: lambda at: d.set(text=r.colour(at + 8)),
        25: lambda at: d.set(behind=r.colour(at + 8)),
        27: r.move,
        28: lambda _at: None,
        30: r.clip_box,
        31: lambda at: r.scale_extent(at, "viewport"), 32: lambda at: r.scale_extent(at, "window"),
        33: lambda _at: d.save(),
        34: lambda at: d.restore(r.ints(at + 8)[0]),
        35: lambda at: d.set(world=r.floats(at + 8, 6)),
        36: r.modify_world, 37: r.select, 38: r.make_pen, 39: r.make_brush,
        40: lambda at: r.objects.pop(r.whole(at + 8), None),
        42: lambda at: d.ellipse(r.ints(at + 8, 4)),
        43: lambda at: d.box(r.ints(at + 8, 4)),
        44: lambda at: d.box(r.ints(at + 8, 4), r.ints(at + 24, 2)),
        45: lambda at: r.arc(at, "arc"), 46: lambda at: r.arc(at, "chord"),
        47: lambda at: r.arc(at, "pie"),
        54: r.line_to,
        57: lambda at: r.refuse(at, 1, "it has arcs drawn the other way"),
        108: r.small_text,
        115: lambda at: r.refuse(at, 0, "it is mirrored"),
        59: lambda _at: d.begin(), 60: lambda _at: None, 61: lambda _at: r.close(),
        62: lambda _at: r.path_painted(True, False), 63: lambda _at: r.path_painted(True, True),
        64: lambda _at: r.path_painted(False, True),
        67: r.clip_path, 68: lambda _at: d.take(),
        70: r.comment, 75: r.clip_region,
        76: lambda at: r.blit(at, False), 77: lambda at: r.blit(at, True),
        81: r.stretch, 82: r.make_font, 84: r.text,
        93: r.make_pattern, 94: r.make_pattern, 95: r.make_long_pen,
        114: r.blend,
    }  # fmt: skip


def paint_emf(device: Device, data: bytes) -> None:
    """Paint an enhanced metafile's records. Raises Unpainted, struct.error."""
    reader = _Reader(device, data)
    commands = _commands(reader)
    at = int(struct.unpack_from("<I", data, 4)[0])
    for _ in range(MOST_RECORDS):
        reader.hurry()
        if at + 8 > len(data):
            raise Unpainted("it ends before its end")
        kind, size = struct.unpack_from("<II", data, at)
        if kind == 14:
            return
        if size < 8 or at + size > len(data):
            raise Unpainted("it is damaged")
        if kind not in SILENT:
            if kind not in commands:
                raise Unpainted(f"it has commands that aren't painted yet ({kind})")
            commands[kind](at)
        at += size
    raise Unpainted("it has very many commands")
