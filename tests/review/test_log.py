"""The log of pairs measured by hand: kept, exported, and safe against damage."""

import csv
import io
import json
import tempfile
import unittest
from pathlib import Path

from high_pair.errors import UnwritableFile
from high_pair.measure.by_hand import HandPair
from high_pair.review.log import Entry, Log, LogError, as_csv, as_json, entry_of, export, load, save
from high_pair.scene.paint import from_levels
from tests.decks import ratio_by_hand


class Logs(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "deeper" / "log.json"
        pair = HandPair(from_levels((0x3F, 0x8C, 0x86), 0.5), from_levels((255, 255, 255)))
        self.entry = entry_of(pair, "typed", "Timetable notes")

    def test_an_entry_keeps_both_colours_with_their_opacity(self):
        self.assertEqual(self.entry.foreground, "#3F8C8680")
        self.assertAlmostEqual(self.entry.pair.foreground.opacity, 0.5, delta=0.01)

    def test_what_is_kept_is_there_in_the_next_run(self):
        log = Log().with_entry(self.entry).with_entry(Entry("#000000", "#FFFFFF", "2026-01-02"))
        save(log, self.path)
        self.assertEqual(load(self.path), log)
        self.assertEqual(load(self.path.with_name("other.json")), Log())

    def test_entries_are_named_and_taken_out(self):
        log = Log().with_entry(self.entry).with_entry(Entry("#000000", "#FFFFFF", "2026-01-02"))
        self.assertEqual(log.changed(1, note="dark sea").entries[1].note, "dark sea")
        self.assertEqual(log.without([0]).entries, (self.entry,))

    def test_a_damaged_log_is_set_aside_and_said(self):
        self.path.parent.mkdir()
        for text in ("{", "[]", '{"schema": "other", "entries": []}', "null", "[" * 100_000):
            self.path.write_text(text)
            with self.assertRaises(LogError) as caught:
                load(self.path)
            self.assertIn("set aside", str(caught.exception))
            self.assertFalse(self.path.exists())
            self.assertEqual(self.path.with_suffix(".damaged").read_text(), text)

    def test_entries_that_make_no_sense_are_passed_over(self):
        save(Log().with_entry(self.entry), self.path)
        data = json.loads(self.path.read_text())
        data["entries"] += [
            1,
            {},
            {"foreground": "#12", "backdrop": "#000", "time": ""},
            {"foreground": "#000", "backdrop": 5, "time": ""},
        ]
        self.path.write_text(json.dumps(data))
        self.assertEqual(load(self.path).entries, (self.entry,))

    def test_a_table_has_the_ratio_and_no_formulas(self):
        entry = Entry("#777777", "#FFFFFF", "2026-01-02", name="=1+1", note='with "quotes", commas')
        (row,) = csv.DictReader(io.StringIO(as_csv([entry])))
        self.assertEqual(row["ratio"], "4.47")
        self.assertEqual(row["name"], "'=1+1")
        self.assertEqual(row["note"], 'with "quotes", commas')

    def test_json_has_the_whole_ratio_and_each_target(self):
        (entry,) = json.loads(as_json([Entry("#777777", "#FFFFFF", "2026-01-02")]))["entries"]
        self.assertAlmostEqual(entry["ratio"], ratio_by_hand("777777", "FFFFFF"))
        self.assertFalse(entry["passes"]["normal text AA"])
        self.assertTrue(entry["passes"]["graphics, controls"])

    def test_exports_go_by_the_names_ending(self):
        self.path.parent.mkdir()
        for name in ("a.csv", "a.json"):
            export([self.entry], self.path.with_name(name))
            self.assertIn("Timetable notes", self.path.with_name(name).read_text())
        with self.assertRaises(UnwritableFile):
            export([self.entry], self.path.with_name("a.txt"))
        with self.assertRaises(UnwritableFile):
            export([self.entry], Path("/proc/nowhere/a.csv"))


if __name__ == "__main__":
    unittest.main()
