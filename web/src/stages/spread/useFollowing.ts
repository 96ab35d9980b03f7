import { type UseQueryOptions, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

/**
 * A reading that follows the hand: one question at a time, then the newest one, so that a fast hand sees answers on
 * the way and not only where it stops. The last answer for the same variable stays until the next has come.
 */
export function useFollowing<Settings, Found, Key extends readonly unknown[]>(
  wanted: Settings,
  enabled: boolean,
  reading: (settings: Settings) => UseQueryOptions<Found, Error, Found, Key>,
) {
  const [settings, setSettings] = useState(wanted);
  const options = reading(settings);
  const query = useSteady({ ...options, enabled });
  const changed = JSON.stringify(settings) !== JSON.stringify(wanted);
  useEffect(() => {
    if (changed && !query.isFetching) setSettings(wanted);
  }, [changed, query.isFetching, wanted]);
  return query;
}

const REVISION = 2;

/** Keys of readings begin with what they are of: table, revision, name, variable; after a decision the old one stays. */
function sameSubject(a: readonly unknown[] | undefined, b: readonly unknown[]): boolean {
  return a?.slice(0, 5).every((part, i) => i === REVISION || part === b[i]) ?? false;
}

/** A reading whose last answer for the same variable stays until the next has come. */
export function useSteady<Found, Key extends readonly unknown[]>(options: UseQueryOptions<Found, Error, Found, Key>) {
  return useQuery<Found, Error, Found, Key>({
    ...options,
    placeholderData: ((previous: Found | undefined, before: { queryKey: Key } | undefined) =>
      sameSubject(before?.queryKey, options.queryKey as Key) ? previous : undefined) as never,
  });
}
