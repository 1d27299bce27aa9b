import { Button } from "antd";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { Dialog } from "../../shared/Dialog";
import { say } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";

type Signs = Schema["SignsView"];
type Sign = Schema["SignView"];

/** What is heard, seen, felt or smelled: stop or go on, what it probably is, what to look at in order. */
export function Trouble(p: {
  signs: Signs[];
  step: Schema["RunStepView"];
  card: Schema["RunCardView"];
  own: boolean;
  onNoticed: (sign: string) => void;
  onAgain: (step: string) => void;
  onClose: () => void;
}) {
  const [chosen, setChosen] = useState("");
  const here = p.signs.find((s) => s.operation === p.step.operation) ?? p.signs.find((s) => s.operation === "");
  const sign = here?.signs.find((s) => s.id === chosen);
  return (
    <Dialog wide title={sign ? sign.name : say("What do you notice?")} onClose={p.onClose}>
      {sign ? (
        <Told sign={sign} card={p.card} own={p.own} step={p.step} onAgain={p.onAgain} onBack={() => setChosen("")} />
      ) : (
        <div className="stack">
          {here?.groups.map((group) => (
            <section key={group.by} className="stack">
              <h3>{group.words}</h3>
              <div className="row wraps">
                {here.signs
                  .filter((s) => s.by === group.by)
                  .map((s) => (
                    <Button
                      key={s.id}
                      size="large"
                      onClick={() => {
                        setChosen(s.id);
                        if (p.own) p.onNoticed(s.id);
                      }}
                    >
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

type Asked = {
  sign: Sign;
  card: Schema["RunCardView"];
  own: boolean;
  step: Schema["RunStepView"];
  onAgain: (step: string) => void;
  onBack: () => void;
};

function Told({ sign, card, own, step, onAgain, onBack }: Asked) {
  const { act, error, busy } = useAct();
  const [called, setCalled] = useState(false);
  const from = step.again[sign.again];
  const begins = card.steps.find((s) => s.id === from);
  const call = () =>
    act(async () => {
      const about = { machine: card.machine?.id ?? null, assignment: card.assignment };
      await body(api.POST("/api/calls", { body: { id: newId(), kind: "help", what: "", words: `${sign.name} · ${step.title}`, ...about } }));
      setCalled(true);
    });
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
          {say("Back")}
        </Button>
        {own && (
          <Button size="large" type={sign.call ? "primary" : "default"} disabled={busy || called} onClick={() => void call()}>
            {called ? say("Called: wait at the machine") : say("Call the instructor")}
          </Button>
        )}
      </div>
      {own && begins && (
        <div className="stack">
          <p>{say("Once your instructor has decided, continue from this step. The steps after it are done again.")}</p>
          <Button size="large" onClick={() => onAgain(begins.id)}>
            {say("Continue from: {step}", { step: begins.title })}
          </Button>
        </div>
      )}
      <Refused words={error} />
    </div>
  );
}
