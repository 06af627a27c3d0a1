"""One hand-made slide for each rule of inheritance, colour and size.

Every expected ratio is arithmetic on the colours written in the test.
"""

import colorsys
import io
import unittest
from collections.abc import Callable

import numpy as np
from PIL import Image

from high_pair.edits.kinds import RecolourText
from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.raster.page import paint_page, rasterise
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import proposals_for
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import SizeClass
from high_pair.wcag.verdicts import Verdict
from tests.decks import (
    CLR_MAP,
    NS,
    THEME_COLOURS,
    DeckFolder,
    background,
    body,
    flat_picture,
    mixed,
    pairs_of,
    picture,
    ratio_by_hand,
    run,
    shape,
    solid,
    xfrm,
)

TITLE = '<p:ph type="title"/>'
BODY = '<p:ph idx="1"/>'
PLACE = xfrm(60, 60, 400, 120)
DK1, LT1 = THEME_COLOURS["dk1"], THEME_COLOURS["lt1"]


def style(of: str, inner: str, level: int = 1) -> str:
    """Write one level of a list style."""
    return f"<a:lvl{level}pPr><a:defRPr {of}>{inner}</a:defRPr></a:lvl{level}pPr>"


def hsl_changed(code: str, change) -> str:
    """Change HSL of gamma-encoded RRGGBB by the standard library's arithmetic."""
    rgb = [int(code[i : i + 2], 16) / 255 for i in (0, 2, 4)]
    hue, lightness, saturation = colorsys.rgb_to_hls(*rgb)
    hue, saturation, lightness = change(hue, saturation, lightness)
    rgb = colorsys.hls_to_rgb(hue % 1, min(1, max(0, lightness)), min(1, max(0, saturation)))
    return "".join(f"{int(value * 255 + 0.5):02X}" for value in rgb)


def linear_changed(code: str, change) -> str:
    """Change linear light of RRGGBB, by the curve written out once more."""
    digits = []
    for i in (0, 2, 4):
        value = int(code[i : i + 2], 16) / 255
        linear = value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4
        linear = min(1.0, max(0.0, change(linear)))
        value = linear * 12.92 if linear <= 0.0031308 else 1.055 * linear ** (1 / 2.4) - 0.055
        digits.append(f"{int(value * 255 + 0.5):02X}")
    return "".join(digits)


class SlideRules(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def pairs(self, shapes: str, **options: object) -> tuple[Pair, ...]:
        return pairs_of(self.folder.deck(shapes, **options))

    def assert_colours(self, pair: Pair, text: str, behind: str) -> None:
        assert pair.numbers is not None, pair.reason
        self.assertEqual(pair.numbers.foreground, f"#{text}")
        self.assertEqual(pair.numbers.background, f"#{behind}")
        self.assertAlmostEqual(pair.numbers.ratio, ratio_by_hand(text, behind), delta=0.01)

    def only(self, shapes: str, **options: object) -> Pair:
        found = self.pairs(shapes, **options)
        self.assertEqual(len(found), 1, [pair.text for pair in found])
        return found[0]


class WhereTheColourComesFrom(SlideRules):
    def test_the_run_itself(self):
        pair = self.only(shape(body(run(inner=solid("336699")))))
        self.assert_colours(pair, "336699", LT1)
        self.assertIn("run", pair.origin)

    def test_without_anything_stated_it_is_the_themes_text_colour(self):
        self.assert_colours(self.only(shape(body(run()))), DK1, LT1)

    def test_the_shapes_own_list_style(self):
        pair = self.only(shape(body(run(), style("", solid("884422")))))
        self.assert_colours(pair, "884422", LT1)
        self.assertIn("list style", pair.origin)

    def test_the_run_beats_the_list_style(self):
        text = body(run(inner=solid("112233")), style("", solid("884422")))
        self.assert_colours(self.only(shape(text)), "112233", LT1)

    def test_the_layouts_placeholder_by_index(self):
        layout = shape(body(run("Prompt"), style("", solid("225588"))), placeholder=BODY)
        pair = self.only(shape(body(run()), placeholder=BODY, place=""), layout=layout)
        self.assert_colours(pair, "225588", LT1)
        self.assertEqual(pair.origin, "layout placeholder → own colour")

    def test_the_masters_placeholder_by_type_beats_its_text_styles(self):
        master = shape(body("", style("", solid("773311"))), placeholder='<p:ph type="body"/>')
        styles = f"<p:bodyStyle>{style('', solid('00AA00'))}</p:bodyStyle>"
        layout = shape(body(""), placeholder=BODY)
        pair = self.only(
            shape(body(run()), placeholder=BODY), layout=layout, master=master, styles=styles
        )
        self.assert_colours(pair, "773311", LT1)

    def test_the_masters_title_style(self):
        styles = f"<p:titleStyle>{style('', solid('accent1'))}</p:titleStyle>"
        pair = self.only(shape(body(run()), placeholder=TITLE), styles=styles)
        self.assert_colours(pair, THEME_COLOURS["accent1"], LT1)
        self.assertEqual(pair.origin, "master title style → theme accent1")

    def test_a_centred_title_is_a_title(self):
        styles = f"<p:titleStyle>{style('', solid('aa0000'.upper()))}</p:titleStyle>"
        pair = self.only(shape(body(run()), placeholder='<p:ph type="ctrTitle"/>'), styles=styles)
        self.assert_colours(pair, "AA0000", LT1)

    def test_a_subtitle_and_an_untyped_placeholder_take_the_body_style(self):
        styles = f"<p:bodyStyle>{style('', solid('0000AA'))}</p:bodyStyle>"
        for mark in ('<p:ph type="subTitle" idx="1"/>', '<p:ph idx="12"/>'):
            with self.subTest(mark):
                pair = self.only(shape(body(run()), placeholder=mark), styles=styles)
                self.assert_colours(pair, "0000AA", LT1)

    def test_the_level_chooses_the_style(self):
        styles = f"<p:bodyStyle>{style('', solid('0000AA'))}{style('', solid('00AA00'), 3)}</p:bodyStyle>"
        text = body(f'<a:p><a:pPr lvl="2"/>{run()}</a:p>')
        self.assert_colours(self.only(shape(text, placeholder=BODY), styles=styles), "00AA00", LT1)

    def test_a_footer_takes_the_other_style(self):
        styles = f"<p:otherStyle>{style('', solid('556677'))}</p:otherStyle>"
        pair = self.only(
            shape(body(run()), placeholder='<p:ph type="ftr" idx="11"/>'), styles=styles
        )
        self.assert_colours(pair, "556677", LT1)

    def test_a_text_box_takes_the_presentations_defaults(self):
        pair = self.only(shape(body(run())), defaults=style("", solid("606060")))
        self.assert_colours(pair, "606060", LT1)

    def test_font_reference_beats_the_presentations_defaults(self):
        reference = (
            '<p:style><a:lnRef idx="0"/><a:fillRef idx="0"/><a:effectRef idx="0"/>'
            '<a:fontRef idx="minor"><a:schemeClr val="accent2"/></a:fontRef></p:style>'
        )
        defaults = style("", solid("606060"))
        pair = self.only(shape(body(run()), style=reference), defaults=defaults)
        self.assert_colours(pair, THEME_COLOURS["accent2"], LT1)

    def test_font_reference_loses_to_the_shapes_list_style(self):
        reference = (
            '<p:style><a:fontRef idx="minor"><a:schemeClr val="accent2"/></a:fontRef></p:style>'
        )
        text = body(run(), style("", solid("123123")))
        self.assert_colours(self.only(shape(text, style=reference)), "123123", LT1)

    def test_an_unknown_preset_falls_back_to_the_inherited_colour(self):
        fill = '<a:solidFill><a:prstClr val="nosuch"/></a:solidFill>'
        pair = self.only(shape(body(run(inner=fill), style("", solid("884422")))))
        self.assert_colours(pair, "884422", LT1)


class Maps(SlideRules):
    def test_text_and_background_go_through_the_masters_map(self):
        dark = CLR_MAP.replace('bg1="lt1" tx1="dk1"', 'bg1="dk1" tx1="lt1"')
        self.assert_colours(self.only(shape(body(run())), clr_map=dark), LT1, DK1)

    def test_dark_1_and_light_1_pass_the_map_by(self):
        dark = CLR_MAP.replace('bg1="lt1" tx1="dk1"', 'bg1="dk1" tx1="lt1"')
        text = body(run(inner=solid("dk1")))
        shapes = shape(text, fill=solid("lt1"))
        self.assert_colours(self.only(shapes, clr_map=dark), DK1, LT1)

    def test_a_slides_override_governs_inherited_styles_too(self):
        override = CLR_MAP.replace('tx1="dk1"', 'tx1="accent2"')
        tail = f"<p:clrMapOvr><a:overrideClrMapping {override}/></p:clrMapOvr>"
        styles = f"<p:titleStyle>{style('', solid('tx1'))}</p:titleStyle>"
        pair = self.only(shape(body(run()), placeholder=TITLE), styles=styles, slide_tail=tail)
        self.assert_colours(pair, THEME_COLOURS["accent2"], LT1)

    def test_a_layouts_override_holds_when_the_slide_has_none(self):
        override = CLR_MAP.replace('tx1="dk1"', 'tx1="accent4"')
        tail = f"<p:clrMapOvr><a:overrideClrMapping {override}/></p:clrMapOvr>"
        master_mapping = "<p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr>"
        pair = self.only(shape(body(run())), layout_tail=tail, slide_tail=master_mapping)
        self.assert_colours(pair, THEME_COLOURS["accent4"], LT1)


class Forms(SlideRules):
    """Each colour form and transform of ECMA-376 Part 1 §20.1.2.3."""

    def assert_form(self, xml: str, expected: str) -> None:
        with self.subTest(xml):
            fill = f"<a:solidFill>{xml}</a:solidFill>"
            self.assert_colours(self.only(shape(body(run(inner=fill)))), expected, LT1)

    def test_preset_names_in_both_spellings(self):
        self.assert_form('<a:prstClr val="navy"/>', "000080")
        self.assert_form('<a:prstClr val="dkSlateGray"/>', "2F4F4F")
        self.assert_form('<a:prstClr val="darkSlateGray"/>', "2F4F4F")
        self.assert_form('<a:prstClr val="medSeaGreen"/>', "3CB371")

    def test_system_colours_as_last_seen(self):
        self.assert_form('<a:sysClr val="windowText" lastClr="010203"/>', "010203")
        self.assert_form('<a:sysClr val="windowText"/>', "000000")

    def test_scrgb_is_linear_light(self):
        # Half of linear light is level 188.
        self.assert_form('<a:scrgbClr r="50000" g="0" b="0"/>', "BC0000")
        self.assert_form('<a:scrgbClr r="50%" g="0%" b="0%"/>', "BC0000")

    def test_hsl_is_of_gamma_encoded_values(self):
        self.assert_form('<a:hslClr hue="7200000" sat="100000" lum="25000"/>', "008000")

    def test_lum_mod_and_lum_off_work_on_hsl(self):
        xml = '<a:schemeClr val="accent1"><a:lumMod val="60000"/><a:lumOff val="40000"/></a:schemeClr>'
        expected = hsl_changed("4472C4", lambda h, s, v: (h, s, v * 0.6 + 0.4))
        self.assert_form(xml, expected)

    def test_the_order_of_transforms_matters(self):
        one = '<a:srgbClr val="4472C4"><a:lumMod val="50000"/><a:lumOff val="20000"/></a:srgbClr>'
        two = '<a:srgbClr val="4472C4"><a:lumOff val="20000"/><a:lumMod val="50000"/></a:srgbClr>'
        self.assert_form(one, hsl_changed("4472C4", lambda h, s, v: (h, s, v * 0.5 + 0.2)))
        self.assert_form(two, hsl_changed("4472C4", lambda h, s, v: (h, s, (v + 0.2) * 0.5)))

    def test_saturation_and_hue(self):
        self.assert_form(
            '<a:srgbClr val="4472C4"><a:satMod val="50000"/></a:srgbClr>',
            hsl_changed("4472C4", lambda h, s, v: (h, s * 0.5, v)),
        )
        self.assert_form(
            '<a:srgbClr val="4472C4"><a:hueOff val="3600000"/></a:srgbClr>',
            hsl_changed("4472C4", lambda h, s, v: (h + 60 / 360, s, v)),
        )
        self.assert_form(
            '<a:srgbClr val="4472C4"><a:hue val="0"/><a:sat val="100000"/></a:srgbClr>',
            hsl_changed("4472C4", lambda h, s, v: (0, 1, v)),
        )

    def test_tint_and_shade_work_in_linear_light(self):
        self.assert_form(
            '<a:srgbClr val="4472C4"><a:tint val="40000"/></a:srgbClr>',
            linear_changed("4472C4", lambda v: v * 0.4 + 0.6),
        )
        self.assert_form(
            '<a:srgbClr val="4472C4"><a:shade val="50000"/></a:srgbClr>',
            linear_changed("4472C4", lambda v: v * 0.5),
        )

    def test_inverse_complement_grey_and_gamma(self):
        self.assert_form(
            '<a:srgbClr val="4472C4"><a:inv/></a:srgbClr>',
            linear_changed("4472C4", lambda v: 1 - v),
        )
        self.assert_form(
            '<a:srgbClr val="4472C4"><a:comp/></a:srgbClr>',
            hsl_changed("4472C4", lambda h, s, v: (h + 0.5, s, v)),
        )
        # Linear 0.5 read as a gamma-encoded value and back again changes nothing.
        self.assert_form('<a:srgbClr val="4472C4"><a:gamma/><a:invGamma/></a:srgbClr>', "4472C4")
        # Green alone: 0.7152 of light, level 220.
        self.assert_form('<a:srgbClr val="00FF00"><a:gray/></a:srgbClr>', "DCDCDC")

    def test_one_channel_in_linear_light(self):
        self.assert_form('<a:srgbClr val="0000FF"><a:red val="50000"/></a:srgbClr>', "BC00FF")
        self.assert_form('<a:srgbClr val="FF0000"><a:redMod val="50000"/></a:srgbClr>', "BC0000")
        self.assert_form('<a:srgbClr val="FF0000"><a:greenOff val="50000"/></a:srgbClr>', "FFBC00")

    def test_transparent_text_is_composited(self):
        fill = solid("000000", '<a:alpha val="40000"/>')
        pair = self.only(shape(body(run(inner=fill)), fill=solid("C0D0E0")))
        self.assert_colours(pair, mixed("000000", 0.4, "C0D0E0"), "C0D0E0")

    def test_alpha_transforms_in_order(self):
        fill = solid("000000", '<a:alpha val="80000"/><a:alphaMod val="50000"/>')
        pair = self.only(shape(body(run(inner=fill))))
        self.assert_colours(pair, mixed("000000", 0.4, LT1), LT1)


class Sizes(SlideRules):
    def test_size_and_weight_are_inherited(self):
        layout = shape(body("", style('sz="2400" b="1"', "")), placeholder=BODY)
        pair = self.only(shape(body(run()), placeholder=BODY), layout=layout)
        self.assertEqual((pair.size, pair.bold, pair.required), (24.0, True, 3.0))

    def test_without_anything_stated_it_is_18_points(self):
        self.assertEqual(self.only(shape(body(run()))).size, 18.0)

    def test_autofit_shrinks_the_text_and_can_take_it_out_of_large_scale(self):
        properties = (
            '<a:bodyPr><a:normAutofit fontScale="77500" lnSpcReduction="20000"/></a:bodyPr>'
        )
        pair = self.only(shape(body(run(properties='sz="2000"'), properties=properties)))
        self.assertAlmostEqual(pair.size, 15.5)
        self.assertIs(pair.size_class, SizeClass.NORMAL)
        self.assertEqual(pair.required, 4.5)

    def test_bold_at_14_points_is_large_scale(self):
        pair = self.only(shape(body(run(properties='sz="1400" b="1"'))))
        self.assertIs(pair.size_class, SizeClass.LARGE)

    def test_a_group_scales_its_shapes_and_not_their_text(self):
        group = (
            '<p:grpSp><p:nvGrpSpPr><p:cNvPr id="3" name="G"/><p:cNvGrpSpPr/><p:nvPr/>'
            '</p:nvGrpSpPr><p:grpSpPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="4572000" cy="2286000"/>'
            '<a:chOff x="0" y="0"/><a:chExt cx="9144000" cy="4572000"/></a:xfrm></p:grpSpPr>'
            + shape(body(run(properties='sz="2000"')), place=xfrm(100, 100, 400, 100))
            + "</p:grpSp>"
        )
        pair = self.only(group)
        self.assertEqual(pair.size, 20.0)
        # 100 points in the group are 50 on the page; the inset is 7.2.
        self.assertAlmostEqual(pair.bbox[0], 50 + 7.2, delta=3)

    def test_superscripts_are_shown_at_two_thirds(self):
        pair = self.only(shape(body(run(properties='sz="3000" baseline="30000"'))))
        self.assertAlmostEqual(pair.size, 20.0)


class Links(SlideRules):
    RELS = {"rId5": ("hyperlink", "http://ferries.invalid/")}

    def link(self, properties: str = "", colour: str = "", inside: str = "") -> str:
        inner = f'{colour}<a:hlinkClick r:id="rId5">{inside}</a:hlinkClick>'
        return run("Read more", properties, inner)

    def test_a_link_takes_the_themes_link_colour_whatever_its_own(self):
        pair = self.only(shape(body(self.link(colour=solid("00FF00")))), slide_rels=self.RELS)
        self.assert_colours(pair, THEME_COLOURS["hlink"], LT1)
        self.assertEqual(pair.origin, "theme hlink")

    def test_the_extension_keeps_the_runs_own_colour(self):
        extension = (
            '<a:extLst><a:ext uri="{A12FA001-AC4F-418D-AE19-62706E023703}"><ahyp:hlinkClr '
            'xmlns:ahyp="http://schemas.microsoft.com/office/drawing/2018/hyperlinkcolor" '
            'val="tx"/></a:ext></a:extLst>'
        )
        text = body(self.link(colour=solid("117711"), inside=extension))
        self.assert_colours(self.only(shape(text), slide_rels=self.RELS), "117711", LT1)

    def test_an_underlined_link_has_one_entry(self):
        pairs = self.pairs(shape(body(run("Text") + self.link())), slide_rels=self.RELS)
        self.assertEqual([pair.criterion for pair in pairs], ["1.4.3", "1.4.3"])

    def test_a_link_told_by_colour_alone_has_a_second_entry(self):
        text = body(run("Text around ") + self.link('u="none"'))
        pairs = self.pairs(shape(text), slide_rels=self.RELS)
        link = pairs[-1]
        self.assertEqual((link.subject, link.criterion, link.required), ("link", "1.4.1", 3.0))
        expected = ratio_by_hand(THEME_COLOURS["hlink"], DK1)
        assert link.numbers is not None
        self.assertEqual(link.numbers.background, f"#{DK1}")
        self.assertAlmostEqual(link.numbers.ratio, expected, delta=0.01)

    def test_a_bold_link_in_plain_text_is_not_told_by_colour_alone(self):
        text = body(run("Text around ") + self.link('u="none" b="1"'))
        pairs = self.pairs(shape(text), slide_rels=self.RELS)
        self.assertNotIn("1.4.1", [pair.criterion for pair in pairs])


class Behind(SlideRules):
    def test_background_of_the_slide_beats_layout_and_master(self):
        pair = self.only(
            shape(body(run())),
            slide_background=background(solid("DDCCBB")),
            layout_background=background(solid("111111")),
            master_background=background(solid("222222")),
        )
        self.assert_colours(pair, DK1, "DDCCBB")

    def test_background_reference_takes_the_themes_list(self):
        reference = '<p:bg><p:bgRef idx="1002"><a:schemeClr val="accent4"/></p:bgRef></p:bg>'
        expected = linear_changed(THEME_COLOURS["accent4"], lambda v: v * 0.5)
        pair = self.only(shape(body(run())), slide_background=reference)
        self.assert_colours(pair, DK1, expected)

    def test_a_shapes_fill_through_its_style(self):
        for index, expected in (
            (1, THEME_COLOURS["accent5"]),
            (2, hsl_changed(THEME_COLOURS["accent5"], lambda h, s, v: (h, s, v * 0.5))),
        ):
            reference = f'<p:style><a:fillRef idx="{index}"><a:schemeClr val="accent5"/></a:fillRef></p:style>'
            with self.subTest(index):
                self.assert_colours(self.only(shape(body(run()), style=reference)), DK1, expected)

    def test_no_fill_of_its_own_beats_the_style(self):
        reference = '<p:style><a:fillRef idx="1"><a:schemeClr val="accent6"/></a:fillRef></p:style>'
        pair = self.only(shape(body(run()), fill="<a:noFill/>", style=reference))
        self.assert_colours(pair, DK1, LT1)

    def test_a_placeholders_fill_is_inherited(self):
        layout = shape(body(""), fill=solid("DDEEFF"), placeholder=BODY)
        pair = self.only(shape(body(run()), placeholder=BODY, place=""), layout=layout)
        self.assert_colours(pair, DK1, "DDEEFF")

    def test_see_through_shapes_stack_in_order(self):
        half = '<a:alpha val="50000"/>'
        shapes = (
            shape(fill=solid("FF0000", half))
            + shape(fill=solid("0000FF", half))
            + shape(body(run(inner=solid("FFFFFF"))), fill="<a:noFill/>")
        )
        below = mixed("0000FF", 0.5, mixed("FF0000", 0.5, LT1))
        pair = self.only(shapes)
        # One rounding on the way more or less is one level.
        assert pair.numbers is not None
        found = pair.numbers.background
        for i in (0, 2, 4):
            self.assertAlmostEqual(
                int(found[1:][i : i + 2], 16), int(below[i : i + 2], 16), delta=1
            )
        self.assert_colours(pair, "FFFFFF", found[1:])

    def test_masters_shapes_lie_below_the_layouts_and_the_slides(self):
        pair = self.only(
            shape(body(run())),
            master=shape(fill=solid("111111")),
            layout=shape(fill=solid("EEDDCC")),
        )
        self.assert_colours(pair, DK1, "EEDDCC")

    def test_a_slide_can_hide_its_masters_shapes_and_so_the_layouts(self):
        options = {
            "master": shape(fill=solid("111111")),
            "layout": shape(fill=solid("222222")),
            "slide_attributes": 'showMasterSp="0"',
        }
        self.assert_colours(self.only(shape(body(run())), **options), DK1, LT1)

    def test_a_layout_can_hide_its_masters_shapes(self):
        options = {
            "master": shape(fill=solid("111111")),
            "layout_attributes": 'showMasterSp="0"',
        }
        self.assert_colours(self.only(shape(body(run())), **options), DK1, LT1)

    def test_hidden_shapes_paint_nothing(self):
        shapes = shape(fill=solid("111111"), hidden='hidden="1"') + shape(body(run()))
        self.assert_colours(self.only(shapes), DK1, LT1)

    def test_use_background_fill_paints_the_background_over_what_is_below(self):
        shapes = shape(fill=solid("111111")) + shape(body(run()), attributes='useBgFill="1"')
        pair = self.only(shapes, slide_background=background(solid("CCDDEE")))
        self.assert_colours(pair, DK1, "CCDDEE")

    def test_group_fill(self):
        group = (
            '<p:grpSp><p:nvGrpSpPr><p:cNvPr id="3" name="G"/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr>'
            f"<p:grpSpPr>{solid('FFEEAA')}</p:grpSpPr>"
            + shape(body(run()), fill="<a:grpFill/>")
            + "</p:grpSp>"
        )
        self.assert_colours(self.only(group), DK1, "FFEEAA")

    def grouped(self, content: str, fill: str) -> str:
        return (
            '<p:grpSp><p:nvGrpSpPr><p:cNvPr id="3" name="G"/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr>'
            f"<p:grpSpPr>{fill}</p:grpSpPr>{content}</p:grpSp>"
        )

    def test_a_group_takes_over_the_fill_of_the_group_round_it(self):
        words = shape(body(run()), fill="<a:grpFill/>")
        for levels in (1, 2, 3):
            inner = words
            for _ in range(levels):
                inner = self.grouped(inner, "<a:grpFill/>")
            self.assert_colours(self.only(self.grouped(inner, solid("FFEEAA"))), DK1, "FFEEAA")

    def test_over_a_groups_gradient_the_verdict_holds_for_all_its_colours(self):
        def over(first: str, last: str) -> Pair:
            stops = "".join(
                f'<a:gs pos="{at}"><a:srgbClr val="{code}"/></a:gs>'
                for at, code in ((0, first), (100000, last))
            )
            gradient = f'<a:gradFill><a:gsLst>{stops}</a:gsLst><a:lin ang="0"/></a:gradFill>'
            words = shape(body(run(inner=solid("000000"))), fill="<a:grpFill/>")
            return self.only(self.grouped(words, gradient))

        pair = over("FFFFFF", "AABBCC")
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertAlmostEqual(pair.ratio, ratio_by_hand("000000", "AABBCC"), delta=0.01)
        self.assertIs(over("000000", "333333").verdict, Verdict.FALLS_SHORT)
        self.assertIs(over("000000", "FFFFFF").verdict, Verdict.NEEDS_EYES)

    def test_a_highlight_is_the_texts_backdrop(self):
        inner = solid("000000") + '<a:highlight><a:srgbClr val="FFFF00"/></a:highlight>'
        pair = self.only(shape(body(run(inner=inner)), fill=solid("222222")))
        self.assert_colours(pair, "000000", "FFFF00")

    def test_something_see_through_above_changes_text_and_backdrop_alike(self):
        cover = shape(fill=solid("000000", '<a:alpha val="50000"/>'))
        pair = self.only(shape(body(run(inner=solid("FFFFFF"))), fill=solid("336699")) + cover)
        self.assert_colours(pair, mixed("000000", 0.5, "FFFFFF"), mixed("000000", 0.5, "336699"))


class WhatIsListed(SlideRules):
    def test_prompts_of_layouts_are_not_shown_and_their_other_text_is(self):
        layout = shape(body(run("Click to add")), placeholder=BODY) + shape(
            body(run("Printed on every slide")), name="Stamp"
        )
        pairs = self.pairs(shape(body(run("Slide text"))), layout=layout)
        self.assertEqual([p.text for p in pairs], ["Printed on every slide", "Slide text"])
        self.assertEqual(pairs[0].where, "Slide 1 › layout › Stamp")
        self.assertTrue(pairs[0].address.startswith("ppt/slideLayouts/slideLayout1.xml#"))

    def test_an_empty_placeholder_makes_no_entry(self):
        self.assertEqual(self.pairs(shape(body(""), placeholder=BODY)), ())

    def test_runs_of_one_look_are_one_entry_with_the_whole_text(self):
        text = body(run("Mus", 'lang="en"') + run("ter", 'dirty="0"') + run(" stations"))
        pair = self.only(shape(text))
        self.assertEqual(pair.text, "Muster stations")
        self.assertEqual(pair.address, "ppt/slides/slide1.xml#sp=1/p=1/r=1-3")

    def test_another_weight_makes_another_entry(self):
        pairs = self.pairs(shape(body(run("Plain ") + run("bold", 'b="1"'))))
        self.assertEqual([p.text for p in pairs], ["Plain", "bold"])

    def test_fields_are_text_and_slide_numbers_count(self):
        field = '<a:fld id="{1}" type="slidenum"><a:rPr/><a:t>‹#›</a:t></a:fld>'
        self.assertEqual(self.only(shape(body(field))).text, "1")

    def test_text_without_a_fill_is_exempt(self):
        pair = self.only(shape(body(run(inner="<a:noFill/>"))))
        self.assertIs(pair.verdict, Verdict.EXEMPT)
        self.assertIn("no fill", pair.reason)

    def test_text_off_the_page_is_exempt(self):
        pair = self.only(shape(body(run()), place=xfrm(900, 60, 200, 50)))
        self.assertIs(pair.verdict, Verdict.EXEMPT)
        self.assertIn("off the page", pair.reason)

    def test_text_covered_wholly_is_exempt(self):
        pair = self.only(shape(body(run())) + shape(fill=solid("445566")))
        self.assertIs(pair.verdict, Verdict.EXEMPT)
        self.assertIn("covers it wholly", pair.reason)

    def test_a_photograph_far_larger_than_it_is_shown_covers_text_too(self):
        out = io.BytesIO()
        Image.new("RGB", (2000, 1500), (90, 90, 90)).save(out, "JPEG")
        path = self.folder.deck(
            shape(body(run("Words"))) + picture("rId9", xfrm(0, 0, 720, 405)),
            slide_rels={"rId9": ("image", "../media/photograph.jpg")},
            more={"ppt/media/photograph.jpg": out.getvalue()},
        )
        (pair,) = pairs_of(path)
        self.assertIs(pair.verdict, Verdict.EXEMPT)

    def test_text_on_a_hidden_slide_is_exempt(self):
        pair = self.only(shape(body(run())), slide_attributes='show="0"')
        self.assertIs(pair.verdict, Verdict.EXEMPT)
        self.assertIn("hidden", pair.reason)

    def test_one_branch_of_alternate_content_is_read(self):
        content = (
            '<mc:AlternateContent><mc:Choice Requires="a14">'
            + shape(body(run("New")))
            + "</mc:Choice><mc:Fallback>"
            + shape(body(run("Old")))
            + "</mc:Fallback></mc:AlternateContent>"
        )
        self.assertEqual(self.only(content).text, "New")
        unknown = content.replace('"a14"', '"cx9"')
        self.assertEqual(self.only(unknown).text, "Old")

    def test_bullets_of_another_colour_are_text_too(self):
        properties = (
            '<a:pPr marL="342900" indent="-342900"><a:buClr><a:srgbClr val="CCCCCC"/></a:buClr>'
            '<a:buAutoNum type="arabicParenR"/></a:pPr>'
        )
        pairs = self.pairs(shape(body(f"<a:p>{properties}{run('First')}</a:p>")))
        self.assertEqual([p.text for p in pairs], ["1)", "First"])
        self.assert_colours(pairs[0], "CCCCCC", LT1)

    def test_capitals_are_shown_as_capitals(self):
        self.assertEqual(self.only(shape(body(run("deck", 'cap="all"')))).text, "DECK")


class LettersOfSeveralColours(SlideRules):
    """Where each colour of a gradient falls isn't sure: a verdict must hold for all of them."""

    @staticmethod
    def gradient(*colours: str) -> str:
        places = range(0, 100_001, 100_000 // (len(colours) - 1))
        entries = zip(places, colours, strict=True)
        inner = "".join(f'<a:gs pos="{p}"><a:srgbClr val="{c}"/></a:gs>' for p, c in entries)
        return f'<a:gradFill><a:gsLst>{inner}</a:gsLst><a:lin ang="0"/></a:gradFill>'

    def text(self, inner: str) -> Pair:
        return self.only(shape(body(run(inner=inner)), fill=solid("FFFFFF")))

    def test_all_pass_and_the_weakest_is_reported(self):
        pair = self.text(self.gradient("000000", "595959"))
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assert_colours(pair, "595959", "FFFFFF")

    def test_all_fall_short(self):
        pair = self.text(self.gradient("AAAAAA", "DDDDDD"))
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        self.assert_colours(pair, "DDDDDD", "FFFFFF")

    def test_some_pass_and_some_fall_short(self):
        pair = self.text(self.gradient("000000", "DDDDDD"))
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("gradient", pair.reason)

    def test_the_colours_between_two_stops_count(self):
        # White and black both stand out from this grey; what lies between them doesn't.
        shapes = shape(body(run(inner=self.gradient("FFFFFF", "000000"))), fill=solid("777777"))
        self.assertIs(self.only(shapes).verdict, Verdict.NEEDS_EYES)

    def test_a_pattern_has_two(self):
        inner = (
            '<a:pattFill prst="pct50"><a:fgClr><a:srgbClr val="111111"/></a:fgClr>'
            '<a:bgClr><a:srgbClr val="EEEEEE"/></a:bgClr></a:pattFill>'
        )
        self.assertIs(self.text(inner).verdict, Verdict.NEEDS_EYES)
        self.assertIs(self.text(inner.replace("EEEEEE", "222222")).verdict, Verdict.PASSES)

    def test_an_outline_counts_as_part_of_the_letter(self):
        """Understanding 1.4.3: a narrow border round a letter is used as the letter."""
        both = f'<a:ln w="9525">{solid("000000")}</a:ln>{solid("222222")}'
        self.assertIs(self.text(both).verdict, Verdict.PASSES)
        pair = self.text(f'<a:ln w="9525">{solid("000000")}</a:ln>{solid("DDDDDD")}')
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("outline", pair.reason)

    def test_text_that_is_only_an_outline_has_its_colour(self):
        pair = self.text(f'<a:ln w="9525">{solid("AA0000")}</a:ln><a:noFill/>')
        self.assert_colours(pair, "AA0000", "FFFFFF")
        self.assertIn("outline", pair.fixed)

    def test_an_outline_without_paint_is_none(self):
        pair = self.text(f'<a:ln w="9525"><a:noFill/></a:ln>{solid("AA0000")}')
        self.assert_colours(pair, "AA0000", "FFFFFF")
        self.assertEqual(pair.fixed, "")

    def test_a_link_takes_its_own_colour_instead(self):
        linked = self.gradient("000000", "DDDDDD") + '<a:hlinkClick r:id=""/>'
        self.assert_colours(self.text(linked), THEME_COLOURS["hlink"], "FFFFFF")

    def test_a_gradient_is_painted_across_its_box(self):
        letters = run("IIIIIIIIIIIIIIIIIIIIIIII", 'sz="4000"', self.gradient("FF0000", "0000FF"))
        place = xfrm(0, 60, 480, 60)
        document = open_document(self.folder.deck(shape(body(letters), place=place)))
        self.addCleanup(document.close)
        page = paint_page(document.scene(0), document.pictures, 960).astype(int)
        inked = np.argwhere(page.sum(axis=2) < 300)
        left, right = inked[inked[:, 1].argmin()], inked[inked[:, 1].argmax()]
        self.assertGreater(page[tuple(left)][0], 200)
        self.assertGreater(page[tuple(right)][2] - page[tuple(left)][2], 60)

    def test_a_recoloured_gradient_becomes_one_colour(self):
        path = self.folder.deck(shape(body(run(inner=self.gradient("AAAAAA", "DDDDDD")))))
        document = open_document(path)
        self.addCleanup(document.close)
        (pair,) = pairs_of(path)
        edited = document.edited([RecolourText(pair.address, (0, 0, 0))])
        (after,) = measured(edited, 0, Asked()).pairs
        self.assert_colours(after, "000000", LT1)


class NeedsEyes(SlideRules):
    """What can't be painted yet under a text is never guessed."""

    def assert_needs_eyes(self, pair: Pair, reason: str) -> None:
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn(reason, pair.reason)
        self.assertIsNone(pair.numbers)

    def test_an_outline_that_is_not_known(self):
        pair = self.only(shape(body(run()), fill=solid("333333"), geometry="nosuchshape"))
        self.assert_needs_eyes(pair, "nosuchshape")

    def test_text_over_an_unknown_outline_passes_where_it_does_with_and_without_its_fill(self):
        def over(code: str, line: str = "") -> Pair:
            fill = solid(code) + line
            return self.only(shape(body(run()), fill=fill, geometry="nosuchshape"))

        self.assertIs(over("EEEEEE").verdict, Verdict.PASSES)
        self.assertIs(over("AABBCC").verdict, Verdict.PASSES)
        self.assert_needs_eyes(over("333333"), "nosuchshape")
        self.assert_needs_eyes(over("EEEEEE", f"<a:ln>{solid('222222')}</a:ln>"), "nosuchshape")

    def test_something_opaque_between_makes_it_measurable(self):
        shapes = shape(fill=solid("AABBCC"), geometry="nosuchshape") + shape(
            body(run()), fill=solid("EEEEEE")
        )
        self.assert_colours(self.only(shapes), DK1, "EEEEEE")

    def test_something_see_through_between_does_not(self):
        between = solid("EEEEEE", '<a:alpha val="30000"/>')
        unknown = shape(fill=solid("111111"), geometry="nosuchshape")
        self.assert_needs_eyes(self.only(unknown + shape(body(run()), fill=between)), "nosuchshape")

    def test_text_beside_it_is_measured(self):
        shapes = shape(
            fill=solid("AABBCC"), geometry="nosuchshape", place=xfrm(0, 0, 50, 50)
        ) + shape(body(run()))
        self.assert_colours(self.only(shapes), DK1, LT1)

    def test_a_glow_reaches_beyond_its_shape(self):
        glow = '<a:effectLst><a:glow rad="254000"><a:srgbClr val="000000"/></a:glow></a:effectLst>'
        card = shape(fill=solid("FFFFFF") + glow, place=xfrm(60, 60, 100, 40))
        beside = shape(body(run()), place=xfrm(160, 60, 200, 40))
        self.assert_needs_eyes(self.only(card + beside), "glow")
        on_it = shape(body(run("A")), place=xfrm(60, 60, 90, 40))
        self.assert_colours(self.only(card + on_it), DK1, "FFFFFF")

    def test_a_soft_edge_is_uncertain_along_the_edge_alone(self):
        soft = '<a:effectLst><a:softEdge rad="127000"/></a:effectLst>'
        card = shape(fill=solid("000000") + soft, place=xfrm(40, 40, 400, 160))
        # Passes on black and on white, but not on all between.
        grey = body(run(inner=solid("757575")))
        inside = shape(grey, place=xfrm(80, 80, 300, 60))
        self.assert_colours(self.only(card + inside), "757575", "000000")
        at_the_edge = shape(grey, place=xfrm(36, 80, 300, 60))
        self.assert_needs_eyes(self.only(card + at_the_edge), "soft edge")
        # Other programs fade over twice the radius: 20 points of the edge at 40.
        reached = shape(grey, place=xfrm(51, 80, 300, 60))
        self.assert_needs_eyes(self.only(card + reached), "soft edge")

    def test_text_over_a_soft_edge_has_a_verdict_that_holds_for_every_strength(self):
        soft = '<a:effectLst><a:softEdge rad="127000"/></a:effectLst>'

        def over(card: str, text: str) -> Pair:
            words = shape(body(run(inner=solid(text))), place=xfrm(36, 80, 300, 60))
            return self.only(shape(fill=solid(card) + soft, place=xfrm(40, 40, 400, 160)) + words)

        passes = over("DDEEFF", "000000")
        self.assertIs(passes.verdict, Verdict.PASSES)
        # The weakest of all that may lie there, from white to the card's colour.
        self.assertAlmostEqual(passes.ratio, ratio_by_hand("000000", "DDEEFF"), delta=0.01)
        short = over("DDEEFF", "AAAAAA")
        self.assertIs(short.verdict, Verdict.FALLS_SHORT)
        self.assertAlmostEqual(short.ratio, ratio_by_hand("AAAAAA", "DDEEFF"), delta=0.01)
        # It passes on white and on black, and on half of that it doesn't.
        grey = "757575"
        self.assertGreater(min(ratio_by_hand(grey, "FFFFFF"), ratio_by_hand(grey, "000000")), 4.5)
        self.assert_needs_eyes(over("000000", grey), "soft edge")

    def test_so_has_text_over_the_soft_edge_of_a_picture(self):
        soft = '<a:effectLst><a:softEdge rad="127000"/></a:effectLst>'
        blip = picture("rId9", xfrm(40, 40, 400, 160)).replace("</p:spPr>", f"{soft}</p:spPr>")
        words = shape(body(run(inner=solid("FFFFFF"))), place=xfrm(36, 80, 300, 60))
        for level, verdict in ((200, Verdict.FALLS_SHORT), (20, Verdict.NEEDS_EYES)):
            pair = self.only(
                blip + words,
                slide_rels={"rId9": ("image", "../media/flat.png")},
                more={"ppt/media/flat.png": flat_picture((level, level, level))},
            )
            self.assertIs(pair.verdict, verdict)

    def test_text_over_a_glow_has_a_verdict_that_holds_for_every_strength(self):
        glow = '<a:effectLst><a:glow rad="254000"><a:srgbClr val="EEEEEE"/></a:glow></a:effectLst>'
        card = shape(fill=solid("FFFFFF") + glow, place=xfrm(60, 60, 100, 40))
        beside = shape(body(run()), place=xfrm(160, 60, 200, 40))
        pair = self.only(card + beside)
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertAlmostEqual(pair.ratio, ratio_by_hand(DK1, "EEEEEE"), delta=0.01)

    def test_the_middle_of_a_soft_edge_has_its_full_strength_and_half_of_it_at_the_radius(self):
        soft = '<a:effectLst><a:softEdge rad="127000"/></a:effectLst>'
        card = shape(fill=solid("000000") + soft, place=xfrm(40, 40, 400, 160))
        document = open_document(self.folder.deck(card + shape(body(run()))))
        self.addCleanup(document.close)
        raster = rasterise(document.scene(0), document.pictures)
        row = raster.backdrop[round(120 * raster.scale), :, 0] / 255
        at = [row[round(x * raster.scale)] for x in (39, 45, 50, 55, 60, 240)]
        self.assertEqual((at[0], at[-1]), (1.0, 0.0))
        self.assertTrue(0.8 < at[1] < 0.95 and 0.45 < at[2] < 0.55 and at[3] < 0.2, at)
        self.assertLess(at[4], 0.03)

    def test_a_preset_shadow(self):
        shadow = '<a:effectLst><a:prstShdw prst="shdw5" dist="127000"><a:srgbClr val="000000"/></a:prstShdw></a:effectLst>'
        card = shape(fill=solid("FFFFFF") + shadow, place=xfrm(60, 60, 100, 40))
        beside = shape(body(run()), place=xfrm(158, 60, 200, 40))
        self.assert_needs_eyes(self.only(card + beside), "shadow")

    def test_a_reflection_lies_below_its_shape_alone(self):
        mirrored = (
            '<a:effectLst><a:reflection stA="52000" endA="300" endPos="35000" dir="5400000" '
            'sy="-100000" algn="bl" rotWithShape="0"/></a:effectLst>'
        )
        card = shape(fill=solid("203040") + mirrored, place=xfrm(60, 60, 300, 100))
        below = shape(body(run()), place=xfrm(60, 160, 200, 40))
        self.assert_needs_eyes(self.only(card + below), "reflection")
        pale = shape(fill=solid("EEEEEE") + mirrored, place=xfrm(60, 60, 300, 100))
        pair = self.only(pale + below)
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertAlmostEqual(pair.ratio, ratio_by_hand(DK1, "EEEEEE"), delta=0.01)
        farther = shape(body(run()), place=xfrm(60, 200, 200, 40))
        self.assert_colours(self.only(card + farther), DK1, "FFFFFF")
        beside = shape(body(run()), place=xfrm(370, 60, 200, 40))
        self.assert_colours(self.only(card + beside), DK1, "FFFFFF")

    def test_a_reflection_shows_the_letters_of_its_shape_too(self):
        mirrored = (
            '<a:effectLst><a:reflection endPos="90000" dist="0" dir="5400000" sy="-100000" '
            'algn="bl" rotWithShape="0"/></a:effectLst>'
        )
        words = body(run("Above", inner=solid("203040")))
        card = shape(words, solid("EEEEEE") + mirrored, place=xfrm(60, 60, 300, 100))
        pairs = {
            p.text: p for p in self.pairs(card + shape(body(run()), place=xfrm(60, 200, 200, 40)))
        }
        self.assertIs(pairs["Above"].verdict, Verdict.PASSES)
        self.assert_needs_eyes(next(p for t, p in pairs.items() if t != "Above"), "reflection")

    def test_the_reflection_of_letters_is_no_obstacle_to_themselves(self):
        mirrored = '<a:effectLst><a:reflection dir="5400000" sy="-100000" algn="bl"/></a:effectLst>'
        pair = self.only(shape(body(run()), mirrored, place=xfrm(60, 60, 300, 100)))
        self.assert_colours(pair, DK1, "FFFFFF")

    def test_a_blurred_surface_is_sure_in_its_middle_alone(self):
        blur = '<a:effectLst><a:blur rad="127000"/></a:effectLst>'
        card = shape(fill=solid("203040") + blur, place=xfrm(60, 60, 400, 160))
        middle = shape(body(run(inner=solid("FFFFFF"))), place=xfrm(160, 100, 200, 60))
        self.assert_colours(self.only(card + middle), "FFFFFF", "203040")
        edge = shape(body(run(inner=solid("FFFFFF"))), place=xfrm(54, 100, 200, 60))
        self.assert_needs_eyes(self.only(card + edge), "blur")
        outside = shape(body(run()), place=xfrm(455, 100, 200, 60))
        self.assert_needs_eyes(self.only(card + outside), "blur")

    def test_text_over_a_compound_line_may_lie_on_it_or_in_its_gaps(self):
        for code, verdict in (("BBBBBB", Verdict.PASSES), ("303030", Verdict.NEEDS_EYES)):
            line = f'<a:ln w="381000" cmpd="dbl">{solid(code)}</a:ln>'
            card = shape(fill=solid("FFFFFF") + line, place=xfrm(60, 60, 400, 160))
            on_line = shape(body(run()), place=xfrm(40, 100, 200, 60))
            self.assertIs(self.only(card + on_line).verdict, verdict)
            inside = shape(body(run()), place=xfrm(160, 100, 200, 60))
            self.assert_colours(self.only(card + inside), DK1, "FFFFFF")

    def test_a_diagram_is_measured_by_its_drawing_and_left_as_it_is(self):
        space = 'xmlns:dsp="http://schemas.microsoft.com/office/drawing/2008/diagram"'
        drawing = (
            (
                f"<dsp:drawing {space} {NS}><dsp:spTree><dsp:sp>"
                + shape(
                    body(run("Step one", inner=solid("9999AA"))),
                    solid("EEEEFF"),
                    place=xfrm(10, 10, 200, 60),
                )
                .replace("<p:sp ", "<x ", 1)
                .partition(">")[2]
                .rpartition("</p:sp>")[0]
                .replace("</p:spPr>", "</p:spPr>", 1)
                + "</dsp:sp></dsp:spTree></dsp:drawing>"
            )
            .replace("<p:", "<dsp:")
            .replace("</p:", "</dsp:")
        )
        data = (
            '<dgm:dataModel xmlns:dgm="http://schemas.openxmlformats.org/drawingml/2006/diagram">'
            f'<dgm:extLst><ext><dsp:dataModelExt {space} relId="rId6"/></ext></dgm:extLst></dgm:dataModel>'
        )
        frame = (
            '<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="4" name="Diagram 1"/>'
            "<p:cNvGraphicFramePr/><p:nvPr/></p:nvGraphicFramePr>"
            '<p:xfrm><a:off x="1270000" y="762000"/><a:ext cx="5080000" cy="1524000"/></p:xfrm>'
            '<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/diagram">'
            '<dgm:relIds xmlns:dgm="http://schemas.openxmlformats.org/drawingml/2006/diagram" r:dm="rId5"/>'
            "</a:graphicData></a:graphic></p:graphicFrame>"
        )
        path = self.folder.deck(
            frame,
            slide_rels={
                "rId5": ("diagramData", "../diagrams/data1.xml"),
                "rId6": ("diagramDrawing", "../diagrams/drawing1.xml"),
            },
            more={
                "ppt/diagrams/data1.xml": data.encode(),
                "ppt/diagrams/drawing1.xml": drawing.encode(),
            },
        )
        (pair,) = pairs_of(path)
        self.assert_colours(pair, "9999AA", "EEEEFF")
        # The frame's corner at 100 points, the shape's at 10 more, the inset 7.2.
        self.assertAlmostEqual(pair.bbox[0], 117.2, delta=2)
        document = open_document(path)
        self.addCleanup(document.close)
        proposals = proposals_for([pair], document, PageBench(), Asked())
        self.assertEqual(proposals.remedies, ())
        self.assertIn("diagram", proposals.none)

    def test_text_in_columns_on_a_varied_backdrop(self):
        properties = '<a:bodyPr numCol="2"/>'
        half = shape(fill=solid("000000"), place=xfrm(60, 60, 200, 120))
        text = shape(body(run(inner=solid("888888")), properties=properties))
        self.assert_needs_eyes(self.only(half + text), "columns")
        self.assert_colours(self.only(text), "888888", LT1)


class Tables(SlideRules):
    def table(self, properties: str, cells: str) -> str:
        return (
            '<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="4" name="Table 1"/>'
            "<p:cNvGraphicFramePr/><p:nvPr/></p:nvGraphicFramePr>"
            '<p:xfrm><a:off x="762000" y="762000"/><a:ext cx="5080000" cy="1524000"/></p:xfrm>'
            '<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/table">'
            f'<a:tbl>{properties}<a:tblGrid><a:gridCol w="2540000"/><a:gridCol w="2540000"/></a:tblGrid>'
            f"{cells}</a:tbl></a:graphicData></a:graphic></p:graphicFrame>"
        )

    @staticmethod
    def cell(
        text: str, inner: str = "", properties: str = "<a:tcPr/>", attributes: str = ""
    ) -> str:
        return (
            f"<a:tc {attributes}><a:txBody><a:bodyPr/><a:lstStyle/><a:p>{run(text, inner=inner)}</a:p>"
            f"</a:txBody>{properties}</a:tc>"
        )

    def row(self, *cells: str) -> str:
        return f'<a:tr h="508000">{"".join(cells)}</a:tr>'

    STYLE = (
        '<a:tblStyle styleId="{S}" styleName="t"><a:wholeTbl><a:tcTxStyle><a:srgbClr val="111111"/>'
        '</a:tcTxStyle><a:tcStyle><a:fill><a:solidFill><a:srgbClr val="EEEEEE"/></a:solidFill>'
        "</a:fill></a:tcStyle></a:wholeTbl><a:band1H><a:tcStyle><a:fill><a:solidFill>"
        '<a:srgbClr val="CCDDEE"/></a:solidFill></a:fill></a:tcStyle></a:band1H>'
        '<a:firstRow><a:tcTxStyle b="on"><a:srgbClr val="FFFFFF"/></a:tcTxStyle><a:tcStyle><a:fill>'
        '<a:solidFill><a:srgbClr val="336699"/></a:solidFill></a:fill></a:tcStyle></a:firstRow>'
        "</a:tblStyle>"
    )

    def test_a_style_dresses_header_bands_and_body(self):
        properties = (
            '<a:tblPr firstRow="1" bandRow="1"><a:tableStyleId>{S}</a:tableStyleId></a:tblPr>'
        )
        rows = "".join(self.row(self.cell(f"{n}a"), self.cell(f"{n}b")) for n in range(3))
        pairs = self.pairs(self.table(properties, rows), table_styles=self.STYLE)
        self.assert_colours(pairs[0], "FFFFFF", "336699")
        self.assertTrue(pairs[0].bold)
        # The row after the header is the first band.
        self.assert_colours(pairs[2], "111111", "CCDDEE")
        self.assert_colours(pairs[4], "111111", "EEEEEE")
        self.assertEqual(pairs[4].where, "Slide 1 › Table 1 › row 3, cell 1")

    def test_without_the_flags_the_parts_do_not_apply(self):
        properties = "<a:tblPr><a:tableStyleId>{S}</a:tableStyleId></a:tblPr>"
        pairs = self.pairs(
            self.table(properties, self.row(self.cell("a"), self.cell("b"))),
            table_styles=self.STYLE,
        )
        self.assert_colours(pairs[0], "111111", "EEEEEE")

    def test_bold_from_a_style_makes_14_points_large_scale(self):
        properties = '<a:tblPr firstRow="1"><a:tableStyleId>{S}</a:tableStyleId></a:tblPr>'
        cell = self.cell("a").replace("<a:rPr ", '<a:rPr sz="1400" ')
        pairs = self.pairs(self.table(properties, self.row(cell, cell)), table_styles=self.STYLE)
        self.assertIs(pairs[0].size_class, SizeClass.LARGE)

    def test_a_cells_own_fill_and_no_fill(self):
        own = f"<a:tcPr>{solid('FFEE00')}</a:tcPr>"
        cells = self.row(
            self.cell("a", properties=own),
            self.cell("b", properties="<a:tcPr><a:noFill/></a:tcPr>"),
        )
        properties = "<a:tblPr><a:tableStyleId>{S}</a:tableStyleId></a:tblPr>"
        pairs = self.pairs(
            self.table(properties, cells),
            table_styles=self.STYLE,
            slide_background=background(solid("DDFFDD")),
        )
        self.assert_colours(pairs[0], "111111", "FFEE00")
        self.assert_colours(pairs[1], "111111", "DDFFDD")

    def test_merged_cells_spread_their_fill(self):
        own = f"<a:tcPr>{solid('FFEE00')}</a:tcPr>"
        cells = self.row(
            self.cell("wide " * 9, properties=own, attributes='gridSpan="2"'),
            self.cell("", attributes='hMerge="1"'),
        )
        (pair,) = self.pairs(self.table("<a:tblPr/>", cells))
        assert pair.numbers is not None
        self.assertFalse(pair.numbers.varied)
        self.assertEqual(pair.numbers.background, "#FFEE00")

    def test_a_built_in_style_that_the_file_lacks(self):
        properties = (
            '<a:tblPr firstRow="1" bandRow="1"><a:tableStyleId>'
            "{5C22544A-7EE6-4342-B048-85BDC9FD1C3A}</a:tableStyleId></a:tblPr>"
        )
        rows = "".join(self.row(self.cell(f"{n}a"), self.cell(f"{n}b")) for n in range(2))
        pairs = self.pairs(self.table(properties, rows))
        self.assert_colours(pairs[0], LT1, THEME_COLOURS["accent1"])
        band = linear_changed(THEME_COLOURS["accent1"], lambda v: v * 0.4 + 0.6)
        self.assert_colours(pairs[2], DK1, band)

    def borders(self, style: str, first: str = "<a:tcPr/>", merged: bool = False) -> Callable:
        """Paint a table of two by two cells; gives the colour at points on the page."""
        flags = '<a:tblPr firstRow="1"><a:tableStyleId>{S}</a:tableStyleId></a:tblPr>'
        spans = ('gridSpan="2"', 'hMerge="1"') if merged else ("", "")
        head = self.row(
            self.cell("a", properties=first, attributes=spans[0]),
            self.cell("b", attributes=spans[1]),
        )
        rows = head + self.row(self.cell("c"), self.cell("d"))
        listed = f'<a:tblStyle styleId="{{S}}" styleName="t">{style}</a:tblStyle>'
        document = open_document(self.folder.deck(self.table(flags, rows), table_styles=listed))
        self.addCleanup(document.close)
        backdrop = rasterise(document.scene(0), document.pictures).backdrop

        def colour(x: float, y: float) -> str:
            return "".join(f"{level:02X}" for level in backdrop[int(y / 0.75), int(x / 0.75)])

        return colour

    @staticmethod
    def lines(part: str, **sides: str) -> str:
        inner = "".join(
            f'<a:{s}><a:ln w="76200">{solid(c)}</a:ln></a:{s}>' for s, c in sides.items()
        )
        return f"<a:{part}><a:tcStyle><a:tcBdr>{inner}</a:tcBdr></a:tcStyle></a:{part}>"

    def test_a_styles_borders_at_edges_and_inside(self):
        sides = {"left": "FF0000", "right": "00FF00", "insideV": "0000FF", "insideH": "FF00FF"}
        at = self.borders(self.lines("wholeTbl", **sides))
        # The table stands at (60, 60); its columns are 200 points wide, its rows 40 high.
        self.assertEqual(at(60, 130), "FF0000")
        self.assertEqual(at(460, 130), "00FF00")
        self.assertEqual(at(260, 130), "0000FF")
        self.assertEqual(at(150, 100), "FF00FF")
        self.assertEqual(at(150, 60), LT1)

    def test_a_rows_own_borders_beat_the_whole_tables(self):
        style = self.lines("wholeTbl", insideH="FF00FF", top="FF00FF")
        at = self.borders(style + self.lines("firstRow", top="00FF00", insideV="0000FF"))
        self.assertEqual(at(150, 60), "00FF00")
        self.assertEqual(at(260, 75), "0000FF")
        self.assertEqual(at(260, 130), LT1)

    def test_a_cells_own_border_beats_its_styles(self):
        own = f'<a:tcPr><a:lnL w="76200">{solid("FFAA00")}</a:lnL></a:tcPr>'
        at = self.borders(self.lines("wholeTbl", left="FF0000"), own)
        self.assertEqual(at(60, 80), "FFAA00")
        self.assertEqual(at(60, 130), "FF0000")
        none = "<a:tcPr><a:lnL><a:noFill/></a:lnL></a:tcPr>"
        self.assertEqual(self.borders(self.lines("wholeTbl", left="FF0000"), none)(60, 80), LT1)

    def test_a_merged_cell_has_no_line_within(self):
        sides = {"insideV": "0000FF", "right": "00FF00"}
        at = self.borders(self.lines("wholeTbl", **sides), merged=True)
        self.assertEqual(at(260, 80), LT1)
        self.assertEqual(at(460, 80), "00FF00")
        self.assertEqual(at(260, 130), "0000FF")

    def test_an_unknown_style_needs_eyes(self):
        properties = "<a:tblPr><a:tableStyleId>{LOST}</a:tableStyleId></a:tblPr>"
        pairs = self.pairs(self.table(properties, self.row(self.cell("a"), self.cell("b"))))
        self.assertIs(pairs[0].verdict, Verdict.NEEDS_EYES)
        self.assertIn("style isn't defined", pairs[0].reason)


if __name__ == "__main__":
    unittest.main()
