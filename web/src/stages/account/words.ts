const MOMENT = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });
const DAY = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium" });

export const moment = (at: string) => MOMENT.format(new Date(at));
export const day = (at: string) => DAY.format(new Date(at));
const BROWSERS = { Firefox: "Firefox", "Edg/": "Edge", "OPR/": "Opera", Chrome: "Chrome", Safari: "Safari" };
const SYSTEMS = {
  Android: "Android",
  iPhone: "iPhone",
  iPad: "iPad",
  Windows: "Windows",
  "Mac OS": "macOS",
  Linux: "Linux",
};

const firstIn = (words: Record<string, string>, text: string) =>
  Object.entries(words).find(([sign]) => text.includes(sign))?.[1];

/** What a browser says of itself, in words: "Firefox on Linux". */
export function browserWords(said: string): string {
  const [browser, system] = [firstIn(BROWSERS, said), firstIn(SYSTEMS, said)];
  if (!browser) return said.slice(0, 60) || "a browser that does not say its name";
  return system ? `${browser} on ${system}` : browser;
}

export const remedyOf = (error: Error) => ("remedy" in error ? String(error.remedy) : "");
