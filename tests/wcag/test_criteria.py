"""The thresholds are the standard's, and the borders fall on the right side."""

import unittest

from high_pair.wcag.criteria import Level, SizeClass, Subject, criterion_for, size_class
from high_pair.wcag.verdicts import Verdict, verdict_of


class CriteriaTest(unittest.TestCase):
    def test_what_each_level_asks(self):
        # WCAG 2.2: 1.4.3 (AA) and 1.4.6 (AAA) for text, 1.4.11 for graphics, G183 for links.
        asked = {
            (Subject.TEXT, Level.AA): ("1.4.3", 4.5, 3.0),
            (Subject.TEXT, Level.AAA): ("1.4.6", 7.0, 4.5),
            (Subject.GRAPHIC, Level.AA): ("1.4.11", 3.0, 3.0),
            (Subject.GRAPHIC, Level.AAA): ("1.4.11", 3.0, 3.0),
            (Subject.LINK, Level.AA): ("1.4.1", 3.0, 3.0),
            (Subject.LINK, Level.AAA): ("1.4.1", 3.0, 3.0),
        }
        for (subject, level), (number, normal, large) in asked.items():
            with self.subTest(f"{subject} {level}"):
                criterion = criterion_for(subject, level)
                self.assertEqual(criterion.number, number)
                self.assertEqual(criterion.required(SizeClass.NORMAL), normal)
                self.assertEqual(criterion.required(SizeClass.LARGE), large)

    def test_large_scale_begins_at_18_points_and_at_14_when_bold(self):
        for points, weight, expected in (
            (18.0, 400, SizeClass.LARGE),
            (17.99, 400, SizeClass.NORMAL),
            (17.99, 699, SizeClass.NORMAL),
            (14.0, 700, SizeClass.LARGE),
            (14.0, 600, SizeClass.NORMAL),
            (13.9, 900, SizeClass.NORMAL),
            (18.66 * 0.75, 700, SizeClass.LARGE),
            (18.6 * 0.75, 700, SizeClass.NORMAL),
            (20 * 0.9, 400, SizeClass.LARGE),
        ):
            with self.subTest(f"{points} pt, {weight}"):
                self.assertIs(size_class(points, weight), expected)

    def test_the_unrounded_ratio_decides(self):
        self.assertIs(verdict_of(4.4999, 4.5), Verdict.FALLS_SHORT)
        self.assertIs(verdict_of(4.5, 4.5), Verdict.PASSES)


if __name__ == "__main__":
    unittest.main()
