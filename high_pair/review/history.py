"""What a reviewer has decided, and going back and forth in it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from high_pair.edits.kinds import Edit, MarkText, SetAside
from high_pair.edits.merging import changed_by, in_force


@dataclass(frozen=True)
class Decision:
    """One step of the work: the file it is about, its edits, and words for the menu."""

    file: int
    words: str
    edits: tuple[Edit, ...]


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

    def without(self, file: int, edits: frozenset[Edit]) -> History:
        """Forget some of what was decided about a file; what was undone is forgotten too."""
        trimmed = (
            replace(each, edits=tuple(edit for edit in each.edits if edit not in edits))
            if each.file == file
            else each
            for each in self.taken
        )
        return History(tuple(each for each in trimmed if each.edits))

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
        own = (decision.edits for decision in self.taken if decision.file == file)
        return in_force(edit for edits in own for edit in edits)

    def changed_addresses(self, file: int) -> frozenset[str]:
        """Give the single addresses of the texts of a file that its edits change."""
        return changed_by(self.edits_of(file))

    def boxes_of(self, file: int) -> int:
        """Count the boxes drawn round text in a file's pictures."""
        return sum(isinstance(edit, MarkText) for edit in self.edits_of(file))
