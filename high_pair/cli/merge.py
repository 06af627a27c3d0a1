"""`high-pair merge`: two reviewers' reviews of the same files, put together."""

from __future__ import annotations

import argparse
import json
from typing import TYPE_CHECKING

from high_pair.cli.console import put
from high_pair.formats.location import name_of
from high_pair.formats.writing import refuse_source
from high_pair.report.terminal import plain

if TYPE_CHECKING:
    from high_pair.review.merging import Merged


def run_merge(arguments: argparse.Namespace) -> int:
    """Merge two review files, say where they differ, and give the exit status."""
    from high_pair.review.merging import merge
    from high_pair.review.review_file import load_review, save_review

    refuse_source(arguments.output, [arguments.first, arguments.second])
    merged = merge(load_review(arguments.first), load_review(arguments.second))
    second = arguments.prefer == "second"
    review = merged.with_second(merged.differences) if second else merged.review
    save_review(review, arguments.output)
    names = (arguments.first.stem, arguments.second.stem)
    put(_as_json(merged, names) if arguments.format == "json" else _as_table(merged, names))
    return 1 if merged.differences else 0


def _as_table(merged: Merged, names: tuple[str, str]) -> str:
    own = len(merged.review.decisions) - merged.agreed - len(merged.added)
    first, second = (plain(name) for name in names)
    lines = [
        f"{merged.agreed:,} decided alike, {own:,} by {first} alone or otherwise than {second}"
    ]
    lines[0] += f", {len(merged.added):,} added from {second}, {len(merged.differences):,} differ"
    for each in merged.differences:
        lines.append(f"  {plain(name_of(merged.review.files[each.file].location))}")
        for name, decisions in zip(names, (each.first, each.second), strict=True):
            said = "; ".join(decision.words for decision in decisions)
            lines.append(f"    {plain(name)}: {plain(said)}")
    return "\n".join(lines) + "\n"


def _as_json(merged: Merged, names: tuple[str, str]) -> str:
    content = {
        "format": "high-pair-merge",
        "version": 1,
        "reviews": list(names),
        "agreed": merged.agreed,
        "added": len(merged.added),
        "differences": [
            {
                "path": str(merged.review.files[each.file].location),
                "addresses": sorted(each.texts),
                "first": [decision.words for decision in each.first],
                "second": [decision.words for decision in each.second],
            }
            for each in merged.differences
        ],
    }
    return json.dumps(content, indent=2, ensure_ascii=False) + "\n"
