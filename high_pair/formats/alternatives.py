"""Alternate content: one branch of it is read, never both (ECMA-376 Part 3 §10.2)."""

from __future__ import annotations

from collections.abc import Iterator

from high_pair.formats.xml import Element, child, children, tag

# Prefixes, by custom, of the extensions whose shapes are built like the standard's own.
UNDERSTOOD = frozenset({"a14", "p14", "a15", "p15", "a16", "p16", "wps", "wpg"})


def chosen_children(parent: Element | None) -> Iterator[Element]:
    """Give an element's children, with those of the branch that is read in place of the choice.

    The first choice that asks for nothing unknown is read, else the fallback,
    else the first choice, so that nothing is lost in silence.
    """
    for each in children(parent):
        if each.tag != tag("mc:AlternateContent"):
            yield each
            continue
        choices = each.findall(tag("mc:Choice"))
        known = [c for c in choices if set(c.get("Requires", "").split()) <= UNDERSTOOD]
        branch = known[0] if known else child(each, "mc:Fallback")
        if branch is None and choices:
            branch = choices[0]
        yield from chosen_children(branch)
