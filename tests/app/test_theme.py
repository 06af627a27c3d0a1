"""The window meets what it measures, in both themes."""

import unittest

from high_pair.app.theme import THEMES, measured_pairs
from tests.decks import ratio_by_hand


class ThemeTest(unittest.TestCase):
    def test_every_pair_of_the_window_reaches_what_is_asked(self):
        for theme in THEMES.values():
            for foreground, background, asked, words in measured_pairs(theme):
                with self.subTest(f"{theme.name}: {words}"):
                    ratio = ratio_by_hand(foreground[1:], background[1:])
                    self.assertGreaterEqual(ratio, asked)

    def test_surfaces_are_strictly_neutral(self):
        for theme in THEMES.values():
            for name in (
                "bar",
                "strip",
                "surround",
                "sheet",
                "panel",
                "field",
                "chosen",
                "track",
                "text",
                "quiet",
                "edge",
                "rule",
            ):
                with self.subTest(f"{theme.name} {name}"):
                    code = getattr(theme, name)
                    self.assertEqual(code[1:3], code[3:5])
                    self.assertEqual(code[3:5], code[5:7])


if __name__ == "__main__":
    unittest.main()
