"""Cutting a page's text into stretches of one look."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.raster.page import LabelledBlock
from high_pair.scene.addresses import span
from high_pair.scene.text import Paragraph, Run


@dataclass(frozen=True)
class Stretch:
    """Neighbouring runs of one paragraph with the same look, and their words' numbers.

    numbers: of its words on the page's raster, in order, with each word's text.
    """

    runs: tuple[Run, ...]
    labelled: LabelledBlock
    paragraph: int
    words: tuple[tuple[int, str], ...]
    bullet: bool

    @property
    def look(self) -> Run:
        """A run that stands for the look of all."""
        return self.runs[0]

    @property
    def text(self) -> str:
        """The whole text, its ends trimmed."""
        return " ".join("".join(run.text for run in self.runs).split())

    @property
    def address(self) -> str:
        """Where the colour of the whole stretch can be changed."""
        return span([run.address for run in self.runs])


def same_look(one: Run, other: Run) -> bool:
    """Tell whether two runs look the same: colour, size, weight, and what marks a link."""
    return (
        one.colour == other.colour
        and one.size == other.size
        and one.weight == other.weight
        and one.highlight == other.highlight
        and one.haze == other.haze
        and one.link == other.link
        and (not one.link or one.underline == other.underline)
        and one.trouble == other.trouble
        and one.shadow == other.shadow
        and one.invisible == other.invisible
        and one.shades == other.shades
        and one.unsized == other.unsized
    )


def stretches_of(labelled: LabelledBlock) -> list[Stretch]:
    """Give a block's stretches in reading order; white space alone makes none."""
    words_by_run: dict[tuple[int, int, bool], list[tuple[int, str]]] = {}
    for offset, word in enumerate(labelled.words):
        key = (word.paragraph, id(word.run), word.bullet)
        words_by_run.setdefault(key, []).append((labelled.first + offset, word.text))
    found: list[Stretch] = []
    for number, paragraph in enumerate(labelled.block.paragraphs):
        if paragraph.bullet:
            label_words = words_by_run.get((number, id(paragraph.bullet), True), [])
            if label_words and not _joins(paragraph):
                bullet = (paragraph.bullet,)
                found.append(Stretch(bullet, labelled, number, tuple(label_words), True))
                label_words = []
        else:
            label_words = []
        groups: list[list[Run]] = []
        for run in paragraph.runs:
            # White space takes part in the stretch before it, whatever its own look.
            joins = groups and (same_look(groups[-1][0], run) or not run.text.strip())
            if joins:
                groups[-1].append(run)
            else:
                groups.append([run])
        for group in groups:
            words = [
                word for run in group for word in words_by_run.get((number, id(run), False), [])
            ]
            inked = [run for run in group if run.text.strip()]
            if words and inked:
                # A label of the same look is measured with the text that it leads.
                words, label_words = label_words + words, []
                found.append(Stretch(_trimmed(group), labelled, number, tuple(words), False))
    return found


def _joins(paragraph: Paragraph) -> bool:
    """Tell whether a paragraph's label has the look of the text that it leads."""
    first = next((run for run in paragraph.runs if run.text.strip()), None)
    label = paragraph.bullet
    return label is not None and first is not None and same_look(label, first)


def _trimmed(group: list[Run]) -> tuple[Run, ...]:
    """Leave out blank runs at a group's ends."""
    start, stop = 0, len(group)
    while not group[start].text.strip():
        start += 1
    while not group[stop - 1].text.strip():
        stop -= 1
    return tuple(group[start:stop])
