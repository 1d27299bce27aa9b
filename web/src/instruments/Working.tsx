import type { Schema } from "../api/client";

/** The working of a result: each line with its formula, the values put in, and what came out. */
export function Working({ steps }: { steps: readonly Schema["StepView"][] }) {
  return (
    <table className="lines working">
      <tbody>
        {steps.map((s, i) => (
          <tr key={i}>
            <td>
              <div>{s.what}</div>
              <div className="small muted">{s.formula}</div>
            </td>
            <td className="num">
              <div className="small">{s.put_in}</div>
              <div>= {s.result}</div>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
