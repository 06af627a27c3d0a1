// Stops the page's timers; runs in the page's own world, the only one where they can be reached.
(() => {
  try {
    const last = setTimeout(() => {}, 0);
    for (let number = Math.max(0, last - 100000); number <= last; number++) {
      clearTimeout(number);
      clearInterval(number);
    }
    globalThis.requestAnimationFrame = () => 0;
    globalThis.setTimeout = () => 0;
    globalThis.setInterval = () => 0;
  } catch { /* What the page has made of these is its own affair. */ }
  return true;
})();
