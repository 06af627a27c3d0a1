"""What the engine tells is what its protocol says, key by key, on real pages."""

import types
import typing
import unittest
from typing import Any, NotRequired, Required, get_args, get_origin, get_type_hints, is_typeddict

from high_pair.engine.protocol import Told
from high_pair.formats.web.settings import WebSettings
from high_pair.formats.web.web_file import WebFile
from high_pair.simulated.site import SITE, SITE_PAGES
from tests.web_pages import PageFolder, whole

# Taken out of the message where it is taken over.
TAKEN_OUT = {"seen", "backdrop", "coverage", "layers", "shadows"}


def faults(value: Any, wanted: Any, at: str = "told") -> list[str]:
    """List where a value isn't what a type says; all of it, and nothing besides."""
    origin = get_origin(wanted)
    if wanted is Any:
        return []
    if origin in (NotRequired, Required):
        return faults(value, get_args(wanted)[0], at)
    if is_typeddict(wanted):
        return faults_of_keys(value, get_type_hints(wanted, include_extras=True), at)
    if origin in (typing.Union, types.UnionType):
        each = [faults(value, one, at) for one in get_args(wanted)]
        return [] if any(not found for found in each) else min(each, key=len)
    if origin is list:
        if not isinstance(value, list):
            return [f"{at} is no list"]
        (inner,) = get_args(wanted)
        return [fault for one in value for fault in faults(one, inner, f"{at}[]")]
    if origin is dict:
        return [] if isinstance(value, dict) else [f"{at} is no object"]
    if wanted is float:
        return [] if type(value) in (int, float) else [f"{at} is no number: {value!r}"]
    return [] if type(value) is wanted else [f"{at} is no {wanted.__name__}: {value!r}"]


def faults_of_keys(value: Any, hints: dict[str, Any], at: str) -> list[str]:
    """List where an object's keys aren't what is declared of them."""
    if not isinstance(value, dict):
        return [f"{at} is no object"]
    found = [f"{at}.{key} isn't declared" for key in value if key not in hints]
    for key, hint in hints.items():
        if key in value:
            found += faults(value[key], hint, f"{at}.{key}")
        elif get_origin(hint) is not NotRequired:
            found.append(f"{at}.{key} is missing")
    return found


class Contract(PageFolder):
    def assert_holds(self, file: WebFile) -> None:
        told = dict(file.told(0))
        self.assertFalse(TAKEN_OUT & set(told))
        self.assertEqual(sorted(set(faults(told, Told)))[:20], [])

    def test_the_demo_site_is_told_as_declared(self) -> None:
        for name in SITE_PAGES:
            with self.subTest(name):
                file = WebFile(SITE / name, WebSettings())
                self.addCleanup(file.close)
                self.assert_holds(file)

    def test_what_passes_add_is_declared_too(self) -> None:
        style = (
            "header{position:fixed;top:0;left:0;right:0;background:#fff;height:40px}"
            ".s{height:60px;overflow:auto}.v{position:absolute;top:90px;left:0;width:300px;"
            "height:60px;background:rgb(255 255 255/50%)}a:hover{color:#a00;text-decoration:none}"
            "button:focus{outline:3px solid #06c}.f{opacity:.5}"
        )
        body = (
            "<header>Bar</header><p>Below the bar</p><p>Under a veil</p><div class=v></div>"
            "<div class=s><p>One<p>Two<p>Three<p>Four<p>Five</div><p class=f>Faded"
            " <a href=x>Link</a></p><button>Go</button><input placeholder=Name>"
            "<canvas></canvas><button aria-label=Close><svg width=16 height=16>"
            "<path d='M2 2L14 14' stroke=#999 /></svg></button>"
        )
        self.assert_holds(self.page(whole(body, style), WebSettings()))


if __name__ == "__main__":
    unittest.main()
