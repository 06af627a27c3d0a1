"""How a web page is to be shown while it is measured."""

from __future__ import annotations

from dataclasses import dataclass

WIDTH, HEIGHT = 1280, 800
NARROWEST, WIDEST = 200, 3840
MOST_WIDTHS = 8
LEAST_ZOOM, MOST_ZOOM = 0.25, 5.0
LIMIT, LEAST_LIMIT, MOST_LIMIT = 20.0, 2.0, 300.0


@dataclass(frozen=True)
class WebSettings:
    """widths: of the view in pixels, each a page of the review.

    dark: the page is told that dark colours are preferred; zoom: of the page;
    limit: seconds after which it is taken as it is; states: links and controls
    are also measured when pointed at, focused, pressed and visited; folders:
    besides its own those from which a page that is a file may load. A person allows
    them for this page; no review file does.
    """

    widths: tuple[int, ...] = (WIDTH,)
    dark: bool = False
    zoom: float = 1.0
    limit: float = LIMIT
    states: bool = True
    folders: tuple[str, ...] = ()


DEFAULT = WebSettings()


def parse_widths(text: str) -> tuple[int, ...]:
    """Read widths like «320, 768, 1280». Raises ValueError with words for the user."""
    found = []
    for part in text.replace(";", ",").replace(" ", ",").split(","):
        if not part:
            continue
        word = part.removesuffix("px")
        if not word.isdigit() or not NARROWEST <= int(word) <= WIDEST:
            raise ValueError(
                f"“{part}” is no width: give whole pixels from {NARROWEST} to {WIDEST}, "
                "such as 320, 768, 1280"
            )
        found.append(int(word))
    unique = tuple(dict.fromkeys(found))
    if not unique:
        raise ValueError("give at least one width in pixels, such as 1280")
    if len(unique) > MOST_WIDTHS:
        raise ValueError(f"give {MOST_WIDTHS} widths at most")
    return unique
