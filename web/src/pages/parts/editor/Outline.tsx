import { Button, Input } from "antd";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, body } from "../../../api/client";
import { Lines } from "../../../shared/Lines";
import { PickFile } from "../../../shared/PickFile";
import { say } from "../../../shared/say";
import { Refused } from "../../../shared/Refused";

/** A plate from a DXF outline; what was not understood is listed, and left out only when somebody says so. */
export function Outline({ unit, onMade }: { unit: "in" | "mm"; onMade: (file: string) => void }) {
  const [thickness, setThickness] = useState("");
  const reading = useMutation({
    mutationFn: (text: string) => body(api.POST("/api/part-drafts", { body: { file: "", act: { kind: "plate", text, thickness, unit } } })),
    onSuccess: (made) => {
      if (made.left_out.length === 0) onMade(made.file);
    },
  });
  const made = reading.data;
  return (
    <section className="card pad stack">
      <h2>{say("A plate from a DXF outline")}</h2>
      <p className="small muted">
        {say("The largest rectangle is the plate. Circles, slots with round ends and rectangles with round corners become what is cut through it.")}
      </p>
      <div className="row ends">
        <label className="asked">
          {say("Thickness of the plate")}
          <Input value={thickness} maxLength={12} suffix={unit} onChange={(e) => setThickness(e.target.value)} />
        </label>
        {thickness.trim() !== "" && (
          <PickFile label={say("Choose the file")} accept=".dxf" onFile={(file) => void file.text().then((t) => reading.mutate(t))} />
        )}
      </div>
      <Refused by={reading.error} />
      {made && made.left_out.length > 0 && (
        <>
          <p className="needs">{say("Not everything in the file was understood:")}</p>
          <Lines
            rows={made.left_out.map((o, n) => ({ ...o, n }))}
            rowKey={(o) => o.n}
            columns={[
              { key: "what", title: say("What"), render: (_, o) => o.what },
              { key: "layer", title: say("Layer"), render: (_, o) => o.layer },
              { key: "where", title: say("Where"), render: (_, o) => `${o.x.toFixed(2)}, ${o.y.toFixed(2)}` },
              { key: "why", title: say("Why"), render: (_, o) => o.why },
            ]}
          />
          <div className="row">
            <Button type="primary" onClick={() => onMade(made.file)}>
              {say("Go on without them")}
            </Button>
          </div>
        </>
      )}
    </section>
  );
}
