import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { body, client } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

export type Session = components["schemas"]["SessionOut"];
type SignIn = components["schemas"]["SignInIn"];
type NewAccount = components["schemas"]["NewAccount"];

export function useSession() {
  return useQuery({
    queryKey: queryKeys.session(),
    queryFn: () => body(client.GET("/api/session")),
    staleTime: 60_000,
  });
}

/** Keep with the person which statistics a reading lists. */
export const keepListed = (listed: components["schemas"]["Listed"]) =>
  body(client.PUT("/api/session/listed", { body: listed }));

function useEntering<Sent>(enter: (entry: Sent) => Promise<Session>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: enter,
    onSuccess: (session) => {
      // What the one before saw is forgotten; the session itself is watched, and so is changed in place.
      queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "session" });
      queries.setQueryData(queryKeys.session(), session);
    },
  });
}

/** Leave for the institution, which sends the browser back. */
export async function leaveForInstitution(said: components["schemas"]["LeaveForIn"]): Promise<void> {
  const { address } = await body(client.POST("/api/session/institution", { body: said }));
  window.location.assign(address);
}

export const useDemo = () => useEntering<void>(() => body(client.POST("/api/session/demo")));
export const useSignIn = () => useEntering<SignIn>((said) => body(client.POST("/api/session/sign-in", { body: said })));
export const useSignUp = () =>
  useEntering<NewAccount>((account) => body(client.POST("/api/session/sign-up", { body: account })));
export const useSignOut = () => useEntering<void>(() => body(client.POST("/api/session/sign-out")));
