import { PickFile } from "../../shared/PickFile";
import { LIST_FILES, listText } from "../../shared/spreadsheet";
import { Waiting } from "../../shared/Loading";
import { Button, Input, Select } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { Lines } from "../../shared/Lines";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Report = Schema["TableReport"];
type Info = Schema["TableInfo"];

/** Registers as files: out as CSV, in again after a report of every line. */
export function Tables() {
  const me = useMe();
  const { data, error } = useQuery(queries.stock());
  const [chosen, setChosen] = useState<Info["name"]>("cutters");
  if (!data) return <Waiting error={error} />;
  return (
    <div className="crib-columns">
      <section className="card">
        <h2 className="pad">{say("Tables")}</h2>
        <Lines
          rows={data.tables}
          rowKey={(t) => t.name}
          showHeader={false}
          columns={[
            {
              key: "0",
              title: "",
              render: (_, t) => (
                <>
                  <b className="head">{say(t.name)}</b>
                  <div className="small muted" translate="no">
                    {t.columns.join(", ")}
                  </div>
                </>
              ),
            },
            { key: "1", title: "", className: "num", render: (_, t) => <>{say("{rows} rows", { rows: t.rows })}</> },
            {
              key: "2",
              title: "",
              className: "num",
              render: (_, t) => (
                <a className="button" href={`/api/tables/${t.name}.csv`} download={`${t.name}.csv`}>
                  {say("Save as CSV")}
                </a>
              ),
            },
          ]}
        />
        <p className="pad small muted">
          {say("Threads, drills and ways to hold a cutter (holders) are standards and rules of thumb: they can be exported but not imported.")}
        </p>
      </section>
      {me.role === "instructor" && <TakeIn key={chosen} tables={data.tables.filter((t) => t.changing)} name={chosen} onChoose={setChosen} />}
    </div>
  );
}

function TakeIn({ tables, name, onChoose }: { tables: readonly Info[]; name: Info["name"]; onChoose: (name: Info["name"]) => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [text, setText] = useState("");
  const [report, setReport] = useState<Report | null>(null);
  const check = (given: string) =>
    act(async () => setReport(await body(api.POST("/api/tables/{table}/check", { params: { path: { table: name } }, body: { text: given } }))));
  const take = () =>
    act(async () => {
      setReport(await body(api.PUT("/api/tables/{table}", { params: { path: { table: name } }, body: { text } })));
      await client.invalidateQueries({ queryKey: ["stock"] });
      await client.invalidateQueries({ queryKey: ["reckonings"] });
      await client.invalidateQueries({ queryKey: queries.workholding().queryKey });
    });
  const open = (file: File) =>
    act(async () => {
      setReport(null);
      const read = await listText(file);
      setText(read);
      setReport(await body(api.POST("/api/tables/{table}/check", { params: { path: { table: name } }, body: { text: read } })));
    });
  return (
    <section className="card pad stack" aria-label={say("Import a table")}>
      <h2>{say("Import a table")}</h2>
      <div className="crib-filter">
        <label className="asked">
          {say("Table")}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={name}
            onChange={(picked) => onChoose(picked)}
            options={[...tables.map((t) => ({ value: t.name, label: t.name }))]}
          />
        </label>
        <PickFile label={say("CSV or XLSX file")} accept={LIST_FILES} onFile={(file) => void open(file)} />
      </div>
      <label className="asked">
        {say("or its text")}
        <Input.TextArea className="crib-text" value={text} rows={5} spellCheck={false} onChange={(e) => setText(e.target.value)} />
      </label>
      <div className="row">
        <Button disabled={busy || !text.trim()} onClick={() => void check(text)}>
          {say("Preview")}
        </Button>
        <Button
          type="primary"
          disabled={busy || !report || report.taken || report.refused > 0 || report.new + report.changed === 0}
          onClick={() => void take()}
        >
          {say("Import")}
        </Button>
      </div>
      <Refused words={error} />
      {report && (
        <>
          <p role="status">
            {report.taken && <b>{say("Imported. ")}</b>}
            {say("{new} new, {changed} changed, {refused} refused, {count} as they are. Rows that the file does not name stay.", {
              new: report.new,
              changed: report.changed,
              refused: report.refused,
              count: report.lines.length - report.new - report.changed - report.refused,
            })}
          </p>
          <Lines
            rows={report.lines.filter((l) => l.status !== "same").slice(0, 100)}
            rowKey={(l) => l.number}
            showHeader={false}
            columns={[
              { key: "0", title: "", className: "num", render: (_, l) => <>{say("line {number}", { number: l.number })}</> },
              { key: "1", title: "", render: (_, l) => l.name || "?" },
              {
                key: "2",
                title: "",
                render: (_, l) => (l.status === "refused" ? <span className="needs">{say("refused")}</span> : l.status),
              },
              { key: "3", title: "", className: "small", render: (_, l) => l.words.join("; ") },
            ]}
          />
        </>
      )}
    </section>
  );
}
