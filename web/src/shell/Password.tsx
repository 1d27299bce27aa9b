import { Button, Input } from "antd";
import { useEffect, useRef, useState } from "react";
import { api, body } from "../api/client";
import { useAct } from "../shared/useAct";

/** Changing one's own password. */
export function Password({ onClose }: { onClose: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const { act, error, busy } = useAct();
  const change = () => act(() => body(api.POST("/api/password", { body: { old, new: fresh } }))).then((ok) => ok && onClose());
  return (
    <dialog ref={dialog} className="sheet" onCancel={onClose} aria-label="Change my password">
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void change();
        }}
      >
        <h2>Change my password</h2>
        <label className="asked">
          The password until now
          <Input type="password" autoComplete="current-password" value={old} onChange={(e) => setOld(e.target.value)} />
        </label>
        <label className="asked">
          The new one, at least eight characters
          <Input type="password" autoComplete="new-password" value={fresh} onChange={(e) => setFresh(e.target.value)} />
        </label>
        {error && <p className="error">{error}</p>}
        <div className="row">
          <Button className="grow" onClick={onClose}>
            Cancel
          </Button>
          <Button type="primary" className="grow" htmlType="submit" disabled={busy || !old || fresh.length < 8}>
            Change it
          </Button>
        </div>
      </form>
    </dialog>
  );
}
