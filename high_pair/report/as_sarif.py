"""A report as SARIF 2.1.0, which code hosts and editors show.

Source: OASIS, «Static Analysis Results Interchange Format (SARIF) Version 2.1.0», 2020. What
falls short is a result of the kind `fail`, what needs eyes one of the kind `review` (§3.27.9);
what was set aside is suppressed with the reason (§3.35). What passes isn't listed.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from pathlib import Path, PurePath
from typing import Any, TextIO
from urllib.parse import quote, urlsplit

from high_pair import __version__
from high_pair.colour.ratio import shown_ratio
from high_pair.report.findings import Findings, Located
from high_pair.wcag.criteria import ALL, Criterion
from high_pair.wcag.verdicts import Verdict

SCHEMA = (
    "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"
)
FINGERPRINT = "highPairKey/v1"
# Kind and level of each verdict that is listed (SARIF 2.1.0, §3.27.9 and §3.27.10).
LISTED = {
    Verdict.FALLS_SHORT.value: ("fail", "error"),
    Verdict.NEEDS_EYES.value: ("review", "none"),
    Verdict.SET_ASIDE.value: ("fail", "error"),
}


def write_sarif(findings: Findings, before: Findings | None, out: TextIO) -> None:
    """Write a run. before: what it is held against, by which results are new or not."""
    known = None if before is None else before.falling_keys()
    numbers = {criterion.number: place for place, criterion in enumerate(ALL)}
    driver = {
        "name": "High Pair",
        "semanticVersion": __version__,
        "version": __version__,
        "rules": [_rule(criterion) for criterion in ALL],
    }
    errors = [
        {
            "level": "error",
            "message": {"text": error},
            "locations": [{"physicalLocation": {"artifactLocation": {"uri": address_of(path)}}}],
        }
        for path, error in findings.errors()
    ]
    begin = {
        "$schema": SCHEMA,
        "version": "2.1.0",
        "runs": [
            {
                "tool": {"driver": driver},
                "columnKind": "unicodeCodePoints",
                "invocations": [
                    {
                        "executionSuccessful": True,
                        "endTimeUtc": findings.finished.replace("+00:00", "Z"),
                        "toolExecutionNotifications": errors,
                    }
                ],
                "properties": {"settings": dict(findings.settings)},
                "results": [],
            }
        ],
    }
    head, _, tail = json.dumps(begin, indent=1, ensure_ascii=False).partition('"results": []')
    out.write(f'{head}"results": [')
    between = "\n"
    for result in _results(findings, numbers, known):
        out.write(between + json.dumps(result, ensure_ascii=False))
        between = ",\n"
    out.write(f"]{tail}\n")


def _rule(criterion: Criterion) -> dict[str, Any]:
    return {
        "id": criterion.number,
        "name": criterion.name.title().replace(" ", ""),
        "shortDescription": {"text": f"WCAG 2.2, {criterion.number} {criterion.name}"},
        "helpUri": criterion.understanding,
        "defaultConfiguration": {"level": "error"},
    }


def _results(
    findings: Findings, numbers: Mapping[str, int], known: set[str] | None
) -> Iterator[dict[str, Any]]:
    for pair in findings.pairs():
        row = pair.row
        if row.verdict not in LISTED:
            continue
        kind, level = LISTED[row.verdict]
        found: dict[str, Any] = {
            "ruleId": row.criterion,
            "ruleIndex": numbers[row.criterion],
            "kind": kind,
            "level": level,
            "message": {"text": _message(pair)},
            "locations": [_location(pair)],
            "partialFingerprints": {FINGERPRINT: row.key},
            "properties": {
                "verdict": row.verdict,
                "foreground": row.foreground,
                "background": row.background,
                "ratio": row.ratio,
                "required": row.required,
                "origin": row.origin,
            },
        }
        if row.verdict == Verdict.SET_ASIDE.value:
            found["suppressions"] = [
                {"kind": "external", "status": "accepted", "justification": row.reason}
            ]
        if known is not None and row.verdict == Verdict.FALLS_SHORT.value:
            found["baselineState"] = "unchanged" if row.key in known else "new"
        yield found


def _message(pair: Located) -> str:
    row = pair.row
    said = f"“{row.text}” ({row.place})"
    if row.ratio is None:
        return f"{said} needs eyes: {row.reason}"
    ratio = f"{shown_ratio(row.ratio)}:1, {row.foreground} on {row.background}"
    words = f"{said} has {ratio}; {row.required:g}:1 is asked."
    origin = f" Its colour comes from: {row.origin}." if row.origin else ""
    reason = f" {row.reason}" if row.reason else ""
    return words + origin + reason


def _location(pair: Located) -> dict[str, Any]:
    row = pair.row
    physical: dict[str, Any] = {"artifactLocation": {"uri": address_of(row.sheet or pair.path)}}
    if row.line:
        physical["region"] = {"startLine": row.line}
    return {
        "physicalLocation": physical,
        "logicalLocations": [{"fullyQualifiedName": row.place}],
    }


def address_of(path: str) -> str:
    """Give a path or a web address as a URI; a path stays relative, as hosts of code want it.

    A file's own address below the working folder is made relative too.
    """
    parts = urlsplit(path)
    if parts.scheme in ("http", "https"):
        return path
    plain = path
    if parts.scheme == "file":
        from urllib.request import url2pathname

        plain = url2pathname(parts.path)
    place = PurePath(plain)
    if place.is_absolute():
        here = Path.cwd()
        if not place.is_relative_to(here):
            return f"file://{quote(str(place))}"
        place = place.relative_to(here)
    return quote(place.as_posix())
