"""What a stranger's page can reach: its own folder, nobody else's files, and no other machine."""

from __future__ import annotations

import http.server
import os
import re
import socket
import subprocess
import sys
import threading
import unittest
from pathlib import Path

from high_pair.formats import open_document
from high_pair.formats.location import location_of
from high_pair.formats.web.engine_process import FILES, shared_engine
from high_pair.formats.web.settings import WebSettings
from tests.web_pages import PageFolder, pairs_of, text_pairs, whole

QUICK = WebSettings(states=False)
TELL = (
    "const tell=t=>{const p=document.createElement('p');p.textContent=t;document.body.append(p)};"
)


def asking(*names: str) -> str:
    """Give a page that asks for files in every way a script has, and shows what it gets."""
    script = TELL + "".join(
        f"fetch('{name}').then(r=>r.text()).then(tell,()=>0);"
        f"{{const x=new XMLHttpRequest();x.open('GET','{name}');x.onload=()=>tell(x.responseText);"
        "try{x.send()}catch(e){}}"
        for name in names
    )
    frames = "".join(
        f"<iframe src='{name}'></iframe><object data='{name}'></object>" for name in names
    )
    return whole(f"<p>Words</p>{frames}<script>{script}</script>")


class LocalPages(PageFolder):
    """A page that is a file loads what lies in its folder, and nothing else."""

    top: Path

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.top = cls.folder
        (cls.top / "secret").mkdir()
        (cls.top / "secret/kept.txt").write_text("SECRET")
        (cls.top / "parent.css").write_text("p{color:#999}")
        cls.folder = cls.top / "site"
        (cls.folder / "sub").mkdir(parents=True)
        (cls.folder / "own.txt").write_text("OWN")
        (cls.folder / "sub/below.txt").write_text("BELOW")
        (cls.folder / "link.txt").symlink_to(cls.top / "secret/kept.txt")
        (cls.folder / "leads-out").symlink_to(cls.top / "secret")

    def shown(self, html: str, name: str = "page.html", settings: WebSettings = QUICK) -> str:
        file = self.page(html, settings, name=name)
        return " ".join(pair.text for pair in pairs_of(file))

    def test_it_reads_what_lies_in_its_folder_and_below(self) -> None:
        shown = self.shown(asking("own.txt", "sub/below.txt", "./sub/../own.txt"))
        self.assertIn("OWN", shown)
        self.assertIn("BELOW", shown)

    def test_it_reads_nothing_else_by_any_way(self) -> None:
        out = self.top / "secret/kept.txt"
        shown = self.shown(
            asking(
                f"file://{out}", "../secret/kept.txt", "%2e%2e/secret/kept.txt", "link.txt",
                "leads-out/kept.txt", "sub/../../secret/kept.txt", f"file://localhost{out}",
                f"view-source:file://{out}", f"filesystem:file://{out}",
            )
        )  # fmt: skip
        self.assertIn("Words", shown)
        self.assertNotIn("SECRET", shown)

    def test_it_lists_no_folder_not_even_its_own(self) -> None:
        shown = self.shown(asking("./", "sub/", "../", "/"))
        self.assertNotRegex(shown, r"own\.txt|below\.txt|Index of")

    def test_an_entity_of_its_own_may_bring_in_a_file_beside_it_and_no_other(self) -> None:
        def entity(file: str) -> str:
            return (
                f'<?xml version="1.0"?><!DOCTYPE html [<!ENTITY e SYSTEM "{file}">]>'
                '<html xmlns="http://www.w3.org/1999/xhtml"><body><p>x&e;y</p></body></html>'
            )

        for file in ("../secret/kept.txt", f"file://{self.top}/secret/kept.txt", "link.txt"):
            with self.subTest(file):
                self.assertNotIn("SECRET", self.shown(entity(file), "page.xhtml"))

    def test_a_drawings_scripts_read_no_more(self) -> None:
        drawing = (
            '<svg xmlns="http://www.w3.org/2000/svg" width="400" height="100">'
            '<text id="t" x="5" y="40">Words</text><script>'
            "for (const n of ['../secret/kept.txt','link.txt','/etc/passwd','own.txt'])"
            "fetch(n).then(r=>r.text()).then(t=>{document.getElementById('t').textContent+=t})"
            "</script></svg>"
        )
        shown = self.shown(drawing, "drawing.svg")
        self.assertIn("Words", shown)
        self.assertNotIn("SECRET", shown)
        self.assertNotIn("root:", shown)

    def test_what_lies_elsewhere_is_named_and_can_be_allowed(self) -> None:
        html = whole("<p>Words</p>", head="<link rel=stylesheet href=../parent.css>")
        file = self.page(html, QUICK)
        self.assertIn("../parent.css", " ".join(file.assumed()))
        self.assertEqual(text_pairs(pairs_of(file), "Words")[0].numbers.foreground, "#000000")
        allowed = self.page(html, WebSettings(states=False, folders=(str(self.top),)))
        self.assertEqual(text_pairs(pairs_of(allowed), "Words")[0].numbers.foreground, "#999999")
        self.assertNotIn("parent.css", " ".join(allowed.assumed()))

    def test_a_pipe_in_its_folder_holds_nobody_up(self) -> None:
        os.mkfifo(self.folder / "pipe.txt")
        self.assertIn("Words", self.shown(asking("pipe.txt")))


class NoNetwork(PageFolder):
    """What asks no request guard is taken away by the kernel, and from every page."""

    def setUp(self) -> None:
        self.heard = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        self.addCleanup(self.heard.close)
        self.heard.bind(("127.0.0.1", 0))
        self.heard.settimeout(0.5)
        at = f"127.0.0.1:{self.heard.getsockname()[1]}"
        self.body = whole(
            "<p>Words</p><iframe></iframe><iframe srcdoc='<p>x'></iframe><script>"
            + TELL
            + "for(const w of [window,...[...document.querySelectorAll('iframe')].map(f=>f.contentWindow)])"
            "try{const c=new w.RTCPeerConnection({iceServers:[{urls:'stun:" + at + "'}]});"
            "c.createDataChannel('x');c.createOffer().then(o=>c.setLocalDescription(o));"
            "tell('CONNECTS')}catch(e){tell('REFUSED')}"
            "try{new WebTransport('https://" + at + "/')}catch(e){}</script>"
        )

    def assert_silent(self) -> None:
        with self.assertRaises(TimeoutError):
            self.heard.recv(2000)

    def test_a_file_sends_no_datagram(self) -> None:
        file = self.page(self.body)
        shown = [pair.text for pair in pairs_of(file)]
        self.assertIn("REFUSED", shown)
        self.assertNotIn("CONNECTS", shown)
        self.assert_silent()

    def test_nor_does_a_served_page(self) -> None:
        body = self.body.encode()

        class Handler(http.server.BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                self.send_response(200)
                self.send_header("Content-Type", "text/html")
                self.end_headers()
                self.wfile.write(body)

            def log_message(self, *_told: object) -> None:
                pass

        with http.server.ThreadingHTTPServer(("127.0.0.1", 0), Handler) as server:
            threading.Thread(target=server.serve_forever, daemon=True).start()
            self.addCleanup(server.shutdown)
            file = open_document(
                location_of(f"http://127.0.0.1:{server.server_address[1]}/"), QUICK
            )
            self.addCleanup(file.close)
            shown = [pair.text for pair in pairs_of(file)]
            self.assertIn("REFUSED", shown)
            self.assertNotIn("CONNECTS", shown)
            self.assert_silent()
            server.shutdown()

    def test_nobody_can_speak_to_the_engine_once_a_page_is_loaded(self) -> None:
        process = shared_engine(FILES).group
        inodes = set()
        for each in Path(f"/proc/{process}/fd").iterdir():
            inodes |= set(re.findall(r"socket:\[(\d+)\]", str(each.readlink())))
        # proc(5): state 0A is LISTEN; the tenth field is the inode.
        lines = [line.split() for line in Path("/proc/net/tcp").read_text().splitlines()[1:]]
        self.assertTrue(inodes)
        self.assertTrue(any(line[9] in inodes for line in lines), "its own connection is seen")
        self.assertFalse([line for line in lines if line[3] == "0A" and line[9] in inodes])

    def test_a_process_without_network_makes_local_sockets_alone(self) -> None:
        script = (
            "import socket, subprocess, sys, threading\n"
            "from high_pair.engine.no_network import take_network_away\n"
            "go = threading.Event(); seen = []\n"
            "def make(kind, form):\n"
            "    try: socket.socket(kind, form).close(); return 'made'\n"
            "    except PermissionError: return 'refused'\n"
            "def late(): go.wait(); seen.append(make(socket.AF_INET, socket.SOCK_STREAM))\n"
            "thread = threading.Thread(target=late); thread.start()\n"
            "assert take_network_away()\n"
            "go.set(); thread.join()\n"
            "print(make(socket.AF_INET, socket.SOCK_STREAM), make(socket.AF_INET, socket.SOCK_DGRAM),"
            " make(socket.AF_INET6, socket.SOCK_DGRAM), make(socket.AF_UNIX, socket.SOCK_STREAM), *seen)\n"
            "child = 'import socket; socket.socket()'\n"
            "print(subprocess.run([sys.executable, '-c', child], capture_output=True).returncode)\n"
        )
        done = subprocess.run(
            [sys.executable, "-c", script], capture_output=True, text=True, check=True
        )
        self.assertEqual(
            done.stdout.split(), ["refused", "refused", "refused", "made", "refused", "1"]
        )


if __name__ == "__main__":
    unittest.main()
