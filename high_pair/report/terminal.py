"""Words for a terminal, where a stranger's texts and names must do nothing but be read."""

from __future__ import annotations


def plain(text: str) -> str:
    """Write what can't be printed (controls, line ends, marks of direction) as its number."""
    return "".join(
        c if c.isprintable() else c.encode("unicode_escape", "surrogatepass").decode() for c in text
    )
