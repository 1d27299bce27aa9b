import { Button } from "antd";
import type { FocusEventHandler, ReactNode } from "react";
import { Refused } from "./Refused";
import { say } from "./say";

/**
 * Fields that are sent together. What was refused stands above the button that asked; while it is on its way, or while
 * something is missing (`ready`), it cannot be sent.
 */
export function EntryForm({
  onSend,
  yes,
  refused,
  busy,
  ready = true,
  danger = false,
  onCancel,
  onBlur,
  children,
}: {
  onSend: () => Promise<unknown>;
  yes: string;
  refused: string;
  busy: boolean;
  ready?: boolean;
  danger?: boolean;
  onCancel?: () => void;
  onBlur?: FocusEventHandler<HTMLFormElement>;
  children: ReactNode;
}) {
  const send = (
    <Button type="primary" danger={danger} size="large" className={onCancel && "grow"} htmlType="submit" disabled={busy || !ready}>
      {yes}
    </Button>
  );
  return (
    <form
      className="stack"
      onBlur={onBlur}
      onSubmit={(event) => {
        event.preventDefault();
        void onSend();
      }}
    >
      {children}
      <Refused words={refused} />
      {onCancel ? (
        <div className="row">
          <Button size="large" className="grow" onClick={onCancel}>
            {say("Cancel")}
          </Button>
          {send}
        </div>
      ) : (
        send
      )}
    </form>
  );
}
