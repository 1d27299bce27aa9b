import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";
import { marked } from "../src/shared/Explained";

const TERMS = [
  { word: "burr", means: "A sharp lip." },
  { word: "edge finder", means: "A tip that kicks." },
  { word: "T-slot", means: "A slot in the table." },
];
const words = (text: string) => {
  const page = renderToStaticMarkup(<>{marked(text, TERMS)}</>);
  return { found: [...page.matchAll(/<dfn[^>]*>([^<]*)<\/dfn>/g)].map((m) => m[1]), said: page.replace(/<[^>]*>/g, "") };
};

test("a word is marked at its first place, in any case and in the plural", () => {
  expect(words("Burrs cut: no burr stays.").found).toEqual(["Burr"]);
  expect(words("The Edge finder and the edge finder").found).toEqual(["Edge finder"]);
  expect(words("Lay it over T-slots.").found).toEqual(["T-slot"]);
});

test("a word inside another word is no word, and no letter of the text is lost", () => {
  for (const text of ["Deburring is not marked.", "burrow", "Nothing here.", ""]) expect(words(text)).toEqual({ found: [], said: text });
  expect(words("Stone the burr, then the T-slot.").said).toBe("Stone the burr, then the T-slot.");
});
