"""Mending a file whole in this process, as the command line has it done in another."""

from pathlib import Path

from high_pair.formats import open_document
from high_pair.review.measuring import review_pages
from high_pair.review.reporting import Mended, mend_document
from high_pair.wcag.asked import Asked


def mend_file(path: Path, target: Path, asked: Asked) -> Mended:
    """Mend what falls short in a file, in a copy."""
    document = open_document(path)
    try:
        return mend_document(document, path, list(review_pages(document, asked)), target, asked)
    finally:
        document.close()
