"""Each paint rule of slides has a known pixel answer, to 2 of 255 levels."""

import math
import unittest

import numpy as np

from high_pair.formats import open_document
from high_pair.formats.drawing.geometry import (
    GEARS,
    PRESETS,
    STARS,
    definitions,
    outline_of,
    preset_geometry,
)
from high_pair.formats.drawing.guides import standard_guides, work_out
from high_pair.formats.drawing.patterns import rows_of
from high_pair.measure.pairs import Pair
from high_pair.raster.page import rasterise
from high_pair.scene.geometry import Box
from high_pair.wcag.verdicts import Verdict
from tests.decks import (
    DeckFolder,
    background,
    body,
    pairs_of,
    picture,
    png,
    ratio_by_hand,
    run,
    shape,
    solid,
    xfrm,
)

# The test shape: 300 by 120 points at (60, 60), so 400 by 160 pixels at (80, 80).
LEFT, TOP, WIDTH, HEIGHT = 80, 80, 400, 160
PLACE = xfrm(60, 60, 300, 120)
LEVELS = 2


def stops(*entries: tuple[float, str], alpha: dict[int, float] | None = None) -> str:
    inner = ""
    for count, (place, colour) in enumerate(entries):
        opacity = (alpha or {}).get(count)
        extra = f'<a:alpha val="{round(opacity * 100000)}"/>' if opacity is not None else ""
        inner += f'<a:gs pos="{round(place * 100000)}"><a:srgbClr val="{colour}">{extra}</a:srgbClr></a:gs>'
    return f"<a:gsLst>{inner}</a:gsLst>"


def linear(
    angle: float, *entries: tuple[float, str], scaled: bool = False, attributes: str = ""
) -> str:
    return (
        f"<a:gradFill {attributes}>{stops(*entries)}"
        f'<a:lin ang="{round(angle * 60000)}" scaled="{int(scaled)}"/></a:gradFill>'
    )


def path(kind: str, focus: str, *entries: tuple[float, str]) -> str:
    return f'<a:gradFill>{stops(*entries)}<a:path path="{kind}"><a:fillToRect {focus}/></a:path></a:gradFill>'


BLACK_TO_WHITE = ((0, "000000"), (1, "FFFFFF"))


class PaintTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def paint(self, shapes: str, **options: object) -> np.ndarray:
        document = open_document(self.folder.deck(shapes, **options))
        try:
            return rasterise(document.scene(0), document.pictures).backdrop.astype(int)
        finally:
            document.close()

    def assert_level(
        self, pixels: np.ndarray, x: float, y: float, expected, delta: int = LEVELS
    ) -> None:
        found = pixels[int(y), int(x)]
        wanted = np.broadcast_to(np.asarray(expected), 3)
        self.assertLessEqual(
            int(np.abs(found - wanted).max()), delta, f"at {x}, {y}: {found}, not {wanted}"
        )


class Gradients(PaintTest):
    def test_left_to_right(self):
        pixels = self.paint(shape(fill=linear(0, *BLACK_TO_WHITE), place=PLACE))
        for share in (0.1, 0.5, 0.9):
            x = LEFT + share * WIDTH
            self.assert_level(pixels, x, TOP + 50, 255 * (int(x) + 0.5 - LEFT) / WIDTH)

    def test_top_to_bottom(self):
        pixels = self.paint(shape(fill=linear(90, *BLACK_TO_WHITE), place=PLACE))
        for share in (0.1, 0.5, 0.9):
            y = TOP + share * HEIGHT
            self.assert_level(pixels, LEFT + 50, y, 255 * (int(y) + 0.5 - TOP) / HEIGHT)

    def test_at_an_angle_the_ends_touch_the_corners(self):
        angle = math.radians(30)
        pixels = self.paint(shape(fill=linear(30, *BLACK_TO_WHITE), place=PLACE))
        reach = WIDTH / 2 * math.cos(angle) + HEIGHT / 2 * math.sin(angle)
        for x, y in ((100, 100), (280, 160), (400, 200)):
            along = (x + 0.5 - LEFT - WIDTH / 2) * math.cos(angle)
            along += (y + 0.5 - TOP - HEIGHT / 2) * math.sin(angle)
            self.assert_level(pixels, x, y, 255 * (along + reach) / (2 * reach))

    def test_a_scaled_angle_follows_the_diagonal(self):
        pixels = self.paint(shape(fill=linear(45, *BLACK_TO_WHITE, scaled=True), place=PLACE))
        across, down = WIDTH / math.hypot(WIDTH, HEIGHT), HEIGHT / math.hypot(WIDTH, HEIGHT)
        reach = WIDTH / 2 * across + HEIGHT / 2 * down
        for x, y in ((100, 100), (280, 160), (400, 200)):
            along = (x + 0.5 - LEFT - WIDTH / 2) * across + (y + 0.5 - TOP - HEIGHT / 2) * down
            self.assert_level(pixels, x, y, 255 * (along + reach) / (2 * reach))

    def test_several_stops_in_any_order_and_a_hard_edge(self):
        entries = ((1, "0000FF"), (0, "FF0000"), (0.5, "00FF00"), (0.5, "000000"))
        pixels = self.paint(shape(fill=linear(0, *entries), place=PLACE))
        self.assert_level(pixels, LEFT + WIDTH * 0.25, TOP + 9, (127, 128, 0))
        self.assert_level(pixels, LEFT + WIDTH * 0.5 - 2, TOP + 9, (2, 253, 0))
        self.assert_level(pixels, LEFT + WIDTH * 0.5 + 2, TOP + 9, (0, 0, 3))

    def test_the_ends_of_stops_inside_reach_to_the_edges(self):
        pixels = self.paint(shape(fill=linear(0, (0.25, "400000"), (0.75, "C00000")), place=PLACE))
        self.assert_level(pixels, LEFT + 10, TOP + 9, (0x40, 0, 0))
        self.assert_level(pixels, LEFT + WIDTH - 10, TOP + 9, (0xC0, 0, 0))

    def test_stops_have_opacities_of_their_own(self):
        fill = (
            f"<a:gradFill>{stops((0, '000000'), (1, '000000'), alpha={0: 1.0, 1: 0.0})}"
            '<a:lin ang="0"/></a:gradFill>'
        )
        pixels = self.paint(shape(fill=fill, place=PLACE))
        for share in (0.25, 0.5, 0.75):
            self.assert_level(pixels, LEFT + share * WIDTH, TOP + 9, 255 * share)

    def test_turning_with_the_shape_or_not(self):
        turned = xfrm(60, 60, 300, 120, 'rot="10800000"')
        with_shape = self.paint(shape(fill=linear(0, *BLACK_TO_WHITE), place=turned))
        self.assert_level(with_shape, LEFT + 100, TOP + 50, 255 * (1 - 100.5 / WIDTH))
        fixed = linear(0, *BLACK_TO_WHITE, attributes='rotWithShape="0"')
        upright = self.paint(shape(fill=fixed, place=turned))
        self.assert_level(upright, LEFT + 100, TOP + 50, 255 * 100.5 / WIDTH)

    def test_mirrored_with_the_shape(self):
        mirrored = xfrm(60, 60, 300, 120, 'flipH="1"')
        pixels = self.paint(shape(fill=linear(0, *BLACK_TO_WHITE), place=mirrored))
        self.assert_level(pixels, LEFT + 100, TOP + 50, 255 * (1 - 100.5 / WIDTH))

    def test_circles_from_the_focus_to_the_farthest_corner(self):
        fill = path("circle", 'l="50000" t="50000" r="50000" b="50000"', *BLACK_TO_WHITE)
        pixels = self.paint(shape(fill=fill, place=PLACE))
        radius = math.hypot(WIDTH / 2, HEIGHT / 2)
        for x, y in ((280, 160), (330, 160), (280, 220), (100, 100)):
            distance = math.hypot(x + 0.5 - LEFT - WIDTH / 2, y + 0.5 - TOP - HEIGHT / 2)
            self.assert_level(pixels, x, y, 255 * distance / radius)

    def test_circles_from_a_corner(self):
        fill = path("circle", 'r="100000" b="100000"', *BLACK_TO_WHITE)
        pixels = self.paint(shape(fill=fill, place=PLACE))
        for x, y in ((100, 100), (300, 200)):
            distance = math.hypot(x + 0.5 - LEFT, y + 0.5 - TOP)
            self.assert_level(pixels, x, y, 255 * distance / math.hypot(WIDTH, HEIGHT))

    def test_nested_rectangles(self):
        fill = path("rect", 'l="50000" t="50000" r="50000" b="50000"', *BLACK_TO_WHITE)
        pixels = self.paint(shape(fill=fill, place=PLACE))
        for x, y in ((180, 160), (280, 100), (130, 110)):
            across = abs(x + 0.5 - LEFT - WIDTH / 2) / (WIDTH / 2)
            down = abs(y + 0.5 - TOP - HEIGHT / 2) / (HEIGHT / 2)
            self.assert_level(pixels, x, y, 255 * max(across, down))

    def test_the_background_and_the_themes_fills(self):
        pixels = self.paint("", slide_background=background(linear(0, *BLACK_TO_WHITE)))
        self.assert_level(pixels, 480, 100, 255 * 480.5 / 960)

    def test_a_gradient_on_tables_and_ellipses(self):
        fill = path("shape", 'l="50000" t="50000" r="50000" b="50000"', *BLACK_TO_WHITE)
        pixels = self.paint(shape(fill=fill, place=PLACE, geometry="ellipse"))
        self.assert_level(pixels, LEFT + WIDTH / 2, TOP + HEIGHT / 2, 0)
        self.assert_level(pixels, LEFT + 2, TOP + 2, 255)


class Patterns(PaintTest):
    def test_a_field_of_two_colours_from_the_pages_corner(self):
        fill = (
            '<a:pattFill prst="dkVert"><a:fgClr><a:srgbClr val="112233"/></a:fgClr>'
            '<a:bgClr><a:srgbClr val="EEDDCC"/></a:bgClr></a:pattFill>'
        )
        pixels = self.paint(shape(fill=fill, place=PLACE))
        for x in range(LEFT, LEFT + 12):
            expected = (0x11, 0x22, 0x33) if x % 4 < 2 else (0xEE, 0xDD, 0xCC)
            self.assert_level(pixels, x, TOP + 20, expected)

    def test_percentages_are_shares_of_the_cells(self):
        for percent in (5, 10, 20, 25, 30, 40, 50, 60, 70, 75, 80, 90):
            rows = rows_of(f"pct{percent}")
            assert rows is not None
            share = sum(bin(row).count("1") for row in rows) / 64
            self.assertAlmostEqual(share, percent / 100, delta=1 / 64)

    def test_all_names_of_the_standard_are_there(self):
        names = (
            "horz vert ltHorz ltVert dkHorz dkVert narHorz narVert dashHorz dashVert cross dnDiag "
            "upDiag ltDnDiag ltUpDiag dkDnDiag dkUpDiag wdDnDiag wdUpDiag dashDnDiag dashUpDiag "
            "diagCross smCheck lgCheck smGrid lgGrid dotGrid smConfetti lgConfetti horzBrick "
            "diagBrick solidDmnd openDmnd dotDmnd plaid sphere weave divot shingle wave trellis zigZag"
        )
        for name in names.split():
            rows = rows_of(name)
            assert rows is not None, name
            bits = sum(bin(row).count("1") for row in rows)
            self.assertTrue(0 < bits < 64, name)
        self.assertIsNone(rows_of("nosuch"))


class PicturePaint(PaintTest):
    def over(
        self, pixels: np.ndarray, blip: str = "", fill: str = "<a:stretch/>", place: str = PLACE
    ):
        return self.paint(
            picture("rId5", place, blip, fill),
            slide_rels={"rId5": ("image", "../media/image1.png")},
            more={"ppt/media/image1.png": png(pixels)},
        )

    def quarters(self) -> np.ndarray:
        """Give 40 by 40 pixels: red, green, blue and grey quarters."""
        pixels = np.zeros((40, 40, 3), np.uint8)
        pixels[:20, :20], pixels[:20, 20:] = (200, 0, 0), (0, 200, 0)
        pixels[20:, :20], pixels[20:, 20:] = (0, 0, 200), (120, 120, 120)
        return pixels

    def test_stretched(self):
        pixels = self.over(self.quarters())
        self.assert_level(pixels, LEFT + 100, TOP + 40, (200, 0, 0))
        self.assert_level(pixels, LEFT + 300, TOP + 120, (120, 120, 120))

    def test_cropped(self):
        crop = '<a:srcRect l="50000" b="50000"/><a:stretch><a:fillRect/></a:stretch>'
        pixels = self.over(self.quarters(), fill=crop)
        for x in (20, 200, 380):
            self.assert_level(pixels, LEFT + x, TOP + 80, (0, 200, 0))

    def test_a_negative_crop_leaves_room(self):
        crop = '<a:srcRect l="-100000"/><a:stretch><a:fillRect/></a:stretch>'
        pixels = self.over(self.quarters(), fill=crop)
        self.assert_level(pixels, LEFT + 100, TOP + 40, 255)
        self.assert_level(pixels, LEFT + 250, TOP + 40, (200, 0, 0))

    def fill(self, pixels: np.ndarray, inner: str, blip: str = "", **options: object) -> np.ndarray:
        filled = f'<a:blipFill><a:blip r:embed="rId5">{blip}</a:blip>{inner}</a:blipFill>'
        return self.paint(
            shape(fill=filled, place=PLACE, **options),
            slide_rels={"rId5": ("image", "../media/image1.png")},
            more={"ppt/media/image1.png": png(pixels)},
        )

    def test_a_fill_with_offsets(self):
        inner = '<a:stretch><a:fillRect l="50000"/></a:stretch>'
        pixels = self.fill(self.quarters(), inner)
        self.assert_level(pixels, LEFT + 100, TOP + 40, 255)
        self.assert_level(pixels, LEFT + 250, TOP + 40, (200, 0, 0))

    def test_tiles_begin_where_they_are_aligned(self):
        # 40 pixels at 96 dpi are 30 points, 40 pixels of the page.
        pixels = self.fill(self.quarters(), '<a:tile sx="100000" sy="100000" algn="tl"/>')
        for column in range(3):
            x = LEFT + 40 * column
            self.assert_level(pixels, x + 10, TOP + 10, (200, 0, 0))
            self.assert_level(pixels, x + 30, TOP + 30, (120, 120, 120))

    def test_tiles_scaled_shifted_and_mirrored(self):
        inner = f'<a:tile sx="50000" sy="50000" tx="{5 * 12700}" ty="0" flip="x" algn="tl"/>'
        pixels = self.fill(self.quarters(), inner)
        # 20 page pixels a copy, shifted by 5 points; every other one mirrored.
        start = LEFT + 5 / 0.75
        self.assert_level(pixels, start + 5, TOP + 5, (200, 0, 0))
        self.assert_level(pixels, start + 25, TOP + 5, (0, 200, 0))
        self.assert_level(pixels, start + 35, TOP + 5, (200, 0, 0))

    def test_tiles_aligned_at_the_bottom_right(self):
        pixels = self.fill(self.quarters(), '<a:tile algn="br"/>')
        self.assert_level(pixels, LEFT + WIDTH - 10, TOP + HEIGHT - 10, (120, 120, 120))
        self.assert_level(pixels, LEFT + WIDTH - 30, TOP + HEIGHT - 30, (200, 0, 0))

    def test_a_picture_is_cut_to_its_outline(self):
        pixels = self.fill(self.quarters(), "<a:stretch/>", geometry="ellipse")
        self.assert_level(pixels, LEFT + 3, TOP + 3, 255)
        self.assert_level(pixels, LEFT + 100, TOP + 60, (200, 0, 0))

    def test_greyscale_and_two_levels(self):
        luma = round(0.299 * 200)
        self.assert_level(self.over(self.quarters(), "<a:grayscl/>"), LEFT + 100, TOP + 40, luma)
        two = self.over(self.quarters(), '<a:biLevel thresh="40000"/>')
        self.assert_level(two, LEFT + 100, TOP + 40, 0)
        self.assert_level(two, LEFT + 300, TOP + 40, 255)

    def test_duotone_mixes_two_colours_by_luma(self):
        blip = '<a:duotone><a:srgbClr val="200040"/><a:srgbClr val="E0F0FF"/></a:duotone>'
        share = 120 / 255
        expected = [
            low + (high - low) * share
            for low, high in zip((0x20, 0, 0x40), (0xE0, 0xF0, 0xFF), strict=True)
        ]
        self.assert_level(self.over(self.quarters(), blip), LEFT + 300, TOP + 120, expected)

    def test_luminance_that_fades_and_that_brightens(self):
        washed = self.over(self.quarters(), '<a:lum bright="70000" contrast="-70000"/>')
        # Half of all is added to 0.306 of the distance from the middle.
        self.assert_level(washed, LEFT + 300, TOP + 120, 128 + 127.5 - 0.306 * (128 - 120))
        brighter = self.over(self.quarters(), '<a:lum bright="20000"/>')
        self.assert_level(brighter, LEFT + 300, TOP + 120, 120 + 51)

    def test_text_over_a_changed_brightness_has_a_verdict_where_programs_agree(self):
        for attributes, expected in (
            ('bright="20000"', Verdict.PASSES),
            ('bright="-60000"', Verdict.NEEDS_EYES),
            ('bright="-90000" contrast="-10000"', Verdict.FALLS_SHORT),
            ('bright="0" contrast="0"', Verdict.PASSES),
        ):
            with self.subTest(attributes):
                path = self.folder.deck(
                    picture("rId5", PLACE, f"<a:lum {attributes}/>")
                    + shape(body(run("Quay", inner=solid("000000"))), place=PLACE),
                    slide_rels={"rId5": ("image", "../media/image1.png")},
                    more={"ppt/media/image1.png": png(np.full((40, 40, 3), 200, np.uint8))},
                )
                [pair] = pairs_of(path)
                self.assertIs(pair.verdict, expected)
                self.assertEqual("brightness" in pair.reason, expected is Verdict.NEEDS_EYES)

    def test_one_colour_becomes_another_or_nothing(self):
        change = (
            '<a:clrChange><a:clrFrom><a:srgbClr val="C80000"/></a:clrFrom><a:clrTo>'
            '<a:srgbClr val="C80000"><a:alpha val="0"/></a:srgbClr></a:clrTo></a:clrChange>'
        )
        pixels = self.over(self.quarters(), change)
        self.assert_level(pixels, LEFT + 100, TOP + 40, 255)
        self.assert_level(pixels, LEFT + 300, TOP + 40, (0, 200, 0))

    def test_opacity_effects(self):
        half = self.over(self.quarters(), '<a:alphaRepl a="50000"/>')
        self.assert_level(half, LEFT + 300, TOP + 120, (120 + 255) / 2)
        inverted = self.over(self.quarters(), "<a:alphaInv/>")
        self.assert_level(inverted, LEFT + 300, TOP + 120, 255)


class Outlines(PaintTest):
    """A point inside each outline has its colour, one outside has the page's."""

    FILL = (0x33, 0x66, 0x99)

    def assert_outline(self, name: str, inside: list, outside: list, **options: object) -> None:
        pixels = self.paint(shape(fill=solid("336699"), place=PLACE, geometry=name, **options))
        for points, colour in ((inside, self.FILL), (outside, 255)):
            for across, down in points:
                with self.subTest(f"{name} {across} {down}"):
                    self.assert_level(pixels, LEFT + across * WIDTH, TOP + down * HEIGHT, colour)

    def test_presets_by_their_formulas(self):
        corner = [(0.01, 0.02), (0.99, 0.02), (0.01, 0.98), (0.99, 0.98)]
        self.assert_outline("ellipse", [(0.5, 0.5), (0.02, 0.5)], corner)
        self.assert_outline("diamond", [(0.5, 0.03), (0.97, 0.5)], [*corner, (0.2, 0.2)])
        self.assert_outline("octagon", [(0.5, 0.01), (0.01, 0.5), (0.99, 0.5)], corner)
        self.assert_outline("hexagon", [(0.03, 0.5), (0.5, 0.02)], corner)
        self.assert_outline("plus", [(0.5, 0.02), (0.02, 0.5)], corner)
        # The shorter side is 160 pixels, so its half is a fifth of the width.
        self.assert_outline(
            "rightArrow", [(0.98, 0.5), (0.1, 0.3), (0.1, 0.7)], [(0.1, 0.2), (0.1, 0.8)]
        )
        self.assert_outline(
            "chevron", [(0.15, 0.5 + 0.35), (0.97, 0.5)], [(0.05, 0.5), (0.99, 0.05)]
        )
        self.assert_outline("donut", [(0.02, 0.5), (0.5, 0.05)], [*corner, (0.5, 0.5)])
        self.assert_outline("frame", [(0.02, 0.5), (0.5, 0.06)], [(0.5, 0.5)])
        self.assert_outline("pie", [(0.3, 0.5), (0.6, 0.7)], [(0.7, 0.3)])
        self.assert_outline("star5", [(0.5, 0.05), (0.5, 0.5)], corner)
        self.assert_outline("plaque", [(0.5, 0.02), (0.15, 0.2)], corner)
        self.assert_outline("wedgeRectCallout", [(0.01, 0.02), (0.32, 1.05)], [(0.6, 1.05)])
        self.assert_outline("wedgeRoundRectCallout", [(0.5, 0.02), (0.32, 1.05)], [(0.005, 0.99)])
        self.assert_outline("flowChartTerminator", [(0.02, 0.5), (0.5, 0.02)], corner)
        self.assert_outline("teardrop", [(0.98, 0.04), (0.5, 0.5)], [corner[0], *corner[2:]])

    def test_gears_ribbons_and_arrows_that_curve(self):
        # By hand from the guides, in a box whose width is two and a half times its height.
        corners = [(0.01, 0.02), (0.99, 0.02), (0.01, 0.98), (0.99, 0.98)]
        # A gear's teeth at the top and the bottom, and beside them a gap.
        self.assert_outline("gear6", [(0.5, 0.02), (0.5, 0.98)], [*corners, (0.68, 0.02)])
        self.assert_outline("gear9", [(0.5, 0.02), (0.5, 0.5)], [*corners, (0.5, 0.98)])
        # A rim of a twentieth of the height round the opening.
        self.assert_outline("funnel", [(0.5, 0.02), (0.5, 0.6)], [(0.5, 0.25), *corners])
        # Rings of an eighth of the height, above and below.
        self.assert_outline("circularArrow", [(0.5, 0.125)], [(0.5, 0.5), (0.5, 0.875)])
        self.assert_outline("leftCircularArrow", [(0.5, 0.875)], [(0.5, 0.5), (0.5, 0.125)])
        self.assert_outline("leftRightCircularArrow", [(0.5, 0.125)], [(0.5, 0.5), (0.5, 0.875)])
        # Their heads end at a quarter of the height, or a tenth of the width, from a corner.
        self.assert_outline("curvedRightArrow", [(0.985, 0.75)], [(0.9, 0.4), corners[3]])
        self.assert_outline("curvedLeftArrow", [(0.015, 0.75)], [(0.1, 0.4), corners[2]])
        self.assert_outline("curvedDownArrow", [(0.9, 0.97)], [(0.5, 0.9), corners[3]])
        self.assert_outline("curvedUpArrow", [(0.9, 0.03)], [(0.5, 0.1), corners[1]])
        self.assert_outline("swooshArrow", [(0.985, 0.2)], [(0.02, 0.05), (0.9, 0.9)])
        self.assert_outline("ellipseRibbon", [(0.5, 0.5), corners[0]], [corners[2]])
        self.assert_outline("ellipseRibbon2", [(0.5, 0.5), corners[2]], [corners[0]])
        self.assert_outline("leftRightRibbon", [(0.01, 5 / 12), (0.99, 7 / 12)], corners)
        # The last bubble is where the adjust values say: 0.5 - 0.20833, 0.5 + 0.625.
        self.assert_outline("cloudCallout", [(0.5, 0.5), (0.2917, 1.125)], [(0.2917, 1.2)])

    def test_text_of_arrows_and_slanted_shapes_stands_where_the_standard_says(self):
        # By hand from the guides of presetShapeDefinitions.xml, in a box of 300 by 100.
        for name, left, top, width, height in (
            ("rightArrow", 0, 25, 275, 50),
            ("leftArrow", 25, 25, 275, 50),
            ("homePlate", 0, 0, 275, 100),
            ("chevron", 50, 0, 200, 100),
            ("rtTriangle", 25, 700 / 12, 150, 400 / 12),
            ("parallelogram", 425 / 12, 1700 / 144, 300 - 850 / 12, 100 - 3400 / 144),
            ("trapezoid", 100 / 6, 100 / 18, 300 - 200 / 6, 100 - 100 / 18),
        ):
            text = preset_geometry(name, Box(10, 20, 300, 100), {}).text_box
            found = (text.x - 10, text.y - 20, text.width, text.height)
            for value, wanted in zip(found, (left, top, width, height), strict=True):
                self.assertAlmostEqual(value, wanted, msg=name)

    def test_every_preset_draws_something_within_reach_of_its_box(self):
        names = {*PRESETS, *STARS, *GEARS, *definitions()}
        # All that ST_ShapeType (§20.1.10.56) lists.
        self.assertEqual(len(names), 187)
        box = Box(10, 20, 90, 50)
        for name in names:
            outline = outline_of(name, box, {})
            assert outline is not None, name
            values = [v for step in outline for v in step.points]
            self.assertTrue(all(math.isfinite(v) and -120 < v < 220 for v in values), name)
            text = preset_geometry(name, box, {}).text_box
            self.assertTrue(box.x <= text.x and text.right <= box.right + 0.01, name)

    def test_connectors_are_lines_alone_and_brackets_where_they_have_no_fill(self):
        line = f'<a:ln w="{4 * 12700}">{solid("336699")}</a:ln>'
        red, none = solid("CC0000"), "<a:noFill/>"
        for name, fill, on, off in (
            (
                "bentConnector3",
                red,
                [(0.25, 0.0), (0.5, 0.5), (0.75, 1.0)],
                [(0.25, 0.5), (0.75, 0.5)],
            ),
            ("curvedConnector3", red, [(0.5, 0.5)], [(0.2, 0.8), (0.8, 0.2)]),
            ("leftBracket", none, [(0.0, 0.5)], [(0.5, 0.5)]),
            ("rightBrace", none, [(0.97, 0.5), (0.5, 0.25)], [(0.2, 0.5)]),
            ("arc", none, [(0.853, 0.146)], [(0.3, 0.7), (0.6, 0.4)]),
        ):
            pixels = self.paint(shape(fill=fill + line, place=PLACE, geometry=name))
            for points, colour in ((on, self.FILL), (off, 255)):
                for across, down in points:
                    with self.subTest(f"{name} {across} {down}"):
                        x, y = LEFT + across * WIDTH, TOP + down * HEIGHT
                        self.assert_level(pixels, x, y, colour)

    def test_brackets_are_filled_where_they_have_a_fill(self):
        # Their first paths have no line and a fill (presetShapeDefinitions.xml).
        self.assert_outline("leftBracket", [(0.9, 0.5), (0.1, 0.5)], [(0.005, 0.005)])
        self.assert_outline("rightBrace", [(0.1, 0.5)], [(0.95, 0.05)])
        self.assert_outline("arc", [(0.6, 0.4)], [(0.3, 0.7), (0.4, 0.4)])

    def test_faces_may_be_darker_or_lighter_in_any_strength(self):
        def over(name: str, fill: str, ink: str, at: tuple[float, float, float, float]) -> Pair:
            own = shape(fill=solid(fill), place=xfrm(40, 40, 400, 300), geometry=name)
            words = shape(body(run(inner=solid(ink))), place=xfrm(*at))
            return next(p for p in pairs_of(self.folder.deck(own + words)) if p.text)

        side, front = (362, 150, 80, 60), (60, 180, 120, 60)
        # The front of a cube has its plain colour.
        pair = over("cube", "8899AA", "FFFFFF", front)
        self.assertAlmostEqual(pair.ratio or 0, ratio_by_hand("FFFFFF", "8899AA"), delta=0.01)
        # White on its right side, which may be much darker, and needn't be.
        self.assertIs(over("cube", "8899AA", "FFFFFF", side).verdict, Verdict.NEEDS_EYES)
        self.assertIs(over("cube", "203040", "FFFFFF", side).verdict, Verdict.PASSES)
        # The lid of a tin is lighter.
        self.assertIs(over("can", "DDDDDD", "000000", (180, 45, 100, 30)).verdict, Verdict.PASSES)

    def test_a_custom_outline_s_faces_are_parts_of_it(self):
        custom = (
            "<a:custGeom><a:pathLst>"
            '<a:path w="10" h="10" stroke="0"><a:moveTo><a:pt x="0" y="0"/></a:moveTo><a:lnTo><a:pt x="10" y="0"/>'
            '</a:lnTo><a:lnTo><a:pt x="10" y="10"/></a:lnTo><a:lnTo><a:pt x="0" y="10"/></a:lnTo><a:close/></a:path>'
            '<a:path w="10" h="10" fill="darkenLess"><a:moveTo><a:pt x="5" y="0"/></a:moveTo><a:lnTo><a:pt x="10" y="0"/>'
            '</a:lnTo><a:lnTo><a:pt x="10" y="10"/></a:lnTo><a:lnTo><a:pt x="5" y="10"/></a:lnTo><a:close/></a:path>'
            "</a:pathLst></a:custGeom>"
        )
        own = shape(fill=custom + solid("8899AA"), place=xfrm(40, 40, 400, 200), geometry="")
        for x, verdict in ((60, Verdict.FALLS_SHORT), (300, Verdict.NEEDS_EYES)):
            words = shape(body(run(inner=solid("FFFFFF"))), place=xfrm(x, 100, 120, 60))
            pair = next(p for p in pairs_of(self.folder.deck(own + words)) if p.text)
            self.assertIs(pair.verdict, verdict)

    def test_a_custom_outline_with_guides_and_an_arc(self):
        custom = (
            '<a:custGeom><a:avLst/><a:gdLst><a:gd name="q" fmla="*/ 1000 1 4"/></a:gdLst><a:pathLst>'
            '<a:path w="1000" h="400"><a:moveTo><a:pt x="q" y="0"/></a:moveTo>'
            '<a:lnTo><a:pt x="750" y="0"/></a:lnTo><a:arcTo wR="250" hR="400" stAng="16200000" swAng="5400000"/>'
            '<a:lnTo><a:pt x="q" y="400"/></a:lnTo><a:close/></a:path></a:pathLst></a:custGeom>'
        )
        pixels = self.paint(shape(fill=custom + solid("336699"), place=PLACE, geometry=""))
        self.assert_level(pixels, LEFT + 0.2 * WIDTH, TOP + 80, 255)
        self.assert_level(pixels, LEFT + 0.3 * WIDTH, TOP + 80, self.FILL)
        self.assert_level(pixels, LEFT + 0.98 * WIDTH, TOP + 150, self.FILL)
        self.assert_level(pixels, LEFT + 0.98 * WIDTH, TOP + 10, 255)

    def test_guide_formulas(self):
        known = standard_guides(200, 100)
        self.assertEqual((known["ss"], known["hc"], known["wd4"]), (100, 100, 50))
        formulas = {
            "*/ 10 6 4": 15, "+- 10 6 4": 12, "+/ 10 6 4": 4, "?: 1 2 3": 2, "?: 0 2 3": 3,
            "abs -4": 4, "at2 1 1": 2_700_000, "cos 10 5400000": 0, "sin 10 5400000": 10,
            "max 3 4": 4, "min 3 4": 3, "mod 2 3 6": 7, "pin 1 9 5": 5, "sqrt 9": 3,
            "tan 10 2700000": 10, "val 42": 42, "cat2 10 3 4": 6, "sat2 10 3 4": 8,
            "*/ 1 1 0": 0, "nonsense": 0, "": 0,
        }  # fmt: skip
        for formula, expected in formulas.items():
            with self.subTest(formula):
                self.assertAlmostEqual(work_out([("x", formula)], known)["x"], expected)


class Shadows(PaintTest):
    @staticmethod
    def shadow(
        distance: float, direction: float, blur: float = 0, opacity: float = 0.5, more: str = ""
    ) -> str:
        return (
            f'<a:effectLst><a:outerShdw blurRad="{round(blur * 12700)}" dist="{round(distance * 12700)}" '
            f'dir="{round(direction * 60000)}" {more}><a:srgbClr val="000000">'
            f'<a:alpha val="{round(opacity * 100000)}"/></a:srgbClr></a:outerShdw></a:effectLst>'
        )

    def test_a_sharp_shadow_lies_beside_its_shape(self):
        fill = solid("00FF00") + self.shadow(30, 0)
        pixels = self.paint(shape(fill=fill, place=PLACE))
        # 30 points are 40 pixels.
        self.assert_level(pixels, LEFT + WIDTH + 20, TOP + 50, 127.5)
        self.assert_level(pixels, LEFT + WIDTH + 42, TOP + 50, 255)
        self.assert_level(pixels, LEFT + 200, TOP + 50, (0, 255, 0))

    def test_a_blurred_edge_is_that_of_a_gaussian(self):
        fill = solid("00FF00") + self.shadow(30, 90, blur=12, opacity=1.0)
        pixels = self.paint(shape(fill=fill, place=PLACE))
        deviation = 12 / 2 / 0.75
        edge = TOP + HEIGHT + 40
        for offset in (-6, 0, 6, 12):
            y = edge + offset
            distance = y + 0.5 - edge
            covered = 0.5 * math.erfc(distance / deviation / math.sqrt(2))
            self.assert_level(pixels, LEFT + 200, y, 255 * (1 - covered), delta=6)

    def test_a_shadow_turns_with_its_shape_or_not(self):
        turned = xfrm(60, 60, 300, 120, 'rot="10800000"')
        with_shape = self.paint(shape(fill=solid("00FF00") + self.shadow(30, 0), place=turned))
        self.assert_level(with_shape, LEFT - 20, TOP + 50, 127.5)
        fixed = self.shadow(30, 0, more='rotWithShape="0"')
        upright = self.paint(shape(fill=solid("00FF00") + fixed, place=turned))
        self.assert_level(upright, LEFT + WIDTH + 20, TOP + 50, 127.5)

    def test_a_stretched_shadow_is_scaled_about_its_alignment(self):
        wide = self.shadow(0, 0, opacity=1.0, more='sx="120000" sy="100000" algn="l"')
        pixels = self.paint(shape(fill=solid("00FF00") + wide, place=PLACE))
        # 20% of 400 pixels, all at the right.
        self.assert_level(pixels, LEFT + WIDTH + 78, TOP + 50, 0)
        self.assert_level(pixels, LEFT + WIDTH + 82, TOP + 50, 255)
        self.assert_level(pixels, LEFT - 2, TOP + 50, 255)

    def test_a_slanted_shadow_moves_with_the_height(self):
        slanted = self.shadow(0, 0, opacity=1.0, more='kx="-2700000" algn="b" sy="100000"')
        pixels = self.paint(shape(fill=solid("00FF00") + slanted, place=PLACE))
        # At 45° the top edge, 160 pixels above the lower one, is moved by as much.
        self.assert_level(pixels, LEFT + WIDTH + 150, TOP + 3, 0)
        self.assert_level(pixels, LEFT + WIDTH + 150, TOP + 20, 255)
        self.assert_level(pixels, LEFT + WIDTH + 5, TOP + 150, 0)

    def test_an_inner_shadow_darkens_the_side_that_it_comes_from(self):
        inner = self.shadow(30, 0, opacity=0.5).replace("outerShdw", "innerShdw")
        pixels = self.paint(shape(fill=solid("00FF00") + inner, place=PLACE))
        # 30 points to the right are 40 pixels.
        self.assert_level(pixels, LEFT + 20, TOP + 50, (0, 127.5, 0))
        self.assert_level(pixels, LEFT + 60, TOP + 50, (0, 255, 0))
        self.assert_level(pixels, LEFT + WIDTH - 20, TOP + 50, (0, 255, 0))
        self.assert_level(pixels, LEFT - 20, TOP + 50, 255)

    def test_an_inner_shadows_blur_is_that_of_a_gaussian(self):
        inner = self.shadow(0, 0, blur=12, opacity=1.0).replace("outerShdw", "innerShdw")
        pixels = self.paint(shape(fill=solid("FFFFFF") + inner, place=PLACE))
        deviation = 12 / 2 / 0.75
        for offset in (0, 6, 12):
            covered = 0.5 * math.erfc((offset + 0.5) / deviation / math.sqrt(2))
            self.assert_level(pixels, LEFT + offset, TOP + 80, 255 * (1 - covered), delta=6)

    def test_an_inner_shadow_turns_with_its_shape_or_not(self):
        turned = xfrm(60, 60, 300, 120, 'rot="10800000"')
        for more, shaded in (("", WIDTH - 20), ('rotWithShape="0"', 20)):
            inner = self.shadow(30, 0, more=more).replace("outerShdw", "innerShdw")
            pixels = self.paint(shape(fill=solid("00FF00") + inner, place=turned))
            self.assert_level(pixels, LEFT + shaded, TOP + 50, (0, 127.5, 0))
            self.assert_level(pixels, LEFT + WIDTH - shaded, TOP + 50, (0, 255, 0))

    def test_the_shadow_of_a_text_is_behind_it(self):
        text = body(run("HHHH", 'sz="6000"', solid("FFFFFF") + self.shadow(3, 45, opacity=1.0)))
        document = open_document(self.folder.deck(shape(text)))
        self.addCleanup(document.close)
        raster = rasterise(document.scene(0), document.pictures)
        self.assertEqual(int(raster.backdrop.min()), 0)
        ink = np.nonzero(raster.numbers)
        dark = np.nonzero(raster.backdrop[..., 0] < 10)
        shift = 3 / math.sqrt(2) / 0.75
        for axis in (0, 1):
            self.assertAlmostEqual(dark[axis].min() - ink[axis].min(), shift, delta=1.5)

    def test_a_shape_that_is_only_text_casts_the_texts_shadow(self):
        text = body(run("HHHH", 'sz="6000"', solid("FFFFFF")))
        pixels = self.paint(shape(text, fill="<a:noFill/>" + self.shadow(3, 45, opacity=1.0)))
        self.assertEqual(int(pixels.min()), 0)


class Lines(PaintTest):
    """An 8-point line is 10.67 pixels wide."""

    def line(self, inner: str, attributes: str = "") -> str:
        return f'<a:ln w="{8 * 12700}" {attributes}>{inner}</a:ln>'

    def stroke(self, inner: str, attributes: str = "", geometry: str = "line") -> np.ndarray:
        flat = xfrm(60, 60, 300, 0 if geometry == "line" else 120)
        fill = self.line(solid("000000") + inner, attributes)
        return self.paint(shape(fill=fill, place=flat, geometry=geometry))

    def test_preset_dashes_are_the_standards_bits(self):
        for name, bits in (
            ("dash", "1111000"),
            ("sysDashDot", "111010"),
            ("lgDash", "1" * 8 + "000"),
        ):
            pixels = self.stroke(f'<a:prstDash val="{name}"/>')
            for place, bit in enumerate(bits):
                x = LEFT + (place + 0.5) * 8 / 0.75
                with self.subTest(name=name, place=place):
                    self.assert_level(pixels, x, TOP, 0 if bit == "1" else 255)

    def test_own_dashes(self):
        pixels = self.stroke('<a:custDash><a:ds d="200000" sp="300000"/></a:custDash>')
        levels = [int(pixels[TOP, int(LEFT + (n + 0.5) * 8 / 0.75), 0]) for n in range(7)]
        self.assertEqual(levels, [0, 0, 255, 255, 255, 0, 0])

    def test_square_caps_reach_past_the_end_by_half_the_width(self):
        self.assert_level(self.stroke("", 'cap="sq"'), LEFT - 4, TOP, 0)
        self.assert_level(self.stroke("", 'cap="flat"'), LEFT - 4, TOP, 255)

    def test_joins_are_round_unless_stated(self):
        corner = LEFT - 5, TOP - 5
        self.assert_level(self.stroke("", geometry="rect"), *corner, 255, delta=60)
        self.assert_level(self.stroke('<a:miter lim="800000"/>', geometry="rect"), *corner, 0)

    def test_a_gradient_runs_along_the_lines_shape(self):
        fill = self.line(linear(0, *BLACK_TO_WHITE))
        pixels = self.paint(shape(fill=fill, place=PLACE))
        for share in (0.25, 0.5, 0.75):
            self.assert_level(pixels, LEFT + share * WIDTH, TOP, 255 * share)

    def test_a_line_takes_from_its_style_what_it_does_not_state(self):
        style = (
            '<p:style><a:lnRef idx="1"><a:srgbClr val="0000FF"/></a:lnRef><a:fillRef idx="0"/>'
            '<a:effectRef idx="0"/><a:fontRef idx="minor"/></p:style>'
        )
        pixels = self.paint(shape(fill=self.line(""), place=PLACE, style=style))
        self.assert_level(pixels, LEFT - 3, TOP + 50, (0, 0, 255))
        thin = self.paint(shape(fill=f"<a:ln>{solid('FF0000')}</a:ln>", place=PLACE, style=style))
        # The style's line is one point wide: a pixel and a third.
        self.assert_level(thin, LEFT, TOP + 50, (255, 85, 85), delta=90)
        self.assert_level(thin, LEFT - 3, TOP + 50, 255)

    def test_heads_stand_at_the_ends_with_their_tips_on_them(self):
        pixels = self.stroke('<a:tailEnd type="triangle" w="lg" len="lg"/>')
        right, size = LEFT + WIDTH, 5 * 8 / 0.75
        # Half way back a triangle is half as high as at its base.
        self.assert_level(pixels, right - size / 2, TOP - size / 4 + 3, 0)
        self.assert_level(pixels, right - size / 2, TOP - size / 4 - 3, 255)
        self.assert_level(pixels, LEFT + 5, TOP - 10, 255)
        for kind, inside in (("oval", 0), ("diamond", 0), ("stealth", 0), ("arrow", 0)):
            head = self.stroke(f'<a:headEnd type="{kind}" w="lg" len="lg"/>')
            with self.subTest(kind=kind):
                self.assert_level(head, LEFT + 2, TOP, inside)
        self.assert_level(
            self.stroke('<a:headEnd type="oval" w="lg" len="lg"/>'), LEFT, TOP + 24, 0
        )

    def test_a_closed_outline_has_no_heads(self):
        ended = self.stroke('<a:tailEnd type="triangle" w="lg" len="lg"/>', geometry="rect")
        np.testing.assert_array_equal(ended, self.stroke("", geometry="rect"))


class Stacking(PaintTest):
    def test_three_see_through_shapes(self):
        colours, opacities = ("FF0000", "00FF00", "0000FF"), (0.6, 0.35, 0.15)
        shapes = "".join(
            shape(fill=solid(c, f'<a:alpha val="{round(o * 100000)}"/>'), place=PLACE)
            for c, o in zip(colours, opacities, strict=True)
        )
        expected = np.array([255.0] * 3)
        for code, opacity in zip(colours, opacities, strict=True):
            above = np.array([int(code[i : i + 2], 16) for i in (0, 2, 4)])
            expected = above * opacity + expected * (1 - opacity)
        self.assert_level(self.paint(shapes), LEFT + 50, TOP + 50, expected, delta=1)

    def test_a_line_half_outside_its_shape(self):
        line = f'{solid("00FF00")}<a:ln w="{8 * 12700}">{solid("0000FF")}</a:ln>'
        pixels = self.paint(shape(fill=line, place=PLACE))
        self.assert_level(pixels, LEFT - 4, TOP + 50, (0, 0, 255))
        self.assert_level(pixels, LEFT + 4, TOP + 50, (0, 0, 255))
        self.assert_level(pixels, LEFT + 8, TOP + 50, (0, 255, 0))
        self.assert_level(pixels, LEFT - 8, TOP + 50, 255)


if __name__ == "__main__":
    unittest.main()
