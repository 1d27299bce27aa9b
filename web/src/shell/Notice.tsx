import { Button, Checkbox } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, newId } from "../api/client";
import { queries } from "../api/queries";
import { Loading } from "../shared/Loading";
import { useMe } from "../shared/me";
import { useAct } from "../shared/useAct";
import { say } from "../shared/say";
import { Refused } from "../shared/Refused";

/** The safety notice: read it, then sign it; the rest of Incudo opens after that. */
export function Notice() {
  const me = useMe();
  const client = useQueryClient();
  const { data, error: failed } = useQuery(queries.notice());
  const [read, setRead] = useState(false);
  const [id] = useState(newId);
  const { act, error, busy } = useAct();
  if (!data) return <Loading error={failed} />;
  const sign = () =>
    act(async () => {
      await body(api.POST("/api/notice", { body: { id, version: data.version } }));
      await client.invalidateQueries({ queryKey: queries.me().queryKey });
    });
  return (
    <main className="page notice">
      <section className="card pad stack">
        <h1>{data.title}</h1>
        <ol className="notice-lines">
          {data.lines.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ol>
        <Checkbox className="row notice-read" checked={read} onChange={(e) => setRead(e.target.checked)}>
          <span>{say("I have read this and asked about what I did not understand.")}</span>
        </Checkbox>
        <Refused words={error} />
        <Button type="primary" size="large" disabled={!read || busy} onClick={() => void sign()}>
          {say("Sign as {name}", { name: me.name })}
        </Button>
        <p className="small muted">
          {say("Your name, the day and this version (no. {version}) go into the shop's register.", { version: data.version })}
        </p>
      </section>
    </main>
  );
}
