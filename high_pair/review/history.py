"""What a reviewer has decided, and going back and forth in it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from high_pair.remedy.edits import (
    Edit,
    LayOver,
    MarkText,
    RecolourFill,
    RecolourOrigin,
    Restyle,
    SetAside,
    TakeOff,
    TakeUp,
    UnmarkText,
)
from high_pair.scene.addresses import expand


@dataclass(frozen=True)
class Decision:
    """One step of the work: the file it is about, its edits, and words for the menu."""

    file: int
    words: str
    edits: tuple[Edit, ...]


def changed_by(edits: Iterable[Edit]) -> frozenset[str]:
    """Give the single addresses of the texts that edits change, or lay something behind.

    Boxes change nothing.
    """
    found: set[str] = set()
    for edit in edits:
        told = edit.serves if isinstance(edit, LayOver | RecolourOrigin | RecolourFill) else None
        addresses = (edit.address,) if told is None else told
        if not isinstance(edit, MarkText | UnmarkText | TakeOff | SetAside | TakeUp):
            found.update(single for address in addresses for single in expand(address))
    return frozenset(found)


def _matter(edit: Edit) -> tuple[str, ...]:
    """Say what an edit is about: one of the same matter replaces it, any other stands beside it."""
    if isinstance(edit, SetAside | TakeUp):
        return ("judging", edit.address, edit.subject)
    if isinstance(edit, LayOver | TakeOff):
        return ("overlay", edit.address)
    if isinstance(edit, MarkText | UnmarkText):
        return ("box", edit.address)
    return (type(edit).__name__, edit.address)


def _both(before: Restyle, after: Restyle) -> Restyle:
    """Put two changes of size and weight together, the later one first."""
    return Restyle(
        after.address,
        before.size if after.size is None else after.size,
        before.bold if after.bold is None else after.bold,
    )


@dataclass(frozen=True)
class History:
    """The decisions taken, and those undone that can be taken again."""

    taken: tuple[Decision, ...] = ()
    undone: tuple[Decision, ...] = ()

    def with_decision(self, decision: Decision) -> History:
        """Take a decision; what was undone is forgotten."""
        return History((*self.taken, decision), ())

    def back(self) -> History:
        """Undo the last decision; the same history when there is none."""
        if not self.taken:
            return self
        return History(self.taken[:-1], (self.taken[-1], *self.undone))

    def forth(self) -> History:
        """Take the decision undone last again."""
        if not self.undone:
            return self
        return History((*self.taken, self.undone[0]), self.undone[1:])

    def without_file(self, file: int) -> History:
        """Forget all that was decided about a file."""
        return History(
            tuple(each for each in self.taken if each.file != file),
            tuple(each for each in self.undone if each.file != file),
        )

    def edits_of(self, file: int) -> tuple[Edit, ...]:
        """Give what changes a file, in order; a later edit replaces an earlier of its address."""
        return tuple(edit for edit in self._in_force(file) if not isinstance(edit, SetAside))

    def set_aside(self, file: int) -> dict[tuple[str, str], SetAside]:
        """Give what was set aside in a file, by address and subject."""
        return {
            (edit.address, edit.subject): edit
            for edit in self._in_force(file)
            if isinstance(edit, SetAside)
        }

    def _in_force(self, file: int) -> tuple[Edit, ...]:
        in_force: dict[tuple[str, ...], Edit] = {}
        for decision in self.taken:
            for edit in decision.edits if decision.file == file else ():
                key = _matter(edit)
                before = in_force.pop(key, None)
                if isinstance(edit, Restyle) and isinstance(before, Restyle):
                    edit = _both(before, edit)
                if not isinstance(edit, TakeUp):
                    in_force[key] = edit
        return tuple(in_force.values())

    def changed_addresses(self, file: int) -> frozenset[str]:
        """Give the single addresses of the texts of a file that its edits change."""
        return changed_by(self.edits_of(file))

    def boxes_of(self, file: int) -> int:
        """Count the boxes drawn round text in a file's pictures."""
        return sum(isinstance(edit, MarkText) for edit in self.edits_of(file))
