"""The window outlives every file: what one makes of its process concerns that file alone."""

from __future__ import annotations

import os
import time
import unittest
from pathlib import Path
from unittest import mock

from high_pair.process.host import Budget
from high_pair.review import held
from high_pair.review.history import History
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest
from tests.decks import body, members, pack, run, shape, solid

PALE = shape(body(run("Pale", inner=solid("AAAAAA"))))
# The window answers within a fifth of a second; a busy machine of two cores gets more.
ANSWERS = 1.0


class HostileInTheWindow(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.told: list[str] = []
        self.window.controller.failed.connect(self.told.append)

    def write(self, shapes: str, name: str) -> Path:
        path = self.folder / name
        path.write_bytes(pack(members(shapes)))
        return path

    def watched(self, seconds: float = 60.0) -> float:
        """Let the window work until it rests; gives the longest time that it didn't answer."""
        longest, end, quiet = 0.0, time.monotonic() + seconds, 0
        while quiet < 5:
            start = time.monotonic()
            self.application.processEvents()
            longest = max(longest, time.monotonic() - start)
            time.sleep(0.005)
            quiet = 0 if self.window.controller.busy else quiet + 1
            self.assertLess(time.monotonic(), end)
        return longest

    def test_work_without_end_is_an_error_on_that_file_and_the_others_go_on(self) -> None:
        good = self.write(PALE, "good.pptx")
        bad = self.write(PALE * 6_000, "bad.pptx")

        def budgets(path: Path, _times: float = 1.0) -> Budget:
            return Budget(seconds=1.0) if path.name == "bad.pptx" else Budget()

        with mock.patch.object(held, "budget_for", budgets):
            self.window.open_paths([bad, good])
            self.assertLess(self.watched(), ANSWERS)
        self.assertEqual(len(self.told), 1, self.told)
        self.assertIn("bad.pptx: it had no end after 1 s of work", self.told[0])
        session = self.window.controller.session
        self.assertEqual(session.counts()[Verdict.FALLS_SHORT], 1)

    def test_so_is_the_death_of_its_process_and_it_is_opened_anew_when_asked_for(self) -> None:
        self.open(self.write(PALE, "good.pptx"))
        controller = self.window.controller
        (file,) = controller.session.files.values()
        os.kill(controller.processes.host(file.document.source).process, 9)
        controller.session.files[file.key].pages[0] = None
        controller.measure_due()
        self.watched()
        self.assertIn("good.pptx: it ended the process that read it", self.told[0])
        file.pages[0] = None
        controller.measure_due()
        self.watched()
        self.assertEqual(controller.session.counts()[Verdict.FALLS_SHORT], 1)

    def test_many_files_come_in_without_holding_the_window_up(self) -> None:
        paths = [self.write(PALE, f"{number}.pptx") for number in range(40)]
        self.window.open_paths(paths)
        self.assertLess(self.watched(120), ANSWERS)
        session = self.window.controller.session
        self.assertEqual(session.counts()[Verdict.FALLS_SHORT], 40)
        live = {host.process for host in self.window.controller.processes._hosts.values()} - {0}
        self.assertLessEqual(len(live), held.MOST_PROCESSES)

    def test_closing_while_measuring_is_done_at_once_and_starts_nothing(self) -> None:
        self.window.open_paths([self.write(PALE * 3_000, f"{n}.pptx") for n in range(3)])
        end = time.monotonic() + 1.5
        while time.monotonic() < end:
            self.application.processEvents()
            time.sleep(0.005)
        self.window.controller.session.history = History()
        start = time.monotonic()
        self.window.close()
        self.assertLess(time.monotonic() - start, ANSWERS)
        self.assertEqual(
            [h for h in self.window.controller.processes._hosts.values() if h.process], []
        )
        with self.assertRaises(RuntimeError):
            self.window.controller.pool.submit(lambda host: None)

    def test_a_source_that_is_gone_is_still_saved_and_one_that_changed_is_said(self) -> None:
        path = self.write(PALE, "good.pptx")
        self.open(path)
        (file,) = self.window.controller.session.files.values()
        path.unlink()
        self.window.controller.save_copy(file, self.folder / "copy.pptx")
        self.watched()
        # Its process holds it open.
        self.assertTrue((self.folder / "copy.pptx").exists(), self.told)
        self.window.controller.processes.host(file.document.source).rest()
        path.write_bytes(pack(members(PALE * 2)))
        self.window.controller.save_copy(file, self.folder / "other.pptx")
        self.watched()
        self.assertIn("changed on disk", self.told[-1])
        self.assertFalse((self.folder / "other.pptx").exists())

    def test_a_source_that_is_written_over_is_not_mixed_with_what_was_read_of_it(self) -> None:
        path = self.write(PALE, "good.pptx")
        self.open(path)
        (file,) = self.window.controller.session.files.values()
        with path.open("r+b") as stream:
            stream.write(b"another")
        self.window.controller.save_copy(file, self.folder / "copy.pptx")
        self.watched()
        self.assertIn("changed on disk", self.told[-1])
        self.assertFalse((self.folder / "copy.pptx").exists())


if __name__ == "__main__":
    unittest.main()
