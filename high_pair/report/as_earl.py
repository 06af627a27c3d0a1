"""A report as EARL in JSON-LD: an assertion for each pair, against the criterion's own address.

Source: W3C, «Evaluation and Report Language (EARL) 1.0 Schema», 2017; «JSON-LD 1.1», 2020.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any, TextIO

from high_pair import __version__
from high_pair.colour.ratio import shown_ratio
from high_pair.report.findings import Findings, Located
from high_pair.wcag.criteria import by_number
from high_pair.wcag.verdicts import Verdict

# All within the report: whoever reads it fetches nothing.
CONTEXT = {
    "earl": "http://www.w3.org/ns/earl#",
    "dct": "http://purl.org/dc/terms/",
    "doap": "http://usefulinc.com/ns/doap#",
    "xsd": "http://www.w3.org/2001/XMLSchema#",
    "assertedBy": {"@id": "earl:assertedBy", "@type": "@id"},
    "subject": {"@id": "earl:subject", "@type": "@id"},
    "test": {"@id": "earl:test", "@type": "@id"},
    "mode": {"@id": "earl:mode", "@type": "@id"},
    "result": "earl:result",
    "outcome": {"@id": "earl:outcome", "@type": "@id"},
    "pointer": "earl:pointer",
    "info": "earl:info",
    "title": "dct:title",
    "description": "dct:description",
    "date": {"@id": "dct:date", "@type": "xsd:dateTime"},
    "isPartOf": {"@id": "dct:isPartOf", "@type": "@id"},
    "identifier": "dct:identifier",
    "release": "doap:revision",
}
ASSERTOR = "urn:high-pair:program"
OUTCOMES = {
    Verdict.PASSES.value: "earl:passed",
    Verdict.FALLS_SHORT.value: "earl:failed",
    Verdict.NEEDS_EYES.value: "earl:cantTell",
    # A person decided that it isn't to be held against the criterion, and says why.
    Verdict.SET_ASIDE.value: "earl:inapplicable",
    Verdict.EXEMPT.value: "earl:inapplicable",
}


def write_earl(findings: Findings, out: TextIO) -> None:
    """Write a run."""
    head = json.dumps({"@context": CONTEXT}, indent=1).removesuffix("\n}")
    out.write(f'{head},\n "@graph": [')
    between = "\n"
    for node in _nodes(findings):
        out.write(between + json.dumps(node, ensure_ascii=False))
        between = ",\n"
    out.write("]\n}\n")


def _nodes(findings: Findings) -> Iterator[dict[str, Any]]:
    yield {
        "@id": ASSERTOR,
        "@type": ["earl:Assertor", "earl:Software"],
        "title": "High Pair",
        "release": __version__,
    }
    subjects: dict[str, str] = {}
    for number, file in enumerate(findings.files(), start=1):
        subjects[file.path] = f"urn:high-pair:file:{number}"
        yield {"@id": subjects[file.path], "@type": "earl:TestSubject", "title": file.path}
        if file.error:
            yield {
                "@type": "earl:Assertion",
                "assertedBy": ASSERTOR,
                "subject": subjects[file.path],
                "mode": "earl:automatic",
                "result": {
                    "@type": "earl:TestResult",
                    "outcome": "earl:untested",
                    "info": file.error,
                },
            }
    for pair in findings.pairs():
        yield _assertion(pair, subjects[pair.path], findings.finished)


def _assertion(pair: Located, subject: str, when: str) -> dict[str, Any]:
    row = pair.row
    measured = (
        f"{shown_ratio(row.ratio)}:1, {row.foreground} on {row.background}; "
        f"{row.required:g}:1 is asked"
        if row.ratio is not None
        else ""
    )
    by_hand = row.verdict == Verdict.SET_ASIDE.value
    return {
        "@type": "earl:Assertion",
        "identifier": row.key,
        "assertedBy": ASSERTOR,
        "subject": subject,
        "test": by_number(row.criterion).address,
        "mode": "earl:semiAuto" if by_hand else "earl:automatic",
        "result": {
            "@type": "earl:TestResult",
            "outcome": OUTCOMES[row.verdict],
            "date": when,
            "title": Verdict(row.verdict).words,
            "description": f"“{row.text}”",
            "info": ". ".join(each for each in (measured, row.reason) if each),
            "pointer": row.place,
        },
    }
