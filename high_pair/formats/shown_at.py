"""Which pages of a flowed document show what can be changed at an address."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from high_pair.edits.kinds import Edit, Restyle
from high_pair.raster.flow import FlowedPage
from high_pair.scene.addresses import expand
from high_pair.scene.page import Figure, Picture
from high_pair.scene.text import TextBlock


def pages_showing(pages: Sequence[FlowedPage], paragraph: str) -> Mapping[str, set[int]]:
    """Give the pages by address; of texts by that of their paragraph, which holds `paragraph`."""
    found: dict[str, set[int]] = {}
    for count, page in enumerate(pages):
        for address in _addresses(page, paragraph):
            found.setdefault(address, set()).add(count)
    return found


def _addresses(page: FlowedPage, paragraph: str) -> Iterator[str]:
    for item in page.items:
        if isinstance(item, TextBlock):
            for each in item.paragraphs:
                labelled = (each.bullet,) if each.bullet else ()
                for run in (*each.runs, *labelled):
                    whole = run.address
                    yield whole.partition("/")[0] if paragraph in whole else whole
        elif isinstance(item, Figure | Picture) and item.address:
            address = item.address
            yield address.partition("/")[0] if paragraph in address else address


def pages_touched_by(
    edits: Sequence[Edit], shown: Mapping[str, set[int]], count: int, paragraph: str
) -> frozenset[int]:
    """Tell which pages may look different: all after a change of size, else those it is on.

    shown: see `pages_showing`; count: of all pages.
    """
    found: set[int] = set()
    for edit in edits:
        for address in expand(edit.address):
            pages = shown.get(address.partition("/")[0] if paragraph in address else address)
            if pages is None or isinstance(edit, Restyle):
                return frozenset(range(count))
            found |= pages
    return frozenset(found)
