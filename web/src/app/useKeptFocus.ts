import { useEffect } from "react";

const KEEPS = "section, aside, main";

/** Where what had the focus is gone from the page, the focus stays in what stood around it, and does not fall to the
 *  page's top. */
export function useKeptFocus(): void {
  useEffect(() => {
    let around: Element[] = [];
    const remember = ({ target }: FocusEvent) => {
      around = [];
      for (let at = target instanceof Element ? target : null; at; at = at.parentElement) around.push(at);
    };
    const watcher = new MutationObserver(() => {
      if (around.length === 0 || around[0]?.isConnected || document.activeElement !== document.body) return;
      const left = around.find((one): one is HTMLElement => one.isConnected && one.matches(KEEPS));
      around = [];
      if (!left) return;
      if (!left.hasAttribute("tabindex")) left.setAttribute("tabindex", "-1");
      left.focus({ preventScroll: true });
    });
    document.addEventListener("focusin", remember);
    watcher.observe(document.body, { childList: true, subtree: true });
    return () => {
      document.removeEventListener("focusin", remember);
      watcher.disconnect();
    };
  }, []);
}
