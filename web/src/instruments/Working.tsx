import type { Schema } from "../api/client";
import { Lines } from "../shared/Lines";

/** The working of a result: each line with its formula, the values put in, and what came out. */
export function Working({ steps }: { steps: readonly Schema["StepView"][] }) {
  return (
    <Lines
      className="working"
      rows={steps}
      showHeader={false}
      columns={[
        {
          key: "0",
          title: "",
          render: (_, s) => (
            <>
              <div>{s.what}</div>
              <div className="small muted">{s.formula}</div>
            </>
          ),
        },
        {
          key: "1",
          title: "",
          className: "num",
          render: (_, s) => (
            <>
              <div className="small">{s.put_in}</div>
              <div>= {s.result}</div>
            </>
          ),
        },
      ]}
    />
  );
}
