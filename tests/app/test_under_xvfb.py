"""The real window on a real display: X11, under Xvfb."""

import os
import shutil
import subprocess
import sys
import tempfile
import textwrap
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent.parent
SECONDS = 120

SCRIPT = """
    import sys, time
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication
    from pathlib import Path
    from high_pair.app.settings import Settings
    from high_pair.app.start import make_application
    from high_pair.app.window import DEMO, Window
    from high_pair.wcag.verdicts import Verdict

    settings = Settings(Path(sys.argv[1]) / "window.ini")
    application = make_application(settings)
    assert application.platformName() == "xcb", application.platformName()
    window = Window(settings)
    window.show()
    assert QTest.qWaitForWindowExposed(window, 10000)
    window.open_paths([DEMO])
    worker = window.controller.worker

    def rest():
        end = time.monotonic() + 60
        while worker.busy:
            assert time.monotonic() < end, "the worker does not come to rest"
            QTest.qWait(20)
        QTest.qWait(50)

    rest()
    session = window.controller.session
    before = session.counts()[Verdict.FALLS_SHORT]
    window.activateWindow()
    window.desk.list.setFocus()
    for key in (Qt.Key.Key_N, Qt.Key.Key_N, Qt.Key.Key_N):
        QTest.keyClick(window.desk.list, key)
        rest()
    QTest.keyClick(window.desk.list, Qt.Key.Key_1)
    rest()
    window.desk.apply()
    rest()
    after = session.counts()[Verdict.FALLS_SHORT]
    assert after == before - 1, (before, after)
    screen = window.screen().grabWindow(window.winId()).toImage()
    colours = {screen.pixelColor(x, 300).name() for x in range(0, screen.width(), 7)}
    assert len(colours) > 10, "nothing is painted"
    session.history = type(session.history)()
    window.close()
    print("done")
"""


class UnderXvfb(unittest.TestCase):
    def test_the_window_opens_measures_and_mends_on_x11(self):
        launcher = shutil.which("xvfb-run")
        self.assertIsNotNone(launcher, "scripts/set-up installs xvfb")
        with tempfile.TemporaryDirectory() as folder:
            script = Path(folder) / "drive.py"
            script.write_text(textwrap.dedent(SCRIPT))
            environment = {**os.environ, "QT_QPA_PLATFORM": "xcb", "PYTHONPATH": str(ROOT)}
            done = subprocess.run(
                [
                    launcher,
                    "-a",
                    "-s",
                    "-screen 0 1280x800x24",
                    sys.executable,
                    str(script),
                    folder,
                ],
                capture_output=True,
                text=True,
                env=environment,
                timeout=SECONDS,
                check=False,
            )
        self.assertEqual((done.returncode, done.stdout.strip()), (0, "done"), done.stderr)


if __name__ == "__main__":
    unittest.main()
