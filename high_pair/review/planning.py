"""Mending a whole file: options are chosen, tried together, measured, kept or refused.

In each round every text that falls short is given the first option that wasn't refused
yet; all are tried at once, so that a page is painted once for all of them. One that
doesn't bring its texts to pass, or breaks others, is refused, the rest are tried again
without it, and the next is tried in the next round: what is kept was measured as it is.
What depends on each other is thus settled by what was measured: a link after the text
around it, a heading after the text that it heads.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from high_pair.edits.kinds import Edit, LayOver, RecolourFill
from high_pair.errors import Cancelled, EditError, HighPairError
from high_pair.formats.document import Document, Shown
from high_pair.measure.pairs import Pair
from high_pair.remedy.recolour import recolour_text
from high_pair.remedy.wishes import Levels, Wishes
from high_pair.review.matching import MeasuredAnew
from high_pair.review.measuring import PageBench, PageReview
from high_pair.review.options import STAGES, Option, State, keep_polarity
from high_pair.scene.addresses import expand
from high_pair.wcag.asked import NO_AIM, Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

MOST_ROUNDS = 24
# A heading is larger than the text that it heads by at least so much.
HEADS = 1.15
# And is paler than that where it falls behind it by so much.
PALER = 0.1
MANY_TEXTS = 200
Pages = dict[int, tuple[Pair, ...]]
Anew = dict[int, MeasuredAnew]
Refused = tuple[frozenset[tuple[int, str, Subject]], tuple[Edit, ...]]


@dataclass(frozen=True)
class Planned:
    """What came of it. options: what is done, in order; left: what still falls short, and why."""

    options: tuple[Option, ...]
    left: tuple[tuple[Pair, str], ...]

    @property
    def edits(self) -> tuple[Edit, ...]:
        """All that is to be changed."""
        return edits_of(self.options)


def edits_of(options: Iterable[Option]) -> tuple[Edit, ...]:
    """Give the edits of options in order, each once."""
    return tuple(dict.fromkeys(edit for option in options for edit in option.edits))


def plan(
    document: Document,
    pages: Sequence[PageReview],
    asked: Asked,
    wishes: Wishes,
    stopped: Callable[[], bool] = lambda: False,
) -> Planned:
    """Find what mends every text that falls short on a document's pages.

    Raises Cancelled as soon as `stopped` says so.
    """
    work = _Planning(document, pages, asked, wishes, stopped)
    work.rounds()
    if asked.aim != NO_AIM:
        work.aim_no_higher()
        work.rounds()
    return Planned(tuple(work.accepted), work.left())


@dataclass
class _Planning:
    """A plan that is being made. first, now: the pairs of each page (from 1) at first and now."""

    document: Document
    reviews: Sequence[PageReview]
    asked: Asked
    wishes: Wishes
    stopped: Callable[[], bool]
    accepted: list[Option] = field(default_factory=list)
    refused: set[Refused] = field(default_factory=set)
    why: dict[tuple[int, str, Subject], str] = field(default_factory=dict)
    # Where it isn't known which of several options broke a text, only so many are tried at a time.
    at_a_time: dict[int, int] = field(default_factory=dict)
    links_wait: bool = True

    def __post_init__(self) -> None:
        self.first: Pages = {review.page + 1: review.pairs for review in self.reviews}
        self.now: Pages = dict(self.first)
        self.current = self.document
        self.bench = PageBench()
        self.overlays: dict[int, Levels] = {}

    def rounds(self) -> None:
        """Make rounds while they mend something."""
        for _ in range(MOST_ROUNDS):
            if not self.round():
                break

    def aim_no_higher(self) -> None:
        """Ask for no more than the standard of what nothing brings to the aim."""
        self.asked = replace(self.asked, aim=NO_AIM)
        self.refused.clear()
        self.now = {
            page: tuple(replace(pair, aim=pair.required) for pair in pairs)
            for page, pairs in self.now.items()
        }

    def round(self) -> bool:
        """Choose options, try them, and keep those that serve; tells whether there were any."""
        state = self._state()
        falling = self._falling(state)
        chosen = self._chosen(falling, state)
        if not chosen and self.links_wait:
            self.links_wait = False
            chosen = self._chosen(self._falling(state), state)
        self.links_wait = False
        if not chosen:
            return False
        while chosen:
            tried, chosen = self._carried_out(chosen)
            after = self._measured(tried, chosen)
            anew = {page: MeasuredAnew(pairs) for page, pairs in after.items()}
            good = self._judged(chosen, anew)
            if len(good) == len(chosen):
                self._keep(good, tried, after)
                break
            chosen = good
        return True

    def _keep(self, options: Sequence[Option], document: Document, pages: Pages) -> None:
        self.accepted += options
        for option in options:
            if option.overlay is not None:
                self.overlays.setdefault(option.serves[0].page, option.overlay)
        self.current = document
        self.now.update(pages)

    # Choosing

    def _state(self) -> State:
        current, bench = self.current, self.bench
        accepted = edits_of(self.accepted)

        def trial(edits: Sequence[Edit]) -> Document:
            return self.document.edited((*accepted, *edits))

        return State(
            current,
            lambda number: bench.get(current, number - 1, self.asked),
            self.asked,
            trial,
            self.wishes,
            dict(self.overlays),
            self._demands(),
        )

    def _falling(self, state: State) -> list[Pair]:
        found = []
        for pairs in self.now.values():
            linked = _linked(pairs)
            for pair in pairs:
                if self.links_wait and pair.address in linked:
                    continue
                raised = pair.verdict is Verdict.PASSES and pair.id in state.demands
                if (pair.verdict is Verdict.FALLS_SHORT and not pair.fixed) or raised:
                    found.append(pair)
        return sorted(found, key=lambda pair: pair.ratio or 0.0)

    def _demands(self) -> dict[str, float]:
        """Give what headings are to reach that have become paler than the text that they head."""
        found: dict[str, float] = {}
        for number, pairs in self.now.items():
            whole = self.document.pages[number - 1].shown is Shown.WHOLE
            if self.first[number] is pairs or not whole or len(pairs) > MANY_TEXTS:
                continue
            before = {_key(pair): pair.ratio for pair in self.first[number]}
            texts = [pair for pair in pairs if pair.subject is Subject.TEXT and pair.ratio]
            for heading in texts:
                was = before.get(_key(heading)) or 0.0
                beaten = [
                    text.ratio or 0.0
                    for text in texts
                    if heading.size >= HEADS * text.size
                    and heading.required < text.required
                    and was >= (before.get(_key(text)) or 0.0)
                    and (heading.ratio or 0.0) < (text.ratio or 0.0) - PALER
                    and (before.get(_key(text)) or 0.0) < (text.ratio or 0.0) - PALER
                ]
                if beaten and not heading.fixed:
                    # And with it those that look alike: they have one colour.
                    for each in texts:
                        if _look(each) == _look(heading):
                            found[each.id] = max(found.get(each.id, 0.0), *beaten)
        return found

    def _chosen(self, falling: Sequence[Pair], state: State) -> list[Option]:
        chosen: list[Option] = []
        count: dict[int, int] = {}
        left = {(pair.page, pair.id): pair for pair in falling}
        for together, way in STAGES[self.wishes.prefer]:
            groups: dict[object, list[Pair]] = {}
            for pair in left.values():
                # A text that passes is no reason for more than another shade of its colour.
                if way is keep_polarity or pair.verdict is Verdict.FALLS_SHORT:
                    groups.setdefault(together(pair, state), []).append(pair)
            for group in groups.values():
                here = [pair for pair in group if (pair.page, pair.id) in left]
                if not here or any(self._enough(pair.page, count) for pair in here):
                    continue
                self._look_for_the_end()
                option = next(
                    (each for each in way(here, state) if _name(each) not in self.refused), None
                )
                if option is None:
                    continue
                chosen.append(option)
                if option.overlay is not None:
                    state.overlays.setdefault(here[0].page, option.overlay)
                for pair in option.serves:
                    left.pop((pair.page, pair.id), None)
                for page in {pair.page for pair in option.serves}:
                    count[page] = count.get(page, 0) + 1
        return chosen

    def _enough(self, page: int, count: dict[int, int]) -> bool:
        most = self.at_a_time.get(page)
        return most is not None and count.get(page, 0) >= most

    def _look_for_the_end(self) -> None:
        if self.stopped():
            raise Cancelled("Mending was stopped.")

    # Trying

    def _edited(self, options: Sequence[Option]) -> Document:
        edits = edits_of(options)
        return self.document.edited(edits) if edits else self.document

    def _carried_out(self, chosen: list[Option]) -> tuple[Document, list[Option]]:
        """Give the document with options, and those of them that can be carried out."""
        try:
            return self._edited([*self.accepted, *chosen]), chosen
        except EditError:
            good: list[Option] = []
            document = self.current
            for option in chosen:
                try:
                    document = self._edited([*self.accepted, *good, option])
                except EditError as error:
                    self._refuse(option, str(error))
                else:
                    good.append(option)
            return document, good

    def _measured(self, document: Document, options: Sequence[Option]) -> Pages:
        touched = self.document.pages_touched(edits_of(options))
        found = {}
        for page in sorted(touched):
            self._look_for_the_end()
            found[page + 1] = self.bench.get(document, page, self.asked).pairs
        return found

    def _judged(self, chosen: Sequence[Option], after: Anew) -> list[Option]:
        """Give the options that bring their texts to pass and break nothing."""
        demands = self._demands()
        bad = set()
        for place, option in enumerate(chosen):
            if not all(
                self._holds(
                    pair, after, demands.get(pair.id, 0.0), pair.verdict is Verdict.FALLS_SHORT
                )
                for pair in option.serves
            ):
                self._refuse(option)
                bad.add(place)
        # Others may be broken by those that are bad already: they are looked at without them.
        for pair in () if bad else self._broken(after):
            guilty = self._guilty(chosen, pair)
            most = min(len(guilty), self.at_a_time.get(pair.page, len(guilty)))
            if most == 1:
                for place in guilty:
                    self._refuse(chosen[place])
            self.at_a_time[pair.page] = max(1, most // 2)
            bad.update(guilty)
        return [option for place, option in enumerate(chosen) if place not in bad]

    def _broken(self, after: Anew) -> Iterator[Pair]:
        """List what passed and doesn't any more; links are told from their text later."""
        for page in after:
            for pair in self.now.get(page, ()):
                judged = pair.verdict is Verdict.PASSES and pair.subject is not Subject.LINK
                if judged and not self._holds(pair, after):
                    yield pair

    def _guilty(self, chosen: Sequence[Option], pair: Pair) -> list[int]:
        """Give the places of the options that may have broken a pair, all where none is likely."""
        touching = [
            place
            for place, option in enumerate(chosen)
            if pair.page - 1 in self.document.pages_touched(option.edits)
        ]
        likely = [place for place in touching if _reaches(chosen[place], pair)]
        return likely or touching or list(range(len(chosen)))

    def _holds(self, pair: Pair, after: Anew, demand: float = 0.0, aiming: bool = False) -> bool:
        return pair.page not in after or after[pair.page].holds(pair, demand, aiming)

    def _refuse(self, option: Option, why: str = "") -> None:
        self.refused.add(_name(option))
        if why:
            self.why.update((_key(pair), why) for pair in option.serves)

    # The end

    def left(self) -> tuple[tuple[Pair, str], ...]:
        """List what still falls short, with the reason for each."""
        state = self._state()
        found = []
        for pairs in self.now.values():
            for pair in pairs:
                if pair.verdict is Verdict.FALLS_SHORT:
                    found.append((pair, pair.fixed or self._reason(pair, state)))
        return tuple(found)

    def _reason(self, pair: Pair, state: State) -> str:
        known = self.why.get(_key(pair))
        if known:
            return known
        if pair.text_colour.levels in self.wishes.kept:
            return "Its colour is to be kept, and nothing else serves."
        try:
            cases = state.cases([pair])
            none = recolour_text(cases, pair.text_colour).none if cases else ""
        except HighPairError as error:
            return str(error)
        return none or "Every change that was tried fell short when measured, or broke others."


def _linked(pairs: Sequence[Pair]) -> set[str]:
    """Give the addresses of links that are told from a text which is going to change by itself."""
    changing = {
        pair.numbers.foreground
        for pair in pairs
        if pair.verdict is Verdict.FALLS_SHORT and pair.numbers and pair.subject is Subject.TEXT
    }
    return {
        pair.address
        for pair in pairs
        if pair.subject is Subject.LINK and pair.numbers and pair.numbers.background in changing
    }


def _key(pair: Pair) -> tuple[int, str, Subject]:
    return pair.page, pair.address, pair.subject


def _look(pair: Pair) -> tuple[object, ...]:
    return pair.text_colour, pair.size, pair.weight


def _name(option: Option) -> Refused:
    return frozenset(_key(pair) for pair in option.serves), option.edits


def _reaches(option: Option, pair: Pair) -> bool:
    """Tell whether an option on its page may have changed a pair: its text, or what is behind."""
    behind = any(isinstance(edit, LayOver | RecolourFill) for edit in option.edits)
    addresses = set(expand(pair.address))
    return behind or any(addresses & set(expand(edit.address)) for edit in option.edits)
