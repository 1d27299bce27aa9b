import { useMutation } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { api, body, type Schema } from "../../api/client";
import { Lines } from "../../shared/Lines";
import { say, sayMany } from "../../shared/say";
import { Refused } from "../../shared/Refused";

/** What to saw for a group: which piece comes off which bar on hand, with the number to stamp on it. */
export function SawList({ project, group }: { project: Schema["ProjectDetail"]; group: string }) {
  const [bars, setBars] = useState("");
  const [kerf, setKerf] = useState("");
  const asking = useMutation({
    mutationFn: () =>
      body(
        api.POST("/api/projects/{project}/saw-list", {
          params: { path: { project: project.id } },
          body: { group: group || null, bars: bars.split(/[\s,;]+/).filter((b) => b !== ""), kerf },
        }),
      ),
  });
  const found = asking.data;
  const rows = (found?.bars ?? []).flatMap((bar, n) => bar.pieces.map((piece, m) => ({ key: `${n} ${m}`, bar, piece, first: m === 0 })));
  return (
    <section className="card pad stack">
      <h2>{say("Saw list")}</h2>
      <p className="small muted">
        {say("For everybody of the group who has this part and has not begun it. Keep hands clear of the blade; the saw's own rules come first.")}
      </p>
      <div className="row wraps ends no-print">
        <label className="asked grow">
          {say("Bars on hand, lengths")}
          <Input value={bars} maxLength={200} suffix={project.unit} onChange={(e) => setBars(e.target.value)} />
        </label>
        <label className="asked">
          {say("The saw takes")}
          <Input value={kerf} maxLength={8} suffix={project.unit} onChange={(e) => setKerf(e.target.value)} />
        </label>
        <Button disabled={bars.trim() === "" || kerf.trim() === "" || asking.isPending} onClick={() => asking.mutate()}>
          {say("Work it out")}
        </Button>
      </div>
      <Refused by={asking.error} />
      {found && (
        <>
          <p>{sayMany("{count} piece of {stock}", "{count} pieces of {stock}", found.pieces, { stock: found.stock })}</p>
          <Lines
            rows={rows}
            rowKey={(r) => r.key}
            columns={[
              { key: "bar", title: say("Off the bar"), render: (_, r) => (r.first ? r.bar.length : "") },
              { key: "piece", title: say("Piece"), className: "num", render: (_, r) => r.piece.length },
              { key: "who", title: say("For"), render: (_, r) => r.piece.student },
              { key: "stamp", title: say("Stamp"), className: "num", render: (_, r) => r.piece.number },
              { key: "left", title: say("Left of the bar"), className: "num", render: (_, r) => (r.first ? r.bar.left : "") },
            ]}
          />
        </>
      )}
    </section>
  );
}
