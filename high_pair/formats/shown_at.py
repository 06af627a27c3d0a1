"""Which pages of a flowed document show what can be changed at an address."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from high_pair.edits.kinds import Edit, Restyle
from high_pair.raster.flow import FlowedPage
from high_pair.scene.addresses import Address, expand
from high_pair.scene.page import Figure, Picture
from high_pair.scene.text import TextBlock


def pages_showing(pages: Sequence[FlowedPage], paragraph: str) -> Mapping[str, set[int]]:
    """Give the pages by address; of what is in a paragraph by that of the paragraph.

    paragraph: the name of the step that leads to one.
    """
    found: dict[str, set[int]] = {}
    for count, page in enumerate(pages):
        for address in dict.fromkeys(_addresses(page)):
            found.setdefault(_shown_by(address, paragraph), set()).add(count)
    return found


def _shown_by(text: str, paragraph: str) -> str:
    address = Address.of(text)
    if address.first.name != paragraph:
        return text
    return str(Address(address.member, address.steps[:1]))


def _addresses(page: FlowedPage) -> Iterator[str]:
    for item in page.items:
        if isinstance(item, TextBlock):
            for each in item.paragraphs:
                labelled = (each.bullet,) if each.bullet else ()
                yield from (run.address for run in (*each.runs, *labelled))
        elif isinstance(item, Figure | Picture) and item.address:
            yield item.address


def pages_touched_by(
    edits: Sequence[Edit], shown: Mapping[str, set[int]], count: int, paragraph: str
) -> frozenset[int]:
    """Tell which pages may look different: all after a change of size, else those it is on.

    shown: see `pages_showing`; count: of all pages.
    """
    found: set[int] = set()
    for edit in edits:
        for address in expand(edit.address):
            pages = shown.get(_shown_by(address, paragraph))
            if pages is None or isinstance(edit, Restyle):
                return frozenset(range(count))
            found |= pages
    return frozenset(found)
