// Tells how long nothing has changed. Runs in a world of its own.
(() => {
  if (globalThis.highPair) return;
  const state = { last: performance.now() };
  const observer = new MutationObserver(() => { state.last = performance.now(); });
  const options = { subtree: true, childList: true, attributes: true, characterData: true };
  observer.observe(document, options);
  globalThis.highPair = {
    state: () => ({
      ready: document.readyState === "complete",
      fonts: !document.fonts || document.fonts.status === "loaded",
      still: (performance.now() - state.last) / 1000,
    }),
  };
})();
