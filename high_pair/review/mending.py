"""Finding remedies for pairs, one alone or all that are alike."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from high_pair.colour.srgb import bytes_of
from high_pair.edits.kinds import Edit, LayOver, RecolourOrigin, RecolourText
from high_pair.errors import HighPairError
from high_pair.formats.document import Document, for_trial
from high_pair.measure.footprint import Footprint
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.remedy.footings import wide_footprints
from high_pair.remedy.recolour import (
    OF_THE_SET,
    Case,
    nearest_of,
    passes,
    recolour_text,
    recolour_to,
)
from high_pair.remedy.remedies import (
    AtOrigin,
    Backdrop,
    Calmed,
    ForSeat,
    Laid,
    Moved,
    Proposals,
    Recolour,
    Remedy,
    Repainted,
    Restyled,
)
from high_pair.remedy.wishes import (
    NO_FAMILY,
    Family,
    in_order_of_a_palette,
    keeps_polarity,
    lighter_than,
)
from high_pair.review.calming import calm_edits, calmed_for
from high_pair.review.measuring import PageBench, measured
from high_pair.review.origins import reaches_of
from high_pair.review.overlaying import Trial, overlay_edits, overlays_for, ratio_served
from high_pair.review.picture_mending import remedies_in_picture, repaint_edits
from high_pair.review.shifting import move_edits, moves_for
from high_pair.review.surroundings import (
    around,
    backdrop_edits,
    restyle_edits,
)
from high_pair.scene.paint import from_levels
from high_pair.wcag.asked import NO_AIM, Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

LEFT_AS_IT_IS = (
    "This colour is left as it is (Sets desk), so only what is behind the text is changed."
)


def cases_of(pair: Pair, page: MeasuredPage, coverage: float) -> list[Case]:
    """Give all that a colour at a pair's address must satisfy.

    A link's text has two pairs at one address, and a colour must pass in both.
    """
    cases = []
    for other in page.pairs:
        if other.address != pair.address or other.numbers is None:
            continue
        if other.subject is Subject.LINK:
            around = np.array([bytes_of(other.numbers.background)], np.uint8)
            beside = Footprint(other.text, around, np.array([1], np.int64), (0, 0, 1, 1))
            cases.append(Case((beside,), other.goal, coverage))
        elif other.id in page.footprints:
            prints = (*page.footprints[other.id], *wide_footprints(page, other))
            cases.append(Case(prints, other.goal, coverage))
    return cases


def _cases_of_all(
    pairs: Sequence[Pair], document: Document, bench: PageBench, asked: Asked
) -> list[Case]:
    found: list[Case] = []
    for pair in pairs:
        found += cases_of(pair, bench.get(document, pair.page - 1, asked), asked.coverage)
    return found


def serves_all(
    remedy: Recolour, pairs: Sequence[Pair], document: Document, bench: PageBench, asked: Asked
) -> bool:
    """Tell whether a colour passes for all of these pairs."""
    cases = _cases_of_all(pairs, document, bench, asked)
    return bool(cases) and passes(cases, from_levels(remedy.levels, remedy.opacity))


def remedies_for(
    pairs: Sequence[Pair],
    document: Document,
    bench: PageBench,
    asked: Asked,
    trial: Trial,
    family: Family = NO_FAMILY,
) -> Proposals:
    """Propose recolourings that serve all alike pairs (or else the first), and overlays for it.

    Where nothing reaches the reviewer's aim, what has the ratio that is asked. Of a text whose
    colour is left as it is only what is behind it is changed.
    """
    if not any(pair.appears for pair in pairs):
        whole_trial = trial

        def trial(edits: Sequence[Edit]) -> Document:
            return for_trial(whole_trial(edits))

    if pairs and document.box_at(pairs[0].address) is not None:
        page = bench.get(document, pairs[0].page - 1, asked)
        return remedies_in_picture(pairs[0], document, page, asked, trial)
    found = _remedies_for(pairs, document, bench, asked, trial, family)
    if found.remedies or asked.aim == NO_AIM:
        return found
    plain = [replace(pair, aim=pair.required) for pair in pairs]
    no_higher = replace(asked, aim=NO_AIM)
    found = _remedies_for(plain, document, bench, no_higher, trial, family)
    none = f"Nothing reaches the aim of {asked.aim.words}; these pass."
    return replace(found, none=none) if found.remedies else found


def _remedies_for(
    pairs: Sequence[Pair],
    document: Document,
    bench: PageBench,
    asked: Asked,
    trial: Trial,
    family: Family,
) -> Proposals:
    recolours = proposals_for(pairs, document, bench, asked, family)
    if not recolours.remedies and len(pairs) > 1:
        recolours = proposals_for(pairs[:1], document, bench, asked, family)
    if not pairs or pairs[0].verdict is not Verdict.FALLS_SHORT or pairs[0].fixed:
        return recolours
    page = bench.get(document, pairs[0].page - 1, asked)
    if page.raster.scene.painting is not None:
        recolours = _painted_anew(recolours, pairs, page, asked, trial)
    further = around(pairs[0], document, page, asked, trial)
    laid = overlays_for(pairs[0], document, bench, asked, trial, family.colours)
    calmer: tuple[Remedy, ...] = (
        *calmed_for(pairs[0], page, asked, trial),
        *moves_for(pairs[0], document, page, asked, trial),
    )
    if is_kept(pairs, family):
        return Proposals(_text_as_it_is((*laid, *further, *calmer)), LEFT_AS_IT_IS)
    reaches = reaches_of(pairs[0], page, document)
    own = _of_the_palette(recolours.remedies, pairs, document, bench, asked)
    found = in_order((*recolours.remedies, *own, *further, *laid, *calmer), pairs[0])
    return Proposals(found, recolours.none, reaches)


def is_kept(pairs: Sequence[Pair], family: Family) -> bool:
    """Tell whether texts have a colour that is left as it is."""
    return any(pair.text_colour.levels in family.kept for pair in pairs)


def _text_as_it_is(remedies: Sequence[Remedy]) -> tuple[Remedy, ...]:
    """Give the remedies that leave the text's colour as it is."""
    return tuple(
        each
        for each in remedies
        if not (isinstance(each, Backdrop | Laid) and each.text is not None)
    )


def in_order(remedies: Sequence[Remedy], pair: Pair) -> tuple[Remedy, ...]:
    """Put remedies in order, the least visible first.

    A text that stays light on dark, or dark on light, changes least; then what is behind
    it changes, and the text stays as it is; last it turns its polarity over.
    """
    numbers = pair.numbers
    if numbers is None:
        return tuple(remedies)
    text, behind = pair.text_colour.levels, bytes_of(numbers.background)

    def visible(remedy: Remedy) -> int:
        if isinstance(remedy, Recolour):
            if remedy.direction == OF_THE_SET:
                # It is what the person asked for, whichever way it turns.
                return 0
            return 0 if keeps_polarity(remedy.levels, text, behind) else 3
        if isinstance(remedy, Backdrop):
            kept = remedy.text is None and (
                lighter_than(text, remedy.levels) == lighter_than(text, behind)
            )
            return 1 if kept else 3
        if isinstance(remedy, Laid):
            return 2 if remedy.text is None else 4
        return 2

    return tuple(sorted(remedies, key=visible))


def _of_the_palette(
    recolours: Sequence[Remedy],
    pairs: Sequence[Pair],
    document: Document,
    bench: PageBench,
    asked: Asked,
) -> tuple[Recolour, ...]:
    """Propose one of the file's own colours where the text would turn its polarity over."""
    numbers, text = pairs[0].numbers, pairs[0].text_colour.levels
    if numbers is None or pairs[0].subject is not Subject.TEXT:
        return ()
    behind = bytes_of(numbers.background)
    flipped = [
        each
        for each in recolours
        if isinstance(each, Recolour) and not keeps_polarity(each.levels, text, behind)
    ]
    if not flipped or len(flipped) < len(recolours):
        return ()
    cases = _cases_of_all(pairs, document, bench, asked)
    light = not lighter_than(text, behind)
    known = {each.levels for each in flipped}
    own = [levels for levels in document.colours(pairs[0].page - 1) if levels not in known]
    for levels in in_order_of_a_palette(own, light):
        remedy = recolour_to(cases, levels, pairs[0].text_colour)
        if remedy is not None:
            return (remedy,)
    return ()


def _painted_anew(
    found: Proposals, pairs: Sequence[Pair], page: MeasuredPage, asked: Asked, trial: Trial
) -> Proposals:
    """Keep the recolourings that pass when another program paints them, with their ratios there."""
    here = [pair for pair in pairs if pair.page == pairs[0].page]
    kept = []
    for remedy in found.remedies:
        try:
            after = measured(trial(edits_for(remedy, pairs)), pairs[0].page - 1, asked)
        except HighPairError:
            continue
        ratio = ratio_served(page, after, [pair.address for pair in here])
        if ratio is not None and isinstance(remedy, Recolour):
            kept.append(replace(remedy, ratio=ratio))
    none = found.none or ("" if kept else "No other colour passes where the page is painted anew.")
    return Proposals(tuple(kept), none, found.reaches)


def proposals_for(
    pairs: Sequence[Pair],
    document: Document,
    bench: PageBench,
    asked: Asked,
    family: Family = NO_FAMILY,
) -> Proposals:
    """Propose other colours that serve all of these pairs, which share their text's colour.

    The nearest of the set in use is among them; none where the colour is left as it is.
    """
    if not pairs or pairs[0].verdict is not Verdict.FALLS_SHORT:
        return Proposals((), "")
    if is_kept(pairs, family):
        return Proposals((), LEFT_AS_IT_IS)
    fixed = next((pair.fixed for pair in pairs if pair.fixed), "")
    if fixed:
        return Proposals((), fixed)
    cases = _cases_of_all(pairs, document, bench, asked)
    if not cases:
        raise HighPairError("This text was changed meanwhile. Choose it again in the list.")
    found = recolour_text(cases, pairs[0].text_colour)
    of_the_set = nearest_of(cases, family.colours, pairs[0].text_colour)
    if of_the_set is None:
        return found
    others = [
        each
        for each in found.remedies
        if isinstance(each, Recolour) and each.levels != of_the_set.levels
    ]
    return Proposals((of_the_set, *others), "")


def edits_for(remedy: Remedy, pairs: Sequence[Pair]) -> tuple[Edit, ...]:
    """Write a remedy down as edits: a recolouring for each pair's address, an overlay as it is."""
    if isinstance(remedy, Recolour):
        addresses = dict.fromkeys(pair.address for pair in pairs)
        return tuple(RecolourText(address, remedy.levels, remedy.opacity) for address in addresses)
    if isinstance(remedy, ForSeat):
        size = restyle_edits(remedy.larger) if remedy.larger is not None else ()
        return (*size, *(edits_for(remedy.other, pairs) if remedy.other is not None else ()))
    return WRITTEN[type(remedy)](remedy)


def _edits_at_origin(remedy: AtOrigin) -> tuple[Edit, ...]:
    if remedy.overlay is not None:
        return (LayOver(remedy.address, remedy.overlay, remedy.serves),)
    return (RecolourOrigin(remedy.address, remedy.levels, remedy.serves),)


# How what is for one place is written down.
WRITTEN: Mapping[type[Remedy], Callable[[Any], tuple[Edit, ...]]] = {
    AtOrigin: _edits_at_origin,
    Backdrop: backdrop_edits,
    Calmed: calm_edits,
    Laid: overlay_edits,
    Moved: move_edits,
    Repainted: repaint_edits,
    Restyled: restyle_edits,
}


def alike_edits(
    remedy: Backdrop | Restyled,
    pairs: Sequence[Pair],
    document: Document,
    bench: PageBench,
    asked: Asked,
    trial: Trial,
) -> tuple[Edit, ...]:
    """Carry a remedy beside a text's colour to alike pairs, the first being the one it is for.

    Each of the others has the best of the same kind for what is behind it.
    """
    edits = list(edits_for(remedy, pairs[:1]))
    served = {pairs[0].address, *(remedy.serves if isinstance(remedy, Backdrop) else ())}
    for pair in pairs[1:]:
        if pair.address in served:
            continue
        page = bench.get(document, pair.page - 1, asked)
        found = [each for each in around(pair, document, page, asked, trial)
                 if each.kind == remedy.kind]  # fmt: skip
        if found:
            edits += edits_for(found[0], [pair])
            served |= {pair.address, *(found[0].serves if isinstance(found[0], Backdrop) else ())}
    return tuple(edits)


def mend_group(
    pairs: Sequence[Pair], document: Document, bench: PageBench, asked: Asked
) -> tuple[tuple[Edit, ...], tuple[tuple[Pair, str], ...]]:
    """Mend alike pairs: with one colour for all where one serves, else each with its own.

    Gives the edits, and the pairs that no colour serves, with why.
    """
    together = proposals_for(pairs, document, bench, asked)
    if together.remedies:
        return edits_for(together.remedies[0], pairs), ()
    edits: list[Edit] = []
    left: list[tuple[Pair, str]] = []
    for pair in pairs:
        alone = proposals_for([pair], document, bench, asked)
        if alone.remedies:
            edits.extend(edits_for(alone.remedies[0], [pair]))
        else:
            left.append((pair, alone.none))
    return tuple(edits), tuple(left)
