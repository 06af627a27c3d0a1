"""Drawings (SVG) within other files, painted by the resvg library, which reaches for no network.

A drawing that is a document of its own is shown by the browser engine instead, which tells its
text.
"""

from __future__ import annotations

import io
import os
import re
import subprocess
import sys

from lxml import etree
from PIL import Image

from high_pair.raster.fonts import FOLDER, MONO, SANS, SERIF
from high_pair.raster.metafiles.device import Unpainted

# A drawing is painted so many pixels long.
LONGEST_SIDE = 1600
MOST_BYTES = 16 * 1024**2
PROCESS = "high_pair.raster.drawing_process"
MOST_SECONDS = 10.0
START_BYTES = 4_096
POINTS_A_PIXEL = 0.75
# CSS 2.1 §10.3.2: what has neither a size nor a form.
PLAIN_SIZE = (300.0, 150.0)
LARGEST = 100_000.0
SPACE = "http://www.w3.org/2000/svg"
_START = re.compile(rb"<(?:\w+:)?svg[\s>]")
_LENGTH = re.compile(r"^\s*([\d.]+(?:[eE][-+]?\d+)?)\s*(px|pt|pc|mm|cm|in|)\s*$")
_PIXELS = {
    "px": 1.0,
    "": 1.0,
    "pt": 4 / 3,
    "pc": 16.0,
    "mm": 96 / 25.4,
    "cm": 96 / 2.54,
    "in": 96.0,
}
_LINK = re.compile(r"(?:^|\})href$")


def is_svg(data: bytes) -> bool:
    """Tell whether bytes are a drawing."""
    start = data[:START_BYTES].lstrip(b"\xef\xbb\xbf \t\r\n")
    return start.startswith(b"<") and _START.search(start) is not None


def svg_size(data: bytes) -> tuple[float, float]:
    """Give a drawing's own size in points. Raises Unpainted."""
    return _size(_parsed(data))


def _parsed(data: bytes) -> etree._Element:
    if len(data) > MOST_BYTES:
        raise Unpainted("it is larger than is read")
    if b"<!ENTITY" in data:
        raise Unpainted("it has entities, which are refused")
    parser = etree.XMLParser(resolve_entities=False, no_network=True, remove_comments=True)
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise Unpainted("its data is damaged") from error
    if root.tag != f"{{{SPACE}}}svg":
        raise Unpainted("it is XML, but no drawing")
    return root


def _size(root: etree._Element) -> tuple[float, float]:
    stated = [_LENGTH.match(root.get(name) or "") for name in ("width", "height")]
    sides = [
        float(match.group(1)) * _PIXELS[match.group(2)] if match is not None else 0.0
        for match in stated
    ]
    box = re.split(r"[\s,]+", (root.get("viewBox") or "").strip())
    try:
        _, _, wide, high = (float(part) for part in box)
    except ValueError:
        wide, high = PLAIN_SIZE
    if wide <= 0 or high <= 0 or not max(wide, high) < LARGEST:
        raise Unpainted("its size isn't stated")
    width, height = sides
    if not width:
        width = height * wide / high if height else wide
    if not height:
        height = width * high / wide
    if not 0 < max(width, height) < LARGEST:
        raise Unpainted("its size makes no sense")
    return width * POINTS_A_PIXEL, height * POINTS_A_PIXEL


def painted_svg(data: bytes) -> Image.Image:
    """Paint a drawing as RGBA, see-through where it paints nothing. Raises Unpainted."""
    root = _parsed(data)
    for element in root.iter(etree.Element):
        for key, value in element.attrib.items():
            link = str(value).strip()
            if _LINK.search(str(key)) and not link.startswith(("#", "data:")):
                if etree.QName(element).localname == "a":
                    continue
                raise Unpainted("it shows a picture that isn't in it")
    width, height = _size(root)
    # Whatever lengths it states itself, of the view or of the page: its box is what is painted.
    root.set("width", f"{width / POINTS_A_PIXEL:g}")
    root.set("height", f"{height / POINTS_A_PIXEL:g}")
    scale = LONGEST_SIDE / max(width, height)
    painted = _in_its_process(
        etree.tostring(root, encoding="unicode"),
        max(1, round(width * scale)),
        max(1, round(height * scale)),
    )
    return Image.open(io.BytesIO(painted), formats=("PNG",)).convert("RGBA")


def _in_its_process(drawing: str, width: int, height: int) -> bytes:
    """Paint a drawing of so many pixels in a process that ends in time: see `drawing_process`."""
    fonts = [SERIF, SANS, MONO, *(str(path) for path in sorted(FOLDER.glob("*/*.ttf")))]
    try:
        done = subprocess.run(
            [sys.executable, "-m", PROCESS, str(width), str(height), *fonts],
            input=drawing.encode(),
            capture_output=True,
            timeout=MOST_SECONDS,
            env={**os.environ, "PYTHONPATH": os.pathsep.join(p for p in sys.path if p)},
            check=False,
        )
    except subprocess.TimeoutExpired as error:
        raise Unpainted("painting it takes too long") from error
    if done.returncode != 0 or not done.stdout:
        raise Unpainted("its data is damaged, or painting it takes too much memory")
    return done.stdout
