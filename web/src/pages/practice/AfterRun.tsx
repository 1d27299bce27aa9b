import { Button, Slider } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, body, type Schema } from "../../api/client";
import { useAct } from "../../shared/useAct";
import { Mark } from "./RigsPage";
import { Lines } from "../../shared/Lines";
import { Rich, say } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Run = Schema["RigRunView"];

/** How the run ended, why, how things truly stand, and what a practised hand would have needed. */
export function AfterRun({
  run,
  result: r,
  busy,
  onAgain,
}: {
  run: Run;
  result: Schema["ResultView"];
  busy: boolean;
  onAgain: (guided: boolean) => void;
}) {
  return (
    <section className={`card pad stack rig-result ${r.passed ? "good" : ""}`} role="status">
      <div className="between">
        <h2>
          <Mark good={r.passed} /> {r.passed ? say("To standard") : say("Not to standard")}
          {!r.counts && <span className="small muted">{say(" with guidance: does not count")}</span>}
        </h2>
        <span className="row no-print">
          {run.mine && (
            <>
              <Button disabled={busy} onClick={() => onAgain(true)}>
                {say("Again with guidance")}
              </Button>
              <Button type="primary" disabled={busy} onClick={() => onAgain(false)}>
                {say("Again for the record")}
              </Button>
            </>
          )}
          <Link className="button" to="/rigs">
            {say("The rigs")}
          </Link>
        </span>
      </div>
      {r.reasons.length > 0 && (
        <ul className="points">
          {r.reasons.map((x) => (
            <li key={x}>{x}</li>
          ))}
        </ul>
      )}
      <p>
        <Rich
          text={"{truth} Passes: <b>{passes}</b>; a practised hand needs <b2>{practised}</b2>"}
          values={{ truth: r.truth, passes: r.passes, practised: r.practised }}
          with={{ b: <b />, b2: <b /> }}
        />
        {run.standard > 0 && say(" (the dashed line below)")}.
      </p>
    </section>
  );
}

/** Any moment of a finished run again, with the best next move after each pass. */
export function Replay({ run, shown, onShow }: { run: Run; shown: Run; onShow: (r: Run | null) => void }) {
  const client = useQueryClient();
  const { act, error } = useAct();
  const [at, setAt] = useState(run.count);
  const go = (upto: number) => {
    const place = Math.max(0, Math.min(upto, run.count));
    setAt(place);
    if (place === run.count) {
      onShow(null);
      return;
    }
    void act(async () => {
      const then = await client.query({
        queryKey: ["rig-run", run.id, place],
        queryFn: () => body(api.GET("/api/rigs/runs/{run}", { params: { path: { run: run.id }, query: { upto: place } } })),
        staleTime: Infinity,
      });
      onShow(then);
    });
  };
  return (
    <section className="card pad stack no-print">
      <h3>{say("Look at it again")}</h3>
      <div className="row">
        <Button disabled={at === 0} onClick={() => go(at - 1)} aria-label={say("Back one action")}>
          ◂
        </Button>
        <Slider className="grow" min={0} max={run.count} value={at} onChange={go} ariaLabelForHandle={say("Action")} />
        <Button disabled={at === run.count} onClick={() => go(at + 1)} aria-label={say("Forward one action")}>
          ▸
        </Button>
        <span className="num">{say("{at} of {count}", { at, count: run.count })}</span>
      </div>
      <Refused words={error} />
      {shown.passes.some((p) => p.words) && (
        <Lines
          rows={shown.passes}
          columns={[
            { key: "0", title: say("Pass"), render: (_, __, i) => i + 1 },
            { key: "1", title: say("What to do next"), render: (_, p) => p.words },
          ]}
        />
      )}
    </section>
  );
}
