"""Text of ODF shapes: paragraphs, lists, spans and fields (ODF 1.3 Part 3 §5 and §6)."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from high_pair.formats.automatic_text import OUTLINED, automatic_in_odf
from high_pair.formats.odf.origins import deciders_of
from high_pair.formats.odf.styles import Styles, TextStyles, attribute
from high_pair.formats.odf.text_effects import is_outlined, shadow_of_letters
from high_pair.formats.odf.units import colour, length, percent
from high_pair.formats.xml import NAMESPACES, Element, children, local_name, tag, whole
from high_pair.scene.addresses import address_below
from high_pair.scene.geometry import Affine, Box
from high_pair.scene.paint import WHITE, Colour
from high_pair.scene.text import Align, Anchor, Paragraph, Run, Spacing, TextBlock, within_reason
from high_pair.wcag.criteria import size_class

ALIGNS = {
    "left": Align.LEFT, "start": Align.LEFT, "center": Align.CENTRE, "right": Align.RIGHT,
    "end": Align.RIGHT, "justify": Align.JUSTIFY,
}  # fmt: skip
ANCHORS = {"top": Anchor.TOP, "middle": Anchor.MIDDLE, "bottom": Anchor.BOTTOM}
SYMBOL_FONTS = ("starsymbol", "opensymbol", "wingdings", "symbol")
PLAIN_BULLET = "•"
RAISED = 0.33
MOST_BLANKS = 200
# Fields whose words come from the page, and which count as pieces whatever they say.
PAGE_FIELDS = frozenset({"page-number", "footer", "header", "date-time"})
STANDARD = "{urn:oasis:names:tc:opendocument:"
# Elements of the text's namespace whose words aren't shown where they stand.
NO_FIELDS = frozenset(
    {
        "note", "tracked-changes", "hidden-text", "hidden-paragraph", "script", "toc-mark-start",
        "alphabetical-index-mark", "toc-mark", "user-index-mark", "bibliography-source",
    }
)  # fmt: skip


@dataclass(frozen=True)
class Segment:
    """A piece of characters in a paragraph: the node that holds it, and the spans round it.

    tail: it stands after the node instead of in it.
    """

    node: Element
    tail: bool
    text: str
    spans: tuple[Element, ...]


def segments_of(paragraph: Element, replacements: dict[str, str]) -> list[Segment]:
    """List a paragraph's pieces of text in reading order; a field may say nothing.

    replacements: what the fields of the page say, by their local names.
    """
    found: list[Segment] = []

    def walk(element: Element, spans: tuple[Element, ...]) -> None:
        if element.text:
            found.append(Segment(element, False, _collapsed(element.text), spans))
        for each in children(element):
            name = local_name(each)
            if name in ("span", "a", "meta", "meta-field", "ruby", "ruby-base", "ruby-text"):
                walk(each, (*spans, each))
            elif name == "line-break":
                found.append(Segment(each, False, "\n", spans))
            elif name == "s":
                blanks = min(MOST_BLANKS, max(1, whole(each, tag("text:c"), 1)))
                found.append(Segment(each, False, " " * blanks, spans))
            elif name == "tab":
                found.append(Segment(each, False, "\t", spans))
            elif name in PAGE_FIELDS:
                found.append(Segment(each, False, replacements.get(name, ""), spans))
            elif name == "note":
                citation = each.find(tag("text:note-citation"))
                words = (citation.text or "") if citation is not None else ""
                found.append(Segment(each, False, words, spans))
            elif not str(each.tag).startswith(STANDARD):
                # An extension's element round text, such as a control to fill in (§22.2.2).
                walk(each, spans)
            elif _is_field(each):
                words = "".join(str(part) for part in each.itertext())
                found.append(Segment(each, False, words, spans))
            if each.tail:
                found.append(Segment(each, True, _collapsed(each.tail), spans))

    walk(paragraph, ())
    return found


def _is_field(element: Element) -> bool:
    """Tell whether an element of a paragraph stands for the words in it (§7)."""
    own = str(element.tag).startswith(f"{{{NAMESPACES['text']}}}")
    return (
        own
        and local_name(element) not in NO_FIELDS
        and any(str(part) for part in element.itertext())
    )


def _collapsed(text: str) -> str:
    """Make white space one blank (§6.1.2)."""
    words = " ".join(text.split())
    before = " " if text[:1].isspace() else ""
    after = " " if text[-1:].isspace() and words else ""
    return before + words + after


# Gives a paragraph's address, where it isn't counted within what holds it.
AddressOf = Callable[[Element], str]


AUTOMATIC = "automatic: dark on light, white on dark"
SKIPPED = "programs differ in whether what its shape's own style says of text counts"
# Programs that write slides show links in a colour of their own, whatever is stated.
LINK = Colour(0.0, 0.0, 128 / 255)
LINKS = "programs differ in the colour that links on slides have"
DISPUTED = "programs differ in which colour a label has whose list and text style disagree"


@dataclass(frozen=True)
class Holder:
    """What holds a text: its place, its styles, and what automatic colours look at.

    shape_styles: the shape's own chain with words, defaults last; skipped: whether
    programs pass over what its automatic styles say of text, None where that differs; fill: the
    colour behind by the shape itself, None when it has none; varied: why an
    automatic colour can't be told, empty when it can; address_of: gives the
    paragraphs' addresses, where they aren't counted within it.
    """

    box: Box
    transform: Affine
    where: str
    address: str
    anchor: Anchor
    wraps: bool
    shape_styles: tuple[tuple[str, Element], ...]
    outline_prefix: str
    backdrop: Colour
    varied: str
    scope: str
    doubt: str = ""
    address_of: AddressOf | None = None
    skipped: bool | None = False


class TextReader:
    """Reads the text of one shape or cell."""

    def __init__(self, styles: Styles, holder: Holder, replacements: dict[str, str]) -> None:
        self.styles = styles
        self.holder = holder
        self.replacements = replacements
        self.count = 0
        # How far lists have been counted, and headings.
        self.numbers: dict[int, int] = {}
        self.headings: dict[int, int] = {}

    def block(self, container: Element) -> TextBlock | None:
        """Give the text as a block; None when there is none."""
        paragraphs = list(self._paragraphs(container, 0, None))
        if not any(run.text.strip() for paragraph in paragraphs for run in paragraph.runs):
            return None
        holder = self.holder
        return TextBlock(
            tuple(paragraphs),
            holder.box,
            holder.transform,
            holder.where,
            holder.anchor,
            holder.wraps,
            holder.doubt,
        )

    def _paragraphs(
        self, container: Element, level: int, list_style: str | None
    ) -> Iterator[Paragraph]:
        for each in children(container):
            name = local_name(each)
            if name in ("p", "h"):
                self.count += 1
                yield self.paragraph(each, level, list_style)
            elif name == "list":
                own = each.get(tag("text:style-name")) or list_style
                for item in children(each):
                    if local_name(item) in ("list-item", "list-header"):
                        yield from self._paragraphs(item, level + 1, own)

    def _address(self, paragraph: Element) -> str:
        if self.holder.address_of is not None:
            return self.holder.address_of(paragraph)
        return address_below(self.holder.address, p=self.count)

    def _entries(
        self, family: str, name: str | None, words: str
    ) -> tuple[tuple[str, Element], ...]:
        chain = self.styles.chain(family, name, self.holder.scope)
        found = []
        for place, style in enumerate(chain):
            own_name = style.get(tag("style:name"), "")
            found.append((words if place == 0 else f"style {own_name}", style))
        return tuple(found)

    def paragraph(self, element: Element, level: int, list_style: str | None) -> Paragraph:
        """Read one paragraph; level: of the list that it is in, 0 for none."""
        own = self._entries("paragraph", element.get(tag("text:style-name")), "paragraph style")
        outline: tuple[tuple[str, Element], ...] = ()
        if self.holder.outline_prefix and level:
            name = f"{self.holder.outline_prefix}-outline{min(level, 9)}"
            outline = self._entries("presentation", name, f"style {name}")
        around = (*own, *outline, *self.holder.shape_styles)
        styles = TextStyles(around)
        runs = []
        for count, segment in enumerate(segments_of(element, self.replacements), start=1):
            if segment.text:
                address = address_below(self._address(element), r=count)
                runs.append(self._run(segment, around, address))
        if not runs:
            empty = Segment(element, False, "", ())
            runs.append(self._run(empty, around, address_below(self._address(element), end=1)))
        paragraph = Paragraph(
            within_reason(tuple(runs)),
            ALIGNS.get(styles.paragraph("fo:text-align") or "start", Align.LEFT),
            left=length(styles.paragraph("fo:margin-left")),
            right=length(styles.paragraph("fo:margin-right")),
            first=length(styles.paragraph("fo:text-indent")),
            spacing=_line_height(styles.paragraph("fo:line-height")),
            before=Spacing(points=max(0.0, length(styles.paragraph("fo:margin-top")))),
            after=Spacing(points=max(0.0, length(styles.paragraph("fo:margin-bottom")))),
        )
        if level:
            return self._labelled(paragraph, self._list_level(level, list_style), level, element)
        heads = local_name(element) == "h" and element.get(tag("text:is-list-header")) != "true"
        if heads and self.holder.address_of is not None:
            depth = max(1, whole(element, tag("text:outline-level"), 1))
            return self._labelled(paragraph, self.styles.outline_level(depth), depth, element)
        return paragraph

    def _run(self, segment: Segment, around: Sequence[tuple[str, Element]], address: str) -> Run:
        entries: list[tuple[str, Element]] = []
        for span in reversed(segment.spans):
            entries += self._entries("text", span.get(tag("text:style-name")), "text style")
        own = {id(style) for _, style in self.holder.shape_styles}
        sure = [each for each in around if id(each[1]) not in own or not is_automatic(each[1])]
        skipped = self.holder.skipped
        run = self._looking(segment, (*entries, *(sure if skipped else around)), address)
        if skipped is None and len(sure) < len(around):
            other = self._looking(segment, (*entries, *sure), address)
            run = in_either_look(run, other, SKIPPED)
        is_link = any(local_name(span) == "a" for span in segment.spans)
        if is_link and self.holder.address_of is None and run.colour != LINK:
            run = replace(run, shades=(run.colour, LINK), why_shades=LINKS)
        return run

    def _looking(
        self, segment: Segment, entries: Sequence[tuple[str, Element]], address: str
    ) -> Run:
        """Give a run of the look that some styles give it, nearest first."""
        styles = TextStyles(tuple(entries))
        mark = colour(styles.get("fo:background-color"))
        chosen, origin, trouble = self._colour(styles, mark)
        source = styles.colour_source()
        stated = source is not None and origin == source[0]
        position = (styles.get("style:text-position") or "").split()
        raised = _raise_of(position[0]) if position else 0.0
        size = styles.size()
        if raised:
            size *= percent(position[1], 0.58) if len(position) > 1 else 0.58
        face = styles.get("style:font-name")
        family = self.styles.face(face) if face else (styles.get("fo:font-family") or "")
        text = segment.text
        if styles.get("fo:text-transform") == "uppercase":
            text = text.upper()
        hidden = styles.get("text:display") == "none"
        outlined = is_outlined(styles)
        kind = local_name(segment.node)
        return Run(
            text=text,
            field=kind if kind in PAGE_FIELDS and not segment.tail else "",
            colour=chosen,
            family=family.split(",")[0].strip("'\" "),
            size=max(0.1, size),
            weight=styles.weight(),
            origin=origin,
            address=address,
            italic=(styles.get("fo:font-style") or "normal") != "normal",
            underline=(styles.get("style:text-underline-style") or "none") != "none",
            strike=(styles.get("style:text-line-through-style") or "none") != "none",
            spacing=length(styles.get("fo:letter-spacing")),
            baseline=raised,
            highlight=mark,
            trouble=trouble,
            shades=(chosen, WHITE) if outlined and chosen != WHITE else (),
            why_shades=OUTLINED if outlined else "",
            invisible=hidden,
            shadow=shadow_of_letters(styles, chosen),
            # How slides show links differs between programs.
            link=self.holder.address_of is not None
            and any(local_name(span) == "a" for span in segment.spans),
            deciders=deciders_of(source[1]) if source is not None and stated else (),
        )

    def _colour(self, styles: TextStyles, mark: Colour | None) -> tuple[Colour, str, str]:
        """Give a run's colour, where it is decided, and why it can't be told, if so."""
        source = styles.colour_source()
        if source is not None:
            words, properties = source
            if properties.get(tag("style:use-window-font-color")) != "true":
                # The extension's opacity counts beside a colour of its own alone: writers
                # put 0% beside automatic colours, which are not see-through.
                opacity = percent(properties.get(tag("loext:opacity")), 1.0)
                chosen = colour(properties.get(tag("fo:color")), opacity)
                if chosen is not None:
                    return chosen, words, ""
        origin = AUTOMATIC
        if mark is not None:
            return automatic_in_odf(mark), origin, ""
        return automatic_in_odf(self.holder.backdrop), origin, self.holder.varied

    def _labelled(
        self, paragraph: Paragraph, entry: Element | None, level: int, element: Element
    ) -> Paragraph:
        """Give a list's paragraph its indents and its bullet or number (§16.30), and a heading its
        number. entry: the level of the list or of the outline, None where there is none."""
        first = next((run for run in paragraph.runs if run.text.strip()), None)
        if entry is None or first is None:
            return paragraph
        chain = [entry]
        space = length(attribute(chain, "list-level", "text:space-before"))
        width = length(attribute(chain, "list-level", "text:min-label-width"))
        # A paragraph's own margins, where they are stated, count instead of the list's.
        left = paragraph.left or space + width
        indent = paragraph.first or -width
        text = self._label_text(entry, level)
        if not text:
            return replace(paragraph, left=left, first=0.0)
        label = replace(
            first, text=text, underline=False, strike=False, baseline=0.0, highlight=None
        )
        label = self._dressed(label, entry, address_below(self._address(element), bullet=1))
        return replace(paragraph, left=left, first=indent, bullet=label)

    def _dressed(self, label: Run, entry: Element, address: str) -> Run:
        """Give a label the look of its list's level.

        The level has properties of its own, and may name a text style (§17.5 to §17.7). Where
        both say something, or the wrong one of them alone, programs differ: those that write
        texts ask the text style, those that write slides the level.
        """
        own = TextStyles((("list style", entry),))
        named = TextStyles(self._entries("text", entry.get(tag("text:style-name")), "label style"))
        counts, other = (named, own) if self.holder.address_of is not None else (own, named)
        stated = counts.get("fo:font-size") or own.get("fo:font-size")
        if stated:
            size = label.size * percent(stated, 1.0) if stated.endswith("%") else length(stated)
            label = replace(label, size=max(0.1, size or label.size))
        if counts.get("fo:font-weight"):
            label = replace(label, weight=counts.weight())
        label = replace(label, highlight=colour(counts.get("fo:background-color")))
        chosen, elsewhere = colour(counts.get("fo:color")), colour(other.get("fo:color"))
        source = counts.colour_source()
        if source is not None and source[1].get(tag("style:use-window-font-color")) == "true":
            chosen = None
        if chosen is not None and source is not None:
            deciders = deciders_of(source[1])
            # Some programs know no other text style of a label than a common one.
            address = deciders[0].address if deciders else address
            return replace(
                label, colour=chosen, origin=source[0], address=address, trouble="", deciders=()
            )
        if elsewhere is not None and elsewhere != label.colour:
            shades = (label.colour, elsewhere)
            label = replace(label, shades=shades, why_shades=DISPUTED, address=address)
        return label

    def _list_level(self, level: int, list_style: str | None) -> Element | None:
        style = self.styles.find("list", list_style, self.holder.scope)
        holders: list[Element] = [style] if style is not None else []
        if style is None:
            # A shape's style, or an outline's, may bring the list style with it.
            for _, each in self.holder.shape_styles:
                holders += list(each.iter(tag("text:list-style")))
        for holder in holders:
            for entry in children(holder):
                if whole(entry, tag("text:level")) == min(level, 10):
                    return entry
        return None

    def _label_text(self, entry: Element, level: int) -> str:
        name = local_name(entry)
        outline = name == "outline-level-style"
        if outline or name == "list-level-style-number":
            kind = entry.get(tag("style:num-format"), "" if outline else "1")
            numbers = self.headings if outline else self.numbers
            numbers[level] = numbers.get(level, 0) + 1
            for deeper in [each for each in numbers if each > level]:
                del numbers[deeper]
            if not kind:
                return ""
            shown = whole(entry, tag("text:display-levels"), 1)
            parts = [numbers.get(each, 1) for each in range(max(1, level - shown + 1), level + 1)]
            prefix = entry.get(tag("style:num-prefix"), "")
            suffix = entry.get(tag("style:num-suffix"), "")
            return prefix + ".".join(str(part) for part in parts) + suffix
        if name != "list-level-style-bullet":
            return PLAIN_BULLET
        character = entry.get(tag("text:bullet-char"), PLAIN_BULLET)
        plain = any("\ue000" <= c <= "\uf8ff" for c in character)
        return PLAIN_BULLET if plain else character.strip()


def is_automatic(style: Element) -> bool:
    """Tell whether a style is one that a writer made for one place (§3.1.3)."""
    holder = style.getparent()
    return holder is not None and local_name(holder) == "automatic-styles"


def in_either_look(run: Run, other: Run, reason: str) -> Run:
    """Give a run that looks like itself or like another of the same words."""
    if other.trouble and not run.trouble:
        run = replace(run, trouble=other.trouble)
    if other.highlight != run.highlight:
        run = replace(run, trouble=run.trouble or reason)
    if size_class(other.size, other.weight) is not size_class(run.size, run.weight):
        run = replace(run, unsized=reason)
    if other.colour != run.colour:
        run = replace(run, shades=(run.colour, other.colour), why_shades=reason)
    return run


def _raise_of(text: str) -> float:
    """Read the first word of style:text-position: super, sub, or a percentage."""
    if text == "super":
        return RAISED
    if text == "sub":
        return -RAISED
    return max(-1.0, min(1.0, percent(text)))


def _line_height(text: str | None) -> Spacing:
    if text is None or text == "normal":
        return Spacing()
    if text.strip().endswith("%"):
        return Spacing(share=min(20.0, max(0.1, percent(text, 1.0))))
    return Spacing(points=min(1584.0, max(1.0, length(text, 14.0))))
