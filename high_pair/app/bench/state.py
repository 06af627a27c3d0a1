"""What the Bench holds: two colours, the log, and the way back."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from pathlib import Path

from platformdirs import user_data_path
from PySide6.QtCore import QObject, Signal

from high_pair.errors import HighPairError
from high_pair.measure.by_hand import TARGETS, HandPair, LinkColours, OneAndMany, Target
from high_pair.remedy.by_hand import Channel, Tone, nearest_pass, shared_pass, tone_of
from high_pair.review.log import Entry, Log, entry_of, load, save
from high_pair.scene.paint import Colour, from_levels
from high_pair.wcag.criteria import USE_OF_COLOUR

MOST_STEPS_BACK = 200
LINKS = LinkColours(
    from_levels((0x0B, 0x57, 0xA4)), from_levels((0x1A, 0x1A, 0x1A)), from_levels((255, 255, 255))
)
MANY = OneAndMany(from_levels((0x1B, 0x4F, 0x72)))
START = (from_levels((0x1B, 0x4F, 0x72)), from_levels((255, 255, 255)))


class Side(StrEnum):
    """Which of the two colours."""

    FOREGROUND = "foreground"
    BACKDROP = "backdrop"

    @property
    def other(self) -> Side:
        """The other one."""
        return Side.BACKDROP if self is Side.FOREGROUND else Side.FOREGROUND


@dataclass(frozen=True)
class Moment:
    """All that undo brings back."""

    foreground: Tone
    backdrop: Tone
    log: Log
    links: LinkColours = LINKS
    many: OneAndMany = MANY

    def tone(self, side: Side) -> Tone:
        """Give one colour's tone."""
        return self.foreground if side is Side.FOREGROUND else self.backdrop

    def with_tone(self, side: Side, tone: Tone) -> Moment:
        """Give the moment with one colour changed."""
        if side is Side.FOREGROUND:
            return replace(self, foreground=tone)
        return replace(self, backdrop=tone)


def colour_of(tone: Tone) -> Colour:
    """Give a tone's colour."""
    return from_levels(tone.levels, tone.opacity)


def tone_for(colour: Colour) -> Tone:
    """Give a colour's tone."""
    return tone_of(colour.levels, colour.opacity)


class BenchState(QObject):
    """The state.

    changed: the colours; log_changed: the log; ways_changed: whether there is a
    way back, or forth; failed: a message for the user.
    """

    changed = Signal()
    log_changed = Signal()
    ways_changed = Signal()
    failed = Signal(str)

    def __init__(self, log_path: Path | None = None) -> None:
        super().__init__()
        self.log_path = log_path or user_data_path("high-pair") / "log.json"
        self.sources = dict.fromkeys(Side, "typed")
        self.target: Target = TARGETS[0]
        self._trouble = ""
        try:
            log = load(self.log_path)
        except HighPairError as error:
            log, self._trouble = Log(), str(error)
        self.now = Moment(tone_for(START[0]), tone_for(START[1]), log)
        self._back: list[Moment] = []
        self._forth: list[Moment] = []
        self._gesture = ""
        self._ways = (False, False)

    def tell_trouble(self) -> None:
        """Tell what went wrong while the log was read, once."""
        if self._trouble:
            self.failed.emit(self._trouble)
            self._trouble = ""

    def ask(self, target: Target) -> None:
        """Ask for another target."""
        self.target = target
        self.changed.emit()
        self.log_changed.emit()

    @property
    def required(self) -> float:
        """The ratio asked for."""
        return self.target.required

    # Colours

    @property
    def pair(self) -> HandPair:
        """The two colours as a pair."""
        return HandPair(colour_of(self.now.foreground), colour_of(self.now.backdrop))

    def colour(self, side: Side) -> Colour:
        """Give one colour."""
        return colour_of(self.now.tone(side))

    def set_colour(self, side: Side, colour: Colour, source: str = "typed") -> None:
        """Take a colour that was typed or picked."""
        if colour == self.colour(side):
            return
        self.sources[side] = source
        gesture = f"{side} typed" if source == "typed" else ""
        self._go(self.now.with_tone(side, tone_for(colour)), gesture)

    def set_channel(self, side: Side, channel: Channel, value: float) -> None:
        """Take a slider's value; one drag is one step back."""
        tone = self.now.tone(side).with_value(channel, value)
        self.sources[side] = "adjusted"
        self._go(self.now.with_tone(side, tone), f"{side} {channel}")

    def end_gesture(self) -> None:
        """End a drag: the next change is a step of its own."""
        self._gesture = ""

    def begin_with(self, foreground: Colour, backdrop: Colour) -> None:
        """Start with two colours, without a way back to others."""
        self._show(replace(self.now, foreground=tone_for(foreground), backdrop=tone_for(backdrop)))

    def set_pair(self, foreground: Colour, backdrop: Colour, source: str) -> None:
        """Take both colours."""
        self.sources = dict.fromkeys(Side, source)
        self._go(replace(self.now, foreground=tone_for(foreground), backdrop=tone_for(backdrop)))

    def swap(self) -> None:
        """Let the two change places."""
        self.sources = {side: self.sources[side.other] for side in Side}
        self._go(replace(self.now, foreground=self.now.backdrop, backdrop=self.now.foreground))

    def to_nearest_pass(self, side: Side) -> bool:
        """Change one colour to the nearest that passes; tells whether there is one."""
        asked = [(self.colour(side.other), self.required)]
        found = nearest_pass(self.colour(side), asked, side is Side.FOREGROUND)
        if found is not None:
            self.set_colour(side, found, "adjusted")
        return found is not None

    def share_pass(self) -> bool:
        """Change both by as much, to the nearest that pass; tells whether there are any."""
        found = shared_pass(self.pair.foreground, self.pair.backdrop, self.required)
        if found is not None and found != (self.pair.foreground, self.pair.backdrop):
            self.set_pair(*found, "adjusted")
        return found is not None

    # Links, and one against many

    def set_links(self, links: LinkColours) -> None:
        """Take other colours of links."""
        self._go(replace(self.now, links=links))

    def mend_link(self) -> bool:
        """Change the link to the nearest that passes all; tells whether there is one."""
        links = self.now.links
        asked = [(links.backdrop, self.required)]
        if not links.underlined:
            asked.append((links.body, USE_OF_COLOUR.normal))
        found = nearest_pass(links.link, asked, is_text=True)
        if found is not None:
            self.set_links(replace(links, link=found))
        return found is not None

    def set_many(self, many: OneAndMany) -> None:
        """Take other colours of one against many."""
        self._go(replace(self.now, many=many))

    def serve_all(self) -> bool:
        """Change the one colour to the nearest that serves all; tells whether there is one."""
        many = self.now.many
        asked = [(other, self.required) for other in many.others]
        found = nearest_pass(many.one, asked, many.one_is_text)
        if found is not None:
            self.set_many(replace(many, one=found))
        return found is not None

    # The log

    def keep(self, name: str = "") -> None:
        """Put the pair into the log."""
        sources = dict.fromkeys(self.sources[side] for side in Side)
        entry = entry_of(self.pair, ", ".join(sources), name)
        self._go(replace(self.now, log=self.now.log.with_entry(entry)))

    def forget(self, places: list[int]) -> None:
        """Take entries out of the log."""
        if places:
            self._go(replace(self.now, log=self.now.log.without(places)))

    def describe(self, place: int, name: str, note: str) -> None:
        """Change an entry's name and note."""
        self._go(replace(self.now, log=self.now.log.changed(place, name=name, note=note)))

    def take_back(self, entry: Entry) -> None:
        """Bring an entry's colours back to the Bench."""
        pair = entry.pair
        self.set_pair(pair.foreground, pair.backdrop, entry.source)

    # The way back

    def _go(self, moment: Moment, gesture: str = "") -> None:
        if moment == self.now:
            return
        if not gesture or gesture != self._gesture:
            self._back = [*self._back[-MOST_STEPS_BACK:], self.now]
        self._gesture = gesture
        self._forth = []
        self._show(moment)
        self._tell_ways()

    def _show(self, moment: Moment) -> None:
        before, self.now = self.now, moment
        if before.log != moment.log:
            try:
                save(moment.log, self.log_path)
            except HighPairError as error:
                self.failed.emit(str(error))
            self.log_changed.emit()
        if before != moment:
            self.changed.emit()

    def _tell_ways(self) -> None:
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
        """Whether there is a way forth again."""
        return bool(self._forth)

    def undo(self) -> None:
        """Go a step back."""
        if self._back:
            self._gesture = ""
            self._forth.append(self.now)
            self._show(self._back.pop())
            self._tell_ways()

    def redo(self) -> None:
        """Go a step forth again."""
        if self._forth:
            self._gesture = ""
            self._back.append(self.now)
            self._show(self._forth.pop())
            self._tell_ways()
