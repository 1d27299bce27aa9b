import { Dialog } from "./Dialog";
import { Button } from "antd";
import { type ReactNode } from "react";
import { say } from "./say";

/** A question before something that cannot be taken back. Enter alone never says yes. */
export function Confirm({
  title,
  yes,
  onYes,
  onNo,
  children,
}: {
  title: string;
  yes: string;
  onYes: () => void;
  onNo: () => void;
  children: ReactNode;
}) {
  return (
    <Dialog title={title} onClose={onNo}>
      <div className="stack">
        {children}
        <div className="row">
          <Button size="large" className="grow" autoFocus onClick={onNo}>
            {say("Not yet")}
          </Button>
          <Button type="primary" size="large" className="grow" onClick={onYes}>
            {yes}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
