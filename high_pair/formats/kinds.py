"""The kinds of files that are read: their suffixes and media types, and which module reads each.

Nothing is loaded here: a reader is loaded with the first file of its kind.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

ODF = "application/vnd.oasis.opendocument."
SLIDES_OF_ODF = (".odp", ".otp", ".fodp")
TEXTS_OF_ODF = (".odt", ".ott", ".fodt")
SHEETS_OF_ODF = (".ods", ".ots", ".fods")
DECKS = (".pptx", ".potx", ".ppsx", ".pptm", ".potm", ".ppsm", *SLIDES_OF_ODF)
DOCUMENTS = (".docx", ".docm", ".dotx", ".dotm", *TEXTS_OF_ODF)
WORKBOOKS = (".xlsx", ".xlsm", ".xltx", ".xltm", *SHEETS_OF_ODF)
PAGES = (".html", ".htm", ".xhtml", ".xht", ".shtml")
PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".gif", ".bmp", ".tif", ".tiff")
DRAWING = ".svg"
CSS = ".css"
SUFFIXES = (*DECKS, *DOCUMENTS, *WORKBOOKS, *PAGES, *PICTURES, DRAWING)
# By the media type of an OpenDocument file, without ODF and the words for templates.
OF_ODF: Mapping[str, str] = {
    "presentation": "high_pair.formats.odf.deck:OdfDeck",
    "text": "high_pair.formats.odf.text_document:OdfText",
    "spreadsheet": "high_pair.formats.odf.spreadsheet:OdfSpreadsheet",
}
DECK = "high_pair.formats.slides.deck:Deck"
DOCUMENT = "high_pair.formats.documents.document:TextDocument"
WORKBOOK = "high_pair.formats.sheets.workbook:Workbook"
PICTURE = "high_pair.formats.picture.picture_file:PictureFile"
PAGE = "high_pair.formats.web.web_file:WebFile"
READERS: Mapping[str, str] = {
    **dict.fromkeys(DECKS, DECK),
    **dict.fromkeys(DOCUMENTS, DOCUMENT),
    **dict.fromkeys(WORKBOOKS, WORKBOOK),
    **dict.fromkeys(SLIDES_OF_ODF, OF_ODF["presentation"]),
    **dict.fromkeys(TEXTS_OF_ODF, OF_ODF["text"]),
    **dict.fromkeys(SHEETS_OF_ODF, OF_ODF["spreadsheet"]),
    **dict.fromkeys(PICTURES, PICTURE),
    **dict.fromkeys((*PAGES, DRAWING), PAGE),
}


def of_odf(media_type: str) -> str | None:
    """Give the reader of an OpenDocument file of a media type; None for a kind that isn't read."""
    kind = media_type.removeprefix(ODF).removesuffix("-template").removesuffix("-master")
    return OF_ODF.get(kind) if media_type.startswith(ODF) else None


def modules(suffixes: Iterable[str] = READERS) -> list[str]:
    """List the modules that most likely read files of some suffixes; the web has none."""
    readers = (READERS.get(suffix.lower(), PAGE if not suffix else "") for suffix in suffixes)
    return list(dict.fromkeys(reader.partition(":")[0] for reader in readers if reader))
