import { sure } from "../../shared/sure";
import { moment } from "../../shared/time";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, DatePicker, Progress, Table } from "antd";
import dayjs from "dayjs";
import { useState } from "react";
import { NavLink, useParams, useSearchParams } from "react-router";
import { api, body, wordsFor, type Schema } from "../../api/client";
import { StudentSelect } from "../../shared/StudentSelect";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import "./records.css";

type Name = Schema["RegisterName"];
type Entry = Schema["Entry"];

const NAMES: { id: Name; name: string; words: string }[] = [
  {
    id: "readings",
    name: "Readings",
    words: "Every value measured, with its verdict. A correction is a new line that names the old one.",
  },
  { id: "decisions", name: "Decisions", words: "What was decided about each part that was handed in." },
  { id: "sign_offs", name: "Sign-offs", words: "Who signed which skill for whom." },
  { id: "withdrawals", name: "Withdrawals", words: "Skills taken back, with what happened." },
  {
    id: "safety",
    name: "Register of safety",
    words: "Sign-offs, demonstrations, withdrawals, tags, stops, near misses: each line carries the hash of the one before.",
  },
  { id: "assignments", name: "Assignments", words: "Which part was given to whom, in which version." },
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
        <h1>Records</h1>
        <a className="button" href={`/api/registers/${chosen.id}/file`} download>
          Download as CSV
        </a>
      </div>
      <nav className="registers" aria-label="Registers">
        {NAMES.map((n) => (
          <NavLink key={n.id} to={`/records/${n.id}`} className={n.id === chosen.id ? "active" : ""}>
            {n.name}
          </NavLink>
        ))}
      </nav>
      <p className="muted">{chosen.words}</p>
      {me.role === "instructor" && chosen.id === "readings" && (
        <p className="caution">Readings of parts that you have not checked yet are left out here, so that your check stays blind.</p>
      )}
      {chosen.id === "safety" && <Holds />}
      {error && <p className="error">{error.message}</p>}
      <div className="row register-choice">
        <label className="asked">
          Student
          <StudentSelect value={wanted.student ?? ""} onChange={(student) => go({ student })} />
        </label>
        <label className="asked">
          Up to the day
          <DatePicker
            value={wanted.on ? dayjs(wanted.on) : null}
            maxDate={dayjs()}
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
          { title: "When", dataIndex: "at", width: 200, render: (at: string) => moment(at) },
          { title: "Student", dataIndex: "student", width: 160 },
          { title: "What", dataIndex: "what" },
          { title: "Detail", dataIndex: "detail" },
          { title: "By", dataIndex: "by", width: 160 },
        ]}
        locale={{ emptyText: "Nothing is recorded here." }}
      />
      <div className="row" role="group" aria-label="Pages">
        <Button disabled={!data?.newer} onClick={() => go({})}>
          Newest
        </Button>
        <Button disabled={!data?.newer} onClick={() => go({ after: data?.newer ?? "" })}>
          Newer
        </Button>
        <Button disabled={!data?.older} onClick={() => go({ before: data?.older ?? "" })}>
          Older
        </Button>
      </div>
    </main>
  );
}

/** What was checked at this look. */
function sinceWhen(state: Schema["RegisterState"]): string {
  if (state.checked_from === 0) return "Checked now from the first entry on. ";
  if (state.checked_from >= state.entries) return "Nothing was added since the last check. ";
  return `Checked now from entry ${state.checked_from + 1} on. `;
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
  if (!data) return <p className={error ? "error" : "muted"}>{error ? error.message : "The register is being checked…"}</p>;
  const breaks = walk?.breaks.length ? walk.breaks : data.breaks;
  return (
    <section className={breaks.length === 0 ? "register-holds" : "error"} role="status">
      <b className="head">
        {breaks.length === 0 ? `The register holds: ${data.entries} entries, unbroken.` : `The register does not hold: ${breaks.length} places.`}
      </b>
      {breaks.map((b) => (
        <div key={b}>{b}</div>
      ))}
      <p className="small muted">
        {sinceWhen(data)}
        {data.whole_at
          ? `The whole was last checked on ${moment(data.whole_at)}, up to entry ${data.whole_entries}. `
          : "The whole has not been checked from this page yet. "}
        {data.taken_away > 0 ? `Its head was written outside the database up to entry ${data.taken_away}. ` : "No head was taken away yet. "}
        Head now: <code>{data.digest.slice(0, 16)}</code>
      </p>
      {whole.error && <p className="error">{wordsFor(whole.error)}</p>}
      {whole.isPending && walk && <Progress percent={Math.floor((100 * walk.seq) / Math.max(walk.entries, 1))} />}
      <Button loading={whole.isPending} onClick={() => whole.mutate()}>
        Check the whole register
      </Button>
    </section>
  );
}
