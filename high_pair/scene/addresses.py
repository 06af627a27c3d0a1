"""Addresses: where in a file something can be changed.

An address is `member#step/step/…`, each step `name=value`; formats make and
read them. Several runs of one paragraph are written as one address whose last
step holds a range: `ppt/slides/slide1.xml#sp=2/p=1/r=1-3`.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

_LAST_NUMBER = re.compile(r"^(.*=)(\d+)$")
_LAST_RANGE = re.compile(r"^(.*=)(\d{1,18})-(\d{1,18})$")
MOST_IN_SPAN = 200_000


def span(addresses: Sequence[str]) -> str:
    """Write neighbouring addresses that differ in their last number as one.

    Those that don't fit together are joined with blanks; all are of one part of the file.
    """
    unique = list(dict.fromkeys(addresses))
    if len(unique) == 1:
        return unique[0]
    matches = [_LAST_NUMBER.match(address) for address in unique]
    if all(matches) and len({match.group(1) for match in matches if match}) == 1:
        numbers = [int(match.group(2)) for match in matches if match]
        if numbers == list(range(numbers[0], numbers[-1] + 1)):
            return f"{unique[0]}-{numbers[-1]}"
    return " ".join(unique)


def parts_of(address: str) -> list[str]:
    """Give the addresses that `span` joined with blanks, each still with its range.

    All are of one part of the file, whose own name may have blanks, as names of styles do.
    """
    member, mark, _ = address.partition("#")
    first, *others = address.split(f" {member}#") if mark else [address]
    return [first, *(f"{member}#{steps}" for steps in others)]


def member_of(address: str) -> str:
    """Give the part of a file that an address lies in."""
    return address.partition("#")[0]


def expand(address: str) -> list[str]:
    """Give the single addresses that `span` wrote as one.

    A range that no paragraph's runs could fill is an address of nothing, and stays as it is.
    """
    found: list[str] = []
    for part in parts_of(address):
        match = _LAST_RANGE.match(part)
        first, last = (int(match.group(2)), int(match.group(3))) if match else (0, 0)
        if match and last - first < MOST_IN_SPAN:
            found.extend(f"{match.group(1)}{number}" for number in range(first, last + 1))
        else:
            found.append(part)
    return found
