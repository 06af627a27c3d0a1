"""From a text body to a text block: paragraphs and runs with all that they inherit.

Source: ECMA-376 Part 1 §21.1.2.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from high_pair.formats.drawing.bullets import Numbering, bullet_of
from high_pair.formats.drawing.colours import colour_element, resolve
from high_pair.formats.drawing.effects import read_effects
from high_pair.formats.drawing.fills import EMU_PER_POINT
from high_pair.formats.drawing.lines import read_line
from high_pair.formats.drawing.origins import deciders_of
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.text_styles import Cascade, Source, cascade_for
from high_pair.formats.xml import Element, child, children, local_name, number, share, tag, whole
from high_pair.scene.addresses import address_below
from high_pair.scene.geometry import Affine, Box, turned
from high_pair.scene.paint import Stroke, shades_of
from high_pair.scene.text import (
    Align,
    Anchor,
    Haze,
    Paragraph,
    Run,
    Spacing,
    TabStop,
    TextBlock,
    within_reason,
)

# §21.1.2.1.1: the insets of a body that states none, in EMU.
INSETS = {"lIns": 91_440, "tIns": 45_720, "rIns": 91_440, "bIns": 45_720}
# §21.1.2.2.7: the distance of tab stops where nothing says another, an inch.
DEFAULT_TAB = 72.0
GLOWING = "its letters glow, and how strongly differs from program to program"
OUTLINED = (
    "Its letters have an outline, which counts as part of them. Change or remove the outline "
    "in the file's own program."
)
RAISED_SIZE = 2 / 3  # of superscripts and subscripts
_ALIGNS = {
    "l": Align.LEFT,
    "ctr": Align.CENTRE,
    "r": Align.RIGHT,
    "just": Align.JUSTIFY,
    "justLow": Align.JUSTIFY,
    "dist": Align.JUSTIFY,
    "thaiDist": Align.JUSTIFY,
}
_TAB_ALIGNS = {"l": "left", "ctr": "centre", "r": "right", "dec": "decimal"}
_ANCHORS = {"t": Anchor.TOP, "ctr": Anchor.MIDDLE, "b": Anchor.BOTTOM}
_QUARTER_TURNS = {"vert": 90.0, "vert270": -90.0}
_STACKED = ("eaVert", "mongolianVert", "wordArtVert", "wordArtVertRtl")
LINK_WITH_OWN_COLOUR = "{A12FA001-AC4F-418D-AE19-62706E023703}"


@dataclass(frozen=True)
class Place:
    """Where a text body stands.

    box: the shape's text rectangle before insets, in points, before
    `transform`; words: the place for the report; address: its prefix, to which
    `/p=…/r=…` is added; page: the slide's number, for fields.
    """

    box: Box
    transform: Affine
    words: str
    address: str
    page: int


@dataclass(frozen=True)
class BodySettings:
    """What the body properties of a shape and its placeholders say (§21.1.2.1.1)."""

    box: Box
    transform: Affine
    anchor: Anchor
    wraps: bool
    font_scale: float
    spacing_cut: float
    doubt: str

    @property
    def orientation(self) -> Affine:
        """The text's turn without its shift."""
        return Affine(self.transform.a, self.transform.b, self.transform.c, self.transform.d)


def body_settings(bodies: Sequence[Element], place: Place) -> BodySettings:
    """Read body properties, nearest first; a shrunken text's scale is the shape's own alone."""

    def stated(name: str) -> str | None:
        return next((b.get(name) for b in bodies if b.get(name) is not None), None)

    left, top, right, bottom = (
        number(stated(name), default) / EMU_PER_POINT for name, default in INSETS.items()
    )
    outer = place.box
    box = Box(
        outer.x + left,
        outer.y + top,
        max(1.0, outer.width - left - right),
        max(1.0, outer.height - top - bottom),
    )
    transform, doubts = place.transform, []
    turn = number(stated("rot")) / 60_000
    direction = stated("vert") or "horz"
    if direction in _STACKED:
        doubts.append("the place of stacked vertical text is only estimated")
    if direction in _QUARTER_TURNS or direction in _STACKED:
        turn += _QUARTER_TURNS.get(direction, 90.0)
        x, y = box.centre
        box = Box(x - box.height / 2, y - box.width / 2, box.height, box.width)
    if turn:
        transform = transform.after(turned(turn, box.centre))
    own = bodies[0] if bodies else None
    shrunk = child(own, "a:normAutofit")
    if number(stated("numCol"), 1) > 1:
        doubts.append("the place of text in columns is only estimated")
    warp = child(own, "a:prstTxWarp")
    if warp is not None and warp.get("prst") != "textNoShape":
        doubts.append("the place of warped text is only estimated")
    return BodySettings(
        box,
        transform,
        _ANCHORS.get(stated("anchor") or "t", Anchor.TOP),
        stated("wrap") != "none",
        share(shrunk.get("fontScale"), 1.0) if shrunk is not None else 1.0,
        share(shrunk.get("lnSpcReduction")) if shrunk is not None else 0.0,
        "; ".join(doubts),
    )


def text_block(
    body: Element,
    inherited_bodies: Sequence[Element],
    place: Place,
    sources: tuple[Source, ...],
    parts: Setting,
    trouble: str = "",
) -> TextBlock | None:
    """Read a text body; None when it holds no text.

    inherited_bodies: the body properties of the placeholders it inherits from,
    nearest first; trouble: why no text of this body can be measured, if so.
    """
    own = child(body, "a:bodyPr")
    bodies = [each for each in (own, *inherited_bodies) if each is not None]
    settings = body_settings(bodies, place)
    numbering = Numbering()
    paragraphs = []
    for count, element in enumerate(body.findall(tag("a:p")), start=1):
        reader = _ParagraphReader(
            element, address_below(place.address, p=count), place, sources, parts, settings, trouble
        )
        paragraphs.append(reader.read(numbering))
    if not any(run.text.strip() for paragraph in paragraphs for run in paragraph.runs):
        return None
    return TextBlock(
        tuple(paragraphs),
        settings.box,
        settings.transform,
        place.words,
        settings.anchor,
        settings.wraps,
        settings.doubt,
    )


class _ParagraphReader:
    """Reads one paragraph with its cascade at hand."""

    def __init__(
        self,
        element: Element,
        address: str,
        place: Place,
        sources: tuple[Source, ...],
        parts: Setting,
        settings: BodySettings,
        trouble: str,
    ) -> None:
        self.element = element
        self.address = address
        self.place = place
        self.parts = parts
        self.settings = settings
        self.trouble = trouble
        own = child(element, "a:pPr")
        self.level = whole(own, "lvl")
        self.cascade: Cascade = cascade_for(sources, self.level, own)

    def read(self, numbering: Numbering) -> Paragraph:
        runs = tuple(self._runs())
        first = next((run for run in runs if run.text.strip()), None)
        label = None
        if first is not None:
            label = bullet_of(
                self.cascade,
                first,
                self.level,
                numbering,
                self.parts.palette,
                address_below(self.address, bullet=1),
            )
        end = child(self.element, "a:endParaRPr")
        if not runs:
            runs = (self._run("", end, address_below(self.address, end=1)),)
        align = _ALIGNS.get(self.cascade.paragraph_attribute("algn") or "l", Align.LEFT)
        return Paragraph(
            within_reason(runs),
            align,
            left=self._points("marL"),
            right=self._points("marR"),
            first=self._points("indent"),
            spacing=self._spacing("lnSpc", Spacing(1.0), self.settings.spacing_cut),
            before=self._spacing("spcBef", Spacing(0.0)),
            after=self._spacing("spcAft", Spacing(0.0)),
            bullet=label,
            right_to_left=self.cascade.paragraph_attribute("rtl") in ("1", "true"),
            tabs=self._tabs(),
            tab_width=self._points("defTabSz") or DEFAULT_TAB,
        )

    def _tabs(self) -> tuple[TabStop, ...]:
        """Read the tab stops (§21.1.2.1.13, §21.1.2.1.14)."""
        found = []
        for stop in children(self.cascade.paragraph_child("tabLst")):
            align = _TAB_ALIGNS.get(stop.get("algn", "l"), "left")
            found.append(TabStop(number(stop.get("pos")) / EMU_PER_POINT, align))
        return tuple(sorted(found, key=lambda stop: stop.place))

    def _points(self, name: str) -> float:
        value = number(self.cascade.paragraph_attribute(name)) / EMU_PER_POINT
        return value if abs(value) < 10_000 else 0.0

    def _spacing(self, name: str, default: Spacing, cut: float = 0.0) -> Spacing:
        stated = self.cascade.paragraph_child(name)
        percent, points = child(stated, "a:spcPct"), child(stated, "a:spcPts")
        if points is not None:
            return Spacing(points=min(1584.0, max(0.0, number(points.get("val")) / 100)))
        if percent is not None:
            value = share(percent.get("val"), default.share) - cut
            return Spacing(share=min(20.0, max(0.0 if name != "lnSpc" else 0.1, value)))
        return Spacing(share=default.share - cut) if cut else default

    def _runs(self) -> Iterator[Run]:
        count = 0
        for each in children(self.element):
            name = local_name(each)
            if name in ("r", "br", "fld"):
                count += 1
                address = address_below(self.address, r=count)
                yield self._run(self._text(each, name), child(each, "a:rPr"), address)
            elif name not in ("pPr", "endParaRPr"):
                equation = "".join(part.text or "" for part in each.iter(tag("m:t")))
                if equation.strip():
                    count += 1
                    run = self._run(equation, None, address_below(self.address, r=count))
                    yield replace(run, trouble=run.trouble or "an equation isn't painted yet")

    def _text(self, element: Element, name: str) -> str:
        if name == "br":
            return "\n"
        if name == "fld" and element.get("type") == "slidenum":
            return str(self.place.page)
        holder = child(element, "a:t")
        text = (holder.text or "") if holder is not None else ""
        # §22.9.2.19 escapes; the vertical tab is how some writers break a line.
        return text.replace("_x000B_", "\n").replace("\v", "\n")

    def _run(self, text: str, own: Element | None, address: str) -> Run:
        cascade, palette, theme = self.cascade, self.parts.palette, self.parts.theme
        baseline = share(cascade.run_attribute(own, "baseline"))
        size = cascade.size(own) * self.settings.font_scale
        chosen = cascade.colour(own, palette)
        colour, origin, trouble = chosen.colour, chosen.origin, chosen.trouble
        invisible, filled = chosen.invisible, chosen.fill
        underline = (cascade.run_attribute(own, "u") or "none") != "none"
        link = child(own, "a:hlinkClick") if own is not None else None
        if link is not None:
            stated = own.get("u") if own is not None else None
            underline = stated != "none"
            if not has_own_link_colour(link):
                colour = palette.lookup("hlink") or colour
                origin, trouble, invisible, filled = "theme hlink", "", False, None
                chosen = replace(chosen, element=None, slot=palette.slot("hlink") or "")
        effects = read_effects(cascade.run_child(own, "effectLst"), palette)
        cast = effects.shadow
        haze = Haze((effects.glow,), GLOWING) if effects.only_glows and effects.glow else None
        if effects.unpainted_on_text and not trouble and haze is None:
            trouble = f"the text has a {effects.unpainted_on_text}, which isn't painted yet"
        mark = cascade.run_child(own, "highlight")
        capitals = cascade.run_attribute(own, "cap") or "none"
        box, transform = self.settings.box, self.settings.transform
        fill = filled.for_shape(box, transform) if filled is not None else None
        shown = None if isinstance(fill, str) else fill
        if isinstance(fill, str):
            trouble = trouble or fill
        outline = self._outline(own)
        looks = [shown or colour] if not invisible else []
        looks += [outline.fill] if outline is not None else []
        shades = tuple(dict.fromkeys(shade for look in looks for shade in shades_of(look)))
        if shades:
            colour = shades[0]
        return Run(
            text=text.upper() if capitals == "all" else text,
            colour=colour,
            family=cascade.family(own, theme),
            size=max(0.1, size * (RAISED_SIZE if baseline else 1.0)),
            weight=700 if cascade.style(own, "b") else 400,
            origin=origin,
            address=address,
            italic=cascade.style(own, "i"),
            underline=underline,
            strike=(cascade.run_attribute(own, "strike") or "noStrike") != "noStrike",
            spacing=max(-50.0, min(500.0, number(cascade.run_attribute(own, "spc")) / 100)),
            baseline=max(-1.0, min(1.0, baseline)),
            highlight=resolve(colour_element(mark), palette),
            link=link is not None,
            trouble=self.trouble or trouble,
            invisible=invisible and outline is None,
            small_capitals=capitals == "small",
            fill=shown,
            outline=outline,
            hollow=invisible and outline is not None,
            shades=shades if len(shades) > 1 else (),
            fixed=OUTLINED if outline is not None else "",
            shadow=cast.for_text(self.settings.orientation) if cast is not None else None,
            haze=haze,
            deciders=deciders_of(self.parts, chosen) if not self.trouble and not trouble else (),
        )

    def _outline(self, own: Element | None) -> Stroke | None:
        """Give the line round a run's glyphs (§21.1.2.3.9, a:ln)."""
        element = self.cascade.run_child(own, "ln")
        line = read_line([(element, self.parts.palette)]) if element is not None else None
        if line is None:
            return None
        stroke = line.stroke(self.settings.box, self.settings.transform)
        return stroke if isinstance(stroke, Stroke) and stroke.width > 0 else None


def has_own_link_colour(link: Element) -> bool:
    """Tell whether a link keeps the run's own colour, by the extension that says so."""
    for extension in children(child(link, "a:extLst")):
        if extension.get("uri") == LINK_WITH_OWN_COLOUR:
            own = child(extension, "ahyp:hlinkClr")
            if own is not None and own.get("val") == "tx":
                return True
    return False
