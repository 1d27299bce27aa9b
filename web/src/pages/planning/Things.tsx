import { Button } from "antd";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, wordsFor, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Dialog } from "../../shared/Dialog";
import { Fold } from "../../shared/Fold";
import { Waiting } from "../../shared/Loading";
import { say } from "../../shared/say";
import { Board } from "../parts/editor/Board";
import "../parts/editor/editor.css";
import type { Building, Look, Page } from "./usePlan";

/** What is still to do, to be touched; and the drawing, on which everything can be touched as well. */
export function Things(p: { page: Page; building: Building; look: Look; holding: string; onMade: () => void }) {
  const { page, building, look, holding } = p;
  const [touched, setTouched] = useState("");
  const [drawing, setDrawing] = useState(false);
  const held = building.plan.holdings.find((h) => h.id === holding);
  return (
    <section className="plan-things">
      <div className="row wraps">
        <b>{look.left.length ? say("Still to do") : say("Everything is made.")}</b>
        {look.left.map((l) => {
          // an end can also be milled from beside, in a holding where it does not look up
          const here = held !== undefined && (l.ups.some((u) => u.key === held.up) || l.kinds.some((k) => k.key === "side"));
          return (
            <Button
              key={l.of}
              data-thing={l.of}
              className={here ? "plan-thing here" : "plan-thing"}
              disabled={holding === ""}
              onClick={() => setTouched(l.of)}
            >
              {l.words}
            </Button>
          );
        })}
        <span className="grow" />
        {held && (
          <>
            <Button onClick={() => void building.act({ act: "add", holding, operation: "deburr", of: [], cutter: "" }).then(p.onMade)}>
              {say("Deburr")}
            </Button>
            <Button onClick={() => void building.act({ act: "add", holding, operation: "measure", of: [], cutter: "" }).then(p.onMade)}>
              {say("Measure")}
            </Button>
          </>
        )}
        <Button onClick={() => setDrawing(!drawing)} aria-expanded={drawing}>
          {drawing ? say("Hide the drawing") : say("Touch the drawing")}
        </Button>
      </div>
      {holding === "" && <p className="small muted">{say("Begin with a holding: which face looks up?")}</p>}
      {drawing && <Drawing version={page.version} onTouch={(name) => holding && setTouched(name)} />}
      {touched && (
        <Offers
          page={page}
          building={building}
          holding={holding}
          name={touched}
          onClose={() => setTouched("")}
          onMade={() => {
            setTouched("");
            p.onMade();
          }}
        />
      )}
    </section>
  );
}

function Drawing({ version, onTouch }: { version: string; onTouch: (name: string) => void }) {
  const { data, error } = useQuery(queries.touch(version));
  if (!data) return error ? <p className="error">{error.message}</p> : <Waiting />;
  return <Board draft={data} chosen={[]} onTouch={onTouch} />;
}

/** What can be done with what was touched; each with the cutters that can do it, and the others with the reason. */
function Offers(p: { page: Page; building: Building; holding: string; name: string; onClose: () => void; onMade: () => void }) {
  const { page, building, holding, name } = p;
  const [busy, setBusy] = useState(false);
  const { data, error } = useQuery({
    queryKey: ["plan-offers", page.assignment, building.machine, holding, name, JSON.stringify(building.plan)],
    queryFn: () =>
      body(
        api.POST("/api/job-cards/{assignment}/plan/offers", {
          params: { path: { assignment: page.assignment } },
          body: { plan: building.plan, machine: building.machine, holding, name },
        }),
      ),
    retry: false,
  });
  const add = (o: Schema["OfferView"], cutter: string | null) => {
    setBusy(true);
    void building.act({ act: "add", holding, operation: o.kind, of: [o.of], cutter }).then((done) => {
      setBusy(false);
      if (done) p.onMade();
    });
  };
  return (
    <Dialog title={say("What do you want to do with {name}?", { name: data?.words ?? name })} wide onClose={p.onClose}>
      {!data && (error ? <p className="error">{wordsFor(error)}</p> : <Waiting />)}
      <div className="stack">
        {data?.offers.map((o) => (
          <section key={o.kind} className="stack plan-offer" data-kind={o.kind}>
            <h3>{o.words}</h3>
            {o.why_not ? <p className="caution">{o.why_not}</p> : null}
            <div className="plan-offer-cutters" hidden={o.why_not !== ""}>
              {o.cutters
                .filter((c) => !c.why_not)
                .slice(0, 4)
                .map((c) => (
                  <Button key={c.name} size="large" disabled={busy} onClick={() => add(o, c.name)}>
                    <span className="plan-cutter-option">
                      <span>{c.name}</span>
                      <span className="small muted">{c.place}</span>
                    </span>
                  </Button>
                ))}
              <Button size="large" type="text" disabled={busy} onClick={() => add(o, "")}>
                {say("Choose the cutter later")}
              </Button>
            </div>
            {o.cutters.some((c) => c.why_not) && (
              <Fold title={say("Why not the others")}>
                <ul>
                  {o.cutters
                    .filter((c) => c.why_not)
                    .map((c) => (
                      <li key={c.name}>
                        <b>{c.name}</b>: {c.why_not}
                      </li>
                    ))}
                </ul>
              </Fold>
            )}
          </section>
        ))}
      </div>
    </Dialog>
  );
}
