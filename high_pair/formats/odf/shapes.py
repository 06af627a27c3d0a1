"""The shapes of a page and of its master page as items in z order (ODF 1.3 Part 3 §10)."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from high_pair.formats.odf.automatic import looked_at
from high_pair.formats.odf.fills import OdfFill, fill_of
from high_pair.formats.odf.inner import lettering_items, object_items
from high_pair.formats.odf.lines import heads_of, reach_of_shadow, shadow_of, stroke_of
from high_pair.formats.odf.outlines import (
    Drawn,
    bounds_of,
    connector_outline,
    has_letters_for_outline,
    outline_of,
)
from high_pair.formats.odf.overlays import is_overlay
from high_pair.formats.odf.picture_effects import picture_effects
from high_pair.formats.odf.places import Place, line_of, place_of
from high_pair.formats.odf.shrinking import shrunk_to_fit
from high_pair.formats.odf.styles import Styles, attribute
from high_pair.formats.odf.table_items import table_items
from high_pair.formats.odf.text import ANCHORS, AUTOMATIC, AddressOf, Holder, TextReader
from high_pair.formats.odf.units import length, percent
from high_pair.formats.picture_members import RASTERS
from high_pair.formats.xml import Element, child, children, local_name, tag
from high_pair.raster.layout import text_height
from high_pair.scene.addresses import address_below
from high_pair.scene.geometry import IDENTITY, Box, Outline, line, moved, rectangle
from high_pair.scene.page import Figure, Item, Obstacle, Picture
from high_pair.scene.paint import WHITE, Colour, Shadow, Stroke, colours_of
from high_pair.scene.paint import Fill as SceneFill
from high_pair.scene.soft_edge import faded, uncertain
from high_pair.scene.text import Anchor, TextBlock, with_each_run
from high_pair.scene.unsure import some_form, unsure_fill

SHAPES = frozenset(
    {
        "frame", "custom-shape", "rect", "ellipse", "circle", "line", "connector", "polyline",
        "polygon", "path", "regular-polygon", "caption", "measure", "control", "page-thumbnail",
    }
)  # fmt: skip
# A master's own frames that a page may show with words of its own.
SHOWN_ON_PAGES = {
    "footer": "presentation:display-footer",
    "date-time": "presentation:display-date-time",
    "page-number": "presentation:display-page-number",
    "header": "presentation:display-header",
}
# By how many points a connector may leave the box of its ends.
UNKNOWN_BEND = 36.0
DEEPEST_GROUP = 64
# The shapes whose fill is a rectangle.
RECTANGLES = ("frame", "rect")


def shapes_in(page: Element) -> list[Element]:
    """List a page's shapes in document order, those in groups too."""
    found: list[Element] = []

    def walk(holder: Element, depth: int) -> None:
        for each in children(holder):
            name = local_name(each)
            if name in SHAPES:
                found.append(each)
            elif name in ("g", "a") and depth < DEEPEST_GROUP:
                walk(each, depth + 1)

    walk(page, 0)
    return found


def all_shapes(root: Element) -> list[Element]:
    """List the shapes of a text document's member as addresses number them from 1."""
    return list(root.iter(*(tag(f"draw:{name}") for name in sorted(SHAPES))))


def numbered_shapes(page: Element) -> list[Element]:
    """List the shapes of a page that addresses number from 1: all but overlays."""
    return [shape for shape in shapes_in(page) if not is_overlay(shape)]


@dataclass(frozen=True)
class PageContext:
    """What all shapes of a page share.

    words: the page's name; address: the prefix of its shapes' addresses;
    scope: whose automatic styles count; background: what automatic colours
    look at where a shape has no fill, None when it isn't one colour;
    fields: what the page's fields say; picture_name: turns a draw:image into
    the name under which the document gives its bytes, empty when it has none;
    picture_size: gives a picture's own size in points, None when it has none;
    picture_mean: the mean colour of what a draw:image or draw:fill-image shows, None likewise;
    skips: see a holder's `skipped`;
    object_root: gives the content of an embedded object; address_of: as a holder's;
    flow_of: lets a box's text flow that holds more than paragraphs and lists, and says
    how high it gets.
    """

    words: str
    address: str
    scope: str
    background: Colour | None
    fields: dict[str, str]
    bare_is_tenths: bool
    picture_name: Callable[[Element], str]
    picture_size: Callable[[str], tuple[float, float] | None]
    picture_mean: Callable[[Element], Colour | None]
    object_root: Callable[[Element], Element | None]
    skips: bool | None
    address_of: AddressOf | None = None
    flow_of: Callable[[Element, Holder], tuple[list[Item], float]] | None = None


class ShapeReader:
    """Reads the shapes of one page or master page."""

    def __init__(
        self,
        page: Element,
        styles: Styles,
        context: PageContext,
        first: int = 1,
        numbers: Mapping[Element, int] | None = None,
    ) -> None:
        """Take what holds the shapes.

        first: the number of its first shape in addresses; numbers: those of
        the shapes, where they aren't counted within what holds them.
        """
        self.page = page
        self.styles = styles
        self.context = context
        self.shapes = shapes_in(page)
        counted = (shape for shape in self.shapes if not is_overlay(shape))
        own = {shape: count for count, shape in enumerate(counted, start=first)}
        self.numbers = own if numbers is None else numbers

    def items(self, wanted: Callable[[Element], bool]) -> list[Item]:
        """Give the items of the shapes that `wanted` accepts, lowest first."""
        found: list[Item] = []
        for shape in self.shapes:
            if wanted(shape):
                found.extend(self._addressed(shape, item) for item in self._shape(shape))
        return found

    def items_of(self, shape: Element) -> list[Item]:
        """Give the items of one shape, and of those within it where it is a group."""
        within = {shape, *shape.iter()}
        return self.items(lambda each: each in within)

    def note(self, note: Element) -> list[Item]:
        """Give the items of a comment, which is a shape without a name among shapes (§14.1)."""
        place, chain = place_of(note), self.chain(note)
        fill = fill_of(chain, self.styles, place.box, self.context.bare_is_tenths)
        found = list(self._surface(place, chain, fill, (Drawn(rectangle(place.box)),)))
        return [*found, *self.text(note, note, place, place.box, chain, fill)]

    def _addressed(self, shape: Element, item: Item) -> Item:
        """Say of a shape's own fill, and of a picture, where it can be changed."""
        number = self.numbers.get(shape)
        if number is None or child(shape, "table:table") is not None:
            return item
        address = address_below(self.context.address, shape=number)
        if isinstance(item, Figure) and item.holes:
            return replace(item, address=address_below(address, fill=""))
        is_frame = local_name(shape) == "frame"
        if isinstance(item, Picture) and is_frame and item.silhouette is None:
            return replace(item, address=address)
        return item

    def background(self, fill: OdfFill, box: Box) -> Iterator[Item]:
        """Paint the page's background."""
        if fill.trouble:
            reason = f"the page's background: {fill.trouble}"
            yield from unsure_fill(rectangle(box), box, IDENTITY, fill.shades, reason)
        for item in self.filled(Place(box, IDENTITY), fill, rectangle(box)):
            yield changed_at(item, address_below(self.context.address, fill=""))

    # Styles

    def chain(self, shape: Element) -> tuple[Element, ...]:
        """Give the styles of a shape, nearest first, the default last."""
        presentation = shape.get(tag("presentation:style-name"))
        if presentation:
            own = self.styles.chain("presentation", presentation, self.context.scope)
        else:
            name = shape.get(tag("draw:style-name"))
            own = self.styles.chain("graphic", name, self.context.scope)
        return (*own, *self.styles.default("graphic"))

    def _text_styles(self, shape: Element) -> tuple[tuple[str, Element], ...]:
        name = shape.get(tag("draw:text-style-name"))
        own = self.styles.chain("paragraph", name, self.context.scope)
        found = [("shape's text style", style) for style in own]
        for style in self.chain(shape):
            name = style.get(tag("style:name"))
            found.append((f"style {name}" if name else "default style", style))
        return tuple(found)

    def _outline_prefix(self, shape: Element) -> str:
        """Give the name to which list levels add, for an outline's text."""
        if shape.get(tag("presentation:class")) != "outline":
            return ""
        master = self.page.get(tag("draw:master-page-name")) or self.page.get(tag("style:name"))
        return master or ""

    # Shapes

    def _shape(self, shape: Element) -> Iterator[Item]:
        name = local_name(shape)
        place = place_of(shape)
        chain = self.chain(shape)
        if name in ("line", "connector", "measure"):
            yield from self._line(shape, chain, place)
        elif name == "frame":
            yield from self._frame(shape, chain, place)
        elif name in ("page-thumbnail", "control"):
            if name == "control":
                yield Obstacle(place.box, place.transform, "form controls aren't painted yet")
        else:
            fill = fill_of(chain, self.styles, place.box, self.context.bare_is_tenths)
            if has_letters_for_outline(shape):
                yield from lettering_items(self, shape, chain, fill, place)
                return
            outline = outline_of(shape, place.box)
            yield from self._surface(place, chain, fill, outline.parts if outline else None)
            text_box = outline.text_box if outline else place.box
            yield from self.text(shape, shape, place, text_box, chain, fill)

    def _line(self, shape: Element, chain: Sequence[Element], place: Place) -> Iterator[Item]:
        start, end = line_of(shape)
        stroke = stroke_of(chain, self.styles)
        if stroke is None:
            return
        outline: Outline | None = line(start, end)
        name = local_name(shape)
        if name == "connector" and (
            shape.get(tag("svg:d")) or shape.get(tag("draw:type")) != "line"
        ):
            outline = connector_outline(shape, start, end)
        elif name == "measure":
            outline = None
        if outline is None:
            box = bounds_of(line(start, end)).grown(UNKNOWN_BEND)
            reason = f"this {name} isn't painted yet"
            yield from some_form(box, place.transform, [stroke.fill], reason)
        else:
            box = bounds_of(outline)
            yield Figure(outline, box, place.transform, stroke=stroke)
            yield from heads_of(chain, self.styles, stroke, outline, box, place.transform)

    def _surface(
        self,
        place: Place,
        chain: Sequence[Element],
        fill: OdfFill,
        parts: Sequence[Drawn] | None,
    ) -> Iterator[Item]:
        """Paint a shape's shadow, fill and line; parts: None where its outline isn't known."""
        stroke = stroke_of(chain, self.styles)
        if not fill.paints and stroke is None:
            return
        if parts is None:
            fills: list[SceneFill | str] = [stroke.fill] if stroke is not None else []
            if fill.paints:
                fills.append(fill.fill or fill.trouble or "picture")
            reason = "the outline of this shape isn't painted yet"
            yield from some_form(place.box, place.transform, fills, reason)
            return
        yield from self._shadow(place, chain, fill, parts, stroke)
        if fill.trouble:
            for part in parts:
                if part.filled:
                    own = (part.outline, place.box, place.transform)
                    yield from unsure_fill(*own, fill.shades, fill.trouble)
        soft = length(attribute(chain, "graphic", "loext:softedge-radius"))
        for part in parts:
            whole: list[Figure | Picture] = []
            for item in self.filled(place, fill, part.outline) if part.filled else ():
                if soft and isinstance(item, Figure | Picture):
                    whole.append(item)
                    item = faded(item, soft)
                yield item
            if soft:
                outline = part.outline
                yield from uncertain(place.box, place.transform, outline, soft, tuple(whole))
            if part.lined and stroke is not None:
                yield Figure(part.outline, place.box, place.transform, stroke=stroke)
                yield from heads_of(
                    chain, self.styles, stroke, part.outline, place.box, place.transform
                )

    def filled(self, place: Place, fill: OdfFill, outline: Outline) -> Iterator[Item]:
        """Paint a fill in an outline, whose inner parts are holes."""
        box, transform = place.box, place.transform
        if fill.fill is not None:
            yield Figure(outline, box, transform, fill.fill, holes=True)
        if fill.picture is not None:
            yield self._filled_with_picture(place, fill, outline)

    def _shadow(
        self,
        place: Place,
        chain: Sequence[Element],
        fill: OdfFill,
        parts: Sequence[Drawn],
        stroke: Stroke | None,
    ) -> Iterator[Item]:
        shadow = shadow_of(chain)
        if shadow is None:
            return
        if isinstance(shadow, str):
            yield Obstacle(place.box.grown(reach_of_shadow(chain)), place.transform, shadow)
            return
        transform = moved(shadow.across, shadow.down).after(place.transform)
        if fill.paints and sum(part.filled for part in parts) > 1:
            # Their shadow is one, and not darker where two of them overlap.
            reason = "the shadow of a shape of several parts isn't painted yet"
            yield Obstacle(place.box.grown(3 * shadow.blur), transform, reason)
            return
        for part in parts:
            if fill.picture is not None and part.filled:
                picture = self._filled_with_picture(place, fill, part.outline)
                if isinstance(picture, Picture):
                    yield from _shadow_of_picture(picture, chain)
                continue
            if part.filled and fill.paints:
                # A see-through fill casts a fainter shadow.
                shades = colours_of(fill.fill) if fill.fill is not None else ()
                opacity = max((each.opacity for each in shades), default=1.0)
                colour_of_shadow = shadow.colour.with_opacity(shadow.colour.opacity * opacity)
                yield Figure(part.outline, place.box, transform, colour_of_shadow, blur=shadow.blur)
            elif part.lined and stroke is not None:
                line_of_shadow = replace(stroke, fill=shadow.colour)
                yield Figure(part.outline, place.box, transform, None, line_of_shadow, shadow.blur)

    def _filled_with_picture(self, place: Place, fill: OdfFill, outline: Outline) -> Item:
        """Paint a picture in an outline: stretched over its box, repeated, or once."""
        name = self.context.picture_name(fill.picture) if fill.picture is not None else ""
        if not name:
            return Obstacle(place.box, place.transform, "a picture is missing from the file")
        picture = Picture(name, place.box, place.transform, opacity=fill.opacity, clip=outline)
        if fill.repeat is None:
            return picture
        natural = self.context.picture_size(name)
        if natural is None:
            return picture
        if not fill.repeat.repeats:
            return replace(picture, box=fill.repeat.single(natural, place.box))
        return replace(picture, tile=fill.repeat.tile(natural))

    def _frame(self, shape: Element, chain: Sequence[Element], place: Place) -> Iterator[Item]:
        table = child(shape, "table:table")
        images = shape.findall(tag("draw:image"))
        box = child(shape, "draw:text-box")
        if box is not None:
            if not place.box.height:
                place = self.place(shape)
            own = self._box_fill(chain, place.box)
            whole_box = (Drawn(rectangle(place.box)),)
            yield from self._surface(place, chain, own, whole_box)
            yield from self.text(shape, box, place, place.box, chain, own)
        elif table is not None:
            yield from table_items(self, shape, table, place)
        elif images and child(shape, "draw:object") is None:
            yield from self._picture(images, chain, place)
        elif any(local_name(each) == "object" for each in children(shape)):
            yield from object_items(self, shape, place)
        else:
            yield Obstacle(place.box, place.transform, "objects of this kind aren't painted yet")

    def _box_fill(self, chain: Sequence[Element], box: Box) -> OdfFill:
        """Give the fill of a text box. Where no style names its kind, programs fill it too, but
        not in a text document, whose boxes are frames of text."""
        fill = fill_of(chain, self.styles, box, self.context.bare_is_tenths)
        return fill if fill.stated or self.context.flow_of is None else OdfFill()

    def place(self, shape: Element) -> Place:
        """Give where a shape stands; a box without a height is as high as its text (§10.4.3)."""
        place = place_of(shape)
        box = child(shape, "draw:text-box")
        if box is None or place.box.height:
            return place
        width = place.box.width or length(box.get(tag("fo:min-width")))
        place = replace(place, box=replace(place.box, width=width))
        chain = self.chain(shape)
        own = self._box_fill(chain, place.box)
        holder = self.holder(shape, place, place.box, chain, own)
        if self.context.flow_of is not None and _holds_more(box):
            _, filled = self.context.flow_of(box, holder)
        else:
            block = TextReader(self.styles, holder, self.context.fields).block(box)
            filled = text_height(block) if block is not None else 0.0
        sides = _padding(chain)
        height = max(length(box.get(tag("fo:min-height"))), filled + sides["top"] + sides["bottom"])
        return replace(place, box=replace(place.box, height=height))

    def _picture(
        self, images: list[Element], chain: Sequence[Element], place: Place
    ) -> Iterator[Item]:
        names = [name for name in map(self.context.picture_name, images) if name]
        rasters = [name for name in names if name.lower().endswith(RASTERS)]
        if not names:
            yield Obstacle(place.box, place.transform, "a picture is missing from the file")
            return
        name = (rasters or names)[0]
        crop = self._crop(name, attribute(chain, "graphic", "fo:clip"))
        opacity = percent(attribute(chain, "graphic", "draw:image-opacity"), 1.0)
        effects = picture_effects(chain)
        picture = Picture(name, place.box, place.transform, crop, opacity, effects=effects)
        yield from _shadow_of_picture(picture, chain)
        yield picture

    def _crop(self, name: str, clip: str | None) -> tuple[float, float, float, float]:
        """Read what is cut off a picture, stated in lengths of its own size (§20.179)."""
        words = _clip_words(clip or "")
        natural = self.context.picture_size(name) if any(map(length, words)) else None
        if len(words) != 4 or natural is None:
            return (0.0, 0.0, 0.0, 0.0)
        top, right, bottom, left = (length(word) for word in words)
        across, down = natural
        return left / across, top / down, right / across, bottom / down

    # Text

    def holder(
        self,
        shape: Element,
        place: Place,
        box: Box,
        chain: Sequence[Element],
        fill: OdfFill,
    ) -> Holder:
        """Give what holds the text of a shape or a cell. box: without its padding taken off."""
        sides = _padding(chain)
        inner = Box(
            box.x + sides["left"],
            box.y + sides["top"],
            max(1.0, box.width - sides["left"] - sides["right"]),
            max(1.0, box.height - sides["top"] - sides["bottom"]),
        )
        backdrop, varied = self._automatic_backdrop(fill)
        is_frame = local_name(shape) == "frame"
        grows = attribute(chain, "graphic", "draw:auto-grow-width") == "true"
        unwrapped = attribute(chain, "graphic", "fo:wrap-option") == "no-wrap"
        vertical = attribute(chain, "graphic", "draw:textarea-vertical-align") or "top"
        name = shape.get(tag("draw:name")) or shape.get(tag("presentation:class")) or "shape"
        columns = attribute(chain, "graphic", "fo:column-count") or "1"
        mode = attribute(chain, "paragraph", "style:writing-mode") or "lr-tb"
        doubts = []
        if columns not in ("0", "1"):
            doubts.append("the place of text in columns is only estimated")
        if mode.startswith("tb"):
            doubts.append("the place of vertical text is only estimated")
        return Holder(
            inner,
            place.transform,
            f"{self.context.words} › {name}",
            address_below(self.context.address, shape=self.numbers.get(shape, 0)),
            ANCHORS.get(vertical, Anchor.TOP),
            not grows and (is_frame or not unwrapped),
            self._text_styles(shape),
            self._outline_prefix(shape),
            backdrop,
            varied,
            self.context.scope,
            "; ".join(doubts),
            self.context.address_of,
            self.context.skips,
        )

    def _automatic_backdrop(self, fill: OdfFill) -> tuple[Colour, str]:
        """Give what an automatic colour looks at: the shape's own fill, else the page."""
        seen = looked_at(fill, self.context.background, self.context.picture_mean)
        if seen is not None:
            return seen, ""
        return WHITE, "its colour is automatic, and what it looks at isn't one colour"

    def text(
        self,
        shape: Element,
        container: Element,
        place: Place,
        box: Box,
        chain: Sequence[Element],
        fill: OdfFill,
    ) -> Iterator[Item]:
        """Give the text that a shape holds. container: what of it holds the words; box: where it
        stands, without its padding taken off."""
        holder = self.holder(shape, place, box, chain, fill)
        if self.context.flow_of is not None and _holds_more(container):
            yield from self.context.flow_of(container, holder)[0]
            return
        block = TextReader(self.styles, holder, self.context.fields).block(container)
        if block is None:
            return
        fit = attribute(chain, "graphic", "draw:fit-to-size") or "false"
        shrinks = fit != "false" or attribute(chain, "graphic", "style:shrink-to-fit") == "true"
        if shrinks and text_height(block) > block.box.height:
            block = shrunk_to_fit(block)
        shadow = shadow_of(chain)
        if shadow is not None and not fill.paints and stroke_of(chain, self.styles) is None:
            if isinstance(shadow, str):
                block = _troubled(block, shadow)
            else:
                block = _with_shadow(block, shadow)
        elif not fill.paints and local_name(shape) in RECTANGLES and not _is_automatic(block):
            block = replace(block, bare=place.box)
        yield block


def _padding(chain: Sequence[Element]) -> dict[str, float]:
    """Give the room between a shape's sides and its text, in points (§20.209)."""
    every = attribute(chain, "graphic", "fo:padding")
    return {
        side: length(attribute(chain, "graphic", f"fo:padding-{side}") or every)
        for side in ("left", "top", "right", "bottom")
    }


def _holds_more(container: Element) -> bool:
    """Tell whether a box holds anything but paragraphs and lists of words."""
    if local_name(container) != "text-box":
        return False
    names = {local_name(each) for each in children(container)}
    shapes = (tag(f"draw:{name}") for name in (*sorted(SHAPES), "g"))
    return not names <= {"p", "h", "list"} or next(container.iter(*shapes), None) is not None


def changed_at(item: Item, address: str) -> Item:
    """Say of a figure where its fill can be changed."""
    return replace(item, address=address) if isinstance(item, Figure) else item


def _clip_words(clip: str) -> list[str]:
    inside = clip.partition("(")[2].partition(")")[0]
    return inside.replace(",", " ").split()


def _shadow_of_picture(picture: Picture, chain: Sequence[Element]) -> Iterator[Item]:
    shadow = shadow_of(chain)
    if isinstance(shadow, str):
        yield Obstacle(picture.box.grown(reach_of_shadow(chain)), picture.transform, shadow)
    elif shadow is not None:
        transform = moved(shadow.across, shadow.down).after(picture.transform)
        yield replace(picture, transform=transform, silhouette=shadow.colour, blur=shadow.blur)


def _is_automatic(block: TextBlock) -> bool:
    """Tell whether any of a text's colours would follow a fill that its shape were given."""
    return any(run.origin == AUTOMATIC for each in block.paragraphs for run in each.runs)


def _troubled(block: TextBlock, reason: str) -> TextBlock:
    """Say of all a block's text why it can't be measured."""
    return with_each_run(block, lambda run: replace(run, trouble=run.trouble or reason))


def _with_shadow(block: TextBlock, shadow: Shadow) -> TextBlock:
    """Let text cast the shadow of its shape, which has nothing else that could."""
    return with_each_run(block, lambda run: replace(run, shadow=shadow))
