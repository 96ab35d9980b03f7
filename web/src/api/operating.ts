import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { body, client } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

type Schemas = components["schemas"];
export type Overview = Schemas["OverviewOut"];
export type Person = Schemas["PersonOut"];

export const useOverview = () =>
  useQuery({ queryKey: queryKeys.operating(), queryFn: () => body(client.GET("/api/operating")) });

/** What whoever runs the server does; each leaves the page as it now is. */
export function useOperating() {
  const queries = useQueryClient();
  const known = () => queries.invalidateQueries({ queryKey: [...queryKeys.operating()] });
  const change = useMutation({
    mutationFn: ({ id, ...said }: Schemas["PersonChange"] & { id: number }) =>
      client.PUT("/api/operating/people/{person_id}", { params: { path: { person_id: id } }, body: said }),
    onSuccess: known,
  });
  const invite = useMutation({
    mutationFn: (said: Schemas["InvitationIn"]) => body(client.POST("/api/operating/invitations", { body: said })),
    onSuccess: known,
  });
  const revoke = useMutation({
    mutationFn: (id: number) =>
      client.DELETE("/api/operating/invitations/{invitation_id}", { params: { path: { invitation_id: id } } }),
    onSuccess: known,
  });
  const handedOver = useMutation({
    mutationFn: (id: number) =>
      client.DELETE("/api/operating/letters/{letter_id}", { params: { path: { letter_id: id } } }),
    onSuccess: known,
  });
  return { change, invite, revoke, handedOver };
}
