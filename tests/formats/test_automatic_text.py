"""Automatic text at the very borders where it turns."""

import unittest

from high_pair.formats.automatic_text import automatic, automatic_in_odf
from high_pair.scene.paint import BLACK, WHITE, from_levels


def grey(level: int):
    return from_levels((level, level, level))


class Borders(unittest.TestCase):
    """Of a grey the luma is its level: 76, 151 and 29 are 256 together."""

    def test_in_opendocument_it_turns_after_62(self):
        self.assertEqual(automatic_in_odf(grey(62)), WHITE)
        self.assertEqual(automatic_in_odf(grey(63)), BLACK)
        # 76 of 256 of red, 29 of blue: 75 and 28.
        self.assertEqual(automatic_in_odf(from_levels((255, 0, 0))), BLACK)
        self.assertEqual(automatic_in_odf(from_levels((0, 0, 255))), WHITE)

    def test_elsewhere_it_is_sure_up_to_60_and_from_130_on(self):
        self.assertEqual(automatic(grey(60)), (WHITE,))
        self.assertEqual(automatic(grey(61)), (BLACK, WHITE))
        self.assertEqual(automatic(grey(129)), (BLACK, WHITE))
        self.assertEqual(automatic(grey(130)), (BLACK,))

    def test_where_a_file_does_not_say_that_text_turns_the_dark_is_unsure_too(self):
        self.assertEqual(automatic(grey(0), turns=False), (BLACK, WHITE))
        self.assertEqual(automatic(grey(130), turns=False), (BLACK,))


if __name__ == "__main__":
    unittest.main()
