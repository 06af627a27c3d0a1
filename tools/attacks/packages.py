"""Packages whose parts are made to do harm, whatever is in them."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Iterator

from tests import decks
from tools.attacks.slides import words_on_slide

Made = Callable[[], bytes]


def _zip(members: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as package:
        for name, data in members.items():
            package.writestr(name, data)
    return out.getvalue()


def packages() -> Iterator[tuple[str, Made]]:
    """List packages, each with what is hostile in it."""
    yield (
        "a part of blanks",
        lambda: _zip({**decks.members(), "ppt/slides/slide1.xml": b"<a>" + b" " * (60 << 20)}),
    )
    yield (
        "a part of elements",
        lambda: _zip(
            {**decks.members(), "ppt/slides/slide1.xml": b"<a>" + b"<b/>" * 10_000_000 + b"</a>"}
        ),
    )
    yield (
        "a part of attributes",
        lambda: _zip(
            {
                **decks.members(),
                "ppt/slides/slide1.xml": b"<a "
                + b" ".join(b'a%d="1"' % n for n in range(1_000_000))
                + b"/>",
            }
        ),
    )
    yield (
        "a part of comments",
        lambda: _zip({**decks.members(words_on_slide("w") + "<!-- -->" * 1_000_000)}),
    )
    yield (
        "a part of spaces of names",
        lambda: _zip(
            {
                **decks.members(),
                "ppt/slides/slide1.xml": b"<a>"
                + b"".join(b'<b xmlns:n%d="u%d">' % (n, n) for n in range(200))
                + b"</b>" * 200
                + b"</a>",
            }
        ),
    )
    yield (
        "fifty thousand parts",
        lambda: _zip(
            {**decks.members(words_on_slide("w")), **{f"x/{n}.xml": b"<a/>" for n in range(49_000)}}
        ),
    )
    yield (
        "content types of a hundred thousand",
        lambda: _zip(
            {
                **decks.members(words_on_slide("w")),
                "[Content_Types].xml": decks.members()["[Content_Types].xml"].replace(
                    b"</Types>",
                    b"".join(
                        b'<Override PartName="/x/%d.xml" ContentType="a/b"/>' % n
                        for n in range(100_000)
                    )
                    + b"</Types>",
                ),
            }
        ),
    )
    yield (
        "elements a quarter of a million deep",
        lambda: _zip({**decks.members(), "ppt/slides/slide1.xml": b"<a>" * 250_000}),
    )
