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
    finishAnimations: () => {
      for (const animation of document.getAnimations()) {
        try {
          const timing = animation.effect && animation.effect.getComputedTiming();
          if (timing && !Number.isFinite(timing.endTime)) {
            // One without an end is brought to the end of its first round.
            animation.effect.updateTiming({ iterations: 1 });
          }
          animation.finish();
        } catch { animation.cancel(); }
      }
      for (const media of document.querySelectorAll("video, audio")) media.pause();
      return true;
    },
  };
})();
