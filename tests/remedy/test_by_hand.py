"""Sliders show where a colour passes, step by step, and the nearest pass is found."""

import itertools
import unittest

import numpy as np
from coloraide import Color
from hypothesis import given, settings
from hypothesis import strategies as st

from high_pair.measure.by_hand import HandPair
from high_pair.remedy.by_hand import (
    HIGHEST,
    STEPS,
    Channel,
    nearest_pass,
    ratios_with,
    shared_pass,
    step_of,
    steps_of,
    stretches,
    tone_of,
    value_at,
)
from high_pair.scene.paint import BLACK, WHITE, from_levels

LEVELS = st.tuples(*[st.integers(0, 255)] * 3)


class Tracks(unittest.TestCase):
    @given(LEVELS)
    def test_a_colour_is_the_same_after_the_way_to_its_sliders_and_back(self, levels):
        self.assertEqual(tone_of(levels).levels, levels)

    def test_every_step_is_the_colour_that_it_leads_to(self):
        tone = tone_of((63, 140, 134))
        for channel in Channel:
            steps = steps_of(tone, channel)
            self.assertEqual(len(steps.colours), STEPS[channel] + 1)
            for step in range(0, STEPS[channel] + 1, 37):
                there = tone.with_value(channel, value_at(channel, step))
                self.assertEqual(tuple(steps.colours[step]), there.levels)
                self.assertEqual(bool(steps.inside[step]), there.is_inside)
                self.assertEqual(step_of(channel, value_at(channel, step)), step)

    def test_steps_agree_with_a_second_library(self):
        tone = tone_of((63, 140, 134))
        for channel in Channel:
            steps = steps_of(tone, channel)
            for step in np.flatnonzero(steps.inside)[::29]:
                there = tone.with_value(channel, value_at(channel, int(step)))
                theirs = Color("oklch", [there.lightness, there.chroma, there.hue]).convert("srgb")
                wanted = np.clip(np.array(theirs.coords()) * 255, 0, 255)
                np.testing.assert_allclose(steps.colours[step], wanted, atol=0.51)

    @settings(max_examples=40)
    @given(LEVELS, LEVELS, st.sampled_from([3.0, 4.5, 7.0]), st.sampled_from(list(Channel)))
    def test_the_stretches_end_at_the_exact_thresholds(self, one, other, required, channel):
        tone, against = tone_of(one), from_levels(other)
        steps = steps_of(tone, channel)
        good = ratios_with(steps.colours, 1.0, against, is_text=True) >= required
        marked = np.zeros(len(good), bool)
        for start, end in stretches(good):
            marked[round(start * STEPS[channel]) : round(end * STEPS[channel]) + 1] = True
        for step in {*range(0, len(good), 31), *np.flatnonzero(np.diff(good))}:
            for place in (step, min(step + 1, len(good) - 1)):
                seen = tone.with_value(channel, value_at(channel, int(place))).levels
                ratio = HandPair(from_levels(seen), against).ratio
                self.assertEqual(bool(marked[place]), ratio >= required)

    def test_nothing_and_everything(self):
        self.assertEqual(stretches(np.zeros(5, bool)), [])
        self.assertEqual(stretches(np.ones(5, bool)), [(0.0, 1.0)])
        self.assertEqual(
            stretches(np.array([True, False, False, True, True])), [(0.0, 0.0), (0.75, 1.0)]
        )

    def test_the_highest_chroma_holds_every_colour_of_srgb(self):
        corners = itertools.product((0, 255), repeat=3)
        self.assertLess(max(tone_of(levels).chroma for levels in corners), HIGHEST[Channel.CHROMA])


class NearestPass(unittest.TestCase):
    @settings(max_examples=60)
    @given(LEVELS, LEVELS, st.sampled_from([3.0, 4.5, 7.0]), st.booleans())
    def test_what_is_found_passes_and_none_is_nearer(self, one, other, required, is_text):
        found = nearest_pass(from_levels(one), [(from_levels(other), required)], is_text)
        if found is None:
            best = max(HandPair(grey, from_levels(other)).ratio for grey in (BLACK, WHITE))
            self.assertLess(best, required)
            return
        self.assertGreaterEqual(HandPair(found, from_levels(other)).ratio, required)
        if HandPair(from_levels(one), from_levels(other)).ratio >= required:
            self.assertEqual(found.levels, one)

    def test_a_see_through_text_keeps_its_opacity(self):
        text, white = from_levels((120, 120, 120), 0.8), WHITE
        found = nearest_pass(text, [(white, 4.5)], is_text=True)
        assert found is not None
        self.assertEqual(found.opacity, 0.8)
        self.assertGreaterEqual(HandPair(found, white).ratio, 4.5)

    def test_one_colour_serves_many(self):
        many = [from_levels((230, 240, 238)), from_levels((200, 220, 255))]
        found = nearest_pass(
            from_levels((63, 140, 134)), [(each, 4.5) for each in many], is_text=True
        )
        assert found is not None
        self.assertTrue(all(HandPair(found, each).ratio >= 4.5 for each in many))
        dark_and_light = [(BLACK, 7.0), (WHITE, 7.0)]
        self.assertIsNone(nearest_pass(BLACK, dark_and_light, is_text=True))

    @settings(max_examples=40, deadline=None)
    @given(LEVELS, LEVELS, st.sampled_from([3.0, 4.5, 7.0]))
    def test_shared_between_the_two(self, one, other, required):
        pair = HandPair(from_levels(one), from_levels(other))
        found = shared_pass(pair.foreground, pair.backdrop, required)
        assert found is not None
        self.assertGreaterEqual(HandPair(*found).ratio, required)
        if pair.ratio >= required:
            self.assertEqual(found, (pair.foreground, pair.backdrop))


if __name__ == "__main__":
    unittest.main()
