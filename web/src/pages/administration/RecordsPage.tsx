import { sure } from "../../shared/sure";
import { moment, today } from "../../shared/time";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, DatePicker, Progress, Table } from "antd";
import dayjs from "dayjs";
import { useState } from "react";
import { NavLink, useParams, useSearchParams } from "react-router";
import { api, body, type Schema } from "../../api/client";
import { StudentSelect } from "../../shared/StudentSelect";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import "./records.css";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Name = Schema["RegisterName"];
type Entry = Schema["Entry"];

const NAMES: { id: Name; name: string; words: string }[] = [
  {
    id: "readings",
    name: say("Readings"),
    words: say("Every value measured, with its verdict. A correction is a new line that names the old one."),
  },
  { id: "decisions", name: say("Decisions"), words: say("What was decided about each part that was handed in.") },
  { id: "sign_offs", name: say("Sign-offs"), words: say("Who signed which skill for whom.") },
  { id: "withdrawals", name: say("Withdrawals"), words: say("Skills taken back, with what happened.") },
  {
    id: "safety",
    name: say("Register of safety"),
    words: say("Sign-offs, demonstrations, withdrawals, tags, stops, near misses: each line carries the hash of the one before."),
  },
  { id: "assignments", name: say("Assignments"), words: say("Which part was given to whom, in which version.") },
];

const WANTED = ["before", "after", "on", "student"] as const;

/** The registers: everything can be read and taken away as a file, nothing changed. What is shown stands in the address. */
export default function RecordsPage() {
  const { name = "readings" } = useParams();
  const me = useMe();
  const chosen = NAMES.find((n) => n.id === name) ?? sure(NAMES[0]);
  const [params, setParams] = useSearchParams();
  const wanted = Object.fromEntries(WANTED.flatMap((key) => (params.get(key) ? [[key, params.get(key)]] : []))) as Record<string, string>;
  const { data, error, isFetching } = useQuery({ ...queries.register(chosen.id, wanted), placeholderData: (was) => was });
  const go = (change: Partial<Record<(typeof WANTED)[number], string>>) => {
    const kept = wanted.student ? { student: wanted.student } : {};
    const next = Object.entries({ ...kept, ...change }).filter(([, value]) => value);
    setParams(Object.fromEntries(next), { replace: true });
  };
  return (
    <main className="page stack">
      <div className="between">
        <h1>{say("Records")}</h1>
        <a className="button" href={`/api/registers/${chosen.id}/file`} download>
          {say("Download as CSV")}
        </a>
      </div>
      <nav className="registers" aria-label={say("Registers")}>
        {NAMES.map((n) => (
          <NavLink key={n.id} to={`/records/${n.id}`} className={n.id === chosen.id ? "active" : ""}>
            {n.name}
          </NavLink>
        ))}
      </nav>
      <p className="muted">{chosen.words}</p>
      {me.role === "instructor" && chosen.id === "readings" && (
        <p className="caution">{say("Readings of parts that you have not checked yet are left out here, so that your check stays blind.")}</p>
      )}
      {chosen.id === "safety" && <Holds />}
      {error && <p className="error">{error.message}</p>}
      <div className="row register-choice">
        <label className="asked">
          {say("Student")}
          <StudentSelect value={wanted.student ?? ""} onChange={(student) => go({ student })} />
        </label>
        <label className="asked">
          {say("Up to the day")}
          <DatePicker
            value={wanted.on ? dayjs(wanted.on) : null}
            maxDate={dayjs(today())}
            format="D MMMM YYYY"
            onChange={(day) => go({ on: day ? day.format("YYYY-MM-DD") : "" })}
          />
        </label>
      </div>
      <Table<Entry>
        size="small"
        rowKey="id"
        loading={isFetching && !data}
        dataSource={data?.entries}
        pagination={false}
        columns={[
          { title: say("When"), dataIndex: "at", width: 200, render: (at: string) => moment(at) },
          { title: say("Student"), dataIndex: "student", width: 160 },
          { title: say("What"), dataIndex: "what" },
          { title: say("Detail"), dataIndex: "detail" },
          { title: say("By"), dataIndex: "by", width: 160 },
        ]}
        locale={{ emptyText: say("Nothing is recorded here.") }}
      />
      <div className="row" role="group" aria-label={say("Pages")}>
        <Button disabled={!data?.newer} onClick={() => go({})}>
          {say("Newest")}
        </Button>
        <Button disabled={!data?.newer} onClick={() => go({ after: data?.newer ?? "" })}>
          {say("Newer")}
        </Button>
        <Button disabled={!data?.older} onClick={() => go({ before: data?.older ?? "" })}>
          {say("Older")}
        </Button>
      </div>
    </main>
  );
}

/** What was checked at this look. */
function sinceWhen(state: Schema["RegisterState"]): string {
  if (state.checked_from === 0) return say("Checked now from the first entry on. ");
  if (state.checked_from >= state.entries) return say("Nothing was added since the last check. ");
  return say("Checked now from entry {checked_from} on. ", { checked_from: state.checked_from + 1 });
}

/** Whether the register holds: its chain, its seals, the heads taken away, the rows it seals. */
function Holds() {
  const { data, error } = useQuery(queries.registerState());
  const [walk, setWalk] = useState<Schema["RegisterWalk"] | null>(null);
  const client = useQueryClient();
  const whole = useMutation({
    mutationFn: async () => {
      let at = await body(api.POST("/api/register/walk", { body: { restart: true } }));
      setWalk(at);
      while (!at.done && at.breaks.length === 0) {
        at = await body(api.POST("/api/register/walk", { body: { restart: false } }));
        setWalk(at);
      }
      await client.invalidateQueries({ queryKey: queries.registerState().queryKey });
    },
  });
  if (!data) return <p className={error ? "error" : "muted"}>{error ? error.message : say("The register is being checked…")}</p>;
  const breaks = walk?.breaks.length ? walk.breaks : data.breaks;
  return (
    <section className={breaks.length === 0 ? "register-holds" : "error"} role="status">
      <b className="head">
        {breaks.length === 0
          ? say("The register holds: {entries} entries, unbroken.", { entries: data.entries })
          : say("The register does not hold: {count} places.", { count: breaks.length })}
      </b>
      {breaks.map((b) => (
        <div key={b}>{b}</div>
      ))}
      <p className="small muted">
        <Rich
          text={"{sinceWhen}{moment}{taken_away}Head now: <code>{digest}</code>"}
          values={{
            sinceWhen: sinceWhen(data),
            moment: data.whole_at
              ? say("The whole was last checked on {moment}, up to entry {whole_entries}. ", {
                  moment: moment(data.whole_at),
                  whole_entries: data.whole_entries,
                })
              : say("The whole has not been checked from this page yet. "),
            taken_away:
              data.taken_away > 0
                ? say("Its head was written outside the database up to entry {taken_away}. ", { taken_away: data.taken_away })
                : say("No head was written outside the database yet. "),
            digest: data.digest.slice(0, 16),
          }}
          with={{ code: <code /> }}
        />
      </p>
      <Refused by={whole.error} />
      {whole.isPending && walk && <Progress percent={Math.floor((100 * walk.seq) / Math.max(walk.entries, 1))} />}
      <Button loading={whole.isPending} onClick={() => whole.mutate()}>
        {say("Check the whole register")}
      </Button>
    </section>
  );
}
