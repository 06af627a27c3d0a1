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

  // States: which elements look otherwise when pointed at, focused, pressed or visited.
  const ACTIVE = "a[href], button, input, select, textarea, summary, [tabindex], [role='button'], [role='link']";
  const FORCED = { hover: [":hover"], focus: [":focus", ":focus-visible", ":focus-within"],
    active: [":active"], visited: [":visited", ":any-link", ":link"] };
  own.stateful = (most) => {
    const texts = [...allRules()].map(([rule]) => rule.selectorText);
    const found = {};
    for (const [state, names] of Object.entries(FORCED)) {
      // Pointed at, or pressed, is also whatever holds the link or control.
      const asked = texts.filter((text) => text.includes(names[0]));
      const reach = state === "visited" ? "a[href]" : ACTIVE;
      const all = [...document.querySelectorAll(reach)].filter((element) =>
        element.getClientRects().length && !element.matches(":disabled"));
      found[state] = asked.length || state === "focus" ? all.slice(0, most).map((each) => own.numberOf(each)) : [];
      found[`${state} rules`] = asked.length;
      if (asked.length) found.left = Math.max(found.left || 0, all.length - most);
    }
    return (found);
  };
  own.outlines = (numbers) => (numbers.map((number) => {
    const element = own.element(number), style = getComputedStyle(element);
    const box = element.getBoundingClientRect();
    return { number, style: style.outlineStyle, width: parseFloat(style.outlineWidth) || 0,
      offset: parseFloat(style.outlineOffset) || 0, shadow: style.boxShadow,
      box: [box.left + scrollX, box.top + scrollY, box.width, box.height],
      name: (element.getAttribute("aria-label") || element.textContent || element.value
        || element.placeholder || element.localName).replace(/\s+/g, " ").trim().slice(0, 60),
      address: own.addressOf(element), where: own.whereOf(element), tag: element.localName };
  }));

  // Links and controls that a click at their middle or near a corner may not reach, or that
  // something round them may cut off.
  const MOST_DOUBTED = 2000, WITHIN = 2;
  const scrolls = (style) => /auto|scroll/.test(style.overflowX + style.overflowY);
  // What cuts an element off, null for nothing.
  function cutBy(element, box) {
    for (let at = own.upOf(element); at && at !== document.body; at = own.upOf(at)) {
      const style = getComputedStyle(at);
      if (style.overflowX === "visible" && style.overflowY === "visible") continue;
      const around = at.getBoundingClientRect();
      if (box.left < around.left - 1 || box.right > around.right + 1
        || box.top < around.top - 1 || box.bottom > around.bottom + 1)
        return at;
    }
    return null;
  }
  const scrolledBy = (cut) => cut && scrolls(getComputedStyle(cut)) ? cut : null;
  const onPage = (box) => [box.left + scrollX, box.top + scrollY, box.width, box.height];
  // Whether an element is there to be seen, and whether clicks at its middle and corners reach it.
  function standing(element, box) {
    const [left, right] = [box.left + WITHIN, box.right - WITHIN];
    const [top, bottom] = [box.top + WITHIN, box.bottom - WITHIN];
    const points = [[(left + right) / 2, (top + bottom) / 2],
      [left, top], [right, top], [left, bottom], [right, bottom]];
    return element.checkVisibility({ opacityProperty: true, visibilityProperty: true })
      && box.right + scrollX > 0 && box.bottom + scrollY > 0
      && points.every(([x, y]) => {
        const hit = document.elementFromPoint(x, y);
        return !hit || hit.contains(element) || element.contains(hit);
      });
  }
  const active = () => [...document.querySelectorAll(ACTIVE)].slice(0, MOST_DOUBTED)
    .filter((element) => element.getClientRects().length);
  own.doubtful = () => {
    const found = [];
    for (const element of active()) {
      const box = element.getBoundingClientRect(), cut = cutBy(element, box);
      if (cut || !standing(element, box))
        found.push([own.numberOf(element), onPage(box), scrolledBy(cut) !== null]);
    }
    return found;
  };
  // Those to which a box round them would have to be scrolled: [the box, the control].
  own.away = () => active().flatMap((element) => {
    const box = element.getBoundingClientRect(), scroller = scrolledBy(cutBy(element, box));
    return scroller && box.width && box.height ? [[own.numberOf(scroller), own.numberOf(element)]] : [];
  });
  // Which of some of them show whole as the page is now, and where: [number, box].
  own.whole = (numbers) => numbers.flatMap((number) => {
    const element = own.element(number), box = element.getBoundingClientRect();
    return !cutBy(element, box) && standing(element, box) ? [[number, onPage(box)]] : [];
  });
  // Where elements are on the page.
  own.boxes = (numbers) => numbers.map((number) =>
    onPage(own.element(number).getBoundingClientRect()));

  // Controls whose borders tell where they are.
  own.controls = () => ([...document.querySelectorAll("input, textarea, select")]
    .filter((element) => element.getClientRects().length
      && !["hidden", "submit", "reset", "button", "image", "range", "file", "color"].includes(element.type))
    .slice(0, 400).map((element) => {
      const style = getComputedStyle(element), box = element.getBoundingClientRect();
      const sides = ["Top", "Right", "Bottom", "Left"].map((side) =>
        style[`border${side}Style`] === "none" ? 0 : parseFloat(style[`border${side}Width`]) || 0);
      const native = ["checkbox", "radio"].includes(element.type) && style.appearance !== "none";
      const label = element.labels && element.labels[0] ? element.labels[0].textContent : "";
      return { number: own.numberOf(element), address: own.addressOf(element), where: own.whereOf(element),
        sides, native, disabled: element.matches(":disabled"), visible: style.visibility === "visible",
        usual: style.borderTopColor === "rgb(118, 118, 118)" && style.borderTopStyle === "inset",
        name: (element.getAttribute("aria-label") || label || element.placeholder || element.name
          || element.localName).replace(/\s+/g, " ").trim().slice(0, 60),
        box: [box.left + scrollX, box.top + scrollY, box.width, box.height] };
    }));

  // The icons of controls that say by nothing else what they are for.
  const LABELLED = "a[href], button, summary, input[type='image'], [role='button'], [role='link'],"
    + "[role='tab'], [role='switch'], [role='menuitem']";
  const SMALLEST_ICON = 6, LARGEST_ICON = 64, MOST_ICONS = 300;
  function hasWords(control) {
    const own = control.getBoundingClientRect();
    const walker = document.createTreeWalker(control, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      if (!node.data.trim() || getComputedStyle(node.parentElement).visibility !== "visible") continue;
      const range = document.createRange();
      range.selectNodeContents(node);
      const box = range.getBoundingClientRect();
      if (box.width < 3 || box.height < 3 || box.right <= own.left || box.left >= own.right
        || box.bottom <= own.top || box.top >= own.bottom) continue;
      // Text for screen readers alone stands in a box of a pixel.
      let hidden = false;
      for (let each = node.parentElement; each && each !== control; each = each.parentElement) {
        const style = getComputedStyle(each), around = each.getBoundingClientRect();
        hidden = hidden || style.overflow !== "visible" && (around.width < 3 || around.height < 3)
          || +style.opacity === 0;
      }
      if (!hidden) return true;
    }
    return ["::before", "::after"].some((side) => {
      const content = getComputedStyle(control, side).content;
      return !["none", "normal", '""'].includes(content);
    });
  }
  // Where all shapes of a drawing are filled, or all drawn as lines, in one colour: by which property.
  function paintedBy(drawing) {
    if (drawing.localName !== "svg") return "";
    const used = { fill: new Set(), stroke: new Set() };
    for (const shape of drawing.querySelectorAll("path, circle, ellipse, rect, line, polyline, polygon, use"))
      for (const property of ["fill", "stroke"]) {
        const value = getComputedStyle(shape)[property];
        if (value === "none" && shape.getAttribute(property) === "none") continue;
        if (value !== "none" || property === "fill") used[property].add(value);
      }
    const [fill, stroke] = [used.fill, used.stroke];
    if (fill.size === 1 && !stroke.size && !fill.has("none")) return "fill";
    return stroke.size === 1 && (!fill.size || fill.size === 1 && fill.has("none")) ? "stroke" : "";
  }
  // How a selector goes on from an element to one within it.
  function wayTo(inner, outer) {
    let way = "";
    for (let at = inner; at !== outer; at = at.parentElement) {
      const alike = [...at.parentElement.children].filter((each) => each.localName === at.localName);
      const place = alike.length > 1 ? `:nth-of-type(${alike.indexOf(at) + 1})` : "";
      way = `>${CSS.escape(at.localName)}${place}${way}`;
    }
    return way;
  }
  own.icons = () => {
    const found = [];
    for (const control of document.querySelectorAll(LABELLED)) {
      if (found.length >= MOST_ICONS) break;
      if (!control.getClientRects().length || hasWords(control)) continue;
      const drawn = [control, ...control.querySelectorAll("*")].filter((each) =>
        each.localName === "img" || each.type === "image"
        || each.localName === "svg" && !each.parentElement.closest("svg")
        || !each.closest("svg") && getComputedStyle(each).backgroundImage.includes("url("));
      for (const each of drawn) {
        const box = each.getBoundingClientRect(), style = getComputedStyle(each);
        const sides = [box.width, box.height];
        if (Math.min(...sides) < SMALLEST_ICON || Math.max(...sides) > LARGEST_ICON
          || style.visibility !== "visible") continue;
        // What lies over it, or scrolls it out of view, shows in its place.
        const top = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
        if (top && !control.contains(top)) continue;
        const title = each.querySelector("title");
        found.push({ number: own.numberOf(each), holder: own.numberOf(control), address: own.addressOf(each), where: own.whereOf(control),
          control: own.addressOf(control), within: wayTo(each, control), disabled: control.matches(":disabled, [aria-disabled='true']"), property: paintedBy(each),
          name: (control.getAttribute("aria-label") || control.title || each.alt || control.textContent
            || (title ? title.textContent : "") || control.localName).replace(/\s+/g, " ").trim().slice(0, 60),
          box: [box.left + scrollX, box.top + scrollY, box.width, box.height] });
      }
    }
    return found;
  };
})();
