import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import { Lines } from "../../shared/Lines";
import { Waiting } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { say } from "../../shared/say";
import { Delegate } from "./Delegate";

/** Who may sign what, and where students come in. */
export default function PeoplePage() {
  const me = useMe();
  const { data, error } = useQuery(queries.shop());
  if (!data) return <Waiting error={error} />;
  return (
    <main className="page stack">
      <div className="between">
        <h1>{say("People")}</h1>
        <Link className="button" to="/class">
          {say("Students and class lists")}
        </Link>
      </div>
      <section className="card">
        <h2 className="pad">{say("Assistants sign only")}</h2>
        <Lines
          rows={data.assistants}
          rowKey={(a) => a.person.id}
          showHeader={false}
          columns={[
            { key: "0", title: "", render: (_, a) => <b className="head">{a.person.name}</b> },
            {
              key: "1",
              title: "",
              render: (_, a) => (
                <>
                  {a.skills.map((s) => s.name).join(", ") || say("nothing yet")}
                  {me.role === "instructor" && <Delegate assistant={a} delegable={data.delegable} />}
                </>
              ),
            },
          ]}
        />
      </section>
    </main>
  );
}
