"""Text farther down than the painting of the page reaches.

A painting of the whole of a very long page is more than is held. Below its end the page is scrolled
to and painted a stretch at a time, and little of that is kept: of a text's words on one and the
same colour the first few speak for all.
"""

from __future__ import annotations

import functools
import time
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace

from high_pair.engine.frames import COUNT, MOST_ELEMENTS, Words
from high_pair.engine.paintings import (
    ONE,
    OTHER,
    STEADY,
    WITHOUT,
    Area,
    Part,
    Taken,
    add_tile,
    between,
    has_near,
    inked,
    keep_tile,
    needs_both,
    on_backdrop,
    paint_parts,
)
from high_pair.engine.protocol import Control, Icon, Text
from high_pair.engine.texts import boxes_of, words_shown

# Words of which one lies no farther below the last than this are painted together, in CSS pixels,
APART = 24.0
# unless they come to more than this.
TALLEST_CLUSTER = 800.0
# What is painted at one place of the scrolling.
TALLEST_STRETCH = 10_000.0
# Room that is painted round words, and that is looked at for what is behind one.
BESIDE = 16.0
ROUND = 6.0
# So many words of a text stand for all that lie on the same colour.
SPEAKERS = 2
# Seconds in which it is done; what is left by then needs eyes.
SECONDS = 60.0
# And controls and icons in these; what is left by then is told.
FOR_GRAPHICS = 15.0
SHEETS = ("", WITHOUT, inked(ONE))


@dataclass
class Cluster:
    """Words near one another: each its text and its place among that one's boxes.

    left, top, right, bottom: of all of them on the page, in CSS pixels.
    """

    left: float
    top: float
    right: float
    bottom: float
    words: list[tuple[Text, int]] = field(default_factory=list)

    @property
    def box(self) -> list[float]:
        """The part of the page that is painted for them."""
        left, top = max(0.0, self.left - BESIDE), self.top - BESIDE
        return [left, top, self.right + BESIDE - left, self.bottom + BESIDE - top]


def paint_beyond(taken: Taken) -> None:
    """Paint the words below the page's painting; each is `placed` in a painting of its own."""
    painter, page = taken.painter, taken.page
    end = painter.extent.rows / painter.zoom
    clusters = list(clusters_of(taken.told["texts"], end))
    if not clusters or page.ask(COUNT) > MOST_ELEMENTS:
        return
    until = time.monotonic() + SECONDS
    exactly = needs_both(taken.told)
    height = min(TALLEST_STRETCH, painter.view_rows / painter.zoom)
    for stretch in _stretches(clusters, height):
        if time.monotonic() > until or taken.full:
            break
        page.ask(f"highPair.scrollTo({stretch[0].box[1]}, true)")
        scrolled = float(page.ask("highPair.scrolled()"))
        painted: list[list[Words]] = [[] for _ in stretch]

        def paint(
            sheet: str,
            stretch: Sequence[Cluster] = stretch,
            painted: Sequence[list[Words]] = painted,
            scrolled: float = scrolled,
        ) -> None:
            painter.show(STEADY + sheet)
            for cluster, own in zip(stretch, painted, strict=True):
                own.append(painter.grab_part(cluster.box, scrolled))

        for sheet in SHEETS:
            paint(sheet)
        if exactly or any(has_near(own[1]) for own in painted):
            paint(inked(OTHER))
        for cluster, own in zip(stretch, painted, strict=True):
            _keep(taken, cluster, own)
    page.ask("highPair.scrollTo(0, false)")
    painter.show_again()


def place_graphics(taken: Taken) -> int:
    """Paint controls and icons below the page's painting, each in a painting of its own.

    Gives how many there was no time or room for.
    """
    painter, page = taken.painter, taken.page
    end = painter.extent.rows / painter.zoom
    told: list[Control | Icon] = [*taken.told["controls"], *taken.told["icons"]]
    waiting = sorted(
        (each for each in told if each["box"][1] + each["box"][3] > end),
        key=lambda each: each["box"][1],
    )
    if not waiting or page.ask(COUNT) > MOST_ELEMENTS:
        return len(waiting)
    parts: list[Part] = []
    groups: list[list[Control | Icon]] = []
    for each in waiting:
        top, bottom = each["box"][1] - BESIDE, each["box"][1] + each["box"][3] + BESIDE
        if not parts or bottom > parts[-1].box[1] + TALLEST_CLUSTER:
            bring = functools.partial(page.ask, f"highPair.scrollTo({top}, true)")
            bring()
            scrolled = float(page.ask("highPair.scrolled()"))
            parts.append(Part([0.0, top, painter.extent.width, TALLEST_CLUSTER], bring, scrolled))
            groups.append([])
        groups[-1].append(each)
    exactly, full = needs_both(taken.told), lambda: taken.full
    painted = paint_parts(painter, parts, exactly, seconds=FOR_GRAPHICS, enough=full)
    for group, paintings in zip(groups, painted, strict=True):
        if paintings is None or taken.full:
            continue
        for each in group:
            x, y, wide, high = each["box"]
            room = [x - BESIDE, y - BESIDE, wide + 2 * BESIDE, high + 2 * BESIDE]
            each["tile"] = add_tile(taken, paintings, room)
    page.ask("highPair.scrollTo(0, false)")
    painter.show_again()
    return sum(each.get("tile") is None for each in waiting)


def clusters_of(texts: Sequence[Text], end: float) -> Iterator[Cluster]:
    """Give the words that lie below a place of the page, from the top down, together where they
    stand together."""
    words = [
        (boxes[place], text, place)
        for text in texts
        if not (text["exempt"] or text["fixed"] or text.get("placed")) and text["kind"] != "opaque"
        for boxes in (boxes_of(text),)
        for place in words_shown(text)
        if boxes[place][1] + boxes[place][3] > end
    ]
    words.sort(key=lambda each: each[0][1])
    current: Cluster | None = None
    for (x, y, width, height), text, place in words:
        if current is not None and (
            y > current.bottom + APART or y + height > current.top + TALLEST_CLUSTER
        ):
            yield current
            current = None
        if current is None:
            current = Cluster(x, y, x + width, y + height)
        current.left, current.right = min(current.left, x), max(current.right, x + width)
        current.bottom = max(current.bottom, y + height)
        current.words.append((text, place))
    if current is not None:
        yield current


def _stretches(clusters: Sequence[Cluster], height: float) -> Iterator[list[Cluster]]:
    """Give clusters that the view can show at one place of the scrolling."""
    current: list[Cluster] = []
    for cluster in clusters:
        if current and cluster.bottom + BESIDE > current[0].box[1] + height:
            yield current
            current = []
        current.append(cluster)
    if current:
        yield current


def _keep(taken: Taken, cluster: Cluster, painted: Sequence[Words]) -> None:
    """Keep what a cluster's paintings show of its words."""
    zoom = taken.painter.zoom
    x, y = (max(0, int(side * zoom)) for side in cluster.box[:2])
    backdrop = painted[1]
    spoken: dict[tuple[int, int], int] = {}
    for text, place in cluster.words:
        left, top, width, height = boxes_of(text)[place]

        def area(room: float, corners: Sequence[float] = (left, top, width, height)) -> Area:
            across, down, wide, high = (side * zoom for side in corners)
            return (
                slice(max(0, int(down - room) - y), max(0, int(down + high + room) - y)),
                slice(max(0, int(across - room) - x), max(0, int(across + wide + room) - x)),
            )

        text.setdefault("covered", []).append(place)
        behind = backdrop[area(ROUND * zoom)]
        if not behind.size:
            continue
        plain = not text["look"]["painted"] and bool((behind == behind.flat[0]).all())
        if plain:
            key = (id(text), int(behind.flat[0]))
            spoken[key] = spoken.get(key, 0) + 1
            if spoken[key] > SPEAKERS:
                continue
        # Of what lies on one colour no more is kept than was looked at.
        rows, columns = part = area((ROUND if plain else BESIDE) * zoom)
        tell = between if len(painted) > len(SHEETS) else on_backdrop
        paintings = tell(*(words[part] for words in painted))
        paintings = replace(paintings, left=columns.start + x, top=rows.start + y)
        said = [word[0] for word in text["words"]] or [text["text"]]
        tile = keep_tile(taken, paintings)
        text.setdefault("placed", []).append([said[place], left, top, width, height, tile])
