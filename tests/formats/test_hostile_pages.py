"""Pages that don't end, lead on, grow, or reach out: each ends in a clear error or a part said so."""

from __future__ import annotations

import http.server
import socket
import struct
import threading
import time
import unittest
import zlib

from high_pair.errors import UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.location import Location, location_of
from high_pair.formats.web.settings import WebSettings
from high_pair.formats.web.web_file import WebFile
from high_pair.wcag.verdicts import Verdict
from tests.web_pages import PageFolder, pairs_of, text_pairs, whole

SHORT = WebSettings(states=False, limit=3.0)
# What a page may take beside its limit, and once more without its scripts.
ENDS = 150.0


class Server:
    """Serves a few answers on this machine, and counts who asks."""

    def __init__(self) -> None:
        server = self

        class Handler(http.server.BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                server.asked.append(self.path)
                if self.path == "/round":
                    self.send_response(302)
                    self.send_header("Location", "/round")
                    self.end_headers()
                elif self.path == "/keep":
                    self.answer(200, b"\0" * 64, "application/octet-stream")
                elif self.path == "/never":
                    server.closed.wait()
                elif self.path == "/slow":
                    self.answer(
                        200, whole("<p>Words<script src=/never></script>").encode(), "text/html"
                    )
                elif self.path == "/stream":
                    script = "<script>fetch('/never')</script>"
                    self.answer(200, whole(f"<p>Words{script}").encode(), "text/html")
                elif self.path == "/page":
                    self.answer(
                        200, whole("<p>Served words", "p{color:#999}").encode(), "text/html"
                    )
                else:
                    self.answer(404, whole("<p>Nothing here").encode(), "text/html")

            def answer(self, code: int, data: bytes, kind: str) -> None:
                self.send_response(code)
                self.send_header("Content-Type", kind)
                self.send_header("Content-Length", str(len(data)))
                self.end_headers()
                try:
                    self.wfile.write(data)
                except OSError:
                    pass

            def log_message(self, *_told: object) -> None:
                pass

        class Counting(http.server.ThreadingHTTPServer):
            def get_request(self) -> tuple[socket.socket, object]:
                server.connections += 1
                return super().get_request()

        self.closed = threading.Event()
        self.asked: list[str] = []
        self.connections = 0
        self.server = Counting(("127.0.0.1", 0), Handler)
        self.server.daemon_threads = True
        self.address = f"http://127.0.0.1:{self.server.server_address[1]}"
        self.thread = threading.Thread(target=self.server.serve_forever, daemon=True)
        self.thread.start()

    def close(self) -> None:
        self.closed.set()
        self.server.shutdown()
        self.server.server_close()
        self.thread.join()


class HostilePages(PageFolder):
    """Whatever a page does, its review ends in time."""

    def setUp(self) -> None:
        self._start = time.monotonic()

    def tearDown(self) -> None:
        self.assertLess(time.monotonic() - self._start, ENDS)

    def test_a_script_without_end_is_left_out_and_that_is_said(self) -> None:
        file = self.page(whole("<p>Words</p><script>for(;;){}</script>", "p{color:#999}"), SHORT)
        self.assertIn("without end", " ".join(file.assumed()))
        self.assertEqual(text_pairs(pairs_of(file), "Words")[0].verdict, Verdict.FALLS_SHORT)

    def test_so_is_one_that_begins_later(self) -> None:
        late = "<p>Words</p><script>setTimeout(()=>{for(;;){}},100)</script>"
        file = self.page(whole(late, "p{color:#999}"), SHORT)
        self.assertIn("without end", " ".join(file.assumed()))
        self.assertTrue(text_pairs(pairs_of(file), "Words"))

    def test_dialogs_hold_nothing_up(self) -> None:
        script = "alert(1);confirm(2);prompt(3);print();window.open('about:blank')"
        file = self.page(whole(f"<p>Words</p><script>{script}</script>"), SHORT)
        self.assertEqual(text_pairs(pairs_of(file), "Words")[0].verdict, Verdict.PASSES)

    def test_alerts_in_a_loop_are_a_script_without_end(self) -> None:
        file = self.page(whole("<p>Words</p><script>for(;;)alert(1)</script>"), SHORT)
        self.assertIn("without end", " ".join(file.assumed()))
        self.assertTrue(text_pairs(pairs_of(file), "Words"))

    def test_a_page_that_reloads_itself_is_measured(self) -> None:
        head = '<meta http-equiv="refresh" content="0">'
        file = self.page(whole("<p>Words</p>", head=head), SHORT)
        self.assertTrue(text_pairs(pairs_of(file), "Words"))

    def test_the_engines_words_for_what_cannot_be_loaded_are_never_taken_for_the_page(self) -> None:
        later = "<p>Words</p><script>setTimeout(()=>{location='gone.html'},50)</script>"
        with self.assertRaises(UnreadableFile) as caught:
            self.page(whole(later), SHORT)
        self.assertIn("can't be loaded", str(caught.exception))

    def test_a_page_that_takes_its_own_content_away_is_an_error(self) -> None:
        gone = "<p>Words</p><script>onload=()=>document.documentElement.remove()</script>"
        with self.assertRaises(UnreadableFile) as caught:
            self.page(whole(gone), SHORT)
        self.assertIn("taken away", str(caught.exception))

    def test_a_clock_and_endless_animations_hold_nothing_up(self) -> None:
        body = (
            "<p>Words</p><b></b><i></i><script>setInterval(()=>{document.querySelector('b')"
            ".textContent=Date.now()},40)</script>"
        )
        style = "@keyframes a{to{transform:rotate(1turn)}}i{display:block;width:9px;animation:a 1s infinite}"
        start = time.monotonic()
        file = self.page(whole(body, style), WebSettings(states=False, limit=90))
        self.assertLess(time.monotonic() - start, 60)
        self.assertTrue(text_pairs(pairs_of(file), "Words"))

    def test_a_page_of_fifty_thousand_pixels_is_measured_to_its_end(self) -> None:
        words = " ".join(["word"] * 40)
        body = (
            "<p>Top</p><div style=height:25000px></div><p>Middle</p><div style=height:15000px></div>"
            f"<p>End</p><p>Pale <b>on dark</b> {words}</p><div style=height:8000px></div>"
            "<section><p class=b>Blended</p></section><p>Last</p>"
        )
        style = (
            "p{color:#999}b{background:#222;padding:4px}section{background:#369;padding:9px}"
            ".b{color:#fff;mix-blend-mode:overlay}"
        )
        file = self.page(whole(body, style), SHORT)
        pairs = pairs_of(file)
        for text in ("Top", "Middle", "End", "Last"):
            (pair,) = text_pairs(pairs, text)
            self.assertEqual(pair.verdict, Verdict.FALLS_SHORT, (text, pair.reason))
            self.assertEqual(pair.numbers.background, "#FFFFFF")
        (dark,) = text_pairs(pairs, "on dark")
        self.assertEqual((dark.verdict, dark.numbers.background), (Verdict.PASSES, "#222222"))
        # Overlay of white on (0.2, 0.4, 0.6): 2·0.2, 2·0.4, and white.
        (blended,) = text_pairs(pairs, "Blended")
        self.assertEqual(blended.numbers.foreground[:5], "#66CC")
        places = [text_pairs(pairs, text)[0].bbox[1] for text in ("Middle", "End", "Last")]
        self.assertGreater(places[1] - places[0], 15_000 * 0.75)
        self.assertGreater(places[2] - places[1], 8_000 * 0.75)
        self.assertIn("pixels high", " ".join(file.assumed()))

    def test_a_page_of_very_many_nodes_ends(self) -> None:
        body = "<script>const p=[];for(let i=0;i<300000;i++)p.push('<p>w</p>');document.body.innerHTML=p.join('')</script>"
        try:
            file = self.page(whole(body), WebSettings(states=False, limit=10))
        except UnreadableFile as error:
            self.assertIn("page.html", str(error))
        else:
            self.assertTrue(file.assumed())

    def test_a_giant_picture_ends(self) -> None:
        raw = zlib.compress(b"\0" * (30000 * 3 + 1) * 3000, 9)
        header = struct.pack(">IIBBBBB", 30000, 30000, 8, 2, 0, 0, 0)
        data = b"\x89PNG\r\n\x1a\n"
        for kind, part in ((b"IHDR", header), (b"IDAT", raw), (b"IEND", b"")):
            data += struct.pack(">I", len(part)) + kind + part
            data += struct.pack(">I", zlib.crc32(kind + part))
        file = self.page(
            whole("<img src=bomb.png width=300 height=200><p>Words</p>"), SHORT, {"bomb.png": data}
        )
        self.assertTrue(text_pairs(pairs_of(file), "Words"))

    def test_a_script_that_eats_memory_ends(self) -> None:
        script = "const a=[];for(;;)a.push(new Array(1e6).fill(Math.random()))"
        try:
            file = self.page(whole(f"<p>Words</p><script>{script}</script>"), SHORT)
        except UnreadableFile as error:
            self.assertIn("memory", str(error))
        else:
            self.assertTrue(text_pairs(pairs_of(file), "Words"))

    def test_after_each_of_them_the_engine_goes_on(self) -> None:
        with self.assertRaises(UnreadableFile):
            WebFile(location_of("http://127.0.0.1:9/"), SHORT)
        self.assertTrue(text_pairs(self.pairs(whole("<p>Words</p>")), "Words"))

    def test_broken_markup_is_read_as_browsers_do(self) -> None:
        pairs = self.pairs("<p>Words<table><tr><td>Cell</b></i><div></p>")
        self.assertTrue(text_pairs(pairs, "Words"))

    def test_an_empty_file_is_a_page_without_text(self) -> None:
        self.assertEqual(self.pairs("", name="empty.html"), [])

    def test_a_page_that_patches_the_language_is_measured(self) -> None:
        script = (
            "Array.prototype.push=()=>{throw 1};JSON.stringify=()=>'';"
            "Document.prototype.querySelectorAll=()=>[];window.getComputedStyle=()=>({})"
        )
        file = self.page(whole(f"<script>{script}</script><p>Words</p>", "p{color:#999}"), SHORT)
        self.assertEqual(text_pairs(pairs_of(file), "Words")[0].verdict, Verdict.FALLS_SHORT)


class ReachingOut(PageFolder):
    """What a page may fetch depends on where it comes from."""

    def setUp(self) -> None:
        self.server = Server()
        self.addCleanup(self.server.close)

    def address(self, path: str) -> Location:
        return location_of(self.server.address + path)

    def test_a_file_asks_nobody_and_says_what_it_left_out(self) -> None:
        at = self.server.address
        body = (
            f"<p>Words</p><img src={at}/a.png><script src={at}/b.js></script>"
            f"<iframe src={at}/c></iframe><script>fetch('{at}/d');new WebSocket('ws'+'{at}/e'.slice(4));"
            f"navigator.sendBeacon('{at}/f')</script>"
        )
        style = f"@import '{at}/g.css';p{{background:url({at}/h.png)}}@font-face{{font-family:x;src:url({at}/i)}}p{{font-family:x}}"
        head = f"<link rel=preconnect href={at}><link rel=prefetch href={at}/j><link rel=dns-prefetch href={at}>"
        file = self.page(whole(body, style, head), SHORT)
        self.assertTrue(text_pairs(pairs_of(file), "Words"))
        self.assertEqual((self.server.asked, self.server.connections), ([], 0))
        said = " ".join(file.assumed())
        self.assertIn("left out", said)
        self.assertIn(at, said)

    def test_a_file_that_leads_on_to_an_address_doesnt_get_there(self) -> None:
        script = f"location.href='{self.server.address}/page'"
        file = self.page(whole(f"<p>Words</p><script>{script}</script>"), SHORT)
        self.assertTrue(text_pairs(pairs_of(file), "Words"))
        self.assertEqual((self.server.asked, self.server.connections), ([], 0))

    def test_one_whose_first_script_leads_away_is_measured_as_it_stands(self) -> None:
        # The engine paints nothing of a page while it waits for the next one.
        head = f"<script>location.href='{self.server.address}/page'</script>"
        file = self.page(whole("<p>Words</p>", "p{color:#777}", head), SHORT)
        (pair,) = text_pairs(pairs_of(file), "Words")
        assert pair.numbers is not None
        self.assertEqual(pair.numbers.foreground, "#777777")
        self.assertIn("leads elsewhere", " ".join(file.assumed()))
        self.assertEqual((self.server.asked, self.server.connections), ([], 0))

    def test_an_address_is_opened(self) -> None:
        file = open_document(self.address("/page"), SHORT)
        self.addCleanup(file.close)
        self.assertEqual(file.name, "page")
        self.assertEqual(text_pairs(pairs_of(file), "Served words")[0].verdict, Verdict.FALLS_SHORT)

    def test_redirects_without_end_are_an_error(self) -> None:
        with self.assertRaisesRegex(UnreadableFile, "can't be loaded"):
            open_document(self.address("/round"), SHORT)

    def test_what_is_to_be_kept_is_no_page(self) -> None:
        with self.assertRaisesRegex(UnreadableFile, "file to keep"):
            open_document(self.address("/keep"), SHORT)

    def test_nobody_there_is_an_error_that_says_what_to_do(self) -> None:
        with self.assertRaisesRegex(UnreadableFile, "Check the address"):
            open_document(location_of("http://127.0.0.1:9/"), SHORT)

    def test_an_error_of_the_server_is_said(self) -> None:
        file = open_document(self.address("/missing"), SHORT)
        self.addCleanup(file.close)
        self.assertIn("404", " ".join(file.assumed()))

    def test_what_loads_too_long_is_taken_at_the_limit(self) -> None:
        for path, words in (("/slow", "still loading after 3 s"), ("/stream", "come to rest")):
            with self.subTest(path):
                file = open_document(self.address(path), SHORT)
                self.addCleanup(file.close)
                (said,) = [each for each in file.assumed() if "taken as it was" in each]
                self.assertIn(words, said)
                self.assertTrue(text_pairs(pairs_of(file), "Words"))

    def test_a_page_has_its_limit_once(self) -> None:
        # Taking it takes a second or two, here as much again on a machine that is busy.
        limit = 8.0
        start = time.monotonic()
        file = open_document(self.address("/slow"), WebSettings(states=False, limit=limit))
        self.addCleanup(file.close)
        self.assertLess(time.monotonic() - start, 2 * limit)

    def test_a_server_that_never_answers_is_an_error_that_says_so(self) -> None:
        with self.assertRaisesRegex(UnreadableFile, "no answer after 3 s"):
            open_document(self.address("/never"), SHORT)


if __name__ == "__main__":
    unittest.main()
