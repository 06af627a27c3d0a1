"""Sets of a document: which of their colours meet on its pages, and what mending them does there.

Which colour of a set a text or its backdrop shows is asked of the document itself: all
colours of the set are given codes, colours that are found nowhere else, and the pages are
measured; a pair that has two codes is one of those two colours, however the file leads there.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from high_pair.colour.srgb import bytes_of
from high_pair.edits.kinds import Edit, RecolourOrigin
from high_pair.formats.derived_colours import derived
from high_pair.formats.document import Document
from high_pair.measure.pairs import Asked, Pair
from high_pair.remedy.sets import MendedSet
from high_pair.report.colours import Effect
from high_pair.review.matching import MeasuredAnew
from high_pair.review.measuring import measured
from high_pair.scene.colour_set import ColourSet, Levels, SetPair, State
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

Pages = Sequence[Sequence[Pair]]
# Codes and what is derived from them differ by more than this in some channel.
APART = 6
SEED = 20_261
MOST_TRIES = 400


def with_pairs(
    colours: ColourSet,
    document: Document,
    before: Pages,
    asked: Asked,
    progress: Callable[[int, int], None] = lambda _done, _total: None,
) -> ColourSet:
    """Give a document's set with the pairs that are in use. before: the pages as they are."""
    codes = _codes(colours)
    if codes is None:
        return colours
    edits = [
        RecolourOrigin(colour.address, codes[colour.name])
        for colour in colours.colours
        if colour.address
    ]
    by_code = {levels: name for name, levels in codes.items()}
    coded = pages_of(document.edited(edits), asked, progress)
    found: dict[tuple[str, str], SetPair] = {}
    for pair, again in _found_again(before, coded):
        for names in {names for each in again if (names := _names(each, by_code))}:
            if pair.ratio is None:
                continue
            known = found.get(names) or SetPair(*names, State.IN_USE, pair.required, 0, pair.ratio)
            found[names] = replace(
                known,
                places=known.places + 1,
                required=max(known.required, pair.required),
                worst=min(known.worst or pair.ratio, pair.ratio),
            )
    return replace(colours, pairs=tuple(found.values()))


def _found_again(before: Pages, after: Pages) -> Iterator[tuple[Pair, list[Pair]]]:
    """Give every pair with what it is on the pages as measured anew."""
    for old, new in zip(before, after, strict=True):
        anew = MeasuredAnew(new)
        for pair in old:
            yield pair, anew.again(pair)


def _codes(colours: ColourSet) -> dict[str, Levels] | None:
    """Give each colour a code of its own, and what is derived from it what that becomes.

    None where there are too many to be told apart.
    """
    random = np.random.default_rng(SEED)
    own = [colour for colour in colours.colours if not colour.parent]
    found: dict[str, Levels] = {}
    for colour in own:
        children = [each for each in colours.colours if each.parent == colour.name]
        for _ in range(MOST_TRIES):
            code = random.integers(8, 248, (1, 3)).astype(np.uint8)
            family = {colour.name: code[0]}
            family |= {each.name: derived(each, code)[0] for each in children}
            if _all_apart([*found.values(), *family.values()]):
                break
        else:
            return None
        found |= {name: _levels(levels) for name, levels in family.items()}
    return found


def _levels(levels: Sequence[int] | np.ndarray) -> Levels:
    red, green, blue = (int(level) for level in levels)
    return red, green, blue


def _all_apart(levels: Sequence[Sequence[int] | np.ndarray]) -> bool:
    every = np.array(levels, int)
    distances = np.abs(every[:, None] - every[None]).max(axis=-1)
    return bool((distances[np.triu_indices(len(every), 1)] > APART).all())


def _names(pair: Pair, by_code: dict[Levels, str]) -> tuple[str, str] | None:
    """Give the colours that a pair of the coded document shows; None where one isn't of the set."""
    numbers = pair.numbers
    if numbers is None or numbers.varied or pair.subject is not Subject.TEXT:
        return None
    text, backdrop = (
        by_code.get(bytes_of(code)) for code in (numbers.foreground, numbers.background)
    )
    return (text, backdrop) if text is not None and backdrop is not None else None


def pages_of(
    document: Document,
    asked: Asked,
    progress: Callable[[int, int], None] = lambda _done, _total: None,
) -> Pages:
    """Measure all pages; gives the pairs of each."""
    found = []
    for page in range(len(document.pages)):
        found.append(measured(document, page, asked).pairs)
        progress(page + 1, len(document.pages))
    return found


def edits_of(mended: MendedSet) -> list[Edit]:
    """Give the edits that bring a mended set into its file."""
    addresses = {colour.name: colour.address for colour in mended.colours.colours}
    return [
        RecolourOrigin(addresses[change.name], change.after)
        for change in mended.changes
        if addresses[change.name]
    ]


def effect_of(before: Pages, after: Pages) -> Effect:
    """Compare all pairs of the pages before and after a set is mended."""
    mends = breaks = 0
    for old, new in zip(before, after, strict=True):
        anew = MeasuredAnew(new)
        mends += sum(pair.verdict is Verdict.FALLS_SHORT and anew.holds(pair) for pair in old)
        breaks += sum(pair.verdict is Verdict.PASSES and not anew.holds(pair) for pair in old)
    short = [
        sum(pair.verdict is Verdict.FALLS_SHORT for page in pages for pair in page)
        for pages in (before, after)
    ]
    return Effect(mends, breaks, *short)


def with_wanted(
    colours: ColourSet, wanted: Sequence[tuple[str, str]], required: float
) -> ColourSet:
    """Give a set with pairs that are wanted besides those in use. Raises KeyError for a name."""
    pairs = list(colours.pairs)
    for text, backdrop in wanted:
        for name in (text, backdrop):
            if colours.colour(name) is None:
                raise KeyError(name)
        if not any((pair.text, pair.backdrop) == (text, backdrop) for pair in pairs):
            pairs.append(SetPair(text, backdrop, State.WANTED, required))
    return replace(colours, pairs=tuple(pairs))
