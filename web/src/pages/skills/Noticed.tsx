import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import { Lines } from "../../shared/Lines";
import { say } from "../../shared/say";

/** What goes wrong most at the machine, as the students of a group chose it on their run cards. */
export function Noticed({ group }: { group: string }) {
  const { data } = useQuery(queries.noticed(group));
  if (!data || data.lines.length === 0) return null;
  return (
    <section className="stack class-noticed">
      <h2>{say("What goes wrong most at the machine")}</h2>
      <p className="small muted">{say("Chosen on run cards in the last {days} days.", { days: data.days })}</p>
      <div className="card">
        <Lines
          rows={data.lines}
          rowKey={(l) => l.sign}
          columns={[
            { key: "name", title: say("Problem"), render: (_, l) => <b>{l.name}</b> },
            { key: "count", title: say("Times"), className: "num", render: (_, l) => l.count },
            { key: "students", title: say("Students"), className: "num", render: (_, l) => l.students },
            { key: "during", title: say("During"), render: (_, l) => l.during.join(", ") },
            { key: "machines", title: say("Machine"), render: (_, l) => l.machines.join(", ") },
          ]}
        />
      </div>
    </section>
  );
}
