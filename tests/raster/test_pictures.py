"""Pictures are decoded to sRGB, whatever their format, depth and profile, and each once."""

import io
import struct
import unittest

import numpy as np
from PIL import Image

from high_pair.raster.pictures import GiantPicture, PictureProblem, Pictures, decode, picture_size
from tests.decks import flat_picture, png


def linear_profile() -> bytes:
    """Write a colour profile (ICC.1) of sRGB's primaries and a curve that is a straight line."""

    def fixed(value: float) -> bytes:
        return struct.pack(">i", round(value * 65536))

    def xyz(*values: float) -> bytes:
        return b"XYZ \0\0\0\0" + b"".join(map(fixed, values))

    name = b"Straight\0"
    text = b"desc\0\0\0\0" + struct.pack(">I", len(name)) + name + bytes(79)
    straight = b"curv" + bytes(4) + struct.pack(">I", 0)
    tags = {
        b"desc": text,
        b"cprt": b"text\0\0\0\0none\0",
        b"wtpt": xyz(0.9642, 1.0, 0.8249),
        # The primaries of IEC 61966-2-1, adapted to D50.
        b"rXYZ": xyz(0.4360747, 0.2225045, 0.0139322),
        b"gXYZ": xyz(0.3850649, 0.7168786, 0.0971045),
        b"bXYZ": xyz(0.1430804, 0.0606169, 0.7141733),
        b"rTRC": straight,
        b"gTRC": straight,
        b"bTRC": straight,
    }
    body, table = b"", struct.pack(">I", len(tags))
    for tag, data in tags.items():
        data += bytes(-len(data) % 4)
        table += tag + struct.pack(">II", 128 + 4 + 12 * len(tags) + len(body), len(data))
        body += data
    length = 128 + len(table) + len(body)
    head = struct.pack(">I4sI4s4s4s", length, bytes(4), 0x02400000, b"mntr", b"RGB ", b"XYZ ")
    head += bytes(12) + b"acsp" + bytes(28) + fixed(0.9642) + fixed(1.0) + fixed(0.8249)
    return head.ljust(128, b"\0") + table + body


class Decoding(unittest.TestCase):
    def test_formats_and_modes(self):
        picture = Image.new("RGB", (6, 4), (0, 204, 51))
        for name, mode in (
            ("PNG", "RGB"),
            ("PNG", "RGBA"),
            ("PNG", "P"),
            ("GIF", "P"),
            ("BMP", "RGB"),
            ("TIFF", "RGB"),
            ("WEBP", "RGB"),
            ("JPEG", "RGB"),
            ("PNG", "L"),
        ):
            with self.subTest(f"{name} {mode}"):
                out = io.BytesIO()
                lossless = {"lossless": True} if name == "WEBP" else {}
                picture.convert(mode).save(out, name, **lossless)
                pixels = decode(out.getvalue())
                self.assertEqual(pixels.shape, (4, 6, 4))
                if mode != "L":
                    np.testing.assert_allclose(pixels[0, 0], (0, 204, 51, 255), atol=3)

    def test_sixteen_bits_are_scaled_not_clipped(self):
        pixels = decode(png(np.full((4, 4), 0x8080, np.uint16)))
        self.assertEqual(pixels[0, 0].tolist(), [128, 128, 128, 255])

    def test_device_cmyk_is_converted(self):
        picture = Image.new("CMYK", (8, 8), (0, 255, 255, 0))
        for name in ("JPEG", "TIFF"):
            out = io.BytesIO()
            picture.save(out, name, quality=100)
            np.testing.assert_allclose(decode(out.getvalue())[4, 4], (255, 0, 0, 255), atol=4)

    def test_colours_of_a_linear_profile_become_srgb(self):
        out = io.BytesIO()
        Image.new("RGB", (4, 4), (55, 128, 255)).save(out, "PNG", icc_profile=linear_profile())
        # The curve of IEC 61966-2-1 on 55/255 and 128/255.
        wanted = [(1.055 * (level / 255) ** (1 / 2.4) - 0.055) * 255 for level in (55, 128)]
        np.testing.assert_allclose(decode(out.getvalue())[0, 0, :3], (*wanted, 255), atol=2)

    def test_a_broken_profile_is_passed_over(self):
        out = io.BytesIO()
        Image.new("RGB", (4, 4), (1, 2, 3)).save(out, "PNG", icc_profile=linear_profile()[:150])
        self.assertEqual(decode(out.getvalue())[0, 0].tolist(), [1, 2, 3, 255])

    def test_a_cameras_note_of_how_it_was_held_turns_nothing(self):
        # Programs that make slides write the turn into the shape, and paint the pixels as stored.
        exif = Image.Exif()
        exif[0x0112] = 6
        picture = Image.new("RGB", (20, 10), (0, 0, 0))
        picture.paste((255, 255, 255), (10, 0, 20, 10))
        out = io.BytesIO()
        picture.save(out, "JPEG", exif=exif, quality=100)
        pixels = decode(out.getvalue())
        self.assertEqual(pixels.shape[:2], (10, 20))
        self.assertGreater(int(pixels[5, 15, 0]), 250)

    def test_what_is_no_picture_says_so(self):
        for data in (b"", b"text", flat_picture((1, 1, 1), (64, 64))[:70]):
            with self.assertRaises(PictureProblem):
                decode(data)

    def test_a_picture_is_decoded_once(self):
        calls = []

        def load(name: str) -> bytes:
            calls.append(name)
            return flat_picture((1, 2, 3))

        pictures = Pictures(load)
        self.assertIs(pictures.get("a"), pictures.get("a"))
        self.assertEqual(calls, ["a"])

    def test_the_cache_stays_within_its_room(self):
        pictures = Pictures(lambda name: flat_picture((1, 2, 3), (100, 100)), most_bytes=90_000)
        for name in "abcdef":
            pictures.get(name)
        self.assertLessEqual(len(pictures._scaled), 1)
        self.assertLessEqual(len(pictures._decoded), 1)

    def test_size_is_read_from_the_header(self):
        self.assertEqual(picture_size(flat_picture((0, 0, 0), (30, 20))), (30, 20))
        self.assertTrue(issubclass(GiantPicture, PictureProblem))


if __name__ == "__main__":
    unittest.main()
