import i18next from "i18next";
import type { ReactElement } from "react";
import { Trans } from "react-i18next/TransWithoutContext";
import type { Schema } from "../api/client";
import { setZone } from "./zone";

/**
 * Every text of the pages: whole templates with named values in braces. English stands in the code; another language
 * comes from the server's catalogue (docs/languages.md) before any page is loaded.
 */
type Values = Record<string, string | number | null | undefined>;

type Catalogue = Schema["Words"];

const PSEUDO = "en-XA";
/** Milliseconds that a page waits for its language before it is shown in English. */
const PATIENCE = 8000;

const language = i18next.createInstance();
language.use({ type: "postProcessor", name: "bracketed", process: bracketed });
void language.init({
  lng: "en",
  resources: {},
  initAsync: false,
  keySeparator: false,
  nsSeparator: false,
  interpolation: { prefix: "{", suffix: "}", escapeValue: false, skipOnVariables: true },
  nsMode: "fallback",
  showSupportNotice: false,
} as Parameters<typeof language.init>[0]);

/** A text with its values. */
export function say(template: string, values: Values = {}): string {
  return language.t(spelled(template), { replace: values });
}

/** A text about so many of something: `one` for a single one, `many` otherwise; `{count}` is the number. */
export function sayMany(one: string, many: string, count: number, values: Values = {}): string {
  return language.t(spelled(many), { count, defaultValue_one: spelled(one), defaultValue_other: spelled(many), replace: { count, ...values } });
}

/** A text with marked parts in it: `<b>…</b>` in the template is the element `b` of `with`. */
export function Rich({ text, values = {}, with: parts }: { text: string; values?: Values; with: Record<string, ReactElement> }) {
  return (
    <Trans
      i18n={language}
      t={language.t}
      i18nKey={spelled(text)}
      defaults={spelled(text)}
      components={parts}
      shouldUnescape
      tOptions={{ replace: values, interpolation: { prefix: "{", suffix: "}", escapeValue: true } }}
    />
  );
}

/** The language of this page, for numbers and days. */
export function languageNow(): string {
  return language.language;
}

/** Take the language that the browser asks for, if there is a catalogue for it; before any page is loaded. */
export async function startLanguage(): Promise<void> {
  try {
    const answer = await fetch("/api/language", { signal: AbortSignal.timeout(PATIENCE) });
    const { code, messages, spelling, zone } = (await answer.json()) as Catalogue;
    await take(code, messages, spelling);
    setZone(zone);
    document.documentElement.lang = code;
  } catch {
    // without the server the pages that are kept stay English
  }
}

/** Speak a language from now on. */
export async function take(code: string, messages: Record<string, string>, spelling: Record<string, string> = {}): Promise<void> {
  written = spelling;
  words = new RegExp(`\\b(${Object.keys(spelling).join("|")})\\b`, "gi");
  language.options.postProcess = code === PSEUDO ? ["bracketed"] : [];
  language.addResourceBundle(code, "translation", messages, false, true);
  await language.changeLanguage(code);
}

let written: Record<string, string> = {};
let words = /$^/;

/** A template as the shop spells English; values stay as they are. */
function spelled(template: string): string {
  return template.replace(words, (found) => {
    const word = written[found.toLowerCase()] ?? found;
    return /^[A-Z]/.test(found) ? word.charAt(0).toUpperCase() + word.slice(1) : word;
  });
}

function bracketed(text: string): string {
  const letters = text.replace(/<[^>]*>/g, "").length;
  const more = "~".repeat(Math.floor(letters / 3)).replace(/~{6}(?=~)/g, "$& ");
  return `[${text}${more}]`;
}
