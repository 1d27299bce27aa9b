import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../../api/client";
import { Dialog } from "../../shared/Dialog";
import { say } from "../../shared/say";

type Signs = Schema["SignsView"];
type Sign = Schema["SignView"];

/** What is heard, seen, felt or smelled: stop or go on, what it probably is, what to look at in order. */
export function Trouble(p: { signs: Signs[]; step: Schema["RunStepView"]; machine: string; onClose: () => void }) {
  const [chosen, setChosen] = useState("");
  const here = p.signs.find((s) => s.operation === p.step.operation) ?? p.signs.find((s) => s.operation === "");
  const sign = here?.signs.find((s) => s.id === chosen);
  return (
    <Dialog title={sign ? sign.name : say("What do you notice?")} onClose={p.onClose}>
      {sign ? (
        <Told sign={sign} machine={p.machine} onBack={() => setChosen("")} />
      ) : (
        <div className="stack">
          {here?.groups.map((group) => (
            <section key={group.by} className="stack">
              <h3>{group.words}</h3>
              <div className="row wraps">
                {here.signs
                  .filter((s) => s.by === group.by)
                  .map((s) => (
                    <Button key={s.id} size="large" onClick={() => setChosen(s.id)}>
                      {s.name}
                    </Button>
                  ))}
              </div>
            </section>
          ))}
        </div>
      )}
    </Dialog>
  );
}

function Told({ sign, machine, onBack }: { sign: Sign; machine: string; onBack: () => void }) {
  return (
    <div className="stack" data-sign={sign.id}>
      <p className={sign.stop ? "run-stop" : "run-go"}>{sign.now}</p>
      <ol className="points">
        {sign.causes.map((c) => (
          <li key={c.cause}>
            <b>{c.cause}</b> {c.cure}
          </li>
        ))}
      </ol>
      {sign.zeros && <p className="caution">{sign.zeros}</p>}
      <div className="row">
        <Button size="large" onClick={onBack}>
          {say("It is something else")}
        </Button>
        {machine && (
          <Link className={`button ${sign.call ? "first" : ""}`} to={`/start/${machine}`}>
            {say("Call the instructor")}
          </Link>
        )}
      </div>
    </div>
  );
}
