import { beforeEach, expect, test, vi } from "vitest";
import { server } from "./browser";
import { again, discard, flush, keep, onChange, waiting, type Sent } from "../src/offline/queue";

const reading = (value: string) => ({
  kind: "reading" as const,
  attempt: "00000000-0000-4000-8000-000000000001",
  body: {
    id: crypto.randomUUID(),
    characteristic: 1,
    value,
    unit: "in",
    instrument: "00000000-0000-4000-8000-000000000002",
    supersedes: null,
    why: "",
    measured_at: "2026-11-27T18:00:00Z",
  },
});
const answers = (...statuses: number[]) => {
  const sent: string[] = [];
  server.answer = async (request) => {
    sent.push(((await request.json()) as { value: string }).value);
    const status = statuses.shift() ?? 200;
    if (status === 0) throw new TypeError("network");
    const problem = { detail: "no", errors: [{ field: "value", value: "x", bound: "must be a plain number" }] };
    return new Response(JSON.stringify(status === 200 ? { characteristic: 1 } : problem), {
      status,
      headers: { "Content-Type": "application/json" },
    });
  };
  return sent;
};
let owner = "";
beforeEach(() => {
  owner = crypto.randomUUID();
});

test("entries wait in the order they were made, each with its owner alone", async () => {
  await keep(owner, "card", reading("1.1"));
  await keep("another", "card", reading("9.9"));
  await keep(owner, "card", reading("2.2"));
  expect((await waiting(owner)).map((e) => e.kind === "reading" && e.body.value)).toEqual(["1.1", "2.2"]);
});

test("what is sent leaves the queue, in order, once", async () => {
  await keep(owner, "card", reading("1.1"));
  await keep(owner, "card", reading("2.2"));
  const sent = answers();
  const told: Sent[] = [];
  expect(await flush(owner, (one) => told.push(one))).toBe("empty");
  expect(sent).toEqual(["1.1", "2.2"]);
  expect(told).toHaveLength(2);
  expect(await waiting(owner)).toEqual([]);
  expect(await flush(owner, () => undefined)).toBe("empty");
  expect(sent).toHaveLength(2);
});

test("two tabs at once send each entry once", async () => {
  await keep(owner, "card", reading("1.1"));
  const sent = answers();
  await Promise.all([flush(owner, () => undefined), flush(owner, () => undefined)]);
  expect(sent).toEqual(["1.1"]);
});

test.each([
  [0, "away"],
  [503, "away"],
  [500, "away"],
  [429, "away"],
  [401, "signed-out"],
])("an answer %i keeps everything and stops", async (status, outcome) => {
  await keep(owner, "card", reading("1.1"));
  await keep(owner, "card", reading("2.2"));
  const sent = answers(status);
  expect(await flush(owner, () => undefined)).toBe(outcome);
  expect(sent).toEqual(["1.1"]);
  expect(await waiting(owner)).toHaveLength(2);
});

test.each([400, 403, 404, 409, 422, 499])("a refusal %i stays with its reason, and the next one goes on", async (status) => {
  await keep(owner, "card", reading("one and a half"));
  await keep(owner, "card", reading("2.2"));
  answers(status, 200);
  expect(await flush(owner, () => undefined)).toBe("empty");
  const [left, ...more] = await waiting(owner);
  expect(more).toEqual([]);
  expect(left?.refused).toBe("value: must be a plain number");
});

test("a refused entry is not sent again unless it is offered again", async () => {
  await keep(owner, "card", reading("1.1"));
  answers(422);
  await flush(owner, () => undefined);
  const sent = answers();
  await flush(owner, () => undefined);
  expect(sent).toEqual([]);
  const [entry] = await waiting(owner);
  if (!entry) throw new Error("it is gone");
  await again(entry);
  await flush(owner, () => undefined);
  expect(sent).toEqual(["1.1"]);
});

test("a refused entry is taken away by its owner", async () => {
  await keep(owner, "card", reading("1.1"));
  const heard = vi.fn();
  const stop = onChange(heard);
  const [entry] = await waiting(owner);
  if (!entry) throw new Error("it is gone");
  await discard(entry);
  expect(await waiting(owner)).toEqual([]);
  expect(heard).toHaveBeenCalled();
  stop();
});
