"""However the command ends, nothing is left running, nothing is torn, and nothing is traced back."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import time
import unittest
import uuid
from pathlib import Path

from high_pair.review.parallel import LONG_DOCUMENT
from tests.decks import DeckFolder, body, members, pack, run, shape, solid
from tests.documents import DocumentFolder, paragraph, text
from tests.web_pages import whole

ROOT = Path(__file__).resolve().parents[2]
PROGRAM = [sys.executable, "-c", "from high_pair.cli import program; program()"]
MARK = "HIGH_PAIR_TEST"
# Two seconds; a busy machine of two cores gets more.
SOON = 6.0
PALE = shape(body(run("Pale", inner=solid("AAAAAA"))))


def marked(mark: str) -> list[int]:
    """List the processes that were started, however indirectly, with a mark."""
    found = []
    for each in Path("/proc").iterdir():
        if each.name.isdigit():
            try:
                state = (each / "stat").read_text().rpartition(")")[2].split()[0]
                if state != "Z" and mark.encode() in (each / "environ").read_bytes():
                    found.append(int(each.name))
            except OSError:
                continue
    return found


class CommandTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.mark = f"{MARK}={uuid.uuid4().hex}"
        name, value = self.mark.split("=")
        self.environment = {**os.environ, name: value, "PYTHONPATH": str(ROOT)}

    def start(self, *words: str | bytes, **options: object) -> subprocess.Popen[bytes]:
        settings = {"stdout": subprocess.PIPE, "stderr": subprocess.PIPE, **options}
        return subprocess.Popen([*PROGRAM, *words], env=self.environment, **settings)

    def run_whole(self, *words: str | bytes, **options: object) -> tuple[int, bytes, bytes]:
        program = self.start(*words, **options)
        out, err = program.communicate(timeout=120)
        return program.returncode, out or b"", err or b""

    def write(self, data: bytes | str, name: str | bytes) -> Path:
        path = self.folder / os.fsdecode(name)
        path.write_bytes(data if isinstance(data, bytes) else data.encode())
        return path

    def pale(self, name: str | bytes = "pale.pptx") -> Path:
        return self.write(pack(members(PALE)), name)

    def wait_for(self, count: int, seconds: float = 150.0) -> None:
        """Wait until so many processes of the command are there."""
        end = time.monotonic() + seconds
        while len(marked(self.mark)) < count:
            self.assertLess(time.monotonic(), end)
            time.sleep(0.02)

    def assert_nothing_left(self) -> None:
        end = time.monotonic() + SOON
        while left := marked(self.mark):
            self.assertLess(time.monotonic(), end, f"{len(left)} processes are left")
            time.sleep(0.02)


class Signals(CommandTest):
    def test_a_pooled_review_leaves_nothing_behind(self) -> None:
        pages = paragraph('<w:r><w:br w:type="page"/></w:r>' + run_of(2000)) * (LONG_DOCUMENT + 10)
        folder = DocumentFolder()
        self.addCleanup(folder.close)
        path = folder.document(text("Pale") + pages)
        for number, status in (
            (signal.SIGINT, 130),
            (signal.SIGTERM, -signal.SIGTERM),
            (signal.SIGKILL, -signal.SIGKILL),
        ):
            with self.subTest(number.name):
                program = self.start("review", str(path), start_new_session=True)
                # The program, the server, its tracker, and two that measure.
                self.wait_for(5)
                os.killpg(program.pid, number) if number == signal.SIGINT else program.send_signal(
                    number
                )
                start = time.monotonic()
                out, err = program.communicate(timeout=30)
                self.assertLess(time.monotonic() - start, SOON, "its pipe is held")
                self.assertEqual((program.returncode, out), (status, b""))
                self.assertEqual(err, b"high-pair: Stopped.\n" if status == 130 else b"")
                self.assert_nothing_left()

    def test_the_engine_ends_too_while_a_script_loops(self) -> None:
        page = self.write(
            whole("<p>Words</p><script>setTimeout(()=>{for(;;){}},300)</script>"), "page.html"
        )
        program = self.start("review", str(page), "--limit", "60")
        self.wait_for(8)
        time.sleep(1.5)
        program.kill()
        program.communicate()
        self.assert_nothing_left()

    def test_ctrl_c_before_anything_is_loaded_says_one_line(self) -> None:
        path = self.pale()
        program = self.start("review", str(path), start_new_session=True)
        self.wait_for(3)
        os.killpg(program.pid, signal.SIGINT)
        out, err = program.communicate(timeout=30)
        self.assertEqual((program.returncode, out, err), (130, b"", b"high-pair: Stopped.\n"))
        self.assert_nothing_left()


def run_of(words: int) -> str:
    """Write a run of many words in pale grey."""
    return f'<w:r><w:rPr><w:color w:val="AAAAAA"/></w:rPr><w:t>{"word " * words}</w:t></w:r>'


class Outputs(CommandTest):
    def test_no_output_is_written_over_a_source_by_whatever_name(self) -> None:
        path = self.pale()
        whole_file = path.read_bytes()
        (self.folder / "soft.pptx").symlink_to(path)
        os.link(path, self.folder / "hard.pptx")
        for name in ("pale.pptx", "soft.pptx", "hard.pptx", "./pale.pptx"):
            for command in ("review", "remedy"):
                with self.subTest(f"{command} {name}"):
                    status, out, err = self.run_whole(
                        command, str(path), "-o", str(self.folder / name)
                    )
                    self.assertEqual((status, out), (2, b""))
                    self.assertIn(b"never written", err)
                    self.assertEqual(path.read_bytes(), whole_file)
        # Also where it is another of several files, and one can't be read.
        status, _, err = self.run_whole(
            "review", str(self.folder / "none.pptx"), str(path), "-o", str(path)
        )
        self.assertEqual(status, 2)
        self.assertEqual(path.read_bytes(), whole_file)

    def test_a_pages_style_sheet_is_a_source_too(self) -> None:
        sheet = self.write("p{color:#999}", "style.css")
        page = self.write(
            whole("<p>Words</p>", head="<link rel=stylesheet href=style.css>"), "page.html"
        )
        status, _, err = self.run_whole("remedy", str(page), "-o", str(sheet), "--no-states")
        self.assertEqual((status, sheet.read_text()), (2, "p{color:#999}"))
        self.assertIn(b"style.css", err)

    def test_a_link_is_followed_and_a_device_written_through(self) -> None:
        path = self.pale()
        target = self.write(b"old", "target.json")
        link = self.folder / "link.json"
        link.symlink_to(target)
        self.assertEqual(self.run_whole("review", str(path), "-o", str(link))[0], 1)
        self.assertTrue(link.is_symlink())
        self.assertIn(b"pale.pptx", target.read_bytes())
        self.assertEqual(self.run_whole("review", str(path), "-o", "/dev/null")[0], 1)
        status, _, err = self.run_whole("review", str(path), "-o", "/dev/full")
        self.assertEqual(status, 2)
        self.assertIn(b"full: it can't be written", err)
        self.assertTrue(Path("/dev/full").is_char_device())

    def test_what_a_killed_writer_left_goes_with_the_next(self) -> None:
        path = self.pale()
        left = self.write(b"half", ".out.json.high-pair-abc.part")
        other = self.write(b"half", ".other.json.high-pair-abc.part")
        self.run_whole("review", str(path), "-o", str(self.folder / "out.json"))
        self.assertFalse(left.exists())
        self.assertTrue(other.exists())

    def test_standard_output_that_is_closed_or_full_or_gone(self) -> None:
        path = self.pale()
        shell = " ".join(f"'{word}'" for word in [*PROGRAM, "review", str(path)])
        for end in (
            ">/dev/full",
            ">&-",
            "| true",
            ">&- 2>&-",
            "2>/dev/full",
            "</dev/null >/dev/full 2>&1",
        ):
            with self.subTest(end):
                done = subprocess.run(
                    ["bash", "-c", f"{shell} {end}"],
                    env=self.environment,
                    capture_output=True,
                    check=False,
                )
                self.assertNotIn(b"Traceback", done.stdout + done.stderr)
                self.assertNotIn(b"Exception", done.stdout + done.stderr)

    def test_names_that_are_no_text_and_plain_locales(self) -> None:
        path = self.pale(b"p\xff\xe9le.pptx")
        for locale in (
            {"LC_ALL": "C", "PYTHONUTF8": "0", "PYTHONCOERCECLOCALE": "0"},
            {"PYTHONIOENCODING": "ascii"},
        ):
            self.environment.update(locale)
            for form in ("table", "json"):
                with self.subTest(f"{locale} {form}"):
                    status, out, err = self.run_whole("review", os.fsencode(path), "--format", form)
                    self.assertEqual((status, err), (1, b""))
                    self.assertIn(b"le.pptx", out)
        # In the plainest locale of them all, what is written is UTF-8 all the same.
        target = self.folder / "report.json"
        words = ("review", os.fsencode(path), "--format", "json", "-o", str(target))
        self.assertEqual(self.run_whole(*words)[0], 1)
        target.read_bytes().decode("utf-8")

    def test_names_and_texts_of_files_do_nothing_to_a_terminal(self) -> None:
        evil = "\x1b[2Jx\nhigh-pair: all passes\u202e.pptx"
        words = shape(
            body(
                run("Pa&#10;le\u202e \u009b31m", inner=solid("AAAAAA")),
            )
        )
        path = self.write(pack(members(words)), evil)
        missing = f"{self.folder}/no{evil}"
        status, out, err = self.run_whole("review", str(path), missing)
        self.assertEqual(status, 2)
        for stream in (out, err):
            shown = stream.decode()
            self.assertNotIn("\x1b", shown)
            self.assertNotIn("\u202e", shown)
            self.assertNotIn("\u009b", shown)
            self.assertNotIn("\nhigh-pair: all passes", shown)
        self.assertIn(b"\\x1b", out)

    def test_a_folder_is_named(self) -> None:
        status, _, err = self.run_whole("review", ".", cwd=self.folder)
        self.assertEqual(status, 2)
        self.assertIn(f"{self.folder.resolve()}: it is a folder".encode(), err)

    def test_a_named_pipe_is_refused_at_once(self) -> None:
        os.mkfifo(self.folder / "pipe.pptx")
        start = time.monotonic()
        status, _, err = self.run_whole("review", str(self.folder / "pipe.pptx"))
        self.assertLess(time.monotonic() - start, 20)
        self.assertEqual(status, 2)
        self.assertIn(b"pipe.pptx: it is a pipe", err)


class KilledWhileSaving(CommandTest):
    """A save that is killed leaves the source whole, and the target old or new."""

    KILLS = int(os.environ.get("HIGH_PAIR_KILLS", "6"))

    def test_the_target_is_old_or_new(self) -> None:
        folder = DeckFolder()
        self.addCleanup(folder.close)
        source = self.pale()
        before = source.read_bytes()
        target = self.folder / "mended.pptx"
        start = time.monotonic()
        self.assertEqual(self.run_whole("remedy", str(source), "-o", str(target))[0], 0)
        whole_time = time.monotonic() - start
        new = target.read_bytes()
        old = b"old"
        seen = set()
        for number in range(self.KILLS):
            target.write_bytes(old)
            program = self.start("remedy", str(source), "-o", str(target))
            # More of them near the end, where it is written and renamed.
            time.sleep(whole_time * (0.55 + 0.5 * number / self.KILLS))
            program.kill()
            program.communicate()
            self.assert_nothing_left()
            self.assertEqual(source.read_bytes(), before)
            found = target.read_bytes()
            self.assertIn(found, (old, new))
            seen.add(found)
        self.run_whole("remedy", str(source), "-o", str(target))
        self.assertEqual([each.name for each in self.folder.glob(".*part")], [])
        self.assertEqual(target.read_bytes(), new)


if __name__ == "__main__":
    unittest.main()
