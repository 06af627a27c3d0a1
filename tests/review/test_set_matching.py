"""Which colour of one set takes the place of which of another."""

import itertools
import unittest

import numpy as np

from high_pair.colour.difference import ciede2000
from high_pair.colour.srgb import from_bytes
from high_pair.review.set_matching import matched
from high_pair.scene.colour_set import ColourSet, SetColour, SetPair


def a_set(pairs: tuple[SetPair, ...] = (), **levels: tuple[int, int, int]) -> ColourSet:
    return ColourSet(
        "Quay", "kept", "", tuple(SetColour(name, each) for name, each in levels.items()), pairs
    )


class Matching(unittest.TestCase):
    def test_colours_of_one_name_belong_together_whatever_they_look_like(self):
        source = a_set(Ink=(255, 0, 0), paper=(0, 0, 0))
        target = a_set(ink=(0, 0, 0), other=(250, 5, 5))
        self.assertEqual(matched(source, target), {"ink": "Ink", "other": "paper"})

    def test_others_go_where_all_together_change_least(self):
        source = a_set(a=(20, 30, 40), b=(230, 220, 200), c=(120, 40, 10))
        target = a_set(x=(110, 50, 20), y=(25, 30, 35), z=(240, 230, 210))
        found = matched(source, target)

        def whole(order: tuple[SetColour, ...]) -> float:
            return sum(
                float(ciede2000(*(from_bytes(np.array(each.levels, np.uint8)) for each in two)))
                for two in zip(target.colours, order, strict=True)
            )

        best = min(itertools.permutations(source.colours), key=whole)
        wanted = {t.name: s.name for t, s in zip(target.colours, best, strict=True)}
        self.assertEqual(found, wanted)

    def test_texts_go_to_texts_and_backdrops_to_backdrops(self):
        source = a_set((SetPair("dark", "light"),), dark=(90, 90, 90), light=(110, 110, 110))
        target = a_set((SetPair("t", "b"),), b=(92, 92, 92), t=(108, 108, 108))
        self.assertEqual(matched(source, target), {"b": "light", "t": "dark"})

    def test_what_is_left_as_it_is_is_given_none_nor_what_is_too_many(self):
        target = ColourSet("T", "theme", "", (
            SetColour("x", (0, 0, 0), leave=True), SetColour("y", (9, 9, 9)),
            SetColour("z", (200, 200, 200)), SetColour("y, shade", (4, 4, 4), parent="y"),
        ))  # fmt: skip
        self.assertEqual(matched(a_set(only=(10, 10, 10)), target), {"y": "only"})
        self.assertEqual(matched(a_set(), target), {})


if __name__ == "__main__":
    unittest.main()
