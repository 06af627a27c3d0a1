"""Where a paragraph's and a run's properties come from: the cascade of list styles.

Source: ECMA-376 Part 1 §21.1.2.4 (list styles), §19.3.1.51 (the master's text
styles), §19.2.1.8 (the presentation's defaults), §20.1.4.1.17 (fontRef).
"""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.formats.drawing.colours import (
    Palette,
    colour_element,
    origin_of,
    plain_slot,
    resolve,
)
from high_pair.formats.drawing.fills import Fill, fill_element, read_fill
from high_pair.formats.drawing.placeholders import Lineage, TextKind
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.theme import Theme
from high_pair.formats.xml import Element, child, children, flag, local_name, number
from high_pair.scene.paint import BLACK, Colour

LEVELS = 9
PLAIN_SIZE = 18.0  # §21.1.2.3.9: the size of text for which nothing says another


@dataclass(frozen=True)
class Override:
    """Properties that come from elsewhere than a list style: a table style, or a fontRef.

    bold: None where it says nothing.
    """

    words: str
    colour: Colour | None = None
    colour_origin: str = ""
    font: str = ""
    bold: bool | None = None
    italic: bool | None = None
    trouble: str = ""


@dataclass(frozen=True)
class Source:
    """One step of the cascade: a list style and its name, or an override."""

    words: str
    list_style: Element | None = None
    override: Override | None = None


@dataclass(frozen=True)
class TextColour:
    """The colour of a run and where it is decided; trouble and invisible as in `scene.text.Run`.

    fill: its gradient or pattern, when it isn't one colour; element: the style's
    properties that decide it, None where the run itself does; style: what that
    style is called; slot: of the theme, where it shows one as it is.
    """

    colour: Colour
    origin: str
    trouble: str = ""
    invisible: bool = False
    fill: Fill | None = None
    element: Element | None = None
    style: str = ""
    slot: str = ""


def font_reference(shape: Element, palette: Palette, theme: Theme) -> Override | None:
    """Read a shape style's fontRef (§20.1.4.1.17): a theme font and a colour."""
    reference = child(shape, "p:style", "a:fontRef")
    if reference is None:
        return None
    chosen = colour_element(reference)
    font = {"major": theme.major, "minor": theme.minor}.get(reference.get("idx", ""), "")
    return Override(
        "shape style",
        colour=resolve(chosen, palette),
        colour_origin=origin_of(chosen),
        font=font,
    )


def sources_of(
    lineage: Lineage, parts: Setting, text_body: Element | None, between: Override | None = None
) -> tuple[Source, ...]:
    """Give the cascade for a shape's or a cell's text, nearest first.

    between: stands between the shape's own list styles and the defaults (a
    fontRef, a table style).
    """
    own = child(text_body, "a:lstStyle")
    found = [Source("shape's list style", own)]
    for shape, name in zip(lineage.shapes[1:], lineage.names[1:], strict=True):
        found.append(Source(name, child(shape, "p:txBody", "a:lstStyle")))
    if between is not None:
        found.append(Source(between.words, override=between))
    styles = child(parts.master.root, "p:txStyles") if parts.master else None
    defaults = Source("presentation default", child(parts.presentation.root, "p:defaultTextStyle"))
    other = Source("master other style", child(styles, "p:otherStyle"))
    if lineage.text_kind is TextKind.TITLE:
        found += [Source("master title style", child(styles, "p:titleStyle")), defaults]
    elif lineage.text_kind is TextKind.BODY:
        found += [Source("master body style", child(styles, "p:bodyStyle")), defaults]
    elif lineage.text_kind is TextKind.OTHER:
        found += [other, defaults]
    else:
        found += [defaults, other]
    return tuple(found)


@dataclass(frozen=True)
class Cascade:
    """The properties in force for the paragraphs of one level.

    paragraphs: the elements that may hold paragraph properties, nearest first;
    runs: the elements that may hold run properties, with their names, and the
    overrides in their places.
    """

    paragraphs: tuple[Element, ...]
    runs: tuple[tuple[str, Element | Override], ...]

    def paragraph_attribute(self, name: str) -> str | None:
        """Give the nearest paragraph attribute of a name."""
        return next((e.get(name) for e in self.paragraphs if e.get(name) is not None), None)

    def paragraph_child(self, *names: str) -> Element | None:
        """Give the nearest paragraph child that bears one of the names (without prefix)."""
        for element in self.paragraphs:
            for each in children(element):
                if local_name(each) in names:
                    return each
        return None

    def run_attribute(self, own: Element | None, name: str) -> str | None:
        """Give the nearest run attribute of a name, starting with the run's own properties."""
        for element in self._elements(own):
            value = element.get(name)
            if value is not None:
                return value
        return None

    def run_child(self, own: Element | None, name: str) -> Element | None:
        """Give the nearest run child of a name (without prefix)."""
        for element in self._elements(own):
            for each in children(element):
                if local_name(each) == name:
                    return each
        return None

    def _elements(self, own: Element | None) -> list[Element]:
        inherited = [each for _, each in self.runs if not isinstance(each, Override)]
        return ([own] if own is not None else []) + inherited

    def _steps(self, own: Element | None) -> list[tuple[str, Element | Override]]:
        return ([("run", own)] if own is not None else []) + list(self.runs)

    def style(self, own: Element | None, name: str) -> bool:
        """Tell whether `b` or `i` is in force."""
        for _, step in self._steps(own):
            if isinstance(step, Override):
                value = step.bold if name == "b" else step.italic
                if value is not None:
                    return value
            elif step.get(name) is not None:
                return flag(step, name)
        return False

    def size(self, own: Element | None) -> float:
        """Give the stated size in points, before any autofit."""
        stated = number(self.run_attribute(own, "sz")) / 100
        return stated if 0.01 <= stated <= 4000 else PLAIN_SIZE

    def family(self, own: Element | None, theme: Theme) -> str:
        """Give the font family of Latin text."""
        for _, step in self._steps(own):
            if isinstance(step, Override):
                if step.font:
                    return step.font
                continue
            latin = child(step, "a:latin")
            name = latin.get("typeface") if latin is not None else None
            if name:
                return theme.font(name)
        return theme.minor

    def colour(self, own: Element | None, palette: Palette) -> TextColour:
        """Give the colour of a run; a colour of an unknown name is passed over."""
        for words, step in self._steps(own):
            if isinstance(step, Override):
                found = _override_colour(step)
            else:
                found = _element_colour(words, step, palette)
            if found is not None:
                return found
        fallback = palette.lookup("tx1") or BLACK
        slot = palette.slot("tx1") or ""
        return TextColour(fallback, "no style says another: theme tx1", slot=slot)


def _override_colour(step: Override) -> TextColour | None:
    if step.trouble:
        return TextColour(BLACK, step.words, trouble=step.trouble)
    if step.colour is None:
        return None
    return TextColour(step.colour, _joined(step.words, step.colour_origin))


def _joined(words: str, origin: str) -> str:
    return f"{words} → {origin}" if origin else words


def _element_colour(words: str, element: Element, palette: Palette) -> TextColour | None:
    fill = fill_element(element)
    if fill is None:
        return None
    if local_name(fill) == "noFill":
        return TextColour(BLACK, words, invisible=True)
    read = read_fill(fill, palette)
    if read.picture:
        return TextColour(BLACK, words, trouble="text filled with a picture isn't measured yet")
    if local_name(fill) == "grpFill":
        return TextColour(BLACK, words, trouble="text filled as its group is isn't measured yet")
    if local_name(fill) != "solidFill":
        return TextColour(BLACK, words, trouble=read.trouble, fill=read)
    if read.colour is None:
        return None
    own = words == "run"
    return TextColour(
        read.colour,
        _joined(words, read.origin),
        element=None if own else element,
        style="" if own else words,
        slot=plain_slot(colour_element(fill), palette),
    )


def cascade_for(sources: tuple[Source, ...], level: int, own_paragraph: Element | None) -> Cascade:
    """Put the cascade of one level (0 to 8) together."""
    level = min(max(level, 0), LEVELS - 1)
    paragraphs = [own_paragraph] if own_paragraph is not None else []
    runs: list[tuple[str, Element | Override]] = []
    for source in sources:
        if source.override is not None:
            runs.append((source.words, source.override))
            continue
        for name in (f"a:lvl{level + 1}pPr", "a:defPPr"):
            properties = child(source.list_style, name)
            if properties is None:
                continue
            paragraphs.append(properties)
            defaults = child(properties, "a:defRPr")
            if defaults is not None:
                runs.append((source.words, defaults))
    return Cascade(tuple(paragraphs), tuple(runs))
