import { PAPERS } from "../../shared/papers";
import { useQuery } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { queries } from "../../api/queries";
import { Waiting } from "../../shared/Loading";
import { say } from "../../shared/say";
import "./words.css";

/** The words of the trade, found by any letters of them or of what they mean. */
export default function WordsPage() {
  const { data, error } = useQuery(queries.glossary());
  const [search, setSearch] = useSearchParams();
  const [text, setText] = useState(search.get("find") ?? "");
  if (!data) return <Waiting error={error} />;
  const wanted = text.trim().toLowerCase();
  const named = (t: (typeof data.terms)[number]) => [t.word, ...t.also].some((w) => w.toLowerCase().includes(wanted));
  const hits = [...data.terms.filter(named), ...data.terms.filter((t) => !named(t) && t.means.toLowerCase().includes(wanted))];
  return (
    <main className="page stack">
      <div className="between">
        <h1>{say("Words of the trade")}</h1>
        <span className="row">
          {PAPERS.map((paper) => (
            <Button key={paper} href={`/api/glossary.pdf?paper=${paper}`} target="_blank">
              {say("Print, {paper}", { paper })}
            </Button>
          ))}
        </span>
      </div>
      <Input
        allowClear
        className="words-find"
        value={text}
        maxLength={60}
        placeholder={say("Which word?")}
        aria-label={say("Which word?")}
        onChange={(e) => {
          setText(e.target.value);
          setSearch(e.target.value ? { find: e.target.value } : {}, { replace: true });
        }}
      />
      <dl className="words">
        {hits.map((t) => (
          <div key={t.key} className="card pad" data-word={t.key}>
            <dt>{t.word}</dt>
            <dd>
              {t.means}
              {t.also.length > 0 && <span className="small muted">{say("Also called: {names}.", { names: t.also.join(", ") })}</span>}
            </dd>
          </div>
        ))}
      </dl>
      {hits.length === 0 && <p className="muted">{say("No word fits that. Ask your instructor, and tell us.")}</p>}
    </main>
  );
}
