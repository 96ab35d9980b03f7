import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { body, client } from "../api/client";
import { queryKeys } from "../api/queryKeys";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";

/** Keys with which programs act for a person: made, shown once, revoked. */
export function Tokens() {
  const queries = useQueryClient();
  const [made, setMade] = useState("");
  const { data: tokens = [] } = useQuery({
    queryKey: queryKeys.tokens(),
    queryFn: () => body(client.GET("/api/session/tokens")),
  });
  const known = () => queries.invalidateQueries({ queryKey: queryKeys.tokens() });
  const make = useMutation({
    mutationFn: (name: string) => body(client.POST("/api/session/tokens", { body: { name } })),
    onSuccess: ({ text }) => {
      setMade(text);
      return known();
    },
  });
  const revoke = useMutation({
    mutationFn: (id: number) => client.DELETE("/api/session/tokens/{token_id}", { params: { path: { token_id: id } } }),
    onSuccess: known,
  });
  const day = (moment: string) => moment.slice(0, 10);
  return (
    <details className="mt-3 border-line border-t pt-2">
      <summary className="min-h-6 text-accent">Personal tokens</summary>
      <p className="mt-1 text-muted-ink text-small">
        For programs of yours; each may do what you may.{" "}
        <a href="/reference" className="text-primary underline decoration-primary/40 underline-offset-3">
          What they can ask
        </a>
      </p>
      <ul aria-label="Tokens" className="my-1.5">
        {tokens.map(({ id, name, ending, created, used }) => (
          <li key={id} className="flex items-baseline gap-2 py-0.5">
            <span className="min-w-0 flex-1 truncate" title={`made ${day(created)}`}>
              {name} <span className="text-muted-ink text-small">…{ending}</span>
            </span>
            <span className="text-muted-ink text-small">{used ? `used ${day(used)}` : "not used yet"}</span>
            <Button look="link" className="text-small!" onClick={() => revoke.mutate(id)}>
              revoke
            </Button>
          </li>
        ))}
      </ul>
      {made && (
        <div role="status" className="mb-2 rounded-lg bg-good-tint px-2.5 py-1.5">
          <p className="text-small">Copy it now: it is not shown again.</p>
          <code className="block break-all text-small">{made}</code>
        </div>
      )}
      {make.error && <Notice problem={make.error.message} className="mb-2" />}
      <form
        className="flex gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          const form = event.currentTarget;
          const name = String(new FormData(form).get("name") ?? "").trim();
          if (name) make.mutate(name, { onSuccess: () => form.reset() });
        }}
      >
        <input
          name="name"
          aria-label="Name of the token"
          placeholder="what it is for"
          className="min-h-6 min-w-0 flex-1 rounded-md border border-line-strong/60 bg-surface px-1.5"
        />
        <Button type="submit">Make a token</Button>
      </form>
    </details>
  );
}
