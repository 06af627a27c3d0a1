"""Text as it stands on a page: runs in paragraphs in blocks."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum

from high_pair.scene.geometry import Affine, Box
from high_pair.scene.paint import Colour, Fill, Shadow, Stroke


class Align(StrEnum):
    """Where a paragraph's lines stand between its margins."""

    LEFT = "left"
    CENTRE = "centre"
    RIGHT = "right"
    JUSTIFY = "justify"


class Anchor(StrEnum):
    """Where a block's paragraphs stand between its top and bottom."""

    TOP = "top"
    MIDDLE = "middle"
    BOTTOM = "bottom"


@dataclass(frozen=True)
class Decider:
    """A place beyond the text itself at which its colour is decided: a style, or the theme.

    words: as a person is told it; address: where the colour can be changed for
    all that follows it; sheet, line: the address of the text file that declares it, empty for the
    page itself, and the line there, from 1, where it is known.
    """

    words: str
    address: str
    sheet: str = ""
    line: int = 0


@dataclass(frozen=True)
class Haze:
    """What may lie between letters and what is behind them: at each place something between nothing
    and the first colour, or between that and the next, as a glow or a pattern of stripes has it."""

    colours: tuple[Colour, ...]
    why: str


@dataclass(frozen=True)
class Run:
    """Characters of one formatting.

    size: points as shown; weight: 1 to 1000; spacing: extra points between
    letters; baseline: share of the size by which the text is raised (lowered
    when negative), its size being the reduced one already; shadow: painted
    below the text, on the page's axes; fixed: why its colour can't be changed
    in the file, empty when it can; origin: where the
    colour is decided, in words; address: where it can be changed; trouble: why
    the colour isn't known, empty when it is; invisible: it has no fill at all;
    small_capitals: lower-case letters are painted as smaller capitals; fill:
    what its glyphs are filled with when not with one colour, in the block's
    coordinates; outline: drawn round its glyphs; hollow: the outline is all
    there is, and `colour` is its own; shades: all the colours that its glyphs
    show, when there is more than one; why_shades: what that comes from, when not
    from a gradient, a pattern or an outline; unsized: why its size isn't known,
    so that nobody can say whether it is large-scale; field: what it tells, such as
    the page's number, empty for plain words; x_height: as a share of the size, 0 where the
    font is to be asked; haze: what may lie right behind its letters; deciders: the places
    beyond it where its colour is decided, nearest first.
    """

    text: str
    colour: Colour
    family: str
    size: float
    weight: int
    origin: str
    address: str
    italic: bool = False
    underline: bool = False
    strike: bool = False
    spacing: float = 0.0
    baseline: float = 0.0
    highlight: Colour | None = None
    link: bool = False
    trouble: str = ""
    invisible: bool = False
    shadow: Shadow | None = None
    fixed: str = ""
    small_capitals: bool = False
    fill: Fill | None = None
    outline: Stroke | None = None
    hollow: bool = False
    shades: tuple[Colour, ...] = ()
    why_shades: str = ""
    unsized: str = ""
    field: str = ""
    x_height: float = 0.0
    haze: Haze | None = None
    deciders: tuple[Decider, ...] = ()


@dataclass(frozen=True)
class Spacing:
    """A distance between lines: a share of the natural one, or points when exact."""

    share: float = 1.0
    points: float | None = None


@dataclass(frozen=True)
class TabStop:
    """A place in points from the box's side, and what of the text after the tab stands there.

    align: left, centre, right, or decimal for its decimal point.
    """

    place: float
    align: str = "left"


@dataclass(frozen=True)
class Paragraph:
    """Runs between two paragraph marks.

    left, right, first: the margins and the first line's further indent in
    points; before, after: room above and below; bullet: its label, painted at
    the first line's start; right_to_left: its base direction, in which `first`
    counts from the right margin; tabs: its stops, rising; tab_width: the
    distance of further stops.
    """

    runs: tuple[Run, ...]
    align: Align = Align.LEFT
    left: float = 0.0
    right: float = 0.0
    first: float = 0.0
    spacing: Spacing = Spacing()
    before: Spacing = Spacing(0.0)
    after: Spacing = Spacing(0.0)
    bullet: Run | None = None
    right_to_left: bool = False
    tabs: tuple[TabStop, ...] = ()
    tab_width: float = 72.0


@dataclass(frozen=True)
class TextBlock:
    """Paragraphs in a box.

    box: where the text may stand, insets taken off, before `transform`, which
    leads to the page; wraps: lines break at the box's width; where: the place
    in words, as the report gives it; doubt: why the placement may be wrong by
    more than a line, empty when it isn't in doubt; region: where else the text
    may stand when it is, the box when None; estimated: it was placed by flowing
    it anew, as programs do, but none like another; bare: the rectangle of its
    own shape, before `transform`, where that has no fill and can be given one.
    """

    paragraphs: tuple[Paragraph, ...]
    box: Box
    transform: Affine
    where: str
    anchor: Anchor = Anchor.TOP
    wraps: bool = True
    doubt: str = ""
    region: Box | None = None
    estimated: bool = False
    bare: Box | None = None


# What no page of a person's has in one paragraph; laying it out takes minutes.
MOST_LETTERS = 100_000
MOST_IN_WORD = 20_000
MOST_TABS = 2_000
MOST_BREAKS = 5_000
MOST_RUNS = 10_000
# So many letters stand for such a paragraph.
KEPT_OF_ABSURD = 400
# Without an opportunity to break a line: blanks, and scripts that are written without them.
_UNBROKEN = re.compile("[^\\s\u2e80-\u9fff\uac00-\ud7af\uf900-\ufaff\uff01-\uffef]+")


def within_reason(runs: tuple[Run, ...]) -> tuple[Run, ...]:
    """Give a paragraph's runs; of one that nobody could lay out its beginning, which needs eyes."""
    if sum(len(run.text) for run in runs) <= MOST_TABS:
        return runs
    text = "".join(run.text for run in runs)
    if text.count("\t") > MOST_TABS:
        why = f"its paragraph has more than {MOST_TABS:,} tabs"
    elif text.count("\n") > MOST_BREAKS:
        why = f"its paragraph has more than {MOST_BREAKS:,} line breaks"
    elif max((len(each.group()) for each in _UNBROKEN.finditer(text)), default=0) > MOST_IN_WORD:
        why = f"it has a word of more than {MOST_IN_WORD:,} letters"
    elif len(runs) > MOST_RUNS:
        why = f"its paragraph has more than {MOST_RUNS:,} runs"
    elif len(text) > MOST_LETTERS:
        why = f"its paragraph has more than {MOST_LETTERS:,} letters"
    else:
        return runs
    first = next((run for run in runs if run.text.strip()), runs[0])
    kept = " ".join(text.split())[:KEPT_OF_ABSURD]
    return (replace(first, text=kept, trouble=f"{why}, so it isn't laid out"),)


def with_each_run(block: TextBlock, change: Callable[[Run], Run]) -> TextBlock:
    """Give a block with each of its runs changed, bullets and numbers too."""
    return replace(
        block,
        paragraphs=tuple(
            replace(
                paragraph,
                runs=tuple(change(run) for run in paragraph.runs),
                bullet=change(paragraph.bullet) if paragraph.bullet else None,
            )
            for paragraph in block.paragraphs
        ),
    )
