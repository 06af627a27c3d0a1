"""Print what reviewing long documents and large sheets takes, against their floors, in this run.

    python -m benchmarks.office [PAGES] [CELLS]

The floor of a document is parsing its text's XML and walking it; that of a
workbook is what another library takes to load it for reading and to ask each
cell for its font and fill. Each run has a process of its own, whose peak
memory is printed.
"""

from __future__ import annotations

import random
import subprocess
import sys
import tempfile
from pathlib import Path

from docx import Document
from docx.shared import RGBColor
from openpyxl import Workbook
from openpyxl.styles import Font, PatternFill

SEED = 20_260_403
WORDS = ("ferry", "quay", "harbour", "fog", "sailing", "timetable", "crossing", "ramp", "deck")
COLUMNS = 50
REVIEW = """
import resource, sys, time
from pathlib import Path
from high_pair.formats import open_document
from high_pair.wcag.asked import Asked
from high_pair.review.measuring import review_pages
start = time.perf_counter()
document = open_document(Path(sys.argv[1]))
opened = time.perf_counter() - start
pairs = sum(len(page.pairs) for page in review_pages(document, Asked()))
print(time.perf_counter() - start, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
print(f"opened in {opened:.2f} s, {len(document.pages)} pages, {pairs} pairs", file=sys.stderr)
"""
WALK = """
import resource, sys, time, zipfile
from lxml import etree
start = time.perf_counter()
root = etree.fromstring(zipfile.ZipFile(sys.argv[1]).read("word/document.xml"))
for element in root.iter():
    element.tag, element.text, element.attrib.items()
print(time.perf_counter() - start, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""
TOUCH = """
import resource, sys, time
import openpyxl
start = time.perf_counter()
for sheet in openpyxl.load_workbook(sys.argv[1], read_only=True):
    for row in sheet.iter_rows():
        for cell in row:
            cell.value, cell.font, cell.fill
print(time.perf_counter() - start, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""


def make_document(path: Path, pages: int) -> None:
    """Write a document of about so many pages."""
    chance = random.Random(SEED)
    document = Document()
    for part in range(pages):
        document.add_heading(f"Part {part + 1}", 1)
        for _ in range(9):
            paragraph = document.add_paragraph()
            for count in range(4):
                run = paragraph.add_run(" ".join(chance.choices(WORDS, k=14)) + " ")
                if count == 2:
                    run.font.color.rgb = RGBColor(0x99, 0x99, 0x99)
    document.save(str(path))


def make_workbook(path: Path, cells: int) -> None:
    """Write a workbook of about so many cells with twelve looks."""
    fonts = [Font(color=code) for code in ("FF999999", "FF000000", "FF336699", "FFCC0000")]
    fills = [PatternFill(), PatternFill("solid", fgColor="FFEEEEEE"),
             PatternFill("solid", fgColor="FF203040")]  # fmt: skip
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    for row in range(1, cells // COLUMNS + 1):
        for column in range(1, COLUMNS + 1):
            value = row * column if column % 3 else f"t{row}.{column}"
            cell = sheet.cell(row, column, value)
            cell.font, cell.fill = fonts[column % 4], fills[column // 4 % 3]
    book.save(path)


def timed(script: str, path: Path) -> tuple[float, float]:
    """Run a script on a file; gives its seconds and its peak memory in MB."""
    done = subprocess.run([sys.executable, "-c", script, str(path)], check=True,
                          stdout=subprocess.PIPE, text=True)  # fmt: skip
    seconds, memory = done.stdout.split()
    return float(seconds), float(memory)


def main(pages: int, cells: int) -> None:
    """Measure both."""
    with tempfile.TemporaryDirectory() as folder:
        document, book = Path(folder) / "long.docx", Path(folder) / "large.xlsx"
        make_document(document, pages)
        make_workbook(book, cells)
        for what, path, floor, target in (
            (f"document of about {pages} pages", document, WALK, 2.0),
            (f"workbook of {cells:,} cells", book, TOUCH, 1.5),
        ):
            least, _ = timed(floor, path)
            seconds, memory = timed(REVIEW, path)
            print(
                f"{what}: {seconds:.2f} s, {seconds / least:.2f} times {least:.2f} s "
                f"(target {target:g}), peak {memory:.0f} MB"
            )


if __name__ == "__main__":
    main(
        int(sys.argv[1]) if len(sys.argv) > 1 else 300,
        int(sys.argv[2]) if len(sys.argv) > 2 else 100_000,
    )
