"""Parsing XML from strangers, and looking things up in it."""

from __future__ import annotations

import functools
import io
import math
from collections.abc import Callable, Iterator

from lxml import etree

from high_pair.errors import UnreadableFile

Element = etree._Element

NAMESPACES = {
    "a": "http://schemas.openxmlformats.org/drawingml/2006/main",
    "p": "http://schemas.openxmlformats.org/presentationml/2006/main",
    "r": "http://schemas.openxmlformats.org/officeDocument/2006/relationships",
    "c": "http://schemas.openxmlformats.org/drawingml/2006/chart",
    "dgm": "http://schemas.openxmlformats.org/drawingml/2006/diagram",
    "mc": "http://schemas.openxmlformats.org/markup-compatibility/2006",
    "m": "http://schemas.openxmlformats.org/officeDocument/2006/math",
    "ahyp": "http://schemas.microsoft.com/office/drawing/2018/hyperlinkcolor",
    "w": "http://schemas.openxmlformats.org/wordprocessingml/2006/main",
    "wp": "http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing",
    "pic": "http://schemas.openxmlformats.org/drawingml/2006/picture",
    "wps": "http://schemas.microsoft.com/office/word/2010/wordprocessingShape",
    "wpg": "http://schemas.microsoft.com/office/word/2010/wordprocessingGroup",
    "wpc": "http://schemas.microsoft.com/office/word/2010/wordprocessingCanvas",
    "w14": "http://schemas.microsoft.com/office/word/2010/wordml",
    "v": "urn:schemas-microsoft-com:vml",
    "o": "urn:schemas-microsoft-com:office:office",
    "x": "http://schemas.openxmlformats.org/spreadsheetml/2006/main",
    "xdr": "http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing",
    "x14": "http://schemas.microsoft.com/office/spreadsheetml/2009/9/main",
    "xm": "http://schemas.microsoft.com/office/excel/2006/main",
    "ct": "http://schemas.openxmlformats.org/package/2006/content-types",
    "rel": "http://schemas.openxmlformats.org/package/2006/relationships",
    # ODF 1.3 Part 3 §1.4
    "chart": "urn:oasis:names:tc:opendocument:xmlns:chart:1.0",
    "office": "urn:oasis:names:tc:opendocument:xmlns:office:1.0",
    "style": "urn:oasis:names:tc:opendocument:xmlns:style:1.0",
    "text": "urn:oasis:names:tc:opendocument:xmlns:text:1.0",
    "table": "urn:oasis:names:tc:opendocument:xmlns:table:1.0",
    "draw": "urn:oasis:names:tc:opendocument:xmlns:drawing:1.0",
    "presentation": "urn:oasis:names:tc:opendocument:xmlns:presentation:1.0",
    "svg": "urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0",
    "fo": "urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0",
    "xlink": "http://www.w3.org/1999/xlink",
    "meta": "urn:oasis:names:tc:opendocument:xmlns:meta:1.0",
    "loext": "urn:org:documentfoundation:names:experimental:office:xmlns:loext:1.0",
}

# ISO 29500 strict names the same vocabulary otherwise (Part 1 Annex A against
# Part 4). A strict part is read and written through the transitional names.
STRICT_TO_TRANSITIONAL = tuple(
    (f"http://purl.oclc.org/ooxml/{strict}", f"http://schemas.openxmlformats.org/{transitional}")
    for strict, transitional in (
        ("drawingml/main", "drawingml/2006/main"),
        ("drawingml/chart", "drawingml/2006/chart"),
        ("drawingml/diagram", "drawingml/2006/diagram"),
        ("presentationml/main", "presentationml/2006/main"),
        ("wordprocessingml/main", "wordprocessingml/2006/main"),
        ("spreadsheetml/main", "spreadsheetml/2006/main"),
        ("drawingml/wordprocessingDrawing", "drawingml/2006/wordprocessingDrawing"),
        ("drawingml/spreadsheetDrawing", "drawingml/2006/spreadsheetDrawing"),
        ("drawingml/picture", "drawingml/2006/picture"),
        ("officeDocument/relationships", "officeDocument/2006/relationships"),
        ("officeDocument/math", "officeDocument/2006/math"),
    )
)


@functools.cache
def tag(name: str) -> str:
    """Turn `a:p` into lxml's `{namespace}p`."""
    prefix, _, local = name.partition(":")
    return f"{{{NAMESPACES[prefix]}}}{local}"


def parse(
    data: bytes,
    file: str,
    member: str,
    each: str = "",
    take: Callable[[Element], None] = lambda _element: None,
) -> Element:
    """Parse a part of a package; entities and document types are refused.

    file, member: for the message; each: elements of this name are handed to `take` as soon
    as they are read, and emptied then, of which there may be more than there is room for.
    Raises UnreadableFile.
    """
    for strict, transitional in STRICT_TO_TRANSITIONAL:
        data = data.replace(strict.encode() + b'"', transitional.encode() + b'"')
    try:
        if each:
            root = _thinned(data, tag(each), take)
        else:
            parser = etree.XMLParser(
                resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False
            )
            root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        # The parser's words end with a place of its own, and may have several lines.
        words = " ".join(str(error).replace("(<string>, ", "(").split())
        raise UnreadableFile(
            file, f"its part {member} is broken XML ({words}). Ask for the file again."
        ) from error
    document = root.getroottree().docinfo if root is not None else None
    if document is None or document.internalDTD is not None or document.doctype:
        # ECMA-376 Part 2 §8.1.4 forbids them, and they can hide a bomb.
        raise UnreadableFile(
            file,
            f"its part {member} declares a document type, which office files never do. "
            "It may be made to do harm; don't trust it.",
        )
    return root


def _thinned(data: bytes, name: str, take: Callable[[Element], None]) -> Element:
    parser = etree.iterparse(
        io.BytesIO(data),
        events=("end",),
        tag=name,
        resolve_entities=False,
        no_network=True,
        load_dtd=False,
        huge_tree=False,
    )
    for _, element in parser:
        take(element)
        del element[:]
    root: Element = parser.root
    return root


def serialise(root: Element, strict: bool = False) -> bytes:
    """Write a part as UTF-8 with a declaration; `strict` puts the strict names back."""
    data = etree.tostring(
        root.getroottree(), xml_declaration=True, encoding="UTF-8", standalone=True
    )
    if strict:
        for name, transitional in STRICT_TO_TRANSITIONAL:
            data = data.replace(transitional.encode() + b'"', name.encode() + b'"')
    return data


def is_strict(data: bytes) -> bool:
    """Tell whether a part uses the strict names."""
    return b"http://purl.oclc.org/ooxml/" in data[:4096]


def local_name(element: Element) -> str:
    """Give an element's name without its namespace; empty for comments and instructions."""
    name = element.tag
    return name.rpartition("}")[2] if isinstance(name, str) else ""


def child(element: Element | None, *path: str) -> Element | None:
    """Follow children by name, `child(shape, "p:spPr", "a:xfrm")`; None where one is missing."""
    for name in path:
        if element is None:
            return None
        element = element.find(tag(name))
    return element


def children(element: Element | None) -> Iterator[Element]:
    """Give an element's child elements, comments and instructions left out."""
    if element is None:
        return
    for each in element:
        if isinstance(each.tag, str):
            yield each


def number(text: str | None, default: float = 0.0, limit: float = 1e12) -> float:
    """Read a number; what is none, not finite or past the limit gives the default."""
    try:
        value = float(text) if text is not None else default
    except ValueError:
        return default
    return value if math.isfinite(value) and abs(value) <= limit else default


def whole(element: Element | None, name: str, default: int = 0) -> int:
    """Read a whole-number attribute, leniently."""
    return int(number(element.get(name), default)) if element is not None else default


def digits(text: str | None) -> int | None:
    """Read a count that is written in plain digits; None for anything else, or endless ones."""
    return int(text) if text is not None and text.isdecimal() and len(text) <= 18 else None


def share(text: str | None, default: float = 0.0) -> float:
    """Read ST_Percentage as a share of 1: `50000` and `50%` are both a half (§20.1.10.40)."""
    if text is None:
        return default
    if text.endswith("%"):
        return number(text[:-1], default * 100) / 100
    return number(text, default * 100_000) / 100_000


def flag(element: Element | None, name: str, default: bool = False) -> bool:
    """Read an xsd:boolean attribute, and the on/off that old writers use."""
    value = element.get(name) if element is not None else None
    if value is None:
        return default
    return value.strip().lower() in ("1", "true", "on")
