"""What the engine tells of a page, as a scene: its paintings, texts, surfaces, controls."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from scipy import ndimage

from high_pair.engine.protocol import Control, Icon, Indicator, Text, Tile, Told
from high_pair.formats.web import drawing
from high_pair.formats.web.addresses import MEMBER, PagePlace, in_page
from high_pair.formats.web.gradients import shades_of_gradients
from high_pair.formats.web.origins import Origins
from high_pair.formats.web.trees import Trees
from high_pair.scene.addresses import address_below, address_in, parts_of, span
from high_pair.scene.geometry import Box
from high_pair.scene.page import Item, Scene
from high_pair.scene.paint import Colour, from_levels
from high_pair.scene.painted import (
    FULL,
    PaintedGraphic,
    PaintedSurface,
    PaintedText,
    PaintedWord,
    Painting,
    PixelBox,
)
from high_pair.scene.text import Run
from high_pair.wcag.verdicts import Exemption

# CSS Values 3, §6.2: a pixel is 1/96 inch, so three quarters of a point.
POINTS_A_PIXEL = 0.75
EXEMPT = {
    "invisible": Exemption.INVISIBLE,
    "transparent": Exemption.TRANSPARENT,
    "inactive": Exemption.INACTIVE,
}
# Less than this shows nothing, in 8 bits.
LEAST_OPACITY = 1 / 255
# Of these nothing is painted.
INKLESS = ("invisible", "transparent")
EVERYWHERE = (-math.inf, -math.inf, math.inf, math.inf)
# A box no larger than this, in pixels, shows nothing to anybody.
NOTHING_SHOWS = 2.0
ATTACHED = (
    "the picture behind it stays in place while the page is scrolled, so what is behind the text "
    "changes"
)
WORST = f"{ATTACHED}: this is the worst on its way through the view"
MOVING = "a film or a moving picture is behind it, of which a painting is one moment"
RESTLESS = "the page's parts don't keep their places while it is painted"
HIDDEN = "when all links look so at once, something of another lies over it: look at it alone"
UNREACHED = "it lies where no scrolling of its box showed it whole"
SHADOW_ALONE = "nothing of it but a shadow is painted"
VEILED = "something see-through lies over it"
PARTLY = "something lies over part of it, or cuts part of it off"
TILTED = "it is turned in space, and its size as shown isn't known"
BEYOND = "it lies farther down than the page is painted"
WITHIN = (
    "its text isn't told: it stands in a part that the page keeps to itself, such as a closed "
    "shadow tree"
)
IN_TREE = (
    "It stands in a frame or a shadow tree that isn't written in the page's own files: change it "
    "where that is made."
)
# Pixels of ink that no word has, from which on it counts.
LEAST_STRAY = 40
# The share of their size by which letters may pass their boxes.
OVERHANG = 0.4
MOST_STRAY = 40
STRAY_ROOM = 8
SAID = {
    "a canvas": "text in a canvas can't be told from the rest of it",
    "a film": "text in a film can't be measured",
    "a picture": "text in a picture can't be told from the rest of it: open the picture by itself",
    "an embedded object": "what an embedded object shows isn't measured",
    "a frame of another site": "it is a frame of another site: open that page by itself",
}


@dataclass(frozen=True)
class Taken:
    """A page as taken. told: by the engine; zoom: device pixels a CSS pixel; trees: its own, and
    those of frames and shadows; drawing: it is one."""

    told: Told
    painting: Painting
    zoom: float
    origins: Origins
    trees: Trees
    drawing: bool = False


def taken_from(told: Told, origins: Origins, trees: Trees, is_drawing: bool = False) -> Taken:
    """Take over what the engine told."""
    painting = Painting(
        told.pop("seen"), told.pop("backdrop"), told.pop("coverage"),
        1 / POINTS_A_PIXEL, int(told["rows"]), told.pop("layers", None), told.pop("shadows", None),
    )  # fmt: skip
    return Taken(told, painting, float(told["zoom"]), origins, trees, is_drawing)


def scene_of(taken: Taken) -> Scene:
    """Describe a page as taken."""
    painting = taken.painting
    width = painting.backdrop.shape[1] * POINTS_A_PIXEL
    height = painting.rows * POINTS_A_PIXEL
    surfaces = _surfaces(taken)
    _claim_in_tiles(taken)
    texts = _texts(taken)
    stray = _stray(taken, texts)
    graphics = _graphics(taken)
    items: tuple[Item, ...] = (*surfaces, *texts, *stray, *graphics)
    return Scene(width, height, items, painting=painting)


def _claim_in_tiles(taken: Taken) -> None:
    """Take words out of the paintings of states in which text without words is looked for."""
    words = [
        word[1:]
        for told in taken.told["texts"]
        if not told.get("appears") and told["words"] and told["exempt"] not in INKLESS
        for word in told["words"]
    ]
    loose = [told for told in taken.told["texts"] if told.get("appears") and not told["words"]]
    if not words or not loose:
        return
    boxes = np.array(words) * taken.zoom
    left, top = np.floor(boxes[:, 0]), np.floor(boxes[:, 1])
    right, bottom = np.ceil(boxes[:, 0] + boxes[:, 2]), np.ceil(boxes[:, 1] + boxes[:, 3])
    for told in loose:
        tile = _tile(taken, told.get("tile"))
        if tile is None:
            continue
        x, y, width, height = tile["x"], tile["y"], tile["columns"], tile["rows"]
        here = (left < x + width) & (right > x) & (top < y + height) & (bottom > y)
        coverage = taken.painting.coverage[
            tile["top"] : tile["top"] + height, tile["left"] : tile["left"] + width
        ]
        for place in np.flatnonzero(here):
            rows = slice(max(0, int(top[place]) - y), max(0, int(bottom[place]) - y))
            columns = slice(max(0, int(left[place]) - x), max(0, int(right[place]) - x))
            coverage[rows, columns] = 0


# Surfaces


def _surfaces(taken: Taken) -> list[PaintedSurface]:
    found = []
    for told in taken.told["surfaces"]:
        red, green, blue, opacity = told["fill"]
        colour = None
        if not told["image"] and opacity > 0:
            colour = _colour(red, green, blue, opacity)
        found.append(
            PaintedSurface(
                _points(taken, told["box"]),
                in_page(told["address"]),
                colour,
                picture=bool(told["picture"]),
                layered=bool(told["picture"]),
                shades=shades_of_gradients(told["fills"]["image"]) if told["fills"] else (),
            )
        )
    for shown in taken.told["pictures"]:
        if shown["opacity"] == 1 and shown["plain"]:
            box = _points(taken, shown["box"])
            found.append(PaintedSurface(box, in_page(shown["address"]), picture=True))
    return found


def _points(taken: Taken, box: Sequence[float]) -> Box:
    factor = taken.zoom * POINTS_A_PIXEL
    return Box(*(value * factor for value in box))


def _colour(red: float, green: float, blue: float, opacity: float) -> Colour:
    levels = (round(red), round(green), round(blue))
    return from_levels(levels).with_opacity(min(1.0, max(0.0, opacity)))


# Texts


def _texts(taken: Taken) -> list[PaintedText]:
    found: list[tuple[tuple[Any, ...], PaintedText]] = []
    for told in taken.told["texts"]:
        text = _text(taken, told)
        joined = None
        if told["kind"] == "text" and found and not text.exempt and not text.run.trouble:
            joined = _joined(found[-1], text, _likeness(told))
        if joined is not None:
            found[-1] = (found[-1][0], joined)
        else:
            found.append((_likeness(told), text))
    return [text for _, text in found]


def _likeness(told: Text) -> tuple[Any, ...]:
    """Give what texts of one block share that are one stretch."""
    look = told["look"]
    return (
        told["kind"], told["block"], tuple(look["colour"]), look["opacity"], look["size"],
        look["weight"], look["painted"], told["link"], told["marked"], told["exempt"],
        told.get("tile"), told.get("appears"), told["where"].rpartition(" › ")[2] == "link",
    )  # fmt: skip


def _joined(
    last: tuple[tuple[Any, ...], PaintedText], text: PaintedText, likeness: tuple[Any, ...]
) -> PaintedText | None:
    """Give two neighbours of one look as one stretch, None where they are two."""
    before = last[1]
    if last[0] != likeness or before.exempt or before.run.trouble:
        return None
    address = span([*parts_of(before.run.address), text.run.address])
    run = replace(before.run, text=f"{before.run.text} {text.run.text}", address=address)
    return replace(before, run=run, words=before.words + text.words)


def _text(taken: Taken, told: Text) -> PaintedText:
    look = told["look"]
    opacity = look["opacity"]
    red, green, blue, own = look["colour"]
    address = address_of(told)
    words, gone = _words(taken, told)
    exempt = str(EXEMPT[told["exempt"]]) if told["exempt"] else gone
    trouble = _trouble(taken, told)
    if not words and not exempt and not trouble:
        trouble = UNREACHED
    origin, deciders, fixed = taken.origins.of(told)
    if taken.drawing:
        fixed = drawing.FIXED
    elif not taken.trees.reaches(PagePlace.of(address).tree):
        fixed = IN_TREE
    run = Run(
        text=told["text"],
        colour=_colour(red, green, blue, own * opacity),
        family=look["family"],
        size=look["size"] * taken.zoom * POINTS_A_PIXEL,
        weight=look["weight"],
        x_height=look["xHeight"],
        italic=look["italic"],
        origin=origin,
        address=in_page(address),
        link=told["link"],
        underline=told["marked"],
        fixed=fixed,
        trouble=trouble,
        deciders=deciders,
    )
    return PaintedText(
        run,
        words,
        told["where"],
        paragraph=told["block"],
        otherwise=look["painted"] or (VEILED if told.get("veil") else ""),
        blended=look["blended"],
        group=bool(look["faded"]),
        exempt=exempt,
        appears=told.get("appears", ""),
        note=WORST if told["attached"] else "",
        loose=not told["words"],
        ink_opacity=opacity,
        inkless=told["exempt"] in INKLESS,
        shadowed=bool(look["shadow"]) and told.get("tile") is None,
        layer=0 if told.get("tile") is not None else told.get("layer", 0),
    )


def address_of(told: Text) -> str:
    """Give the place of a text within its page, and in which state."""
    address: str = told["address"]
    return PagePlace.of(address).in_state(told["state"]) if told.get("state") else address


def _trouble(taken: Taken, told: Text) -> str:
    """Give why a text can't be measured, whatever is painted; nothing where it can."""
    look = told["look"]
    if told["kind"] == "opaque":
        return SAID[told["reason"]]
    unseen = look["colour"][3] < LEAST_OPACITY and not look["painted"]
    reasons = (
        (taken.told["restless"], RESTLESS),
        (told["attached"] and not told.get("placed"), ATTACHED),
        (look["shadow"] and unseen, SHADOW_ALONE),
        (told.get("moving"), MOVING),
        (told.get("hidden"), HIDDEN),
        (told.get("unreached"), UNREACHED),
        (told["tilted"], TILTED),
        (_is_beyond(taken, told), BEYOND),
    )
    return next((reason for holds, reason in reasons if holds), "")


def _is_beyond(taken: Taken, told: Text) -> bool:
    """Tell whether a text lies wholly below what is painted of the page."""
    boxes = [word[1:] for word in told["words"]] or ([told["region"]] if told["region"] else [])
    placed = told.get("tile") is not None or told.get("placed")
    rows = taken.painting.rows
    return bool(boxes and not placed and all(b[1] * taken.zoom >= rows for b in boxes))


def _tile(taken: Taken, number: int | None) -> Tile | None:
    return None if number is None else taken.told["tiles"][number]


def _box_of(tile: Tile) -> PixelBox:
    """Give the place of a part's painting below the page."""
    left, top = tile["left"], tile["top"]
    return left, top, left + tile["columns"], top + tile["rows"]


def _shift_of(tile: Tile) -> tuple[int, int]:
    """Give how far to the right and below of there the part lies on the page."""
    return tile["x"] - tile["left"], tile["y"] - tile["top"]


def _words(taken: Taken, told: Text) -> tuple[tuple[PaintedWord, ...], str]:
    """Give a text's words that can be seen, and why none can, if so."""
    if told.get("placed"):
        return _placed(taken, told), ""
    boxes = told["words"] or ([[told["text"], *told["region"]]] if told["region"] else [])
    clip = told["clip"] if told.get("tile") is None or not told["scroller"] else None
    seen = {} if told.get("tile") is not None or told.get("under") else told.get("seen", {})
    found, shown, left_of_page = [], False, 0
    for place, (text, x, y, width, height) in enumerate(boxes):
        right, bottom = x + width, y + height
        whole = (x, y, right, bottom)
        if right <= 0 or bottom <= 0 or x >= taken.told["width"]:
            left_of_page += 1
            continue
        if clip is not None:
            x, y = max(x, clip[0]), max(y, clip[1])
            right, bottom = min(right, clip[2]), min(bottom, clip[3])
            if right - x <= NOTHING_SHOWS or bottom - y <= NOTHING_SHOWS:
                continue
        shown = True
        if str(place) in seen:
            # What is left of it under something that lies over it.
            part = seen[str(place)]
            x, y = max(x, part[0]), max(y, part[1])
            right, bottom = min(right, part[0] + part[2]), min(bottom, part[1] + part[3])
        left = (x, y, right, bottom)
        word = _word(taken, text, left, _tile(taken, told.get("tile")), cut=left != whole)
        if word is not None:
            found.append(word)
    if shown or told.get("unreached"):
        return tuple(found), ""
    if boxes and left_of_page == len(boxes):
        return (), str(Exemption.OFF_PAGE)
    small = clip is not None and (
        clip[2] - clip[0] <= NOTHING_SHOWS or clip[3] - clip[1] <= NOTHING_SHOWS
    )
    return (), str(Exemption.CLIPPED if small else Exemption.CUT_OFF)


def _placed(taken: Taken, told: Text) -> tuple[PaintedWord, ...]:
    """Give a text's words: those seen at rest, and those scrolled to or found under a bar."""
    left, top, right, bottom = told["clip"] or EVERYWHERE
    boxes = told["words"] or ([[told["text"], *told["region"]]] if told["region"] else [])
    covered = told.get("covered", ())
    at_rest = [
        (text, x, y, width, height, None)
        for place, (text, x, y, width, height) in enumerate(boxes)
        if place not in covered
        and left - 1 <= x
        and top - 1 <= y
        and x + width <= right + 1
        and y + height <= bottom + 1
    ]
    found = []
    for text, x, y, width, height, number in (*at_rest, *told["placed"]):
        tile = None if number is None else taken.told["tiles"][number]
        word = _word(taken, text, (x, y, x + width, y + height), tile)
        if word is not None:
            found.append(word)
    return tuple(found)


def _word(
    taken: Taken,
    text: str,
    corners: tuple[float, float, float, float],
    tile: Tile | None,
    cut: bool = False,
) -> PaintedWord | None:
    """Give a word at a place of the page as it is painted; None where it isn't."""
    left, top, right, bottom = (value * taken.zoom for value in corners)
    across, down = (0, 0) if tile is None else _shift_of(tile)
    within = (0, 0, taken.painting.backdrop.shape[1], taken.painting.rows)
    if tile is not None:
        within = _box_of(tile)
    box = (
        max(within[0], int(left) - across),
        max(within[1], int(top) - down),
        min(within[2], int(np.ceil(right)) - across),
        min(within[3], int(np.ceil(bottom)) - down),
    )
    if box[0] >= box[2] or box[1] >= box[3]:
        return None
    return PaintedWord(text, box, (across, down), cut)


# Ink that belongs to no text that is told


def _stray(taken: Taken, texts: Sequence[PaintedText]) -> list[PaintedText]:
    """Give what is painted as text, and yet told of by no element: it needs eyes."""
    painting = taken.painting
    free = painting.coverage[: painting.rows] >= FULL // 3
    for text in texts:
        if text.inkless:
            continue
        room = int(text.run.size / POINTS_A_PIXEL * OVERHANG) + 2
        for word in text.words:
            left, top, right, bottom = word.box
            free[max(0, top - room) : bottom + room, max(0, left - room) : right + room] = False
    for told in taken.told["texts"]:
        for x, y, width, height in told.get("rest", ()):
            corners = (x, y, x + width, y + height)
            left, top, right, bottom = (max(0, round(side * taken.zoom)) for side in corners)
            free[max(0, top - STRAY_ROOM) : bottom + STRAY_ROOM, left : right + STRAY_ROOM] = False
    if not free.any():
        return []
    labels, _ = ndimage.label(ndimage.binary_dilation(free, np.ones((5, 13), bool)))
    found = []
    for number, area in enumerate(ndimage.find_objects(labels), 1):
        if area is None or (free[area] & (labels[area] == number)).sum() < LEAST_STRAY:
            continue
        box = (area[1].start, area[0].start, area[1].stop, area[0].stop)
        run = Run(
            text="text that isn't told", colour=from_levels((0, 0, 0)), family="", size=12.0,
            weight=400, origin="", address=address_in(MEMBER, place=number), trouble=WITHIN,
        )  # fmt: skip
        found.append(PaintedText(run, (PaintedWord("", box),), "page", loose=True))
        if len(found) == MOST_STRAY:
            break
    return found


# Controls and signs of focus


def _graphics(taken: Taken) -> list[PaintedGraphic]:
    found = [_control(taken, told) for told in taken.told["controls"]]
    found += [_icon(taken, told) for told in taken.told["icons"]]
    found += [_indicator(taken, told) for told in taken.told["indicators"]]
    return [graphic for graphic in found if graphic is not None]


def _corners(taken: Taken, box: Sequence[float]) -> PixelBox:
    x, y, width, height = box
    corners = (x, y, x + width, y + height)
    left, top, right, bottom = (round(value * taken.zoom) for value in corners)
    return left, top, right, bottom


def _found_at(taken: Taken, told: Control | Icon) -> tuple[PixelBox | None, tuple[int, int]]:
    """Give where a control is in the painting, None for nowhere, and how far that is from where it
    is on the page."""
    left, top, right, bottom = _corners(taken, told["box"])
    tile = _tile(taken, told.get("tile"))
    across, down = (0, 0) if tile is None else _shift_of(tile)
    box = (left - across, top - down, right - across, bottom - down)
    within = (0, 0, taken.painting.backdrop.shape[1], taken.painting.rows)
    if tile is not None:
        within = _box_of(tile)
    whole = left < right and top < bottom and left >= 0 and top >= 0
    reached = within[0] <= box[0] and within[1] <= box[1] and box[3] <= within[3]
    return box if whole and reached else None, (across, down)


def _control(taken: Taken, told: Control) -> PaintedGraphic | None:
    outer, shift = _found_at(taken, told)
    if not told["visible"] or outer is None:
        return None
    sides = [round(side * taken.zoom) for side in told["sides"]]
    inner = (outer[0] + sides[3], outer[1] + sides[0], outer[2] - sides[1], outer[3] - sides[2])
    exempt = ""
    if told["disabled"]:
        exempt = str(Exemption.INACTIVE)
    elif told["native"] or told["usual"]:
        exempt = str(Exemption.BROWSER)
    address = in_page(address_below(told["address"], border=1))
    return PaintedGraphic(
        told["name"], f"{told['where']} › border", address, inner, outer, shift, exempt,
        "" if exempt or not told.get("partly") else PARTLY,
        changeable=any(sides),
    )  # fmt: skip


def _icon(taken: Taken, told: Icon) -> PaintedGraphic | None:
    box, shift = _found_at(taken, told)
    if box is None:
        return None
    target = told["address"]
    if "state" in told:
        # It is the control that is in a state, and the drawing within it that looks otherwise.
        target = f"{told['control']}:{told['state']}{told['within']}"
    address = in_page(address_below(target, icon=told["property"] or 1))
    return PaintedGraphic(
        told["name"], f"{told['where']} › icon", address, box, box, shift,
        str(Exemption.INACTIVE) if told["disabled"] else "", appears=told.get("appears", ""),
        changeable=bool(told["property"]), icon=True,
    )  # fmt: skip


def _indicator(taken: Taken, told: Indicator) -> PaintedGraphic | None:
    address = in_page(address_below(told["address"], focus=1))
    tile = _tile(taken, told.get("tile"))
    box = _corners(taken, told["box"])
    if tile is None:
        # Nothing but the browser's own ring was there to be painted.
        own = told.get("own")
        exempt = str(Exemption.BROWSER) if own and told["style"] == "auto" else ""
        trouble = "" if exempt else "nothing that shows the focus was found in its style"
        return PaintedGraphic(
            told["name"], f"{told['where']} › sign of focus", address, box, box, (0, 0),
            exempt, trouble, appears="on focus",
        )  # fmt: skip
    outer = _box_of(tile)
    before = (tile["x"], tile["y"], tile["x"] + tile["columns"], tile["y"] + tile["rows"])
    rest = _tile(taken, told.get("rest"))
    if rest is not None:
        before = _box_of(rest)
    exempt = str(Exemption.BROWSER) if told["own"] else ""
    return PaintedGraphic(
        told["name"], f"{told['where']} › sign of focus", address, outer, outer,
        _shift_of(tile), exempt, "", before, "on focus",
        changeable=told["style"] not in ("none", "auto"),
    )  # fmt: skip
