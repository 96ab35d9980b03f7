import { configureGlobal } from "fast-check";

// The same examples each time, so that what passed once passes again.
configureGlobal({ seed: 20_261, numRuns: 300 });

// jsdom has neither type nor a screen: a letter is as wide as half its height.
if (typeof document !== "undefined") {
  Object.defineProperty(document, "fonts", { value: { load: async () => [], check: () => true } });
  const pen = { font: "", measureText: (text: string) => ({ width: 50 * text.length }) };
  Object.defineProperty(HTMLCanvasElement.prototype, "getContext", { value: () => pen });
  const media = { matches: false, addEventListener: () => undefined, removeEventListener: () => undefined };
  Object.defineProperty(window, "matchMedia", { value: () => media });
}
