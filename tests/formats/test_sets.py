"""Sets of colours in files: tokens, custom properties, palettes; read, written, and refused."""

import json
import os
import tempfile
import time
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from high_pair.colour.srgb import hex_of
from high_pair.errors import NotationError, UnreadableFile, UnwritableFile
from high_pair.formats.sets.files import SUFFIXES, read_set, write_set
from high_pair.formats.sets.typed import read_typed
from high_pair.scene.colour_set import ColourSet, SetColour, SetPair, State

NAMES = st.lists(
    st.from_regex(r"[A-Za-z][A-Za-z0-9]{0,8}", fullmatch=True), min_size=1, max_size=8, unique=True
)
LEVELS = st.tuples(*[st.integers(0, 255)] * 3)


class SetFileTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def read(self, text: str, name: str = "quay.json") -> dict[str, tuple[int, int, int]]:
        path = self.folder / name
        path.write_text(text)
        return {colour.name: colour.levels for colour in read_set(path).colours}

    def refused(self, text: str, words: str, name: str = "quay.json") -> None:
        with self.assertRaisesRegex(UnreadableFile, words):
            self.read(text, name)


class Typed(unittest.TestCase):
    def names(self, words: str) -> list[tuple[str, str]]:
        return [(each.name, hex_of(each.colour.rgb)) for each in read_typed(words)]

    def test_colours_are_typed_in_any_notation_with_names_or_without(self):
        self.assertEqual(
            self.names("#1B4F72 #fff,#000\nquay blue: navy\nsand oklch(100% 0 0)\nrgb(1 2 3) ink"),
            [("", "#1B4F72"), ("", "#FFFFFF"), ("", "#000000"), ("quay blue", "#000080"),
             ("sand", "#FFFFFF"), ("ink", "#010203")],
        )  # fmt: skip

    def test_custom_properties_are_pasted_as_they_stand_in_a_sheet(self):
        self.assertEqual(
            self.names("  --sea: #1B4F72;\n  --sail: rgb(224 149 43);\n"),
            [("sea", "#1B4F72"), ("sail", "#E0952B")],
        )

    def test_what_is_no_colour_is_said(self):
        for words in ("quay", "quay: boat", "x " * 300, "#12"):
            with self.assertRaises(NotationError):
                read_typed(words)
        self.assertEqual(read_typed(" \n; ,\n"), [])

    @given(st.text(max_size=80))
    def test_nothing_that_is_typed_fails_otherwise(self, words: str):
        try:
            found = read_typed(words)
        except NotationError:
            return
        for each in found:
            self.assertTrue(all(0 <= level <= 255 for level in each.colour.rgb))


class Tokens(SetFileTest):
    def test_names_that_are_tokens_and_groups_at_once_all_come_back(self):
        names = ("sea", "sea.deep", "$odd", "a.b.c", "a.b")
        colours = tuple(SetColour(name, (n, n, n)) for n, name in enumerate(names))
        target = self.folder / "names.json"
        write_set(ColourSet("Names", "kept", "", colours), target)
        found = read_set(target).colours
        self.assertEqual([each.levels for each in found], [each.levels for each in colours])
        self.assertEqual(
            [each.name for each in found], ["sea", "sea.deep", "_$odd", "a.b.c", "a.b"]
        )

    def test_what_is_left_as_it_is_and_wanted_comes_back(self):
        colours = (SetColour("ink", (1, 2, 3), leave=True), SetColour("paper", (250, 250, 250)))
        pairs = (SetPair("ink", "paper", State.WANTED, 7.0),)
        target = self.folder / "quay.json"
        write_set(ColourSet("Quay", "kept", "", colours, pairs), target)
        found = read_set(target)
        self.assertEqual((found.name, found.colours, found.pairs), ("Quay", colours, pairs))

    def test_wanted_pairs_that_make_no_sense_are_passed_over(self):
        token = {"$value": "#123456"}
        wanted = [{"text": "a", "backdrop": "gone", "required": 4.5}, 7, {"text": "a"},
                  {"text": "a", "backdrop": "b", "required": 99},
                  {"text": "b", "backdrop": "a", "required": 3}]  # fmt: skip
        root = {"$type": "color", "a": token, "b": token,
                "$extensions": {"high-pair": {"wanted": wanted}}}  # fmt: skip
        path = self.folder / "w.json"
        path.write_text(json.dumps(root))
        self.assertEqual(read_set(path).pairs, (SetPair("b", "a", State.WANTED, 3.0),))

    def test_groups_types_references_and_every_notation(self):
        found = self.read(
            json.dumps(
                {
                    "brand": {
                        "$type": "color",
                        "sea": {"$value": "#1B4F72"},
                        "sail": {"$value": "rgb(224 149 43)"},
                        "deep": {"night": {"$value": "{brand.sea}"}},
                    },
                    "room": {"$type": "dimension", "small": {"$value": "4px"}},
                    "text": {"$value": "{brand.deep.night}"},
                    "plain": {
                        "$type": "color",
                        "$value": {"colorSpace": "srgb", "components": [1, 0.5, 0], "alpha": 1},
                    },
                }
            )
        )
        self.assertEqual(
            found,
            {
                "brand.sea": (27, 79, 114),
                "brand.sail": (224, 149, 43),
                "brand.deep.night": (27, 79, 114),
                "text": (27, 79, 114),
                "plain": (255, 128, 0),
            },
        )

    def test_what_is_wrong_is_said(self):
        token = {"$type": "color"}
        circle = {"a": {**token, "$value": "{b}"}, "b": {**token, "$value": "{a}"}}
        self.refused(json.dumps(circle), "circle: a → b")
        self.refused(json.dumps({"a": {**token, "$value": "{gone}"}}), "“gone”, which isn't there")
        self.refused(json.dumps({"a": {**token, "$value": "sunny"}}), "“a” is no colour")
        self.refused(json.dumps({"a": {**token, "$value": [1, 2]}}), "“a” is no colour")
        self.refused("{", "sound JSON")
        self.refused("[]", "no groups")
        self.refused("{}", "no colour is found")
        self.refused('{"a":' * 5_000 + "1" + "}" * 5_000, "JSON|deep")

    def test_too_many_are_refused_quickly(self):
        many = {f"c{n}": {"$type": "color", "$value": "#123456"} for n in range(501)}
        start = time.monotonic()
        self.refused(json.dumps(many), "501 colours")
        self.assertLess(time.monotonic() - start, 5)


class Sheets(SetFileTest):
    def test_custom_properties_and_what_they_refer_to(self):
        sheet = """
        :root { --sea: #1B4F72; --text: var(--sea); --gap: 4px; --missing: var(--none, navy);
          --round: var(--round) }
        @media print { :root { --sea: black; --ink: #222 } }
        """
        self.assertEqual(
            self.read(sheet, "site.css"),
            {"sea": (27, 79, 114), "text": (27, 79, 114), "missing": (0, 0, 128), "ink": (34,) * 3},
        )

    def test_without_any_what_rules_declare(self):
        found = self.read("a { color: #1B4F72 } p { background-color: white; margin: 0 }", "s.css")
        self.assertEqual(found, {"a color": (27, 79, 114), "p background-color": (255,) * 3})

    def test_a_sheet_of_no_colours_is_said(self):
        self.refused("p { margin: 0 }", "no colour is found", "s.css")


class Palettes(SetFileTest):
    def test_names_comments_and_nameless_colours(self):
        text = "GIMP Palette\nName: Quay\nColumns: 4\n# old\n 27  79 114\tSea\n224 149 43\n\n"
        path = self.folder / "quay.gpl"
        path.write_text(text)
        found = read_set(path)
        self.assertEqual(found.name, "Quay")
        self.assertEqual(
            [(colour.name, colour.levels) for colour in found.colours],
            [("Sea", (27, 79, 114)), ("colour 2", (224, 149, 43))],
        )

    def test_garbage_is_told_with_its_line(self):
        self.refused("GIMP Palette\n1 2 3 ok\n1 2\n", "line 3", "q.gpl")
        self.refused("GIMP Palette\n300 2 3 ok\n", "line 2", "q.gpl")
        self.refused("Colours of the quay\n1 2 3\tSea\n", "first line", "q.gpl")

    def test_blanks_and_references_without_end_take_no_time(self):
        start = time.monotonic()
        blanks = " " * 200_000
        self.assertEqual(
            self.read(f"GIMP Palette\n1 2 3{blanks}a{blanks}b{blanks}\n", "q.gpl"),
            {f"a{blanks}b": (1, 2, 3)},
        )
        self.refused(f":root {{ --a: var(--b,{blanks} }}", "no colour", "s.css")
        chain = {f"t{n}": {"$value": f"{{t{n + 1}}}"} for n in range(20_000)}
        self.refused(json.dumps({"$type": "color", **chain}), "more than 30 times")
        self.assertLess(time.monotonic() - start, 10)

    def test_what_is_no_file_is_refused_at_once(self):
        pipe = self.folder / "pipe.json"
        os.mkfifo(pipe)
        with self.assertRaisesRegex(UnreadableFile, "no file"):
            read_set(pipe)

    def test_names_that_are_twice_there_are_told_apart(self):
        found = self.read("GIMP Palette\n1 2 3\tSea\n4 5 6\tSea\n7 8 9\tSea 2\n", "q.gpl")
        self.assertEqual(found, {"Sea": (1, 2, 3), "Sea 3": (4, 5, 6), "Sea 2": (7, 8, 9)})


class Files(SetFileTest):
    @given(NAMES, st.data())
    def test_what_is_written_is_read_again(self, names, data):
        colours = tuple(SetColour(name, data.draw(LEVELS)) for name in names)
        for suffix in SUFFIXES:
            with tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / f"set{suffix}"
                write_set(ColourSet("Quay", "tokens", "", colours), path)
                self.assertEqual(
                    {each.name: each.levels for each in read_set(path).colours},
                    {each.name: each.levels for each in colours},
                )

    def test_groups_are_written_as_groups(self):
        path = self.folder / "set.json"
        colours = (SetColour("sea", (1, 2, 3)), SetColour("brand.deep", (4, 5, 6)))
        write_set(ColourSet("Quay", "tokens", "", colours), path)
        self.assertEqual(json.loads(path.read_text())["brand"]["deep"]["$value"], "#040506")

    def test_other_files_are_refused_by_name(self):
        self.refused("", r"\.json, \.css and \.gpl", "q.txt")
        with self.assertRaisesRegex(UnwritableFile, "written as"):
            write_set(ColourSet("Q", "tokens", "", ()), self.folder / "q.txt")
        with self.assertRaisesRegex(UnreadableFile, "can't be opened"):
            read_set(self.folder / "gone.json")
        (self.folder / "latin.gpl").write_bytes(b"GIMP Palette\n1 2 3 \xe9t\xe9\n")
        with self.assertRaisesRegex(UnreadableFile, "UTF-8"):
            read_set(self.folder / "latin.gpl")


if __name__ == "__main__":
    unittest.main()
