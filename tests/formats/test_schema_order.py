"""Elements are put where a schema wants them, whatever stands there already."""

import random
import unittest

from lxml import etree

from high_pair.formats import schema_order
from high_pair.formats.schema_order import CELL, DRAWING_RUN, FILLS, RUN, put, put_one_of
from high_pair.formats.xml import NAMESPACES, local_name, tag

ORDERS = {
    name: value
    for name, value in vars(schema_order).items()
    if name.isupper() and isinstance(value, tuple) and name not in ("FILLS", "EFFECTS")
}


def parsed(inner: str, name: str = "a:rPr"):
    spaces = " ".join(f'xmlns:{key}="{value}"' for key, value in NAMESPACES.items())
    return etree.fromstring(f"<{name} {spaces}>{inner}</{name}>")


def names(parent) -> list[str]:
    return [local_name(each) for each in parent if isinstance(each.tag, str)]


class SchemaOrder(unittest.TestCase):
    def test_a_fill_comes_after_the_outline_even_with_a_comment_before_it(self):
        properties = parsed("<!-- c --><a:ln/><a:latin/>")
        put_one_of(properties, etree.Element(tag("a:solidFill")), DRAWING_RUN, FILLS)
        self.assertEqual(names(properties), ["ln", "solidFill", "latin"])

    def test_one_that_is_there_is_replaced(self):
        properties = parsed("<a:ln/><a:gradFill/><a:latin/>")
        put_one_of(properties, etree.Element(tag("a:solidFill")), DRAWING_RUN, FILLS)
        self.assertEqual(names(properties), ["ln", "solidFill", "latin"])

    def test_an_extension_of_the_same_name_misleads_nobody(self):
        # A newer writer's shadow stands after all that the standard has.
        properties = parsed("<w:rFonts/><w:sz/><w14:shadow/>", "w:rPr")
        put(properties, etree.Element(tag("w:color")), RUN)
        self.assertEqual(names(properties), ["rFonts", "color", "sz", "shadow"])
        properties = parsed("<w:rFonts/><w14:shadow/>", "w:rPr")
        put(properties, etree.Element(tag("w:color")), RUN)
        self.assertEqual(names(properties), ["rFonts", "color", "shadow"])

    def test_what_an_order_does_not_know_comes_later(self):
        cell = parsed("<w:p/>", "w:tc")
        put(cell, etree.Element(tag("w:tcPr")), ("tcPr",))
        self.assertEqual(names(cell), ["tcPr", "p"])
        properties = parsed("<w:tcW/><w:tcPrChange/>", "w:tcPr")
        put(properties, etree.Element(tag("w:shd")), CELL)
        self.assertEqual(names(properties), ["tcW", "shd", "tcPrChange"])

    def test_put_in_any_turn_all_of_an_order_ends_in_order(self):
        chance = random.Random(7)
        for order in ORDERS.values():
            parent = parsed("", "w:any")
            for name in chance.sample(order, len(order)):
                put(parent, etree.Element(tag(f"w:{name}")), order)
            self.assertEqual(names(parent), list(order))


if __name__ == "__main__":
    unittest.main()
