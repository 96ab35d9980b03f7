import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import { isAway } from "../api/client";

/** Says that nobody is there to answer, for as long as that is so; what is on screen stays, and goes on by itself. */
export function AwayNotice() {
  const cache = useQueryClient().getQueryCache();
  const subscribe = useCallback((changed: () => void) => cache.subscribe(changed), [cache]);
  const said = useSyncExternalStore(subscribe, () => {
    for (const { state } of cache.getAll()) {
      const error = [state.fetchFailureReason, state.error].find(isAway);
      if (error) return error.problem;
    }
    return "";
  });
  return (
    <div aria-live="polite" className="pointer-events-none fixed inset-x-0 bottom-5 z-50 flex justify-center">
      {said && (
        <p className="rising pointer-events-auto rounded-card border border-line bg-caution-tint px-3.5 py-2 shadow-float">
          {said} It is asked again every few seconds; what you chose and typed stays.
        </p>
      )}
    </div>
  );
}
