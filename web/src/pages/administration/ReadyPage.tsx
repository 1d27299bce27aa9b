import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Waiting } from "../../shared/Loading";
import { say, sayMany } from "../../shared/say";
import "./people.css";

type What = Schema["Ready"];

/** Where each thing is entered. */
const PAGES: Record<What, { to: string; words: string }> = {
  machines: { to: "/shop/machines/new", words: say("Add a machine") },
  groups: { to: "/shop/people", words: say("Groups and people") },
  students: { to: "/shop/people", words: say("Add people") },
  gauges: { to: "/shop/gauges", words: say("Add gauges") },
  holding: { to: "/shop/workholding", words: say("Add workholding") },
  cutters: { to: "/crib", words: say("Add cutters") },
  parts: { to: "/parts", words: say("See the parts") },
  cards: { to: "/parts", words: say("Assign a part") },
};

/** What is left before a class can begin, in no fixed order. */
export default function ReadyPage() {
  const { data, error } = useQuery(queries.ready());
  if (!data) return <Waiting error={error} />;
  return (
    <main className="page stack">
      <h1>{say("Before the first class")}</h1>
      {data.missing > 0 ? (
        <p className="caution">
          {sayMany(
            "{count} thing is missing before a session can be opened.",
            "{count} things are missing before a session can be opened.",
            data.missing,
          )}
        </p>
      ) : (
        <p className="run-said good" role="status">
          {say("A session can be opened.")}{" "}
          <Link className="button" to="/session">
            {say("Open a session")}
          </Link>
        </p>
      )}
      <ol className="ready">
        {data.items.map((i) => (
          <li key={i.what} className="card pad ready-item" data-what={i.what} data-count={i.count}>
            <b className={i.count > 0 ? "ready-count" : i.needed ? "ready-count needs" : "ready-count muted"}>{i.count}</b>
            <span className="grow">
              <b>{i.words}</b>
              <br />
              <span className="small muted">{i.why}</span>
            </span>
            <Link className={i.needed && i.count === 0 ? "button first" : "button"} to={PAGES[i.what].to}>
              {PAGES[i.what].words}
            </Link>
          </li>
        ))}
      </ol>
    </main>
  );
}
