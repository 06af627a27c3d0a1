"""A cluster gives the same rows as this machine, whatever becomes of its workers."""

from __future__ import annotations

import contextlib
import io
import os
import signal
import tempfile
import threading
import time
import unittest
from pathlib import Path
from unittest import mock

from distributed import Client, LocalCluster

from high_pair.cli import main
from high_pair.formats.web.settings import WebSettings
from high_pair.report.findings import Findings
from high_pair.report.store import Store
from high_pair.review.auditing import AuditWishes, audit
from high_pair.review.cluster import ClusterCrew, measure_there
from high_pair.review.in_processes import Opening
from high_pair.wcag.asked import Asked
from tests.review.test_audits import write_deck

WORKERS = 2


class Clusters(unittest.TestCase):
    cluster: LocalCluster

    @classmethod
    def setUpClass(cls) -> None:
        cls.cluster = LocalCluster(
            n_workers=WORKERS, threads_per_worker=1, processes=True, dashboard_address=None
        )
        cls.addClassCleanup(cls.cluster.close)

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.share = self.folder / "share"
        for number in range(8):
            write_deck(self.share / f"{number}.pptx", "AAAAAA", "000000", f"{number}{number}8888")
        (self.share / "bad.docx").write_bytes(b"no document")

    def wishes(self, root: object = None) -> AuditWishes:
        return AuditWishes((str(root or self.share),), Asked(), WebSettings(states=False), jobs=2)

    def crew(self, wishes: AuditWishes) -> ClusterCrew:
        address = self.cluster.scheduler_address
        return ClusterCrew(address, wishes.asked, wishes.web, wishes.jobs)

    def rows(self, store: Store, run: int) -> tuple[list, list]:
        findings = Findings(store, run)
        return list(findings.pairs()), findings.errors()

    def audited(self, wishes: AuditWishes, hired=None, told=lambda *_: None) -> tuple[list, list]:
        store = Store()
        self.addCleanup(store.close)
        return self.rows(store, audit(wishes, store, told, hired=hired))

    def test_a_worker_that_is_killed_while_it_works_changes_nothing(self) -> None:
        wishes = self.wishes()
        alone = self.audited(wishes)
        self.assertEqual(len(alone[0]), 24)
        with Client(self.cluster) as client:
            first, *_ = client.run(os.getpid).values()
        killed: list[int] = []

        def kill(standing, found) -> None:
            if found is not None and not killed:
                os.kill(first, signal.SIGKILL)
                killed.append(first)

        together = self.audited(wishes, lambda: self.crew(wishes), kill)
        self.assertEqual((together, killed), (alone, [first]))

    def test_workers_that_come_later_are_waited_for_and_used(self) -> None:
        wishes = self.wishes()
        with LocalCluster(n_workers=0, threads_per_worker=1, processes=True,
                          dashboard_address=None) as cluster:  # fmt: skip
            threading.Timer(1.0, cluster.scale, [1]).start()
            crew = lambda: ClusterCrew(cluster.scheduler_address, wishes.asked, wishes.web, 1)  # noqa: E731
            found = self.audited(wishes, crew)
        self.assertEqual(found, self.audited(wishes))

    def test_what_the_workers_dont_have_is_sent_and_pages_are_measured_here(self) -> None:
        page = self.share / "page.html"
        page.write_text("<!doctype html><html lang=en><title>P</title><p style='color:#999'>Words")
        before = Path.cwd()
        self.addCleanup(os.chdir, before)
        os.chdir(self.folder)
        # A path that leads to another place in each process.
        root = "/proc/self/cwd/share"
        with Client(self.cluster) as client:
            client.run(os.chdir, "/")
        self.assertIsNone(
            measure_there(
                str(self.folder / "gone.pptx"), Opening(page, WebSettings()), "d", Asked()
            )
        )
        wishes = self.wishes(root)
        found = self.audited(wishes, lambda: self.crew(wishes))
        self.assertEqual(found, self.audited(wishes))
        self.assertEqual(len(found[0]), 25)

    def test_the_command_says_what_it_needs_or_cant_reach(self) -> None:
        words = ["audit", str(self.share), "--store", str(self.folder / "a.sqlite")]
        for patched, expected in (
            (mock.patch.dict("sys.modules", {"distributed": None}), "high-pair[cluster]"),
            (mock.patch("high_pair.review.cluster.PATIENCE", 0.5), "can't be reached"),
        ):
            err = io.StringIO()
            start = time.monotonic()
            with (
                patched,
                contextlib.redirect_stderr(err),
                contextlib.redirect_stdout(io.StringIO()),
            ):
                status = main([*words, "--cluster", "tcp://127.0.0.1:9"])
            self.assertEqual(status, 2)
            self.assertIn(expected, err.getvalue())
            self.assertLess(time.monotonic() - start, 30)


if __name__ == "__main__":
    unittest.main()
