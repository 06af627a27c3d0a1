"""Text that is shrunk to fit its shape, where no scale is stated (ODF 1.3 Part 3 §20.129).

The scale is found by setting the text smaller and smaller. Programs shrink in steps of their own,
so what depends on the size has to hold for a step either way, and the place anywhere in the box.
"""

from __future__ import annotations

from dataclasses import replace

from high_pair.raster.layout import text_height
from high_pair.scene.text import Paragraph, Run, Spacing, TextBlock, with_each_run
from high_pair.wcag.criteria import size_class

SHRUNK = "its size is shrunk to fit its shape, by steps that differ from program to program"
SMALLEST = 0.1
# Of a scale found by halving so many times the last digit is no longer seen.
HALVINGS = 10
STEP = 0.1


def shrunk_to_fit(block: TextBlock) -> TextBlock:
    """Give a block whose text is as much smaller as it takes to fit its box."""
    low, high = SMALLEST, 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        if text_height(_scaled(block, middle)) <= block.box.height:
            low = middle
        else:
            high = middle

    def change(run: Run) -> Run:
        sizes = (run.size * low * share for share in (1 - STEP, 1.0, 1 + STEP))
        classes = {size_class(size, run.weight) for size in sizes}
        unsized = run.unsized or (SHRUNK if len(classes) > 1 else "")
        return replace(run, unsized=unsized)

    found = _scaled(with_each_run(block, change), low)
    return replace(found, doubt=block.doubt or SHRUNK)


def _scaled(block: TextBlock, scale: float) -> TextBlock:
    def smaller(run: Run) -> Run:
        return replace(run, size=max(0.1, run.size * scale), spacing=run.spacing * scale)

    def nearer(paragraph: Paragraph) -> Paragraph:
        return replace(
            paragraph,
            before=_shorter(paragraph.before, scale),
            after=_shorter(paragraph.after, scale),
            spacing=_shorter(paragraph.spacing, scale),
        )

    block = with_each_run(block, smaller)
    return replace(block, paragraphs=tuple(nearer(each) for each in block.paragraphs))


def _shorter(spacing: Spacing, scale: float) -> Spacing:
    """Give a distance in points shorter; a share is of the smaller text already."""
    return spacing if spacing.points is None else replace(spacing, points=spacing.points * scale)
