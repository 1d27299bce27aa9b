import { Dialog } from "../shared/Dialog";
import { Input } from "antd";
import { useState } from "react";
import { api, body } from "../api/client";
import { useAct } from "../shared/useAct";
import { say } from "../shared/say";
import { EntryForm } from "../shared/EntryForm";

/** Changing one's own password. */
export function Password({ onClose }: { onClose: () => void }) {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const { act, error, busy } = useAct();
  const change = () => act(() => body(api.POST("/api/password", { body: { old, new: fresh } }))).then((ok) => ok && onClose());
  return (
    <Dialog title={say("Change my password")} onClose={onClose}>
      <EntryForm onSend={change} yes={say("Change it")} refused={error} busy={busy} ready={!!old && fresh.length >= 8} onCancel={onClose}>
        <label className="asked">
          {say("Your current password")}
          <Input type="password" autoComplete="current-password" value={old} onChange={(e) => setOld(e.target.value)} />
        </label>
        <label className="asked">
          {say("New password, at least eight characters")}
          <Input type="password" autoComplete="new-password" value={fresh} onChange={(e) => setFresh(e.target.value)} />
        </label>
      </EntryForm>
    </Dialog>
  );
}
