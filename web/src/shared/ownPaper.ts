import { api, body } from "../api/client";
import { save } from "./download";
import type { PAPERS } from "./papers";

/** What is kept of somebody, as a PDF to read; somebody else's needs an instructor's PIN. */
export async function savePaper(person: string, name: string, paper: (typeof PAPERS)[number], pin: string): Promise<void> {
  const file = await body(api.POST("/api/people/{person}/data-paper", { params: { path: { person } }, body: { pin, paper }, parseAs: "blob" }));
  save(`incudo-${name}`, "pdf", file);
}
