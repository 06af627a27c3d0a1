"""Where each line of a text block stands, by Skia's text layout."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import skia

from high_pair.raster.fonts import collection, face_for, font_style, lacks_glyphs, natural_height
from high_pair.scene.geometry import Box
from high_pair.scene.text import Align, Anchor, Paragraph, Run, Spacing, TextBlock

# Scripts written without spaces have a word in each character.
_WORD = re.compile(
    "[\u2e80-\u9fff\uac00-\ud7af\uf900-\ufaff\uff01-\uffef]|"
    "[^\\s\u2e80-\u9fff\uac00-\ud7af\uf900-\ufaff\uff01-\uffef]+"
)
TAB = "\u00a0" * 4
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
    for paragraph in block.paragraphs:
        for run in (*paragraph.runs, *([paragraph.bullet] if paragraph.bullet else [])):
            face = face_for(run.family)
            if not face.exact or "\t" in run.text:
                return True
            if lacks_glyphs(face.family, run.weight, run.italic, run.text):
                return True
    return bool(block.doubt)


def _style(
    run: Run, paint: skia.Paint, spacing: Spacing, decorated: bool
) -> skia.textlayout.TextStyle:
    text = skia.textlayout
    style = text.TextStyle()
    family = face_for(run.family).family
    style.setFontFamilies([family])
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
    return style


class _Builder:
    """Builds the paragraphs of one block, numbering its words as `words_of` does."""

    def __init__(self, paint_for: PaintChooser, decorated: bool) -> None:
        self.paint_for = paint_for
        self.decorated = decorated
        self.next_word = 0

    def build(
        self, runs: tuple[Run, ...], align: Align, spacing: Spacing, spacer: float = 0.0
    ) -> skia.textlayout.Paragraph:
        style = skia.textlayout.ParagraphStyle()
        style.setTextAlign(_ALIGNS[align])
        last = runs[-1] if runs else None
        if last:
            style.setTextStyle(_style(last, self.paint_for(None, last), spacing, False))
        builder = skia.textlayout.ParagraphBuilder.make(
            style, collection(), skia.Unicodes.ICU.Make()
        )
        if spacer > 0 and last:
            first = runs[0]
            gap = _style(first, self.paint_for(None, first), spacing, False)
            gap.setLetterSpacing(max(0.0, spacer - 0.25 * first.size) * UNITS)
            builder.pushStyle(gap)
            builder.addText("\u00a0")
            builder.pop()
        for run in runs:
            for piece, is_word in pieces(run.text.replace("\t", TAB)):
                number = None
                if is_word:
                    number, self.next_word = self.next_word, self.next_word + 1
                builder.pushStyle(_style(run, self.paint_for(number, run), spacing, self.decorated))
                builder.addText(piece)
                builder.pop()
        return builder.Build()


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
    spacer = max(0.0, paragraph.first)
    if paragraph.bullet:
        drawn = builder.build((paragraph.bullet,), Align.LEFT, paragraph.spacing)
        drawn.layout(UNBROKEN * UNITS)
        label = PlacedParagraph(drawn, box.x + max(0.0, paragraph.left + paragraph.first), 0.0)
        hanging = max(0.0, -paragraph.first)
        if label.width > hanging:
            spacer = label.width - hanging + 0.25 * paragraph.bullet.size
    text = builder.build(paragraph.runs, paragraph.align, paragraph.spacing, spacer)
    body = PlacedParagraph(text, box.x + paragraph.left, 0.0)
    if wraps:
        text.layout(max(1.0, box.width - paragraph.left - paragraph.right) * UNITS)
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
    block: TextBlock, paint_for: PaintChooser, decorated: bool = False
) -> list[PlacedParagraph]:
    """Lay out a block's paragraphs with the paints that `paint_for` gives its words.

    decorated: underlines and strikes are painted too. An empty paragraph takes
    the height of a line of its last run, which may hold no characters.
    """
    builder = _Builder(paint_for, decorated)
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
    placed = lay_out(replace(block, anchor=Anchor.TOP), lambda _number, _run: blank)
    if not placed:
        return 0.0
    return max(part.y + part.height for part in placed) - block.box.y
