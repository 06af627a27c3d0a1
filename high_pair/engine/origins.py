"""Where each text's colour is decided: the rule, the custom property behind it, or inline."""

from __future__ import annotations

import json

from high_pair.engine.page import BrowserPage
from high_pair.engine.protocol import Told


def find_origins(page: BrowserPage, told: Told) -> None:
    """Add to each text its `origin`: numbers of `places` and `definers`, which are told too."""
    texts = told["texts"]
    asked = [[text["element"], text["side"]] for text in texts]
    found = page.ask(f"highPair.origins({json.dumps(asked)})")
    told["places"], told["definers"] = found["places"], found["definers"]
    told["declared"] = found["declared"]
    told["trees"], told["styles"] = found["trees"], found["styles"]
    for text, rule, behind, inline in zip(
        texts, found["decided"], found["behind"], found["inline"], strict=True
    ):
        text["origin"] = {"rule": rule, "custom": behind, "inline": inline}
