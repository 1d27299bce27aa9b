import { PAPERS } from "../../shared/papers";
import { Lines } from "../../shared/Lines";
import { Button } from "antd";
import { say } from "../../shared/say";
const TO_PRINT = [
  {
    file: "leaflet.pdf",
    name: say("Leaflet for the wall"),
    words: say("The safety notice, the list before every start, what to do when something is wrong."),
  },
  {
    file: "machine-labels.pdf",
    name: say("Labels for the machines"),
    words: say("A code for each machine: pointed at with a tablet, it opens that machine's start page."),
  },
  {
    file: "gauge-labels.pdf",
    name: say("Labels for the gauges"),
    words: say("What each is sure to, when its check is due, and a code that opens its page. Print them anew after a check."),
  },
  {
    file: "cutter-labels.pdf",
    name: say("Labels for the cutters"),
    words: say("Name, place, real diameter where it is reground, and a code: it opens the cutter, or finds it at the counter with a scanner."),
  },
];

/** What the shop prints, on both sheets. */
export function Papers() {
  return (
    <Lines
      rows={TO_PRINT}
      rowKey={(p) => p.file}
      showHeader={false}
      columns={[
        {
          key: "what",
          render: (_, p) => (
            <>
              <b className="head">{p.name}</b>
              <div className="small muted">{p.words}</div>
            </>
          ),
        },
        ...PAPERS.map((paper) => ({
          key: paper,
          className: "num",
          render: (_: unknown, p: (typeof TO_PRINT)[number]) => (
            <Button href={`/api/${p.file}?paper=${paper}`} target="_blank" rel="noreferrer">
              {paper}
            </Button>
          ),
        })),
      ]}
    />
  );
}
