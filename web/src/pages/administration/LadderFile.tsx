import { sure } from "../../shared/sure";
import { PickFile } from "../../shared/PickFile";
import { Button } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useAct } from "../../shared/useAct";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

/** The skill graph as a file: taken away, changed elsewhere, brought back after a check. */
export function LadderFile({ mayChange }: { mayChange: boolean }) {
  const client = useQueryClient();
  const { data } = useQuery(queries.skillGraph());
  const { act, error, busy } = useAct();
  const [text, setText] = useState("");
  const [check, setCheck] = useState<Schema["GraphCheck"] | null>(null);
  const read = async (file: File | undefined) => {
    setCheck(null);
    if (!file) return;
    const content = await file.text();
    setText(content);
    await act(async () => setCheck(await body(api.POST("/api/skill-graph/check", { body: { file: content } }))));
  };
  const save = () =>
    act(async () => {
      await body(api.PUT("/api/skill-graph", { body: { file: text, number: sure(data).number } }));
      setCheck(null);
      setText("");
      await client.invalidateQueries();
    });
  const changes = check
    ? [...check.added.map((s) => `new: ${s}`), ...check.removed.map((s) => `gone: ${s}`), ...check.changed.map((s) => `changed: ${s}`)]
    : [];
  return (
    <section className="card pad stack">
      <div className="between">
        <h2>{say("Skills and questions")}</h2>
        <span className="muted small">
          {say("skill graph, version")} {data?.number}
        </span>
      </div>
      <div className="row">
        <Link className="button" to="/ladder">
          {say("The ladder")}
        </Link>
        <Link className="button" to="/questions">
          {say("Question banks")}
        </Link>
        {data && (
          <a className="button" download="skills.json" href={`data:application/json;charset=utf-8,${encodeURIComponent(data.file)}`}>
            {say("Download the skill graph (JSON)")}
          </a>
        )}
        {mayChange && <PickFile label={say("Import a skill graph")} accept=".json,application/json" onFile={(file) => void read(file)} />}
      </div>
      <Refused words={error} />
      {check && (
        <div className="stack">
          <p>
            {say("{skills} skills, no faults. {count}", {
              skills: check.skills,
              count: changes.length === 0 ? say("Nothing is different.") : say("{count} differences:", { count: changes.length }),
            })}
          </p>
          <ul className="points small">
            {changes.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          {changes.length > 0 && (
            <Button type="primary" disabled={busy} onClick={() => void save()}>
              {say("Save as version {number}", { number: (data?.number ?? 0) + 1 })}
            </Button>
          )}
        </div>
      )}
    </section>
  );
}
