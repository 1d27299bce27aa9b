import { renderToStaticMarkup } from "react-dom/server";
import { afterEach, expect, test } from "vitest";
import { Rich, say, sayMany, take } from "../src/shared/say";
import { textOf } from "../src/shared/Lines";

afterEach(() => take("en", {}));
const GERMAN = {
  "Saved at {time}": "Um {time} gesichert",
  "{count} part_one": "{count} Teil",
  "{count} parts_one": "{count} Teil",
  "{count} parts_other": "{count} Teile",
  "<b>Stop</b> {name} now": "{name} jetzt <b>anhalten</b>",
};

test("English stands in the code", () => {
  expect(say("Saved at {time}", { time: "18:05" })).toBe("Saved at 18:05");
  expect(say("{count} of {context}", { count: 3, context: "these" })).toBe("3 of these");
  expect([0, 1, 2].map((n) => sayMany("{count} part", "{count} parts", n))).toEqual(["0 parts", "1 part", "2 parts"]);
});

test("a value is a value, whatever stands in it", () => {
  expect(say("Note: {note}", { note: "{time} $t(x) <b>y</b>" })).toBe("Note: {time} $t(x) <b>y</b>");
  const page = renderToStaticMarkup(<Rich text="<b>Stop</b> {name} now" values={{ name: "R&D <b>x</b>" }} with={{ b: <b /> }} />);
  expect(page).toBe("<b>Stop</b> R&amp;D &lt;b&gt;x&lt;/b&gt; now");
});

test("a link keeps its words", () => {
  const page = renderToStaticMarkup(<Rich text="Go <a>there</a>." with={{ a: <a href="/x" /> }} />);
  expect(page).toBe('Go <a href="/x">there</a>.');
});

test("a catalogue says it, in its own order and its own numbers", async () => {
  await take("de", GERMAN);
  expect(say("Saved at {time}", { time: "18:05" })).toBe("Um 18:05 gesichert");
  expect([1, 5].map((n) => sayMany("{count} part", "{count} parts", n))).toEqual(["1 Teil", "5 Teile"]);
  expect(say("not in the catalogue")).toBe("not in the catalogue");
  const page = renderToStaticMarkup(<Rich text="<b>Stop</b> {name} now" values={{ name: "Petrel" }} with={{ b: <b /> }} />);
  expect(page).toBe("Petrel jetzt <b>anhalten</b>");
});

test("lines are searched by what is read in them, not by their identifiers", () => {
  const row = { id: "019c3628-0000-7000-8000-000000000001", name: "Drill F", of: { size: "0.257", unit: "in" }, owned: 3 };
  const words = textOf(Object.values(row));
  expect(words).toContain("Drill F 0.257 in 3");
  expect(words).not.toContain("019c");
  expect(textOf(<b>two {<i>words</i>}</b>)).toContain("words");
});

test("a shop spells English its own way, and no value of its people", async () => {
  await take("en", {}, { centre: "center", vise: "vice" });
  expect(say("Centre of {what}, by the vise", { what: "the old centre" })).toBe("Center of the old centre, by the vice");
  expect([1, 2].map((n) => sayMany("{count} vise", "{count} vises and a centre", n))).toEqual(["1 vice", "2 vises and a center"]);
  expect(renderToStaticMarkup(<Rich text="<b>Centre</b> {name}" values={{ name: "vise" }} with={{ b: <b /> }} />)).toBe("<b>Center</b> vise");
  await take("en", {});
  expect(say("Centre")).toBe("Centre");
});
