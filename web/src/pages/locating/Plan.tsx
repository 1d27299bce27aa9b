import { Input } from "antd";
import { useState } from "react";
import type { Schema } from "../../api/client";
import { Legs } from "./MovesPage";
import { Lines } from "../../shared/Lines";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Page = Schema["FindPage"];

/** Every place of the part from the datums: what dial or readout shows there, and how to come there. */
export function Plan({ page: p, error, onCutter }: { page: Page; error: string; onCutter: (c: string) => void }) {
  const [cutter, setCutter] = useState(p.cutter);
  if (p.plan.every((a) => a.lines.length === 0)) {
    const none =
      p.plan.length > 0
        ? say("Nothing of this part lies along what is found so far.")
        : say("Find an edge, a centre or the depth: then every place of the part is listed here with its dial reading.");
    return (
      <section className="card pad">
        <h2>{say("Where everything is from here")}</h2>
        <p className="muted">{none}</p>
      </section>
    );
  }
  return (
    <section className="card stack" data-plan>
      <div className="pad between">
        <h2>{say("Where everything is from here")}</h2>
        <form
          className="row"
          onSubmit={(e) => {
            e.preventDefault();
            onCutter(cutter.trim());
          }}
        >
          <label className="asked">
            {say("Cutter's diameter for the walls, {unit}", { unit: p.unit })}
            <Input
              inputMode="decimal"
              value={cutter}
              maxLength={20}
              onChange={(e) => setCutter(e.target.value)}
              onBlur={() => onCutter(cutter.trim())}
            />
          </label>
        </form>
      </div>
      <Refused words={error} />
      <div className="setup-columns pad">
        {p.plan
          .filter((a) => a.lines.length > 0)
          .map((a) => (
            <div key={a.axis} data-axis={a.axis}>
              <h3>
                {a.axis.toUpperCase()} <span className="small muted">{a.handle}</span>
              </h3>
              <p className="small muted">{say("Approach each {side}.", { side: a.side })}</p>
              <Lines
                className="move-list"
                rows={a.lines}
                rowKey={(l) => l.name}
                onRow={(l) => ({ "data-place": l.name }) as React.HTMLAttributes<HTMLElement>}
                columns={[
                  {
                    key: "0",
                    title: say("Place"),
                    render: (_, l) => (
                      <>
                        {l.name} <span className="small muted">{l.move.place}</span>
                        {l.note && <span className="small error">{l.note}</span>}
                      </>
                    ),
                  },
                  {
                    key: "1",
                    title: say("Turn, from the place before"),
                    render: (_, l) => (
                      <>
                        <Legs legs={l.move.legs} />
                        {a.scale === "dial" && l.move.rounding && <span className="small muted">{l.move.rounding}</span>}
                      </>
                    ),
                  },
                  {
                    key: "2",
                    title: a.scale === "readout" ? "readout" : "dial",
                    className: "num",
                    render: (_, l) => <b>{a.scale === "readout" ? l.move.coordinate : l.move.reading}</b>,
                  },
                ]}
              />
            </div>
          ))}
      </div>
      <p className="pad caution small">
        <Rich
          text={
            "<b>A dial reading holds while nobody turns the ring, loosens the part or moves the vise.</b> Lock the axes that stand still; run the path once with the spindle stopped and clear of the work."
          }
          with={{ b: <b /> }}
        />
      </p>
    </section>
  );
}
