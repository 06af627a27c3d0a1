"""Conditions of sheets at their very borders, worked out by hand from the standard's words."""

import unittest

import numpy as np

from high_pair.formats.sheets.cells import Cells
from high_pair.formats.sheets.conditional import MOST_WORKED_OUT, condition_of


def column(*values: float | str) -> Cells:
    """Make a column of cells from A1 on."""
    count = len(values)
    numbers = np.array([each if isinstance(each, float) else np.nan for each in values])
    return Cells(
        np.arange(1, count + 1, dtype=np.int32),
        np.ones(count, np.int32),
        np.zeros(count, np.int32),
        list(values),
        numbers,
    )


def held(cells: Cells, kind: str, formulas: tuple[str, ...] = (), **stated: str):
    """Give the values of the cells for which a rule holds; None where nobody can tell."""
    _, holds = condition_of(kind, stated, list(formulas), (1, 1), lambda *_: 0.0)
    found = holds(cells, np.arange(len(cells.values)))
    if found is None:
        return None
    return [value for value, own in zip(cells.values, found, strict=True) if own]


TEN = column(*(float(value) for value in range(1, 11)))


class HighestAndLowest(unittest.TestCase):
    """ECMA-376 Part 1 §18.3.1.10: rank, percent and bottom."""

    def test_of_three_ranks_there_are_three(self):
        self.assertEqual(held(TEN, "top10", rank="3"), [8.0, 9.0, 10.0])
        self.assertEqual(held(TEN, "top10", rank="3", bottom="1"), [1.0, 2.0, 3.0])

    def test_without_a_rank_there_are_ten_and_never_more_than_there_are_cells(self):
        self.assertEqual(len(held(TEN, "top10")), 10)
        self.assertEqual(held(column(4.0, 2.0), "top10", rank="3"), [4.0, 2.0])

    def test_what_ties_with_the_last_is_in(self):
        self.assertEqual(held(column(1.0, 5.0, 5.0, 7.0), "top10", rank="2"), [5.0, 5.0, 7.0])

    def test_percents_are_cut_to_whole_cells_and_one_at_least(self):
        # A third of ten is three, and five hundredths of ten is one all the same.
        self.assertEqual(held(TEN, "top10", rank="39", percent="1"), [8.0, 9.0, 10.0])
        self.assertEqual(held(TEN, "top10", rank="5", percent="1"), [10.0])

    def test_words_have_no_rank(self):
        self.assertEqual(held(column("high", 1.0, 2.0), "top10", rank="2"), [1.0, 2.0])


class Averages(unittest.TestCase):
    """§18.3.1.10: aboveAverage, equalAverage and stdDev."""

    def test_the_average_itself_is_in_only_where_that_is_said(self):
        three = column(1.0, 2.0, 3.0)
        self.assertEqual(held(three, "aboveAverage"), [3.0])
        self.assertEqual(held(three, "aboveAverage", equalAverage="1"), [2.0, 3.0])
        self.assertEqual(held(three, "aboveAverage", aboveAverage="0"), [1.0])

    def test_the_deviation_is_that_of_a_sample(self):
        # The squares of the distances from the mean, 2.375, are 22.61 together: divided by three
        # and by four they give these deviations.
        cells = column(0.0, 0.0, 4.6, 4.9)
        mean, sample, all_of_it = 2.375, 2.7451, 2.3773
        self.assertLess(mean + all_of_it, 4.9)
        self.assertGreater(mean + sample, 4.9)
        self.assertEqual(held(cells, "aboveAverage", stdDev="1"), [])


class Limits(unittest.TestCase):
    def test_so_many_cells_are_worked_out_and_no_more(self):
        for count in (MOST_WORKED_OUT, MOST_WORKED_OUT + 1):
            found = held(column(*[1.0] * count), "expression", ("ROW()>0",))
            if count > 3_000:
                self.assertIsNone(found)
            else:
                self.assertEqual(len(found), 3_000)


if __name__ == "__main__":
    unittest.main()
