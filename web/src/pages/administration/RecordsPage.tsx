import { sure } from "../../shared/sure";
import { moment } from "../../shared/time";
import { useQuery } from "@tanstack/react-query";
import { Table } from "antd";
import { useState } from "react";
import { NavLink, useParams } from "react-router";
import type { Schema } from "../../api/client";
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

/** The registers: everything can be read and taken away as a file, nothing changed. */
export default function RecordsPage() {
  const { name = "readings" } = useParams();
  const me = useMe();
  const chosen = NAMES.find((n) => n.id === name) ?? sure(NAMES[0]);
  const [page, setPage] = useState(1);
  const { data, error, isFetching } = useQuery({ ...queries.register(chosen.id, page), placeholderData: (was) => was });
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
          <NavLink key={n.id} to={`/records/${n.id}`} className={n.id === chosen.id ? "active" : ""} onClick={() => setPage(1)}>
            {n.name}
          </NavLink>
        ))}
      </nav>
      <p className="muted">
        {chosen.words} {data && `${data.total} ${data.total === 1 ? "line" : "lines"}.`}
      </p>
      {me.role === "instructor" && chosen.id === "readings" && (
        <p className="caution">Readings of parts that you have not checked yet are left out here, so that your check stays blind.</p>
      )}
      {chosen.id === "safety" && <Holds />}
      {error && <p className="error">{error.message}</p>}
      <>
        <Table<Entry>
          size="small"
          rowKey="id"
          loading={isFetching && !data}
          dataSource={data?.entries}
          pagination={{
            current: page,
            total: data?.total ?? 0,
            pageSize: 50,
            showSizeChanger: false,
            onChange: setPage,
          }}
          columns={[
            { title: "When", dataIndex: "at", width: 200, render: (at: string) => moment(at) },
            { title: "Student", dataIndex: "student", width: 160 },
            { title: "What", dataIndex: "what" },
            { title: "Detail", dataIndex: "detail" },
            { title: "By", dataIndex: "by", width: 160 },
          ]}
          locale={{ emptyText: "Nothing is recorded here yet." }}
        />
      </>
    </main>
  );
}

/** Whether the register holds: its chain, its seals, the heads taken away, the rows it seals. */
function Holds() {
  const { data, error } = useQuery(queries.registerState());
  if (!data) return <p className={error ? "error" : "muted"}>{error ? error.message : "The register is being checked…"}</p>;
  return (
    <section className={data.holds ? "register-holds" : "error"} role="status">
      <b className="head">
        {data.holds ? `The register holds: ${data.entries} entries, unbroken.` : `The register does not hold: ${data.breaks.length} places.`}
      </b>
      {data.breaks.map((b) => (
        <div key={b}>{b}</div>
      ))}
      <p className="small muted">
        {data.taken_away > 0 ? `Its head was written outside the database up to entry ${data.taken_away}. ` : "No head was taken away yet. "}
        Head now: <code>{data.digest.slice(0, 16)}</code>
      </p>
    </section>
  );
}
