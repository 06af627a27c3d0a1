"""Gradients of web pages: their colours are read one by one, and written back calmer."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from high_pair.colour.srgb import hex_of
from high_pair.formats.web.gradients import shades_of_gradients, with_shades
from high_pair.remedy.remedies import Calmed
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for, remedies_for
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.web_pages import PageFolder, whole

LEVELS = st.tuples(*[st.integers(0, 255)] * 3)


class Shades(unittest.TestCase):
    @given(st.lists(LEVELS, min_size=2, max_size=6))
    def test_what_is_told_is_read_and_written_back(self, colours) -> None:
        stops = ", ".join(f"rgb({r}, {g}, {b}) {at}%" for at, (r, g, b) in enumerate(colours))
        image = f"linear-gradient(90deg, {stops})"
        self.assertEqual([each.levels for each in shades_of_gradients(image)], colours)
        turned = list(reversed(colours))
        written = with_shades(image, turned)
        assert written is not None
        self.assertEqual(
            written,
            "linear-gradient(90deg, "
            + ", ".join(f"{hex_of(levels)} {at}%" for at, levels in enumerate(turned))
            + ")",
        )

    def test_what_isnt_wholly_gradients_of_opaque_colours_is_left(self) -> None:
        for image in (
            "none",
            'url("sea.png")',
            'linear-gradient(rgb(0, 0, 0), rgb(9, 9, 9)), url("sea.png")',
            "linear-gradient(rgba(0, 0, 0, 0.5), rgb(9, 9, 9))",
            "linear-gradient(oklch(0.5 0.1 90), rgb(9, 9, 9))",
            "linear-gradient(color(display-p3 1 0 0), rgb(9, 9, 9))",
        ):
            with self.subTest(image):
                self.assertEqual(shades_of_gradients(image), ())
        self.assertIsNone(with_shades("linear-gradient(rgb(0, 0, 0), rgb(1, 1, 1))", [(1, 1, 1)]))


class OnPages(PageFolder):
    STYLE = (
        "div{background:linear-gradient(90deg,#102030,#e8b070 80%);color:#fff;width:700px;"
        "padding:10px}"
    )
    WORDS = "Words across the whole width of it, up to the pale end of all of it"

    def test_a_gradient_becomes_calmer_by_a_rule_and_keeps_its_way(self) -> None:
        file = self.page(whole(f"<div>{self.WORDS}</div>", self.STYLE))
        bench = PageBench()
        pairs = bench.get(file, 0, Asked()).pairs
        self.assertIs(pairs[0].verdict, Verdict.FALLS_SHORT)
        found = remedies_for(pairs[:1], file, bench, Asked(), file.edited).remedies
        (calmed,) = (each for each in found if isinstance(each, Calmed))
        edited = file.edited(edits_for(calmed, pairs[:1]))
        self.assertIn("linear-gradient(90deg, #102030, #", edited.style_sheet())
        self.assertIn("80%)", edited.style_sheet())
        (after,) = measured(edited, 0, Asked()).pairs
        self.assertIs(after.verdict, Verdict.PASSES)
        self.assertLess(after.ratio or 99.0, 4.8)
        target = self.folder / "calm.html"
        edited.save(target)
        again = edited.opened_as_saved(target)
        self.addCleanup(again.close)
        (saved,) = measured(again, 0, Asked()).pairs
        self.assertAlmostEqual(saved.ratio or 0.0, after.ratio or 0.0, places=3)


if __name__ == "__main__":
    unittest.main()
