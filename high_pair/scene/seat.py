"""A seat: from where, on what, in which light and with which eyes a page is looked at."""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.colour.sight import flare_of
from high_pair.colour.vision import Eyes

METRES_AN_INCH = 0.0254
# CSS Values 4, §6.2: so many pixels of a page are so many points.
PIXELS_A_POINT = 96 / 72
# The shape of a picture in a hall or a call, in which a page that is long shows a part.
PICTURE_SHAPE = 16 / 9


@dataclass(frozen=True)
class Needs:
    """What reading asks, each a setting.

    angle: of the x-height, arc minutes: 12, from where on reading is as fast as it gets (Legge
    and Bigelow, Journal of Vision 11, 2011); reserve: contrast over the least seen: 10 for
    fluent reading (Whittaker and Lovie-Kitchin, Optometry and Vision Science 70, 1993); calm:
    the most unrest behind a text (after Scharff, Hill and Ahumada, Optics Express 6, 2000).
    """

    angle: float = 12.0
    reserve: float = 10.0
    calm: float = 0.3


@dataclass(frozen=True)
class Seat:
    """A viewing condition.

    distance: from the picture, metres; picture: its height there, metres, of which a page that is
    looked at whole takes all; None where pages are shown at `pixels_per_inch`, the
    pixels of a page (CSS) on an inch; peak, black: luminances of the screen's white and black in
    cd/m²; lux: the light that falls on it; reflectance: the share it throws back, 0 to 1;
    acuity: logMAR; loss: of contrast sensitivity, log units; eyes: colour vision; grey: it is seen
    without colours, as a grey print.
    """

    name: str
    distance: float
    picture: float | None = None
    pixels_per_inch: float = 96.0
    peak: float = 250.0
    black: float = 0.25
    lux: float = 0.0
    reflectance: float = 0.04
    acuity: float = 0.0
    loss: float = 0.0
    eyes: Eyes = Eyes.NORMAL
    grey: bool = False
    needs: Needs = Needs()

    @property
    def flare(self) -> float:
        """The light over the whole picture, as a share of what its white adds."""
        return flare_of(self.lux, self.reflectance, self.peak, self.black)

    @property
    def washed(self) -> float:
        """The ratio that black and white have there."""
        return (1.0 + self.flare) / self.flare

    def metres_a_point(self, width: float, height: float, whole: bool) -> float:
        """Give how large a point of a page is there. width, height: of the page, in points;
        whole: it is looked at all at once, and not a part of it at its width."""
        if self.picture is None:
            return METRES_AN_INCH / self.pixels_per_inch * PIXELS_A_POINT
        across = self.picture * PICTURE_SHAPE
        if whole:
            return min(self.picture / max(height, 1.0), across / max(width, 1.0))
        return across / max(width, 1.0)
