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
    from high_pair.app.demo import DEMO
    from high_pair.app.window import Window
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
        end = time.monotonic() + 100
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
    # One remedy may serve several texts.
    assert after < before, (before, after)
    screen = window.screen().grabWindow(window.winId()).toImage()
    colours = {screen.pixelColor(x, 300).name() for x in range(0, screen.width(), 7)}
    assert len(colours) > 10, "nothing is painted"
    session.history = type(session.history)()
    window.close()
    print("done")
"""

# Another program's window of two known colours, side by side, and ours, which picks from them.
SCREEN_SCRIPT = """
    import sys
    from pathlib import Path
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QHBoxLayout, QWidget
    from high_pair.app.bench.state import Side
    from high_pair.app.settings import Settings
    from high_pair.app.start import make_application
    from high_pair.app.window import Window

    application = make_application(Settings(Path(sys.argv[1]) / "window.ini"))
    assert application.platformName() == "xcb", application.platformName()
    other = QWidget(None, Qt.WindowType.FramelessWindowHint)
    row = QHBoxLayout(other)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(0)
    for code in ("#884400", "#DDEEFF"):
        half = QWidget()
        half.setStyleSheet(f"background: {code}")
        row.addWidget(half)
    other.setGeometry(0, 0, 800, 600)
    other.show()
    window = Window(Settings(Path(sys.argv[1]) / "window.ini"))
    window.show()
    assert QTest.qWaitForWindowExposed(window, 10000)
    window.guide.pick([Side.FOREGROUND, Side.BACKDROP])
    view = window.bench.picking
    QTest.keyClick(view.screen_button, Qt.Key.Key_Space)
    for _ in range(200):
        QTest.qWait(20)
        if view.source is not None and window.isVisible():
            break
    assert view.source is not None and view.source.words == "the screen"
    canvas = view.canvas

    def walk(wanted):
        while abs(canvas.at.x() - wanted) >= 10:
            way = Qt.Key.Key_Left if canvas.at.x() > wanted else Qt.Key.Key_Right
            QTest.keyClick(canvas, way, Qt.KeyboardModifier.ShiftModifier)

    walk(200)
    while canvas.at.y() > 300:
        QTest.keyClick(canvas, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(canvas, Qt.Key.Key_Return)
    walk(600)
    QTest.keyClick(canvas, Qt.Key.Key_Return)
    pair = window.bench.state.pair
    found = [bytes(each.levels).hex().upper() for each in (pair.foreground, pair.backdrop)]
    assert found == ["884400", "DDEEFF"], found
    window.close()
    other.close()
    print("done")
"""


class UnderXvfb(unittest.TestCase):
    def test_the_window_opens_measures_and_mends_on_x11(self):
        self.drive(SCRIPT)

    def test_colours_are_picked_from_another_programs_window(self):
        self.drive(SCREEN_SCRIPT)

    def drive(self, text: str) -> None:
        launcher = shutil.which("xvfb-run")
        self.assertIsNotNone(launcher, "scripts/set-up installs xvfb")
        with tempfile.TemporaryDirectory() as folder:
            script = Path(folder) / "drive.py"
            # Guarded: the processes in which files are read load the script too.
            guard = 'if __name__ == "__main__":\n'
            script.write_text(guard + textwrap.indent(textwrap.dedent(text), "    "))
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
