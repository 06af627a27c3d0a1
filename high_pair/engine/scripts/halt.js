// Stops the timers of the page and of its frames, where its scripts can't be forbidden as a whole;
// runs in the page's own world, the only one where they can be reached.
(() => {
  function halt(view) {
    try {
      const last = view.setTimeout(() => {}, 0);
      for (let number = Math.max(0, last - 100000); number <= last; number++) {
        view.clearTimeout(number);
        view.clearInterval(number);
      }
      view.requestAnimationFrame = () => 0;
      view.setTimeout = () => 0;
      view.setInterval = () => 0;
      for (let place = 0; place < view.length; place++) halt(view[place]);
    } catch { /* Another site's, or the page has made something else of these. */ }
  }
  halt(globalThis);
  return true;
})();
