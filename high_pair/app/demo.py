"""The demo's files, and how they are told from the user's own."""

from __future__ import annotations

from pathlib import Path

from high_pair.formats.location import Location, WebAddress
from high_pair.simulated.site import LOOPBACK

_FOLDER = Path(__file__).resolve().parent.parent / "data" / "demo"
DEMO = _FOLDER / "safety-briefing.pptx"
# What the demo opens: a deck, a notice and a workbook; its site is opened by address.
DEMOS = (DEMO, _FOLDER / "service-notice.docx", _FOLDER / "fares-and-loading.xlsx")


def is_demo(location: Location) -> bool:
    """Tell whether a file is one that came with the program, or is served by its demo."""
    if isinstance(location, WebAddress):
        return location.url.startswith(f"http://{LOOPBACK}:")
    return _FOLDER in location.resolve().parents
