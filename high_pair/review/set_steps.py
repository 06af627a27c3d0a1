"""What the command line has done with sets of colours, in a process of its own; see `steps`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from high_pair.errors import UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.derived_colours import derived
from high_pair.formats.document import Document
from high_pair.formats.sets.files import SUFFIXES, read_set, write_set
from high_pair.process.serving import Call
from high_pair.remedy.sets import Move, mend_to_aim
from high_pair.report.colours import (
    ReportedSet,
    falls_short,
    usual_ratio,
    write_colours_json,
    write_colours_table,
)
from high_pair.review.colour_sets import (
    edits_between,
    effect_of,
    pages_of,
    sets_of,
    with_pairs,
    with_wanted,
)
from high_pair.review.in_processes import Opening, SetWishes
from high_pair.review.steps import opened
from high_pair.scene.colour_set import ColourSet
from high_pair.wcag.asked import Asked

# Names of colours that a message lists at most.
MOST_NAMED = 20


def colours(call: Call, opening: Opening, asked: Asked, wishes: SetWishes) -> tuple[str, bool, str]:
    """Report the sets of a file, mended if that is wished, and write the mended file if asked.

    Gives the report, whether a pair falls short in the end, and words for what was written.
    Raises FileProblem.
    """
    path = opening.path
    # The command takes no web address for it.
    assert isinstance(path, Path)
    if path.suffix.lower() in SUFFIXES:
        found, words = _set_file(path, asked, wishes)
    else:
        document = opened(call, opening).document
        found, words = _sets_in(document, path, asked, wishes, call.tell)
    write_sets = write_colours_json if wishes.form == "json" else write_colours_table
    return write_sets(found, asked.level), any(falls_short(each) for each in found), words


def _set_file(path: Path, asked: Asked, wishes: SetWishes) -> tuple[list[ReportedSet], str]:
    reported = _settled(read_set(path), path, asked, wishes)
    if wishes.target is None or reported.mended is None:
        return [reported], ""
    write_set(reported.mended.colours, wishes.target)
    return [reported], f"{wishes.target.name}: {len(reported.mended.changes)} colours changed"


def _sets_in(
    document: Document, path: Path, asked: Asked, wishes: SetWishes, tell: Callable[..., None]
) -> tuple[list[ReportedSet], str]:
    before = pages_of(document, asked, tell)
    sets = with_pairs(sets_of(document), document, before, asked, tell)
    if not sets:
        raise UnreadableFile(path.name, "it decides no colours together, as a theme does.")
    reported = [_settled(each, path, asked, wishes) for each in sets]
    edits = [
        edit
        for each in reported
        if each.mended is not None
        for edit in edits_between(each.colours, each.mended.colours)
    ]
    if not wishes.mends:
        return reported, ""
    if wishes.target is None:
        effect = effect_of(before, pages_of(document.edited(edits), asked, tell))
        return [replace(each, effect=effect) for each in reported], ""
    document.edited(edits).save(wishes.target)
    copy = open_document(wishes.target)
    try:
        effect = effect_of(before, pages_of(copy, asked, tell))
    finally:
        copy.close()
    words = (
        f"{wishes.target.name}: {len(edits)} colours changed; {effect.falls_short_after} of "
        f"{effect.falls_short_before} texts that fell short still do in the saved file"
    )
    return [replace(each, effect=effect) for each in reported], words


def _settled(colours: ColourSet, path: Path, asked: Asked, wishes: SetWishes) -> ReportedSet:
    """Give a set as it is wished: with pairs that are wanted, and mended."""
    for name in wishes.leave:
        if colours.colour(name) is None:
            raise UnreadableFile(path.name, _unknown(name, colours))
    try:
        wanted = with_wanted(colours, wishes.wanted, usual_ratio(asked.level))
    except KeyError as error:
        raise UnreadableFile(path.name, _unknown(str(error.args[0]), colours)) from error
    left = wanted.leaving(frozenset(wishes.leave))
    if wishes.mends is None:
        return ReportedSet(left)
    move = Move(wishes.mends)
    return ReportedSet(left, mend_to_aim(left, derived, move, asked.aim), move)


def _unknown(name: str, colours: ColourSet) -> str:
    known = ", ".join(each.name for each in colours.colours[:MOST_NAMED])
    return f"its set “{colours.name}” has no colour “{name}”, but {known}."
