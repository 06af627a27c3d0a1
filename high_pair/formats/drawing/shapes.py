"""The shapes of a slide, its layout and its master, as items of the page in z order.

Source: ECMA-376 Part 1 §19.3.1 (the shape tree), §20.1.2.2 (shapes), and
Part 3 §10 (alternate content).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Protocol

from lxml import etree

from high_pair.formats.alternatives import chosen_children
from high_pair.formats.charts.reader import ChartReader
from high_pair.formats.charts.texts import ChartPlace
from high_pair.formats.drawing.colours import colour_element, resolve
from high_pair.formats.drawing.effects import CastShadow, Effects, read_effects
from high_pair.formats.drawing.fills import (
    NOTHING,
    Fill,
    fill_element,
    read_fill,
    read_picture_fill,
    shared_by_group,
)
from high_pair.formats.drawing.geometry import OPEN, Geometry, read_geometry
from high_pair.formats.drawing.lines import Line, read_line
from high_pair.formats.drawing.numbering import numbered_shapes
from high_pair.formats.drawing.placeholders import (
    Lineage,
    lineage_of,
    placeholder_of,
    properties_of,
)
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.surface_items import surface_items
from high_pair.formats.drawing.surfaces import (
    inner_shadow_of,
    linear_part,
    obstacles_inside,
    obstacles_round,
    picture_items,
    picture_shadow_of,
    styled_fill,
)
from high_pair.formats.drawing.surround import (
    Placed,
    Position,
    Surround,
    page_surround,
    position_of,
)
from high_pair.formats.drawing.tables import TableReader
from high_pair.formats.drawing.text import Place, text_block
from high_pair.formats.drawing.text_styles import Override, font_reference, sources_of
from high_pair.formats.parts import Part
from high_pair.formats.xml import Element, child, children, flag, local_name, tag, whole
from high_pair.scene.addresses import address_below, address_in
from high_pair.scene.geometry import IDENTITY, Box, moved, rectangle
from high_pair.scene.page import Figure, Item, Obstacle, Picture
from high_pair.scene.soft_edge import faded
from high_pair.scene.text import TextBlock, with_each_run

DEEPEST_GROUP = 64
_KINDS = {"chart": "charts", "diagram": "diagrams", "oleObj": "embedded objects"}


class RelatedParts(Protocol):
    """Gives what parts beside a slide, its layout and its master hold."""

    def words_of(self, member: str) -> str:
        """Give the words of a chart's or a diagram's part; empty for none."""

    def diagram(self, part: Part, data: Element | None) -> Part | None:
        """Give the drawing of a diagram in a frame of `part`; None when it is none, or lost."""

    def chart(self, part: Part, data: Element | None) -> Part | None:
        """Give the chart in a frame of `part`; None when it is none, or lost."""


# Gives the items of a shape's text, for its place and the box that its outline leaves for it.
TextOf = Callable[[Element, Placed, Box], Iterator[Item]]


class ShapeReader:
    """Reads the shapes of one part (slide, layout or master) for one slide.

    on: which of the three the part is; words: the page's name for the report;
    page: its number; background: the slide's own, for shapes that show it;
    related: gives what other parts hold; tree, surround: the shapes to read and
    their coordinates, when they aren't the part's own; fixed: why the colours
    of its text can't be changed; text_of: gives the text of shapes that hold
    none of DrawingML's own; numbers: of the shapes in their addresses, when
    they aren't counted from the tree's first.
    """

    def __init__(
        self,
        part: Part,
        on: str,
        parts: Setting,
        words: str,
        page: int,
        background: Fill,
        related: RelatedParts,
        tree: Element | None = None,
        surround: Surround | None = None,
        fixed: str = "",
        text_of: TextOf | None = None,
        numbers: Mapping[Element, int] | None = None,
    ) -> None:
        self.part = part
        self.on = on
        self.parts = parts
        self.words = words if on == "slide" else f"{words} › {on}"
        self.page = page
        self.background = background
        self.related = related
        self.tree = tree if tree is not None else child(part.root, "p:cSld", "p:spTree")
        self.surround = surround or page_surround()
        self.fixed = fixed
        self.text_of = text_of
        if numbers is None:
            listed = numbered_shapes(self.tree)
            numbers = {shape: count for count, shape in enumerate(listed, start=1)}
        self.numbers = numbers

    def items(self) -> list[Item]:
        """Give everything that the part paints on the slide, lowest first."""
        return list(self.each())

    def each(self) -> Iterator[Item]:
        """Give the same one after the other."""
        return self._tree(self.tree, self.surround, 0)

    def _tree(self, tree: Element | None, surround: Surround, depth: int) -> Iterator[Item]:
        if depth > DEEPEST_GROUP:
            return
        for shape in chosen_children(tree):
            name = local_name(shape)
            if flag(child(properties_of(shape), "p:cNvPr"), "hidden"):
                continue
            if name == "grpSp":
                yield from self._group(shape, surround, depth)
            elif self.on != "slide" and placeholder_of(shape) is not None:
                # A layout's and a master's placeholders show prompts to editors only.
                continue
            elif name in ("sp", "cxnSp"):
                yield from self._shape(shape, surround)
            elif name == "pic":
                yield from self._picture(shape, surround)
            elif name == "graphicFrame":
                yield from self._frame(shape, surround)
            elif name == "contentPart":
                placed = surround.place(_ink_position(shape))
                yield Obstacle(placed.box, placed.transform, "ink isn't painted yet")

    def _group(self, group: Element, surround: Surround, depth: int) -> Iterator[Item]:
        properties = child(group, "p:grpSpPr")
        element = fill_element(properties)
        fill = surround.fill
        if element is not None and local_name(element) != "grpFill":
            fill = shared_by_group(read_fill(element, self.parts.palette))
        yield from self._tree(group, surround.inside(child(properties, "a:xfrm"), fill), depth + 1)

    # What every shape has

    def _name(self, shape: Element) -> str:
        named = child(properties_of(shape), "p:cNvPr")
        name = named.get("name", "") if named is not None else ""
        return f"{self.words} › {name or 'shape'}"

    def _address(self, shape: Element) -> str:
        return address_in(self.part.member, sp=self.numbers.get(shape, 0))

    def _placed(self, lineage: Lineage, surround: Surround) -> Placed | None:
        for shape in lineage.shapes:
            for holder in ("p:spPr", "p:grpSpPr"):
                position = position_of(child(shape, holder, "a:xfrm"))
                if position is not None:
                    return surround.place(position)
            position = position_of(child(shape, "p:xfrm"))
            if position is not None:
                return surround.place(position)
        return None

    def _fill(self, lineage: Lineage, surround: Surround) -> Fill:
        """Give a shape's fill: its own, its placeholders', or its style's."""
        shape = lineage.shapes[0]
        if flag(shape, "useBgFill"):
            if self.background.colour is None and self.background != NOTHING:
                return Fill(trouble="the page's own varied background as a fill isn't painted yet")
            return self.background
        for ancestor in lineage.shapes:
            element = fill_element(child(ancestor, "p:spPr"))
            if element is None:
                continue
            if local_name(element) == "grpFill":
                return surround.fill or NOTHING
            return read_fill(element, self.parts.palette)
        reference = child(shape, "p:style", "a:fillRef")
        return styled_fill(reference, self.parts)

    def _line(self, lineage: Lineage) -> Line | None:
        """Give a shape's line, each part of it from its own, its placeholders' or its style's."""
        palette = self.parts.palette
        found = []
        for ancestor in lineage.shapes:
            own = child(ancestor, "p:spPr", "a:ln")
            if own is not None:
                found.append((own, palette))
        reference = child(lineage.shapes[0], "p:style", "a:lnRef")
        index = whole(reference, "idx")
        lines = self.parts.theme.lines
        if 1 <= index <= len(lines):
            colour = resolve(colour_element(reference), palette)
            found.append((lines[index - 1], palette.with_stand_in(colour)))
        return read_line(found)

    def _effects(self, lineage: Lineage) -> Effects:
        for ancestor in lineage.shapes:
            properties = child(ancestor, "p:spPr")
            for name in ("a:effectLst", "a:effectDag"):
                effects = child(properties, name)
                if effects is not None:
                    return read_effects(effects, self.parts.palette)
        reference = child(lineage.shapes[0], "p:style", "a:effectRef")
        index = whole(reference, "idx")
        listed = self.parts.theme.effects
        if not 1 <= index <= len(listed):
            return Effects()
        colour = resolve(colour_element(reference), self.parts.palette)
        palette = self.parts.palette.with_stand_in(colour)
        return read_effects(child(listed[index - 1], "a:effectLst"), palette)

    def _geometry(self, lineage: Lineage, box: Box) -> Geometry:
        """Give a shape's outline: its own, or its placeholders'."""
        for ancestor in lineage.shapes:
            geometry = read_geometry(child(ancestor, "p:spPr"), box)
            if geometry is not None:
                return geometry
        return Geometry("rect", rectangle(box), box)

    # Shapes with a fill and text

    def _shape(self, shape: Element, surround: Surround) -> Iterator[Item]:
        lineage = lineage_of(shape, self.parts.layout, self.parts.master, self.on)
        placed = self._placed(lineage, surround)
        body = child(shape, "p:txBody")
        if placed is None:
            if body is not None:
                yield from self._text(shape, body, lineage, None, _WHOLE, Effects())
            return
        fill, line = self._fill(lineage, surround), self._line(lineage)
        geometry = self._geometry(lineage, placed.box)
        if geometry.name in OPEN:
            fill = NOTHING
        effects = self._effects(lineage)
        bare = fill == NOTHING and line is None
        texts: list[Item] = []
        if body is not None:
            of_text = replace(effects, reflection=None) if bare else Effects()
            fillable = fill == NOTHING and effects == Effects() and geometry.name == "rect"
            place = (placed, geometry.text_box)
            texts += self._text(shape, body, lineage, *place, of_text, fillable)
        painted = list(surface_items(self.part, placed, fill, line, geometry, effects.shadow))
        if not bare or effects.reflection is not None:
            # Letters that are read elsewhere stand for what isn't known of them.
            letters = texts if self.text_of is None else [Obstacle(placed.box, IDENTITY, "")]
            yield from obstacles_round(placed, effects, _own(painted, placed), letters)
        surface: list[Figure | Picture] = []
        outlines = (geometry.filled, *(face.outline for face in geometry.faces))
        for item in painted:
            own = isinstance(item, Figure | Picture) and item.transform == placed.transform
            if isinstance(item, Figure) and own and not item.guess and item.outline in outlines:
                # Where its colour can be changed; a shadow stands elsewhere.
                address = "" if self.fixed else address_below(self._address(shape), fill="")
                item = replace(item, address=address)
            if isinstance(item, Figure | Picture) and own and (effects.soft or effects.blur):
                surface.append(item)
                item = faded(item, effects.soft or effects.blur / 2)
            yield item
        if effects.inner_shadow is not None and fill != NOTHING and geometry.filled is not None:
            yield inner_shadow_of(effects.inner_shadow, geometry.filled, placed)
        if not bare:
            yield from obstacles_inside(placed, geometry.filled, effects, surface)
        yield from texts
        if body is None and self.text_of is not None:
            yield from self.text_of(shape, placed, geometry.text_box)

    def _text(
        self,
        shape: Element,
        body: Element,
        lineage: Lineage,
        placed: Placed | None,
        text_box: Box,
        effects: Effects,
        bare: bool = False,
    ) -> Iterator[Item]:
        """Give a shape's text.

        effects: those of a shape that has nothing but text; bare: it is a rectangle without
        a fill or effects, to which one could be given.
        """
        palette, theme = self.parts.palette, self.parts.theme
        reference: Override | None = font_reference(shape, palette, theme)
        sources = sources_of(lineage, self.parts, body, reference)
        inherited = [
            properties
            for ancestor in lineage.shapes[1:]
            if (properties := child(ancestor, "p:txBody", "a:bodyPr")) is not None
        ]
        trouble = ""
        if effects.unpainted_on_text:
            trouble = f"the text has a {effects.unpainted_on_text}, which isn't painted yet"
        if placed is None:
            trouble = "the shape has no place: neither it nor its layout states one"
            placed = page_surround().place(_NOWHERE)
        upright = placed.upright
        own_place = position_of(child(shape, "p:txXfrm"))
        if own_place is not None:
            # A diagram's shapes state where their text stands.
            placed_text = self.surround.place(own_place)
            text_box, upright = placed_text.box, placed_text.upright
        place = Place(text_box, upright, self._name(shape), self._address(shape), self.page)
        block = text_block(body, inherited, place, sources, self.parts, trouble)
        if block is not None and effects.shadow is not None:
            block = _shadowed(block, effects.shadow)
        elif block is not None and bare and block.transform == upright:
            block = replace(block, bare=placed.box)
        if block is not None:
            yield with_each_run(block, lambda run: replace(run, fixed=self.fixed or run.fixed))

    # Pictures

    def _picture(self, shape: Element, surround: Surround) -> Iterator[Item]:
        lineage = lineage_of(shape, self.parts.layout, self.parts.master, self.on)
        placed = self._placed(lineage, surround)
        if placed is None:
            return
        geometry = self._geometry(lineage, placed.box)
        effects = self._effects(lineage)
        if geometry.filled is None:
            reason = f"a picture cut to “{geometry.name}” isn't painted yet"
            yield Obstacle(placed.box, placed.transform, reason)
            return
        whole = replace(effects, soft=0.0, blur=0.0)
        plain = list(self._pictured(shape, lineage, placed, geometry, whole))
        yield from obstacles_round(placed, effects, _own(plain, placed))
        yield from self._pictured(shape, lineage, placed, geometry, effects)
        surface = [item for item in _own(plain, placed) if isinstance(item, Figure | Picture)]
        yield from obstacles_inside(placed, geometry.filled, effects, surface)

    def _pictured(
        self,
        shape: Element,
        lineage: Lineage,
        placed: Placed,
        geometry: Geometry,
        effects: Effects,
    ) -> Iterator[Item]:
        """Give a picture with its shadows, what shows through it, and its line."""
        soft = effects.soft or effects.blur / 2
        filling = child(shape, "p:blipFill")
        if geometry.filled is not None:
            own = fill_element(child(shape, "p:spPr"))
            line = self._line(lineage)
            behind = read_fill(own, self.parts.palette)
            picture = (
                read_picture_fill(filling, self.parts.palette) if filling is not None else None
            )
            cast = effects.shadow
            if cast is not None and behind == NOTHING and picture is not None:
                yield from picture_shadow_of(cast, picture, self.part, placed, geometry.filled)
                cast = None
            for item in surface_items(self.part, placed, behind, None, geometry, cast):
                if isinstance(item, Figure) and item.transform == placed.transform and soft:
                    item = faded(item, soft)
                yield item
            if picture is not None:
                for item in picture_items(picture, self.part, placed, geometry.filled):
                    if isinstance(item, Picture):
                        item = replace(item, address="" if self.fixed else self._address(shape))
                        yield faded(item, soft) if soft else item
                    else:
                        yield item
            if effects.inner_shadow is not None:
                yield inner_shadow_of(effects.inner_shadow, geometry.filled, placed)
            yield from surface_items(self.part, placed, NOTHING, line, geometry)

    # Tables, charts and the rest that comes in frames

    def _frame(self, frame: Element, surround: Surround) -> Iterator[Item]:
        lineage = lineage_of(frame, self.parts.layout, self.parts.master, self.on)
        placed = self._placed(lineage, surround)
        if placed is None:
            placed = surround.place(_NOWHERE)
        data = child(frame, "a:graphic", "a:graphicData")
        table = child(data, "a:tbl")
        if table is not None:
            reader = TableReader(
                table,
                placed.box,
                placed.upright,
                self._name(frame),
                self._address(frame),
                self.page,
                self.parts,
            )
            yield from reader.items()
            return
        chart = self.related.chart(self.part, data)
        if chart is not None:
            place = ChartPlace(placed, self._name(frame), address_in(chart.member, chart=1))
            yield from ChartReader(chart, place, self.parts).items()
            if child(chart.root, "c:userShapes") is not None:
                kind = "shapes drawn over a chart"
                yield Obstacle(placed.box, placed.transform, f"{kind} aren't painted yet")
                drawing_over = child(chart.root, "c:userShapes")
                yield from self._unread_text(frame, drawing_over, placed, kind, chart)
            return
        drawing = self.related.diagram(self.part, data)
        if drawing is not None:
            yield from self._diagram(frame, drawing, surround)
            return
        preview = next(data.iter(tag("p:pic")), None) if data is not None else None
        if preview is not None:
            yield from self._picture(preview, surround)
            return
        content = next(iter(children(data)), None)
        kind = "objects of this kind"
        if data is not None:
            last = data.get("uri", "").rstrip("/").rpartition("/")[2]
            kind = _KINDS.get(last, kind)
        yield Obstacle(placed.box, placed.transform, f"{kind} aren't painted yet")
        yield from self._unread_text(frame, content, placed, kind)

    def _diagram(self, frame: Element, drawing: Part, surround: Surround) -> Iterator[Item]:
        """Read a diagram's drawing, whose shapes count from the frame's corner."""
        position = position_of(child(frame, "p:xfrm")) or _NOWHERE
        corner = surround.transform.after(moved(position.x, position.y))
        inside = Surround(corner, surround.scale_x, surround.scale_y, surround.orientation)
        reader = ShapeReader(
            drawing,
            "slide",
            self.parts,
            self._name(frame),
            self.page,
            self.background,
            self.related,
            child(drawing.root, "p:spTree"),
            inside,
            "The colours of a diagram's text come from the diagram. Change them there.",
        )
        yield from reader.items()

    def _unread_text(
        self,
        frame: Element,
        content: Element | None,
        placed: Placed,
        kind: str,
        part: Part | None = None,
    ) -> Iterator[Item]:
        """List the words of a chart or a diagram, so that they aren't skipped in silence.

        part: whose relationships `content` names, the page's own when None.
        """
        words: list[str] = []
        for key, value in content.attrib.items() if content is not None else ():
            if str(key) in (tag("r:id"), tag("r:dm")):
                words.append(self.related.words_of((part or self.part).target_of(str(value))))
        text = " · ".join(word for word in words if word)
        if not text:
            return
        body = _body_of(text)
        lineage = Lineage((frame,), ("shape",), None)
        sources = sources_of(lineage, self.parts, body)
        place = Place(
            placed.box, placed.upright, self._name(frame), self._address(frame), self.page
        )
        trouble = f"the text of {kind} isn't measured yet"
        block = text_block(body, (), place, sources, self.parts, trouble)
        if block is not None:
            yield block


_NOWHERE = Position(0.0, 0.0, 0.0, 0.0)
_WHOLE = Box(0.0, 0.0, 100.0, 100.0)


def _own(items: Sequence[Item], placed: Placed) -> list[Item]:
    """Give a shape's own items, without its shadows."""
    kinds = Figure | Picture | Obstacle
    return [
        item for item in items if isinstance(item, kinds) and item.transform == placed.transform
    ]


def _shadowed(block: TextBlock, cast: CastShadow) -> TextBlock:
    """Give a block's text a shadow, where its runs have none of their own."""
    shadow = cast.for_text(linear_part(block.transform))
    return with_each_run(
        block, lambda run: run if run.shadow is not None else replace(run, shadow=shadow)
    )


def _ink_position(shape: Element) -> Position:
    """Find the place of ink, whose xfrm stands in a namespace of its own."""
    for each in children(shape):
        if local_name(each) == "xfrm":
            return position_of(each) or _NOWHERE
    return _NOWHERE


def _body_of(text: str) -> Element:
    """Make a text body that holds a text without any formatting."""
    body = etree.Element(tag("p:txBody"))
    run = etree.SubElement(etree.SubElement(body, tag("a:p")), tag("a:r"))
    etree.SubElement(run, tag("a:t")).text = text
    return body
