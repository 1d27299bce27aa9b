import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import type { Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { say } from "../../shared/say";
import { Before, Come, Running } from "../../shared/StartHere";

type Page = Schema["StartPage"];

/** "I am about to start": at the machine, on a tablet. */
export default function StartPage() {
  const { machine = "" } = useParams();
  const { data, error } = useQuery(queries.start(machine));
  if (!data) return <Loading error={error} />;
  return <AtMachine key={machine} page={data} />;
}

function AtMachine({ page }: { page: Page }) {
  const me = useMe();
  const student = me.role === "student";
  return (
    <main className="page start">
      <header className="start-head">
        <div>
          <h1>{page.machine.name}</h1>
          <p className="muted">{page.about}</p>
        </div>
        <p className="start-who">
          {page.people.length === 0 && <span className="muted">{say("nobody is here")}</span>}
          {page.people.map((p) => (
            <span key={p.id} className={p.id === page.handles?.id ? "head" : "muted"}>
              {p.name}
              {p.id === page.handles?.id && say(" has the handles")}
            </span>
          ))}
        </p>
      </header>
      {page.closed.map((c) => (
        <p key={c} className="error">
          {c}
        </p>
      ))}
      {!page.session && <p className="caution">{say("No session is open. The instructor opens it; until then no start is enabled.")}</p>}
      {page.run ? <Running page={page} run={page.run} /> : student && (page.here ? <Before page={page} /> : <Come page={page} />)}
      {!page.run && !student && <Standing page={page} />}
      <p className="small muted">
        {say("The machine's own stop comes first. Its manual and the shop's rules decide; the interlock here is a stand-in{value}.", {
          value: page.linked ? "" : say(", and its link is lost: no start is enabled"),
        })}
      </p>
    </main>
  );
}

function Standing({ page }: { page: Page }) {
  return (
    <section className="card pad">
      <p>
        {say("{value} Nothing is running here.", {
          value: page.listed ? say("The pre-start list is done in this session.") : say("The pre-start list is not done yet in this session."),
        })}
      </p>
    </section>
  );
}
