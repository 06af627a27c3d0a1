// Tells how long nothing has changed. Runs in a world of its own.
(() => {
  if (globalThis.highPair) return;
  const state = { last: performance.now() };
  const observer = new MutationObserver(() => { state.last = performance.now(); });
  const options = { subtree: true, childList: true, attributes: true, characterData: true };
  observer.observe(document, options);
  // Whether something on the page may change it by itself, once all is loaded.
  const ACTIVE = "script, iframe, frame, object, embed, meta[http-equiv=refresh i]";
  const HANDLED = "boolean(//@*[starts-with(name(), 'on')])";
  let active = null;
  const mayChange = () => {
    if (document.readyState !== "complete") return true;
    if (active === null) active = document.querySelector(ACTIVE) !== null
      || document.evaluate(HANDLED, document, null, XPathResult.BOOLEAN_TYPE).booleanValue
      || [...document.querySelectorAll("*")].some((element) => element.shadowRoot);
    return active;
  };
  globalThis.highPair = {
    state: () => ({
      active: mayChange(),
      ready: document.readyState === "complete",
      fonts: !document.fonts || document.fonts.status === "loaded",
      still: (performance.now() - state.last) / 1000,
    }),
  };
})();
