"""Where the parts of a chart stand: as stated, else where there is room (§21.2.2.95).

The standard leaves automatic places to programs, so they are only estimated:
the title above, the legend at its side, the plot in what is left.
"""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.formats.charts.data import value_of
from high_pair.formats.xml import Element, child, number
from high_pair.scene.geometry import Box

# How wide a letter is, as a share of the size of its text.
LETTER = 0.55
# And how high a line.
LINE = 1.2
PADDING = 6.0
# How far the plot's own edge may reach out of it, in points.
EDGE = 2.0
SIDES = ("left", "top", "right", "bottom")


def size_of_words(words: str, size: float) -> tuple[float, float]:
    """Estimate the width and height of a line in points."""
    return max(1.0, len(words) * size * LETTER), size * LINE


@dataclass(frozen=True)
class Needs:
    """How much room the parts take round the plot, in points.

    title: the title's height; legend: its side (l, t, r, b; empty for none, or
    when it lies over the plot) and its size; labels: of the axes at the plot's
    left, top, right and bottom.
    """

    title: float
    legend_side: str
    legend: tuple[float, float]
    labels: tuple[float, float, float, float]


@dataclass(frozen=True)
class Places:
    """The boxes of a chart's parts; plot is the part within the axes."""

    frame: Box
    title: Box
    legend: Box
    plot: Box

    def band(self, side: str, depth: float) -> Box:
        """Give the strip beside the plot at a side, so many points deep."""
        plot = self.plot
        if side == "left":
            return Box(plot.x - depth, plot.y, depth, plot.height)
        if side == "right":
            return Box(plot.right, plot.y, depth, plot.height)
        if side == "top":
            return Box(plot.x, plot.y - depth, plot.width, depth)
        return Box(plot.x, plot.bottom, plot.width, depth)

    def beyond(self, side: str) -> Box:
        """Give all of the chart on the outer side of one of the plot's edges, without its line."""
        frame, plot = self.frame, self.plot.grown(EDGE)
        if side == "left":
            return Box(frame.x, frame.y, max(1.0, plot.x - frame.x), frame.height)
        if side == "right":
            return Box(plot.right, frame.y, max(1.0, frame.right - plot.right), frame.height)
        if side == "top":
            return Box(frame.x, frame.y, frame.width, max(1.0, plot.y - frame.y))
        return Box(frame.x, plot.bottom, frame.width, max(1.0, frame.bottom - plot.bottom))


def stated_box(layout: Element | None, plain: Box, frame: Box) -> Box:
    """Give a part's box by its manual layout; what that doesn't state is as in `plain`."""
    manual = child(layout, "c:manualLayout")
    if manual is None:
        return plain

    def read(name: str, start: float, size: float, own: float) -> float:
        stated = value_of(manual, f"c:{name}")
        if stated is None:
            return own
        share = min(1.0, max(-1.0, number(stated)))
        edge = value_of(manual, f"c:{name}Mode") == "edge"
        # Otherwise a share of the chart by which the part is moved, or its size.
        return start + share * size if edge or name in "wh" else own + share * size

    x = read("x", frame.x, frame.width, plain.x)
    y = read("y", frame.y, frame.height, plain.y)
    width = read("w", 0.0, frame.width, plain.width)
    height = read("h", 0.0, frame.height, plain.height)
    if value_of(manual, "c:wMode") == "edge":
        width = frame.x + width - x
    if value_of(manual, "c:hMode") == "edge":
        height = frame.y + height - y
    return Box(x, y, max(1.0, width), max(1.0, height))


def _legend_box(frame: Box, needs: Needs, top: float) -> Box:
    width, height = (
        min(a, b * 0.9) for a, b in zip(needs.legend, (frame.width, frame.height), strict=True)
    )
    middle = (top + frame.bottom) / 2 - height / 2
    centre = frame.x + (frame.width - width) / 2
    if needs.legend_side == "l":
        return Box(frame.x + PADDING, middle, width, height)
    if needs.legend_side == "t":
        return Box(centre, top, width, height)
    if needs.legend_side == "b":
        return Box(centre, frame.bottom - PADDING - height, width, height)
    return Box(frame.right - PADDING - width, middle, width, height)


def arrange(
    frame: Box,
    needs: Needs,
    title_layout: Element | None,
    legend_layout: Element | None,
    plot_layout: Element | None,
) -> Places:
    """Give the places of a chart's parts."""
    title = Box(frame.x + PADDING, frame.y + PADDING, frame.width - 2 * PADDING, needs.title)
    top = title.bottom + (PADDING if needs.title else 0.0)
    legend = _legend_box(frame, needs, top)
    left, right, bottom = frame.x + PADDING, frame.right - PADDING, frame.bottom - PADDING
    if needs.legend_side == "l":
        left = legend.right + PADDING
    elif needs.legend_side == "r":
        right = legend.x - PADDING
    elif needs.legend_side == "t":
        top = legend.bottom + PADDING
    elif needs.legend_side == "b":
        bottom = legend.y - PADDING
    outer = Box(left, top, max(1.0, right - left), max(1.0, bottom - top))
    outer = stated_box(plot_layout, outer, frame)
    target = value_of(plot_layout, "c:manualLayout", "c:layoutTarget")
    stated = child(plot_layout, "c:manualLayout", "c:w") is not None
    plot = outer if stated and target == "inner" else _within(outer, needs.labels)
    return Places(
        frame,
        stated_box(title_layout, title, frame),
        stated_box(legend_layout, legend, frame),
        plot,
    )


def _within(box: Box, sides: tuple[float, float, float, float]) -> Box:
    left, top, right, bottom = sides
    width = max(box.width * 0.3, box.width - left - right)
    height = max(box.height * 0.3, box.height - top - bottom)
    return Box(box.x + left, box.y + top, width, height)
