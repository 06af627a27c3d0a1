"""Documents that are open in other processes are what they are in this one."""

import contextlib
import os
import threading
import time
import unittest
from dataclasses import replace
from pathlib import Path

from pptx import Presentation
from pptx.util import Pt

from high_pair.app.demo import DEMO
from high_pair.edits.kinds import RecolourText
from high_pair.errors import Cancelled, EditError, UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.web.settings import WebSettings
from high_pair.process.host import Host, ProcessDied
from high_pair.review import tasks
from high_pair.review.held import Processes
from high_pair.review.measuring import review_pages
from high_pair.review.parallel import LONG_DOCUMENT, PagePool
from high_pair.review.shop import _Opened
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest
from tests.decks import DeckFolder, body, run, shape, solid
from tests.process import work

EDIT = RecolourText("ppt/slides/slide1.xml#sp=1/p=1/r=1", (0, 0, 0))


class HeldTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)
        self.processes = Processes(2)
        self.addCleanup(self.processes.close_all)
        self.path = self.folder.deck(shape(body(run(inner=solid("AAAAAA")))), "pale.pptx")

    def test_same_pairs_in_the_same_order(self):
        here = open_document(DEMO)
        self.addCleanup(here.close)
        there = self.processes.open(DEMO)
        self.assertEqual((there.pages, there.assumed()), (here.pages, here.assumed()))
        found = [
            there.run(tasks.measure, page, Asked(), 80).review for page in range(len(there.pages))
        ]
        self.assertEqual(found, list(review_pages(here, Asked())))

    def test_edits_are_carried_out_there(self):
        document = self.processes.open(self.path)
        found = document.edited([EDIT]).run(tasks.measure, 0, Asked(), 80)
        self.assertIs(found.review.pairs[0].verdict, Verdict.PASSES)
        self.assertEqual(found.thumbnail.shape, (45, 80, 3))
        self.assertEqual(document.pages_touched([EDIT]), {0})
        with self.assertRaises(EditError):
            document.edited([RecolourText("ppt/slides/slide1.xml#sp=9/p=1/r=1", (0, 0, 0))])

    def test_what_was_decided_stays_open_while_remedies_are_tried(self):
        base = open_document(self.path)
        self.addCleanup(base.close)
        opened = _Opened(base, (0, 0), 0)
        decided = opened.document((EDIT,), trial=False)
        for colour in range(4):
            opened.document((EDIT, replace(EDIT, levels=(colour, 0, 0))), trial=True)
        self.assertIs(opened.document((EDIT,), trial=False), decided)

    def test_a_process_that_died_is_replaced_and_the_file_opened_anew(self):
        document = self.processes.open(self.path)
        os.kill(self.processes.host(document.source).process, 9)
        with self.assertRaisesRegex(UnreadableFile, r"^pale\.pptx: it ended the process"):
            document.run(tasks.measure, 0, Asked(), 80)
        self.assertTrue(document.run(tasks.measure, 0, Asked(), 80).review.pairs)

    def test_a_file_that_has_changed_meanwhile_is_not_taken_for_the_same(self):
        document = self.processes.open(self.path)
        self.processes.host(document.source).rest()
        os.utime(self.path, ns=(1, 1))
        with self.assertRaisesRegex(UnreadableFile, "changed on disk"):
            document.run(tasks.measure, 0, Asked(), 80)
        self.path.unlink()
        with self.assertRaisesRegex(UnreadableFile, "no such file"):
            document.run(tasks.measure, 0, Asked(), 80)

    def test_only_so_many_processes_live_at_a_time(self):
        documents = [self.processes.open(self.path) for _ in range(5)]
        hosts = [self.processes._hosts[each.source.key] for each in documents]
        self.assertEqual(sum(bool(host.process) for host in hosts), 2)
        for document in documents:
            self.assertTrue(document.run(tasks.measure, 0, Asked(), 80).review.pairs)

    def test_what_cannot_be_opened_leaves_no_process_and_after_the_end_none_begins(self):
        bad = self.folder.write(b"PK and nothing more", "bad.pptx")
        with self.assertRaises(UnreadableFile):
            self.processes.open(bad)
        self.assertEqual(self.processes._hosts, {})
        self.processes.close_all()
        with self.assertRaises(Cancelled):
            self.processes.open(self.path)
        self.assertEqual(self.processes._hosts, {})

    def test_another_files_loop_concerns_nobody_else(self):
        document = self.processes.open(self.path)
        other = self.processes.open(DEMO)
        host = self.processes.host(other.source)
        done = False

        def wait() -> None:
            with contextlib.suppress(Cancelled):
                host.call(work.wait_until_stopped, stopped=over)

        thread = threading.Thread(target=wait)

        def over() -> bool:
            return done

        thread.start()
        start = time.monotonic()
        self.assertTrue(document.run(tasks.measure, 0, Asked(), 80).review.pairs)
        self.assertLess(time.monotonic() - start, 10)
        done = True
        thread.join()


class Pool(unittest.TestCase):
    def test_a_process_that_dies_is_replaced_and_its_work_done_again(self):
        pool = PagePool(2)
        self.addCleanup(pool.close)
        died = []

        def fragile(host: Host, number: int) -> int:
            if not died:
                died.append(host.call(work.own_process))
                try:
                    host.call(work.crash)
                except ProcessDied as problem:
                    raise UnreadableFile("x", "it died.") from problem
            return host.call(work.double, number)

        self.assertEqual([pool.submit(fragile, n).result() for n in range(4)], [0, 2, 4, 6])

    def test_a_closed_pool_takes_nothing_and_starts_nothing(self):
        pool = PagePool(1)
        future = pool.submit(lambda host: host.call(work.loop))
        time.sleep(0.3)
        start = time.monotonic()
        pool.close()
        self.assertLess(time.monotonic() - start, 0.2)
        self.assertIsNotNone(future.exception(5))
        with self.assertRaises(RuntimeError):
            pool.submit(lambda host: host.call(work.double, 1))


DARK_AND_NARROW = """<!doctype html><meta name=color-scheme content="light dark"><style>
body { color: #000; background: #fff }
@media (prefers-color-scheme: dark) and (max-width: 400px) { body { color: #eee; background: #111 } }
</style><p>Boarding ends at ten</p>"""


class LongDeckInTheWindow(WindowTest):
    def long_deck(self) -> Path:
        deck = Presentation()
        for count in range(LONG_DOCUMENT + 2):
            slide = deck.slides.add_slide(deck.slide_layouts[6])
            box = slide.shapes.add_textbox(Pt(40), Pt(40), Pt(400), Pt(40))
            box.text_frame.text = f"Page {count}"
        path = self.folder / "long.pptx"
        deck.save(str(path))
        return path

    def test_a_page_beside_a_long_deck_is_measured_as_it_was_opened(self):
        page = self.folder / "boarding.html"
        page.write_text(DARK_AND_NARROW)
        shown = WebSettings((320,), dark=True, states=False)
        self.window.controller.open([self.long_deck(), page], shown)
        self.settle()
        session = self.window.controller.session
        deck, site = session.files.values()
        self.assertEqual(sum(len(session.pairs_on(deck.key, n)) for n in range(32)), 32)
        (pair,) = session.pairs_on(site.key, 0)
        self.assertEqual((pair.numbers.foreground, pair.numbers.background), ("#EEEEEE", "#111111"))

    def test_a_long_deck_is_measured_whole_and_let_go(self):
        path = self.long_deck()
        self.open(path)
        session = self.window.controller.session
        self.assertEqual(session.counts()[Verdict.PASSES], LONG_DOCUMENT + 2)
        rows = self.window.desk.strip.pages.rows
        self.assertFalse(any(row.thumbnail.isNull() for row in rows))
        (file,) = session.files.values()
        self.window.controller.close_file(file.key)
        kept = [host for host in self.window.controller.pool._all if host.process]
        self.assertEqual(kept, [])


if __name__ == "__main__":
    unittest.main()
