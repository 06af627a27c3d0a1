"""The records of Windows metafiles ([MS-WMF] 2.3), whose numbers have sixteen bits."""

from __future__ import annotations

import heapq
import struct
from collections.abc import Callable
from dataclasses import dataclass, field

import skia

from high_pair.raster.metafiles.bitmaps import bitmap, header_length
from high_pair.raster.metafiles.device import WHITE, Brush, Device, Pen, Point, Unpainted
from high_pair.raster.metafiles.records import COPIES, HATCHED, MIXED, MOST_RECORDS, Records

PLACEABLE = b"\xd7\xcd\xc6\x9a"
PLACEABLE_LENGTH, HEADER_LENGTH = 22, 18
# Units an inch of a picture that states none.
PLAIN_UNITS = 1440.0
ANISOTROPIC = 8
# Palettes, hints and notes, which change nothing of what is painted here.
SILENT = frozenset({
    0x0035, 0x0037, 0x0103, 0x0105, 0x0107, 0x0108, 0x0139, 0x020A, 0x0231, 0x0234, 0x0436,
    0x0626, 0x0149,
})  # fmt: skip


@dataclass(frozen=True)
class Header:
    """What a WMF says of itself: the box that its window shows, and units an inch.

    start: where its records begin.
    """

    left: float
    top: float
    width: float
    height: float
    units: float
    start: int

    @property
    def points(self) -> tuple[float, float]:
        """Its own size."""
        return abs(self.width) / self.units * 72, abs(self.height) / self.units * 72


def header_of(data: bytes) -> Header:
    """Read the header, and where that states no size, the first window. Raises Unpainted."""
    start = PLACEABLE_LENGTH if data.startswith(PLACEABLE) else 0
    words = struct.unpack_from("<H", data, start + 2)[0]
    first = start + 2 * words
    if start:
        left, top, right, bottom, units = struct.unpack_from("<4hH", data, 6)
        box = (left, top, right - left, bottom - top)
    else:
        units = 0
        box = _first_window(data, first)
    if not box[2] or not box[3]:
        raise Unpainted("its size isn't stated")
    left, top, width, height = map(float, box)
    return Header(left, top, width, height, float(units or PLAIN_UNITS), first)


def _first_window(data: bytes, at: int) -> tuple[int, int, int, int]:
    origin, extent = (0, 0), (0, 0)
    for _ in range(64):
        if at + 6 > len(data):
            break
        size, kind = struct.unpack_from("<IH", data, at)
        if kind in (0x020B, 0x020C):
            down, across = struct.unpack_from("<2h", data, at + 6)
            if kind == 0x020B:
                origin = across, down
            else:
                extent = across, down
        at += max(6, size * 2)
    return (*origin, *extent)


@dataclass
class _Reader(Records):
    """Reads the records of a WMF. free: the numbers of objects that are gone, a heap."""

    free: list[int] = field(default_factory=list)

    def shorts(self, place: int, count: int = 1) -> tuple[int, ...]:
        return struct.unpack_from(f"<{count}h", self.data, place)

    def word(self, place: int) -> int:
        return int(struct.unpack_from("<H", self.data, place)[0])

    def long(self, place: int) -> int:
        return int(struct.unpack_from("<I", self.data, place)[0])

    def box(self, place: int) -> tuple[int, int, int, int]:
        """Give left, top, right and bottom, which stand backwards."""
        bottom, right, top, left = self.shorts(place, 4)
        return left, top, right, bottom

    def listed(self, place: int, count: int) -> list[Point]:
        return self.counted(self.shorts(place, 2 * count))

    def put(self, made: object) -> None:
        """Keep an object under the lowest number that is free (§3.1.4.1)."""
        number = heapq.heappop(self.free) if self.free else len(self.objects)
        self.objects[number] = made

    def drop(self, at: int) -> None:
        number = self.word(at + 6)
        if number in self.objects:
            del self.objects[number]
            heapq.heappush(self.free, number)

    def select(self, at: int) -> None:
        self.take(self.objects.get(self.word(at + 6)))

    def make_pen(self, at: int) -> None:
        kind, width = self.word(at + 6), self.shorts(at + 8)[0]
        self.put(Pen(self.colour(at + 12), abs(width), kind & 15))

    def make_brush(self, at: int) -> None:
        self.put(self.brush_of(self.word(at + 6), at + 8))

    def make_font(self, at: int) -> None:
        name = self.data[at + 24 : at + 56].partition(b"\0")[0].decode("cp1252", "replace")
        self.put(self.font_of(self.shorts(at + 6, 5), self.data[at + 16], name))

    def window(self, at: int, extent: bool) -> None:
        left, top, width, height = self.device.state.window
        down, across = self.shorts(at + 6, 2)
        changed = (left, top, across, down) if extent else (across, down, width, height)
        self.device.set(window=changed)

    def polygons(self, at: int) -> None:
        count = self.word(at + 6)
        sizes = struct.unpack_from(f"<{count}H", self.data, at + 8)
        points = self.listed(at + 8 + 2 * count, sum(sizes))
        self.device.polygons(self.apart(sizes, points))

    def arc(self, at: int, kind: str) -> None:
        end_y, end_x, start_y, start_x = self.shorts(at + 6, 4)
        self.device.arc(self.box(at + 14), (start_x, start_y), (end_x, end_y), kind)

    def clip_box(self, at: int) -> None:
        path = skia.Path()
        path.addRect(skia.Rect.MakeLTRB(*self.box(at + 6)))
        self.device.clip(path)

    def text(self, at: int) -> None:
        count = self.word(at + 6)
        words = self.data[at + 8 : at + 8 + count].decode("cp1252", "replace")
        y, x = self.shorts(at + 8 + count + count % 2, 2)
        self.device.words(words, (x, y), None, False)

    def long_text(self, at: int) -> None:
        y, x, count, options = struct.unpack_from("<hhHH", self.data, at + 6)
        start, box = at + 14, None
        if options & 6:
            box = self.shorts(start, 4)
            start += 8
        words = self.data[start : start + count].decode("cp1252", "replace")
        self.device.words(words, (x, y), box, bool(options & 2))

    def painted_box(self, at: int, skipped: int = 0) -> None:
        """Paint a box without a bitmap (META_PATBLT and its like).

        skipped: bytes that stand before the box.
        """
        height, width, top, left = self.shorts(at + 10 + skipped, 4)
        self.ground((left, top, left + width, top + height), self.long(at + 6))

    def blit(self, at: int, numbers: int, stretched: bool) -> None:
        """Paint a bitmap; numbers: how many shorts stand between the operation and it."""
        if self.long(at + 6) != COPIES:
            raise Unpainted(MIXED)
        values = self.shorts(at + 10, numbers)
        height, width, top, left = values[-4:]
        size = self.long(at) * 2
        start = at + 10 + 2 * numbers
        length = header_length(self.data, start)
        image = bitmap(self.data[start : start + length], self.data[start + length : at + size])
        y, x = values[-6:-4]
        down, across = values[-8:-6] if stretched else (abs(height), abs(width))
        part = skia.IRect.MakeXYWH(x, y, across, down)
        if part.intersect(skia.IRect.MakeWH(image.width(), image.height())):
            image = image.makeSubset(part)
        self.device.picture(image, (left, top, width, height))


def _commands(r: _Reader) -> dict[int, Callable[[int], object]]:
    d = r.device
    return {
        0x001E: lambda _at: d.save(),
        0x0127: lambda at: d.restore(r.shorts(at + 6)[0]),
        0x0102: lambda at: d.set(opaque=r.word(at + 6) == 2),
        0x0106: lambda at: d.set(winding=r.word(at + 6) == 2),
        0x0104: lambda at: d.set(operation=r.word(at + 6)),
        0x012E: lambda at: d.set(align=r.word(at + 6)),
        0x0201: lambda at: d.set(behind=r.colour(at + 6)),
        0x0209: lambda at: d.set(text=r.colour(at + 6)),
        0x020B: lambda at: r.window(at, False), 0x020C: lambda at: r.window(at, True),
        0x0213: lambda at: d.lines([_point(r.shorts(at + 6, 2))], to=True),
        0x0214: lambda at: d.set(at=_point(r.shorts(at + 6, 2))),
        0x0324: lambda at: d.lines(r.listed(at + 8, r.word(at + 6)), True),
        0x0325: lambda at: d.lines(r.listed(at + 8, r.word(at + 6))),
        0x0538: r.polygons,
        0x041B: lambda at: d.box(r.box(at + 6)),
        0x061C: lambda at: d.box(r.box(at + 10), r.shorts(at + 6, 2)[::-1]),
        0x0418: lambda at: d.ellipse(r.box(at + 6)),
        0x0817: lambda at: r.arc(at, "arc"), 0x0830: lambda at: r.arc(at, "chord"),
        0x081A: lambda at: r.arc(at, "pie"),
        0x012D: r.select, 0x02FA: r.make_pen, 0x02FC: r.make_brush, 0x02FB: r.make_font,
        0x00F7: lambda _at: r.put(None), 0x0142: lambda _at: r.put(Brush(WHITE, HATCHED)),
        0x01F9: lambda _at: r.put(Brush(WHITE, HATCHED)), 0x06FF: lambda _at: r.put(None),
        0x01F0: r.drop,
        0x0416: r.clip_box, 0x012C: lambda _at: d.set(clips=()),
        0x0521: r.text, 0x0A32: r.long_text,
        0x061D: r.painted_box,
        0x0940: lambda at: r.blit(at, 6, False), 0x0B41: lambda at: r.blit(at, 8, True),
        0x0F43: lambda at: r.blit(at, 9, True),
    }  # fmt: skip


def _point(values: tuple[int, ...]) -> Point:
    """Give a point that stands as down and across."""
    return float(values[1]), float(values[0])


def paint_wmf(device: Device, data: bytes, header: Header) -> None:
    """Paint a metafile's records. Raises Unpainted, struct.error."""
    device.set(mode=ANISOTROPIC)
    reader = _Reader(device, data)
    commands = _commands(reader)
    at = header.start
    for _ in range(MOST_RECORDS):
        reader.hurry()
        if at + 6 > len(data):
            return
        size, kind = struct.unpack_from("<IH", data, at)
        if kind == 0:
            return
        if size < 3 or at + size * 2 > len(data):
            raise Unpainted("it is damaged")
        if kind == 0x0940 and size == 12:
            # Without a bitmap: where one would begin, and a word of nothing, stand first.
            reader.painted_box(at, 6)
        elif kind in commands:
            commands[kind](at)
        elif kind not in SILENT:
            raise Unpainted(f"it has commands that aren't painted yet ({kind:#06x})")
        at += size * 2
    raise Unpainted("it has very many commands")
