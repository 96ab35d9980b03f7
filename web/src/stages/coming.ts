import { type Query, type QueryClient, useIsFetching } from "@tanstack/react-query";
import { type Figure, subjectOf } from "../api/figures";

const isPicture = ({ queryKey }: Query) => queryKey[0] === "reading" && queryKey[3] === "figure";

/** Whether another picture of the same is on its way, and what is seen is still that of the choice before. */
export function useComing({ panels }: Figure): boolean {
  const of = subjectOf(panels);
  return useIsFetching({ predicate: (query) => isPicture(query) && query.queryKey[4] === of }) > 0;
}

/** When no picture is on its way any more, and what has come is drawn. */
export function allCome(queries: QueryClient): Promise<void> {
  return new Promise((come) => {
    const look = () => {
      if (queries.isFetching({ predicate: isPicture }) > 0) return;
      stop();
      requestAnimationFrame(() => setTimeout(come));
    };
    const stop = queries.getQueryCache().subscribe(look);
    look();
  });
}
