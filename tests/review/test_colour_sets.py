"""Sets of files: read from themes, met on pages, settled, written, and reported."""

import io
import json
import unittest
import zipfile
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path

from lxml import etree
from pptx.enum.dml import MSO_THEME_COLOR

from high_pair.app.demo import DEMO
from high_pair.cli import main
from high_pair.colour.srgb import hex_of
from high_pair.formats import open_document
from high_pair.review.colour_sets import pages_of, with_pairs
from high_pair.scene.colour_set import State
from high_pair.wcag.asked import Asked
from tests.decks import DeckFolder, deck_on_an_accent, ratio_by_hand

LIGHT, ACCENT = MSO_THEME_COLOR.BACKGROUND_1, MSO_THEME_COLOR.ACCENT_1


class SetsTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def deck(self) -> Path:
        """Write a deck by another library."""
        return deck_on_an_accent(self.folder.path / "deck.pptx")

    def run_colours(self, *words: object) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            status = main(["colours", *map(str, words)])
        return status, out.getvalue(), err.getvalue()


class InUse(SetsTest):
    def test_what_meets_on_the_pages_is_told_with_shades_and_the_strictest_ratio(self):
        document = open_document(self.deck())
        self.addCleanup(document.close)
        (colours,) = document.colour_sets()
        accent, shade = colours.colour("accent1"), colours.colour("accent1, lumMod 75%")
        assert accent is not None and shade is not None
        self.assertEqual(shade.parent, "accent1")
        (found,) = with_pairs([colours], document, pages_of(document, Asked()), Asked())
        pairs = {(pair.text, pair.backdrop): pair for pair in found.pairs}
        # What isn't of the set makes no pair, nor does text in a colour of its own.
        self.assertEqual(set(pairs), {("lt1", "accent1"), ("lt1", "accent1, lumMod 75%")})
        both = pairs["lt1", "accent1"]
        self.assertEqual((both.places, both.required, both.state), (2, 4.5, State.IN_USE))
        by_hand = ratio_by_hand("FFFFFF", hex_of(accent.levels)[1:])
        self.assertAlmostEqual(both.worst or 0, by_hand, delta=0.01)

    def test_documents_and_workbooks_have_their_theme(self):
        for name in ("service-notice.docx", "fares-and-loading.xlsx"):
            document = open_document(DEMO.with_name(name))
            self.addCleanup(document.close)
            (colours,) = document.colour_sets()
            self.assertEqual(len([each for each in colours.colours if each.addresses]), 12)


class Command(SetsTest):
    def test_a_theme_is_settled_in_a_copy_whose_pages_pass(self):
        path, copy = self.deck(), self.folder.path / "copy.pptx"
        before = path.read_bytes()
        status, out, err = self.run_colours(
            path, "--mend", "--leave", "lt1", "--format", "json", "-o", copy
        )
        self.assertEqual((status, path.read_bytes()), (0, before), err)
        (found,) = json.loads(out)["sets"]
        mended = found["mended"]
        self.assertEqual(mended["given_up"], [])
        self.assertEqual(mended["on_pages"]["falls_short_after"], 0)
        self.assertGreater(mended["on_pages"]["mends"], 0)
        moved = {change["name"]: change["to"] for change in mended["changes"]}
        self.assertIn("accent1", moved)
        self.assertNotIn("lt1", moved)
        with zipfile.ZipFile(copy) as package:
            name = next(each for each in package.namelist() if "theme/theme" in each)
            theme = etree.fromstring(package.read(name))
        written = theme.find(".//{*}accent1/{*}srgbClr")
        assert written is not None
        self.assertEqual(f"#{written.get('val')}", moved["accent1"])
        for pair in mended["pairs"]:
            self.assertGreaterEqual(pair["ratio"], pair["required"])

    def test_a_token_file_with_wanted_pairs_is_settled_and_written_as_any_set_file(self):
        tokens = self.folder.path / "quay.json"
        group = {"$type": "color", "text": {"$value": "#8A939B"}, "sand": {"$value": "#F3E3C3"}}
        tokens.write_text(json.dumps({"quay": group}))
        wanted = ("--wanted", "quay.text", "quay.sand")
        status, out, _ = self.run_colours(tokens, *wanted)
        self.assertEqual(status, 1)
        self.assertIn("falls short", out)
        for suffix in (".json", ".css", ".gpl"):
            target = self.folder.path / f"better{suffix}"
            status, out, err = self.run_colours(tokens, *wanted, "--mend", "texts", "-o", target)
            self.assertEqual(status, 0, out + err)
            self.assertIn("better" + suffix, err)
            status, _, _ = self.run_colours(target)
            self.assertEqual(status, 0)

    def test_its_json_says_what_the_contract_lists(self):
        tokens = self.folder.path / "quay.json"
        colours = {name: {"$value": code} for name, code in (("a", "#777"), ("b", "white"))}
        tokens.write_text(json.dumps({"$type": "color", **colours}))
        _, out, _ = self.run_colours(tokens, "--format", "json")
        content = json.loads(out)
        self.assertEqual((content["format"], content["version"]), ("high-pair-colours", 1))
        (found,) = content["sets"]
        (pair,) = found["pairs"]
        self.assertEqual((pair["state"], pair["verdict"]), ("possible", "falls_short"))
        self.assertAlmostEqual(pair["ratio"], ratio_by_hand("777777", "FFFFFF"), delta=1e-3)
        self.assertEqual(set(found["apart"]), {"normal", "protan", "deutan", "tritan"})

    def test_what_cant_be_done_is_said(self):
        tokens = self.folder.path / "quay.json"
        tokens.write_text('{"a": {"$type": "color", "$value": "#777"}}')
        plain = self.folder.path / "plain.html"
        plain.write_text("<!doctype html><title>Plain</title><p>Words")
        for words, said in (
            ((tokens, "--leave", "b"), "no colour “b”, but a"),
            ((tokens, "--wanted", "a", "c"), "no colour “c”"),
            ((tokens, "-o", self.folder.path / "x.json"), "--mend"),
            ((tokens, "--mend", "-o", tokens), "quay.json"),
            ((self.folder.path / "gone.css",), "can't be opened"),
            ((plain,), "no colours together"),
        ):
            status, out, err = self.run_colours(*words)
            self.assertEqual((status, out), (2, ""), words)
            self.assertIn(said, err)
        self.assertIn("#777", tokens.read_text())


if __name__ == "__main__":
    unittest.main()
