import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import type { Both } from "../../api/client";
import { textIn } from "../../instruments/length";
import { Lines } from "../../shared/Lines";
import { Waiting } from "../../shared/Loading";
import { dayOfYear } from "../../shared/time";
import { useMe } from "../../shared/me";
import { say } from "../../shared/say";
import { NewGauge } from "./NewGauge";

/** In the unit that a gauge is made in. */
const given = (of: Both) => `${textIn(of, of.given)}${of.given === "deg" ? "°" : ` ${of.given}`}`;

/** The gauges: how finely each reads, how sure it is, which limits it can judge, and whether it may decide today. */
export default function GaugesPage() {
  const me = useMe();
  const [adding, setAdding] = useState(false);
  const { data, error } = useQuery(queries.shop());
  if (!data) return <Waiting error={error} />;
  return (
    <main className="page stack">
      <div className="between">
        <h1>{say("Gauges")}</h1>
        {me.role === "instructor" && (
          <Button type="primary" onClick={() => setAdding(true)}>
            {say("Add a gauge")}
          </Button>
        )}
      </div>
      {adding && <NewGauge onClose={() => setAdding(false)} />}
      <section className="card">
        <Lines
          rows={data.instruments}
          rowKey={(i) => i.id}
          columns={[
            { key: "0", title: say("Name"), className: "nowrap", render: (_, i) => <Link to={`/shop/gauges/${i.id}`}>{i.name}</Link> },
            {
              key: "1",
              title: say("Reads to"),
              className: "num",
              render: (_, i) => (i.answers ? say("yes or no") : given(i.resolution)),
            },
            { key: "2", title: say("Sure to ±"), className: "num", render: (_, i) => !i.answers && given(i.sure) },
            {
              key: "3",
              title: say("Limits at least this wide"),
              className: "num",
              render: (_, i) => !i.answers && given(i.least_width),
            },
            { key: "4", title: say("Check due"), className: "nowrap", render: (_, i) => dayOfYear(i.due) },
            {
              key: "5",
              title: say("Today"),
              render: (_, i) => (i.cannot_decide ? <span className="needs wraps">{i.cannot_decide.replace(`${i.name} `, "")}</span> : say("decides")),
            },
          ]}
        />
      </section>
    </main>
  );
}
