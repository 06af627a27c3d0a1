"""Numbers and dates as their format codes say, in sheets and charts alike."""

import time
import unittest

from hypothesis import given
from hypothesis import strategies as st

from high_pair.formats.number_formats import shown

# ECMA-376 Part 1 §18.8.31 has the rules; the results are worked out by them by hand.
# 43831.75 is 1 January 2020, six in the evening.
CASES = (
    ("General", 12.0, "12"),
    ("", 7.5, "7.5"),
    ("0%", 0.25, "25%"),
    ("0.0%", 0.256, "25.6%"),
    ("#,##0.00", 1234567.891, "1,234,567.89"),
    ("#,##0_);(#,##0)", -5.0, "(5)"),
    ("0.00;[Red]-0.00", 7.5, "7.50"),
    ("0.00E+00", 7.5, "7.50E+00"),
    ("0.00E+00", -1234567.0, "-1.23E+06"),
    ("[$€-2] #,##0", -5.0, "€ -5"),
    ("[$€-2] #,##0", 43831.0, "€ 43,831"),
    ('"about "0" km"', 1234.0, "about 1234 km"),
    ('"Pier 0 "0', 5.0, "Pier 0 5"),
    (r"0\ \k\n", 5.0, "5 kn"),
    ("#,##0,", 1234567.891, "1,235"),
    ('0.0,,"M"', 1234567.891, "1.2M"),
    ("0;;;@", -5.0, ""),
    (";;;", 5.0, ""),
    ("0;-0;nil", 0.0, "nil"),
    ("m/d/yyyy", 37261.0, "1/5/2002"),
    ("dd-mm-yy", 37261.0, "05-01-02"),
    ("mmm-yy", 43831.0, "Jan-20"),
    ("dddd, d mmmm yyyy", 43831.0, "Wednesday, 1 January 2020"),
    ("h:mm AM/PM", 43831.75, "6:00 PM"),
    ("h:mm AM/PM", 43831.0, "12:00 AM"),
    ("yyyy-mm-dd hh:mm", 43831.75, "2020-01-01 18:00"),
    ("mm:ss", 0.256, "08:38"),
    ("[h]:mm:ss", 1.5, "36:00:00"),
    ("[mm]:ss", 0.0625, "90:00"),
    # A second before midnight doesn't become a minute before it.
    ("h:mm", 0.99999999, "0:00"),
    ("m/d/yyyy", -5.0, "######"),
)


class NumberFormats(unittest.TestCase):
    def test_values_are_shown_as_their_code_says(self):
        for code, value, wanted in CASES:
            self.assertEqual(shown(code, value), wanted, (code, value))

    def test_the_calendar_that_begins_in_1904_counts_from_there(self):
        self.assertEqual(shown("yyyy-mm-dd", 0.0, from_1904=True), "1904-01-01")

    def test_a_strangers_code_neither_breaks_anything_nor_takes_its_time(self):
        start = time.monotonic()
        for code in (
            "0" + "," * 250,
            "0" + "," * 100_000,
            "y" + "-" * 200_000,
            "0." + "0" * 200_000,
            "[" + "h" * 200_000 + "]",
        ):
            self.assertLess(len(shown(code, 5.0)), 300)
        self.assertLess(time.monotonic() - start, 2.0)
        # The last day of the calendar, and one day more, from either beginning.
        for first_in_1904, last in ((False, 2_958_465.0), (True, 2_957_003.0)):
            self.assertEqual(shown("yyyy-mm-dd", last, first_in_1904), "9999-12-31")
            self.assertEqual(shown("yyyy-mm-dd", last + 1, first_in_1904), "######")

    @given(
        st.floats(-1e12, 1e12),
        st.text('0#?,.%;"[]\\_*E+-€ kmdyhsAPG@/$', max_size=20),
    )
    def test_any_code_gives_some_text(self, value: float, code: str):
        self.assertIsInstance(shown(code, value), str)


if __name__ == "__main__":
    unittest.main()
