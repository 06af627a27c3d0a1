"""Seats: those that come with the program, files of them, and what a review says from them."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from high_pair.cli import main
from high_pair.colour.vision import Eyes
from high_pair.errors import UnreadableFile
from high_pair.review.seats import BUILT_IN, as_json, known_seats, read_seats, write_seats
from high_pair.scene.seat import Needs, Seat
from tests.decks import deck_on_an_accent


class SeatsTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.own = self.folder / "own" / "seats.json"
        patch = mock.patch("high_pair.cli.commands.own_seats", lambda: self.own)
        patch.start()
        self.addCleanup(patch.stop)

    def run_command(self, *words: object) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            status = main([str(word) for word in words])
        return status, out.getvalue(), err.getvalue()

    def write(self, *seats: object, **more: object) -> Path:
        path = self.folder / "seats.json"
        path.write_text(json.dumps({"format": "high-pair-seats", "seats": seats, **more}))
        return path


class Files(SeatsTest):
    def test_the_seats_that_come_with_the_program_are_sound_and_told_apart(self) -> None:
        self.assertEqual(len({seat.name for seat in BUILT_IN}), len(BUILT_IN))
        target = self.folder / "all.json"
        write_seats(BUILT_IN, target)
        self.assertEqual(read_seats(target), BUILT_IN)

    def test_a_persons_seat_joins_them_or_takes_the_place_of_one(self) -> None:
        mine = Seat("balcony", 30.0, 4.0, eyes=Eyes.DEUTAN, needs=Needs(angle=16.0))
        last = Seat("last row", 9.0, 1.5)
        self.own.parent.mkdir()
        write_seats([mine, last], self.own)
        known = {seat.name: seat for seat in known_seats(self.own)}
        self.assertEqual((known["balcony"], known["last row"]), (mine, last))
        self.assertEqual(len(known), len(BUILT_IN) + 1)
        status, out, _ = self.run_command("seats")
        self.assertEqual(status, 0)
        self.assertIn("balcony", out)
        status, out, _ = self.run_command("seats", "--format", "json")
        self.assertEqual({each["name"] for each in json.loads(out)["seats"]}, set(known))
        self.assertEqual(json.loads(as_json([mine]))["seats"][0]["needs"]["angle"], 16.0)

    def test_what_is_wrong_with_a_file_is_said(self) -> None:
        seat = {"name": "a", "distance": 3}
        for seats, words in (
            (({"distance": 3},), "seat 1 has no name"),
            (({"name": "a"},), "no distance"),
            (({**seat, "lux": "bright"},), "“lux” of its seat “a”"),
            (({**seat, "lux": -1},), "from 0 to"),
            (({**seat, "acuity": 1e999},), "“acuity”"),
            (({**seat, "eyes": "blind"},), "“eyes”"),
            (({**seat, "peak": 10, "black": 20},), "isn't darker"),
            (({**seat, "needs": 4},), "as an object"),
            ((seat, seat), "two of its seats"),
            ((seat,) * 300, "more than"),
        ):
            with self.assertRaisesRegex(UnreadableFile, words):
                read_seats(self.write(*seats))
        with self.assertRaisesRegex(UnreadableFile, "no file of seats"):
            read_seats(self.write(format="other"))
        for text, words in (("{", "sound JSON"), ("[" * 100_000, "sound JSON")):
            path = self.folder / "broken.json"
            path.write_text(text)
            with self.assertRaisesRegex(UnreadableFile, words):
                read_seats(path)
        with self.assertRaisesRegex(UnreadableFile, "can't be opened"):
            read_seats(self.folder / "gone.json")

    def test_no_screen_is_so_black_that_nothing_comes_back(self) -> None:
        (seat,) = read_seats(self.write({"name": "a", "distance": 3, "black": 0, "lux": 0}))
        self.assertGreater(seat.flare, 0.0)


class InReviews(SeatsTest):
    def setUp(self) -> None:
        super().setUp()
        self.deck = deck_on_an_accent(self.folder / "deck.pptx", 2)

    def test_every_pair_says_what_it_is_like_from_each_seat(self) -> None:
        status, out, err = self.run_command(
            "review", self.deck, "--seat", "last row", "--seat", "red-weak eyes", "--format", "json"
        )
        self.assertEqual(status, 1, err)
        pairs = json.loads(out)["files"][0]["pairs"]
        small, large = (
            next(p for p in pairs if p["text"] == words)["seats"]
            for words in ("Boarding 0", "Boarding 1")
        )
        self.assertEqual(set(small), {"last row", "red-weak eyes"})
        # From the arithmetic of the seat: half of 12 points of a page 540 points high, 2 m there.
        self.assertAlmostEqual(small["last row"]["angle_arcmin"] * 30 / 12,
                               large["last row"]["angle_arcmin"], places=3)  # fmt: skip
        self.assertEqual(small["last row"]["verdict"], "falls_short")
        self.assertLess(small["last row"]["reach_m"], 14.0)
        self.assertEqual(set(small["last row"]["vision"]), {"protan", "deutan", "tritan"})
        self.assertEqual(small["last row"]["unrest"], 0.0)

    def test_without_a_seat_nothing_is_said_of_any(self) -> None:
        _, out, _ = self.run_command("review", self.deck, "--format", "json")
        self.assertNotIn("seats", out)

    def test_the_standards_verdicts_and_the_status_stay_unless_it_is_strict(self) -> None:
        plain = self.folder / "plain.html"
        plain.write_text("<!doctype html><html lang=en><title>P</title><p>Words to read")
        words = ("review", plain, "--seat", "low vision, severe")
        status, out, _ = self.run_command(*words)
        self.assertEqual(status, 0)
        self.assertIn("0 of 1 text read", out)
        status, _, _ = self.run_command(*words, "--strict")
        self.assertEqual(status, 1)

    def test_seats_of_a_file_and_names_that_nobody_knows(self) -> None:
        path = self.write({"name": "near", "distance": 0.3}, {"name": "far", "distance": 40})
        status, out, _ = self.run_command("review", self.deck, "--seat", path)
        self.assertEqual(status, 1)
        self.assertIn("from “near”", out)
        self.assertIn("from “far”", out)
        status, out, err = self.run_command("review", self.deck, "--seat", "nowhere")
        self.assertEqual((status, out), (2, ""))
        self.assertIn("“last row”", err)
        status, _, err = self.run_command("review", self.deck, "--strict")
        self.assertEqual(status, 2)
        self.assertIn("--seat", err)


if __name__ == "__main__":
    unittest.main()
