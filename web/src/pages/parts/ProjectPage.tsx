import { Waiting } from "../../shared/Loading";
import { Button } from "antd";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { Link, useParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Plate } from "../../instruments/Drawing";
import { Length } from "../../instruments/length";
import { useMe } from "../../shared/me";
import { Drawn } from "../jobcards/Entry";
import { when } from "../../shared/time";
import { Change } from "./Change";
import "../jobcards/jobcard.css";
import "./projects.css";
import { Lines } from "../../shared/Lines";
import { PAPERS } from "../../shared/papers";
import { say, sayMany } from "../../shared/say";

const Assign = lazy(() => import("./Assign"));

/** One part: its drawing and characteristics, who may be given it, its versions. */
export default function ProjectPage() {
  const { project = "" } = useParams();
  const me = useMe();
  const { data, error } = useQuery(queries.project(project));
  const [chosen, setChosen] = useState<number | null>(null);
  const [changing, setChanging] = useState(false);
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  return (
    <main className="page stack">
      <div className="between">
        <div>
          <h1>{data.name}</h1>
          <p className="muted">{data.about}</p>
        </div>
        <div className="row wraps no-print">
          <a className="button" href={`/api/versions/${data.version}/drawing.svg`} target="_blank" rel="noreferrer">
            {say("SVG")}
          </a>
          <a className="button" href={`/api/versions/${data.version}/drawing.dxf`} download>
            {say("DXF")}
          </a>
          {PAPERS.map((paper) => (
            <a key={paper} className="button" href={`/api/versions/${data.version}/drawing.pdf?paper=${paper}`} target="_blank" rel="noreferrer">
              {say("Print, {paper}", { paper })}
            </a>
          ))}
          {me.role === "instructor" && data.of_features && (
            <>
              <Link className="button" to={`/parts/${data.id}/change`}>
                {say("Change this part")}
              </Link>
              <Link className="button" to={`/parts/new?from=${data.id}`}>
                {say("Copy")}
              </Link>
            </>
          )}
          {me.role === "instructor" && !data.of_features && (
            <Button onClick={() => setChanging(!changing)}>{changing ? say("Leave it as it is") : say("Change this part")}</Button>
          )}
          {me.role === "instructor" && <Shelf project={data} />}
        </div>
      </div>
      {changing && <Change project={data} onSaved={() => setChanging(false)} />}
      <div className="project-columns">
        <div className="stack">
          <Plate version={data.version} chosen={chosen} onChoose={setChosen} />
          <Facts project={data} />
        </div>
        <div className="stack">
          <section className="card">
            <Rows rows={data.rows} chosen={chosen} onChoose={setChosen} />
          </section>
          {me.role !== "student" && (
            <Suspense fallback={null}>
              <Assign project={data} />
            </Suspense>
          )}
          <section className="card pad stack">
            <h3>{say("Versions")}</h3>
            {data.versions.map((v) => (
              <p key={v.id} className="small">
                <b>{v.number}</b> {v.change || say("no words")}{" "}
                <span className="muted">
                  {v.made_by}, {when(v.made_at)}
                  {v.given > 0 && `, ${sayMany("given {count} time", "given {count} times", v.given)}`}
                </span>
              </p>
            ))}
            <p className="small muted">{say("Job cards keep the version they were given with.")}</p>
          </section>
        </div>
      </div>
    </main>
  );
}

/** Takes a part out of the library, or puts it back. */
function Shelf({ project }: { project: Schema["ProjectDetail"] }) {
  const client = useQueryClient();
  const shelving = useMutation({
    mutationFn: () =>
      body(
        api.POST("/api/projects/{project}/shelf", {
          params: { path: { project: project.id } },
          body: { id: newId(), retired: !project.retired },
        }),
      ),
    onSuccess: async (fresh) => {
      client.setQueryData(queries.project(project.id).queryKey, fresh);
      await client.invalidateQueries({ queryKey: ["projects"] });
    },
  });
  return (
    <Button disabled={shelving.isPending} onClick={() => shelving.mutate()}>
      {project.retired ? say("Put it back") : say("Retire")}
    </Button>
  );
}

function Facts({ project }: { project: Schema["ProjectDetail"] }) {
  return (
    <section className="card pad small stack">
      <p>
        <span className="muted">{say("From ")}</span>
        {project.stock}, {project.material}
      </p>
      <p>
        <span className="muted">{say("Needs ")}</span>
        {project.needs.join(", ")}
      </p>
      {project.gives.map((g) => (
        <p key={g.skill}>
          <span className="muted">{say("Gives evidence for ")}</span>
          {g.skill} <span className="muted">{say("by characteristics {listed}", { listed: g.characteristics.join(", ") })}</span>
        </p>
      ))}
    </section>
  );
}

export function Rows({ rows, chosen, onChoose }: { rows: readonly Schema["RowView"][]; chosen: number | null; onChoose: (number: number) => void }) {
  return (
    <Lines
      className="pointed"
      rows={rows}
      rowKey={(r) => r.number}
      onRow={(r) => ({
        tabIndex: 0,
        className: r.number === chosen ? "on" : "",
        onClick: () => onChoose(r.number),
        onMouseEnter: () => onChoose(r.number),
        onKeyDown: (e) => e.key === "Enter" && onChoose(r.number),
      })}
      columns={[
        { key: "0", title: say("No."), render: (_, r) => r.number },
        { key: "1", title: say("Characteristic"), render: (_, r) => r.name },
        { key: "2", title: say("Drawing"), className: "num", render: (_, r) => <Drawn c={r} /> },
        {
          key: "3",
          title: say("Limits"),
          className: "num",
          render: (_, r) =>
            r.callout ? (
              say("by gauge or specimen")
            ) : r.lower && r.upper ? (
              <>
                <Length of={r.lower} bare /> {say("to")} <Length of={r.upper} />
              </>
            ) : (
              <>
                {r.upper ? say("at most ") : say("at least ")}
                <Length of={r.upper ?? r.lower} />
              </>
            ),
        },
      ]}
    />
  );
}
