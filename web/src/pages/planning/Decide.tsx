import { Button, Input } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, newId } from "../../api/client";
import { queries } from "../../api/queries";
import { say } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import type { Page } from "./usePlan";
import { Refused } from "../../shared/Refused";

export type Remarks = Readonly<Record<string, string>>;

/** The instructor approves a plan or sends it back, with remarks at the frames. */
export function Decide(p: { page: Page; hand_in: string; chosen: string; chosenName: string; remarks: Remarks; onRemarks: (r: Remarks) => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [remark, setRemark] = useState("");
  const list = Object.entries(p.remarks).filter(([, words]) => words.trim());
  const decide = (approved: boolean) =>
    act(async () => {
      const fresh = await body(
        api.POST("/api/plans/{plan}/decision", {
          params: { path: { plan: p.hand_in } },
          body: { id: newId(), approved, remark: remark.trim(), remarks: list.map(([operation, words]) => ({ operation, words })) },
        }),
      );
      client.setQueryData(queries.plan(p.page.assignment, "").queryKey, fresh);
      void client.invalidateQueries({ queryKey: ["floor"] });
      p.onRemarks({});
    });
  return (
    <section className="card pad stack plan-decide" aria-label={say("Decide about this plan")}>
      <h2>{say("{name} is waiting for your decision", { name: p.page.student.name })}</h2>
      {p.chosenName && (
        <label className="asked">
          {say("Remark at {name}", { name: p.chosenName })}
          <Input value={p.remarks[p.chosen] ?? ""} maxLength={400} onChange={(e) => p.onRemarks({ ...p.remarks, [p.chosen]: e.target.value })} />
        </label>
      )}
      <label className="asked">
        {say("Remark on the whole plan")}
        <Input value={remark} maxLength={400} onChange={(e) => setRemark(e.target.value)} />
      </label>
      <Refused words={error} />
      <div className="row">
        <Button type="primary" size="large" disabled={busy} onClick={() => void decide(true)}>
          {say("Approve")}
        </Button>
        <Button size="large" disabled={busy || (list.length === 0 && !remark.trim())} onClick={() => void decide(false)}>
          {say("Send back")}
        </Button>
        {list.length > 0 && <span className="muted">{say("{count} remarks at frames", { count: list.length })}</span>}
      </div>
    </section>
  );
}
