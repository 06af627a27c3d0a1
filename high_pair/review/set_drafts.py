"""A set while it is worked on: what a person has changed of it, and where its colours stand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from high_pair.colour.ratio import FLARE, HIGHEST_RATIO, ratio_of_luminances
from high_pair.colour.srgb import Bytes, Floats, relative_luminance
from high_pair.formats.derived_colours import derived
from high_pair.remedy.by_hand import Tone
from high_pair.scene.colour_set import ColourSet, Levels, SetColour, SetPair, State


@dataclass(frozen=True)
class Draft:
    """What is changed of a set, by its colours' names.

    tones: colours that were moved or typed; leave: those that were told to stay, or not to;
    wanted: the pairs that are wanted, None for those that the set itself has.
    """

    tones: Mapping[str, Tone] = field(default_factory=dict)
    leave: Mapping[str, bool] = field(default_factory=dict)
    wanted: tuple[SetPair, ...] | None = None

    def with_tone(self, name: str, tone: Tone) -> Draft:
        """Give the draft with a colour moved."""
        return replace(self, tones={**self.tones, name: tone})

    def with_leave(self, name: str, on: bool) -> Draft:
        """Give the draft in which a colour stays as it is, or needn't."""
        return replace(self, leave={**self.leave, name: on})


@dataclass(frozen=True)
class Standing:
    """Where a set's colours stand on the line of log luminance, and how far its pairs are apart.

    heights: of each colour by its name, 0 for black to 1 for white; ratios: of each pair.
    """

    heights: Mapping[str, float]
    ratios: tuple[float, ...]


def with_draft(colours: ColourSet, draft: Draft) -> ColourSet:
    """Give a set as it is with a draft's changes; what is derived moves with its colour."""
    levels = {name: tone.levels for name, tone in draft.tones.items()}
    changed = []
    for colour in colours.colours:
        now = levels.get(colour.parent or colour.name)
        leave = draft.leave.get(colour.name, colour.leave)
        if now is not None:
            now = _derived(colour, now) if colour.parent else now
        changed.append(replace(colour, levels=now or colour.levels, leave=leave))
    pairs = colours.pairs
    if draft.wanted is not None:
        used = {(each.text, each.backdrop) for each in pairs if each.state is State.IN_USE}
        names = {colour.name for colour in changed}
        pairs = (
            *(each for each in pairs if each.state is State.IN_USE),
            *(
                each
                for each in draft.wanted
                if (each.text, each.backdrop) not in used and {each.text, each.backdrop} <= names
            ),
        )
    return replace(colours, colours=tuple(changed), pairs=pairs)


def _derived(colour: SetColour, levels: Levels) -> Levels:
    red, green, blue = (int(each) for each in derived(colour, np.array([levels], np.uint8))[0])
    return red, green, blue


def wanted_of(colours: ColourSet) -> tuple[SetPair, ...]:
    """List a set's pairs that are wanted."""
    return tuple(each for each in colours.pairs if each.state is State.WANTED)


def standing(colours: ColourSet, pairs: Sequence[SetPair]) -> Standing:
    """Tell where colours stand, and the ratios of pairs of them."""
    names = [colour.name for colour in colours.colours]
    levels = np.array([colour.levels for colour in colours.colours], np.uint8).reshape(-1, 3)
    luminance, heights = relative_luminance(levels), heights_of(levels)
    place = {name: number for number, name in enumerate(names)}
    ratios = ratio_of_luminances(
        luminance[np.array([place[pair.text] for pair in pairs], int)],
        luminance[np.array([place[pair.backdrop] for pair in pairs], int)],
    )
    return Standing(
        dict(zip(names, heights.tolist(), strict=True)), tuple(float(each) for each in ratios)
    )


def heights_of(levels: Bytes) -> Floats:
    """Give where colours, uint8 (n, 3), stand on the line: 0 for black to 1 for white, (n,)."""
    return np.asarray(np.log(1.0 + relative_luminance(levels) / FLARE) / np.log(HIGHEST_RATIO))


def far_apart(ratio: float) -> float:
    """Give how far apart two colours of a ratio stand on the line, as a share of it."""
    return float(np.log(ratio) / np.log(HIGHEST_RATIO))
