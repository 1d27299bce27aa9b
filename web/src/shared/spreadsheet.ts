import { api, body } from "../api/client";

/** What a file input takes for a list: text, or the file of a spreadsheet program. */
export const LIST_FILES = ".csv,.xlsx,text/csv,text/plain";

/** The text of a list's file; a spreadsheet is read by the server, its first sheet. */
export async function listText(file: File): Promise<string> {
  if (!/\.xlsx$/i.test(file.name)) return file.text();
  const bytes = new Uint8Array(await file.arrayBuffer());
  let signs = "";
  for (const b of bytes) signs += String.fromCharCode(b);
  return (await body(api.POST("/api/spreadsheets/text", { body: { data: btoa(signs) } }))).text;
}
