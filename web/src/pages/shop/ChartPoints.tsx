import { Button, Input } from "antd";
import type { Schema } from "../../api/client";
import { say } from "../../shared/say";

type Point = Schema["ChartPoint"];

/** The points of a chart: for a cutter of this diameter a chip from this to that. */
export function ChartPoints(p: { points: Point[]; per: string; most: number; onChange: (points: Point[]) => void }) {
  const put = (at: number, more: Partial<Point>) => p.onChange(p.points.map((x, i) => (i === at ? { ...x, ...more } : x)));
  return (
    <table className="chart-points">
      <thead>
        <tr>
          <th scope="col">{say("Cutter, mm")}</th>
          <th scope="col" colSpan={2}>
            {p.per}
          </th>
          <th />
        </tr>
      </thead>
      <tbody>
        {p.points.map((x, i) => (
          <tr key={i}>
            {(["diameter", "low", "high"] as const).map((field) => (
              <td key={field}>
                <Input
                  inputMode="decimal"
                  maxLength={12}
                  aria-label={say("{field} of point {number}", { field: names()[field], number: i + 1 })}
                  value={x[field]}
                  onChange={(e) => put(i, { [field]: e.target.value })}
                />
              </td>
            ))}
            <td>
              <Button
                aria-label={say("Remove point {number}", { number: i + 1 })}
                disabled={p.points.length === 1}
                onClick={() => p.onChange(p.points.filter((_, n) => n !== i))}
              >
                −
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={4}>
            <Button disabled={p.points.length >= p.most} onClick={() => p.onChange([...p.points, { diameter: "", low: "", high: "" }])}>
              {say("Add a point")}
            </Button>
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

const names = () => ({ diameter: say("Diameter"), low: say("Least chip"), high: say("Most chip") });
