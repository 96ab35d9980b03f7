import createClient, { type Middleware } from "openapi-fetch";
import { useConfirming } from "../state/confirming";
import { pastOf } from "../state/lookingBack";
import { numbersOnScreen } from "../words/numbers";
import type { paths } from "./schema.gen";

/** What the server says when it will not or cannot do what was asked (RFC 9457). */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    readonly problem: string,
    readonly remedy: string,
    readonly rows: number[] = [],
    readonly where = "",
  ) {
    super(problem);
  }
}

const OUT_OF_REACH = new Problem(
  0,
  "out-of-reach",
  "The server cannot be reached.",
  "Check that it is running, then try again.",
);

/** Whether nobody is there to answer: the server, or its database. What was asked is then asked again, until they are. */
export const isAway = (error: unknown): error is Problem =>
  error instanceof Problem && (error.status === 0 || error.status === 503);

function cookie(name: string): string {
  return document.cookie.match(new RegExp(`(?:^|; )(?:__Host-)?${name}=([^;]*)`))?.[1] ?? "";
}

async function problemOf(response: Response): Promise<Problem> {
  if (response.headers.get("Content-Type")?.startsWith("application/problem+json")) {
    const said = await response.json();
    return new Problem(response.status, said.code, said.problem, said.remedy, said.rows, said.where);
  }
  return new Problem(
    response.status,
    "unexpected",
    `The server answered ${response.status}.`,
    "Try again; if it stays so, look at the server's log.",
  );
}

/** An address longer than this is not taken everywhere: the question is then sent as a body. */
const LONG = 3_500;

function sendable(address: URL, request: Request): Request {
  if (address.href.length <= LONG) return new Request(address, request);
  const headers = new Headers(request.headers);
  headers.set("X-Heron-Question", "long");
  headers.set("Content-Type", "application/x-www-form-urlencoded");
  const body = address.search.slice(1);
  return new Request(address.origin + address.pathname, { method: "POST", headers, body, signal: request.signal });
}

/** What was sent, to be sent again once a password was typed for it; files are not held for that. */
const sent = new WeakMap<Request, Request>();

/** How it is told once more who is before the screen, by what the server says. */
const WAYS: Record<string, "password" | "institution"> = { confirm: "password", "sign-in-again": "institution" };

const manners: Middleware = {
  onRequest({ request }) {
    request.headers.set("X-Heron-Numbers", numbersOnScreen());
    if (request.method !== "GET") {
      request.headers.set("X-CSRFToken", cookie("csrftoken"));
      if (request.headers.get("Content-Type")?.includes("json") || !request.body) sent.set(request, request.clone());
      return undefined;
    }
    const address = new URL(request.url);
    const table = address.pathname.match(/^\/api\/tables\/([^/]+)/)?.[1];
    const at = table && !address.pathname.endsWith("/ledger") ? pastOf(table) : undefined;
    if (at !== undefined) address.searchParams.set("at", String(at));
    return at === undefined && address.href.length <= LONG ? undefined : sendable(address, request);
  },
  async onResponse({ request, response }) {
    if (response.ok) return undefined;
    const problem = await problemOf(response);
    const again = sent.get(request) ?? (request.method === "GET" ? new Request(request) : undefined);
    const way = WAYS[problem.code];
    if (!way || !again || !(await useConfirming.getState().ask(way))) throw problem;
    again.headers.set("X-CSRFToken", cookie("csrftoken"));
    const answer = await fetch(again);
    if (!answer.ok) throw await problemOf(answer);
    return answer;
  },
  onError({ error }) {
    if (error instanceof DOMException && error.name === "AbortError") return error;
    return OUT_OF_REACH;
  },
};

export const client = createClient<paths>({ baseUrl: "/" });
client.use(manners);

/** The body of an answer whose failures were thrown on the way. */
export async function body<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}

/** An answer that was asked for as bytes. */
export async function bytes(answer: Promise<{ data?: unknown }>): Promise<ArrayBuffer> {
  const { data } = await answer;
  if (data instanceof ArrayBuffer) return data;
  throw new TypeError("The answer is no array of bytes.");
}

/** An answer that was asked for as a file. */
export async function file(answer: Promise<{ data?: unknown }>): Promise<Blob> {
  const { data } = await answer;
  if (data instanceof Blob) return data;
  throw new TypeError("The answer is no file.");
}
