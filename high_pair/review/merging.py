"""Two reviewers' work on the same files put together: what both decided, what one did, and where
they differ.

A decision is about texts. Two differ where they are about the same text and aren't the same; the
first reviewer's then stays in force, and both are shown.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from high_pair.edits.kinds import Edit, SetAside
from high_pair.edits.merging import changed_by
from high_pair.formats.location import resolved
from high_pair.review.review_file import KeptDecision, KeptFile, KeptReview
from high_pair.scene.addresses import expand


@dataclass(frozen=True)
class Difference:
    """Decisions about the same texts that aren't the same: of each reviewer, in order.

    file: its place in the merged review; texts: the single addresses that they have in common.
    """

    file: int
    texts: frozenset[str]
    first: tuple[KeptDecision, ...]
    second: tuple[KeptDecision, ...]


@dataclass(frozen=True)
class Merged:
    """What came of it. agreed: how many decisions both have; added: those of the second alone."""

    review: KeptReview
    agreed: int
    added: tuple[KeptDecision, ...]
    differences: tuple[Difference, ...]

    def with_second(self, chosen: Iterable[Difference]) -> KeptReview:
        """Give the review with the second reviewer's decisions where they were chosen."""
        listed = list(chosen)
        out = {decision for each in listed for decision in each.first}
        kept = [each for each in self.review.decisions if each not in out]
        more = list(dict.fromkeys(decision for each in listed for decision in each.second))
        return replace(self.review, decisions=(*kept, *more))


def merge(first: KeptReview, second: KeptReview) -> Merged:
    """Put two reviews together; what is asked (the level) is the first's."""
    files, places = _files(first.files, second.files)
    ours = _alive(first.decisions)
    theirs = _alive(replace(each, file=places[each.file]) for each in second.decisions)
    same = {(each.file, frozenset(each.edits)) for each in ours}
    others = [each for each in theirs if (each.file, frozenset(each.edits)) not in same]
    added, differing = [], []
    for decision in others:
        against = [
            each
            for each in ours
            if each.file == decision.file and about(each.edits) & about(decision.edits)
        ]
        if against:
            differing.append((decision, against))
        else:
            added.append(decision)
    review = KeptReview(first.asked, files, (*ours, *added))
    return Merged(review, len(theirs) - len(others), tuple(added), tuple(_grouped(differing)))


def about(edits: Sequence[Edit]) -> frozenset[str]:
    """Give the single addresses of the texts that edits are about, set aside ones too."""
    aside = (edit.address for edit in edits if isinstance(edit, SetAside))
    return changed_by(edits) | {single for address in aside for single in expand(address)}


def _files(
    first: Sequence[KeptFile], second: Sequence[KeptFile]
) -> tuple[tuple[KeptFile, ...], dict[int, int]]:
    """List the files of both, and where the second's stand in that list.

    A file is known by where it lies, else by its content: reviewers have copies of their own.
    """
    files = list(first)
    by_place = {resolved(file.location): place for place, file in enumerate(files)}
    by_digest = {file.digest: place for place, file in enumerate(files) if file.digest}
    places = {}
    for number, file in enumerate(second):
        place = by_place.get(resolved(file.location), by_digest.get(file.digest))
        if place is None:
            place = len(files)
            files.append(file)
        places[number] = place
    return tuple(files), places


def _alive(decisions: Iterable[KeptDecision]) -> list[KeptDecision]:
    """Leave out of decisions what later ones of the same file replaced or took back."""
    kept: list[KeptDecision] = []
    later: dict[tuple[int, tuple[str, ...]], list[Edit]] = {}
    for decision in reversed(list(decisions)):
        alive = []
        for edit in reversed(decision.edits):
            after = later.setdefault((decision.file, edit.key), [])
            # Some, such as moves, are added to what was there.
            if edit.lasts and not any(each.over(edit) == each for each in after):
                alive.append(edit)
            after.append(edit)
        if alive:
            kept.append(replace(decision, edits=tuple(reversed(alive))))
    return list(reversed(kept))


def _grouped(
    differing: Sequence[tuple[KeptDecision, Sequence[KeptDecision]]],
) -> Iterable[Difference]:
    """Put together differences that have decisions in common, so that each is chosen once."""
    groups: list[tuple[list[KeptDecision], list[KeptDecision]]] = []
    for theirs, ours in differing:
        joined = [group for group in groups if any(each in group[0] for each in ours)]
        firsts = [each for group in joined for each in group[0]]
        seconds = [each for group in joined for each in group[1]]
        groups = [group for group in groups if group not in joined]
        groups.append((list(dict.fromkeys([*firsts, *ours])), [*seconds, theirs]))
    for first, second in groups:
        common = frozenset().union(*(about(each.edits) for each in first)) & frozenset().union(
            *(about(each.edits) for each in second)
        )
        yield Difference(first[0].file, common, tuple(first), tuple(second))
