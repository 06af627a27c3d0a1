// Reads colours of any notation as an sRGB screen shows them. Runs in a world of its own.
(() => {
  const own = globalThis.highPair;
  if (own.colour) return;

  // Colours, of any notation, as [red, green, blue, alpha] on an sRGB screen.
  const canvas = new OffscreenCanvas(1, 1);
  const context = canvas.getContext("2d", { willReadFrequently: true, colorSpace: "srgb" });
  const known = new Map();
  const plain = /^rgba?\(([\d.]+), ([\d.]+), ([\d.]+)(?:, ([\d.]+))?\)$/;
  function colour(text) {
    let found = known.get(text);
    if (found) return found;
    const match = plain.exec(text);
    if (match) {
      found = [+match[1], +match[2], +match[3], match[4] === undefined ? 1 : +match[4]];
    } else {
      const alpha = /\/ ([\d.]+)\)$/.exec(text);
      context.clearRect(0, 0, 1, 1);
      context.fillStyle = "#000";
      context.fillStyle = alpha ? text.replace(/ \/ [\d.]+\)$/, ")") : text;
      context.fillRect(0, 0, 1, 1);
      const [red, green, blue, opacity] = context.getImageData(0, 0, 1, 1).data;
      found = [red, green, blue, alpha ? +alpha[1] : opacity / 255];
    }
    known.set(text, found);
    return found;
  }

  own.colour = colour;
})();
