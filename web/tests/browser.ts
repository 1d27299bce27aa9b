/** What a browser has and Node has not, as far as the logic under test asks for it. */
import "fake-indexeddb/auto";
import { vi } from "vitest";

vi.stubGlobal("window", { location: { origin: "http://127.0.0.1" }, matchMedia: () => ({ matches: true }) });
let last: Promise<unknown> = Promise.resolve();
vi.stubGlobal("navigator", {
  locks: {
    // one holder at a time, in the order asked
    request: (_: string, work: () => Promise<unknown>) => {
      const mine = last.then(work);
      last = mine.catch(() => undefined);
      return mine;
    },
  },
});

/** The server of a test: the client takes ``fetch`` when it is loaded, so what answers can be exchanged behind it. */
export const server: { answer: (request: Request) => Promise<Response> } = {
  answer: () => Promise.reject(new TypeError("network")),
};
vi.stubGlobal("fetch", (request: Request) => server.answer(request));
