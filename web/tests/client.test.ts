import { expect, test } from "vitest";
import { server } from "./browser";
import { api, Away, body, forgetKnown, newId, Refusal, setToken, wordsFor } from "../src/api/client";

const json = (content: unknown, status = 200) => new Response(JSON.stringify(content), { status, headers: { "Content-Type": "application/json" } });

/** A server whose value a change sets; reading it can be held back on its way. */
function shop() {
  const held: (() => void)[] = [];
  const state = { value: "before", asked: 0, hold: true };
  server.answer = async (request) => {
    if (request.method !== "GET") {
      state.value = "after";
      return json({ session: state.value });
    }
    state.asked++;
    const seen = json({ session: state.value });
    if (state.hold) await new Promise<void>((go) => held.push(go));
    return seen;
  };
  return { state, held };
}
const read = () => body(api.GET("/api/session")) as Promise<unknown>;
const change = () => body(api.POST("/api/sign-out")) as Promise<unknown>;

test("what was read before one's own change was answered is read again", async () => {
  const { state, held } = shop();
  const reading = read();
  await expect.poll(() => held.length).toBe(1);
  state.hold = false;
  await change();
  held[0]?.();
  expect(await reading).toEqual({ session: "after" });
  expect(state.asked).toBe(2);
});

test("what no change overtook is read once", async () => {
  const { state } = shop();
  state.hold = false;
  await change();
  expect(await read()).toEqual({ session: "after" });
  expect(state.asked).toBe(1);
});

test("a change that was refused counts too, and asking anew ends", async () => {
  let asked = 0;
  server.answer = async (request) => {
    if (request.method !== "GET") return json({ detail: "no" }, 409);
    asked++;
    await change().catch(() => undefined);
    return json({ session: null });
  };
  await read();
  expect(asked).toBe(4);
});

test("a change carries the token of who is signed in, reading does not", async () => {
  const tokens: (string | null)[] = [];
  server.answer = (request) => {
    tokens.push(request.headers.get("X-Incudo-Token"));
    return Promise.resolve(json({ session: null }));
  };
  setToken("of juno");
  await read();
  await change();
  expect(tokens).toEqual([null, "of juno"]);
});

test("a refusal says each field and its bound; without fields, its own words", async () => {
  const errors = [
    { field: "value", value: "x", bound: "must be a plain number" },
    { field: "unit", value: "", bound: "is missing" },
  ];
  server.answer = () => Promise.resolve(json({ detail: "no", errors }, 422));
  const refused = await change().catch((e: unknown) => e);
  expect(refused).toBeInstanceOf(Refusal);
  expect(wordsFor(refused)).toBe("value: must be a plain number; unit: is missing");
  server.answer = () => Promise.resolve(json({ detail: "The session has ended.", errors: [] }, 409));
  expect(wordsFor(await change().catch((e: unknown) => e))).toBe("The session has ended.");
  expect(wordsFor("?")).toBe("Something went wrong.");
});

test.each([502, 503, 504])("%i and no network mean that the server is away, other errors do not", async (status) => {
  server.answer = () => Promise.resolve(json({}, status));
  await expect(read()).rejects.toBeInstanceOf(Away);
  server.answer = () => Promise.reject(new TypeError("network"));
  await expect(read()).rejects.toBeInstanceOf(Away);
  server.answer = () => Promise.resolve(json({}, 500));
  await expect(read()).rejects.not.toBeInstanceOf(Away);
});

test("ids are UUIDs of version 7 that sort by the time of making", async () => {
  const first = newId();
  await new Promise((go) => setTimeout(go, 2));
  const second = newId();
  expect(first).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  expect(second > first).toBe(true);
  expect(new Set(Array.from({ length: 1000 }, newId)).size).toBe(1000);
});

/** A server that marks its answers and says 304 to who names the mark of now. */
function marked() {
  const state = { value: 1, sent: 0, marks: [] as (string | null)[] };
  server.answer = (request) => {
    const mark = `"${String(state.value)}"`;
    state.marks.push(request.headers.get("If-None-Match"));
    if (request.headers.get("If-None-Match") === mark) return new Response(null, { status: 304 });
    state.sent++;
    return new Response(JSON.stringify({ session: state.value }), {
      headers: { "Content-Type": "application/json", ETag: mark },
    });
  };
  return state;
}

test("what has not changed is not sent again, and shown as it was", async () => {
  forgetKnown();
  const state = marked();
  expect(await read()).toEqual({ session: 1 });
  expect(await read()).toEqual({ session: 1 });
  expect([state.sent, state.marks]).toEqual([1, [null, '"1"']]);
  state.value = 2;
  expect(await read()).toEqual({ session: 2 });
  expect(state.sent).toBe(2);
});

test("who signs in here asks without the marks of the one before", async () => {
  forgetKnown();
  const state = marked();
  await read();
  forgetKnown();
  await read();
  expect(state.marks).toEqual([null, null]);
  expect(state.sent).toBe(2);
});

test("an answer that the browser kept, or one without a mark, is not asked for by its mark", async () => {
  forgetKnown();
  const seen: (string | null)[] = [];
  server.answer = (request) => {
    seen.push(request.headers.get("If-None-Match"));
    const kept = { "X-Incudo-Kept": "1", ETag: '"9"' };
    return new Response("{}", { headers: { "Content-Type": "application/json", ...(seen.length === 1 ? kept : {}) } });
  };
  await read();
  await read();
  await read();
  expect(seen).toEqual([null, null, null]);
});
