"""Charts on slides: where their marks are painted, and what their text is measured against.

The charts state their plot's place and their scale, so that every pixel
follows from arithmetic: the plot spans 100 to 500 points across and 100 to
300 down, and a value of 1 is 4 points high.
"""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from high_pair.formats import open_document
from high_pair.formats.charts.scales import round_step, scale_of
from high_pair.measure.pairs import Pair
from high_pair.raster.page import rasterise
from high_pair.wcag.verdicts import Verdict
from tests.decks import NS, THEME_COLOURS, pairs_of, shape, solid, xfrm
from tests.formats.test_slide_rules import LT1, SlideRules

SPACE = 'xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart"'
# The chart's frame is 500 by 300 points, from (50, 50).
FRAME = (50, 50, 500, 300)
PLOT = (
    '<c:layout><c:manualLayout><c:layoutTarget val="inner"/><c:xMode val="edge"/>'
    '<c:yMode val="edge"/><c:x val="0.1"/><c:y val="0.16666667"/><c:w val="0.8"/>'
    '<c:h val="0.66666667"/></c:manualLayout></c:layout>'
)
RED, BLUE, GREEN = "C00000", "0000C0", "008000"


def text(size: int, colour: str) -> str:
    return (
        f'<c:txPr><a:bodyPr/><a:p><a:pPr><a:defRPr sz="{size * 100}">{solid(colour)}</a:defRPr>'
        "</a:pPr></a:p></c:txPr>"
    )


def cache(kind: str, *values: str) -> str:
    points = "".join(
        f'<c:pt idx="{n}"><c:v>{v}</c:v></c:pt>' for n, v in enumerate(values) if v != ""
    )
    return f"<c:{kind}Ref><c:{kind}Cache>{points}</c:{kind}Cache></c:{kind}Ref>"


def filled(colour: str) -> str:
    return f"<c:spPr>{solid(colour)}</c:spPr>"


def series(
    *values: str, fill: str = "", labels: str = "", name: str = "Foot passengers", more: str = ""
) -> str:
    return (
        f"<c:ser><c:tx>{cache('str', name)}</c:tx>{fill}{more}{labels}"
        f"<c:cat>{cache('str', 'Spring', 'Summer')}</c:cat>"
        f"<c:val>{cache('num', *(values or ('12', '40')))}</c:val></c:ser>"
    )


def value_axis(more: str = "", scaling: str = '<c:max val="50"/><c:min val="0"/>') -> str:
    return (
        f'<c:valAx><c:axId val="2"/><c:scaling>{scaling}</c:scaling>{more}'
        '<c:axPos val="l"/></c:valAx>'
    )


def bars(
    *rows: str, grouping: str = "clustered", way: str = "col", gap: int = 100, more: str = ""
) -> str:
    return (
        f'<c:barChart><c:barDir val="{way}"/><c:grouping val="{grouping}"/>{"".join(rows)}{more}'
        f'<c:gapWidth val="{gap}"/><c:axId val="1"/><c:axId val="2"/></c:barChart>'
    )


GONE = '<c:delete val="1"/>'


def axes(category: str = GONE, value: str = GONE, scaling: str | None = None) -> str:
    first = f'<c:catAx><c:axId val="1"/>{category}<c:axPos val="b"/></c:catAx>'
    return first + (value_axis(value) if scaling is None else value_axis(value, scaling))


class ChartTest(SlideRules):
    def path(self, plot: str, more: str = "", space: str = "", title: str = "", below: str = ""):
        xml = (
            f"<c:chartSpace {SPACE} {NS}><c:chart>{title}<c:plotArea>{plot}</c:plotArea>{more}"
            f"</c:chart>{space}</c:chartSpace>"
        )
        left, top, width, height = (int(value * 12700) for value in FRAME)
        frame = (
            '<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="4" name="Chart 1"/>'
            "<p:cNvGraphicFramePr/><p:nvPr/></p:nvGraphicFramePr>"
            f'<p:xfrm><a:off x="{left}" y="{top}"/><a:ext cx="{width}" cy="{height}"/></p:xfrm>'
            '<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/chart">'
            f'<c:chart {SPACE} r:id="rId5"/></a:graphicData></a:graphic></p:graphicFrame>'
        )
        return self.folder.deck(
            below + frame,
            slide_rels={"rId5": ("chart", "../charts/chart1.xml")},
            more={"ppt/charts/chart1.xml": xml.encode()},
        )

    def paint(self, plot: str, **options: str) -> None:
        document = open_document(self.path(PLOT + plot, **options))
        self.addCleanup(document.close)
        raster = rasterise(document.scene(0), document.pictures)
        self.pixels, self.scale = raster.backdrop, raster.scale

    def at(self, x: float, y: float) -> str:
        """Give the colour at a place in points."""
        pixel = self.pixels[int(y * self.scale), int(x * self.scale)]
        return "".join(f"{level:02X}" for level in pixel)

    def found(self, plot: str, **options: str) -> dict[str, Pair]:
        pairs = pairs_of(self.path(plot, **options))
        return {f"{pair.where.rpartition(' › ')[2]} {pair.text}": pair for pair in pairs}

    def assert_needs_eyes(self, pair: Pair, reason: str) -> None:
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn(reason, pair.reason)


class Marks(ChartTest):
    def test_bars_stand_in_the_middle_of_their_category(self):
        self.paint(bars(series(fill=filled(RED))) + axes())
        # Each category is 200 wide; with a gap as wide as a bar, the bar takes the middle half.
        for x, colour in ((145, LT1), (155, RED), (245, RED), (255, LT1), (355, RED)):
            self.assertEqual(self.at(x, 295), colour, x)
        # 12 is 48 high, 40 is 160 high.
        for x, y, colour in ((200, 254, RED), (200, 250, LT1), (400, 142, RED), (400, 138, LT1)):
            self.assertEqual(self.at(x, y), colour, (x, y))

    def test_clustered_bars_side_by_side_and_stacked_ones_on_one_another(self):
        two = series(fill=filled(RED)), series("25", "10", fill=filled(BLUE))
        self.paint(bars(*two) + axes())
        # Two bars and a gap in 200 points: bars of 66.7 from 133.3.
        self.assertEqual(self.at(160, 290), RED)
        self.assertEqual(self.at(240, 290), BLUE)
        self.assertEqual(self.at(240, 205), BLUE)
        self.assertEqual(self.at(160, 205), LT1)
        self.paint(bars(*two, grouping="stacked", more='<c:overlap val="100"/>') + axes())
        self.assertEqual(self.at(200, 255), RED)
        self.assertEqual(self.at(200, 250), BLUE)
        self.assertEqual(self.at(200, 153), BLUE)
        self.assertEqual(self.at(200, 150), LT1)

    def test_shares_of_a_whole(self):
        two = series("1", "3", fill=filled(RED)), series("3", "1", fill=filled(BLUE))
        scaling = '<c:max val="1"/><c:min val="0"/>'
        self.paint(
            bars(*two, grouping="percentStacked", more='<c:overlap val="100"/>')
            + axes(scaling=scaling)
        )
        self.assertEqual(self.at(200, 252), RED)
        self.assertEqual(self.at(200, 248), BLUE)
        self.assertEqual(self.at(400, 152), RED)
        self.assertEqual(self.at(400, 148), BLUE)

    def test_lying_bars_begin_at_the_bottom(self):
        self.paint(bars(series(fill=filled(RED)), way="bar") + axes())
        # 12 of 50 is 96 of 400 points, in the lower half.
        for x, y, colour in ((194, 250, RED), (198, 250, LT1), (418, 150, RED), (422, 150, LT1)):
            self.assertEqual(self.at(x, y), colour, (x, y))

    def test_bars_below_nothing_hang_down(self):
        self.paint(
            bars(series("-10", "20", fill=filled(RED)))
            + axes(scaling='<c:max val="25"/><c:min val="-25"/>')
        )
        for x, y, colour in ((200, 238, RED), (200, 242, LT1), (200, 198, LT1), (400, 122, RED)):
            self.assertEqual(self.at(x, y), colour, (x, y))

    def test_an_axis_may_run_the_other_way(self):
        scaling = '<c:orientation val="maxMin"/><c:max val="50"/><c:min val="0"/>'
        self.paint(bars(series(fill=filled(RED))) + axes(scaling=scaling))
        self.assertEqual(self.at(200, 146), RED)
        self.assertEqual(self.at(200, 150), LT1)

    def test_a_point_has_its_own_colour_and_the_rest_the_next_accents(self):
        point = f'<c:dPt><c:idx val="1"/>{filled(GREEN)}</c:dPt>'
        self.paint(bars(series(more=point)) + axes())
        self.assertEqual(self.at(200, 290), THEME_COLOURS["accent1"])
        self.assertEqual(self.at(400, 290), GREEN)

    def test_automatic_colours_of_another_style_are_not_known(self):
        labels = (
            f'<c:dLbls>{text(14, "FFFFFF")}<c:dLblPos val="ctr"/><c:showVal val="1"/></c:dLbls>'
        )
        found = {
            number: self.found(
                PLOT + bars(series("30", "40", labels=labels)) + axes(),
                space=f'<c:style val="{number}"/>' + text(18, "000000"),
            )["label of Foot passengers 30"]
            for number in (2, 18)
        }
        self.assert_colours(found[2], "FFFFFF", THEME_COLOURS["accent1"])
        self.assert_needs_eyes(found[18], "colour that the file doesn't state")

    def test_lines_and_areas(self):
        def drawn(kind: str, inner: str) -> str:
            return (
                f'<c:{kind}><c:grouping val="standard"/>{inner}<c:axId val="1"/>'
                f'<c:axId val="2"/></c:{kind}>'
            )

        thick = f'<c:spPr><a:ln w="127000">{solid(RED)}</a:ln></c:spPr>'
        self.paint(drawn("lineChart", series("10", "40", fill=thick)) + axes())
        # From (200, 260) to (400, 140): half way at (300, 200), ten points thick.
        for y, colour in ((200, RED), (196, RED), (204, RED), (190, LT1), (210, LT1)):
            self.assertEqual(self.at(300, y), colour, y)
        self.assertEqual(self.at(150, 260), LT1)
        between = '<c:delete val="1"/><c:crossBetween val="midCat"/>'
        area = drawn("areaChart", series("10", "40", fill=filled(BLUE)))
        self.paint(area + axes(value=between))
        # On the ticks an area spans the whole plot: from 260 at the left to 140 at the right.
        for x, y, colour in ((105, 265, BLUE), (105, 250, LT1), (300, 204, BLUE), (300, 196, LT1)):
            self.assertEqual(self.at(x, y), colour, (x, y))

    def test_points_across_and_up(self):
        thick = f'<c:spPr><a:ln w="127000">{solid(RED)}</a:ln></c:spPr>'
        points = (
            f"<c:ser>{thick}<c:marker><c:symbol val='none'/></c:marker>"
            f"<c:xVal>{cache('num', '2', '6')}</c:xVal>"
            f"<c:yVal>{cache('num', '10', '10')}</c:yVal></c:ser>"
        )
        across = (
            '<c:valAx><c:axId val="1"/><c:scaling><c:max val="8"/><c:min val="0"/></c:scaling>'
            '<c:delete val="1"/><c:axPos val="b"/></c:valAx>'
        )
        self.paint(
            f'<c:scatterChart><c:scatterStyle val="lineMarker"/>{points}<c:axId val="1"/>'
            f'<c:axId val="2"/></c:scatterChart>{across}{value_axis(GONE)}'
        )
        for x, colour in ((195, LT1), (205, RED), (395, RED), (405, LT1)):
            self.assertEqual(self.at(x, 260), colour, x)

    def test_slices_go_round_from_the_top(self):
        points = "".join(
            f'<c:dPt><c:idx val="{n}"/>{filled(colour)}</c:dPt>'
            for n, colour in enumerate((RED, BLUE))
        )
        pie = f'<c:varyColors val="1"/>{series("1", "3", more=points)}'
        self.paint(f"<c:pieChart>{pie}</c:pieChart>")
        # A circle of 200 in the middle of the plot, at (300, 200).
        for x, y, colour in ((310, 190, RED), (370, 130, RED), (290, 190, BLUE), (310, 210, BLUE)):
            self.assertEqual(self.at(x, y), colour, (x, y))
        self.assertEqual(self.at(300 + 75, 200 - 75), LT1)
        self.paint(f'<c:pieChart>{pie}<c:firstSliceAng val="90"/></c:pieChart>')
        self.assertEqual(self.at(310, 210), RED)
        self.assertEqual(self.at(310, 190), BLUE)
        self.paint(f'<c:doughnutChart>{pie}<c:holeSize val="50"/></c:doughnutChart>')
        self.assertEqual(self.at(330, 170), LT1)
        self.assertEqual(self.at(353, 147), RED)

    def test_the_areas_fills_and_the_gridlines(self):
        grid = (
            f'<c:delete val="1"/><c:majorGridlines><c:spPr><a:ln w="50800">{solid(GREEN)}</a:ln>'
            '</c:spPr></c:majorGridlines><c:majorUnit val="25"/>'
        )
        self.paint(
            bars(series(fill=filled(RED))) + axes(value=grid) + filled("DDEEFF"),
            space=filled("EEEEEE"),
        )
        self.assertEqual(self.at(60, 60), "EEEEEE")
        self.assertEqual(self.at(110, 190), "DDEEFF")
        # At 25 of 50, four points thick, below the bars.
        self.assertEqual(self.at(110, 201), GREEN)
        self.assertEqual(self.at(110, 203), "DDEEFF")
        self.assertEqual(self.at(400, 201), RED)


class Texts(ChartTest):
    TITLE = (
        '<c:title><c:tx><c:rich><a:bodyPr/><a:p><a:r><a:rPr sz="2000"/><a:t>A year</a:t></a:r>'
        "</a:p></c:rich></c:tx></c:title>"
    )

    def test_title_and_axes_are_measured_against_what_is_behind_the_chart(self):
        found = self.found(
            bars(series()) + axes(category=text(12, "777777")),
            title=self.TITLE,
            space=text(18, "336699"),
        )
        self.assert_colours(found["title A year"], "336699", LT1)
        self.assertEqual(found["title A year"].size, 20.0)
        self.assert_colours(found["category axis Spring Summer"], "777777", LT1)
        self.assertFalse([where for where in found if where.startswith("value axis")])

    def test_the_value_axis_has_a_label_for_each_tick(self):
        ticks = '<c:majorUnit val="10"/><c:numFmt formatCode="0%" sourceLinked="0"/>'
        found = self.found(bars(series()) + axes(value=ticks), space=text(10, "336699"))
        (axis,) = (pair for where, pair in found.items() if where.startswith("value axis"))
        self.assertEqual(axis.text, "5000% 4000% 3000% 2000% 1000% 0%")

    def test_the_charts_own_area_is_behind_them(self):
        area = filled("EEDDCC") + text(18, "336699")
        found = self.found(bars(series()) + axes(), title=self.TITLE, space=area)
        self.assert_colours(found["title A year"], "336699", "EEDDCC")

    def test_a_title_has_its_own_fill_behind_it(self):
        title = self.TITLE.replace("</c:title>", filled("112233") + "</c:title>")
        found = self.found(bars(series()) + axes(), title=title, space=text(18, "FFFFFF"))
        self.assert_colours(found["title A year"], "FFFFFF", "112233")

    def test_where_it_depends_on_the_place_it_needs_eyes(self):
        half = shape(fill=solid("000000"), place=xfrm(0, 0, 200, 300))
        found = self.found(
            bars(series()) + axes(), title=self.TITLE, space=text(18, "336699"), below=half
        )
        self.assert_needs_eyes(found["title A year"], "estimated")

    def test_where_all_that_may_be_behind_gives_the_same_verdict_it_is_measured(self):
        # Two light colours meet under the chart; dark text passes on both.
        half = shape(fill=solid("DDDDDD"), place=xfrm(0, 0, 200, 300))
        found = self.found(
            bars(series()) + axes(), title=self.TITLE, space=text(18, "222222"), below=half
        )
        self.assertIs(found["title A year"].verdict, Verdict.PASSES)
        pale = self.found(
            bars(series()) + axes(), title=self.TITLE, space=text(18, "CCCCCC"), below=half
        )
        self.assertIs(pale["title A year"].verdict, Verdict.FALLS_SHORT)

    def test_dates_are_written_as_dates(self):
        dates = (
            "<c:cat><c:numRef><c:numCache><c:formatCode>d/m/yyyy</c:formatCode>"
            '<c:pt idx="0"><c:v>37261</c:v></c:pt></c:numCache></c:numRef></c:cat>'
        )
        row = f"<c:ser>{dates}<c:val>{cache('num', '1')}</c:val></c:ser>"
        found = self.found(bars(row) + axes(category=""), space=text(10, "222222"))
        self.assertIn("category axis 5/1/2002", found)

    def test_a_gridline_of_an_unknown_colour_needs_eyes_where_a_label_meets_it(self):
        labels = f'<c:dLbls>{text(14, "222222")}<c:showVal val="1"/></c:dLbls>'
        grid = GONE + "<c:majorGridlines/>"
        found = self.found(
            PLOT + bars(series("19", "45", labels=labels)) + axes(value=grid),
            space=text(18, "000000"),
        )
        self.assert_needs_eyes(found["label of Foot passengers 19"], "gridline")

    def test_of_a_size_that_is_not_stated_the_verdict_holds_for_small_and_large(self):
        def legend(code: str) -> Pair:
            own = text(10, code).replace('sz="1000"', "")
            found = self.found(bars(series()) + axes(), more="<c:legend/>", space=own)
            return found["legend Foot passengers"]

        self.assertIs(legend("333333").verdict, Verdict.PASSES)
        self.assertIs(legend("BBBBBB").verdict, Verdict.FALLS_SHORT)
        # 3.54 to 1: enough for large-scale text alone.
        self.assert_needs_eyes(legend("888888"), "size")

    def test_the_legend_names_series_or_slices_but_for_what_is_left_out(self):
        legend = '<c:legend><c:legendEntry><c:idx val="0"/><c:delete val="1"/></c:legendEntry></c:legend>'
        found = self.found(
            bars(series(), series(name="Cars")) + axes(), more=legend, space=text(12, "222222")
        )
        self.assertEqual([where for where in found if "legend" in where], ["legend Cars"])
        pie = f'<c:pieChart><c:varyColors val="1"/>{series()}</c:pieChart>'
        found = self.found(pie, more=legend, space=text(12, "222222"))
        self.assertEqual([where for where in found if "legend" in where], ["legend Summer"])

    def test_the_words_of_parts_that_are_not_painted_are_listed(self):
        trend = (
            "<c:trendline><c:trendlineLbl><c:tx><c:rich><a:bodyPr/><a:p><a:r><a:t>Rising</a:t>"
            "</a:r></a:p></c:rich></c:tx></c:trendlineLbl></c:trendline>"
        )
        found = self.found(
            bars(series(more=trend)) + axes(category="") + "<c:dTable/>", space=text(12, "222222")
        )
        self.assert_needs_eyes(found["further text Rising"], "part of a chart")
        self.assert_needs_eyes(found["data table Spring Summer"], "part of a chart")

    def test_labels_of_kinds_that_are_not_painted_need_eyes(self):
        labels = f'<c:dLbls>{text(14, "FFFFFF")}<c:showVal val="1"/></c:dLbls>'
        for kind in ("bar3DChart", "radarChart", "bubbleChart"):
            plot = f'<c:{kind}>{series(labels=labels)}<c:axId val="1"/><c:axId val="2"/></c:{kind}>'
            found = self.found(plot + axes(), space=text(18, "000000"))
            self.assert_needs_eyes(found["labels 12 40"], "kind")

    def test_shapes_over_a_chart_are_not_passed_over(self):
        drawing = (
            '<c:userShapes xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart" '
            f"{NS}><a:t>Written over it</a:t></c:userShapes>"
        )
        xml = (
            f"<c:chartSpace {SPACE} {NS}><c:chart><c:plotArea>{bars(series())}{axes()}</c:plotArea>"
            f'{text(18, "000000")}</c:chart><c:userShapes r:id="rId1"/></c:chartSpace>'
        )
        frame = (
            '<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="4" name="Chart 1"/>'
            "<p:cNvGraphicFramePr/><p:nvPr/></p:nvGraphicFramePr>"
            '<p:xfrm><a:off x="762000" y="762000"/><a:ext cx="7000000" cy="3600000"/></p:xfrm>'
            '<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/chart">'
            f'<c:chart {SPACE} r:id="rId5"/></a:graphicData></a:graphic></p:graphicFrame>'
        )
        relationships = (
            '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
            '<Relationship Id="rId1" Target="../drawings/drawing1.xml" Type="http://schemas.'
            'openxmlformats.org/officeDocument/2006/relationships/chartUserShapes"/></Relationships>'
        )
        path = self.folder.deck(
            frame,
            slide_rels={"rId5": ("chart", "../charts/chart1.xml")},
            more={
                "ppt/charts/chart1.xml": xml.encode(),
                "ppt/charts/_rels/chart1.xml.rels": relationships.encode(),
                "ppt/drawings/drawing1.xml": drawing.encode(),
            },
        )
        (pair,) = (each for each in pairs_of(path) if "Written" in each.text)
        self.assert_needs_eyes(pair, "over a chart")


class Labels(ChartTest):
    def labels(self, position: str, colour: str = "FFFFFF", more: str = "") -> str:
        return (
            f'<c:dLbls>{more}{text(14, colour)}<c:dLblPos val="{position}"/>'
            '<c:showVal val="1"/></c:dLbls>'
        )

    def test_a_label_inside_a_bar_is_measured_against_the_bar(self):
        for position in ("ctr", "inEnd", "inBase"):
            row = series("30", "40", labels=self.labels(position), fill=filled("2F7F8C"))
            found = self.found(PLOT + bars(row) + axes(), space=text(18, "000000"))
            self.assert_colours(found["label of Foot passengers 30"], "FFFFFF", "2F7F8C")
        automatic = self.found(
            PLOT + bars(series("30", "40", labels=self.labels("ctr"))) + axes(),
            space=text(18, "000000"),
        )
        self.assert_colours(
            automatic["label of Foot passengers 40"], "FFFFFF", THEME_COLOURS["accent1"]
        )

    def test_a_label_beyond_a_bar_is_measured_against_the_plot(self):
        row = series(labels=self.labels("outEnd", "000000"), fill=filled("111111"))
        found = self.found(PLOT + bars(row) + axes() + filled("DDEEFF"), space=text(18, "000000"))
        self.assert_colours(found["label of Foot passengers 12"], "000000", "DDEEFF")

    def test_a_label_that_may_cross_its_line_needs_eyes(self):
        row = series("40", "10", labels=self.labels("r", "222222"))
        line = (
            f'<c:lineChart><c:grouping val="standard"/>{row}<c:axId val="1"/><c:axId val="2"/>'
            "</c:lineChart>"
        )
        found = self.found(PLOT + line + axes(), space=text(18, "000000"))
        self.assert_needs_eyes(found["label of Foot passengers 40"], "estimated")

    def test_a_label_wider_than_its_bar_is_not_judged_by_the_bar_alone(self):
        row = series(
            "30",
            "40",
            labels=self.labels(
                "ctr", more='<c:numFmt formatCode="0.0000000000" sourceLinked="0"/>'
            ),
            fill=filled("2F7F8C"),
        )
        found = self.found(PLOT + bars(row, gap=500) + axes(), space=text(18, "000000"))
        self.assert_needs_eyes(found["label of Foot passengers 30.0000000000"], "estimated")

    def test_one_label_may_be_left_out_say_something_else_or_have_a_fill(self):
        single = (
            '<c:dLbl><c:idx val="0"/><c:delete val="1"/></c:dLbl>'
            '<c:dLbl><c:idx val="1"/><c:tx><c:rich><a:bodyPr/><a:p><a:r><a:t>Busiest</a:t></a:r>'
            f'</a:p></c:rich></c:tx>{filled("440044")}<c:showVal val="1"/></c:dLbl>'
        )
        row = series(labels=self.labels("outEnd", "FFFFFF", single))
        found = self.found(PLOT + bars(row) + axes(), space=text(18, "000000"))
        self.assertEqual(
            [where for where in found if "label" in where], ["label of Foot passengers Busiest"]
        )
        self.assert_colours(found["label of Foot passengers Busiest"], "FFFFFF", "440044")

    def test_what_a_label_says(self):
        labels = (
            f'<c:dLbls>{text(10, "000000")}<c:showVal val="0"/><c:showCatName val="1"/>'
            '<c:showPercent val="1"/><c:separator>: </c:separator></c:dLbls>'
        )
        pie = f'<c:pieChart><c:varyColors val="1"/>{series("1", "3", labels=labels)}</c:pieChart>'
        found = self.found(PLOT + pie, space=text(18, "000000"))
        self.assertIn("label of Foot passengers Summer: 75%", found)

    def test_a_bar_whose_colour_is_not_known_hides_what_is_behind_its_label(self):
        inverted = '<c:invertIfNegative val="1"/>'
        row = series("-30", "20", labels=self.labels("ctr"), fill=filled("2F7F8C"), more=inverted)
        found = self.found(
            PLOT + bars(row) + axes(scaling='<c:max val="50"/><c:min val="-50"/>'),
            space=text(18, "000000"),
        )
        self.assertIs(found["label of Foot passengers -30"].verdict, Verdict.NEEDS_EYES)


class Scales(unittest.TestCase):
    @given(st.floats(1e-6, 1e9))
    def test_a_scale_has_few_round_steps(self, span: float):
        step = round_step(span)
        self.assertLessEqual(span / step, 8 * (1 + 1e-6))
        digit = step / 10 ** math.floor(math.log10(step) + 1e-9)
        self.assertTrue(any(math.isclose(digit, each, rel_tol=1e-6) for each in (1, 2, 5)))

    @given(st.floats(-1e6, 1e6), st.floats(-1e6, 1e6))
    def test_an_automatic_scale_holds_all_values(self, one: float, other: float):
        low, high = min(one, other), max(one, other)
        scale = scale_of(None, [(low, high)])
        assert scale is not None
        self.assertLessEqual(scale.low, low + 1e-6)
        self.assertGreaterEqual(scale.high, high - 1e-6)
        self.assertLessEqual(len(scale.ticks), 12)


if __name__ == "__main__":
    unittest.main()
