"""Giving pieces of a paragraph's text a look of their own.

A piece gets a span that holds it alone, with one style that has all of its look:
programs that keep one style for each piece of text drop what a span round another
one of the same extent states, and some lose the text of spans in spans.
Source: OpenDocument 1.3 part 3 §6.1.7 (text:span), §16.27.28 (style:text-properties).
"""

from __future__ import annotations

import copy
from collections.abc import Mapping, Sequence

from lxml import etree

from high_pair.formats.odf.derived import PREFIX, automatic_styles, free_name
from high_pair.formats.odf.text import Segment
from high_pair.formats.xml import NAMESPACES, Element, child, children, local_name, tag

# What of a span its parts have too, when it is parted.
SHARED = ("text:style-name", "text:class-names")


def dress(segment: Segment, changes: Mapping[str, str], root: Element) -> None:
    """Give a piece of text some text properties besides those it has.

    root: of the member that it stands in, whose automatic styles may get one more.
    """
    spans = [each for each in segment.spans if each.tag == tag("text:span")]
    style = _style(spans, changes, root)
    _own_span(segment).set(tag("text:style-name"), style)


def _own_span(segment: Segment) -> Element:
    """Give the span that holds a piece of text and nothing else, made where there is none."""
    node = segment.node
    if segment.tail:
        parent = node.getparent()
        assert parent is not None
        span, node.tail = _span(node.tail), None
        parent.insert(parent.index(node) + 1, span)
    elif node is _holder(segment):
        if node.tag == tag("text:span") and not len(node):
            return node
        span, node.text = _span(node.text), None
        node.insert(0, span)
    else:
        # A field, or blanks: the whole element goes into the span, its tail stays outside.
        parent = node.getparent()
        assert parent is not None
        if _is_alone(node, parent):
            return parent
        span = _span(None)
        span.tail, node.tail = node.tail, None
        parent.replace(node, span)
        span.append(node)
    return _lifted(span)


def _holder(segment: Segment) -> Element | None:
    """Give the element whose characters a piece is, None where the element itself stands for it."""
    names = ("p", "h", "span", "a", "meta", "meta-field", "ruby-base", "ruby-text")
    foreign = not str(segment.node.tag).startswith(f"{{{NAMESPACES['text']}}}")
    return segment.node if foreign or local_name(segment.node) in names else None


def _is_alone(node: Element, parent: Element) -> bool:
    alone = len(parent) == 1 and not (parent.text or "") and not (node.tail or "")
    return alone and parent.tag == tag("text:span")


def _span(text: str | None) -> Element:
    span = etree.Element(tag("text:span"))
    span.text = text
    return span


def _lifted(span: Element) -> Element:
    """Take a span out of the spans that it was made in, which are parted for it."""
    outer = span.getparent()
    while outer is not None and outer.tag == tag("text:span"):
        _part(outer, span)
        outer = span.getparent()
    return span


def _part(outer: Element, span: Element) -> None:
    holder = outer.getparent()
    assert holder is not None
    place, inner = holder.index(outer), outer.index(span)
    after, tail, end = list(outer)[inner + 1 :], span.tail, outer.tail
    span.tail = outer.tail = None
    outer.remove(span)
    holder.insert(place + 1, span)
    if after or tail:
        rest = _span(tail)
        for name in SHARED:
            if outer.get(tag(name)):
                rest.set(tag(name), outer.get(tag(name), ""))
        rest.extend(after)
        holder.insert(place + 2, rest)
        rest.tail = end
    else:
        span.tail = end
    if not len(outer) and not outer.text:
        holder.remove(outer)


def join_alike(paragraph: Element) -> None:
    """Make one span of neighbours of one style, as far as the pieces of text stay apart.

    Addresses count those, and two that touch would become one.
    """
    for span in list(paragraph.iter(tag("text:span"))):
        after = span.getnext()
        while (
            after is not None
            and after.tag == span.tag
            and not span.tail
            and sorted(span.items()) == sorted(after.items())
            and not (_ends_in_text(span) and after.text)
        ):
            if after.text and len(span):
                span[-1].tail = after.text
            elif after.text:
                span.text = after.text
            span.extend(list(after))
            span.tail, after.tail = after.tail, None
            holder = after.getparent()
            assert holder is not None
            holder.remove(after)
            after = span.getnext()


def _ends_in_text(span: Element) -> bool:
    return bool(span[-1].tail if len(span) else span.text)


def _style(spans: Sequence[Element], changes: Mapping[str, str], root: Element) -> str:
    """Give the name of an automatic style: what the spans round a text state, with changes."""
    holder = automatic_styles(root)
    wanted = etree.Element(tag("style:style"))
    properties = etree.SubElement(wanted, tag("style:text-properties"), nsmap=_namespaces(changes))
    named = {
        each.get(tag("style:name"), ""): each
        for each in holder.findall(tag("style:style"))
        if each.get(tag("style:family")) == "text"
    }
    parent = ""
    for span in spans:
        name = span.get(tag("text:style-name"), "")
        own = named.get(name)
        based = own.get(tag("style:parent-style-name"), "") if own is not None else name
        parent = based or parent
        stated = child(own, "style:text-properties") if own is not None else None
        if stated is not None:
            properties.attrib.update(stated.attrib)
            for each in children(stated):
                properties.append(copy.deepcopy(each))
    for key, value in changes.items():
        properties.set(tag(key), value)
    wanted.set(tag("style:family"), "text")
    if parent:
        wanted.set(tag("style:parent-style-name"), parent)
    for name, known in named.items():
        if name.startswith(PREFIX) and _look(known) == _look(wanted):
            return name
    name = free_name(holder, "Text")
    wanted.set(tag("style:name"), name)
    holder.append(wanted)
    return name


def _namespaces(changes: Mapping[str, str]) -> dict[str, str]:
    prefixes = {key.partition(":")[0] for key in changes}
    return {prefix: NAMESPACES[prefix] for prefix in prefixes & {"loext"}}


def _look(style: Element) -> tuple[object, ...]:
    """Give what of a style decides how its text looks."""
    properties = child(style, "style:text-properties")
    stated = sorted(properties.items()) if properties is not None else []
    parts = 0 if properties is None else len(properties)
    return style.get(tag("style:parent-style-name")), stated, parts
