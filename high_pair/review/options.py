"""The ways in which texts that fall short may be mended, in the order in which they are tried.

Nothing here paints: an option is worked out from what was measured, and whoever asks
tries it. Texts are taken together as far as one answer serves them: all of one colour
in the file, then on a page, in a shape, those that are alike, and last each by itself.
A text keeps its polarity before it changes it, and its own colour behind an overlay
before it becomes black or grey.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from high_pair.colour.oklab import oklch_of
from high_pair.colour.srgb import bytes_of
from high_pair.edits.kinds import Edit, RecolourText
from high_pair.formats.document import Document
from high_pair.measure.alike import likeness
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.remedy.recolour import Case, passes, recolours
from high_pair.remedy.remedies import Backdrop, Laid, Restyled
from high_pair.remedy.strength import FULL
from high_pair.remedy.wishes import (
    PLATES,
    Levels,
    Preference,
    Wishes,
    in_order_of_a_palette,
    keeps_polarity,
    lighter_than,
)
from high_pair.review.mending import cases_of
from high_pair.review.overlaying import (
    FURTHER,
    Trial,
    overlay_edits,
    possible_overlays,
    with_text,
)
from high_pair.review.surroundings import (
    backdrop_edits,
    possible_backdrops,
    possible_plates,
    restyle_edits,
    restyles_for,
)
from high_pair.scene.paint import from_levels
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject

# Below so much chroma a colour is a grey, whose hue says nothing.
GREY = 0.03
# A text that is so little of the picture isn't worth a veil or a ramp over all of it.
SMALL_TEXT = 0.05
# A fill that differs by so much, as ΔE00, is another colour.
FAR = 22.0
# So many more texts that an overlay over the picture serves than a plate behind one.
MANY_PLATES = 3


Group = Sequence[Pair]


@dataclass(frozen=True)
class Option:
    """One way to mend some texts, not tried yet.

    serves: their pairs, as they are now; overlay: the colour of what it lays over the page.
    """

    edits: tuple[Edit, ...]
    serves: tuple[Pair, ...]
    overlay: Levels | None = None


@dataclass(frozen=True)
class State:
    """A document with what was decided so far.

    page: gives a page as measured, from 1; overlays: the colours of what is laid over each
    page; demands: what pairs are to reach where that is more than is asked of them.
    """

    document: Document
    page: Callable[[int], MeasuredPage]
    asked: Asked
    trial: Trial
    wishes: Wishes
    overlays: dict[int, Levels]
    demands: dict[str, float]
    known: dict[tuple[int, str], tuple[Case, ...]] = field(default_factory=dict)

    def cases(self, group: Group) -> list[Case]:
        """Give what a colour for all of a group must satisfy; each pair's is kept."""
        found: list[Case] = []
        for pair in group:
            key = (pair.page, pair.id)
            if key not in self.known:
                own = cases_of(pair, self.page(pair.page), self.asked.coverage)
                demand = self.demands.get(pair.id, 0.0)
                self.known[key] = tuple(
                    replace(case, required=max(case.required, demand)) for case in own
                )
            found += self.known[key]
        return found


Way = Callable[[Group, State], Iterator[Option]]
Together = Callable[[Pair, State], object]


# Texts that are taken together


def in_the_file(pair: Pair, _state: State) -> object:
    """All of one colour."""
    return pair.text_colour, pair.subject


def on_a_page(pair: Pair, _state: State) -> object:
    """All of one colour on a page."""
    return pair.page, pair.text_colour, pair.subject


def in_a_shape(pair: Pair, state: State) -> object:
    """All of one colour in a shape, or of one place in words."""
    place = state.page(pair.page).places.get(pair.id)
    within = place.level if place is not None else pair.where
    return pair.page, within, pair.text_colour, pair.subject


def of_one_look(pair: Pair, _state: State) -> object:
    """Those that are alike on a page."""
    return pair.page, likeness(pair)


def alone(pair: Pair, _state: State) -> object:
    """Each by itself."""
    return pair.page, pair.id


# Ways to mend them


def _behind(pair: Pair) -> Levels:
    assert pair.numbers is not None
    return bytes_of(pair.numbers.background)


def _measurable(group: Group, state: State) -> bool:
    return all(
        pair.numbers is not None
        and not pair.fixed
        and pair.text_colour.levels not in state.wishes.kept
        for pair in group
    )


def _recoloured(group: Group, levels: Levels, opacity: float = 1.0) -> Option:
    addresses = dict.fromkeys(pair.address for pair in group)
    edits = tuple(RecolourText(address, levels, opacity) for address in addresses)
    return Option(edits, tuple(group))


def _look(pair: Pair) -> tuple[object, ...]:
    """Give what texts of one look have in common, and where they stand, but for the last step."""
    return pair.text_colour, pair.size, pair.weight, pair.where.rpartition(" › ")[0]


def _others_of_the_look(group: Group, state: State) -> list[Pair]:
    """Give what passes beside a group and would part from it: one column has one grey."""
    found = []
    for page in dict.fromkeys(pair.page for pair in group):
        looks = {_look(pair) for pair in group if pair.page == page}
        taken = {pair.id for pair in group if pair.page == page}
        found += [
            pair
            for pair in state.page(page).pairs
            if pair.id not in taken
            and pair.subject is Subject.TEXT
            and pair.numbers is not None
            and not pair.fixed
            and not pair.appears
            and _look(pair) in looks
        ]
    return found


def keep_polarity(group: Group, state: State) -> Iterator[Option]:
    """Another text colour of the same hue, on the same side of what is behind it."""
    if not _measurable(group, state):
        return
    others = [] if group[0].subject is Subject.LINK else _others_of_the_look(group, state)
    for all_of_it in ([*group, *others], list(group)) if others else (list(group),):
        cases = state.cases(all_of_it)
        if not cases:
            return
        for each in recolours(cases, group[0].text_colour):
            if all(
                keeps_polarity(each.levels, pair.text_colour.levels, _behind(pair))
                for pair in group
            ):
                option = _recoloured(all_of_it, each.levels, each.opacity)
                yield replace(option, serves=tuple(group))
                break


def from_the_palette(group: Group, state: State) -> Iterator[Option]:
    """A colour that the file has itself, on the other side of what is behind the text."""
    if not _measurable(group, state):
        return
    cases = state.cases(group)
    own: list[Levels] = []
    for page in dict.fromkeys(pair.page for pair in group):
        own += state.document.colours(page - 1)
    light = not lighter_than(group[0].text_colour.levels, _behind(group[0]))
    for levels in in_order_of_a_palette(own, light):
        if cases and passes(cases, from_levels(levels)):
            yield _recoloured(group, levels)
            return


def of_any_colour(group: Group, state: State) -> Iterator[Option]:
    """Any other colour that passes: of the text's hue where it has one, else black or white."""
    if not _measurable(group, state):
        return
    cases = state.cases(group)
    found = list(recolours(cases, group[0].text_colour)) if cases else []
    chroma = float(oklch_of(np.array(group[0].text_colour.levels) / 255.0)[1])
    if chroma < GREY:
        found.sort(key=lambda each: each.direction not in ("black", "white"))
    for each in found:
        yield _recoloured(group, each.levels, each.opacity)


def another_backdrop(group: Group, state: State) -> Iterator[Option]:
    """A darker or lighter shade for the fill behind the text, of about the same colour."""
    return _backdrops(group, state, lambda each: each.difference <= FAR)


def a_far_backdrop(group: Group, state: State) -> Iterator[Option]:
    """A shade for the fill behind the text that makes another colour of it: of yellow brown."""
    return _backdrops(group, state, lambda each: each.difference > FAR)


def _backdrops(group: Group, state: State, wanted: Callable[[Backdrop], bool]) -> Iterator[Option]:
    pair = group[0]
    if pair.subject is not Subject.TEXT or pair.numbers is None:
        return
    page = state.page(pair.page)
    found = [each for each in possible_backdrops(pair, page) if each.text is None]
    for each in sorted(found, key=lambda one: one.difference):
        text = pair.text_colour.levels
        kept = lighter_than(text, each.levels) == lighter_than(text, _behind(pair))
        if kept and wanted(each):
            yield _of_backdrop(each, page)


def _of_backdrop(remedy: Backdrop, page: MeasuredPage) -> Option:
    return Option(backdrop_edits(remedy), _pairs_at(remedy.serves, page))


def _pairs_at(addresses: Sequence[str], page: MeasuredPage) -> tuple[Pair, ...]:
    return tuple(
        pair for pair in page.pairs if pair.address in addresses and pair.subject is Subject.TEXT
    )


def overlay(group: Group, state: State) -> Iterator[Option]:
    """Something laid between the text and what is behind it, in the page's one colour."""
    pair = group[0]
    if pair.subject is not Subject.TEXT or not state.wishes.overlays:
        return
    page = state.page(pair.page)
    wanted, colour = state.wishes.overlays, state.overlays.get(pair.page)
    found = possible_overlays(pair, state.document, page, state.asked, wanted, colour)
    most = max((len(each.serves) for each in found), default=0)

    def order(laid: Laid) -> tuple[bool, bool]:
        # Where many plates would lie side by side, one overlay for all is quieter.
        scattered = most >= len(laid.serves) + MANY_PLATES
        return scattered, _out_of_proportion(laid, page)

    for each in sorted(found, key=order):
        yield _of_laid(each, page)
        # Rounding in the painting can take what was worked out to the last percent.
        stronger = min(FULL, each.overlay.percent + FURTHER)
        overlaid = replace(each, overlay=replace(each.overlay, percent=stronger))
        yield _of_laid(overlaid, page)


def _out_of_proportion(laid: Laid, page: MeasuredPage) -> bool:
    """Tell whether an overlay covers far more than its text needs."""
    served = [pair for pair in page.pairs if pair.address in laid.serves]
    ink = sum(pair.bbox[2] * pair.bbox[3] for pair in served)
    whole = page.raster.scene.width * page.raster.scene.height
    return laid.overlay.kind not in PLATES and ink < SMALL_TEXT * whole * laid.covered


def _of_laid(laid: Laid, page: MeasuredPage) -> Option:
    return Option(overlay_edits(laid), _pairs_at(laid.serves, page), laid.overlay.levels)


def plate_of_its_own(group: Group, state: State) -> Iterator[Option]:
    """A fill right behind the words, where the format gives them one and what is behind varies."""
    pair = group[0]
    address = state.document.plate_address(pair.address)
    if pair.subject is not Subject.TEXT or pair.numbers is None or address is None:
        return
    # On one colour some text is read without one.
    wanted = pair.numbers.varied or state.wishes.prefer is Preference.OVERLAY
    if not wanted or not state.wishes.overlays & PLATES:
        return
    for each in possible_plates(pair, address):
        yield Option(backdrop_edits(each), (pair,))


def weight_or_size(group: Group, state: State) -> Iterator[Option]:
    """Bold, or so large that less is asked."""
    pair = group[0]
    if pair.subject is not Subject.TEXT:
        return
    for each in restyles_for(pair, state.page(pair.page), state.asked, state.trial):
        yield Option(restyle_edits(each), (pair,))


def underline(group: Group, state: State) -> Iterator[Option]:
    """An underline, which tells a link from the text around it without any colour."""
    pair = group[0]
    if pair.subject is not Subject.LINK:
        return
    if state.page(pair.page).raster.scene.painting is None:
        return
    remedy = Restyled(pair.address, None, None, 0.0, pair.required, underline=True)
    yield Option(restyle_edits(remedy), (pair,))


def text_and_plate(group: Group, state: State) -> Iterator[Option]:
    """A plate with black or white text on it, where no overlay serves the text as it is."""
    pair = group[0]
    if pair.subject is not Subject.TEXT or not state.wishes.overlays & PLATES:
        return
    if not _measurable(group, state):
        return
    page = state.page(pair.page)
    found = with_text(pair, state.document, page, state.asked)
    if found is not None:
        yield _of_laid(found, page)


Stage = tuple[Together, Way]
_KEEP: tuple[Stage, ...] = (
    (in_the_file, keep_polarity),
    (on_a_page, keep_polarity),
    (in_a_shape, keep_polarity),
)
_LAY: tuple[Stage, ...] = ((in_a_shape, overlay), (alone, overlay))
_FILL: tuple[Stage, ...] = ((in_a_shape, another_backdrop), (alone, another_backdrop))
_PALETTE: tuple[Stage, ...] = (
    (on_a_page, from_the_palette),
    (in_a_shape, from_the_palette),
)
_APART: tuple[Stage, ...] = ((of_one_look, keep_polarity), (alone, keep_polarity))
_LAST: tuple[Stage, ...] = (
    (alone, from_the_palette),
    (alone, plate_of_its_own),
    (alone, weight_or_size),
    (on_a_page, of_any_colour),
    (in_a_shape, of_any_colour),
    (alone, of_any_colour),
    (alone, a_far_backdrop),
    (alone, text_and_plate),
)
_LINKS: tuple[Stage, ...] = ((alone, underline),)
STAGES: dict[Preference, tuple[Stage, ...]] = {
    Preference.LEAST: (*_KEEP, *_FILL, *_LAY, *_PALETTE, *_APART, *_LINKS, *_LAST),
    Preference.TEXT: (*_KEEP, *_APART, *_PALETTE, *_LINKS, *_FILL, *_LAY, *_LAST),
    Preference.BACKDROP: (
        *_FILL,
        (in_a_shape, a_far_backdrop),
        *_LAY,
        *_KEEP,
        *_PALETTE,
        *_APART,
        *_LINKS,
        *_LAST,
    ),
    Preference.OVERLAY: (*_LAY, *_FILL, *_KEEP, *_PALETTE, *_APART, *_LINKS, *_LAST),
}
