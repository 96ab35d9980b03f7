import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { body, client } from "./client";

const me = crypto.randomUUID();
const seen = new Map<string, number>();

type Meta = Record<string, unknown> | undefined;
/** For questions asked before their answer is wanted: they overtake no other. */
export const FORESEEN = { meta: { foreseen: true } } as const;

/** Names a view and counts its questions, so that the server drops those that a newer one has overtaken. */
export function inView(view: string, meta?: Meta): Record<string, string> {
  if (meta?.foreseen) return {};
  const number = (seen.get(view) ?? 0) + 1;
  seen.set(view, number);
  return { "X-Heron-View": `${me}-${view}:${number}` };
}

const LONG = 700;

/** Whether a view has been at work for long, how much of its answer is there, and what is to be known of how. */
export function useProgress(view: string, busy: boolean): { long: boolean; share: number | null; note: string } {
  const [long, setLong] = useState(false);
  useEffect(() => {
    if (!busy) return setLong(false);
    const waiting = setTimeout(() => setLong(true), LONG);
    return () => clearTimeout(waiting);
  }, [busy]);
  const { data } = useQuery({
    queryKey: ["progress", view],
    queryFn: ({ signal }) =>
      body(client.GET("/api/readings/progress", { params: { query: { view: `${me}-${view}` } }, signal })),
    enabled: busy && long,
    refetchInterval: 400,
    gcTime: 0,
  });
  return { long: busy && long, share: data?.share ?? null, note: data?.note ?? "" };
}

/** End the question of a view that is being worked on. */
export const stopView = (view: string) => client.POST("/api/readings/stop", { body: { view: `${me}-${view}` } });
