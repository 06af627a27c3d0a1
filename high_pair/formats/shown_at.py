"""Which pages of a flowed document show what can be changed at an address."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from high_pair.raster.flow import FlowedPage
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
