/** Drawing a page as a person meets it, without a browser: what is on it, and which buttons can be touched. */
import type { ReactElement } from "react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderToStaticMarkup } from "react-dom/server";
import { MemoryRouter } from "react-router";
import type { Me } from "../src/api/client";
import { MeContext } from "../src/shared/me";

export const as = (role: Me["role"], id = "mara", change: Partial<Me> = {}) =>
  ({ id, name: "Mara Haldane", role, unit: "in", school: "guard_band", token: "t", ...change }) as unknown as Me;

/** A page for somebody, with what the server said already there. */
export function drawn(element: ReactElement, who: Me, put: (client: QueryClient) => void = () => undefined): string {
  const client = new QueryClient();
  put(client);
  return renderToStaticMarkup(
    <QueryClientProvider client={client}>
      <MemoryRouter>
        <MeContext value={who}>{element}</MeContext>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

/** What can be read on it, pieces set apart by a stroke. */
export const texts = (html: string) => html.replace(/<[^>]*>/g, "|").replace(/\|+/g, "|");

/** The buttons by what stands on them; ``open`` only those that can be touched. */
export const buttons = (html: string, open = false) =>
  [...html.matchAll(/<button([^>]*)>(.*?)<\/button>/g)]
    .filter(([, attributes]) => !open || !/\bdisabled\b/.test(attributes ?? ""))
    .map((m) => texts(m[2] ?? "").replaceAll("|", ""));
