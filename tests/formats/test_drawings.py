"""Drawings (.svg) as pictures whose text is read as text."""

from __future__ import annotations

import unittest
from pathlib import Path

from high_pair.errors import UnreadableFile
from high_pair.formats.web.drawing import size_of
from high_pair.wcag.verdicts import Verdict
from tests.web_pages import PageFolder, pairs_of, ratio

HEAD = '<?xml version="1.0"?>\n<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://example.invalid/x.dtd">\n'


class Drawings(PageFolder):
    def drawing(self, inner: str, attributes: str = 'width="400" height="100"'):  # type: ignore[no-untyped-def]
        text = f'{HEAD}<svg xmlns="http://www.w3.org/2000/svg" {attributes}>{inner}</svg>'
        return self.page(text, name="drawing.svg")

    def test_its_text_is_measured_on_what_is_painted_behind_it(self) -> None:
        file = self.drawing(
            '<rect width="400" height="100" fill="#203040"/>'
            '<text x="10" y="50" font-size="30" fill="#8090A0">Night sailings</text>'
        )
        self.assertEqual(file.kind, "picture")
        (pair,) = pairs_of(file)
        self.assertEqual(pair.text, "Night sailings")
        self.assertAlmostEqual(pair.ratio or 0, ratio("#8090A0", "#203040"), delta=0.01)
        self.assertEqual(pair.verdict, Verdict.PASSES)
        self.assertEqual(pair.origin, "an attribute of the drawing")

    def test_a_size_is_the_one_shown(self) -> None:
        file = self.drawing(
            '<text x="10" y="40" font-size="12">Words</text>', 'viewBox="0 0 400 100" width="800"'
        )
        self.assertEqual(file.pages[0].width, 600.0)
        self.assertAlmostEqual(pairs_of(file)[0].size, 18.0, delta=0.01)

    def test_a_picture_within_it_needs_eyes(self) -> None:
        data = "data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///ywAAAAAAQABAAACAUwAOw=="
        (pair,) = pairs_of(self.drawing(f'<image href="{data}" width="200" height="80"/>'))
        self.assertEqual(pair.verdict, Verdict.NEEDS_EYES)

    def test_a_copy_is_the_same_to_the_byte(self) -> None:
        file = self.drawing('<text x="10" y="40">Words</text>')
        file.save(self.folder / "copy.svg")
        self.assertEqual((self.folder / "copy.svg").read_bytes(), file.path.read_bytes())

    def test_no_remedy_is_offered_that_isnt_written(self) -> None:
        (pair,) = pairs_of(self.drawing('<text x="10" y="40" fill="#999">Words</text>'))
        self.assertIn("where the drawing was made", pair.fixed)

    def test_sizes_follow_width_height_and_box(self) -> None:
        for attributes, size in (
            ('width="30mm" height="10mm"', (113.39, 37.8)),
            ('viewBox="0 0 50 20"', (50, 20)),
            ('viewBox="0 0 50 20" height="40"', (100, 40)),
            ("", (300, 150)),
            ('width="100%" height="100%" viewBox="0 0 7 7"', (7, 7)),
            ('width="1e9" height="1e9"', (8000, 8000)),
        ):
            with self.subTest(attributes):
                path = self.folder / "sized.svg"
                path.write_text(f"<!-- <svg width='1'> --><svg {attributes}>")
                for found, expected in zip(size_of(path), size, strict=True):
                    self.assertAlmostEqual(found, expected, delta=0.01)

    def test_what_is_no_drawing_is_said(self) -> None:
        path = Path(self.folder / "none.svg")
        path.write_text("<html>")
        with self.assertRaisesRegex(UnreadableFile, "no drawing"):
            size_of(path)


if __name__ == "__main__":
    unittest.main()
