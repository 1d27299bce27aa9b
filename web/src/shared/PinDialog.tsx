import { Dialog } from "./Dialog";
import { Button, Input } from "antd";
import { useState, type ReactNode } from "react";
import { wordsFor } from "../api/client";
import { say } from "./say";
import { Refused } from "./Refused";

/**
 * Confirms one shown act with the assessor's PIN, on their own device. Enter in
 * the PIN field does not sign; the button does.
 */
export function PinDialog({
  title,
  act,
  noteLabel,
  noteNeeded = false,
  danger = false,
  onAct,
  onClose,
  children,
}: {
  title: string;
  act: string;
  noteLabel?: string;
  noteNeeded?: boolean;
  danger?: boolean;
  onAct: (pin: string, note: string) => Promise<void>;
  onClose: () => void;
  children: ReactNode;
}) {
  const [pin, setPin] = useState("");
  const [note, setNote] = useState("");
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const run = async () => {
    setBusy(true);
    setError("");
    try {
      await onAct(pin, note);
      onClose();
    } catch (failed) {
      setError(wordsFor(failed));
      setPin("");
      setBusy(false);
    }
  };
  return (
    <Dialog title={title} onClose={onClose}>
      <form className="stack" onSubmit={(e) => e.preventDefault()}>
        {children}
        {noteLabel && (
          <label className="asked">
            {noteLabel}
            <Input.TextArea rows={2} maxLength={400} value={note} onChange={(e) => setNote(e.target.value)} />
          </label>
        )}
        <label className="asked">
          {say("Your PIN (turn the screen away: students watch fingers)")}
          <Input
            className="pin"
            type="password"
            inputMode="numeric"
            autoComplete="off"
            maxLength={8}
            value={pin}
            onChange={(e) => setPin(e.target.value.replace(/\D/g, ""))}
          />
        </label>
        <Refused words={error} />
        <div className="row">
          <Button size="large" className="grow" onClick={onClose}>
            {say("Cancel")}
          </Button>
          <Button
            type={danger ? "default" : "primary"}
            danger={danger}
            size="large"
            className="grow"
            disabled={busy || pin.length < 4 || (noteNeeded && note.trim().length < 3)}
            onClick={() => void run()}
          >
            {act}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
