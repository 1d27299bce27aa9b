import { sure } from "../../shared/sure";
import { Button } from "antd";
import type { Schema } from "../../api/client";
import { say } from "../../shared/say";

type Control = Schema["ControlView"];
type Action = Schema["Action"];

/** Everything that can be done now, by what one takes in hand. Labels are short on the face, whole for who listens. */
export function Controls({ controls, press, onDo }: { controls: readonly Control[]; press: string; onDo: (a: Action) => void }) {
  const groups = [...new Set(controls.map((c) => c.group))];
  return (
    <div className="rig-controls">
      {groups.map((g) => (
        <fieldset
          key={g}
          className={["tap", "turn"].includes(controls.find((c) => c.group === g)?.action.do ?? "") ? "rig-group tight" : "rig-group"}
        >
          <legend>{g}</legend>
          {controls
            .filter((c) => c.group === g)
            .map((c) => (
              <Button
                key={c.label}
                type={c.label === press ? "primary" : "default"}
                aria-label={c.label}
                title={c.closed ? say("Not now: {closed}", { closed: c.closed }) : c.label}
                disabled={c.closed !== ""}
                onClick={() => onDo(c.action)}
              >
                {short(c)}
              </Button>
            ))}
        </fieldset>
      ))}
      <fieldset className="rig-group">
        <legend>{say("When it is done")}</legend>
        <Button type={press === "Finish" ? "primary" : "default"} onClick={() => onDo({ do: "finish", on: "", way: "", by: 0 })}>
          {say("Finish")}
        </Button>
      </fieldset>
    </div>
  );
}

const STEPS: Record<string, string> = {
  "one whole turn": "1 turn",
  "ten divisions": "10 div",
  "one division": "1 div",
  "half a division": "½ div",
};

/** In a group whose legend says what and which way, how much is enough. */
function short(c: Control): string {
  if (c.action.do === "tap" && c.action.on !== "moving") return sure(c.label.split(", ").at(-1));
  if (c.action.do === "turn") return STEPS[sure(c.label.split(", ").at(-1))] ?? c.label;
  if (c.action.do === "screw") return sure(c.label.split(", ").at(-1));
  if (c.action.do === "run") return c.label.replace("Run to the ", "");
  if (c.action.do === "wrench") return c.label.replace(" the ", " ").replace(" bolt", "");
  return c.label;
}
