// Brings everything that moves to its end and holds it there. Runs in a world of its own.
(() => {
  const own = globalThis.highPair;
  if (own.holdStill) return;

  // Whether some style sheet of the page, or a style within it, says a word.
  function says(word) {
    const inRules = (holder) => [...holder.cssRules || []].some((rule) =>
      rule.styleSheet ? inRules(rule.styleSheet) : rule.cssText.includes(word));
    return own.roots().some((root) => root.querySelector(`[style*='${word}'], [src^='${word}']`)
      || [...root.styleSheets, ...root.adoptedStyleSheets].some((sheet) => {
        // Another site's sheet can't be read, and may say anything.
        try { return inRules(sheet); } catch { return true; }
      }));
  }

  // Parts that are laid out when they come into view, and until then have a height that is guessed.
  own.layOut = () => {
    if (!says("content-visibility")) return 0;
    let count = 0;
    for (const root of own.roots()) for (const element of root.querySelectorAll("*")) {
      if (getComputedStyle(element).contentVisibility !== "auto") continue;
      element.style.setProperty("content-visibility", "visible", "important");
      count++;
    }
    return count;
  };

  function finish(animation) {
    // One that goes with scrolling stands where the page, shown whole, has brought it.
    if (animation.playState === "finished" || animation.timeline && "source" in animation.timeline) return;
    try {
      const timing = animation.effect && animation.effect.getComputedTiming();
      if (timing && !Number.isFinite(timing.endTime)) {
        // One without an end is brought to the end of its first round.
        animation.effect.updateTiming({ iterations: 1 });
      }
      animation.finish();
    } catch { animation.cancel(); }
  }

  // What style sheets and scripts animate, in every tree of the page.
  own.finishAnimations = () => {
    for (const root of own.roots()) {
      try { root.getAnimations().forEach(finish); } catch { /* A frame that went away meanwhile. */ }
    }
    return true;
  };

  // A drawing's own animations (SMIL): all have one clock, which is set to when the last one ends.
  function hold(drawing) {
    if (drawing.ownerSVGElement || drawing.animationsPaused()) return;
    const moving = drawing.querySelectorAll("animate, animateTransform, animateMotion, set");
    if (!moving.length) return;
    let end = 0;
    for (const each of moving) {
      try {
        const rounds = parseFloat(each.getAttribute("repeatCount")) || 1;
        end = Math.max(end, each.getStartTime() + each.getSimpleDuration() * rounds);
      } catch {
        // It has ended, or waits for something to begin, or has no length.
        end = Math.max(end, drawing.getCurrentTime());
      }
    }
    drawing.pauseAnimations();
    drawing.setCurrentTime(end);
  }

  // Old running text: it is sent to where it would stay if it ran once.
  function arrive(running) {
    running.behavior = "slide";
    running.trueSpeed = true;
    running.scrollDelay = 1;
    running.scrollAmount = 100000;
    running.start();
  }

  // Rules for pages with and without scripts (Media Queries 5, «scripting») hold as they did: with
  // what is asked put as what always holds, and what never does.
  const ALWAYS = "(min-width: 0px)", NEVER = "(max-width: 0px)";
  function keepScripted(rules) {
    for (const rule of rules) {
      if (rule.media && rule.media.mediaText.includes("scripting"))
        rule.media.mediaText = rule.media.mediaText
          .replace(/\(\s*scripting\s*:\s*(none|initial-only)\s*\)/g, NEVER)
          .replace(/\(\s*scripting\s*(:\s*enabled\s*)?\)/g, ALWAYS);
      if (rule.styleSheet) keepScripted(rule.styleSheet.cssRules);
      else if (rule.cssRules) keepScripted(rule.cssRules);
    }
  }

  own.hasCanvas = () => own.roots().some((root) => root.querySelector("canvas"));

  // Tells how many running texts are on their way. stopped: the page's scripts have been forbidden,
  // and what it says to those without any isn't shown.
  own.holdStill = (stopped) => {
    const asksForScripts = stopped && says("scripting");
    let running = 0;
    for (const root of own.roots()) {
      try {
        if (stopped) for (const each of root.querySelectorAll("noscript"))
          each.style.setProperty("display", "none", "important");
        if (asksForScripts) for (const sheet of root.styleSheets) {
          try { keepScripted(sheet.cssRules); } catch { /* Another site's sheet can't be changed. */ }
        }
        for (const media of root.querySelectorAll("video, audio")) media.pause();
        root.querySelectorAll("svg").forEach(hold);
        for (const each of root.querySelectorAll("marquee")) { arrive(each); running++; }
      } catch { /* A frame that went away meanwhile. */ }
    }
    own.finishAnimations();
    return running;
  };

  // Pictures that move, and films

  const SIDES = ["", "::before", "::after"];
  // What of a look may be a picture.
  const SHOWN = ["backgroundImage", "borderImageSource", "listStyleImage", "maskImage", "content"];
  const ADDRESS = /url\("((?:[^"\\]|\\.)*)"\)/g;

  // Each element, or generated part of one, that shows pictures, with their addresses.
  function* pictured(root) {
    for (const element of root.querySelectorAll("*")) {
      if (element.localName === "img" || element.localName === "input" && element.type === "image")
        yield [element, "own", [element.currentSrc || element.src]];
      for (const side of SIDES) {
        const style = getComputedStyle(element, side || null);
        if (side && ["none", "normal"].includes(style.content)) continue;
        const said = SHOWN.map((name) => style[name] || "").join(" ");
        if (!said.includes("url(")) continue;
        const addresses = [...said.matchAll(ADDRESS)].map((match) => match[1].replace(/\\(.)/g, "$1"));
        yield [element, side.slice(2) || "own", addresses];
      }
    }
  }

  own.dataPictures = () => {
    const found = new Set();
    if (says("data:image")) for (const root of own.roots())
      for (const [, , addresses] of pictured(root))
        for (const address of addresses) if (address.startsWith("data:image/")) found.add(address);
    return [...found];
  };

  // Gives what moves an attribute; tells of each whether it is a film, and its box on the page.
  own.nameMoving = (attribute, moving) => {
    const addresses = new Set(moving), found = [];
    const add = (element, side) => {
      const box = own.placeOf(element);
      if (box[2] < 1 || box[3] < 1) return;
      element.setAttribute(attribute, `${element.getAttribute(attribute) || ""} ${side}`.trim());
      found.push([element.localName === "video", box]);
    };
    for (const root of own.roots()) {
      for (const film of root.querySelectorAll("video")) add(film, "own");
      if (addresses.size)
        for (const [element, side, shown] of pictured(root))
          if (shown.some((address) => addresses.has(address))) add(element, side);
    }
    return found;
  };
})();
