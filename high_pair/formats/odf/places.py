"""Where ODF shapes stand: boxes and draw:transform (ODF 1.3 Part 3 §19.228)."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from high_pair.formats.odf.units import length
from high_pair.formats.xml import Element, number, tag
from high_pair.scene.geometry import IDENTITY, Affine, Box, moved, scaled

_STEP = re.compile(r"(rotate|translate|scale|skewX|skewY|matrix)\s*\(([^)]*)\)")
MOST_STEPS = 50


@dataclass(frozen=True)
class Place:
    """A shape's box before its transform, and the way to the page."""

    box: Box
    transform: Affine


def transform_of(text: str | None) -> Affine:
    """Read draw:transform. Its steps are carried out in the order in which they are written.

    A positive angle turns against the clock, in radians.
    """
    result = IDENTITY
    for kind, inside in _STEP.findall(text or "")[:MOST_STEPS]:
        words = inside.replace(",", " ").split()
        if kind == "translate":
            step = moved(length(words[0]) if words else 0.0, length(words[1]) if words[1:] else 0.0)
        elif kind == "rotate":
            angle = number(words[0]) if words else 0.0
            cosine, sine = math.cos(angle), math.sin(angle)
            step = Affine(cosine, -sine, sine, cosine)
        elif kind == "scale":
            across = number(words[0], 1.0) if words else 1.0
            step = scaled(across, number(words[1], 1.0) if words[1:] else across)
        elif kind == "skewX":
            step = Affine(c=-math.tan(number(words[0]) if words else 0.0))
        elif kind == "skewY":
            step = Affine(b=-math.tan(number(words[0]) if words else 0.0))
        else:
            if len(words) < 6:
                continue
            a, b, c, d = (number(word) for word in words[:4])
            step = Affine(a, b, c, d, length(words[4]), length(words[5]))
        result = step.after(result)
    return result


def place_of(element: Element) -> Place:
    """Read where a shape stands."""
    box = Box(
        length(element.get(tag("svg:x"))),
        length(element.get(tag("svg:y"))),
        max(0.0, length(element.get(tag("svg:width")))),
        max(0.0, length(element.get(tag("svg:height")))),
    )
    return Place(box, transform_of(element.get(tag("draw:transform"))))


def line_of(element: Element) -> tuple[tuple[float, float], tuple[float, float]]:
    """Read a line's two ends."""
    ends = [length(element.get(tag(f"svg:{name}"))) for name in ("x1", "y1", "x2", "y2")]
    return (ends[0], ends[1]), (ends[2], ends[3])
