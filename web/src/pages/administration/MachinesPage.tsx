import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import { Lines } from "../../shared/Lines";
import { Waiting } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { say } from "../../shared/say";

/** The machines of the shop, each with what is wrong with it now and the ways on from there. */
export default function MachinesPage() {
  const me = useMe();
  const { data, error } = useQuery(queries.shop());
  if (!data) return <Waiting error={error} />;
  return (
    <main className="page stack">
      <div className="between">
        <h1>{say("Machines")}</h1>
        {me.role === "instructor" && (
          <Link className="button first" to="/shop/machines/new">
            {say("Add a machine")}
          </Link>
        )}
      </div>
      <section className="card">
        <Lines
          rows={data.machines}
          rowKey={(m) => m.id}
          columns={[
            {
              key: "name",
              title: say("Machine"),
              width: 140,
              render: (_, m) => (
                <Link to={`/machines/${m.id}`}>
                  <b className="head">{m.name}</b>
                </Link>
              ),
            },
            { key: "about", title: say("What it is"), render: (_, m) => m.about },
            {
              key: "state",
              title: say("Today"),
              render: (_, m) => (m.tagged_out ? <span className="needs">{m.tagged_out}</span> : say("in service")),
            },
            {
              key: "ways",
              title: "",
              className: "num",
              render: (_, m) => (
                <span className="row end">
                  <Link className="button" to={`/machines/${m.id}/moves`} aria-label={say("Backlash and moves, {name}", { name: m.name })}>
                    {say("Backlash and moves")}
                  </Link>
                  <Link className="button" to={`/setup/${m.id}`} aria-label={say("Set up, {name}", { name: m.name })}>
                    {say("Set up")}
                  </Link>
                </span>
              ),
            },
          ]}
        />
      </section>
    </main>
  );
}
