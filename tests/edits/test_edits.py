"""Edits: which of several are in force, and that each comes back from JSON as it was."""

import json
import unittest

from hypothesis import given
from hypothesis import strategies as st

from high_pair.edits.as_json import edit_in, edit_out
from high_pair.edits.kinds import (
    KINDS,
    LayOver,
    MarkText,
    RecolourFill,
    RecolourOrigin,
    RecolourText,
    Restyle,
    SetAside,
    TakeOff,
    TakeUp,
    UnmarkText,
)
from high_pair.edits.merging import changed_by, in_force
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, OverlayKind

ADDRESSES = st.sampled_from(["slide#sp=1/p=1/r=1", "slide#sp=1/p=1/r=2", "page#body>p/text=1"])
LEVELS = st.tuples(*[st.integers(0, 255)] * 3)
SHARES = st.floats(0, 1)
LENGTHS = st.floats(0, 1e4)
SERVES = st.lists(ADDRESSES, max_size=3).map(tuple)
TEXTS = st.text(max_size=20)
BOXES = st.tuples(*[st.floats(-1e4, 1e4)] * 4)
OVERLAYS = st.builds(
    Overlay,
    kind=st.sampled_from(OverlayKind),
    box=BOXES.map(lambda sides: Box(*sides)),
    levels=LEVELS,
    percent=st.integers(0, 100),
    rounding=LENGTHS,
    feather=LENGTHS,
    towards=st.floats(0, 360),
    full=SHARES,
    none=SHARES,
    middle=SHARES,
    bound=st.booleans(),
    turn=st.floats(0, 360),
)
SIZES = st.none() | st.floats(0, 1e4)
FLAGS = st.none() | st.booleans()
EDITS = st.one_of(
    st.builds(RecolourText, ADDRESSES, LEVELS, SHARES),
    st.builds(RecolourOrigin, ADDRESSES, LEVELS, SERVES),
    st.builds(RecolourFill, ADDRESSES, LEVELS, SERVES),
    st.builds(Restyle, ADDRESSES, SIZES, FLAGS, FLAGS),
    st.builds(LayOver, ADDRESSES, OVERLAYS, SERVES),
    st.builds(TakeOff, ADDRESSES),
    st.builds(MarkText, ADDRESSES, BOXES, TEXTS, SIZES, st.none() | st.integers(0, 1000)),
    st.builds(UnmarkText, ADDRESSES),
    st.builds(SetAside, ADDRESSES, TEXTS, TEXTS, TEXTS),
    st.builds(TakeUp, ADDRESSES, TEXTS),
)
AT = "page#body>p/text=1"


class InForce(unittest.TestCase):
    def test_size_weight_and_underline_of_one_text_are_kept_together_in_any_order(self):
        bold, line, size = (
            Restyle(AT, bold=True),
            Restyle(AT, underline=True),
            Restyle(AT, size=18.0),
        )
        whole = Restyle(AT, 18.0, True, True)
        for order in ((bold, line, size), (line, size, bold), (size, bold, line)):
            self.assertEqual(in_force(order), (whole,))
        # What is said later counts, also that there is to be none.
        self.assertEqual(in_force((whole, Restyle(AT, underline=False)))[0].underline, False)

    def test_a_later_edit_of_the_same_matter_replaces_an_earlier_one_and_no_other(self):
        black, white = RecolourText(AT, (0, 0, 0), 0.5), RecolourText(AT, (255, 255, 255))
        bold = Restyle(AT, bold=True)
        self.assertEqual(in_force((black, bold, white)), (bold, white))
        other = RecolourText("page#body>i/text=1", (0, 0, 0))
        self.assertEqual(in_force((black, other)), (black, other))

    def test_an_overlay_taken_off_stays_an_edit_since_the_file_may_have_one(self):
        overlay = Overlay(OverlayKind.PLATE, Box(0, 0, 9, 9), (0, 0, 0), 40)
        self.assertEqual(in_force((LayOver(AT, overlay), TakeOff(AT))), (TakeOff(AT),))

    def test_what_is_taken_up_again_was_never_set_aside_and_other_pairs_stay_so(self):
        text, link = (SetAside(AT, subject, "logotype") for subject in ("text", "link"))
        self.assertEqual(in_force((text, link, TakeUp(AT, "text"))), (link,))

    @given(st.lists(EDITS, max_size=12))
    def test_what_is_in_force_is_so_again_and_each_matter_once(self, edits):
        once = in_force(edits)
        self.assertEqual(in_force(once), once)
        self.assertEqual(len({edit.key for edit in once}), len(once))

    def test_texts_are_changed_by_what_serves_them_and_by_nothing_that_changes_no_file(self):
        span = "slide#sp=1/p=1/r=1-3"
        runs = {f"slide#sp=1/p=1/r={run}" for run in (1, 2, 3)}
        self.assertEqual(changed_by([RecolourText(span, (0, 0, 0))]), runs)
        self.assertEqual(changed_by([RecolourFill("slide#sp=9/fill", (0, 0, 0), (span,))]), runs)
        nothing = [SetAside(AT, "text", ""), TakeUp(AT, "text"), TakeOff(AT), UnmarkText(AT)]
        self.assertEqual(changed_by(nothing), frozenset())


class AsJson(unittest.TestCase):
    @given(EDITS)
    def test_every_edit_comes_back_as_it_was(self, edit):
        self.assertEqual(edit_in(json.loads(json.dumps(edit_out(edit)))), edit)

    def test_every_kind_has_a_name_of_its_own(self):
        self.assertEqual(len({kind.name for kind in KINDS}), len(KINDS))

    def test_colours_are_written_as_people_write_them(self):
        written = edit_out(RecolourText(AT, (17, 34, 255), 0.5))
        self.assertEqual(written["colour"], "#1122FF")
        # Three numbers that are no colour stay numbers.
        box = edit_out(MarkText(AT, (1, 2, 3, 4)))["box"]
        self.assertEqual(box, [1, 2, 3, 4])

    def test_what_an_older_version_did_not_write_is_as_it_is_by_default(self):
        written = edit_out(Restyle(AT, bold=True))
        del written["underline"]
        self.assertEqual(edit_in(written), Restyle(AT, bold=True))

    def test_what_no_edit_could_say_is_refused(self):
        good = edit_out(RecolourText(AT, (0, 0, 0)))
        plate = edit_out(LayOver(AT, Overlay(OverlayKind.PLATE, Box(0, 0, 9, 9), (0, 0, 0), 40)))
        for bad in (
            good | {"edit": "paint"},
            good | {"colour": "blue-ish"},
            good | {"colour": 7},
            good | {"opacity": 1.5},
            good | {"opacity": float("nan")},
            good | {"address": "a" * 5_000},
            {key: value for key, value in good.items() if key != "colour"},
            plate | {"overlay": plate["overlay"] | {"box": [1, 2, 3]}},
            plate | {"overlay": plate["overlay"] | {"percent": 101}},
            plate | {"overlay": plate["overlay"] | {"bound": "yes"}},
            plate | {"overlay": plate["overlay"] | {"turn": 361}},
            edit_out(Restyle(AT)) | {"bold": 1},
        ):
            with self.assertRaises((ValueError, KeyError, TypeError)):
                edit_in(bad)


if __name__ == "__main__":
    unittest.main()
