import { sure } from "../../shared/sure";
import { today } from "../../shared/time";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, DatePicker, Select } from "antd";
import dayjs, { type Dayjs } from "dayjs";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { groupOptions } from "../../shared/groupOptions";
import { useMe } from "../../shared/me";
import { Rich, say } from "../../shared/say";
import { GroupPlans } from "../planning/GroupPlans";
import { SawList } from "./SawList";
import { Refused } from "../../shared/Refused";

/** Who is ready for this part, who is not and why, and giving it to one. */
export default function Assign({ project }: { project: Schema["ProjectDetail"] }) {
  const me = useMe();
  const client = useQueryClient();
  const [machine, setMachine] = useState("");
  const [students, setStudents] = useState<string[]>([]);
  const [due, setDue] = useState<Dayjs | null>(null);
  const [ids, setIds] = useState<Record<string, string>>({});
  const shop = useQuery(queries.shop());
  const [group, setGroup] = useState("");
  const { data } = useQuery(queries.candidates(project.id, machine, group));
  const chosen = (data?.candidates ?? []).filter((c) => students.includes(c.student.id));
  const lacking = chosen.filter((c) => c.missing.length > 0);
  const choose = (next: string[]) => {
    setStudents(next);
    // one id for each, kept while they stay chosen: sent again it is given once
    setIds(Object.fromEntries(next.map((s) => [s, ids[s] ?? newId()])));
  };
  const giving = useMutation({
    mutationFn: () =>
      body(
        api.POST("/api/givings", {
          body: {
            version: project.version,
            machine: machine || null,
            due: due?.format("YYYY-MM-DD") ?? null,
            to: chosen.map((c) => ({ id: sure(ids[c.student.id]), student: c.student.id, not_before_signed: c.missing.length > 0 })),
          },
        }),
      ),
    onSuccess: async () => {
      choose([]);
      await client.invalidateQueries();
    },
  });
  const sorted = data?.candidates.toSorted((a, b) => a.missing.length - b.missing.length);
  return (
    <>
      <section className="card pad stack no-print">
        <h2>{say("Assign to students")}</h2>
        <div className="row">
          <label className="asked grow">
            {say("Group")}
            <Select
              value={data?.group?.id ?? ""}
              onChange={setGroup}
              showSearch={{ optionFilterProp: "label" }}
              options={data ? groupOptions(data) : []}
            />
          </label>
          <label className="asked grow">
            {say("On machine")}
            <Select
              value={machine}
              onChange={setMachine}
              options={[{ value: "", label: say("any machine") }, ...(shop.data?.machines ?? []).map((m) => ({ value: m.id, label: m.name }))]}
            />
          </label>
          <label className="asked grow">
            {say("Due")}
            <DatePicker value={due} onChange={setDue} minDate={dayjs(today())} format="D MMMM YYYY" />
          </label>
        </div>
        <div className="row wraps">
          <Button size="small" disabled={!data} onClick={() => choose((data?.candidates ?? []).filter((c) => !c.at_work).map((c) => c.student.id))}>
            {say("Everybody who has not had it")}
          </Button>
          <Button
            size="small"
            disabled={!data}
            onClick={() => choose((data?.candidates ?? []).filter((c) => !c.at_work && c.missing.length === 0).map((c) => c.student.id))}
          >
            {say("Everybody who is ready")}
          </Button>
          <Button size="small" disabled={students.length === 0} onClick={() => choose([])}>
            {say("Nobody")}
          </Button>
        </div>
        <div className="candidates" role="group" aria-label={say("Students")}>
          {sorted?.map((c) => (
            <Button
              key={c.student.id}
              type="text"
              className="plain candidate"
              aria-pressed={students.includes(c.student.id)}
              onClick={() => choose(students.includes(c.student.id) ? students.filter((x) => x !== c.student.id) : [...students, c.student.id])}
            >
              <span className="grow">
                <b className="head">{c.student.name}</b>
                <span className="small muted">
                  {c.missing.length ? c.missing.map((m) => `${m.name}: ${m.reason}`).join("; ") : say("has every skill it needs")}
                </span>
              </span>
              {c.at_work && <span className="small muted">{say("has had it")}</span>}
              {c.missing.length > 0 && <span className="needs">{say("{count} missing", { count: c.missing.length })}</span>}
            </Button>
          ))}
        </div>
        <Refused by={giving.error} />
        {giving.data && (
          <div role="status">
            {giving.data.given.map((g) => (
              <p key={g.assignment}>
                <Rich
                  text={"Assigned to {name}. <a>Open the job card</a>"}
                  values={{ name: g.student.name }}
                  with={{ a: <Link to={`/job/${g.assignment}`} /> }}
                />
              </p>
            ))}
          </div>
        )}
        {lacking.map((c) => (
          <div key={c.student.id} className="caution">
            <Rich
              text={"<b>{name} lacks what this part needs.</b> They can read the job card, and start when these are signed:"}
              values={{ name: c.student.name }}
              with={{ b: <b /> }}
            />
            <ul className="points">
              {c.missing.map((m) => (
                <li key={m.skill}>
                  {m.name}: {m.reason}
                </li>
              ))}
            </ul>
          </div>
        ))}
        {me.role === "instructor" && (
          <Button type="primary" size="large" disabled={chosen.length === 0 || giving.isPending || project.retired} onClick={() => giving.mutate()}>
            {wordsOf(
              chosen.map((c) => c.student.name),
              lacking.length,
            )}
          </Button>
        )}
      </section>
      {project.of_features && <GroupPlans project={project.id} group={data?.group?.id ?? ""} />}
      {me.role === "instructor" && project.of_features && <SawList project={project} group={data?.group?.id ?? ""} />}
    </>
  );
}

function wordsOf(names: string[], lacking: number): string {
  const [name] = names;
  if (name === undefined) return say("Choose students");
  if (names.length === 1) return lacking > 0 ? say("Assign; start after the sign-offs") : say("Assign to {name}", { name });
  return lacking > 0
    ? say("Assign to {count}; {lacking} of them start after the sign-offs", { count: names.length, lacking })
    : say("Assign to {count}", { count: names.length });
}
