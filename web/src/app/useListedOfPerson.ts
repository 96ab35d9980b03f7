import { useEffect } from "react";
import { keepListed, type Session } from "../api/session";
import { usePreferences } from "../state/preferences";

/** What a reading lists, and the reasons offered for decisions, go with the person from browser to browser; the demo account's stay where it was chosen. */
export function useListedOfPerson({ name, is_demo: demo, listed }: Session): void {
  useEffect(() => {
    if (demo || name === null) return;
    if (listed) {
      const { statistics, percents, reasons } = listed;
      usePreferences.setState({ statistics: statistics ?? null, percents, ...(reasons ? { reasons } : {}) });
    }
    return usePreferences.subscribe((now, before) => {
      const { statistics, percents, reasons } = now;
      if (statistics !== before.statistics || percents !== before.percents || reasons !== before.reasons)
        keepListed({ statistics, percents, reasons }).catch(() => undefined);
    });
  }, [name, demo, listed]);
}
