"""Edits one after another: which are in force, and what they change."""

from __future__ import annotations

from collections.abc import Iterable

from high_pair.edits.kinds import Edit
from high_pair.scene.addresses import expand


def in_force(edits: Iterable[Edit]) -> tuple[Edit, ...]:
    """Give the edits that count, in order: a later one replaces an earlier one of its key.

    Changes of size, weight and underline are put together.
    """
    found: dict[tuple[str, ...], Edit] = {}
    for edit in edits:
        before = found.pop(edit.key, None)
        if edit.lasts:
            found[edit.key] = edit.over(before)
    return tuple(found.values())


def changed_by(edits: Iterable[Edit]) -> frozenset[str]:
    """Give the single addresses of the texts that edits change, or lay something behind."""
    return frozenset(
        single for edit in edits for address in edit.texts for single in expand(address)
    )
