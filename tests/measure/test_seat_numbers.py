"""What texts are like from a seat: sizes and light by arithmetic, reach, unrest, colour vision."""

import math
import unittest
from dataclasses import replace

import numpy as np
from coloraide import Color
from hypothesis import given
from hypothesis import strategies as st

from high_pair.colour.sight import ratio_there
from high_pair.colour.srgb import bytes_of
from high_pair.colour.vision import Eyes, seen_with
from high_pair.measure.pairs import Numbers, Pair, pair_of
from high_pair.measure.seat_numbers import Reading, SeatNumbers, seat_numbers
from high_pair.measure.unrest import band_of, unrest_of
from high_pair.scene.paint import from_levels
from high_pair.scene.seat import Needs, Seat
from high_pair.scene.text import Run
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict
from tests.decks import ratio_by_hand

SLIDE = (960.0, 540.0)
HALL = Seat("hall", 10.0, 2.0, peak=100.0, black=1.0)


def a_pair(
    size: float = 24.0, text: str = "#000000", behind: str = "#FFFFFF", **more: object
) -> Pair:
    ratio = ratio_by_hand(text[1:], behind[1:])
    run = Run("Words", from_levels(bytes_of(text)), "Carlito", size, 400, origin="", address="")
    found = pair_of(run, 1, "Slide 1", Asked(), (0.0, 0.0, 50.0, 20.0), estimated=False)
    numbers = Numbers(text, behind, False, ratio, ratio, ratio, ratio, 0.0, **more)
    # Half the size, for round numbers.
    return replace(found, numbers=numbers, verdict=Verdict.PASSES, x_height=0.5)


def of(pair: Pair, seat: Seat = HALL, whole: bool = True, page=SLIDE) -> SeatNumbers:
    found = seat_numbers(pair, seat, page, whole)
    assert found is not None
    return found


class FromASeat(unittest.TestCase):
    def test_the_x_height_of_a_slides_text_in_a_hall(self) -> None:
        # 540 points are 2 m: half of 24 points are 44.4 mm, at 10 m 15.28 minutes.
        found = of(a_pair())
        by_hand = math.degrees(2 * math.atan(0.5 * 24 * 2 / 540 / 2 / 10)) * 60
        self.assertAlmostEqual(found.angle, by_hand, places=9)

    def test_on_a_phone_a_pixel_is_the_part_of_an_inch_that_is_stated(self) -> None:
        phone = Seat("phone", 0.35, pixels_per_inch=160.0)
        # 12 points are 16 pixels: 8 of them are a twentieth of an inch, 1.27 mm.
        found = of(a_pair(12.0), phone, whole=False, page=(240.0, 4000.0))
        by_hand = math.degrees(2 * math.atan(0.00127 / 2 / 0.35)) * 60
        self.assertAlmostEqual(found.angle, by_hand, places=9)

    def test_a_long_page_in_a_hall_is_as_wide_as_the_picture(self) -> None:
        found = of(a_pair(), whole=False, page=(960.0, 20_000.0))
        self.assertAlmostEqual(found.angle, of(a_pair()).angle, places=9)

    def test_the_ratio_has_the_seats_flare(self) -> None:
        # Black at 1 cd/m², white at 100, no light: 100.
        self.assertAlmostEqual(of(a_pair()).ratio, 100.0, places=6)
        lit = replace(HALL, lux=100.0, reflectance=0.9)
        reflected = 100 * 0.9 / math.pi
        self.assertAlmostEqual(
            of(a_pair(), lit).ratio, (100 + reflected) / (1 + reflected), places=6
        )

    def test_over_many_backdrops_the_governing_ratio_counts(self) -> None:
        pair = a_pair(text="#FFFFFF", behind="#777777")
        assert pair.numbers is not None
        worse = replace(pair, numbers=replace(pair.numbers, ratio=2.0, varied=True))
        # White on what has a ratio of 2 to it: a luminance of 1.05 / 2 − 0.05.
        by_hand = float(ratio_there(1.0, 0.475, HALL.flare))
        self.assertAlmostEqual(of(worse).ratio, by_hand, places=9)

    def test_what_reads_reads_as_far_as_its_reach(self) -> None:
        pair = a_pair(18.0, "#777777")
        reach = of(pair).reach
        for factor, reading in ((0.999, Reading.READS), (1.001, Reading.FALLS_SHORT)):
            found = of(pair, replace(HALL, distance=reach * factor))
            self.assertIs(found.reading, reading)
            self.assertAlmostEqual(found.reach, reach, places=9)

    @given(st.floats(4.0, 200.0), st.floats(0.2, 60.0), st.floats(0.0, 40.0), st.floats(0.0, 1.0))
    def test_what_doesnt_read_here_doesnt_read_further_back(self, size, near, more, loss) -> None:
        pair = a_pair(size, "#999999")
        here, back = (
            of(pair, replace(HALL, distance=each, loss=loss)) for each in (near, near + more)
        )
        if here.reading is Reading.FALLS_SHORT:
            self.assertIs(back.reading, Reading.FALLS_SHORT)

    def test_low_vision_reaches_less_far_in_both_ways(self) -> None:
        whole = of(a_pair(24.0, "#777777")).reach
        self.assertLess(of(a_pair(24.0, "#777777"), replace(HALL, acuity=0.6)).reach, whole)
        self.assertLess(of(a_pair(24.0, "#777777"), replace(HALL, loss=1.2)).reach, whole)

    def test_red_on_black_is_less_for_red_weak_eyes(self) -> None:
        pair = a_pair(text="#FF0000", behind="#000000")
        found = of(pair)
        assert pair.ratio is not None
        self.assertLess(found.vision[Eyes.PROTAN], 0.75 * pair.ratio)
        seen = of(pair, replace(HALL, eyes=Eyes.PROTAN))
        self.assertLess(seen.ratio, found.ratio)

    def test_what_couldnt_be_measured_needs_eyes_there_too(self) -> None:
        for pair in (replace(a_pair(), numbers=None), replace(a_pair(), size=0.0)):
            self.assertIs(of(pair).reading, Reading.NEEDS_EYES)
        self.assertIsNone(
            seat_numbers(replace(a_pair(), subject=Subject.GRAPHIC), HALL, SLIDE, True)
        )

    def test_what_is_needed_is_a_setting(self) -> None:
        far = replace(HALL, distance=30.0)
        self.assertIs(of(a_pair(), far).reading, Reading.FALLS_SHORT)
        easy = replace(far, needs=Needs(angle=4.0, reserve=1.0))
        self.assertIs(of(a_pair(), easy).reading, Reading.READS)

    def test_what_reads_on_a_busy_backdrop_is_advised_and_a_setting_says_what_is_busy(self) -> None:
        pair = a_pair(unrest=0.4)
        found = of(pair)
        self.assertIs(found.reading, Reading.READS)
        self.assertTrue(found.busy and found.advised)
        patient = replace(HALL, needs=Needs(calm=0.9))
        self.assertFalse(of(pair, patient).busy or of(pair, patient).advised)
        self.assertFalse(of(a_pair()).advised)

    def test_a_link_is_told_by_the_lightness_that_the_seats_eyes_have_of_it(self) -> None:
        # A red link in black text: usual eyes have 4 to 1, red-weak ones far less.
        pair = replace(a_pair(text="#E00000", behind="#000000"), subject=Subject.LINK, required=3.0)
        desk = Seat("by a window", 0.6, lux=1000.0)
        usual, weak = of(pair, desk), of(pair, replace(desk, eyes=Eyes.PROTAN))
        self.assertIs(usual.reading, Reading.READS)
        self.assertIs(weak.reading, Reading.FALLS_SHORT)
        self.assertLess(usual.vision[Eyes.PROTAN], 3.0)
        # ΔE2000 as a second library has it, of the colours as those eyes have them.
        one, other = (seen_with(Eyes.PROTAN, np.array(c) / 255) for c in ((224, 0, 0), (0, 0, 0)))
        by_library = Color("srgb", list(one)).delta_e(Color("srgb", list(other)), method="2000")
        self.assertAlmostEqual(usual.apart[Eyes.PROTAN], by_library, delta=0.05)

    def test_a_link_nobody_could_measure_and_a_graphic_say_nothing(self) -> None:
        for subject in (Subject.LINK, Subject.GRAPHIC):
            pair = replace(a_pair(), subject=subject, numbers=None)
            self.assertIsNone(seat_numbers(pair, HALL, SLIDE, True))


class Unrest(unittest.TestCase):
    def stripes(self, period: float, low: int = 60, high: int = 200) -> np.ndarray:
        wave = np.sin(np.arange(240) * 2 * np.pi / period)
        levels = np.round((high + low) / 2 + wave * (high - low) / 2).astype(np.uint8)
        return np.repeat(np.repeat(levels[None, :, None], 120, 0), 3, 2)

    def test_one_colour_is_calm(self) -> None:
        self.assertEqual(unrest_of(np.full((40, 200, 3), 90, np.uint8), 12.0), 0.0)
        self.assertEqual(unrest_of(np.zeros((0, 5, 3), np.uint8), 12.0), 0.0)
        self.assertEqual(unrest_of(np.zeros((9, 9, 3), np.uint8), 12.0), 0.0)

    def test_stripes_as_fine_as_letters_disturb_more_than_finer_or_broader_ones(self) -> None:
        x_height = 24.0
        found = {period: unrest_of(self.stripes(period), x_height) for period in (2.5, 8.0, 96.0)}
        self.assertEqual(max(found, key=found.__getitem__), 8.0)
        self.assertLess(found[96.0], 0.25 * found[8.0])

    def test_the_band_lets_half_through_an_octave_from_its_middle(self) -> None:
        # The finer Gaussian halves what is an octave finer than 3 cycles a letter.
        x_height, period = 60.0, 10.0
        wave = np.sin(np.arange(1000) * 2 * np.pi / period)[None].repeat(50, 0)
        band = band_of(wave, x_height)[:, 200:800]
        share = float(np.abs(band).max() / np.abs(wave).max())
        self.assertAlmostEqual(share, 0.5, delta=0.01)


if __name__ == "__main__":
    unittest.main()
