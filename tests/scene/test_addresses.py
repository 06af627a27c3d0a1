"""Addresses: spans of them are written as one, and come apart again, whatever they are named."""

import time
import unittest

from hypothesis import given
from hypothesis import strategies as st

from high_pair.formats import open_document
from high_pair.remedy.wishes import Wishes
from high_pair.review.measuring import measured, review_page
from high_pair.review.planning import plan
from high_pair.scene.addresses import (
    Address,
    Step,
    address_below,
    address_in,
    expand,
    member_of,
    span,
)
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import DeckFolder, body, members, pack, run, shape, solid

NAMES = st.text("ab 1_.", min_size=1, max_size=12)
STEPS = st.lists(
    st.tuples(st.sampled_from(["sp", "p", "style"]), st.text("ab 1:", max_size=6)), max_size=3
).map(lambda steps: "/".join(f"{name}={value}" for name, value in [*steps, ("x", "y")]))


class Spans(unittest.TestCase):
    @given(NAMES, STEPS, st.lists(st.integers(1, 30), min_size=1, max_size=12, unique=True))
    def test_what_was_joined_comes_apart_again(self, member, steps, numbers):
        addresses = [f"{member}#{steps}/r={number}" for number in numbers]
        self.assertEqual(expand(span(addresses)), addresses)
        self.assertEqual(member_of(span(addresses)), member)

    @given(
        st.text(min_size=1), st.dictionaries(st.from_regex("[a-z]{1,6}", fullmatch=True), st.text())
    )
    def test_what_was_written_is_read_again_whatever_strangers_name_things(self, member, steps):
        text = address_in(member, **steps) if steps else f"{address_in(member, p=1)}"
        found = Address.of(text)
        self.assertEqual(found.member, member)
        self.assertEqual(member_of(text), member)
        self.assertEqual({step.name: step.value for step in found.steps}, steps or {"p": "1"})
        self.assertEqual(str(found), text)
        self.assertEqual(expand(text), [text])
        self.assertEqual(expand(span([text, address_below(text, r=1)]))[0], text)

    def test_a_number_is_one_that_could_count_something(self):
        for value, number in (
            ("7", 7), ("0", 0), ("007", 7), ("", None), ("-1", None), ("²", None), ("1e3", None),
            ("9" * 5_000, None),
        ):  # fmt: skip
            self.assertEqual(Step("p", value).number, number)

    def test_a_part_and_a_style_with_signs_in_their_names_are_told_apart(self):
        address = address_in("parts/a#b.xml", style="table/Heading 50%", fill="")
        self.assertEqual(address, "parts/a%23b.xml#style=table%2FHeading 50%25/fill")
        self.assertEqual(Address.of(address).first.value, "table/Heading 50%")
        self.assertEqual(str(Address.of(address).outer), address.removesuffix("/fill"))
        for name in ("2-3", "a=2-3"):
            styled = address_in("word/styles.xml", style=name)
            self.assertEqual(expand(styled), [styled])
            self.assertEqual(Address.of(styled).first.value, name)

    def test_neighbours_are_written_as_a_range(self):
        runs = [f"ppt/slides/slide1.xml#sp=2/p=1/r={number}" for number in (3, 4, 5)]
        self.assertEqual(span(runs), "ppt/slides/slide1.xml#sp=2/p=1/r=3-5")

    def test_a_style_with_blanks_in_its_name_is_one_address(self):
        address = "word/styles.xml#style=Heading 1 of 2"
        self.assertEqual(expand(address), [address])

    def test_a_strangers_endless_range_takes_neither_time_nor_memory(self):
        address = "ppt/slides/slide1.xml#sp=2/p=1/r=1-99999999999"
        start = time.monotonic()
        self.assertEqual(expand(address), [address])
        self.assertLess(time.monotonic() - start, 0.1)


class PartsWithBlanks(unittest.TestCase):
    def test_texts_in_a_slide_whose_part_has_a_blank_in_its_name_are_mended(self):
        folder = DeckFolder()
        self.addCleanup(folder.close)
        # Two runs of one look with another between them: their addresses don't fit in one range.
        pale = solid("AAAAAA")
        words = run("Pale ", inner=pale) + run("bold ", 'b="1"', pale) + run("again", inner=pale)
        files = {
            name.replace("slide1.xml", "my slide.xml"): (
                data.replace("slides/slide1.xml", "slides/my slide.xml")
                if isinstance(data, str)
                else data.replace(b"slides/slide1.xml", b"slides/my slide.xml")
            )
            for name, data in members(shape(body(words))).items()
        }
        path = folder.path / "deck.pptx"
        path.write_bytes(pack(files))
        document = open_document(path)
        self.addCleanup(document.close)
        review = review_page(document, 0, Asked())
        self.assertIn("my slide.xml#", review.pairs[0].address)
        self.assertIs(review.pairs[0].verdict, Verdict.FALLS_SHORT)
        planned = plan(document, [review], Asked(), Wishes())
        self.assertEqual(planned.left, ())
        after = measured(document.edited(planned.edits), 0, Asked()).pairs
        self.assertEqual({pair.verdict for pair in after}, {Verdict.PASSES})


if __name__ == "__main__":
    unittest.main()
