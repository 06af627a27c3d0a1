"""What changes of brightness and contrast make of neutral ramps."""

from __future__ import annotations

import colorsys
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from high_pair.raster.effects import luminance_curve, with_effects
from high_pair.scene.effects import HueChange, Luminance, OneColour, Way
from high_pair.scene.paint import Colour

# Levels 0, 17, 34 … 255 of a ramp, as another program printed it after each change.
LEVELS = np.arange(0, 256, 17, dtype=np.float32)
PRINTED = (
    (Luminance(0.2, -0.4, Way.SLIDES),
     (92, 102, 112, 122, 133, 143, 153, 163, 174, 184, 194, 204, 215, 225, 235, 245)),
    (Luminance(-0.2, 0.4, Way.SLIDES),
     (0, 0, 0, 0, 0, 0, 17, 45, 73, 102, 130, 158, 186, 214, 243, 255)),
    (Luminance(0.3, 0.6, Way.SLIDES),
     (0, 0, 28, 70, 113, 155, 197, 239, 255, 255, 255, 255, 255, 255, 255, 255)),
    (Luminance(0.7, -0.7, Way.SLIDES),
     (216, 222, 227, 232, 237, 242, 248, 253, 255, 255, 255, 255, 255, 255, 255, 255)),
    (Luminance(0.2, -0.4, Way.OPENDOCUMENT),
     (102, 112, 122, 133, 143, 153, 163, 174, 184, 194, 204, 215, 225, 235, 245, 255)),
    (Luminance(-0.2, 0.4, Way.OPENDOCUMENT),
     (0, 0, 0, 0, 0, 6, 34, 62, 90, 118, 147, 175, 203, 231, 255, 255)),
    (Luminance(0.3, 0.6, Way.OPENDOCUMENT),
     (0, 0, 0, 14, 56, 98, 140, 182, 224, 255, 255, 255, 255, 255, 255, 255)),
    (Luminance(0.0, 0.0, Way.OPENDOCUMENT, gamma=2.0),
     (0, 66, 93, 114, 131, 147, 161, 173, 186, 198, 208, 218, 228, 237, 246, 255)),
)  # fmt: skip


class Ramps(unittest.TestCase):
    def changed(self, effect: Luminance, levels: np.ndarray = LEVELS) -> np.ndarray:
        grey = np.repeat(levels[None, :, None] / 255, 3, axis=2).astype(np.float32)
        return luminance_curve(grey, effect)[0] * 255

    def test_they_are_as_another_program_prints_them(self) -> None:
        for effect, printed in PRINTED:
            with self.subTest(effect):
                apart = np.abs(self.changed(effect)[:, 0] - np.array(printed))
                self.assertLessEqual(float(apart.max()), 1.5)

    def test_a_shift_is_added_to_its_own_channel(self) -> None:
        found = self.changed(Luminance(0.0, 0.0, Way.OPENDOCUMENT, (0.2, 0.0, -0.3)))
        np.testing.assert_allclose(found[5], (85 + 51, 85, 85 - 76.5), atol=0.6)

    @given(st.floats(-1, 1), st.floats(-1, 1), st.sampled_from(list(Way)))
    def test_what_is_lighter_stays_no_darker(self, brightness, contrast, way) -> None:
        found = self.changed(Luminance(brightness, contrast, way))[:, 0]
        self.assertTrue((np.diff(found) >= -1e-3).all())
        self.assertTrue((found >= 0).all() and (found <= 255).all())


class Hues(unittest.TestCase):
    """HSL as Python's own library has it."""

    @given(
        st.tuples(*[st.integers(0, 255)] * 3), st.floats(0, 1), st.floats(-1, 1), st.floats(-1, 1)
    )
    def test_hue_turns_and_the_others_are_scaled(self, levels, hue, more, lighter) -> None:
        picture = Image.new("RGB", (1, 1), levels)
        changed = with_effects(picture, (HueChange(hue, more, lighter),)).getpixel((0, 0))
        h, lightness, s = colorsys.rgb_to_hls(*(level / 255 for level in levels))
        lightness = min(1.0, max(0.0, lightness * (1 + lighter)))
        s = min(1.0, max(0.0, s * (1 + more)))
        expected = colorsys.hls_to_rgb((h + hue) % 1.0, lightness, s)
        for level, wanted in zip(changed[:3], expected, strict=True):
            self.assertAlmostEqual(level, wanted * 255, delta=1.6)

    def test_all_colours_replaced_by_one_keep_their_opacity(self) -> None:
        picture = Image.new("RGBA", (1, 1), (200, 100, 50, 128))
        changed = with_effects(picture, (OneColour(Colour(0.0, 0.0, 1.0)),))
        self.assertEqual(changed.getpixel((0, 0)), (0, 0, 255, 128))


if __name__ == "__main__":
    unittest.main()
