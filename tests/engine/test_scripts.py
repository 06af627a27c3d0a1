"""The engine's scripts by themselves, in node: that they are sound, and what their words are."""

import json
import shutil
import subprocess
import unittest
from pathlib import Path

import high_pair.engine

SCRIPTS = sorted((Path(high_pair.engine.__file__).parent / "scripts").glob("*.js"))
NODE = shutil.which("node")
# As much of a document as the scripts ask of one here.
DOCUMENT = """
class Element {
  constructor(name, id = "", children = []) {
    Object.assign(this, { localName: name, id, children, parentElement: null });
    for (const child of children) child.parentElement = this;
  }
  get around() { return this.parentElement ? this.parentElement.children : [this]; }
  get previousElementSibling() { return this.around[this.around.indexOf(this) - 1] || null; }
  get nextElementSibling() { return this.around[this.around.indexOf(this) + 1] || null; }
  get all() { return [this, ...this.children.flatMap((child) => child.all)]; }
  get root() { return this.parentElement ? this.parentElement.root : this; }
  getRootNode() {
    return { querySelectorAll: (asked) => this.root.querySelectorAll(asked) };
  }
  querySelectorAll(asked) {
    const wanted = asked.split(",");
    return this.all.filter((each) => wanted.some((one) => one.startsWith("#")
      ? one === `#${each.id}` : one.toLowerCase() === each.localName));
  }
  get ownerDocument() { return { documentElement: this.root }; }
}
const make = (name, id, ...children) => new Element(name, id, children);
globalThis.CSS = { escape: (text) => text };
globalThis.highPair = {};
"""


def answer(script: str, asked: str) -> object:
    """Run one of the scripts over a document, and give what an expression is then."""
    source = next(path for path in SCRIPTS if path.stem == script).read_text()
    done = subprocess.run(
        [NODE or "node", "-e", f"{DOCUMENT}\n{source}\nconsole.log(JSON.stringify({asked}))"],
        capture_output=True,
        text=True,
        check=True,
    )
    found: object = json.loads(done.stdout)
    return found


@unittest.skipUnless(NODE, "node isn't installed")
class Scripts(unittest.TestCase):
    def test_every_script_is_sound_in_strict_mode_too(self) -> None:
        self.assertGreaterEqual(len(SCRIPTS), 8)
        for path in SCRIPTS:
            with self.subTest(path.name):
                for source in (path.read_text(), f'"use strict";{path.read_text()}'):
                    checked = subprocess.run(
                        [NODE or "node", "--check", "-"],
                        input=source,
                        capture_output=True,
                        text=True,
                        check=False,
                    )
                    self.assertEqual(checked.stderr, "")

    def test_an_address_counts_among_its_kind_and_begins_anew_at_an_identity(self) -> None:
        page = """(() => {
          const items = [make("li", ""), make("p", ""), make("li", "")];
          const inner = make("b", "");
          const named = make("div", "news", make("p", "", inner));
          make("html", "", make("body", "", make("ul", "", ...items), named));
          return [...items, inner].map((each) => highPair.addressOf(each));
        })()"""
        self.assertEqual(
            answer("places", page),
            ["body>ul>li:nth-of-type(1)", "body>ul>p", "body>ul>li:nth-of-type(2)", "#news>p>b"],
        )

    def test_places_are_counted_in_words_and_then_in_figures(self) -> None:
        page = """(() => {
          const lists = Array.from({ length: 23 }, () => make("ul", "", make("li", "")));
          make("html", "", make("body", "", make("main", "", ...lists)));
          return [0, 1, 9, 10, 11, 12, 20, 21, 22].map((at) =>
            highPair.whereOf(lists[at].children[0]).split(" › ")[1]);
        })()"""
        said = ["first", "second", "tenth", "11th", "12th", "13th", "21st", "22nd", "23rd"]
        self.assertEqual(answer("places", page), [f"{each} list" for each in said])

    def test_a_page_is_still_only_while_nothing_on_it_runs(self) -> None:
        page = """(() => {
          const states = [];
          globalThis.XPathResult = { BOOLEAN_TYPE: 3 };
          for (const [found, handled, root] of
            [[null, false, null], [{}, false, null], [null, true, null], [null, false, {}]]) {
            delete globalThis.highPair;
            globalThis.MutationObserver = class { observe() {} };
            globalThis.document = { readyState: "complete", querySelector: () => found,
              evaluate: () => ({ booleanValue: handled }),
              querySelectorAll: () => [{ shadowRoot: root }] };
            script();
            states.push(highPair.state().active);
            document.readyState = "loading";
          }
          return states;
        })()"""
        source = next(path for path in SCRIPTS if path.stem == "watch").read_text()
        wrapped = f"const script = () => {{ {source} }};"
        done = subprocess.run(
            [NODE or "node", "-e", f"{wrapped}\nconsole.log(JSON.stringify({page}))"],
            capture_output=True,
            text=True,
            check=True,
        )
        self.assertEqual(json.loads(done.stdout), [False, True, True, True])


if __name__ == "__main__":
    unittest.main()
