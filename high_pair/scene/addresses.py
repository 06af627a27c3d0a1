"""Addresses: where in a file something can be changed.

An address is a part of the file and the steps that lead from there to a place.
It travels as text, `member#step/step/…`, each step `name=value` or a name alone;
formats make it by `address_in` and `address_below`, and take it apart by
`Address.of`. Several runs of one paragraph are written as one address whose last
step holds a range: `ppt/slides/slide1.xml#sp=2/p=1/r=1-3`.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

_LAST_NUMBER = re.compile(r"^(.*=)(\d+)$")
_LAST_RANGE = re.compile(r"^(.*=)(\d{1,18})-(\d{1,18})$")
MOST_IN_SPAN = 200_000
# What has a meaning of its own in an address is written otherwise where it is a part of a name.
_ESCAPES = {"%": "%25", "#": "%23", "/": "%2F", "=": "%3D", "-": "%2D"}
_ESCAPED = re.compile("%(?:25|23|2F|3D|2D)")
_LIKE_A_RANGE = re.compile(r"\d+-\d+")
_MEANT = {written: sign for sign, written in _ESCAPES.items()}
# What an address of a place in a part of a file may have; longer ones are nobody's.
MOST_DIGITS = 18


@dataclass(frozen=True)
class Step:
    """One step of an address. value: which of those of its name; empty for a name alone."""

    name: str
    value: str = ""

    @property
    def number(self) -> int | None:
        """Its value as a number, from 0; None where it is none."""
        plain = self.value.isascii() and self.value.isdecimal() and len(self.value) <= MOST_DIGITS
        return int(self.value) if plain else None


NOWHERE = Step("")


@dataclass(frozen=True)
class Address:
    """An address taken apart. member: the part of the file."""

    member: str
    steps: tuple[Step, ...]

    @classmethod
    def of(cls, text: str) -> Address:
        """Take an address apart, one that has no range."""
        member, _, steps = text.partition("#")
        entries = (step.partition("=") for step in steps.split("/")) if steps else ()
        found = tuple(Step(name, _meant(value)) for name, _, value in entries)
        return cls(_meant(member), found)

    def __str__(self) -> str:
        """Write it as it travels."""
        text = _escaped(self.member, "%#") + "#"
        return text + "/".join(_written(step.name, step.value) for step in self.steps)

    @property
    def first(self) -> Step:
        """Its first step."""
        return self.steps[0] if self.steps else NOWHERE

    @property
    def last(self) -> Step:
        """Its last step."""
        return self.steps[-1] if self.steps else NOWHERE

    @property
    def outer(self) -> Address:
        """The address without its last step."""
        return Address(self.member, self.steps[:-1])

    def step(self, name: str) -> Step | None:
        """Give the first step of a name, None where there is none."""
        return next((step for step in self.steps if step.name == name), None)

    def up_to(self, *names: str) -> Address:
        """Give the address without its last step, if that is of one of these names."""
        return self.outer if self.last.name in names else self


def _escaped(text: str, signs: str) -> str:
    for sign in signs:
        text = text.replace(sign, _ESCAPES[sign])
    return text


def _meant(text: str) -> str:
    return _ESCAPED.sub(lambda match: _MEANT[match.group()], text) if "%" in text else text


def _written(name: str, value: object) -> str:
    if value == "" or isinstance(value, int):
        return f"{name}={value}" if value != "" else name
    signs = "%#/=-" if _LIKE_A_RANGE.fullmatch(str(value)) else "%#/="
    return f"{name}={_escaped(str(value), signs)}"


def address_in(member: str, **steps: object) -> str:
    """Write the address of steps in a part of a file. steps: values; empty for a name alone."""
    return f"{_escaped(member, '%#')}#{_joined(steps)}"


def address_below(address: str, **steps: object) -> str:
    """Write the address of further steps from an address."""
    return f"{address}/{_joined(steps)}"


def _joined(steps: Mapping[str, object]) -> str:
    return "/".join(_written(name, value) for name, value in steps.items())


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
    return _meant(address.partition("#")[0])


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
