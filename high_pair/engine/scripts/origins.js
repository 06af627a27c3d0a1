// Finds the rule that decides each text's colour, by asking the engine: every rule's colour is made a
// number, and the colour that an element then has tells its rule. All is put back.
// Also carries out changes that are tried: a sheet of mends, and declarations within the page's rules.
(() => {
  const own = globalThis.highPair;
  if (own.origins) return;
  const PROPERTIES = ["color", "-webkit-text-fill-color", "fill"];
  // No page is likely to have this opacity; it tells a number from a colour.
  const OPACITY = 0.498;
  const coded = (number) => `rgba(${number >> 16 & 255}, ${number >> 8 & 255}, ${number & 255}, ${OPACITY})`;
  const NUMBER = /^rgba\((\d+), (\d+), (\d+), 0\.498\d*\)$/;
  function decoded(text) {
    const match = NUMBER.exec(text);
    return match ? (+match[1] << 16 | +match[2] << 8 | +match[3]) : -1;
  }

  function sheetsOf(root) {
    const mine = own.paintingSheets();
    return [...root.styleSheets, ...root.adoptedStyleSheets].filter((sheet) => !mine.has(sheet));
  }
  function* rulesIn(holder, path) {
    let rules = null;
    try { rules = holder.cssRules; } catch { return; }
    if (!rules) return;
    for (let index = 0; index < rules.length; index++) {
      const rule = rules[index], here = [...path, index];
      if (rule.style && rule.selectorText !== undefined) yield [rule, here];
      if (rule.styleSheet) yield* rulesIn(rule.styleSheet, [...here, "import"]);
      else if (rule.cssRules) yield* rulesIn(rule, here);
    }
  }
  function* allRules() {
    const roots = own.roots();
    for (let tree = 0; tree < roots.length; tree++) {
      const sheets = sheetsOf(roots[tree]), prefix = own.prefixOf(roots[tree]);
      for (let number = 0; number < sheets.length; number++)
        for (const [rule, path] of rulesIn(sheets[number], [])) yield [rule, tree, number, path, sheets[number], prefix];
    }
  }

  const counts = new Map();
  function nthOf(rule, sheet) {
    // Which of the sheet's rules with the same selector it is.
    let known = counts.get(sheet);
    if (!known) {
      known = new Map();
      const seen = new Map();
      for (const [each] of rulesIn(sheet, [])) {
        if (each.parentStyleSheet !== sheet) continue;
        const place = seen.get(each.selectorText) || 0;
        known.set(each, place);
        seen.set(each.selectorText, place + 1);
      }
      counts.set(sheet, known);
    }
    return known.get(rule) || 0;
  }
  function aboutOf([rule, tree, number, path, , prefix], property) {
    const sheet = rule.parentStyleSheet;
    const owner = sheet.ownerNode;
    let style = -1;
    if (owner && owner.localName === "style")
      style = [...owner.getRootNode().querySelectorAll("style")].indexOf(owner);
    const within = [];
    for (let at = rule.parentRule; at; at = at.parentRule) {
      const kind = at.constructor.name;
      if (at.selectorText !== undefined) within.unshift(at.selectorText);
      else if (kind === "CSSMediaRule") within.unshift(`@media ${at.conditionText}`);
      else if (kind === "CSSSupportsRule") within.unshift(`@supports ${at.conditionText}`);
      else if (kind === "CSSContainerRule") within.unshift(`@container ${at.conditionText}`);
    }
    return {
      mend: own.mendSheets().has(sheet),
      tree, prefix, sheet: number, path, property, style, href: sheet.href || "", within, nth: nthOf(rule, sheet),
      important: rule.style.getPropertyPriority(property) === 'important',
      selector: rule.selectorText, value: rule.style.getPropertyValue(property).trim(),
    };
  }

  function swap(entries) {
    // Makes declarations numbers; gives how to put them back.
    const undo = [];
    for (const [rule, property, number] of entries) {
      const value = rule.style.getPropertyValue(property);
      const priority = rule.style.getPropertyPriority(property);
      undo.push(() => rule.style.setProperty(property, value, priority));
      rule.style.setProperty(property, coded(number), priority);
    }
    return () => { for (const back of undo.reverse()) back(); };
  }

  // Declarations that say a colour by themselves: custom properties, and those of text and fills.
  const DECLARED = ["color", "background-color", "fill", "stroke"], MOST_DECLARED = 600;
  function declaredIn(rules) {
    const found = [];
    for (const place of rules) {
      const { style } = place[0];
      for (const name of style) {
        if (!name.startsWith("--") && !DECLARED.includes(name)) continue;
        const value = style.getPropertyValue(name).trim();
        if (/^(#|[a-z]+$|[a-z]+\()/i.test(value) && !value.includes("var(") && CSS.supports("color", value)
          && found.length < MOST_DECLARED) found.push(aboutOf(place, name));
      }
    }
    return found;
  }

  own.origins = (asked) => {
    counts.clear();
    const places = [], entries = [];
    const rules = [...allRules()];
    const wanted = new Set();
    for (const place of rules) {
      for (const property of PROPERTIES) {
        const value = place[0].style.getPropertyValue(property);
        if (!value) continue;
        entries.push([place[0], property, places.length]);
        places.push(aboutOf(place, property));
        for (const match of value.matchAll(/var\(\s*(--[^\s,)]+)/g)) wanted.add(match[1]);
      }
    }
    const read = () => asked.map(([number, side]) => {
      const element = own.element(number);
      if (!element) return -1;
      const style = getComputedStyle(element, side || null);
      const drawing = element.namespaceURI === "http://www.w3.org/2000/svg";
      return decoded(drawing ? style.fill : style.webkitTextFillColor);
    });
    let back = swap(entries);
    const decided = read();
    back();
    const definers = [];
    const custom = [];
    if (wanted.size) for (const place of rules) for (const name of wanted) {
      if (!place[0].style.getPropertyValue(name)) continue;
      custom.push([place[0], name, definers.length]);
      definers.push(aboutOf(place, name));
    }
    back = swap(custom);
    const behind = custom.length ? read() : asked.map(() => -1);
    back();
    const inline = asked.map(([number], index) => {
      if (decided[index] >= 0) return 0;
      for (let at = own.element(number); at; at = at.parentElement) {
        // A negative number: an attribute says it.
        if (at.namespaceURI === "http://www.w3.org/2000/svg" && at.hasAttribute("fill") && !at.style.fill)
          return -own.numberOf(at);
        if (at.style && (at.style.color || at.style.fill || at.style.webkitTextFillColor)) return own.numberOf(at);
      }
      return 0;
    });
    return ({ places, definers, declared: declaredIn(rules), decided, behind, inline,
      trees: own.trees(), styles: own.styles() });
  };

  // Changes that are tried
  let mends = {}, restore = [];
  own.mends = (root) => mends[own.prefixOf(root)] || "";
  function ruleAt(tree, number, path) {
    let holder = sheetsOf(own.roots()[tree])[number];
    for (const step of path) holder = step === "import" ? holder.styleSheet : holder.cssRules[step];
    return holder;
  }
  own.change = (changes) => {
    for (const back of restore.reverse()) back();
    restore = [];
    mends = changes.sheets;
    for (const { tree, sheet, path, property, value } of changes.rules || []) {
      const style = ruleAt(tree, sheet, path).style;
      const before = style.getPropertyValue(property), priority = style.getPropertyPriority(property);
      restore.push(() => style.setProperty(property, before, priority));
      style.setProperty(property, value, priority);
    }
    return true;
  };

  own.selectors = () => [...allRules()].map(([rule]) => rule.selectorText);
})();
