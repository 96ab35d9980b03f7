import { useEffect, useRef } from "react";

/** To be asked for what is at hand once it is ready: at once, or when it has come. */
export function useOnceReady<Value>(value: Value, ready: boolean): () => Promise<Value> {
  const now = useRef({ value, ready });
  const asking = useRef<((value: Value) => void)[]>([]);
  useEffect(() => {
    now.current = { value, ready };
    if (ready) for (const give of asking.current.splice(0)) give(value);
  }, [value, ready]);
  return () =>
    now.current.ready ? Promise.resolve(now.current.value) : new Promise((give) => asking.current.push(give));
}
