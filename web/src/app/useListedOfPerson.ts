import { useEffect } from "react";
import { keepListed, type Session } from "../api/session";
import { usePreferences } from "../state/preferences";

/** What a reading lists goes with the person from browser to browser; the demo account's stays where it was chosen. */
export function useListedOfPerson({ name, is_demo: demo, listed }: Session): void {
  useEffect(() => {
    if (demo || name === null) return;
    if (listed) usePreferences.setState({ statistics: listed.statistics ?? null, percents: listed.percents });
    return usePreferences.subscribe((now, before) => {
      const { statistics, percents } = now;
      if (statistics !== before.statistics || percents !== before.percents)
        keepListed({ statistics, percents }).catch(() => undefined);
    });
  }, [name, demo, listed]);
}
