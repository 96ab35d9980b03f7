import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Card } from "../ui/Card";
import { Field } from "../ui/Field";
import { counted } from "../words/numbers";

type Schema = {
  $ref?: string;
  type?: string;
  format?: string;
  enum?: unknown[];
  anyOf?: Schema[];
  items?: Schema;
  "x-holds"?: Schema;
};
type Parameter = { name: string; in: string; required?: boolean; schema?: Schema };
type Content = Record<string, { schema?: Schema }>;
type Operation = {
  tags?: string[];
  summary?: string;
  description?: string;
  parameters?: Parameter[];
  requestBody?: { content?: Content };
  responses?: Record<string, { content?: Content }>;
};
type OpenApi = { paths: Record<string, Record<string, Operation>> };

/** Every operation of the API, from the document that the server makes of its own code. */
export function Reference() {
  const [typed, setTyped] = useState("");
  const { data } = useQuery({
    queryKey: ["openapi"],
    queryFn: async (): Promise<OpenApi> => (await fetch("/api/openapi.json")).json(),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (!data) return null;
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const result = Object.entries(data.paths)
    .flatMap(([path, methods]) => Object.entries(methods).map(([method, operation]) => ({ path, method, operation })))
    .filter(({ path, method, operation }) =>
      words.every((word) =>
        `${method} ${path} ${operation.summary} ${operation.description ?? ""}`.toLowerCase().includes(word),
      ),
    );
  const tags = [...new Set(result.flatMap(({ operation }) => operation.tags ?? ["other"]))];
  return (
    <div className="flex flex-col gap-3.5 px-4.5 pb-6">
      <div className="flex min-h-[56px] flex-wrap items-end justify-between gap-x-6 py-2">
        <h1 className="text-head leading-tight">What a program can ask, {counted(result.length, "operation")}</h1>
        <Field label="Find" value={typed} onChange={(event) => setTyped(event.target.value)} />
      </div>
      <p className="max-w-3xl text-muted-ink">
        Send a personal token with each request: <code>Authorization: Bearer heron_…</code>. The document behind this
        page is{" "}
        <a href="/api/openapi.json" className="text-primary underline">
          openapi.json
        </a>
        ; examples for curl and Python stand in docs/api.md. What is refused is answered by a problem document (RFC
        9457) with a status of 400 or more: what is wrong, where, which rows, and what to do. An envelope holds long
        arrays behind its JSON.
      </p>
      {tags.map((tag) => (
        <Card key={tag} title={tag.charAt(0).toUpperCase() + tag.slice(1)}>
          <ul className="divide-y divide-line">
            {result
              .filter(({ operation }) => (operation.tags ?? ["other"]).includes(tag))
              .map((operation) => (
                <Line key={`${operation.method} ${operation.path}`} {...operation} />
              ))}
          </ul>
        </Card>
      ))}
    </div>
  );
}

type LineProps = { path: string; method: string; operation: Operation };

function Line({ path, method, operation }: LineProps) {
  const parameters = (operation.parameters ?? []).filter((parameter) => parameter.in !== "path");
  const body = Object.values(operation.requestBody?.content ?? {})[0]?.schema;
  // How refusals look is said once, above.
  const answers = Object.entries(operation.responses ?? {})
    .filter(([status]) => !status.endsWith("XX"))
    .map(([status, { content }]) => `${status}${content ? ` ${answerOf(content)}` : ""}`);
  return (
    <li className="px-3.5 py-2">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <code className="min-w-14 font-semibold uppercase">{method}</code>
        <code className="break-all">{path}</code>
      </p>
      <p className="text-muted-ink">{operation.description ?? operation.summary}</p>
      {parameters.length > 0 && (
        <p className="text-small">
          in the address:{" "}
          {parameters.map((parameter, i) => (
            <span key={parameter.name}>
              {i > 0 && ", "}
              <code>{parameter.name}</code> {typeOf(parameter.schema)}
              {parameter.required ? "" : ", optional"}
            </span>
          ))}
        </p>
      )}
      <p className="text-small">
        {body && <>takes {typeOf(body)}; </>}answers {answers.join(", ")}
      </p>
    </li>
  );
}

function answerOf(content: Content): string {
  const [[media, { schema }] = ["", {}]] = Object.entries(content);
  if (schema?.["x-holds"]) return `envelope of ${typeOf(schema["x-holds"])}`;
  return media === "application/json" ? typeOf(schema) : Object.keys(content).join(" or ");
}

function typeOf(schema: Schema | undefined): string {
  if (!schema) return "anything";
  if (schema.$ref) return schema.$ref.split("/").at(-1) ?? "";
  if (schema.enum) return schema.enum.map((value) => JSON.stringify(value)).join(" or ");
  if (schema.anyOf) return schema.anyOf.map(typeOf).join(" or ");
  if (schema.items) return `list of ${typeOf(schema.items)}`;
  return schema.format ?? schema.type ?? "anything";
}
