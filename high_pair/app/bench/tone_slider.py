"""A slider for a channel of a colour."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from high_pair.app.theme import Theme
from high_pair.app.track_slider import TrackSlider
from high_pair.remedy.by_hand import STEPS, Channel, Steps


class ToneSlider(TrackSlider):
    """The slider."""

    def __init__(self, theme: Theme, channel: Channel, words: str) -> None:
        super().__init__(theme, STEPS[channel], words, "; hatched: outside sRGB")
        self.channel = channel
        self.steps: Steps | None = None

    def show_steps(self, steps: Steps, passing: NDArray[np.bool_], value: int) -> None:
        """Show where the slider leads, which steps pass, and where it stands."""
        if steps is not self.steps:
            self.steps = steps
            self.show_track(steps.colours, ~steps.inside)
        self.show_place(passing, value)
