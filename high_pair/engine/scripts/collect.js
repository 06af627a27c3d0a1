// Tells what text a page shows: where, in which look, and what stands in the way of measuring it.
// Runs in a world of its own, after watch.js, colours.js and places.js.
(() => {
  const own = globalThis.highPair;
  if (own.collect) return;

  const { colour, tagOf, upOf, flatUp, whereOf: where, addressOf: address } = own;
  // Elements whose heights are noted before the view is made as high as the page.
  const MOST_PINNED = 32000;

  // More see-through elements within one another than these are no designer's, and take much room.
  const MOST_FADED = 4;

  // What holds for an element and all in it.
  function factsOf(element, frame, facts) {
    let found = facts.get(element);
    if (found) return found;
    const style = getComputedStyle(element);
    const up = flatUp(element);
    const above = up ? factsOf(up, frame, facts) : null;
    const box = element.getBoundingClientRect();
    found = {
      style, box, element,
      opacity: (above ? above.opacity : frame.opacity) * +style.opacity,
      painted: above ? above.painted : frame.painted,
      blended: above ? above.blended : [],
      faded: +style.opacity < 1 ? [element, ...(above ? above.faded : [])].slice(0, MOST_FADED)
        : above ? above.faded : [],
      underline: above && style.display !== "inline-block" && style.float === "none"
        && style.position !== "absolute" && style.position !== "fixed" ? above.underline : false,
      fixed: above ? above.fixed : frame.fixed,
      scroller: above ? above.scroller : frame.scroller || null,
      scale: (above ? above.scale : frame.scale) * scaleOf(style),
      disabled: above ? above.disabled : false,
      link: above ? above.link : null,
      block: null,
      clip: null,
      surface: above ? above.surface : -1,
      image: above ? above.image : -1,
      attached: above ? above.attached : false,
      hidden: above ? above.hidden : "",
      positioned: style.position !== "static" || style.transform !== "none",
      flat: above ? above.flat : true,
    };
    if (style.transform !== "none" && style.transform.startsWith("matrix3d")) found.flat = false;
    if (style.textDecorationLine.includes("underline")) found.underline = true;
    if (style.filter !== "none") found.painted = "a filter lies over it";
    if (style.mixBlendMode !== "normal") {
      found.painted = BLENDED;
      found.blended = bare(element) ? [...found.blended, element] : found.blended;
    }
    if (style.maskImage && style.maskImage !== "none") found.painted = "a mask lies over it";
    if (style.position === "fixed" && !found.fixed) found.fixed = element;
    if (style.position === "sticky" && !found.fixed) found.fixed = element;
    // So is what a folded part keeps: it has a place, and isn't painted there.
    if (style.contentVisibility === "hidden" || style.display !== "contents" && !element.checkVisibility())
      found.hidden = "invisible";
    if (element.matches(":disabled") || element.getAttribute("aria-disabled") === "true")
      found.disabled = true;
    if (element.localName === "label" && element.control && element.control.matches(":disabled"))
      found.disabled = true;
    if (element.id && labels.has(element.id)) found.disabled = true;
    if (element.localName === "a" && element.hasAttribute("href")) found.link = element;
    const inline = style.display.startsWith("inline") && style.display === "inline"
      || style.display === "contents" || style.display.startsWith("ruby");
    found.block = inline && above ? above.block : element;
    found.clip = clipOf(element, style, found, above, frame);
    backgroundOf(element, style, found, frame);
    facts.set(element, found);
    return found;
  }

  const BLENDED = "it is blended with what is behind it";
  // Elements of which nothing but their text is painted.
  const MOST_WITHIN = 60;
  function bare(element) {
    const within = element.querySelectorAll("*");
    if (within.length > MOST_WITHIN) return false;
    return [element, ...within].every((each) => {
      const style = getComputedStyle(each);
      return style.backgroundImage === "none" && colour(style.backgroundColor)[3] === 0
        && style.boxShadow === "none" && style.borderStyle === "none"
        && !["img", "svg", "canvas", "video", "iframe", "input", "button", "select", "textarea", "object",
          "embed"].includes(each.localName);
    });
  }

  function scaleOf(style) {
    let scale = 1;
    if (style.transform !== "none") {
      const matrix = new DOMMatrixReadOnly(style.transform);
      scale *= Math.sqrt(Math.abs(matrix.a * matrix.d - matrix.b * matrix.c)) || 0;
    }
    if (style.scale && style.scale !== "none") {
      const [across, down] = style.scale.split(" ").map(Number);
      scale *= Math.sqrt(Math.abs(across * (down === undefined ? across : down)));
    }
    return scale;
  }

  // The part of the page in which an element's content shows: [left, top, right, bottom] or null.
  function clipOf(element, style, facts, above, frame) {
    let clip = frame.clip;
    if (above) {
      clip = above.clip;
      if (style.position === "absolute" || style.position === "fixed") {
        let at = above;
        while (at && !at.positioned) at = flatUp(at.element) ? at.up : null;
        clip = style.position === "fixed" ? frame.clip : at ? at.clip : frame.clip;
        facts.scroller = style.position === "fixed" ? null : at ? at.scroller : null;
      }
    }
    facts.up = above;
    const root = element === element.ownerDocument.documentElement
      || element === element.ownerDocument.body;
    const over = style.overflowX !== "visible" || style.overflowY !== "visible";
    if (over && !root && style.display !== "inline") {
      const box = element.getBoundingClientRect();
      const left = box.left + element.clientLeft * facts.scale;
      const top = box.top + element.clientTop * facts.scale;
      const inner = [left, top, left + element.clientWidth * facts.scale,
        top + element.clientHeight * facts.scale];
      clip = clip ? cut(clip, inner) : inner;
      const scrolls = /auto|scroll/.test(style.overflowX + style.overflowY)
        && (element.scrollHeight > element.clientHeight + 1
          || element.scrollWidth > element.clientWidth + 1);
      if (scrolls) facts.scroller = element;
    }
    if (style.clip !== "auto" && (style.position === "absolute" || style.position === "fixed")) {
      const sides = style.clip.match(/-?[\d.]+|auto/g) || [];
      const box = element.getBoundingClientRect();
      const side = (text, otherwise) => text === undefined || text === "auto" ? otherwise : +text;
      const inner = [box.left + side(sides[3], 0), box.top + side(sides[0], 0),
        box.left + side(sides[1], box.width), box.top + side(sides[2], box.height)];
      clip = clip ? cut(clip, inner) : inner;
    }
    return clip;
  }
  const cut = (one, other) => [Math.max(one[0], other[0]), Math.max(one[1], other[1]),
    Math.min(one[2], other[2]), Math.min(one[3], other[3])];

  let surfaces = [];
  // Elements whose background shows in the shape of their letters.
  const clipped = own.clipped = new Set();
  // Elements whose background stays in place while the page is scrolled.
  const attached = own.attached = new Set();
  let labels = new Set();
  function backgroundOf(element, style, facts, frame) {
    const clipText = (style.webkitBackgroundClip || style.backgroundClip || "").includes("text");
    if (clipText) {
      facts.clipText = true;
      clipped.add(element);
      return;
    }
    const image = style.backgroundImage !== "none";
    const fill = colour(style.backgroundColor);
    if (!image && fill[3] === 0) return;
    const box = facts.box;
    surfaces.push({
      address: address(element, frame.prefix), image, fill,
      picture: image && style.backgroundImage.includes("url("),
      box: [box.left + frame.x, box.top + frame.y, box.width, box.height],
      fills: image ? {
        image: style.backgroundImage, position: style.backgroundPosition,
        size: style.backgroundSize, repeat: style.backgroundRepeat,
        origin: style.backgroundOrigin, clip: style.backgroundClip,
        attachment: style.backgroundAttachment,
      } : null,
      tag: element.localName,
    });
    facts.surface = surfaces.length - 1;
    if (image) facts.image = facts.surface;
    if (image && style.backgroundAttachment.includes("fixed")) {
      facts.attached = true;
      attached.add(element);
    }
    else if (fill[3] === 1) facts.attached = false;
  }

  const WORD = /[\u2E80-\u9FFF\uAC00-\uD7AF\uF900-\uFAFF\u3040-\u30FF]|[^\s\u2E80-\u9FFF\uAC00-\uD7AF\uF900-\uFAFF\u3040-\u30FF]+/gu;
  const round = (number) => Math.round(number * 100) / 100;

  function wordsOf(node, frame) {
    const range = node.ownerDocument.createRange();
    const words = [];
    for (const match of node.data.matchAll(WORD)) {
      range.setStart(node, match.index);
      range.setEnd(node, match.index + match[0].length);
      for (const box of range.getClientRects())
        if (box.width > 0 && box.height > 0)
          words.push([match[0], round(box.left + frame.x), round(box.top + frame.y),
            round(box.width), round(box.height)]);
    }
    return words;
  }

  function lookOf(facts, style, frame) {
    const element = facts.element;
    const drawing = element.namespaceURI === "http://www.w3.org/2000/svg";
    let fill = style.webkitTextFillColor || style.color;
    let painted = facts.painted;
    let alpha = 1;
    if (drawing) {
      fill = style.fill;
      alpha = +style.fillOpacity;
      if (fill.includes("url(")) { painted = "its letters have a gradient or a pattern"; fill = style.color; }
      if (fill === "none") {
        fill = style.stroke === "none" ? "rgba(0, 0, 0, 0)" : style.stroke;
        painted = style.stroke === "none" ? painted : "its letters are an outline";
      } else if (style.stroke !== "none" && parseFloat(style.strokeWidth) > 0) {
        painted = "its letters have an outline";
      }
    } else if (parseFloat(style.webkitTextStrokeWidth) > 0) {
      painted = "its letters have an outline";
    }
    const [red, green, blue, own] = colour(fill);
    alpha *= own;
    if (facts.clipText && alpha < 1) painted = "its letters show the background of their element";
    let size = parseFloat(style.fontSize) * facts.scale * (element.currentCSSZoom || 1);
    if (drawing && element.getScreenCTM) {
      const matrix = element.getScreenCTM();
      if (matrix) size = parseFloat(style.fontSize)
        * Math.sqrt(Math.abs(matrix.a * matrix.d - matrix.b * matrix.c)) * frame.scale;
    }
    return {
      colour: [red, green, blue, alpha], opacity: facts.opacity,
      faded: facts.faded.map((each) => each.localName ? address(each, frame.prefix) : each),
      size: Math.round(size * 10000) / 10000, weight: Math.round(+style.fontWeight) || 400,
      italic: style.fontStyle !== "normal", shadow: style.textShadow !== "none", family: style.fontFamily.split(",")[0].trim(),
      painted: facts.clipText && alpha === 1 ? facts.painted : painted,
      blended: facts.painted === BLENDED, xHeight: xHeightOf(style),
    };
  }

  // The height of the x of a font, as a share of its size; 0 where it isn't told.
  const xHeights = new Map();
  let canvas = null;
  function xHeightOf(style) {
    const font = `${style.fontStyle} ${style.fontWeight} 100px ${style.fontFamily}`;
    if (!xHeights.has(font)) {
      canvas = canvas || new OffscreenCanvas(1, 1).getContext("2d");
      canvas.font = font;
      xHeights.set(font, Math.round(canvas.measureText("x").actualBoundingBoxAscent * 100) / 10000 || 0);
    }
    return xHeights.get(font);
  }

  // Whether all of a text's shadow has the letters' own colour: then it makes them bolder, and is
  // no part of what is behind them.
  const SHADOW_COLOUR = /(?:rgba?|color|oklab|oklch|lab|lch)\([^)]*\)/g;
  const NEAR = 40;
  function glows(style, [red, green, blue]) {
    if (style.textShadow === "none") return false;
    const said = style.textShadow.match(SHADOW_COLOUR) || [];
    return said.length > 0 && said.every((each) => {
      const shade = colour(each);
      return Math.max(Math.abs(shade[0] - red), Math.abs(shade[1] - green),
        Math.abs(shade[2] - blue)) <= NEAR;
    });
  }
  const glowing = own.glowing = new Set();

  function exemption(facts, style, look) {
    if (style.visibility !== "visible" || facts.hidden) return "invisible";
    if (look.opacity < 1 / 255) return "transparent";
    if (look.colour[3] < 1 / 255 && !look.painted && !look.shadow) return "transparent";
    if (facts.disabled) return "inactive";
    if (look.size < 0.5) return "invisible";
    return "";
  }

  function linkOf(facts) {
    const link = facts.link;
    if (!link) return [false, false];
    const style = getComputedStyle(link);
    const below = parseFloat(style.borderBottomWidth) > 0 && style.borderBottomStyle !== "none"
      && colour(style.borderBottomColor)[3] > 0;
    const filled = colour(style.backgroundColor)[3] > 0 || style.backgroundImage !== "none";
    const more = (side) => mentioned.sides
      && !["none", "normal", '""'].includes(getComputedStyle(link, side).content);
    const pictured = !!link.querySelector("img, svg, picture");
    return [true, facts.underline || below || filled || pictured || more("::before")
      || more("::after") || style.display.includes("block")];
  }

  const SKIPPED = new Set(["SCRIPT", "STYLE", "TEMPLATE", "NOSCRIPT", "HEAD", "TITLE",
    "HP-MARK", "DATALIST"]);
  const TYPED = new Set(["text", "search", "url", "tel", "email", "password", "number", "date",
    "time", "month", "week", "datetime-local"]);
  const PRESSED = { submit: "Submit", reset: "Reset", button: "" };

  const blended = own.blended = new Set();
  function item(facts, kind, text, more, frame) {
    const style = more.style || facts.style;
    for (const element of facts.blended) blended.add(element);
    const look = more.look || lookOf(facts, style, frame);
    if (look.colour[3] > 0 && glows(style, look.colour)) {
      glowing.add(facts.element);
      look.shadow = false;
    }
    const [link, marked] = linkOf(facts);
    return {
      kind, text, look, link, marked,
      property: facts.element.namespaceURI === "http://www.w3.org/2000/svg" ? "fill" : "color",
      filled: style.webkitTextFillColor !== style.color, side: (more.suffix || "").startsWith("::") ? more.suffix : "",
      address: address(facts.element, frame.prefix) + (more.suffix || ""),
      number: more.number || 0,
      where: where(facts.element) + (more.place ? ` › ${more.place}` : ""),
      element: idOf(facts.element), block: idOf(facts.block || facts.element),
      exempt: exemption(facts, style, look),
      words: more.words || [], region: more.region || null,
      clip: facts.clip && [facts.clip[0] + frame.x, facts.clip[1] + frame.y,
        facts.clip[2] + frame.x, facts.clip[3] + frame.y],
      fixed: facts.fixed ? idOf(facts.fixed) : 0,
      scroller: facts.scroller ? idOf(facts.scroller) : 0,
      surface: facts.surface, image: facts.image, attached: facts.attached,
      tilted: !facts.flat, focus: !!more.focus,
    };
  }
  let ids = new Map(), elements = [null];
  function idOf(element) {
    let found = ids.get(element);
    if (!found) { found = elements.length; ids.set(element, found); elements.push(element); }
    return found;
  }
  own.element = (number) => elements[number];
  own.numberOf = idOf;

  function content(text) {
    // The strings of generated content; pictures and counters aside.
    const parts = text.replace(/url\("(?:[^"\\]|\\.)*"\)/g, "").match(/"(?:[^"\\]|\\.)*"/g) || [];
    const said = parts.map((part) => part.slice(1, -1).replace(/\\(.)/g, "$1")).join("");
    return /counters?\(/.test(text) && !said.trim() ? "…" : said;
  }

  // What holds for a side of an element: it may be see-through besides.
  function within(facts, style, side, frame) {
    const own = +style.opacity < 1 ? [address(facts.element, frame.prefix) + side] : [];
    return { ...facts, opacity: facts.opacity * +style.opacity, faded: [...own, ...facts.faded] };
  }

  function generated(facts, side, frame, found) {
    const style = getComputedStyle(facts.element, side);
    if (["none", "normal"].includes(style.content) || style.display === "none") return;
    const text = content(style.content);
    if (!text.trim()) return;
    // For screen readers alone, in a box of no size.
    if (style.overflow !== "visible" && (parseFloat(style.width) < 2 || parseFloat(style.height) < 2)) return;
    const box = facts.box;
    const size = parseFloat(style.fontSize);
    const room = style.position === "absolute" || style.position === "fixed" ? 8 * size : size;
    const look = lookOf(within(facts, style, side, frame), style, frame);
    if (style.textDecorationLine.includes("underline")) facts.underline = true;
    found.push(item(facts, "generated", text, {
      style, look, suffix: side, place: side === "::before" ? "added before" : "added after",
      region: [box.left + frame.x - room, box.top + frame.y - room, box.width + 2 * room,
        box.height + 2 * room],
    }, frame));
  }

  function marker(facts, frame, found) {
    const style = facts.style;
    if (style.display !== "list-item") return;
    const mark = getComputedStyle(facts.element, "::marker");
    const kind = style.listStyleType;
    let text = content(mark.content);
    if (mark.content === "normal") {
      if (style.listStyleImage !== "none" || ["none", "disc", "circle", "square", "disclosure-open",
        "disclosure-closed"].includes(kind)) return;
      text = kind.startsWith('"') ? content(kind) : "";
      if (kind.startsWith('"') && !text.trim()) return;
    } else if (!text.trim()) return;
    const box = facts.box, size = parseFloat(style.fontSize);
    // What a marker inherits is what is painted; its own colour wins over that.
    const look = lookOf(facts, style, frame);
    look.colour = colour(mark.color);
    look.weight = Math.round(+mark.fontWeight) || look.weight;
    const parent = facts.element.parentElement;
    let place = 1;
    if (parent) for (const other of parent.children) {
      if (other === facts.element) break;
      if (other.localName === "li") place++;
    }
    text = text.trim() || (kind === "decimal" ? `${place}.` : "marker");
    const room = size * Math.max(4, text.length);
    const left = style.listStylePosition === "inside" ? size : room;
    found.push(item(facts, "marker", text, {
      style: mark, look, suffix: "::marker", place: "marker",
      region: [box.left + frame.x - left, box.top + frame.y,
        left + (style.listStylePosition === "inside" ? room : size), Math.min(box.height, 2 * size)],
    }, frame));
  }

  function control(facts, frame, found) {
    const element = facts.element, tag = element.localName, box = facts.box;
    if (!box.width || !box.height) return;
    // Within the border, where a sign of focus doesn't reach.
    const region = [box.left + frame.x + element.clientLeft * facts.scale,
      box.top + frame.y + element.clientTop * facts.scale,
      (element.clientWidth || box.width) * facts.scale, (element.clientHeight || box.height) * facts.scale];
    if (tag === "select" && (element.multiple || element.size > 1)) {
      listed(element, frame, found);
      return;
    }
    if (tag === "select") {
      const chosen = [...element.selectedOptions].map((each) => each.label).join(" ");
      if (chosen.trim()) found.push(item(facts, "value", chosen, { region, suffix: "/value=1" }, frame));
      return;
    }
    if (tag === "input" && element.type in PRESSED) {
      const label = element.hasAttribute("value") ? element.value : PRESSED[element.type];
      if (label.trim()) found.push(item(facts, "value", label, { region, suffix: "/value=1" }, frame));
      return;
    }
    if (tag === "textarea" || TYPED.has(element.type)) {
      const value = element.type === "password" ? "•".repeat(element.value.length) : element.value;
      if (value.trim()) {
        found.push(item(facts, "value", value, { region, suffix: "/value=1", place: "value" }, frame));
      } else if (element.placeholder && element.placeholder.trim()) {
        const style = getComputedStyle(element, "::placeholder");
        const look = lookOf(within(facts, style, "::placeholder", frame), style, frame);
        found.push(item(facts, "placeholder", element.placeholder, {
          style, look, region, suffix: "::placeholder", place: "placeholder" }, frame));
      }
    }
  }

  // A list shows all of its choices, and the names of their groups.
  function listed(list, frame, found) {
    const facts = new Map();
    for (const element of list.querySelectorAll("option, optgroup")) {
      const box = element.getBoundingClientRect();
      const first = element.localName === "optgroup" && element.firstElementChild;
      const bottom = first ? first.getBoundingClientRect().top : box.bottom;
      const words = element.label || "";
      if (!words.trim() || box.width < 1 || bottom - box.top < 1) continue;
      const region = [box.left + frame.x, box.top + frame.y, box.width, bottom - box.top];
      found.push(item(factsOf(element, frame, facts), "value", words,
        { region, suffix: "/value=1" }, frame));
    }
  }

  const OPAQUE = { CANVAS: "a canvas", VIDEO: "a film", OBJECT: "an embedded object",
    EMBED: "an embedded object" };
  function picture(facts, frame, found, pictures) {
    const element = facts.element, box = facts.box;
    const region = [box.left + frame.x, box.top + frame.y, box.width, box.height];
    const shown = box.width >= 40 && box.height >= 14 && facts.style.visibility === "visible"
      && facts.opacity > 1 / 255;
    if (tagOf(element) === "IMG" || tagOf(element) === "VIDEO") {
      pictures.push({ address: address(element, frame.prefix), box: region,
        tag: element.localName, element: idOf(element), opacity: +facts.style.opacity,
        plain: facts.style.filter === "none" });
    }
    const named = tagOf(element) === "IMG" && (element.alt || element.title || "").trim();
    const reason = OPAQUE[tagOf(element)]
      || (named || element.localName === "image" ? "a picture" : "");
    if (reason && shown) {
      found.push({ ...item(facts, "opaque", named || "", { region, suffix: "/picture=1",
        place: tagOf(element) === "IMG" ? "picture" : element.localName }, frame), reason });
    }
  }

  // Which parts of elements the page's sheets speak of at all: asking for each costs time.
  const ANYTHING = { line: true, letter: true, sides: true };
  let mentioned = ANYTHING;
  function readMentions() {
    const found = { line: false, letter: false, sides: false };
    const look = (holder) => {
      for (const rule of holder.cssRules || []) {
        const text = rule.selectorText;
        if (text && text.includes(":")) {
          found.line ||= text.includes("first-line");
          found.letter ||= text.includes("first-letter");
          found.sides ||= text.includes("before") || text.includes("after");
        }
        if (rule.styleSheet) look(rule.styleSheet);
        else if (rule.cssRules && rule.cssRules.length) look(rule);
      }
    };
    const mine = own.ownSheets ? own.ownSheets() : new Set();
    for (const root of own.roots()) for (const sheet of [...root.styleSheets, ...root.adoptedStyleSheets]) {
      if (mine.has(sheet)) continue;
      // Another site's sheet can't be read, and may say anything.
      try { look(sheet); } catch { return ANYTHING; }
    }
    return found;
  }
  const same = (one, other) => one.color === other.color && one.fontSize === other.fontSize
    && one.fontWeight === other.fontWeight && one.webkitTextFillColor === other.webkitTextFillColor;

  function textNode(node, frame, facts, found, told) {
    const parent = upOf(node);
    if (!parent || !node.data.trim()) return;
    let about = factsOf(parent, frame, facts);
    if (parent.localName === "details" && !parent.open) about = { ...about, hidden: "invisible" };
    const words = wordsOf(node, frame);
    if (!words.length) return;
    let number = 1;
    for (let other = node.previousSibling; other; other = other.previousSibling)
      if (other.nodeType === 3 && other.data.trim()) number++;
    const suffix = `/text=${number}`;
    const text = node.data.replace(/\s+/g, " ").trim();
    const block = about.block, first = told.get(block);
    if (!first) told.set(block, { top: words[0][2], height: words[0][4] });
    const plainLook = getComputedStyle(block);
    const line = mentioned.line ? getComputedStyle(block, "::first-line") : plainLook;
    const letter = mentioned.letter ? getComputedStyle(block, "::first-letter") : plainLook;
    let rest = words;
    if (!first && !same(letter, plainLook) && block.localName !== "button") {
      // A letter of another look is an entry of its own.
      const range = node.ownerDocument.createRange();
      const start = node.data.search(/\S/);
      range.setStart(node, start);
      range.setEnd(node, start + 1);
      const boxes = [...range.getClientRects()].filter((box) => box.width && box.height)
        .map((box) => [node.data[start], round(box.left + frame.x), round(box.top + frame.y),
          round(box.width), round(box.height)]);
      if (boxes.length) {
        const owner = factsOf(block, frame, facts);
        found.push(item(owner, "letter", node.data[start], { style: letter, words: boxes,
          look: lookOf(owner, letter, frame), suffix: "::first-letter", place: "first letter" }, frame));
        const [, x, , width] = boxes[0];
        rest = words.map((word, index) => index ? word
          : [word[0], x + width, word[2], Math.max(0, word[1] + word[3] - x - width), word[4]])
          .filter((word) => word[3] > 0);
      }
    }
    if (!same(line, plainLook) && parent === block) {
      const start = told.get(block);
      const onFirst = rest.filter((word) => word[2] < start.top + start.height / 2);
      const later = rest.filter((word) => word[2] >= start.top + start.height / 2);
      if (onFirst.length) {
        found.push(item(about, "line", onFirst.map((word) => word[0]).join(" "), { style: line,
          words: onFirst, look: lookOf(about, line, frame), suffix: "::first-line",
          place: "first line" }, frame));
        rest = later;
        if (!rest.length) return;
        found.push(item(about, "text", rest.map((word) => word[0]).join(" "),
          { words: rest, number, suffix }, frame));
        return;
      }
    }
    if (rest.length) found.push(item(about, "text", text, { words: rest, number, suffix }, frame));
  }

  // Boxes of what is painted somewhere of its own, and may lie over texts in part.
  let laid = [];
  const boxOf = (element, frame) => {
    const box = element.getBoundingClientRect();
    return [box.left + frame.x, box.top + frame.y, box.width, box.height];
  };

  const PATIENCE_MS = 6000, MOST_TEXTS = 25000;
  function walk(root, frame, found, pictures, told, facts = new Map(), own_too = false) {
    const start = performance.now();
    const walker = (root.ownerDocument || root).createTreeWalker(
      root, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT, {
        acceptNode: (node) => node.nodeType === 1 && SKIPPED.has(tagOf(node))
          ? NodeFilter.FILTER_REJECT : NodeFilter.FILTER_ACCEPT });
    let seen = 0;
    for (let node = own_too ? root : walker.nextNode(); node; node = walker.nextNode()) {
      if ((++seen & 1023) === 0 && performance.now() - start > PATIENCE_MS) { own.cutShort = true; break; }
      if (found.length > MOST_TEXTS) { own.cutShort = true; break; }
      if (node.nodeType === 3) { textNode(node, frame, facts, found, told); continue; }
      const tag = node.localName;
      if (node.shadowRoot) walk(node.shadowRoot, frame, found, pictures, told);
      if (tag === "iframe" || tag === "frame") { inner(node, frame, facts, found, pictures, told); continue; }
      const isControl = tag === "input" || tag === "textarea" || tag === "select";
      const isPicture = tag === "img" || tagOf(node) in OPAQUE
        || (tag === "image" && node.namespaceURI === "http://www.w3.org/2000/svg");
      const style = getComputedStyle(node);
      if (style.display === "none") {
        skip(walker, node);
        continue;
      }
      if (style.position !== "static" && (isPicture || tag === "svg" || style.backgroundImage !== "none"
        || style.backgroundColor !== "rgba(0, 0, 0, 0)")) laid.push(boxOf(node, frame));
      const sides = mentioned.sides || tag === "q";
      const before = sides ? getComputedStyle(node, "::before").content : "none";
      const after = sides ? getComputedStyle(node, "::after").content : "none";
      const listed = style.display === "list-item";
      if (!isControl && !isPicture && !listed
        && (before === "none" || before === "normal") && (after === "none" || after === "normal")) continue;
      const about = factsOf(node, frame, facts);
      if (isControl) control(about, frame, found);
      if (isPicture) picture(about, frame, found, pictures);
      if (listed) marker(about, frame, found);
      generated(about, "::before", frame, found);
      generated(about, "::after", frame, found);
      if (tag === "textarea" || tag === "select") skip(walker, node);
    }
  }
  function skip(walker, node) {
    let last = node;
    while (last.lastChild) last = last.lastChild;
    walker.currentNode = last;
  }

  function inner(node, frame, facts, found, pictures, told) {
    const about = factsOf(node, frame, facts);
    const box = about.box;
    if (about.style.display === "none" || about.style.visibility !== "visible" || box.width < 2) return;
    let document = null;
    try { document = node.contentDocument; } catch { /* Another site's. */ }
    const left = node.clientLeft + parseFloat(about.style.paddingLeft);
    const top = node.clientTop + parseFloat(about.style.paddingTop);
    if (!document || !document.documentElement) {
      found.push({ ...item(about, "opaque", node.title || "", { suffix: "/frame=1", place: "frame",
        region: [box.left + frame.x, box.top + frame.y, box.width, box.height] }, frame),
        reason: "a frame of another site" });
      return;
    }
    // Whoever is asked about what lies in the frame looks at it as part of the page.
    document.defaultView.scrollTo(0, 0);
    const within = {
      // What is round the frame may be scrolled.
      get x() { return node.getBoundingClientRect().left + frame.x + left; },
      get y() { return node.getBoundingClientRect().top + frame.y + top; },
      opacity: about.opacity, scale: about.scale, painted: about.painted, fixed: about.fixed,
      prefix: `${address(node, frame.prefix)}//frame//`,
      clip: [0, 0, node.clientWidth, node.clientHeight],
    };
    const whole = document.scrollingElement || document.documentElement;
    if (whole.scrollHeight > node.clientHeight + 1 || whole.scrollWidth > node.clientWidth + 1)
      within.scroller = whole;
    frames.set(document, within);
    walk(document, within, found, pictures, told);
  }

  // The trees of the page: its document, and those of frames and shadows within, each with what the
  // addresses in it begin with. before: likewise those in its document.
  function treesIn(root, before, found) {
    found.set(root, root.host ? `${address(root.host, before)}//shadow//` : before);
    for (const element of root.querySelectorAll("*")) {
      if (element.shadowRoot) treesIn(element.shadowRoot, before, found);
      if (element.localName === "iframe" || element.localName === "frame") {
        let document = null;
        try { document = element.contentDocument; } catch { /* Another site's. */ }
        if (document && document.documentElement)
          treesIn(document, `${address(element, before)}//frame//`, found);
      }
    }
    return found;
  }
  let trees = null;
  const prefixes = () => trees || (trees = treesIn(document, "", new Map()));
  own.roots = () => [...prefixes().keys()];
  own.prefixOf = (root) => prefixes().get(root) || "";
  // By what a tree, and a style element of the page's own, are found again in the page's text.
  const TOLD = 200, TOLD_OF_STYLE = 400;
  const startOf = (text, most) =>
    Array.from(text.replace(/\s+/g, " ").trim().slice(0, 2 * most)).slice(0, most).join("");
  own.trees = () => own.roots().map((root) => {
    // A frame may have gone away meanwhile.
    const holder = root.host || root.defaultView && root.defaultView.frameElement;
    return {
      prefix: own.prefixOf(root), host: holder ? holder.localName : "",
      source: !root.host && holder ? holder.getAttribute("srcdoc") : null,
      address: root.host ? "" : root.URL, text: root.host ? startOf(root.textContent, TOLD) : "",
    };
  });
  own.styles = () => [...document.querySelectorAll("style")].map((each) =>
    startOf(each.textContent, TOLD_OF_STYLE));
  // Of each frame's document where it stands on the page.
  const frames = new Map();
  // A page that is wider than the view shows no more than the view's width, and is itself a scroller,
  // unless it forbids that.
  const FAR = 1e7;
  const isWide = () => document.documentElement.scrollWidth > innerWidth + 1;
  const scrollsAcross = () => isWide() && ![document.documentElement, document.body].some((each) =>
    each && /hidden|clip/.test(getComputedStyle(each).overflowX));
  const pageFrame = () => ({ get x() { return scrollX; }, get y() { return scrollY; }, opacity: 1, scale: 1, painted: "",
    fixed: null, prefix: "", clip: isWide() ? [0, -FAR, innerWidth, FAR] : null,
    scroller: scrollsAcross() ? document.scrollingElement || document.documentElement : null });

  own.size = () => {
    const root = document.documentElement, body = document.body;
    let bottom = body ? Math.max(body.scrollHeight, body.offsetHeight) : 0;
    let whole = root.getBoundingClientRect().height;
    if (body && document.compatMode === "BackCompat") {
      // By an old quirk both fill the view, however high that is: what is in the body tells.
      whole = bottom = 0;
      for (const child of body.children)
        bottom = Math.max(bottom, child.getBoundingClientRect().bottom + scrollY);
    }
    // With a view as high as the page the root's own height says nothing less than the view's.
    let height = Math.ceil(Math.max(whole, bottom));
    if (root.scrollHeight > innerHeight) height = Math.max(height, root.scrollHeight);
    else height = Math.max(height, own.firstHeight || 0);
    return [Math.max(root.scrollWidth, innerWidth), Math.max(1, height)];
  };

  // What is held at the foot of the view stays where it is at first, over what it covers there: in a
  // view as high as the page it would lie over what stands at its end.
  let held = [];
  function isHeld(element, style) {
    if (style.translate !== "none") return false;
    if (style.position === "fixed")
      return element.offsetParent === null && (style.top !== "auto" || style.bottom !== "auto");
    const bottom = parseFloat(style.bottom);
    return style.position === "sticky" && bottom === bottom
      && Math.abs(element.getBoundingClientRect().bottom - (innerHeight - bottom)) <= 1;
  }
  function holdInPlace() {
    for (const each of held) {
      const away = each.top - each.element.getBoundingClientRect().top;
      if (Math.abs(away) <= 1) continue;
      each.moved += away;
      each.element.style.setProperty("translate", `0 ${each.moved}px`, "important");
    }
  }

  // Heights that follow the view's are kept as they were in a view of the usual height.
  let heights = null;
  own.noteHeights = () => {
    heights = new Map();
    held = [];
    own.viewHeight = innerHeight;
    own.firstHeight = Math.max(document.documentElement.scrollHeight, innerHeight);
    let count = 0;
    for (const element of document.querySelectorAll("body, body *")) {
      if (++count > MOST_PINNED) break;
      heights.set(element, element.offsetHeight);
      const style = getComputedStyle(element);
      if ((style.position === "fixed" || style.position === "sticky") && isHeld(element, style))
        held.push({ element, top: element.getBoundingClientRect().top, moved: 0 });
    }
    return heights.size;
  };
  own.pinHeights = () => {
    let pinned = 0;
    const changed = [];
    for (const [element, height] of heights)
      if (height !== undefined && element.offsetHeight > height + 1) changed.push(element);
    for (const element of changed) {
      // Where a child alone has grown, the child is what is pinned.
      const inside = [...element.children].some((child) => changed.includes(child));
      const style = getComputedStyle(element);
      if ((inside && element !== document.body) || style.position === "fixed") continue;
      element.style.setProperty("box-sizing", "border-box", "important");
      element.style.setProperty("height", `${heights.get(element)}px`, "important");
      element.style.setProperty("min-height", "0", "important");
      pinned++;
    }
    holdInPlace();
    return pinned;
  };

  // The texts within elements that have an attribute of ours, as they look now.
  own.collectWithin = (attribute) => {
    const found = [], facts = new Map(), told = new Map();
    for (const element of own.having(attribute)) {
      let at = own.outOf(element);
      while (at && !at.hasAttribute(attribute)) at = own.outOf(at);
      if (!at) walk(element, frames.get(element.ownerDocument) || pageFrame(), found, [], told, facts, true);
    }
    return found;
  };

  // Where an element lies on the page, within whichever frame: [x, y, width, height].
  own.placeOf = (element) => boxOf(element, frames.get(element.ownerDocument) || pageFrame());

  // Where some elements with text stand, by which is known whether the page keeps still.
  const LOOKED_AT = 64;
  own.stands = () => {
    const step = Math.max(1, Math.floor(elements.length / LOOKED_AT));
    return elements.filter((element, place) => element && place % step === 0)
      .map((element) => own.placeOf(element).map(Math.round));
  };

  // The texts within one element, as they are now.
  own.collectOf = (number) => {
    const element = elements[number], found = [];
    const frame = frames.get(element.ownerDocument) || pageFrame();
    // Of the page itself what counts is where things are in the view.
    const inView = element === document.scrollingElement ? { ...frame, x: 0, y: 0 } : frame;
    walk(element, inView, found, [], new Map(), new Map(), true);
    return found;
  };

  own.collect = () => {
    ids = new Map();
    elements = [null];
    surfaces = [];
    laid = [];
    clipped.clear();
    attached.clear();
    glowing.clear();
    blended.clear();
    own.forgetPlaces();
    own.cutShort = false;
    labels = new Set();
    for (const element of document.querySelectorAll("[aria-labelledby]:disabled, [aria-labelledby][aria-disabled=true]"))
      for (const id of element.getAttribute("aria-labelledby").split(/\s+/)) labels.add(id);
    const found = [], pictures = [];
    trees = null;
    frames.clear();
    mentioned = readMentions();
    walk(document, pageFrame(), found, pictures, new Map());
    const bars = [...new Set(found.map((each) => each.fixed).filter(Boolean))].map((number) => {
      const box = elements[number].getBoundingClientRect();
      return [number, box.left + scrollX, box.top + scrollY, box.width, box.height];
    });
    const headings = [...document.querySelectorAll("h1, h2, h3, h4")].filter((each) =>
      each.getClientRects().length && each.textContent.trim()).slice(0, 60).map((each) =>
      [+each.localName[1], each.textContent.replace(/\s+/g, " ").trim().slice(0, 80)]);
    return ({ title: document.title.trim(), headings, lang: document.documentElement.lang,
      texts: found, pictures, surfaces, laid, bars, cut: own.cutShort });
  };
})();
