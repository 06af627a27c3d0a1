"""What the cells of a table in a frame paint, and their text (ODF 1.3 Part 3 §9.1, §16.20)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from high_pair.formats.odf.fills import OdfFill, either
from high_pair.formats.odf.places import Place
from high_pair.formats.odf.tables import Cell, cell_fill, cells_of, size_of
from high_pair.formats.odf.text import TextReader, in_either_look
from high_pair.formats.xml import Element, tag
from high_pair.scene.addresses import address_below
from high_pair.scene.geometry import rectangle
from high_pair.scene.page import Figure, Item, Obstacle
from high_pair.scene.text import Paragraph, Run, TextBlock, with_each_run
from high_pair.scene.unsure import unsure_fill

if TYPE_CHECKING:
    from high_pair.formats.odf.shapes import ShapeReader

MOST_CELLS = 20_000


def table_items(
    reader: ShapeReader, shape: Element, table: Element, place: Place
) -> Iterator[Item]:
    """Give the items of a table's cells. reader: of the shapes among which its frame stands."""
    rows, columns = size_of(table)
    if rows * max(1, columns) > MOST_CELLS:
        yield Obstacle(place.box, place.transform, "the table is too large to be painted")
        return
    # The family of writers that skips what shapes' own styles say of text counts bands from zero.
    from_zero = reader.context.skips is True
    for cell in cells_of(table, place.box, reader.styles, reader.context.scope, from_zero):
        yield from _cell_items(reader, shape, cell, Place(cell.box, place.transform))


def _cell_items(reader: ShapeReader, shape: Element, cell: Cell, place: Place) -> Iterator[Item]:
    first, second = (_fill_of(reader, cell, chain) for chain in (cell.chain, cell.other))
    fill = first if first == second else either(first, second, cell.doubt)
    if fill.trouble:
        own = (rectangle(cell.box), cell.box, place.transform)
        yield from unsure_fill(*own, fill.shades, fill.trouble)
    else:
        address = address_below(_address(reader, shape, cell), fill="")
        for item in reader.filled(place, fill, rectangle(cell.box)):
            yield replace(item, address=address) if isinstance(item, Figure) else item
    block = _text_of(reader, shape, cell, place, cell.chain, first)
    if block is not None and cell.chain != cell.other:
        other = _text_of(reader, shape, cell, place, cell.other, second)
        yield _in_either_look(block, other, cell.doubt) if other is not None else block
    elif block is not None:
        yield _doubted(block, cell.doubt) if cell.doubt else block


def _address(reader: ShapeReader, shape: Element, cell: Cell) -> str:
    number = reader.numbers.get(shape, 0)
    return address_below(reader.context.address, shape=number, row=cell.row, cell=cell.column)


def _fill_of(reader: ShapeReader, cell: Cell, chain: Sequence[Element]) -> OdfFill:
    fill = cell_fill(chain, reader.styles, cell.box, reader.context.bare_is_tenths)
    if fill.stated:
        return fill
    unknown = cell.doubt and cell.chain == cell.other
    return OdfFill(trouble=cell.doubt) if unknown else OdfFill()


def _text_of(
    reader: ShapeReader,
    shape: Element,
    cell: Cell,
    place: Place,
    chain: Sequence[Element],
    fill: OdfFill,
) -> TextBlock | None:
    holder = reader.holder(shape, place, cell.box, chain, fill)
    styles = [(f"style {each.get(tag('style:name'), '')}", each) for each in chain]
    styles += [("default style", each) for each in reader.styles.default("graphic")]
    holder = replace(
        holder,
        where=f"{holder.where} › row {cell.row}, cell {cell.column}",
        address=_address(reader, shape, cell),
        shape_styles=tuple(styles),
        outline_prefix="",
        wraps=True,
        skipped=False,
    )
    return TextReader(reader.styles, holder, reader.context.fields).block(cell.element)


def _doubted(block: TextBlock, reason: str) -> TextBlock:
    """Say why a colour isn't known that no nearer style decides than the default one."""

    def change(run: Run) -> Run:
        unstated = run.origin.startswith(("default style", "automatic"))
        return replace(run, trouble=reason) if unstated else run

    return with_each_run(block, change)


def _in_either_look(block: TextBlock, other: TextBlock, doubt: str) -> TextBlock:
    """Say of a block's text that it may have the look of another of the same words."""
    others = iter([run for each in other.paragraphs for run in _all_runs(each)])
    own = [run for each in block.paragraphs for run in _all_runs(each)]
    looks = {id(run): next(others, run) for run in own}
    return with_each_run(block, lambda run: in_either_look(run, looks[id(run)], doubt))


def _all_runs(paragraph: Paragraph) -> tuple[Run, ...]:
    return (*paragraph.runs, *((paragraph.bullet,) if paragraph.bullet else ()))
