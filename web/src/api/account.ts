import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { body, client, file } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

type Schemas = components["schemas"];
export type Account = Schemas["AccountOut"];
export type NewToken = Schemas["TokenIn"];

export const useAccount = () =>
  useQuery({ queryKey: queryKeys.account(), queryFn: () => body(client.GET("/api/session/account")) });

export const useTokens = () =>
  useQuery({ queryKey: queryKeys.tokens(), queryFn: () => body(client.GET("/api/session/tokens")) });

export const useOwned = () =>
  useQuery({ queryKey: queryKeys.owned(), queryFn: () => body(client.GET("/api/session/owned")) });

/** What a person does with their account; each leaves the page as it now is. */
export function useAccountDeeds() {
  const queries = useQueryClient();
  const known = () =>
    Promise.all(
      [queryKeys.account(), queryKeys.tokens()].map((queryKey) =>
        queries.invalidateQueries({ queryKey: [...queryKey] }),
      ),
    );
  const changePassword = useMutation({
    mutationFn: (said: Schemas["NewPasswordIn"]) => client.PUT("/api/session/password", { body: said }),
    onSuccess: known,
  });
  const keepAddress = useMutation({
    mutationFn: (address: string) => client.PUT("/api/session/address", { body: { address } }),
    onSuccess: known,
  });
  const endSession = useMutation({
    mutationFn: (id: number) =>
      client.DELETE("/api/session/open/{session_id}", { params: { path: { session_id: id } } }),
    onSuccess: known,
  });
  const makeToken = useMutation({
    mutationFn: (asked: NewToken) => body(client.POST("/api/session/tokens", { body: asked })),
    onSuccess: known,
  });
  const revokeToken = useMutation({
    mutationFn: (id: number) => client.DELETE("/api/session/tokens/{token_id}", { params: { path: { token_id: id } } }),
    onSuccess: known,
  });
  const takeAway = useMutation({
    mutationFn: () => file(client.GET("/api/session/export", { parseAs: "blob" })),
    onSuccess: known,
  });
  const remove = useMutation({
    mutationFn: (said: Schemas["RemoveIn"]) => client.POST("/api/session/remove", { body: said }),
    onSuccess: () => {
      queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "session" });
      return queries.invalidateQueries({ queryKey: [...queryKeys.session()] });
    },
  });
  const unlink = useMutation({ mutationFn: () => client.DELETE("/api/session/institution"), onSuccess: known });
  return { unlink, changePassword, keepAddress, endSession, makeToken, revokeToken, takeAway, remove };
}

/** The second factor: begun, turned on with a first code, other codes made, turned off. */
export function useSecondFactor() {
  const queries = useQueryClient();
  const onSuccess = () => queries.invalidateQueries({ queryKey: [...queryKeys.account()] });
  const begin = useMutation({ mutationFn: () => body(client.POST("/api/session/second-factor")) });
  const turnOn = useMutation({
    mutationFn: (code: string) => body(client.PUT("/api/session/second-factor", { body: { code } })),
    onSuccess,
  });
  const newCodes = useMutation({
    mutationFn: () => body(client.POST("/api/session/second-factor/codes")),
    onSuccess,
  });
  const turnOff = useMutation({ mutationFn: () => client.DELETE("/api/session/second-factor"), onSuccess });
  return { begin, turnOn, newCodes, turnOff };
}

export const confirmPassword = (password: string) => client.POST("/api/session/confirm", { body: { password } });

export const useAskAnew = () =>
  useMutation({ mutationFn: (who: string) => client.POST("/api/session/reset", { body: { who } }) });

export const useSetAnew = () =>
  useMutation({
    mutationFn: (said: Schemas["SetAnewIn"]) => client.POST("/api/session/reset/set", { body: said }),
  });
