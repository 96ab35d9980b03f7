import { useEffect } from "react";
import { keepListed, type Session } from "../api/session";
import { usePreferences } from "../state/preferences";

/** What a reading lists, and the reasons offered for decisions, go with the person from browser to browser; the demo account's stay where it was chosen. */
export function useListedOfPerson({ name, is_demo: demo, listed }: Session): void {
  useEffect(() => {
    if (demo || name === null) return;
    if (listed) {
      const { lists, reasons } = listed;
      const known = Object.entries(lists).map(([study, list]) => [
        study,
        { statistics: list.statistics ?? null, percents: list.percents },
      ]);
      usePreferences.setState({ lists: Object.fromEntries(known), ...(reasons ? { reasons } : {}) });
    }
    return usePreferences.subscribe(({ lists, reasons }, before) => {
      if (lists !== before.lists || reasons !== before.reasons) keepListed({ lists, reasons }).catch(() => undefined);
    });
  }, [name, demo, listed]);
}
