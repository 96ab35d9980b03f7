const PATIENCE = 40; // looks, one in a tenth of a second

/** Open a choice of the stage that is coming, by the beginning of its name, and put the focus there. */
export function openChoice(name: string, looks = PATIENCE): void {
  const named = [...document.querySelectorAll<HTMLElement>("#stage button, #stage select, #stage input")].find((one) =>
    (one.getAttribute("aria-label") ?? one.textContent ?? "").startsWith(name),
  );
  if (named) {
    named.focus();
    named.click();
  } else if (looks > 0) setTimeout(() => openChoice(name, looks - 1), 100);
}
