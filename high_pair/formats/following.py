"""Following addresses through the XML of a file, as all formats do it."""

from __future__ import annotations

from collections.abc import Sequence

from high_pair.errors import EditError
from high_pair.formats.xml import Element
from high_pair.scene.addresses import Step


def gone(address: object) -> EditError:
    """Give the error for an address that leads nowhere."""
    return EditError(
        f"{address} isn't in the file any more. Open the file again and repeat the change."
    )


def nth(found: Sequence[Element], step: Step | None, address: object) -> Element:
    """Give the element that a step counts, from 1. Raises EditError where there is none."""
    number = step.number if step is not None else None
    if number is None or not 1 <= number <= len(found):
        raise gone(address)
    return found[number - 1]
