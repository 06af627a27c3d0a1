"""A page of our own printed to a PDF by the browser engine."""

from __future__ import annotations

import tempfile
from pathlib import Path

from high_pair.engine.protocol import Wanted
from high_pair.errors import UnwritableFile
from high_pair.formats.web.engine_process import EngineProblem, shared_engine

# In CSS pixels; the paper's own width counts when it is printed.
WIDTH, HEIGHT = 794, 1123
# A report with hundreds of pictures takes longer to load than a page.
SECONDS = 120.0


def printed(page: str) -> bytes:
    """Print HTML that needs nothing from outside to a PDF. Raises UnwritableFile."""
    engine = shared_engine("files")
    engine.begin()
    with tempfile.TemporaryDirectory(prefix="high-pair-") as folder:
        path = Path(folder).resolve() / "report.html"
        path.write_text(page, encoding="utf-8")
        visit = f"print-{id(path)}"
        wanted = Wanted(
            visit, path.as_uri(), WIDTH, HEIGHT, False, 1.0, SECONDS, False, (str(path.parent),)
        )
        try:
            return engine.printed(wanted)
        except EngineProblem as problem:
            raise UnwritableFile("the report as PDF", f"{problem}.") from problem
        finally:
            engine.leave(visit)
