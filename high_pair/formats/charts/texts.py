"""Text in charts: its look, and blocks of it with their places (§21.2.2.220, §21.2.2.156)."""

from __future__ import annotations

import copy
from collections.abc import Sequence
from dataclasses import dataclass

from lxml import etree

from high_pair.formats.charts.looks import solid_colour
from high_pair.formats.drawing.colours import Palette
from high_pair.formats.drawing.fills import NOTHING, Fill
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.surround import Placed
from high_pair.formats.drawing.text_styles import Cascade
from high_pair.formats.xml import Element, child, children, local_name, tag
from high_pair.scene.addresses import address_below
from high_pair.scene.geometry import Affine, Box
from high_pair.scene.text import Align, Anchor, Paragraph, Run, TextBlock, within_reason

DOUBT = "the place of a chart's text is only estimated, and not all that lies there is alike"
FIXED = "The colours of a chart's text come from the chart. Change them there."
# What programs show where nothing says a size, more or less; see `unsized` of a run.
PLAIN_SIZE = 10.0
NO_SIZE = "the size of a chart's text isn't stated in the file"
OWN_FILL = "a part of a chart has a fill that isn't one colour"


@dataclass(frozen=True)
class ChartPlace:
    """Where a chart stands: its place, the words for the report, and its addresses' prefix."""

    placed: Placed
    words: str
    address: str


def only_paragraph(paragraph: Element) -> Element:
    """Give something whose first paragraph is this one, as text properties have it."""
    holder = etree.Element(tag("c:txPr"))
    copied = etree.SubElement(holder, tag("a:p"))
    properties = child(paragraph, "a:pPr")
    if properties is not None:
        copied.append(copy.deepcopy(properties))
    return holder


class ChartTexts:
    """Makes the runs and blocks of one chart, numbered as they come."""

    def __init__(self, root: Element, place: ChartPlace, parts: Setting, palette: Palette) -> None:
        self._root = root
        self._place = place
        self._parts = parts
        self._palette = palette
        self._count = 0

    def cascade(self, *holders: Element | None) -> Cascade:
        """Put the text properties of a part and of the whole chart together, nearest first."""
        runs: list[tuple[str, Element]] = []
        paragraphs: list[Element] = []
        words = ["chart's part"] * len(holders) + ["chart's text"]
        for name, holder in zip(words, (*holders, child(self._root, "c:txPr")), strict=True):
            properties = child(holder, "a:p", "a:pPr")
            if properties is None:
                continue
            paragraphs.append(properties)
            defaults = child(properties, "a:defRPr")
            if defaults is not None:
                runs.append((name, defaults))
        return Cascade(tuple(paragraphs), tuple(runs))

    def run(
        self,
        text: str,
        cascade: Cascade,
        own: Element | None = None,
        growth: float = 1.0,
        behind: Fill = NOTHING,
        trouble: str = "",
    ) -> Run:
        """Make a run. growth: of a size that isn't the run's own; behind: its box's own fill."""
        self._count += 1
        chosen = cascade.colour(own, self._palette)
        stated = cascade.run_attribute(own, "sz")
        stated_here = own is not None and own.get("sz") is not None
        size = cascade.size(own) if stated else PLAIN_SIZE
        size *= 1.0 if stated_here else growth
        if chosen.fill is not None:
            trouble = trouble or "text of a chart in several colours isn't measured yet"
        highlight = solid_colour(behind)
        if behind != NOTHING and highlight is None:
            trouble = trouble or OWN_FILL
        return Run(
            text=text,
            colour=chosen.colour,
            family=cascade.family(own, self._parts.theme),
            size=size,
            weight=700 if cascade.style(own, "b") else 400,
            origin=chosen.origin,
            address=address_below(self._place.address, text=self._count),
            italic=cascade.style(own, "i"),
            highlight=highlight,
            trouble=trouble or chosen.trouble,
            unsized="" if stated else NO_SIZE,
            invisible=chosen.invisible,
            fixed=FIXED,
        )

    def rich(
        self, rich: Element, around: Element | None, growth: float, behind: Fill, trouble: str = ""
    ) -> list[list[Run]]:
        """Make the runs of written text (c:rich), paragraph by paragraph."""
        lines: list[list[Run]] = []
        for paragraph in rich.findall(tag("a:p")):
            cascade = self.cascade(only_paragraph(paragraph), around)
            runs = []
            for each in children(paragraph):
                holder = child(each, "a:t")
                if local_name(each) in ("r", "fld") and holder is not None:
                    own = child(each, "a:rPr")
                    runs.append(self.run(holder.text or "", cascade, own, growth, behind, trouble))
            lines.append(runs)
        return lines

    def block(
        self,
        paragraphs: Sequence[Paragraph],
        box: Box,
        words: str,
        region: Box,
        anchor: Anchor = Anchor.MIDDLE,
        transform: Affine | None = None,
        wraps: bool = True,
    ) -> TextBlock | None:
        """Make a block; None without words. region: where else its text may stand."""
        if not any(run.text.strip() for paragraph in paragraphs for run in paragraph.runs):
            return None
        return TextBlock(
            tuple(paragraphs),
            box,
            transform or self._place.placed.upright,
            f"{self._place.words} › {words}",
            anchor,
            wraps=wraps,
            doubt=DOUBT,
            region=region,
        )


def centred(lines: Sequence[Sequence[Run]]) -> list[Paragraph]:
    """Make a centred paragraph of each line."""
    return [Paragraph(within_reason(tuple(runs)), Align.CENTRE) for runs in lines if runs]
