"""Settling the set that is shown, in a process of its own: texts, backdrops, or both moved."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import CancelledError, Future
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QObject, QTimer, Signal

from high_pair.app.stops import Stops
from high_pair.colour.srgb import from_bytes
from high_pair.colour.vision import Eyes, closest
from high_pair.errors import Cancelled, HighPairError
from high_pair.remedy.sets import MendedSet, Move, ratio_of
from high_pair.review.set_settling import settle
from high_pair.scene.colour_set import ColourSet

if TYPE_CHECKING:
    from high_pair.app.controller import Controller
    from high_pair.app.sets.state import SetsState

# After a change one waits so long for the next before the set is settled anew.
SOON_MILLISECONDS = 500


@dataclass(frozen=True)
class Proposal:
    """A way to mend a set. least: the ΔE2000 of its two closest colours, for any eyes."""

    move: Move
    mended: MendedSet
    least: float


def least_apart(colours: ColourSet) -> float:
    """Give how near the two closest colours of a set are, for whichever eyes, ΔE2000."""
    own = [each.levels for each in colours.colours if not each.parent]
    if len(own) < 2:
        return 0.0
    encoded = [tuple(each) for each in from_bytes(np.array(own, np.uint8))]
    return min(closest(eyes, encoded)[2] for eyes in Eyes)


class Settler(QObject):
    """Settles. changed: proposals came, or it began or ended; failed: a message for the user.

    proposals: what was found of the set as it is now; under_way: what is being moved now.
    """

    changed = Signal()
    failed = Signal(str)
    _done = Signal(object, object)

    def __init__(self, state: SetsState, controller: Controller) -> None:
        super().__init__(controller)
        self._state, self._controller = state, controller
        self.proposals: tuple[Proposal, ...] = ()
        self.under_way: Move | None = None
        self.is_awake = False
        self._settled: ColourSet | None = None
        self._stops = Stops()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SOON_MILLISECONDS)
        self._soon.timeout.connect(self._begin)
        self._done.connect(self._take)
        state.changed.connect(self.look)

    def wake(self, on: bool) -> None:
        """Settle from now on, while the desk is shown, or no more."""
        self.is_awake = on
        if on:
            self.look()
        elif self.waits:
            self.stop()
            self._settled = None

    def look(self) -> None:
        """Settle the set that is shown, soon, if it is another than was settled last."""
        colours = self._state.colours
        wanted = colours if colours is not None and is_short(colours) else None
        if not self.is_awake or _same(wanted, self._settled):
            return
        self._stops.stop()
        self.under_way, self.proposals, self._settled = None, (), wanted
        self._soon.stop()
        if wanted is not None:
            self._soon.start()
        self.changed.emit()

    @property
    def waits(self) -> bool:
        """Whether it is about to begin, or at work."""
        return self._soon.isActive() or self.under_way is not None

    def stop(self) -> None:
        """Leave it; what was found so far stays."""
        self._stops.stop()
        self._soon.stop()
        self.under_way = None
        self.changed.emit()

    def _begin(self) -> None:
        if self._settled is not None:
            self._next(self._settled, list(Move))

    def _next(self, colours: ColourSet, moves: Sequence[Move]) -> None:
        if not moves:
            self.under_way = None
            self.changed.emit()
            return
        wanted = self._stops.asked()
        self.under_way = moves[0]
        self.changed.emit()
        aim = self._controller.session.asked.aim
        future = self._controller.pool.submit(settle, colours, moves[0], aim, lambda: not wanted())

        def hand_over(done: Future[MendedSet]) -> None:
            if wanted():
                self._done.emit((wanted, colours, moves), done)

        future.add_done_callback(hand_over)

    def _take(self, asked: tuple, future: Future[MendedSet]) -> None:
        wanted, colours, moves = asked
        if not wanted():
            return
        try:
            mended = future.result()
        except (Cancelled, CancelledError):
            return
        except HighPairError as error:
            self.under_way = None
            self.changed.emit()
            self.failed.emit(str(error))
            return
        proposal = Proposal(moves[0], mended, least_apart(mended.colours))
        others = [each.mended.colours for each in self.proposals]
        if mended.changes and mended.colours not in others:
            self.proposals = (*self.proposals, proposal)
        self._next(colours, moves[1:])


def is_short(colours: ColourSet) -> bool:
    """Tell whether any pair of a set falls short."""
    return any(ratio_of(colours, pair) < pair.required for pair in colours.pairs)


def _same(one: ColourSet | None, other: ColourSet | None) -> bool:
    """Tell whether two sets are settled alike, whatever was measured of their pairs since."""
    if one is None or other is None:
        return one is other

    def kernel(colours: ColourSet) -> ColourSet:
        return replace(
            colours, name="", pairs=tuple(replace(each, worst=None) for each in colours.pairs)
        )

    return kernel(one) == kernel(other)
