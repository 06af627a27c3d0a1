// Links and controls, in all trees of the page: which there are, where, and what shows of them.
(() => {
  const own = globalThis.highPair;
  if (own.controls) return;
  const all = (selector) => own.roots().flatMap((root) => [...root.querySelectorAll(selector)]);
  // Where an element is on the page, and in the view.
  const onPage = (element) => own.placeOf(element);
  function inView(element) {
    const [x, y, width, height] = onPage(element);
    return { left: x - scrollX, top: y - scrollY, right: x - scrollX + width, bottom: y - scrollY + height };
  }
  const addressOf = (element) => own.addressOf(element, own.prefixOf(element.ownerDocument));
  // What holds an element as it is painted, from tree to tree.
  const frameOf = (element) => {
    const view = element.ownerDocument.defaultView;
    return view && view !== globalThis ? view.frameElement : null;
  };
  const outOf = own.outOf = (element) => own.flatUp(element) || frameOf(element);
  const isFrame = (element) => element.localName === "iframe" || element.localName === "frame";
  function innerOf(element) {
    try { return isFrame(element) ? element.contentDocument : null; } catch { return null; }
  }
  function holds(outer, inner) {
    for (let at = inner; at; at = outOf(at)) if (at === outer) return true;
    return false;
  }
  // The innermost element at a place in the view, in whichever tree.
  function hitAt(x, y) {
    const place = [x + scrollX, y + scrollY];
    let root = document, found = null;
    for (;;) {
      const hit = root.elementFromPoint(x, y);
      if (!hit || hit === found) return found;
      found = hit;
      if (hit.shadowRoot) { root = hit.shadowRoot; continue; }
      root = innerOf(hit);
      if (!root || !root.documentElement) return found;
      const [left, top] = onPage(root.documentElement), box = root.documentElement.getBoundingClientRect();
      [x, y] = [place[0] - left + box.left, place[1] - top + box.top];
    }
  }

  // States: which elements look otherwise when pointed at, focused, pressed or visited.
  const ACTIVE = "a[href], button, input, select, textarea, summary, [tabindex], [role='button'], [role='link']";
  const FORCED = { hover: [":hover"], focus: [":focus", ":focus-visible", ":focus-within"],
    active: [":active"], visited: [":visited", ":any-link", ":link"] };
  own.stateful = (most) => {
    const texts = own.selectors();
    const found = {};
    for (const [state, names] of Object.entries(FORCED)) {
      // Pointed at, or pressed, is also whatever holds the link or control.
      const asked = texts.filter((text) => text.includes(names[0]));
      const reach = state === "visited" ? "a[href]" : ACTIVE;
      const reached = all(reach).filter((element) =>
        element.getClientRects().length && !element.matches(":disabled"));
      found[state] = asked.length || state === "focus" ? reached.slice(0, most).map(own.numberOf) : [];
      found[`${state} rules`] = asked.length;
      if (asked.length) found.left = Math.max(found.left || 0, reached.length - most);
    }
    return (found);
  };
  own.outlines = (numbers) => (numbers.map((number) => {
    const element = own.element(number), style = getComputedStyle(element);
    return { number, style: style.outlineStyle, width: parseFloat(style.outlineWidth) || 0,
      offset: parseFloat(style.outlineOffset) || 0, shadow: style.boxShadow,
      box: onPage(element),
      name: (element.getAttribute("aria-label") || element.textContent || element.value
        || element.placeholder || element.localName).replace(/\s+/g, " ").trim().slice(0, 60),
      address: addressOf(element), where: own.whereOf(element), tag: element.localName };
  }));

  // Links and controls that a click at their middle or near a corner may not reach, or that
  // something round them may cut off.
  const MOST_DOUBTED = 2000, WITHIN = 2;
  // Whether an element, or the document of a frame, can be scrolled.
  const isRoot = (element) => element === element.ownerDocument.scrollingElement;
  const scrolls = own.scrolls = (element) => {
    const { overflowX, overflowY } = getComputedStyle(element);
    return isRoot(element) ? !/hidden|clip/.test(overflowY) : /auto|scroll/.test(overflowX + overflowY);
  };
  // What of the page is within what cuts off or scrolls.
  own.within = (element) => {
    const [x, y, width, height] = onPage(element);
    if (!isRoot(element)) return [x, y, width, height];
    const box = element.getBoundingClientRect();
    return [x - box.left, y - box.top, element.clientWidth, element.clientHeight];
  };
  // What cuts an element off, of its own tree or of those round it; null for nothing.
  function cutBy(element) {
    const [x, y, width, height] = onPage(element);
    for (let at = outOf(element); at; at = outOf(at)) {
      const style = getComputedStyle(at), { body, documentElement } = at.ownerDocument;
      if (at === body || at === documentElement) continue;
      if (!isFrame(at) && style.overflowX === "visible" && style.overflowY === "visible") continue;
      const inner = innerOf(at), cut = inner && inner.scrollingElement || at;
      const [left, top, wide, high] = own.within(cut);
      if (x < left - 1 || y < top - 1 || x + width > left + wide + 1 || y + height > top + high + 1) return cut;
    }
    return null;
  }
  const scrolledBy = (cut) => cut && scrolls(cut) ? cut : null;
  // Whether an element is there to be seen, and whether clicks at its middle and corners reach it.
  function standing(element) {
    const box = inView(element);
    const [left, right] = [box.left + WITHIN, box.right - WITHIN];
    const [top, bottom] = [box.top + WITHIN, box.bottom - WITHIN];
    const points = [[(left + right) / 2, (top + bottom) / 2],
      [left, top], [right, top], [left, bottom], [right, bottom]];
    return element.checkVisibility({ opacityProperty: true, visibilityProperty: true })
      && box.right + scrollX > 0 && box.bottom + scrollY > 0
      && points.every(([x, y]) => {
        const hit = hitAt(x, y);
        return !hit || holds(hit, element) || holds(element, hit);
      });
  }
  const active = () => all(ACTIVE).slice(0, MOST_DOUBTED)
    .filter((element) => element.getClientRects().length);
  own.doubtful = () => {
    const found = [];
    for (const element of active()) {
      const cut = cutBy(element);
      if (cut || !standing(element))
        found.push([own.numberOf(element), onPage(element), scrolledBy(cut) !== null]);
    }
    return found;
  };
  // Those to which a box round them would have to be scrolled: [the box, the control].
  own.away = () => active().flatMap((element) => {
    const scroller = scrolledBy(cutBy(element)), [, , width, height] = onPage(element);
    return scroller && width && height ? [[own.numberOf(scroller), own.numberOf(element)]] : [];
  });
  // Which of some of them show whole as the page is now, and where: [number, box].
  own.whole = (numbers) => numbers.flatMap((number) => {
    const element = own.element(number);
    return !cutBy(element) && standing(element) ? [[number, onPage(element)]] : [];
  });
  // Where elements are on the page.
  own.boxes = (numbers) => numbers.map((number) => onPage(own.element(number)));

  const MOST_CONTROLS = 400;
  const those = (numbers, selector) => numbers ? numbers.map(own.element).filter((each) => each.matches(selector))
    : all(selector);
  // Controls whose borders tell where they are; of some, by their numbers, or of all.
  own.controls = (numbers = null) => (those(numbers, "input, textarea, select")
    .filter((element) => element.getClientRects().length
      && !["hidden", "submit", "reset", "button", "image", "range", "file", "color"].includes(element.type))
    .slice(0, MOST_CONTROLS).map((element) => {
      const style = getComputedStyle(element);
      const sides = ["Top", "Right", "Bottom", "Left"].map((side) =>
        style[`border${side}Style`] === "none" ? 0 : parseFloat(style[`border${side}Width`]) || 0);
      const native = ["checkbox", "radio"].includes(element.type) && style.appearance !== "none";
      const label = element.labels && element.labels[0] ? element.labels[0].textContent : "";
      return { number: own.numberOf(element), address: addressOf(element), where: own.whereOf(element),
        sides, native, disabled: element.matches(":disabled"), visible: style.visibility === "visible",
        usual: style.borderTopColor === "rgb(118, 118, 118)" && style.borderTopStyle === "inset",
        name: (element.getAttribute("aria-label") || label || element.placeholder || element.name
          || element.localName).replace(/\s+/g, " ").trim().slice(0, 60),
        box: onPage(element) };
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
  own.icons = (numbers = null) => {
    const found = [];
    for (const control of those(numbers, LABELLED)) {
      if (found.length >= MOST_ICONS) break;
      if (!control.getClientRects().length || hasWords(control)) continue;
      const drawn = [control, ...control.querySelectorAll("*")].filter((each) =>
        each.localName === "img" || each.type === "image"
        || each.localName === "svg" && !each.parentElement.closest("svg")
        || !each.closest("svg") && getComputedStyle(each).backgroundImage.includes("url("));
      for (const each of drawn) {
        const box = onPage(each), style = getComputedStyle(each), sides = box.slice(2);
        if (Math.min(...sides) < SMALLEST_ICON || Math.max(...sides) > LARGEST_ICON
          || style.visibility !== "visible") continue;
        // What lies over it, or scrolls it out of view, shows in its place.
        const view = inView(each), top = hitAt((view.left + view.right) / 2, (view.top + view.bottom) / 2);
        if (top && !holds(control, top)) continue;
        const title = each.querySelector("title");
        found.push({ number: own.numberOf(each), holder: own.numberOf(control), address: addressOf(each), where: own.whereOf(control),
          control: addressOf(control), within: wayTo(each, control), disabled: control.matches(":disabled, [aria-disabled='true']"), property: paintedBy(each),
          name: (control.getAttribute("aria-label") || control.title || each.alt || control.textContent
            || (title ? title.textContent : "") || control.localName).replace(/\s+/g, " ").trim().slice(0, 60),
          box });
      }
    }
    return found;
  };
})();
