import { Dialog } from "../shared/Dialog";
import { Button } from "antd";
import { Lines } from "../shared/Lines";
import { say } from "../shared/say";

export function Help({ places, onClose }: { places: { name: string; key: string }[]; onClose: () => void }) {
  const rows = [
    ["/", say("search")],
    ...places.map((p) => [`g ${p.key}`, say("go to {name}", { name: p.name })]),
    ["u", say("switch inch and millimetre")],
    ["w", say("show or hide the working")],
    [say("Enter"), say("save the reading and go on")],
    [say("Esc"), say("step back")],
    ["?", say("this list")],
  ];
  return (
    <Dialog title={say("Shortcuts")} onClose={onClose}>
      <div className="stack">
        <p className="muted small">{say("They rest while you type in a field. Enter never signs, scraps or starts anything.")}</p>
        <Lines
          rows={rows}
          rowKey={(x) => x[0] ?? ""}
          showHeader={false}
          columns={[
            { key: "0", title: "", render: (_, [key]) => <kbd>{key}</kbd> },
            { key: "1", title: "", render: (_, [, what]) => what },
          ]}
        />
        <p className="small">
          {say("Incudo never replaces supervision. The machine's manual, the shop's own rules and local law come first; a qualified person decides.")}
        </p>
        <Button onClick={() => onClose()}>{say("Close")}</Button>
      </div>
    </Dialog>
  );
}
