import { sure } from "../shared/sure";
import createClient, { type Middleware } from "openapi-fetch";
import { noteReached } from "./reach";
import type { components, paths } from "./schema";

/** Answers as they come through the client, which knows lists but no tuples. */
type Plain<T> = T extends (infer E)[] ? Plain<E>[] : T extends object ? { [K in keyof T]: Plain<T[K]> } : T;
type Schemas = components["schemas"];
export type Schema = { [K in keyof Schemas]: Plain<Schemas[K]> };
export type Me = Schema["Me"];
export type JobCard = Schema["JobCard"];
export type Characteristic = Schema["CharacteristicView"];
export type Reading = Schema["ReadingView"];
export type Finding = Schema["FindingView"];
export type Both = Schema["Both"];
export type Verdict = Schema["Verdict"];
export type LengthUnit = Exclude<Schema["Unit"], "deg">;

type ProblemField = { field: string; value: string; bound: string };

/** What the server refused, in its own words. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly fields: ProblemField[],
  ) {
    super(detail);
  }
}

/** The server could not be reached, or its database could not. */
export class Away extends Error {}

let token = "";
export function setToken(value: string): void {
  token = value;
}

const carryToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET" && !request.headers.has("X-Incudo-Token")) request.headers.set("X-Incudo-Token", token);
    return request;
  },
  onResponse({ response }) {
    noteReached(!response.headers.has("X-Incudo-Kept"));
  },
  onError() {
    noteReached(false);
    return new Away("The shop's server cannot be reached.");
  },
};

/** What was answered last, by address, with the mark that the server gave it. */
const known = new Map<string, { mark: string; text: string }>();
/** So many answers are kept: more than any page asks for again and again. */
const MOST_KNOWN = 40;

/** Forget every answer: somebody else signs in here. */
export function forgetKnown(): void {
  known.clear();
}

/** Asks for something to read; what has not changed since the last answer is not sent again. */
async function read(request: Request): Promise<Response> {
  const before = known.get(request.url);
  const asked = before ? new Request(request, { headers: { ...Object.fromEntries(request.headers), "If-None-Match": before.mark } }) : request;
  const answer = await fetch(asked);
  if (answer.status === 304 && before) {
    return new Response(before.text, { status: 200, headers: { "Content-Type": "application/json" } });
  }
  const text = await answer.clone().text();
  const mark = answer.headers.get("ETag");
  known.delete(request.url);
  if (answer.ok && mark && !answer.headers.has("X-Incudo-Kept")) {
    known.set(request.url, { mark, text });
    const oldest = known.keys().next();
    if (known.size > MOST_KNOWN && !oldest.done) known.delete(oldest.value);
  }
  return answer;
}

let changes = 0;
/** How often an answer is asked for anew while one's own changes keep overtaking it. */
const OVERTAKEN = 3;

/**
 * Asks the server. What was read while one's own change was under way may show how things stood before it, and would
 * cover the change's answer on the page: it is read again.
 */
async function ask(request: Request): Promise<Response> {
  if (request.method !== "GET") {
    try {
      return await fetch(request);
    } finally {
      changes++;
    }
  }
  for (let times = 0; ; times++) {
    const before = changes;
    const answer = await read(request.clone());
    if (before === changes || times === OVERTAKEN) return answer;
  }
}

export const api = createClient<paths>({ baseUrl: window.location.origin, fetch: ask });
api.use(carryToken);

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The body of an answer; throws ``Refusal`` or ``Away``. */
export async function body<T>(asked: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await asked;
  if (response.ok && data !== undefined) return data;
  if ([502, 503, 504].includes(response.status)) throw new Away("The shop's server cannot be reached.");
  const problem = (error ?? {}) as { detail?: string; errors?: ProblemField[] };
  throw new Refusal(response.status, problem.detail ?? `Error ${response.status}`, problem.errors ?? []);
}

/** Words for an error, with the fields that were refused. */
export function wordsFor(error: unknown): string {
  if (error instanceof Refusal && error.fields.length > 0) {
    return error.fields.map((f) => `${f.field}: ${f.bound}`).join("; ");
  }
  return error instanceof Error ? error.message : "Something went wrong.";
}

/** A fresh id that sorts by time (UUID version 7). */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  const now = BigInt(Date.now());
  for (let i = 0; i < 6; i++) bytes[i] = Number((now >> BigInt(40 - 8 * i)) & 0xffn);
  bytes[6] = (sure(bytes[6]) & 0x0f) | 0x70;
  bytes[8] = (sure(bytes[8]) & 0x3f) | 0x80;
  const hex = [...bytes].map((b) => b.toString(16).padStart(2, "0")).join("");
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join("-");
}
