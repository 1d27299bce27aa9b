import { Button, Checkbox, Radio } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Dialog } from "../../shared/Dialog";
import { say } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import type { Building, Page } from "./usePlan";
import { Refused } from "../../shared/Refused";

type Command = Schema["TaskCommand"];

/** The instructor sets how this job card is planned: free, with gaps, given; judged at once or at the end; approved or not. */
export function Task({ page, building, onClose }: { page: Page; building: Building; onClose: () => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [mode, setMode] = useState(page.mode);
  const [gaps, setGaps] = useState<Command["gaps"]>(page.gaps);
  const [judged, setJudged] = useState(page.judged);
  const [approval, setApproval] = useState(page.approval);
  const save = () =>
    act(async () => {
      const fresh = await body(
        api.POST("/api/job-cards/{assignment}/plan/task", {
          params: { path: { assignment: page.assignment } },
          body: { id: newId(), number: page.task, mode, gaps: mode === "gaps" ? gaps : [], judged, approval, machine: building.machine, plan: null },
        }),
      );
      client.setQueryData(queries.plan(page.assignment, "").queryKey, fresh);
      onClose();
    });
  const open: [NonNullable<Command["gaps"]>[number], string][] = [
    ["order", say("the order of the operations")],
    ["cutters", say("cutters")],
    ["speeds", say("speeds, feeds and passes")],
    ["datums", say("zeros")],
    ["holdings", say("parallels, stop and soft bar")],
  ];
  return (
    <Dialog title={say("How {name} plans this part", { name: page.student.name })} onClose={onClose}>
      <div className="stack">
        <Radio.Group className="plan-task" value={mode} onChange={(e) => setMode(e.target.value as typeof mode)}>
          <Radio value="free">{say("Free: from the drawing")}</Radio>
          <Radio value="gaps">{say("With gaps: Incudo's plan, and left open:")}</Radio>
          {mode === "gaps" && (
            <div className="stack plan-gaps">
              {open.map(([gap, words]) => (
                <Checkbox
                  key={gap}
                  checked={gaps.includes(gap)}
                  onChange={(e) => setGaps(e.target.checked ? [...gaps, gap] : gaps.filter((g) => g !== gap))}
                >
                  {words}
                </Checkbox>
              ))}
            </div>
          )}
          <Radio value="given">{say("Given: Incudo's plan as it is")}</Radio>
        </Radio.Group>
        <Checkbox checked={judged === "end"} onChange={(e) => setJudged(e.target.checked ? "end" : "built")}>
          {say("Judged only when it is handed in")}
        </Checkbox>
        <Checkbox checked={approval} onChange={(e) => setApproval(e.target.checked)}>
          {say("I approve the plan before the first start")}
        </Checkbox>
        {page.number > 0 && <p className="small muted">{say("What the student has saved so far stays; a given plan is for who has not begun.")}</p>}
        <Refused words={error} />
        <Button type="primary" size="large" disabled={busy} onClick={() => void save()}>
          {say("Save")}
        </Button>
      </div>
    </Dialog>
  );
}
