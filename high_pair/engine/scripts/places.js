// Says where on a page an element is: as an address, and in words. Runs in a world of its own.
(() => {
  const own = globalThis.highPair;
  if (own.addressOf) return;

  // In upper case whatever kind of document it is.
  const tagOf = own.tagOf = (element) => element.localName.toUpperCase();

  const ordinals = ["first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth",
    "ninth", "tenth"];
  const LANDMARKS = { HEADER: "header", NAV: "navigation", MAIN: "main", ASIDE: "aside",
    FOOTER: "footer", DIALOG: "dialog", SEARCH: "search" };
  const HOLDERS = { TABLE: "table", UL: "list", OL: "list", DL: "list", FORM: "form",
    FIELDSET: "group", FIGURE: "figure", SECTION: "section", ARTICLE: "article",
    DETAILS: "details", MENU: "list" };
  const LEAVES = { TH: "header cell", TD: "cell", LI: "item", CAPTION: "caption", P: "paragraph",
    FIGCAPTION: "caption", H1: "heading", H2: "heading", H3: "heading", H4: "heading",
    H5: "heading", H6: "heading", A: "link", BUTTON: "button", LABEL: "label", LEGEND: "legend",
    SUMMARY: "summary", DT: "term", DD: "definition", BLOCKQUOTE: "quotation", PRE: "text",
    CODE: "code", OPTION: "choice", SELECT: "choice", TEXTAREA: "field", INPUT: "field",
    ADDRESS: "address", TIME: "time", SVG: "drawing", svg: "drawing" };

  // Asked of names, not of classes: each frame has classes of its own.
  const hostOf = (node) => node.getRootNode().host || null;
  const upOf = (node) => node.parentElement || hostOf(node);
  // The tree in which a thing is painted: a slotted thing stands in its slot.
  const flatUp = (element) => element.assignedSlot || upOf(element);

  function step(element) {
    const name = CSS.escape(element.localName);
    const parent = element.parentElement;
    if (!parent) return hostOf(element) ? nth(element, name) : name;
    return nth(element, name);
  }
  function nth(element, name) {
    let place = 1, more = false;
    for (let other = element.previousElementSibling; other; other = other.previousElementSibling)
      if (other.localName === element.localName) place++;
    if (place === 1)
      for (let other = element.nextElementSibling; other; other = other.nextElementSibling)
        if (other.localName === element.localName) { more = true; break; }
    return place > 1 || more ? `${name}:nth-of-type(${place})` : name;
  }
  function selector(element) {
    const root = element.getRootNode();
    const parts = [];
    for (let at = element; at; at = at.parentElement) {
      if (at.id && /^[A-Za-z][\w-]*$/.test(at.id) && root.querySelectorAll
          && root.querySelectorAll(`#${CSS.escape(at.id)}`).length === 1) {
        parts.unshift(`#${at.id}`);
        return parts.join(">");
      }
      if (at.localName === "body" && at.parentElement === at.ownerDocument.documentElement) {
        parts.unshift("body");
        break;
      }
      parts.unshift(step(at));
    }
    return parts.join(">");
  }
  const addresses = new Map();
  function address(element, prefix) {
    let found = addresses.get(element);
    if (found === undefined) {
      const root = element.getRootNode();
      found = root.host
        ? `${address(root.host, prefix)}//shadow//${selector(element)}` : prefix + selector(element);
      addresses.set(element, found);
    }
    return found;
  }

  function where(element) {
    const words = [];
    let leaf = "", holder = "", landmark = "";
    let top = null;
    for (let at = element; at; at = flatUp(at)) {
      if (!leaf && LEAVES[tagOf(at)]) leaf = LEAVES[tagOf(at)];
      if (!holder && HOLDERS[tagOf(at)]) { holder = HOLDERS[tagOf(at)]; top = at; }
      if (LANDMARKS[tagOf(at)]) { landmark = LANDMARKS[tagOf(at)]; break; }
    }
    if (landmark) words.push(landmark);
    if (holder) words.push(numbered(top, holder));
    if (leaf) words.push(leaf);
    return words.length ? words.join(" › ") : "page";
  }
  function inFigures(count) {
    const teens = count % 100 > 10 && count % 100 < 14;
    return `${count}${!teens && { 1: "st", 2: "nd", 3: "rd" }[count % 10] || "th"}`;
  }
  const counted = new Map();
  function numbered(element, word) {
    const known = counted.get(element);
    if (known) return known;
    let scope = element.parentElement;
    while (scope && !LANDMARKS[tagOf(scope)] && scope.parentElement) scope = scope.parentElement;
    const tags = Object.keys(HOLDERS).filter((tag) => HOLDERS[tag] === word).join(",");
    const all = scope ? [...scope.querySelectorAll(tags)] : [element];
    const place = all.indexOf(element);
    const found = all.length > 1
      ? `${ordinals[place] || inFigures(place + 1)} ${word}` : word;
    counted.set(element, found);
    return found;
  }

  own.upOf = upOf;
  own.flatUp = flatUp;
  own.addressOf = (element, prefix = "") => address(element, prefix);
  own.whereOf = where;
  // What was found holds until the page changes.
  own.forgetPlaces = () => {
    addresses.clear();
    counted.clear();
  };
})();
