"""A process that reads strangers' bytes may loop, eat, crash or leave: the program goes on."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time
import unittest
from pathlib import Path

from high_pair.errors import Cancelled, EditError, HighPairError, UnreadableFile
from high_pair.process.host import Budget, CallProblem, Host, ProcessDied, ProcessEnded
from high_pair.process.limits import MEGABYTE, memory_of, seconds_of
from tests.process import work

ROOT = Path(__file__).resolve().parents[2]
# How soon a process is gone once it should be.
# Two seconds; a busy machine of two cores gets more.
SOON = 6.0


def is_there(process: int) -> bool:
    """Tell whether a process runs; one that has ended and isn't waited for doesn't."""
    try:
        state = Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0]
    except OSError:
        return False
    return state != "Z"


class HostTest(unittest.TestCase):
    def setUp(self) -> None:
        self.host = Host()
        self.addCleanup(self.host.close)

    def assert_goes_on(self) -> None:
        self.assertEqual(self.host.call(work.double, 21), 42)

    def assert_gone(self, process: int) -> None:
        end = time.monotonic() + SOON
        while is_there(process):
            self.assertLess(time.monotonic(), end, "it is still there")
            time.sleep(0.01)


class Calls(HostTest):
    def test_a_function_runs_in_another_process_and_what_it_keeps_stays(self) -> None:
        self.assertNotEqual(self.host.call(work.own_process), os.getpid())
        self.assertEqual(self.host.call(work.remember, "one"), "one")
        self.assertEqual(self.host.call(work.remember, "two"), "one")

    def test_a_function_can_be_named(self) -> None:
        self.assertEqual(self.host.call("tests.process.work:double", 4), 8)

    def test_what_it_raises_is_raised_here_with_its_words(self) -> None:
        with self.assertRaises(UnreadableFile) as caught:
            self.host.call(work.refuse, "file")
        self.assertEqual(str(caught.exception), "bad.pptx: it is damaged.")
        with self.assertRaises(EditError):
            self.host.call(work.refuse, "edit")
        with self.assertRaisesRegex(CallProblem, "Input/output error"):
            self.host.call(work.refuse, "system")
        with self.assertRaisesRegex(HighPairError, "inside High Pair.*a fault of ours"):
            self.host.call(work.refuse, "other")
        self.assert_goes_on()

    def test_how_far_it_is_is_told_in_between(self) -> None:
        told: list[tuple[int, int]] = []
        self.host.call(work.tell_and_loop, 3, told=lambda *words: told.append(words))
        self.assertEqual(told, [(0, 3), (1, 3), (2, 3)])

    def test_what_libraries_print_gets_nowhere(self) -> None:
        script = (
            "from high_pair.process.host import Host\nfrom tests.process import work\n"
            "if __name__ == '__main__':\n    host = Host(); host.call(work.print_much); host.close()\n"
        )
        done = subprocess.run(
            [sys.executable, "-c", script], cwd=ROOT, capture_output=True, check=True
        )
        self.assertEqual((done.stdout, done.stderr), (b"", b""))


class Limits(HostTest):
    def test_a_loop_is_ended_and_said(self) -> None:
        start = time.monotonic()
        with self.assertRaisesRegex(ProcessEnded, "no end after 1 s"):
            self.host.call(work.loop, budget=Budget(seconds=1.0))
        self.assertLess(time.monotonic() - start, 10)
        self.assert_goes_on()

    def test_work_that_tells_how_far_it_is_may_go_on(self) -> None:
        self.assertEqual(self.host.call(work.tell_and_loop, 5, budget=Budget(seconds=0.9)), 5)

    def test_work_that_asks_whether_to_stop_gets_on(self) -> None:
        self.assertTrue(self.host.call(work.ask_and_loop, 4.0, budget=Budget(seconds=1.5)))

    def test_who_waits_for_ever_is_ended(self) -> None:
        with self.assertRaisesRegex(ProcessEnded, "didn't answer"):
            self.host.call(work.sleep, 60, budget=Budget(wall=0.3))
        self.assert_goes_on()

    def test_memory_that_grows_is_noticed_before_it_is_a_gigabyte(self) -> None:
        most = 0
        watching = True

        def watch() -> None:
            nonlocal most
            while watching:
                most = max(most, memory_of(self.host.process))
                time.sleep(0.002)

        self.assert_goes_on()
        thread = threading.Thread(target=watch)
        thread.start()
        with self.assertRaisesRegex(ProcessEnded, "memory"):
            self.host.call(work.eat, 4000)
        watching = False
        thread.join()
        self.assertGreater(most, 300 * MEGABYTE)
        self.assertLess(most, 1024 * MEGABYTE)
        self.assert_goes_on()

    def test_memory_asked_for_at_once_is_refused_by_the_kernel(self) -> None:
        with self.assertRaisesRegex(ProcessEnded, "memory"):
            self.host.call(work.eat_at_once, 3000)
        self.assert_goes_on()

    def test_a_process_that_it_starts_may_have_a_limit_of_its_own(self) -> None:
        most = 1600
        held = self.host.call(work.limit_of_a_child, most)
        self.assertEqual(held, f"{(most - 200) << 20}\n")

    def test_a_crash_names_its_signal(self) -> None:
        with self.assertRaisesRegex(ProcessDied, "SIGSEGV"):
            self.host.call(work.crash)
        with self.assertRaises(ProcessDied):
            self.host.call(work.leave)
        self.assert_goes_on()

    def test_what_a_process_uses_is_read_from_the_kernel(self) -> None:
        self.assertGreater(memory_of(os.getpid()), 10 * MEGABYTE)
        self.assertAlmostEqual(seconds_of(os.getpid()), time.process_time(), delta=0.5)
        self.assertEqual((memory_of(2**22 + 1), seconds_of(2**22 + 1)), (0, 0.0))


class Stopping(HostTest):
    def test_one_that_listens_stops_and_goes_on(self) -> None:
        process = self.host.call(work.own_process)
        asked = time.monotonic()
        with self.assertRaises(Cancelled):
            self.host.call(work.wait_until_stopped, stopped=lambda: time.monotonic() - asked > 0.2)
        self.assertEqual(self.host.call(work.own_process), process)

    def test_one_that_does_not_listen_is_ended(self) -> None:
        process = self.host.call(work.own_process)
        with self.assertRaises(Cancelled):
            self.host.call(work.loop, stopped=lambda: True)
        self.assert_gone(process)
        self.assert_goes_on()

    def test_closing_ends_the_call_under_way_at_once(self) -> None:
        self.assert_goes_on()
        caught: list[BaseException] = []

        def call() -> None:
            try:
                self.host.call(work.loop)
            except HighPairError as error:
                caught.append(error)

        thread = threading.Thread(target=call)
        thread.start()
        time.sleep(0.2)
        process = self.host.process
        start = time.monotonic()
        self.host.close()
        self.assertLess(time.monotonic() - start, 0.2)
        thread.join(SOON)
        self.assertIsInstance(caught[0], Cancelled)
        self.assert_gone(process)
        with self.assertRaises(Cancelled):
            self.host.call(work.double, 1)


class Orphans(unittest.TestCase):
    """However the program ends, its processes end too."""

    SCRIPT = (
        "import sys, threading, time\nfrom high_pair.process.host import Host\n"
        "from tests.process import work\n"
        "if __name__ == '__main__':\n"
        "    host = Host(); print(host.call(work.own_process), flush=True)\n"
        "    host.call(work.loop)\n"
    )

    def test_killed_terminated_or_interrupted(self) -> None:
        for number in (signal.SIGKILL, signal.SIGTERM, signal.SIGINT):
            with self.subTest(number.name):
                program = subprocess.Popen(
                    [sys.executable, "-c", self.SCRIPT],
                    cwd=ROOT,
                    stdout=subprocess.PIPE,
                    stderr=subprocess.DEVNULL,
                )
                assert program.stdout is not None
                process = int(program.stdout.readline())
                self.assertTrue(is_there(process))
                program.send_signal(number)
                # Nobody holds the pipe: it ends.
                start = time.monotonic()
                program.stdout.read()
                program.wait()
                program.stdout.close()
                self.assertLess(time.monotonic() - start, SOON)
                while is_there(process):
                    self.assertLess(time.monotonic() - start, SOON)
                    time.sleep(0.01)


if __name__ == "__main__":
    unittest.main()
