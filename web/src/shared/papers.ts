import type { Schema } from "../api/client";

/** The sizes of paper that a sheet can be printed on. */
export const PAPERS: readonly Schema["Paper"][] = ["A4", "Letter"];
