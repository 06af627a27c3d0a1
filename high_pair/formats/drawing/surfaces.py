"""What fills, backgrounds and effects put on the page as items."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from high_pair.formats.drawing.colours import colour_element, resolve
from high_pair.formats.drawing.effects import CastShadow, Effects, Reflection
from high_pair.formats.drawing.fills import (
    NOTHING,
    Fill,
    PictureFill,
    fill_element,
    read_fill,
)
from high_pair.formats.drawing.geometry import DARKER, LIGHTER, Face
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.surround import Placed
from high_pair.formats.parts import Part
from high_pair.formats.xml import Element, child, whole
from high_pair.scene.addresses import address_in
from high_pair.scene.effects import HueChange, Luminance, OneColour, Way
from high_pair.scene.geometry import IDENTITY, Affine, Box, Outline, mapped, moved, rectangle
from high_pair.scene.page import Figure, Item, Obstacle, Picture
from high_pair.scene.paint import BLACK, WHITE, Colour, Stroke, colours_of
from high_pair.scene.paint import Fill as SceneFill
from high_pair.scene.soft_edge import uncertain
from high_pair.scene.text import TextBlock
from high_pair.scene.unsure import some_form, unsure_fill

# §20.1.4.2.19 and §19.3.1.3: indices from here on count in the background list.
FIRST_BACKGROUND = 1001
# §20.1.8.42 gives the two numbers but no arithmetic, so what programs show may differ.
UNCHANGED = Luminance(0.0, 0.0)
PICTURE_BRIGHTNESS = (
    "a picture's brightness, contrast or hue is changed, and programs may differ in how they show "
    "it"
)


def styled_fill(reference: Element | None, parts: Setting) -> Fill:
    """Give the theme's fill that a fillRef or bgRef points to, with its own colour put in."""
    index = whole(reference, "idx")
    theme = parts.theme
    listed = theme.fills
    if index >= FIRST_BACKGROUND:
        listed, index = theme.backgrounds, index - FIRST_BACKGROUND + 1
    if reference is None or index in (0, FIRST_BACKGROUND - 1):
        return NOTHING
    colour = resolve(colour_element(reference), parts.palette)
    if not 1 <= index <= len(listed):
        # A theme that lacks its list: the colour alone is what programs fall back to.
        return Fill(colour=colour)
    return read_fill(listed[index - 1], parts.palette.with_stand_in(colour))


def picture_items(picture: PictureFill, part: Part, placed: Placed, outline: Outline) -> list[Item]:
    """Give a picture that fills a shape; an obstacle where its colours can't be told."""
    member = part.target_of(picture.relationship)
    if picture.trouble or not member:
        reason = picture.trouble or "a picture is missing from the file"
        return [Obstacle(placed.box, placed.transform, reason)]
    left, top, right, bottom = picture.offsets
    box = placed.box
    stretched = Box(
        box.x + left * box.width,
        box.y + top * box.height,
        max(0.0, box.width * (1 - left - right)),
        max(0.0, box.height * (1 - top - bottom)),
    )
    plain = outline == rectangle(box) and stretched == box
    shown = Picture(
        member,
        box if picture.tile else stretched,
        placed.transform,
        picture.crop,
        picture.opacity,
        None if plain else outline,
        picture.tile,
        picture.effects,
    )
    return either_way(shown)


def either_way(shown: Picture) -> list[Item]:
    """Give a picture; where its brightness is changed, as something between two ways of that, and
    where its hue is, or all its colours are replaced, between that and nothing: few programs do
    it."""
    otherwise = tuple(
        replace(each, way=Way.MIDDLE) if isinstance(each, Luminance) and each != UNCHANGED else each
        for each in shown.effects
        if not isinstance(each, HueChange | OneColour)
    )
    if otherwise == shown.effects:
        return [shown]
    other = replace(shown, effects=otherwise)
    place = (shown.box, shown.transform, PICTURE_BRIGHTNESS)
    if shown.opacity < 1:
        # Neither hides the other.
        return [replace(shown, guess=True), Obstacle(*place, ((shown,), (other,)))]
    return [shown, Obstacle(*place, ((other,),))]


# Of what a darker or a lighter face may be at most, and about what programs show.
MOST_SHADE, USUAL_SHADE = 0.6, 0.2
FACES = "by how much a shape's faces are darkened or lightened isn't stated"


def shaded_faces(faces: Sequence[Face], placed: Placed) -> Iterator[Item]:
    """Give what darkens and lightens a shape's faces, over its fill."""
    ways = []
    for shade, colour in ((DARKER, BLACK), (LIGHTER, WHITE)):
        own = [face.outline for face in faces if shade in face.shades]
        place = (placed.box, placed.transform)
        usual, most = colour.with_opacity(USUAL_SHADE), colour.with_opacity(MOST_SHADE)
        yield from (Figure(outline, *place, usual, guess=True) for outline in own)
        if own:
            ways.append(tuple(Figure(outline, *place, most) for outline in own))
    if ways:
        yield Obstacle(placed.box, placed.transform, FACES, tuple(ways))


def obstacles_round(
    placed: Placed, effects: Effects, surface: Sequence[Item], texts: Sequence[Item] = ()
) -> Iterator[Item]:
    """Give the places round and below a shape that its glow, blur or reflection may reach.

    surface, texts: its own, as they are without effects.
    """
    if effects.around:
        reason = f"a {effects.words} isn't painted yet"
        box = placed.box.grown(effects.around)
        glow = Figure(rectangle(box), box, placed.transform, effects.glow)
        if effects.glow is not None:
            # Half as far as it may reach, and fading over the rest.
            near = placed.box.grown(effects.around / 2)
            shown = replace(glow, outline=rectangle(near), box=near, blur=effects.around / 6)
            yield replace(shown, guess=True)
        yield Obstacle(box, placed.transform, reason, ((glow,),) if effects.glow else ())
    if effects.blur:
        reach = placed.box.grown(effects.blur)
        yield from some_form(reach, placed.transform, fills_of(surface), BLUR)
    if effects.reflection is not None:
        yield from _mirrored(placed, effects.reflection, surface, texts)


BLUR = "a blur is painted differently by every program"
REFLECTION = "a reflection is painted differently by every program"


def fills_of(items: Sequence[Item], letters: bool = False) -> list[SceneFill | str]:
    """List what items are painted with, words for what isn't known; with `letters` texts too."""
    found: list[SceneFill | str] = []
    for item in items:
        if isinstance(item, Figure):
            found += [item.fill] if item.fill is not None else []
            found += [item.stroke.fill] if item.stroke is not None else []
        elif isinstance(item, TextBlock) and letters:
            runs = [run for each in item.paragraphs for run in each.runs]
            found += [shade for run in runs for shade in (run.shades or (run.colour,))]
            found += ["text" for run in runs if run.trouble]
        elif not isinstance(item, TextBlock):
            found.append("varied")
    return list(dict.fromkeys(found))


def _mirrored(
    placed: Placed, reflection: Reflection, surface: Sequence[Item], texts: Sequence[Item]
) -> Iterator[Item]:
    """Give the place of a reflection: its shape in some strength, with its letters or without."""
    cast, whole = reflection.cast, placed.box
    transform = cast.transform_for(whole, placed.transform)
    height = whole.height * reflection.shown
    box = Box(whole.x, whole.bottom - height, whole.width, height).grown(2 * cast.shadow.blur)
    fills = fills_of((*surface, *texts), letters=True)
    flat = all(isinstance(fill, Colour) for fill in fills)
    if cast.shadow.blur or (flat and texts):
        yield from some_form(box, transform, fills, REFLECTION)
        return
    own = [item for item in surface if isinstance(item, Figure | Picture)]
    upright = all(item.transform == placed.transform for item in own)
    if len(own) < len(surface) or texts or not upright or not own:
        yield Obstacle(box, transform, REFLECTION)
        return
    shown = tuple(replace(item, transform=transform, address="") for item in own)
    yield Obstacle(box, transform, REFLECTION, (shown,))


def obstacles_inside(
    placed: Placed, outline: Outline | None, effects: Effects, surface: Sequence[Figure | Picture]
) -> Iterator[Obstacle]:
    """Give the places along a shape's edge whose surface an effect changes, or the whole of it.

    surface: as it is without effects.
    """
    whole = () if effects.inside or effects.inner_shadow else tuple(surface)
    if effects.soft:
        yield from uncertain(placed.box, placed.transform, outline, effects.soft, whole)
    if effects.blur:
        # A blur reaches inwards as far as a soft edge of half its radius.
        even = all(isinstance(fill, Colour) for fill in fills_of(surface))
        radius = effects.blur / 2 if even else max(placed.box.width, placed.box.height)
        shown = whole if even else ()
        yield from uncertain(placed.box, placed.transform, outline, radius, shown)
    if effects.inside:
        yield Obstacle(placed.box, placed.transform, f"a {effects.words} isn't painted yet")


def linear_part(transform: Affine) -> Affine:
    """Give a map's turn and mirroring without its shift."""
    return Affine(transform.a, transform.b, transform.c, transform.d)


def shadow_of(
    cast: CastShadow,
    outline: Outline,
    placed: Placed,
    fill: SceneFill | None,
    stroke: Stroke | None,
) -> Figure:
    """Give the figure that a shape's shadow paints.

    A fill that is see-through casts a fainter shadow; one of several opacities
    that of its most opaque part.
    """
    colour = cast.shadow.colour

    def fainter(by: float) -> SceneFill:
        return colour.with_opacity(colour.opacity * by)

    opacity = max((each.opacity for each in colours_of(fill)), default=0.0) if fill else 0.0
    line = None
    if stroke is not None:
        densest = max((each.opacity for each in colours_of(stroke.fill)), default=0.0)
        line = replace(stroke, fill=fainter(densest))
    return Figure(
        outline,
        placed.box,
        cast.transform_for(placed.box, placed.transform),
        fainter(opacity) if opacity > 0 else None,
        line if not opacity else None,
        cast.shadow.blur,
    )


def picture_shadow_of(
    cast: CastShadow, picture: PictureFill, part: Part, placed: Placed, outline: Outline
) -> Iterator[Item]:
    """Give the shadow of a picture, which has the form of what isn't see-through in it."""
    for item in picture_items(picture, part, placed, outline):
        if isinstance(item, Picture):
            yield replace(
                item,
                transform=cast.transform_for(placed.box, placed.transform),
                silhouette=cast.shadow.colour,
                blur=cast.shadow.blur,
            )


def inner_shadow_of(cast: CastShadow, outline: Outline, placed: Placed) -> Figure:
    """Give what an inner shadow paints on a shape: all round a hole of its form, within it."""
    shadow, turn = cast.shadow, linear_part(placed.transform)
    across, down = shadow.across, shadow.down
    if not cast.turns:
        # The way back of a turn and a mirroring is its transpose.
        across, down = turn.a * across + turn.b * down, turn.c * across + turn.d * down
    room = 3 * shadow.blur + abs(across) + abs(down) + 1.0
    hole = mapped(outline, moved(across, down))
    frame = rectangle(placed.box.grown(2 * room))
    return Figure(
        frame + hole,
        placed.box,
        placed.transform,
        shadow.colour,
        blur=shadow.blur,
        clip=outline,
        holes=True,
    )


def background_of(parts: Setting) -> tuple[Fill, Part]:
    """Give a slide's background fill and the part that states it (§19.3.1.1 to .3)."""
    for part in (parts.own, parts.layout, parts.master):
        if part is None:
            continue
        background = child(part.root, "p:cSld", "p:bg")
        if background is None:
            continue
        properties = child(background, "p:bgPr")
        if properties is not None:
            return read_fill(fill_element(properties), parts.palette), part
        return styled_fill(child(background, "p:bgRef"), parts), part
    return NOTHING, parts.own


def background_items(fill: Fill, part: Part, page: Box, slide: str) -> list[Item]:
    """Give the items that paint a slide's background.

    part: that states it; slide: the slide's own member, where it may have
    another colour.
    """
    address = address_in(part.member, bg="")
    if fill.picture is not None:
        placed = Placed(page, IDENTITY, IDENTITY)
        items = picture_items(fill.picture, part, placed, rectangle(page))
        return [
            replace(item, address=address) if isinstance(item, Picture) else item for item in items
        ]
    painted = fill.for_shape(page, IDENTITY)
    if isinstance(painted, str):
        reason = f"the page's background: {painted}"
        return list(unsure_fill(rectangle(page), page, IDENTITY, fill.possible, reason))
    if painted is None:
        return []
    return [Figure(rectangle(page), page, IDENTITY, fill=painted, address=address_in(slide, bg=""))]
