import { useQuery } from "@tanstack/react-query";
import { Tooltip } from "antd";
import { Fragment, type ReactNode } from "react";
import { queries } from "../api/queries";

/** A text in which words that a student meets first say what they mean when they are touched. Each word once. */
export function Explained({ text }: { text: string }) {
  const { data } = useQuery(queries.glossary());
  const terms = (data?.terms ?? []).filter((t) => t.tip);
  if (terms.length === 0) return text;
  return <>{marked(text, terms)}</>;
}

type Term = { word: string; means: string };

/** Cut a text at the first place of each word; longer words are looked for first, plurals are found too. */
export function marked(text: string, terms: readonly Term[]): ReactNode[] {
  const by = new Map(terms.map((t) => [t.word.toLowerCase(), t]));
  const words = [...by.keys()].sort((a, b) => b.length - a.length).map((w) => w.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  const pieces = text.split(new RegExp(`\\b(${words.join("|")})(?=(?:e?s)?\\b)`, "gi"));
  const seen = new Set<string>();
  return pieces.map((piece, i) => {
    const name = piece.toLowerCase();
    const term = i % 2 === 1 && !seen.has(name) ? by.get(name) : undefined;
    if (!term) return <Fragment key={i}>{piece}</Fragment>;
    seen.add(name);
    return (
      <Tooltip key={i} title={term.means} trigger={["hover", "focus", "click"]}>
        <dfn className="term" tabIndex={0}>
          {piece}
        </dfn>
      </Tooltip>
    );
  });
}
