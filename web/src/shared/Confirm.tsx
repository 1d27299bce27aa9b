import { Button } from "antd";
import { useEffect, useRef, type ReactNode } from "react";

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
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  return (
    <dialog ref={dialog} className="sheet" onCancel={onNo} aria-label={title}>
      <div className="stack">
        <h2>{title}</h2>
        {children}
        <div className="row">
          <Button size="large" className="grow" autoFocus onClick={onNo}>
            Not yet
          </Button>
          <Button type="primary" size="large" className="grow" onClick={onYes}>
            {yes}
          </Button>
        </div>
      </div>
    </dialog>
  );
}
