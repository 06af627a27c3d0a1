// Backgrounds that stay in place while the page is scrolled: put where they are at a place of the
// scrolling, in a view as high as the page. Runs in a world of its own.
// Source: CSS Backgrounds and Borders 3, §2.5 (background-attachment), §2.6, §2.9.
(() => {
  const own = globalThis.highPair;
  if (own.attachAt) return;

  const CHANGED = ["background-attachment", "background-size", "background-position",
    "background-origin"];
  const pictures = new Map();
  // Lists of values, one for each picture, parted by commas that are in no brackets.
  function parted(text) {
    const found = [];
    let depth = 0, start = 0;
    for (let at = 0; at <= text.length; at++) {
      if (text[at] === "(") depth++;
      else if (text[at] === ")") depth--;
      else if (at === text.length || text[at] === "," && !depth) {
        found.push(text.slice(start, at).trim());
        start = at + 1;
      }
    }
    return found;
  }
  const address = (image) => (image.match(/^url\("((?:[^"\\]|\\.)*)"\)$/) || [])[1];

  // Loads the pictures, which the engine has at hand, for their sizes.
  own.loadAttached = () => {
    for (const element of own.attached) for (const image of parted(getComputedStyle(element).backgroundImage)) {
      const from = address(image);
      if (from === undefined || pictures.has(from)) continue;
      const picture = new Image();
      picture.src = from.replace(/\\(.)/g, "$1");
      pictures.set(from, picture);
    }
    return pictures.size;
  };
  own.attachedLoaded = () => [...pictures.values()].every((each) => each.complete);

  // A picture's own width and height, of a gradient those of the view; null where it isn't known.
  function natural(image, view) {
    const from = address(image);
    if (from === undefined) return image.includes("gradient(") ? view : null;
    const picture = pictures.get(from);
    return picture && picture.naturalWidth ? [picture.naturalWidth, picture.naturalHeight] : null;
  }
  // A length or a share of the room: "50%", "12px", "calc(100% - 12px)".
  function length(text, room) {
    let found = 0;
    for (const [, sign, value, unit] of text.matchAll(/([+-]?)\s*([\d.]+)(px|%)/g))
      found += (sign === "-" ? -1 : 1) * (unit === "%" ? room * value / 100 : +value);
    return found;
  }
  function sizeOf(stated, own, view) {
    const [wide, high] = own;
    if (stated === "cover" || stated === "contain") {
      const scales = [view[0] / wide, view[1] / high];
      const scale = stated === "cover" ? Math.max(...scales) : Math.min(...scales);
      return [wide * scale, high * scale];
    }
    const [across, down = "auto"] = stated.split(/\s+(?![^(]*\))/);
    const size = [across, down].map((each, side) => each === "auto" ? null : length(each, view[side]));
    // A gradient has no proportions of its own.
    if (own === view) return size.map((each, side) => each === null ? view[side] : each);
    if (size[0] === null && size[1] === null) return own;
    if (size[0] === null) return [wide * size[1] / high, size[1]];
    return [size[0], size[1] === null ? high * size[0] / wide : size[1]];
  }

  // The box from whose corner a background's places count, on the page.
  function area(element) {
    const root = element.ownerDocument.documentElement;
    const whole = element === root || element === element.ownerDocument.body
      && getComputedStyle(root).backgroundImage === "none";
    const box = (whole ? root : element).getBoundingClientRect();
    return whole ? [box.left + scrollX, box.top + scrollY]
      : [box.left + element.clientLeft + scrollX, box.top + element.clientTop + scrollY];
  }

  const before = new Map();
  // Puts every such background where it is when the page is scrolled so far; tells whether all of
  // them could be.
  own.attachAt = (scroll) => {
    own.detach();
    const view = [document.documentElement.clientWidth, own.viewHeight];
    let known = true;
    for (const element of own.attached) {
      const style = getComputedStyle(element), corner = area(element);
      const images = parted(style.backgroundImage);
      const of = (name) => {
        const values = parted(style[name]);
        return images.map((_, place) => values[place % values.length]);
      };
      const attachments = of("backgroundAttachment"), sizes = of("backgroundSize");
      const positions = of("backgroundPosition");
      const origins = of("backgroundOrigin");
      images.forEach((image, place) => {
        if (attachments[place] !== "fixed") return;
        const itself = natural(image, view);
        if (!itself) { known = false; return; }
        const size = sizeOf(sizes[place], itself, view);
        const [across, down] = positions[place].split(/\s+(?![^(]*\))/);
        const left = length(across, view[0] - size[0]) - corner[0];
        const top = length(down, view[1] - size[1]) + scroll - corner[1];
        attachments[place] = "scroll";
        origins[place] = "padding-box";
        sizes[place] = `${size[0]}px ${size[1]}px`;
        positions[place] = `${left}px ${top}px`;
      });
      before.set(element, element.getAttribute("style"));
      const values = [attachments, sizes, positions, origins];
      CHANGED.forEach((name, place) =>
        element.style.setProperty(name, values[place].join(", "), "important"));
    }
    return known;
  };
  own.detach = () => {
    for (const [element, style] of before)
      if (style === null) element.removeAttribute("style");
      else element.setAttribute("style", style);
    before.clear();
    return true;
  };
})();
