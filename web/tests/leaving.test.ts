/** Signing out without the network: forgotten here at once, told to the server once it is there. */
import { beforeEach, describe, expect, it, vi } from "vitest";
import { server } from "./browser";

const kept = new Map<string, string>();
vi.stubGlobal("localStorage", {
  getItem: (k: string) => kept.get(k) ?? null,
  setItem: (k: string, v: string) => kept.set(k, v),
  removeItem: (k: string) => kept.delete(k),
});
const { hasLeft, leave, tellServer } = await import("../src/shell/leaving");

const json = (status: number, content: unknown) =>
  Promise.resolve(new Response(JSON.stringify(content), { status, headers: { "Content-Type": "application/json" } }));

describe("leaving", () => {
  beforeEach(() => kept.clear());

  it("has nothing to tell before anybody left", async () => {
    server.answer = () => Promise.reject(new Error("must not ask"));
    expect(hasLeft()).toBe(false);
    expect(await tellServer()).toBe(true);
  });

  it("is kept while the server cannot be reached, and told with the token of that session", async () => {
    leave("token of the session that was left");
    server.answer = () => Promise.reject(new TypeError("network"));
    expect(await tellServer()).toBe(false);
    expect(hasLeft()).toBe(true);
    server.answer = () => json(503, { detail: "starting" });
    expect(await tellServer()).toBe(false);
    const asked: Request[] = [];
    server.answer = (request) => {
      asked.push(request);
      return json(200, { done: true });
    };
    expect(await tellServer()).toBe(true);
    expect(hasLeft()).toBe(false);
    expect(asked.map((r) => [r.method, new URL(r.url).pathname, r.headers.get("X-Incudo-Token")])).toEqual([
      ["POST", "/api/sign-out", "token of the session that was left"],
    ]);
  });

  it.each([401, 403, 404])("is settled when the server knows no such session (%i)", async (status) => {
    leave("old");
    server.answer = () => json(status, { detail: "no" });
    expect(await tellServer()).toBe(true);
    expect(hasLeft()).toBe(false);
  });
});
