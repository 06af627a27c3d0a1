"""Where each line of a text block stands, by Skia's text layout."""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import skia

from high_pair.raster.fonts import (
    SANS,
    blank_width,
    collection,
    face_for,
    font_style,
    lacks_glyphs,
    natural_height,
)
from high_pair.scene.geometry import Box
from high_pair.scene.text import (
    Align,
    Anchor,
    Paragraph,
    Run,
    Spacing,
    TabStop,
    TextBlock,
    with_each_run,
)

# Scripts written without spaces have a word in each character.
_WORD = re.compile(
    "[\u2e80-\u9fff\uac00-\ud7af\uf900-\ufaff\uff01-\uffef]|"
    "[^\\s\u2e80-\u9fff\uac00-\ud7af\uf900-\ufaff\uff01-\uffef]+"
)
# Small capitals have this share of their text's size; the standards name none.
SMALL_CAPITALS = 0.8
# A highlight is so many times as thick as a line through the letters.
MARK = 18.0
# Round a line of right-to-left text: its base direction, which Skia's binding has no word for
# (Unicode Standard Annex 9: right-to-left embedding, pop directional formatting).
# Both without width: the one lets a line break, the other doesn't.
BREAK, JOINER = "\u200b", "\u2060"
EMBED, POP = "\u202b", "\u202c"
# Skia's layout rounds a line's ascent and descent to whole units. Laid out in
# units of a fraction of a point, that makes no difference.
UNITS = 32.0
# A line of this many points never breaks: the width of text that doesn't wrap.
UNBROKEN = 100_000.0

_ALIGNS = {
    Align.LEFT: skia.textlayout.TextAlign.kLeft,
    Align.CENTRE: skia.textlayout.TextAlign.kCenter,
    Align.RIGHT: skia.textlayout.TextAlign.kRight,
    Align.JUSTIFY: skia.textlayout.TextAlign.kJustify,
}

# Gives the paint for the n-th word of a block, and for the blanks (None).
PaintChooser = Callable[[int | None, Run], skia.Paint]


@dataclass(frozen=True)
class Word:
    """One word of a block: its text, run and paragraph, and whether it is a bullet."""

    text: str
    run: Run
    paragraph: int
    bullet: bool = False


@dataclass(frozen=True)
class PlacedParagraph:
    """A laid out paragraph and its top left corner, in the block's own points."""

    paragraph: skia.textlayout.Paragraph
    x: float
    y: float

    @property
    def width(self) -> float:
        """The longest line's width in points."""
        return float(self.paragraph.LongestLine) / UNITS

    @property
    def height(self) -> float:
        """The height in points."""
        return float(self.paragraph.Height) / UNITS

    @property
    def baseline(self) -> float:
        """The first line's baseline in points below the top."""
        return float(self.paragraph.AlphabeticBaseline) / UNITS

    def moved(self, x: float, y: float) -> PlacedParagraph:
        """Give the paragraph with its corner at another place."""
        return PlacedParagraph(self.paragraph, x, y)

    def paint(self, canvas: skia.Canvas) -> None:
        """Paint the paragraph on a canvas whose units are the block's points."""
        canvas.save()
        canvas.translate(self.x, self.y)
        canvas.scale(1 / UNITS, 1 / UNITS)
        self.paragraph.paint(canvas, 0.0, 0.0)
        canvas.restore()


def pieces(text: str) -> Iterator[tuple[str, bool]]:
    """Cut a run's text into words and what stands between them: (text, is a word)."""
    end = 0
    for match in _WORD.finditer(text):
        if match.start() > end:
            yield text[end : match.start()], False
        yield match.group(), True
        end = match.end()
    if end < len(text):
        yield text[end:], False


def words_of(block: TextBlock) -> tuple[Word, ...]:
    """List the words of a block in the order in which `lay_out` numbers them."""
    found: list[Word] = []
    for number, paragraph in enumerate(block.paragraphs):
        labelled = [(paragraph.bullet, True)] if paragraph.bullet else []
        for run, bullet in [*labelled, *((run, False) for run in paragraph.runs)]:
            found.extend(
                Word(piece, run, number, bullet) for piece, is_word in pieces(run.text) if is_word
            )
    return tuple(found)


def is_estimated(block: TextBlock) -> bool:
    """Tell whether a stand-in font or an approximation places the block's text."""
    if block.estimated:
        return True
    for paragraph in block.paragraphs:
        for run in (*paragraph.runs, *([paragraph.bullet] if paragraph.bullet else [])):
            face = face_for(run.family)
            if not face.exact or run.small_capitals:
                return True
            if lacks_glyphs(face.family, run.weight, run.italic, run.text):
                return True
        if not _is_placed_exactly(paragraph, block):
            return True
    return bool(block.doubt)


# The advance of a letter, as a share of the size, by which widths are changed.
ADVANCE = 0.5


def has_stand_ins(block: TextBlock) -> bool:
    """Tell whether some of a block's letters may be wider or narrower than they are painted."""
    return any(
        not face_for(run.family).same_widths
        for paragraph in block.paragraphs
        for run in (*paragraph.runs, *([paragraph.bullet] if paragraph.bullet else []))
        if run.text.strip()
    )


def with_widths(block: TextBlock, share: float) -> TextBlock:
    """Give a block whose stand-in letters are wider by a share, or narrower when it is negative."""

    def change(run: Run) -> Run:
        if face_for(run.family).same_widths:
            return run
        return replace(run, spacing=run.spacing + share * ADVANCE * run.size)

    return with_each_run(block, change)


def _is_placed_exactly(paragraph: Paragraph, block: TextBlock) -> bool:
    """Tell whether tabs and an outdented first line stand where they should: on single lines."""
    has_tabs = any("\t" in run.text for run in paragraph.runs)
    outdented = paragraph.first < 0 and paragraph.bullet is None
    if not has_tabs and not outdented:
        return True
    width = _tab_gaps(paragraph)[1]
    return not block.wraps or width <= block.box.width - paragraph.right


def _style(
    run: Run, paint: skia.Paint, spacing: Spacing, decorated: bool, marked: bool = False
) -> skia.textlayout.TextStyle:
    text = skia.textlayout
    style = text.TextStyle()
    family = face_for(run.family).family
    style.setFontFamilies([family, SANS])
    style.setFontSize(run.size * UNITS)
    style.setFontStyle(font_style(run.weight, run.italic))
    style.setForegroundPaint(paint)
    if run.spacing:
        style.setLetterSpacing(run.spacing * UNITS)
    if run.baseline:
        style.setBaselineShift(-run.baseline * run.size * UNITS)
    if spacing.points is not None:
        style.setHeight(spacing.points / run.size)
        style.setHeightOverride(True)
    elif spacing.share != 1.0:
        style.setHeight(spacing.share * natural_height(family, run.weight, run.italic))
        style.setHeightOverride(True)
    if decorated and (run.underline or run.strike):
        both = text.TextDecoration.kUnderline, text.TextDecoration.kLineThrough
        style.setDecoration(both[0] if run.underline else both[1])
        style.setDecorationColor(paint.getColor())
    if marked and run.highlight is not None:
        # A line through the letters, as thick as they are high.
        style.setDecoration(text.TextDecoration.kLineThrough)
        style.setDecorationColor(paint.getColor())
        style.setDecorationThicknessMultiplier(MARK)
    return style


class _Builder:
    """Builds the paragraphs of one block, numbering its words as `words_of` does."""

    def __init__(
        self,
        paint_for: PaintChooser,
        decorated: bool,
        marked: bool = False,
        plain: bool = False,
    ) -> None:
        self.paint_for = paint_for
        self.decorated = decorated
        self.marked = marked
        self.plain = plain
        self.next_word = 0
        # The style of the run at hand: making one anew for every word would take long.
        self._styled: tuple[Run, Spacing, skia.textlayout.TextStyle] | None = None

    def build(
        self,
        runs: tuple[Run, ...],
        align: Align,
        spacing: Spacing,
        spacer: float = 0.0,
        gaps: Sequence[float] = (),
        right_to_left: bool = False,
    ) -> skia.textlayout.Paragraph:
        """Build a paragraph.

        spacer: room in points before its first line; gaps: the width of each
        of its tabs.
        """
        style = skia.textlayout.ParagraphStyle()
        style.setTextAlign(_ALIGNS[align])
        last = runs[-1] if runs else None
        if last:
            style.setTextStyle(_style(last, self.paint_for(None, last), spacing, False))
        builder = skia.textlayout.ParagraphBuilder.make(
            style, collection(), skia.Unicodes.ICU.Make()
        )
        if right_to_left:
            builder.addText(EMBED)
        if spacer > 0 and last:
            self._add_room(builder, runs[0], spacer, spacing)
        widths = iter(gaps)
        for run in runs:
            for piece, is_word in self._with_blanks(run):
                if is_word:
                    paint = self.paint_for(self.next_word, run)
                    self.next_word += 1
                    for part, own in _letters_of(run, piece):
                        self._add(builder, own, part, paint, spacing)
                    continue
                for part in re.split("(\t)", piece):
                    if part == "\t":
                        self._add_room(builder, run, next(widths, 0.0), spacing, breaks=True)
                    elif part:
                        if right_to_left:
                            part = part.replace("\n", f"{POP}\n{EMBED}")
                        self._add(builder, run, part, self.paint_for(None, run), spacing)
        if right_to_left:
            builder.addText(POP)
        return builder.Build()

    def _with_blanks(self, run: Run) -> Iterator[tuple[str, bool]]:
        """Cut a run into its pieces, each word with the blanks after it where they show nothing."""
        if self.decorated or self.marked or run.small_capitals:
            yield from self._pieces(run)
            return
        word = ""
        for piece, is_word in self._pieces(run):
            if word and piece.strip(" ") == "":
                word += piece
                continue
            if word:
                yield word, True
            word = piece if is_word else ""
            if not is_word:
                yield piece, False
        if word:
            yield word, True

    def _pieces(self, run: Run) -> Iterator[tuple[str, bool]]:
        """Cut a run into what has a paint of its own: nothing, where only its extent is asked."""
        simple = self.plain and not run.small_capitals and "\t" not in run.text
        if simple and "\n" not in run.text:
            return iter([(run.text, True)] if run.text else [])
        return pieces(run.text)

    def _add(
        self,
        builder: skia.textlayout.ParagraphBuilder,
        run: Run,
        text: str,
        paint: skia.Paint,
        spacing: Spacing,
    ) -> None:
        if self._styled is None or self._styled[0] is not run or self._styled[1] is not spacing:
            style = _style(run, paint, spacing, self.decorated, self.marked)
            self._styled = (run, spacing, style)
        style = self._styled[2]
        # Pushed, it is copied: for the next word it takes another paint.
        style.setForegroundPaint(paint)
        if self.decorated or self.marked:
            style.setDecorationColor(paint.getColor())
        builder.pushStyle(style)
        builder.addText(text)
        builder.pop()

    def _add_room(
        self,
        builder: skia.textlayout.ParagraphBuilder,
        run: Run,
        width: float,
        spacing: Spacing,
        breaks: bool = False,
    ) -> None:
        """Add an empty stretch of a width in points: a blank with room after it.

        breaks: a line may end before it.
        """
        face = face_for(run.family).family
        blank = blank_width(face, run.weight, run.italic) * run.size
        style = _style(run, self.paint_for(None, run), spacing, False)
        style.setLetterSpacing((width - blank) * UNITS)
        # At the start of a line Skia shifts what follows by half of the first letter's spacing:
        # something without spacing and without width goes first.
        builder.addText(BREAK if breaks else JOINER)
        builder.pushStyle(style)
        builder.addText("\u00a0")
        builder.pop()


def _letters_of(run: Run, word: str) -> list[tuple[str, Run]]:
    """Cut a word into stretches of one size, which small capitals have two of."""
    if not run.small_capitals:
        return [(word, run)]
    small = replace(run, size=run.size * SMALL_CAPITALS)
    groups = itertools.groupby(word, key=str.islower)
    return [("".join(each).upper(), small if lower else run) for lower, each in groups]


def width_of(parts: Sequence[tuple[Run, str]]) -> float:
    """Give the width in points of text on one line, blanks at its end included.

    parts: runs, each with the words that count instead of its own.
    """
    runs = tuple(replace(run, text=text) for run, text in parts if text)
    if not runs:
        return 0.0
    blank = skia.Paint()
    builder = _Builder(lambda _number, _run: blank, decorated=False)
    drawn = builder.build(runs, Align.LEFT, Spacing())
    drawn.layout(UNBROKEN * UNITS)
    return float(drawn.MaxIntrinsicWidth) / UNITS


def _next_stop(paragraph: Paragraph, x: float) -> TabStop:
    """Give the stop that a tab at x, counted from the box's side, leads to."""
    own = [stop for stop in paragraph.tabs if stop.place > x + 0.01]
    if x + 0.01 < paragraph.left and not any(stop.place < paragraph.left for stop in own):
        # The margin that a first line hangs out of is a stop of its own.
        return TabStop(paragraph.left)
    if own:
        return own[0]
    width = max(1.0, paragraph.tab_width)
    return TabStop((math.floor((x + 0.01) / width) + 1) * width)


def _lines_of(paragraph: Paragraph) -> list[list[list[tuple[Run, str]]]]:
    """Cut a paragraph at its line breaks, and each line at its tabs."""
    lines: list[list[list[tuple[Run, str]]]] = [[[]]]
    for run in paragraph.runs:
        for part in re.split("([\t\n])", run.text):
            if part == "\n":
                lines.append([[]])
            elif part == "\t":
                lines[-1].append([])
            else:
                lines[-1][-1].append((run, part))
    return lines


def _tab_gaps(paragraph: Paragraph) -> tuple[list[float], float]:
    """Give the widths of a paragraph's tabs, and the x at which its widest line ends."""
    gaps: list[float] = []
    widest = 0.0
    for number, line in enumerate(_lines_of(paragraph)):
        hangs = number == 0 and paragraph.bullet is None
        x = paragraph.left + (paragraph.first if hangs else 0.0)
        x += width_of(line[0])
        for segment in line[1:]:
            stop = _next_stop(paragraph, x)
            width = width_of(segment)
            before = {"right": width, "centre": width / 2}.get(stop.align, 0.0)
            if stop.align == "decimal":
                before = width_of(_up_to_point(segment))
            gap = max(0.0, stop.place - before - x)
            gaps.append(gap)
            x += gap + width
        widest = max(widest, x)
    return gaps, widest


def _up_to_point(segment: Sequence[tuple[Run, str]]) -> list[tuple[Run, str]]:
    found = []
    for run, text in segment:
        whole, point, _ = text.partition(".")
        found.append((run, whole))
        if point:
            break
    return found


def _room(spacing: Spacing, runs: tuple[Run, ...]) -> float:
    """Give the points above or below a paragraph; shares are of its natural line height."""
    if spacing.points is not None:
        return spacing.points
    if not spacing.share or not runs:
        return 0.0
    size = max(run.size for run in runs)
    return spacing.share * size * 1.2


def _paragraph(
    builder: _Builder, paragraph: Paragraph, box: Box, wraps: bool
) -> tuple[list[PlacedParagraph], float]:
    """Lay out one paragraph from its own top: its label and its body, and its height."""
    label: PlacedParagraph | None = None
    mirrored = paragraph.right_to_left
    # The margin on the side where its lines begin, from which the first line is indented.
    start = paragraph.right if mirrored else paragraph.left
    spacer = max(0.0, paragraph.first)
    if paragraph.bullet:
        drawn = builder.build((paragraph.bullet,), Align.LEFT, paragraph.spacing)
        drawn.layout(UNBROKEN * UNITS)
        label = PlacedParagraph(drawn, 0.0, 0.0)
        away = max(0.0, start + paragraph.first)
        x = box.right - away - label.width if mirrored else box.x + away
        label = label.moved(x, 0.0)
        hanging = max(0.0, -paragraph.first)
        if label.width > hanging:
            spacer = label.width - hanging + 0.25 * paragraph.bullet.size
    gaps = _tab_gaps(paragraph)[0] if any("\t" in run.text for run in paragraph.runs) else []
    text = builder.build(paragraph.runs, paragraph.align, paragraph.spacing, spacer, gaps, mirrored)
    body = PlacedParagraph(text, box.x + paragraph.left, 0.0)
    room = max(1.0, box.width - paragraph.left - paragraph.right)
    if label is None and paragraph.first < 0:
        # A single line hangs out of the margin whole.
        outdent = min(-paragraph.first, start)
        text.layout(UNBROKEN * UNITS)
        if not wraps or body.width <= room + outdent:
            room += outdent
            body = body.moved(body.x - (0.0 if mirrored else outdent), 0.0)
    if wraps:
        text.layout(room * UNITS)
    else:
        text.layout(UNBROKEN * UNITS)
        # Room for rounding, or the last word would go to a line of its own.
        width = body.width + 1.0
        text.layout(width * UNITS)
        if paragraph.align is Align.CENTRE:
            body = body.moved(box.x + (box.width - width) / 2, 0.0)
        elif paragraph.align is Align.RIGHT:
            body = body.moved(box.right - width, 0.0)
    if label is None:
        return [body], body.height
    # A smaller label stands on the line of the text that it leads.
    drop = max(0.0, body.baseline - label.baseline)
    return [label.moved(label.x, drop), body], body.height


def lay_out(
    block: TextBlock,
    paint_for: PaintChooser,
    decorated: bool = False,
    marked: bool = False,
    plain: bool = False,
) -> list[PlacedParagraph]:
    """Lay out a block's paragraphs with the paints that `paint_for` gives its words.

    decorated: underlines and strikes are painted too; marked: the highlights are,
    and not the letters' own lines; plain: nothing but the extent is asked for. An
    empty paragraph takes the height of a line of its last run, which may hold no
    characters.
    """
    builder = _Builder(paint_for, decorated, marked, plain)
    placed: list[PlacedParagraph] = []
    y = 0.0
    for number, paragraph in enumerate(block.paragraphs):
        if number:
            y += _room(paragraph.before, paragraph.runs)
        parts, height = _paragraph(builder, paragraph, block.box, block.wraps)
        placed.extend(part.moved(part.x, part.y + y) for part in parts)
        y += height
        if number < len(block.paragraphs) - 1:
            y += _room(paragraph.after, paragraph.runs)
    spare = block.box.height - y
    shift = {Anchor.TOP: 0.0, Anchor.MIDDLE: spare / 2, Anchor.BOTTOM: spare}[block.anchor]
    top = block.box.y + shift
    return [part.moved(part.x, part.y + top) for part in placed]


def text_height(block: TextBlock) -> float:
    """Give the height in points that a block's text takes up."""
    blank = skia.Paint()
    placed = lay_out(replace(block, anchor=Anchor.TOP), lambda _number, _run: blank, plain=True)
    if not placed:
        return 0.0
    return max(part.y + part.height for part in placed) - block.box.y
