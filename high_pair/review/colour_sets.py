"""Sets of a document: which of their colours meet on its pages, and what mending them does there.

Which colour of a set a text or its backdrop shows is asked of the document itself: all
colours of the set are given codes, colours that are found nowhere else, and the pages are
measured; a pair that has two codes is one of those two colours, however the file leads there.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Mapping, Sequence
from dataclasses import astuple, dataclass, replace

import numpy as np

from high_pair.colour.difference import ciede2000
from high_pair.colour.srgb import bytes_of, hex_of
from high_pair.edits.kinds import Edit, RecolourOrigin
from high_pair.formats.derived_colours import derived
from high_pair.formats.document import Document
from high_pair.formats.picture.picture_file import KIND as PICTURE_KIND
from high_pair.measure.pairs import Pair
from high_pair.raster.page import paint_page
from high_pair.remedy.overlays import main_colours
from high_pair.report.colours import Effect
from high_pair.review.matching import MeasuredAnew
from high_pair.review.measuring import measured
from high_pair.scene.colour_set import ColourSet, Levels, SetColour, SetPair, State
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

Pages = Sequence[Sequence[Pair]]
# Codes and what is derived from them differ by more than this in some channel.
APART = 6
# and a painted colour is at most so far from its code.
ROUNDED = 1
SEED = 20_261
MOST_TRIES = 100
# With more codes than this one doesn't look for long.
MOST_APART = 400


# A picture's set is read from so many pixels of its width, and of its main colours those count
# that differ from the others by so much, ΔE00.
PICTURE_WIDTH, FAR = 320, 6.0
PICTURE = "picture"


def sets_of(document: Document) -> tuple[ColourSet, ...]:
    """List the sets of a document; a picture has its main colours, which nothing changes."""
    found = document.colour_sets()
    if found or document.kind != PICTURE_KIND or not document.pages:
        return found
    pixels = paint_page(document.scene(0), document.pictures, PICTURE_WIDTH).reshape(-1, 3)
    kept: list[np.ndarray] = []
    for levels in main_colours(np.ascontiguousarray(pixels)):
        if all(float(ciede2000(levels / 255.0, other / 255.0)) >= FAR for other in kept):
            kept.append(levels)
    colours = tuple(SetColour(hex_of(each), _levels(each)) for each in kept)
    return (ColourSet(document.name, PICTURE, document.name, colours),)


@dataclass(frozen=True)
class Coded:
    """How a document is coded: the edits that do it, and of each code the set's place among the
    sets, and the colour's name there."""

    edits: tuple[Edit, ...]
    names: Mapping[Levels, tuple[int, str]]

    def name_of(self, levels: Levels) -> tuple[int, str] | None:
        """Give what has a code, or one that rounding has moved a little; None without one."""
        found = self.names.get(levels)
        if found is None and self.names:
            off = np.abs(self._codes - np.array(levels)).max(axis=1)
            nearest = int(np.argmin(off))
            found = self._named[nearest] if off[nearest] <= ROUNDED else None
        return found

    @functools.cached_property
    def _codes(self) -> np.ndarray:
        return np.array(list(self.names), int)

    @functools.cached_property
    def _named(self) -> list[tuple[int, str]]:
        return list(self.names.values())


# Where a pair stands: the place of its set, and the names of its text's and its backdrop's colour.
Meeting = tuple[int, str, str]


def with_pairs(
    sets: Sequence[ColourSet],
    document: Document,
    before: Pages,
    asked: Asked,
    progress: Callable[[int, int], None] = lambda _done, _total: None,
) -> tuple[ColourSet, ...]:
    """Give a document's sets with the pairs that are in use. before: the pages as they are."""
    coded = code(sets)
    if not coded.edits:
        return tuple(sets)
    after = pages_of(document.edited(coded.edits), asked, progress)
    met = [
        each for old, new in zip(before, after, strict=True) for each in meetings(old, new, coded)
    ]
    return with_meetings(sets, met)


def code(sets: Sequence[ColourSet]) -> Coded:
    """Give each colour of some sets a code of its own, and what is derived what that becomes.

    Of sets with too many colours those that can't be told apart have none that counts.
    """
    random = np.random.default_rng(SEED)
    edits: list[Edit] = []
    found: dict[tuple[int, str], np.ndarray] = {}
    for place, colours in enumerate(sets):
        for colour in colours.colours:
            if not colour.parent:
                family = _coded(colour, colours, list(found.values()), random)
                found |= {(place, name): levels for name, levels in family.items()}
                edits += [
                    RecolourOrigin(address, _levels(family[colour.name]))
                    for address in colour.addresses
                ]
    if not found:
        return Coded((), {})
    every = np.array(list(found.values()), int)
    near = (np.abs(every[:, None] - every[None]).max(axis=-1) <= APART).sum(axis=1) > 1
    names = {
        _levels(levels): name
        for (name, levels), close in zip(found.items(), near, strict=True)
        if not close
    }
    return Coded(tuple(edits), names)


def meetings(
    before: Sequence[Pair], after: Sequence[Pair], coded: Coded
) -> list[tuple[Meeting, Pair]]:
    """List where two colours of a set meet on a page, with the pair there, as it is uncoded.

    before, after: the page's pairs, and those of the coded page.
    """
    anew = MeasuredAnew(after)
    found = []
    for pair in before:
        if pair.ratio is not None:
            met = {_meeting(each, coded) for each in anew.again(pair)}
            found += [(each, pair) for each in met if each is not None]
    return found


def with_meetings(
    sets: Sequence[ColourSet], met: Sequence[tuple[Meeting, Pair]]
) -> tuple[ColourSet, ...]:
    """Give sets with their pairs in use: how many places, the strictest ratio, and the worst."""
    found: dict[Meeting, SetPair] = {}
    for meeting, pair in met:
        assert pair.ratio is not None
        names = meeting[1:]
        known = found.get(meeting) or SetPair(*names, State.IN_USE, pair.required, 0, pair.ratio)
        found[meeting] = replace(
            known,
            places=known.places + 1,
            required=max(known.required, pair.required),
            worst=min(known.worst or pair.ratio, pair.ratio),
        )
    return tuple(
        _met(each, tuple(pair for meeting, pair in found.items() if meeting[0] == place))
        for place, each in enumerate(sets)
    )


def _met(colours: ColourSet, pairs: tuple[SetPair, ...]) -> ColourSet:
    """Give a set with its pairs, and without derived shades that no page shows."""
    names = {name for pair in pairs for name in (pair.text, pair.backdrop)}
    shown = tuple(each for each in colours.colours if not each.parent or each.name in names)
    return replace(colours, colours=shown, pairs=pairs)


def _coded(
    colour: SetColour,
    colours: ColourSet,
    taken: Sequence[np.ndarray],
    random: np.random.Generator,
) -> dict[str, np.ndarray]:
    """Give a colour a code, and what is derived from it, by their names; apart if they can be."""
    children = [each for each in colours.colours if each.parent == colour.name]
    family: dict[str, np.ndarray] = {}
    for _ in range(MOST_TRIES if len(taken) < MOST_APART else 1):
        chosen = random.integers(8, 248, (1, 3)).astype(np.uint8)
        family = {colour.name: chosen[0]}
        family |= {each.name: derived(each, chosen)[0] for each in children}
        if _all_apart([*taken, *family.values()]):
            break
    return family


def _levels(levels: Sequence[int] | np.ndarray) -> Levels:
    red, green, blue = (int(level) for level in levels)
    return red, green, blue


def _all_apart(levels: Sequence[Sequence[int] | np.ndarray]) -> bool:
    every = np.array(levels, int)
    distances = np.abs(every[:, None] - every[None]).max(axis=-1)
    return bool((distances[np.triu_indices(len(every), 1)] > APART).all())


def _meeting(pair: Pair, coded: Coded) -> Meeting | None:
    """Give where a pair of the coded document stands; None where a colour isn't of one set."""
    numbers = pair.numbers
    if numbers is None or numbers.varied or pair.subject is not Subject.TEXT:
        return None
    text, backdrop = (
        coded.name_of(bytes_of(each)) for each in (numbers.foreground, numbers.background)
    )
    if text is None or backdrop is None or text[0] != backdrop[0]:
        return None
    return text[0], text[1], backdrop[1]


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


def edits_between(before: ColourSet, after: ColourSet) -> list[Edit]:
    """Give the edits that make a file's set what it is to be."""
    then = {colour.name: colour.levels for colour in before.colours}
    return [
        RecolourOrigin(address, colour.levels)
        for colour in after.colours
        if colour.levels != then.get(colour.name)
        for address in colour.addresses
    ]


def effect_of(before: Pages, after: Pages) -> Effect:
    """Compare all pairs of the pages before and after a set is mended."""
    return together([effect_on(old, new) for old, new in zip(before, after, strict=True)])


def effect_on(before: Sequence[Pair], after: Sequence[Pair]) -> Effect:
    """Compare the pairs of a page before and after."""
    anew = MeasuredAnew(after)
    return Effect(
        sum(pair.verdict is Verdict.FALLS_SHORT and anew.holds(pair) for pair in before),
        sum(pair.verdict is Verdict.PASSES and not anew.holds(pair) for pair in before),
        *(sum(pair.verdict is Verdict.FALLS_SHORT for pair in pairs) for pairs in (before, after)),
    )


def together(effects: Sequence[Effect]) -> Effect:
    """Add up what was done on several pages."""
    totals = (sum(each) for each in zip(*(astuple(effect) for effect in effects), strict=True))
    return Effect(*totals) if effects else Effect(0, 0, 0, 0)


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
