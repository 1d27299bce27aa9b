import { sure } from "../../shared/sure";
import { Waiting } from "../../shared/Loading";
import { Button, Input } from "antd";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { useAct } from "../../shared/useAct";
import { when } from "../../shared/time";
import { SetupStates } from "./SetupStates";
import "../../look/pictures.css";
import { BeginHead, BeginVise } from "./Begin";
import { Drift } from "./Drift";
import "./setup.css";
import { Lines } from "../../shared/Lines";
import { say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Bench = Schema["SetupBench"];

/** A machine as it is set up: what stands, what is begun, how its head drifts; and the beginning of a record. */
export default function SetupBenchPage() {
  const { machine = "" } = useParams();
  const { data, error } = useQuery(queries.setupBench(machine));
  if (!data) return <main className="page">{error ? <p className="error">{error.message}</p> : <Waiting />}</main>;
  return <BenchView key={machine} bench={data} />;
}

function BenchView({ bench: b }: { bench: Bench }) {
  const me = useMe();
  const [asked] = useSearchParams();
  const card = asked.get("card");
  const [what, setWhat] = useState(asked.get("what") ?? b.states.find((s) => s.state !== "stands")?.kind ?? "");
  const mayWork = me.role !== "auditor";
  return (
    <main className="page stack">
      <div className="between">
        <div>
          <h1>{say("Set up {name}", { name: b.machine.name })}</h1>
          <p className="muted">{b.about}</p>
        </div>
        <span className="row">
          {card && (
            <Link className="button" to={`/job/${card}`}>
              {say("Back to the job card")}
            </Link>
          )}
          <Link className="button nowrap" to={`/machines/${b.machine.id}`}>
            {say("The machine")}
          </Link>
        </span>
      </div>
      <div className="setup-columns">
        <div className="stack">
          <section className="card">
            <SetupStates states={b.states} to={() => null} />
          </section>
          {b.begun.map((s) => (
            <Link key={s.id} to={`/setups/${s.id}`} className="card pad row setup-begun">
              <span className="grow">
                <b className="head">
                  {say("You began: {value}", { value: s.kind === "head" ? say("squaring the head") : say("aligning the vise") })}
                </b>{" "}
                <span className="small muted">{when(s.at)}</span>
              </span>
              <span className="button first">{say("Go on")}</span>
            </Link>
          ))}
          {mayWork && (
            <section className="card pad stack">
              <div className="row">
                <Button
                  type={what === "head" ? "primary" : "default"}
                  className="grow"
                  aria-pressed={what === "head"}
                  onClick={() => setWhat("head")}
                >
                  {say("Square the head")}
                </Button>
                <Button
                  type={what === "vise" ? "primary" : "default"}
                  className="grow"
                  aria-pressed={what === "vise"}
                  onClick={() => setWhat("vise")}
                >
                  {say("Align a vise")}
                </Button>
              </div>
              {what === "head" && <BeginHead bench={b} card={card} />}
              {what === "vise" && <BeginVise bench={b} card={card} />}
              {what === "" && <p className="muted">{say("Both are good. Start one again if you doubt it.")}</p>}
            </section>
          )}
          {mayWork && <Moved machine={b.machine.id} />}
        </div>
        <div className="stack">
          <section className="card pad stack">
            <h2>{say("How this head drifts")}</h2>
            <Drift points={b.drift} allowed={b.allowed} />
            {b.drift.length > 0 && <p className="small muted">{say("○ as found, ● as left. Blue: side to side; brass: front to back.")}</p>}
            <p>{b.drift_words}</p>
          </section>
          <section className="card">
            <h2 className="pad">{say("Setups here")}</h2>
            {b.history.length === 0 && (
              <p className="pad muted">{say("No head and no vise was set up here yet. Each will appear here with who left it how.")}</p>
            )}
            <Lines
              rows={b.history}
              rowKey={(s) => s.id}
              showHeader={false}
              columns={[
                {
                  key: "0",
                  title: "",
                  render: (_, s) => <Link to={`/setups/${s.id}`}>{s.kind === "head" ? "head" : "vise"}</Link>,
                },
                { key: "1", title: "", render: (_, s) => s.words },
                {
                  key: "2",
                  title: "",
                  className: "small muted",
                  render: (_, s) => (
                    <>
                      {s.by}, {when(s.at)}
                    </>
                  ),
                },
              ]}
            />
          </section>
        </div>
      </div>
    </main>
  );
}

/** Whoever moved head or vise says so, and every setup of it has to be made again. */
function Moved({ machine }: { machine: string }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [kind, setKind] = useState<"head" | "vise" | null>(null);
  const [words, setWords] = useState("");
  const send = () =>
    act(async () => {
      await body(
        api.POST("/api/machines/{machine}/notes", {
          params: { path: { machine } },
          body: { id: newId(), kind: sure(kind), words },
        }),
      );
      setKind(null);
      setWords("");
      await client.invalidateQueries();
    });
  return (
    <section className="card pad stack">
      <div className="row">
        <span className="grow">
          <b className="head">{say("Did you move something, or see it moved?")}</b>{" "}
          <span className="small muted">{say("Then everybody's setup of it must be checked again.")}</span>
        </span>
        <Button onClick={() => setKind("head")}>{say("Head moved")}</Button>
        <Button onClick={() => setKind("vise")}>{say("Vise moved")}</Button>
      </div>
      {kind && (
        <form
          className="row"
          onSubmit={(e) => {
            e.preventDefault();
            void send();
          }}
        >
          <Input
            className="grow"
            value={words}
            maxLength={300}
            aria-label={say("How it was moved")}
            placeholder={say("How? For example: bumped while cleaning")}
            onChange={(e) => setWords(e.target.value)}
            required
          />
          <Button type="primary" htmlType="submit" disabled={busy}>
            {say("The {kind} was moved", { kind })}
          </Button>
        </form>
      )}
      <Refused words={error} />
    </section>
  );
}
