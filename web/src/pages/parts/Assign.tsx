import { sure } from "../../shared/sure";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, DatePicker, Select } from "antd";
import dayjs, { type Dayjs } from "dayjs";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, newId, wordsFor, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { groupOptions } from "../../shared/groupOptions";
import { useMe } from "../../shared/me";
import { Rich, say } from "../../shared/say";

/** Who is ready for this part, who is not and why, and giving it to one. */
export default function Assign({ project }: { project: Schema["ProjectDetail"] }) {
  const me = useMe();
  const client = useQueryClient();
  const [machine, setMachine] = useState("");
  const [student, setStudent] = useState<string | null>(null);
  const [due, setDue] = useState<Dayjs | null>(null);
  const [id, setId] = useState(newId);
  const shop = useQuery(queries.shop());
  const [group, setGroup] = useState("");
  const { data } = useQuery(queries.candidates(project.id, machine, group));
  const chosen = data?.candidates.find((c) => c.student.id === student);
  const lacks = (chosen?.missing.length ?? 0) > 0;
  const giving = useMutation({
    mutationFn: () =>
      body(
        api.POST("/api/assignments", {
          body: {
            id,
            version: project.version,
            student: sure(student),
            machine: machine || null,
            due: due?.format("YYYY-MM-DD") ?? null,
            not_before_signed: lacks,
          },
        }),
      ),
    onSuccess: async () => {
      setId(newId());
      setStudent(null);
      await client.invalidateQueries();
    },
  });
  const sorted = data?.candidates.toSorted((a, b) => a.missing.length - b.missing.length);
  return (
    <>
      <section className="card pad stack no-print">
        <h2>{say("Give it to a student")}</h2>
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
            <DatePicker value={due} onChange={setDue} minDate={dayjs()} format="D MMMM YYYY" />
          </label>
        </div>
        <div className="candidates" role="group" aria-label={say("Students")}>
          {sorted?.map((c) => (
            <Button
              key={c.student.id}
              type="text"
              className="plain candidate"
              aria-pressed={c.student.id === student}
              onClick={() => setStudent(c.student.id)}
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
        {giving.error && (
          <p className="error" role="alert">
            {wordsFor(giving.error)}
          </p>
        )}
        {giving.data && (
          <p role="status">
            <Rich
              text={"Given to {name}. <a>Open the job card</a>"}
              values={{ name: giving.data.student.name }}
              with={{ a: <Link to={`/job/${giving.data.assignment}`} /> }}
            />
          </p>
        )}
        {chosen && lacks && (
          <div className="caution">
            <Rich
              text={"<b>{name} lacks what this part needs.</b> They can read the job card, and start when these are signed:"}
              values={{ name: chosen.student.name }}
              with={{ b: <b /> }}
            />
            <ul className="points">
              {chosen.missing.map((m) => (
                <li key={m.skill}>
                  {m.name}: {m.reason}
                </li>
              ))}
            </ul>
          </div>
        )}
        {me.role === "instructor" && (
          <Button type="primary" size="large" disabled={!student || giving.isPending} onClick={() => giving.mutate()}>
            {!chosen ? say("Choose a student") : lacks ? say("Give it, not before signed") : say("Give it to {name}", { name: chosen.student.name })}
          </Button>
        )}
      </section>
    </>
  );
}
