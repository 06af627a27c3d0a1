"""An aim raises what remedies reach, and nothing that the standard asks."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from high_pair.wcag.asked import NO_AIM, Aim, read_aim


class Aims(unittest.TestCase):
    def test_factors_and_ratios_as_people_write_them(self) -> None:
        for text, aim in (
            ("1.2x", Aim(1.2)),
            ("×1.2", Aim(1.2)),
            ("x 1.5", Aim(1.5)),
            ("1.2×", Aim(1.2)),
            ("120%", Aim(1.2)),
            ("2", Aim(2.0)),
            ("6:1", Aim(ratio=6.0)),
            ("5.5", Aim(ratio=5.5)),
            (" 7 ", Aim(ratio=7.0)),
            ("3:1", Aim(ratio=3.0)),
        ):
            with self.subTest(text):
                self.assertEqual(read_aim(text), aim)

    def test_what_is_no_aim_is_refused(self) -> None:
        for text in ("", "high", "0.5x", "-2", "22:1", "x1.2x", "1e3", "nan", "5:2", "9" * 400):
            with self.subTest(text), self.assertRaises(ValueError):
                read_aim(text)

    def test_what_is_reached_is_the_larger_and_at_most_21(self) -> None:
        self.assertAlmostEqual(Aim(1.2).of(4.5), 5.4)
        self.assertEqual(Aim(ratio=6.0).of(4.5), 6.0)
        self.assertEqual(Aim(ratio=3.5).of(4.5), 4.5)
        self.assertEqual(Aim(9.0).of(4.5), 21.0)
        self.assertEqual(NO_AIM.of(3.0), 3.0)

    @given(st.floats(1.0, 21.0), st.floats(1.0, 21.0), st.floats(1.0, 21.0))
    def test_it_never_asks_for_less_than_the_standard(self, factor, ratio, required) -> None:
        found = Aim(factor, ratio).of(required)
        self.assertGreaterEqual(found, required)
        self.assertLessEqual(found, 21.0)

    @given(st.floats(1.01, 3.0).map(lambda value: round(value, 2)), st.booleans())
    def test_what_is_written_is_read_again(self, value, as_factor) -> None:
        aim = Aim(value) if as_factor else Aim(ratio=value)
        self.assertEqual(read_aim(aim.words), aim)


if __name__ == "__main__":
    unittest.main()
