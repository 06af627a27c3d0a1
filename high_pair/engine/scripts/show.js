// Style sheets of ours over the page's own, in every tree of it, and the mark by which frames are told.
(() => {
  const own = globalThis.highPair;
  if (own.show) return;
  let mark = null;
  const held = new Map();
  const PLACE = "all: initial !important; position: fixed !important; inset: auto auto 0 0 !important;"
    + "width: 4px !important; height: 4px !important; margin: 0 !important; border: 0 !important;"
    + "padding: 0 !important; opacity: 1 !important; visibility: visible !important; display: block !important; zoom: 1 !important;";

  own.mark = ([red, green, blue]) => {
    if (!mark || !mark.isConnected) {
      mark = document.createElement("hp-mark");
      mark.setAttribute("popover", "manual");
      document.documentElement.append(mark);
      // In the top layer nothing of the page can cover it.
      try { mark.showPopover(); } catch { /* It stands at the end all the same. */ }
    }
    mark.style.cssText = `${PLACE} background: rgb(${red} ${green} ${blue}) !important;`;
    return true;
  };

  own.paintingSheets = () => new Set([...held.values()].map((sheets) => sheets[1]));
  own.mendSheets = () => new Set([...held.values()].map((sheets) => sheets[0]));
  own.ownSheets = () => new Set([...held.values()].flat());
  function put(root, text) {
    const view = (root.ownerDocument || root).defaultView;
    let sheets = held.get(root);
    if (!sheets) {
      sheets = [new view.CSSStyleSheet(), new view.CSSStyleSheet()];
      held.set(root, sheets);
    }
    // Mends that are tried, and over them what a painting asks for.
    // What is replaced is styled and painted anew, even by the same.
    const wanted = [own.mends(root), text];
    const said = sheets.said || ["", ""];
    wanted.forEach((each, place) => { if (each !== said[place]) sheets[place].replaceSync(each); });
    sheets.said = wanted;
    const there = root.adoptedStyleSheets.slice(-2);
    if (there[0] === sheets[0] && there[1] === sheets[1]) return;
    const others = [...root.adoptedStyleSheets].filter((each) => !sheets.includes(each));
    root.adoptedStyleSheets = [...others, ...sheets];
  }

  own.show = (text, colour) => {
    for (const root of own.roots()) {
      try { put(root, text); } catch { /* A frame that went away meanwhile. */ }
    }
    // Scrolling, or a state, may have set something in motion.
    own.finishAnimations();
    own.mark(colour);
    return true;
  };

  // Brings the mends that are tried into the page before anything is measured.
  let steady = "";
  own.steady = (text) => { steady = text; return own.mendNow(); };
  own.mendNow = () => {
    for (const root of own.roots()) {
      try { put(root, steady); } catch { /* A frame that went away meanwhile. */ }
    }
    return true;
  };

  const having = own.having = (attribute) =>
    own.roots().flatMap((root) => [...root.querySelectorAll(`[${attribute}]`)]);
  // Gives elements an attribute by which sheets of ours name them.
  own.name = (attribute, numbers) => {
    for (const element of having(attribute)) element.removeAttribute(attribute);
    for (const number of numbers) {
      const element = own.element(number);
      if (element) element.setAttribute(attribute, "");
    }
    return numbers.length;
  };
  // Likewise the elements round those that have an attribute.
  own.nameAround = (attribute, inner) => {
    for (const element of having(attribute)) element.removeAttribute(attribute);
    for (const element of having(inner))
      for (let at = own.outOf(element); at && !at.hasAttribute(attribute); at = own.outOf(at))
        if (!at.hasAttribute(inner)) at.setAttribute(attribute, "");
    return true;
  };
  // Of elements, by their numbers, the one with an attribute that holds each: [element, holder].
  own.holders = (attribute, numbers) => numbers.map((number) => {
    let at = own.element(number);
    while (at && !at.hasAttribute(attribute)) at = own.outOf(at);
    return [number, at ? own.numberOf(at) : number];
  });
  own.nameClipped = () => {
    for (const element of own.clipped) element.setAttribute("hp-clip", "");
    for (const element of own.glowing) element.setAttribute("hp-glow", "");
    for (const element of own.blended) element.setAttribute("hp-blend", "");
    return own.clipped.size;
  };

  own.scrollSizes = (number) => {
    const element = own.element(number);
    // The page itself is painted in all its height, and scrolled across alone.
    const page = element === document.scrollingElement;
    return [element.scrollWidth, page ? element.clientHeight : element.scrollHeight,
      element.clientWidth, element.clientHeight, element.scrollLeft, element.scrollTop];
  };
  // The scrollers round one, the outermost first.
  function around(element) {
    const outer = [];
    for (let at = own.outOf(element); at; at = own.outOf(at)) {
      const { body, documentElement } = at.ownerDocument;
      const ours = at.ownerDocument === document && (at === body || at === documentElement);
      if (!ours && at !== body && own.scrolls(at)) outer.unshift(at);
    }
    return outer;
  }
  own.outerScrollers = (number) => around(own.element(number)).map(own.numberOf);
  // Scrolls them until that one shows; gives where to: [number, left, top].
  own.reveal = (number) => {
    const element = own.element(number);
    return around(element).map((each) => {
      const [x, y, width, height] = own.within(element), [left, top, wide, high] = own.within(each);
      const shows = x >= left - 1 && y >= top - 1
        && x + width <= left + wide + 1 && y + height <= top + high + 1;
      if (!shows) each.scrollBy({ left: x - left, top: y - top, behavior: "instant" });
      return [own.numberOf(each), each.scrollLeft, each.scrollTop];
    });
  };
  own.scrollElement = (number, left, top) => {
    own.element(number).scrollTo({ left, top, behavior: "instant" });
    return true;
  };

  own.scrollTo = (top, later) => {
    document.documentElement.classList.toggle("hp-later", later);
    scrollTo({ top, left: 0, behavior: "instant" });
    return scrollY;
  };
  own.scrolled = () => scrollY;
})();
