"""What the Sets desk holds: the file's sets, the kept ones, what was changed, and the way back."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from high_pair.edits.kinds import Edit
from high_pair.errors import HighPairError
from high_pair.measure.pairs import Pair
from high_pair.remedy.by_hand import Tone, tone_of
from high_pair.remedy.sets import MendedSet
from high_pair.review.kept_sets import (
    KeptSet,
    file_for,
    kept_as,
    load_sets,
    name_for,
    store_sets,
)
from high_pair.review.set_drafts import Draft, wanted_of, with_draft
from high_pair.scene.colour_set import ColourSet, Levels, SetColour, SetPair, State

MOST_STEPS_BACK = 200
STORE_MILLISECONDS = 400
# Two colours of a set, by their names: text and backdrop.
Names = tuple[str, str]


UNCHANGED = Draft()


@dataclass(frozen=True)
class Key:
    """Which set: of a file, by that one's key and the set's place in it; or kept, in a file."""

    file: int = 0
    place: int = 0
    kept: str = ""


@dataclass(frozen=True)
class Applied:
    """A set that was applied to its file: that one's key, and the edits."""

    file: int
    edits: tuple[Edit, ...]


@dataclass(frozen=True)
class Moment:
    """All that undo brings back."""

    kept: tuple[KeptSet, ...] = ()
    drafts: Mapping[Key, Draft] = field(default_factory=dict)
    key: Key | None = None
    applied: tuple[Applied, ...] = ()


class SetsState(QObject):
    """The state.

    changed: colours, pairs or what is chosen; listed: which sets there are, or which is shown;
    ways_changed: whether there is a way back, or forth; failed: a message for the user;
    taken_back, taken_again: what was applied to the file is undone, or done again.

    file_sets: of the file at hand, by their place, with their pairs as far as they are known;
    uses: what stands where two of their colours meet; chosen: a colour's name; pair: two names;
    proposal: what is looked at in place of the set as it is.
    """

    changed = Signal()
    listed = Signal()
    ways_changed = Signal()
    failed = Signal(str)
    taken_back = Signal(object)
    taken_again = Signal(object)

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self.folder = folder
        self.file = 0
        self.file_sets: tuple[ColourSet, ...] = ()
        self.uses: Mapping[tuple[int, str, str], Sequence[Pair]] = {}
        self.chosen = ""
        self.pair: Names | None = None
        self.proposal: MendedSet | None = None
        kept, self._troubles = load_sets(folder)
        self._stored = kept
        self.now = Moment(kept)
        # Sets as they are, with what they were made of.
        self._known: dict[Key, tuple[ColourSet, Draft, ColourSet]] = {}
        self._back: list[Moment] = []
        self._forth: list[Moment] = []
        self._gesture = ""
        self._ways = (False, False)
        # What is being applied to a file: the set, all as it was before, and the edits.
        self._applying: tuple[Key, Moment, tuple[Edit, ...]] | None = None
        self._store_soon = QTimer(self)
        self._store_soon.setSingleShot(True)
        self._store_soon.setInterval(STORE_MILLISECONDS)
        self._store_soon.timeout.connect(self.store)

    def tell_trouble(self) -> None:
        """Tell once which kept sets couldn't be read."""
        troubles, self._troubles = self._troubles, []
        if troubles:
            self.failed.emit("\n\n".join(troubles))

    # Which sets there are

    @property
    def key(self) -> Key | None:
        """The set that is shown; the first there is where that is gone."""
        keys = self.all_keys()
        return self.now.key if self.now.key in keys else next(iter(keys), None)

    def all_keys(self) -> list[Key]:
        """List all sets, the file's first."""
        of_file = [Key(self.file, place) for place in range(len(self.file_sets))]
        return of_file + [Key(kept=each.file) for each in self.now.kept]

    def base(self, key: Key) -> ColourSet:
        """Give a set without what was changed here."""
        if not key.kept:
            return self.file_sets[key.place]
        return next(each.colours for each in self.now.kept if each.file == key.kept)

    def colours_of(self, key: Key) -> ColourSet:
        """Give a set as it is now, which many ask for between two changes."""
        base, draft = self.base(key), self.now.drafts.get(key, UNCHANGED)
        known = self._known.get(key)
        if known is None or known[0] is not base or known[1] is not draft:
            known = self._known[key] = (base, draft, with_draft(base, draft))
        return known[2]

    @property
    def colours(self) -> ColourSet | None:
        """The set that is shown, as it is now."""
        return None if self.key is None else self.colours_of(self.key)

    @property
    def looked_at(self) -> ColourSet | None:
        """What is looked at: what is proposed, else the set as it is now."""
        return self.proposal.colours if self.proposal is not None else self.colours

    def show(self, key: Key) -> None:
        """Show another set."""
        if key == self.key:
            return
        self.now = replace(self.now, key=key)
        self.chosen, self.pair, self.proposal = "", None, None
        self._gesture = ""
        self.listed.emit()
        self.changed.emit()

    def show_file(
        self,
        file: int,
        sets: Sequence[ColourSet],
        uses: Mapping[tuple[int, str, str], Sequence[Pair]],
    ) -> None:
        """Take the sets of the file at hand; what was changed here of their colours stays."""
        other = file != self.file
        self.file, self.file_sets, self.uses = file, tuple(sets), uses
        if other and file and sets:
            self.now = replace(self.now, key=Key(file, 0))
            self.chosen, self.pair, self.proposal = "", None, None
        self._end_applying()
        self._keep_choice()
        self.listed.emit()
        self.changed.emit()

    def _keep_choice(self) -> None:
        colours = self.colours
        if colours is None or colours.colour(self.chosen) is None:
            self.chosen = ""
        if self.pair and (colours is None or any(colours.colour(n) is None for n in self.pair)):
            self.pair = None

    # What is chosen

    def choose(self, name: str) -> None:
        """Choose a colour."""
        self.chosen, self.pair = name, None
        self._gesture = ""
        self.changed.emit()

    def choose_pair(self, pair: Names | None) -> None:
        """Choose two colours."""
        if pair != self.pair:
            self.pair, self.chosen = pair, ""
            self._gesture = ""
            self.changed.emit()

    def look_at(self, proposal: MendedSet | None) -> None:
        """Look at what is proposed, or again at the set as it is."""
        if proposal is not self.proposal:
            self.proposal = proposal
            self.changed.emit()

    # Changing a set

    def _draft(self, change: Callable[[Draft], Draft], gesture: str = "") -> None:
        key = self.key
        # Where something else is changed meanwhile, what is being applied is no step here any more.
        self._applying = None
        if key is not None:
            draft = change(self.now.drafts.get(key, Draft()))
            self._step(replace(self.now, drafts={**self.now.drafts, key: draft}), gesture)

    def tone(self, name: str) -> Tone:
        """Give a colour's tone: where it was moved from tells its hue and chroma."""
        key, looked_at = self.key, self.looked_at
        assert key is not None and looked_at is not None
        colour = looked_at.colour(name)
        assert colour is not None
        known = self.now.drafts.get(key, Draft()).tones.get(name)
        return known if known and known.levels == colour.levels else tone_of(colour.levels)

    def is_movable(self, name: str) -> bool:
        """Tell whether a colour moves by itself."""
        colours = self.colours
        colour = colours.colour(name) if colours is not None else None
        return colour is not None and not colour.parent

    def move(self, name: str, lightness: float) -> None:
        """Move a colour along the line, its hue and chroma kept."""
        if self.is_movable(name):
            tone = replace(self.tone(name), lightness=min(1.0, max(0.0, lightness)))
            taken = self._taken_over()
            self._draft(lambda draft: taken(draft).with_tone(name, tone), f"move {name}")

    def end_gesture(self) -> None:
        """What comes next is a step of its own for undo."""
        self._gesture = ""
        self.changed.emit()

    def type_colour(self, name: str, levels: Levels) -> None:
        """Give a colour another value."""
        if self.is_movable(name):
            taken = self._taken_over()
            self._draft(lambda draft: taken(draft).with_tone(name, tone_of(levels)), f"type {name}")

    def take_levels(self, levels: Mapping[str, Levels]) -> None:
        """Give several colours other values at once."""
        self.proposal = None
        tones = {name: tone_of(each) for name, each in levels.items()}
        self._draft(lambda draft: replace(draft, tones={**draft.tones, **tones}))

    def _taken_over(self) -> Callable[[Draft], Draft]:
        """What is changed of a proposal that is looked at begins with what that proposes."""
        proposal, self.proposal = self.proposal, None
        if proposal is None:
            return lambda draft: draft
        tones = {change.name: tone_of(change.after) for change in proposal.changes}
        return lambda draft: replace(draft, tones={**draft.tones, **tones})

    def set_leave(self, name: str, on: bool) -> None:
        """Let a colour stay as it is when the set is mended, or not."""
        self._draft(lambda draft: draft.with_leave(name, on))

    def want(self, pair: Names, required: float) -> None:
        """Want a pair of a ratio, though no page may have it yet."""
        colours = self.colours
        if colours is None:
            return
        others = [each for each in wanted_of(colours) if (each.text, each.backdrop) != pair]
        wanted = (*others, SetPair(*pair, State.WANTED, required))
        self.pair, self.chosen = pair, ""
        self._draft(lambda draft: replace(draft, wanted=wanted))

    def want_no_more(self, pair: Names) -> None:
        """Want a pair no more."""
        colours = self.colours
        if colours is not None:
            left = [each for each in wanted_of(colours) if (each.text, each.backdrop) != pair]
            self._draft(lambda draft: replace(draft, wanted=tuple(left)))

    def as_it_was(self) -> None:
        """Take back all that was changed here of the shown set's colours."""
        self.proposal = None
        self._draft(lambda draft: replace(draft, tones={}))

    def begin_applying(self, edits: Sequence[Edit]) -> None:
        """Show the set as it is looked at, until its file has it."""
        key, looked_at = self.key, self.looked_at
        assert key is not None and looked_at is not None
        self._applying = (key, self.now, tuple(edits))
        base = self.base(key)
        tones = {
            each.name: tone_of(each.levels)
            for each in looked_at.colours
            if not each.parent and base.colour(each.name) != each
        }
        draft = replace(self.now.drafts.get(key, Draft()), tones=tones)
        self.now = replace(self.now, drafts={**self.now.drafts, key: draft})
        self.proposal = None

    def _end_applying(self) -> None:
        """Take it as a step, if the file has what was applied: it is no change any more."""
        if self._applying is None:
            return
        key, before, edits = self._applying
        if key not in self.all_keys() or self.is_moved_from_base(key):
            return
        self._applying = None
        drafts = {
            each: replace(draft, tones={}) if each == key else draft
            for each, draft in self.now.drafts.items()
        }
        self.now = before
        applied = (*before.applied, Applied(key.file, edits))
        self._step(replace(before, drafts=drafts, applied=applied))

    def is_moved_from_base(self, key: Key) -> bool:
        """Tell whether a set's colours are other than where it comes from."""
        then = {each.name: each.levels for each in self.base(key).colours}
        return any(each.levels != then[each.name] for each in self.colours_of(key).colours)

    # Kept sets

    def _kept(self, kept: Sequence[KeptSet], key: Key | None, drafts: Sequence[Key] = ()) -> None:
        left = {each: draft for each, draft in self.now.drafts.items() if each not in drafts}
        self.proposal = None
        self._step(replace(self.now, kept=tuple(kept), drafts=left, key=key))
        self._keep_choice()
        self.listed.emit()

    def keep(self, colours: ColourSet, name: str = "") -> Key:
        """Keep a set as a new one, and show it."""
        own = name_for(name or colours.name, {each.colours.name for each in self.now.kept})
        file = file_for(own, {each.file for each in (*self.now.kept, *self._stored)})
        key = Key(kept=file)
        self._kept((*self.now.kept, kept_as(replace(colours, name=own), file)), key)
        return key

    def change_kept(self, change: Callable[[ColourSet], ColourSet]) -> None:
        """Change the kept set that is shown."""
        key = self.key
        if key is None or not key.kept:
            return
        changed = change(self.colours_of(key))
        kept = [
            each.with_colours(changed) if each.file == key.kept else each for each in self.now.kept
        ]
        self._kept(kept, key, [key])

    def rename(self, name: str) -> None:
        """Give the kept set that is shown another name."""
        key = self.key
        others = {
            each.colours.name for each in self.now.kept if key is None or each.file != key.kept
        }
        self.change_kept(lambda colours: replace(colours, name=name_for(name, others)))

    def rename_colour(self, name: str, other: str) -> bool:
        """Give a colour of the kept set another name; tells whether that one was free."""
        wanted = " ".join(other.split())
        colours = self.colours
        if colours is None or not wanted or colours.colour(wanted) is not None:
            return False

        def change(before: ColourSet) -> ColourSet:
            return replace(
                before,
                colours=tuple(
                    replace(each, name=wanted) if each.name == name else each
                    for each in before.colours
                ),
                pairs=tuple(
                    replace(
                        each,
                        text=wanted if each.text == name else each.text,
                        backdrop=wanted if each.backdrop == name else each.backdrop,
                    )
                    for each in before.pairs
                ),
            )

        self.chosen = wanted
        self.change_kept(change)
        return True

    def add(self, colours: Sequence[SetColour]) -> None:
        """Add colours to the kept set that is shown."""
        self.change_kept(lambda before: replace(before, colours=(*before.colours, *colours)))

    def remove_colour(self, name: str) -> None:
        """Take a colour out of the kept set that is shown."""

        def change(before: ColourSet) -> ColourSet:
            return replace(
                before,
                colours=tuple(each for each in before.colours if each.name != name),
                pairs=tuple(p for p in before.pairs if name not in (p.text, p.backdrop)),
            )

        self.chosen = ""
        self.change_kept(change)

    def delete(self) -> str:
        """Delete the kept set that is shown; gives its name, empty where none is."""
        key = self.key
        if key is None or not key.kept:
            return ""
        name = self.base(key).name
        kept = [each for each in self.now.kept if each.file != key.kept]
        self.chosen, self.pair = "", None
        self._kept(kept, None, [key])
        return name

    @property
    def is_moving(self) -> bool:
        """Whether a colour is being moved, step by step."""
        return self._gesture.startswith("move")

    @property
    def shows_kept(self) -> bool:
        """Whether a kept set is shown."""
        return self.key is not None and bool(self.key.kept)

    def kept_sets(self) -> list[ColourSet]:
        """List the kept sets as they are now."""
        return [self.colours_of(Key(kept=each.file)) for each in self.now.kept]

    # The way back

    def _step(self, moment: Moment, gesture: str = "") -> None:
        """Take a step. gesture: steps of one gesture are undone as one."""
        if not gesture or gesture != self._gesture:
            self._back = [*self._back, self.now][-MOST_STEPS_BACK:]
        self._gesture = gesture
        self._forth = []
        self.now = moment
        self._store_soon.start()
        self.changed.emit()
        ways = (self.can_undo, self.can_redo)
        if ways != self._ways:
            self._ways = ways
            self.ways_changed.emit()

    @property
    def can_undo(self) -> bool:
        """Whether there is a way back."""
        return bool(self._back)

    @property
    def can_redo(self) -> bool:
        """Whether what was undone can be done again."""
        return bool(self._forth)

    def undo(self) -> None:
        """Undo the last step."""
        if self._back:
            self._forth.append(self.now)
            self._restore(self._back.pop())

    def redo(self) -> None:
        """Do again what was undone last."""
        if self._forth:
            self._back.append(self.now)
            self._restore(self._forth.pop())

    def _restore(self, moment: Moment) -> None:
        before, self.now = self.now, moment
        self._applying = None
        if len(moment.applied) < len(before.applied):
            self.taken_back.emit(before.applied[-1])
        elif len(moment.applied) > len(before.applied):
            self.taken_again.emit(moment.applied[-1])
        self.proposal, self._gesture = None, ""
        self._keep_choice()
        self._store_soon.start()
        self.listed.emit()
        self.changed.emit()
        self._ways = (self.can_undo, self.can_redo)
        self.ways_changed.emit()

    def store(self) -> None:
        """Write kept sets that have changed to their files."""
        self._store_soon.stop()
        now = tuple(
            each.with_colours(self.colours_of(Key(kept=each.file))) for each in self.now.kept
        )
        try:
            store_sets(self.folder, self._stored, now)
        except HighPairError as error:
            self.failed.emit(str(error))
        else:
            self._stored = now


def pairs_of(colours: ColourSet, state: State, required: float) -> list[SetPair]:
    """List a set's pairs of a state; those that are possible alone are asked the usual ratio."""
    if state is not State.POSSIBLE:
        return [pair for pair in colours.pairs if pair.state is state]
    met = {frozenset((pair.text, pair.backdrop)) for pair in colours.pairs}
    names = [colour.name for colour in colours.colours]
    return [
        SetPair(one, other, State.POSSIBLE, required)
        for place, one in enumerate(names)
        for other in names[place + 1 :]
        if frozenset((one, other)) not in met
    ]
