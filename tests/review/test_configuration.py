"""Settings beside the files: found, heeded, overruled by what is typed, and refused by name."""

from __future__ import annotations

import contextlib
import io
import json
import re
import tempfile
import unittest
from pathlib import Path

from high_pair.cli import main
from high_pair.cli.configuration import find, parse
from high_pair.errors import UnreadableFile
from high_pair.formats.kinds import DECKS, DOCUMENTS, DRAWING, PAGES, WORKBOOKS
from tests.review.test_audits import write_deck


class Configured(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name).resolve()
        self.share = self.folder / "share" / "winter"
        self.share.mkdir(parents=True)
        self.file = self.folder / "share" / "high-pair.toml"

    def parsed(self, *words: object):
        return parse([str(word) for word in words])

    def test_the_nearest_file_above_counts_and_paths_in_it_are_beside_it(self) -> None:
        self.file.write_text('level = "AAA"\naim = "1.2x"\ndecisions = "aside.json"\nbudget = 3\n'
                             'exclude = ["old", "*.tmp.pptx"]\nseats = ["last row"]\n'
                             'widths = [320, 1280]\nfail-on = "new"\nhidden = true\n')  # fmt: skip
        found = self.parsed("audit", self.share, "--store", "x")
        self.assertEqual((found.level, found.aim.factor, found.budget), ("AAA", 1.2, 3))
        self.assertEqual(found.decisions, [self.file.parent / "aside.json"])
        self.assertEqual(found.exclude, ["old", "*.tmp.pptx"])
        self.assertEqual((found.widths, found.fail_on, found.hidden), ((320, 1280), "new", True))
        found = self.parsed("review", self.share / "deck.pptx")
        self.assertEqual((found.level, found.seat), ("AAA", ["last row"]))

    def test_what_is_typed_wins_and_lists_are_added_to(self) -> None:
        self.file.write_text('level = "AAA"\nexclude = ["old"]\n')
        found = self.parsed(
            "audit", self.share, "--store", "x", "--level", "AA", "--exclude", "new"
        )
        self.assertEqual((found.level, found.exclude), ("AA", ["old", "new"]))
        self.assertEqual(
            self.parsed("audit", self.share, "--store", "x", "--no-config").exclude, []
        )

    def test_a_table_in_pyproject_counts_and_anothers_file_is_left_alone(self) -> None:
        shared = self.share / "pyproject.toml"
        shared.write_text("[tool.other]\nlevel = 3\n")
        self.file.write_text('level = "AAA"\n')
        self.assertEqual(find([self.share]), self.file)
        shared.write_text("[tool.high-pair]\nbudget = 7\n")
        self.assertEqual(find([self.share]), shared)
        self.assertEqual(self.parsed("review", self.share).budget, 7)
        shared.write_text("not toml [")
        self.assertEqual(find([self.share]), self.file)

    def test_what_is_wrong_in_it_is_said_with_its_name(self) -> None:
        for content, words in (
            ("level = ", "sound TOML"),
            ('colour = "red"', "“colour” is no setting"),
            ('level = "A"', "invalid choice"),
            ("level = true", "neither text nor a number"),
            ("exclude = 3", "neither text nor a list"),
            ("hidden = 1", "neither true nor false"),
            ("budget = -1", "no number"),
            ('folders = ["/"]', "no setting"),
        ):
            self.file.write_text(content)
            with self.assertRaisesRegex(UnreadableFile, words) as caught:
                self.parsed("audit", self.share, "--store", "x")
            self.assertIn("high-pair.toml", str(caught.exception))
        with self.assertRaises(UnreadableFile):
            self.parsed("review", self.share, "--config", self.folder / "gone.toml")

    def test_a_budget_lets_so_many_fall_short(self) -> None:
        deck = self.share / "deck.pptx"
        write_deck(deck, "AAAAAA", "BBBBBB", "000000")
        store = self.folder / "audit.sqlite"
        for budget, status in ((1, 1), (2, 0)):
            self.file.write_text(f"budget = {budget}\n")
            for words in (["review", deck], ["audit", self.share, "--store", store]):
                out = io.StringIO()
                with contextlib.redirect_stdout(out), contextlib.redirect_stderr(io.StringIO()):
                    found = main([*(str(word) for word in words), "--format", "json"])
                self.assertEqual(found, status, words)
                self.assertIn(json.loads(out.getvalue())["format"],
                              ("high-pair-review", "high-pair-audit"))  # fmt: skip


class Hook(unittest.TestCase):
    def test_the_hook_takes_every_kind_of_file_that_states_its_text(self) -> None:
        words = (Path(__file__).parents[2] / ".pre-commit-hooks.yaml").read_text("utf-8")
        pattern = re.compile(re.search(r"files: (.*)", words)[1])  # type: ignore[index]
        for suffix in (*DECKS, *DOCUMENTS, *WORKBOOKS, *PAGES, DRAWING):
            self.assertTrue(pattern.search(f"folder/name{suffix}"), suffix)
        self.assertFalse(pattern.search("folder/name.py"))


if __name__ == "__main__":
    unittest.main()
